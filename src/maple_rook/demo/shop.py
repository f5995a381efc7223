"""Loading the demo shop: readings scattered around the invented knives' true figures."""

from __future__ import annotations

import datetime as dt
import uuid
import zlib
from collections.abc import Mapping
from decimal import Decimal

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.geometry.profile import from_stations
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.observations import checked_value
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.plausibility import doubt, parse_entry
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.core.measurement.units import from_base
from maple_rook.core.routine.stock import Stock
from maple_rook.core.routine.stops import required_quantities
from maple_rook.demo.customers import CUSTOMERS
from maple_rook.demo.cut_trials import add_cut_trial
from maple_rook.demo.observations import sights
from maple_rook.demo.people import add_people
from maple_rook.demo.shapes import EDGES, FURTHER
from maple_rook.demo.stock import LATER, STOCK, DemoModel, DemoPiece
from maple_rook.demo.trials import add_trials
from maple_rook.demo.upkeep import add_upkeep
from maple_rook.store.choices import keep_customer
from maple_rook.store.readings import NewReading, keep_many
from maple_rook.store.tables import (
    Claim,
    EdgeTrace,
    Instrument,
    KnifeModel,
    Maker,
    Observation,
    Person,
    Piece,
    Sheet,
    Shop,
    SteelGrade,
)

SEED = 20_260_301
OPENING = dt.datetime(2026, 9, 14, 8, 30, tzinfo=dt.UTC)
_NAMESPACE = uuid.UUID("6f0d2f52-5c0e-4a5e-9f62-2c9a8f0b7a11")
TESTER_READS_HIGH_HRC = 0.5
_INDENTS_ABOVE_EDGE = 0.7
"""Of the height at the heel: where the flat is thick enough."""
_REPEATS = {
    "hardness_block": 2,
    "hardness": 3,
    "thickness_behind_edge": 3,
    "spine_heel": 2,
    "edge_angle": 2,
}
_OUNCE_TAGS = ("HS-24", "DG-20")


def load(session: Session, today: dt.date | None = None) -> None:
    """Stock an empty shop. The same figures every time; plans run up to ``today``."""
    shop = session.scalars(select(Shop)).one()
    shop.name, shop.place = "Saltmarsh Lane Cutlers", "Port Averil"
    shop.currency, shop.demo = "crowns", True
    hand = add_people(session)["Wil at the bench"]
    loader = _Loader(session, hand)
    for model in STOCK:
        loader.add(model)
    for of, piece in LATER:
        loader.add_piece(of, piece)
    session.flush()
    add_trials(session, hand, OPENING)
    add_cut_trial(session, hand, OPENING)
    add_upkeep(session, hand, today or dt.datetime.now(dt.UTC).date())
    for label, profile in CUSTOMERS.items():
        keep_customer(session, label, profile, hand.id)


class _Loader:
    def __init__(self, session: Session, hand: Person) -> None:
        self.session, self.hand = session, hand
        self.clock = OPENING
        self.makers: dict[str, Maker] = {}
        self.rows: dict[str, tuple[DemoModel, KnifeModel]] = {}
        self.steels = {s.designation: s for s in session.scalars(select(SteelGrade))}
        found = session.scalars(select(Instrument).order_by(Instrument.id)).all()
        self.instruments = {(i.kind, i.resolution): i for i in found}
        self.block = next(i for i in found if i.certified is not None)
        session.add_all(_stand_ins(self.instruments))

    def add(self, model: DemoModel) -> None:
        self.model = model
        maker = self.makers.setdefault(model.maker, Maker(name=model.maker))
        row = KnifeModel(
            maker=maker,
            line=model.line,
            knife_type=model.knife_type,
            nominal_mm=model.nominal_mm,
            grind=model.grind.value,
            construction=model.construction,
            finish=model.finish,
            handle=model.handle,
            even_machine_edge=model.even_machine_edge,
            steel=self.steels[model.steel],
            price=Decimal(str(model.price)),
            claims=[_claim(key, printed) for key, printed in model.claims.items()],
        )
        for demo_piece in model.pieces:
            self.rows[demo_piece.tag] = (model, row)
            self._piece(row, demo_piece)

    def add_piece(self, of: str, demo_piece: DemoPiece) -> None:
        """One more piece of the model of another."""
        self.model, row = self.rows[of]
        self._piece(row, demo_piece)

    def _piece(self, row: KnifeModel, demo_piece: DemoPiece) -> None:
        piece = Piece(
            model=row,
            tag=demo_piece.tag,
            condition=demo_piece.condition,
            note=demo_piece.note,
            created_at=self.clock,
        )
        if demo_piece.reserved_for:
            piece.stock, piece.stock_for = Stock.RESERVED.value, demo_piece.reserved_for
            piece.stock_on = self.clock.date()
        self.session.add(piece)
        if demo_piece.earlier:
            earlier = {**demo_piece.figures, **demo_piece.earlier}
            self._sheet(piece, demo_piece, earlier, days_before=170)
        self._sheet(piece, demo_piece, demo_piece.figures)

    def _sheet(
        self, piece: Piece, demo: DemoPiece, figures: dict[str, float], days_before: int = 0
    ) -> None:
        at = self.clock - dt.timedelta(days=days_before)
        model = piece.model
        figures = {**figures, **FURTHER.get(demo.tag, {})}
        name = zlib.crc32(demo.tag.encode())
        self.noise = np.random.default_rng([SEED, name, days_before])
        if KNIFE_TYPES[model.knife_type].shape.square_front and "height_mid" in figures:
            figures = {"height_front": figures["height_mid"] + 0.4, **figures}
        if "hardness" in figures and not _estimated(demo, QUANTITIES["hardness"]):
            figures = {"hardness_block": self.block.certified or 0.0, **figures}
        required = required_quantities(model.knife_type, Grind(model.grind))
        complete = all(key in figures for key in required)
        sheet = Sheet(piece=piece, person=self.hand, started_at=at)
        self.session.add(sheet)
        readings = []
        for key, q in QUANTITIES.items():
            if key in figures:
                repeats = 1 if _estimated(demo, q) else _REPEATS.get(key, 1)
                for replicate in range(1, repeats + 1):
                    at += dt.timedelta(seconds=float(self.noise.uniform(6, 14)))
                    readings.append(self._reading(sheet, demo, q, figures[key], replicate, at))
        keep_many(self.session, readings)
        if demo.tag in EDGES:
            at += dt.timedelta(seconds=95)
            self.session.add(self._edge(sheet, demo, at))
        if complete:
            at = self._observations(sheet, demo, at)
            sheet.finished_at = at + dt.timedelta(seconds=20)
        if not days_before:
            self.clock = at + dt.timedelta(minutes=4)

    def _observations(self, sheet: Sheet, demo: DemoPiece, at: dt.datetime) -> dt.datetime:
        """What was seen, a few seconds each; returns the time of the last."""
        for item, aspect, value, note in sights(self.model, demo):
            at += dt.timedelta(seconds=float(self.noise.uniform(2, 5)))
            name = f"{demo.tag}/{sheet.started_at}/{item}/{aspect}"
            self.session.add(
                Observation(
                    client_id=uuid.uuid5(_NAMESPACE, name),
                    sheet_id=self._id(sheet),
                    item=item,
                    aspect=aspect,
                    value=checked_value(item, aspect, value, note),
                    note=note,
                    taken_at=at,
                    recorded_at=at,
                    person_id=self.hand.id,
                )
            )
        return at

    def _edge(self, sheet: Sheet, demo: DemoPiece, at: dt.datetime) -> EdgeTrace:
        """The edge by stations: feeler gauges under a straight edge, and the tip's height."""
        *stations, (length, tip) = EDGES[demo.tag]
        curve = from_stations(length, stations, tip)
        given = [*(f"{x:g} mm; {gap:g} mm" for x, gap in stations), f"tip; {tip:g} mm"]
        return EdgeTrace(
            client_id=uuid.uuid5(_NAMESPACE, f"{demo.tag}/{sheet.started_at}/edge"),
            sheet_id=self._id(sheet),
            source="stations",
            given="\n".join(given),
            taken_at=at,
            recorded_at=at,
            points=np.column_stack([curve.x_mm, curve.y_mm]).tolist(),
            person_id=self.hand.id,
        )

    def _id(self, sheet: Sheet) -> int:
        self.session.flush()
        return sheet.id

    def _reading(
        self,
        sheet: Sheet,
        demo: DemoPiece,
        q: Quantity,
        true: float,
        replicate: int,
        at: dt.datetime,
    ) -> NewReading:
        spoken = demo.slips.get(q.key) or self._typed(demo, q, true)
        typed, _ = parse_entry(q, spoken)
        key = uuid.uuid5(_NAMESPACE, f"{demo.tag}/{sheet.started_at}/{q.key}/{replicate}")
        hardness = q.key == "hardness" and typed.kind is FigureKind.MEASURED
        taken = TakenReading(
            key,
            q,
            typed,
            at,
            unusual=doubt(q.key, typed, sheet.piece.model.knife_type) is not None,
            along_mm=_indent_along(replicate) if hardness else None,
            above_edge_mm=self._indents_mm(demo) if hardness else None,
        )
        tool = self.instruments[q.instrument, q.resolution].id if taken.measured else None
        return NewReading(
            self._id(sheet),
            taken,
            self.hand.id,
            tool,
            self.block.id if q.key == "hardness_block" else None,
            recorded_at=at,
        )

    def _indents_mm(self, demo: DemoPiece) -> float:
        return round(_INDENTS_ABOVE_EDGE * demo.figures["height_heel"], 0)

    def _typed(self, demo: DemoPiece, q: Quantity, true: float) -> str:
        """A reading near the true figure, at the instrument's resolution, as a person types it."""
        if q.key == "asymmetry":
            return f"{true:g}/{100 - true:g}"
        value = true + self.noise.normal(0, 0.6 * q.resolution)
        if q.instrument is InstrumentKind.HARDNESS_TESTER:
            value += TESTER_READS_HIGH_HRC
        if q.key == "weight" and demo.tag in _OUNCE_TAGS:
            return f"{from_base(value, 'oz'):.2f} oz"
        steps = round(value / q.resolution) * q.resolution
        decimals = 0 if q.resolution >= 1 else 1 if q.resolution >= 0.1 else 2
        unit = {"dps": " dps", "HRC": " HRC"}.get(q.unit, f" {q.unit}")
        return f"{steps:.{decimals}f}{unit}"


def _estimated(demo: DemoPiece, q: Quantity) -> bool:
    """Whether the bench hand only estimated it."""
    said = demo.slips.get(q.key)
    return said is not None and parse_entry(q, said).typed.kind is not FigureKind.MEASURED


def _indent_along(replicate: int) -> float:
    return 40.0 + 4.0 * replicate


def _stand_ins(known: Mapping[tuple[str, float], Instrument]) -> list[Instrument]:
    """Simulated instruments for the demo bench; their addresses come when it is served."""
    due = OPENING.date()
    rows = (
        (InstrumentKind.CALIPER, 0.01, 0.03, 300),
        (InstrumentKind.SCALE, 0.1, 0.3, 320),
        (InstrumentKind.HARDNESS_TESTER, 0.1, 1.5, 260),
        (InstrumentKind.ANGLE_GAUGE, 0.1, 0.5, -9),
        (InstrumentKind.EDGE_TESTER, 0.01, 0.05, 200),
        (InstrumentKind.CARD_TESTER, 0.01, 0.05, 150),
    )
    units = {kind: instrument.unit for (kind, _), instrument in known.items()}
    return [
        Instrument(
            name=f"{kind.label} on the line",
            kind=kind,
            resolution=resolution,
            mpe=mpe,
            unit=units[kind],
            serial=f"STAND-IN {n}",
            stand_in=True,
            calibration_due=due + dt.timedelta(days=days),
        )
        for n, (kind, resolution, mpe, days) in enumerate(rows, 1)
    ]


def _claim(key: str, printed: str) -> Claim:
    typed = parse_typed(printed, QUANTITIES[key].dimension)
    return Claim(quantity=key, printed=printed, low=typed.base_low, high=typed.base_high)

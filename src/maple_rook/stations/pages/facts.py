"""What the record has for a page: live figures, facts for a draft, how it was measured."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.claims import ClaimOut
from maple_rook.answers.figures import FigureOut
from maple_rook.answers.history import (
    ObservationOut,
    ReadingOut,
    observations_of_pieces,
    readings,
)
from maple_rook.answers.terms import terms_of
from maple_rook.core.choosing.owning import cost_of_year
from maple_rook.core.choosing.suiting import not_for, what_for
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.plain_methods import PLAIN_METHODS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Z_90, Figure
from maple_rook.core.measurement.wording import interval_text, lower_first
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.predict import predict
from maple_rook.core.routine.stock import IN_STOCK
from maple_rook.core.routine.stops import required_quantities
from maple_rook.core.upkeep.cautions import Place, cautions
from maple_rook.core.writing.draft import Facts, SeenFact
from maple_rook.core.writing.fields import LiveFigure
from maple_rook.core.writing.points import (
    PRICE,
    Beside,
    Point,
    Record,
    ToldClaim,
    against_others,
    from_the_record,
)
from maple_rook.documents.figure_text import figure_label, figure_texts, money_text
from maple_rook.documents.knife_document import FigureDoc
from maple_rook.formats.page.blocks import HowFigure, HowMeasured
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ShelfQuery, chosen
from maple_rook.store.tables import Instrument, Reading, Sheet, Shop

MOST_OTHERS = 60
COST = "cost_of_year"


@dataclass(frozen=True)
class PageFacts:
    """One piece as a page describes it."""

    knife: ShelfKnife
    shop: Shop
    predictions: Sequence[Prediction]
    seen: Sequence[ObservationOut]
    cost: float | None

    @cached_property
    def figures(self) -> dict[str, LiveFigure]:
        """Every figure of the piece in words, by key: measured, predicted, then the price."""
        found = {
            key: measured_figure(self.knife, key, self.shop.units)
            for key in QUANTITIES
            if key in self.knife.figures
        }
        found |= {p.key: _predicted(p) for p in self.predictions if p.central is not None}
        price = self.knife.piece.price
        if price is not None:
            text = money_text(price, self.shop.currency)
            found[PRICE] = LiveFigure(PRICE, "price", text, "", self.shop.currency, price)
        if self.cost is not None:
            text = f"about {self.cost:.0f} {self.shop.currency}".strip()
            found[COST] = LiveFigure(
                COST, "cost of owning, a year", text, "P", self.shop.currency, self.cost
            )
        return found


def measured_figure(knife: ShelfKnife, key: str, units: str) -> LiveFigure:
    """A figure as the record has it, in words; what was not measured is graded so."""
    doc = FigureDoc.of(QUANTITIES[key], knife.figures[key], knife.blade.grind)
    figure = knife.figures[key]
    grade = "M" if figure.kind is FigureKind.MEASURED else "G"
    return LiveFigure(
        key,
        figure_label(doc),
        figure_texts(doc, units)[0],
        grade,
        doc.unit,
        figure.mean,
        figure.expanded,
    )


def _predicted(p: Prediction) -> LiveFigure:
    assert p.central is not None
    low, high = (p.central if v is None else v for v in (p.low, p.high))
    text = interval_text(p.central, low, high, p.unit)
    label = lower_first(p.label)
    # U of an interval of 90 %: twice its half-width over that of a standard deviation
    expanded = (high - low) / Z_90
    return LiveFigure(p.key, label, text, p.card.grade.value, p.unit, p.central, expanded)


def facts_of(db: Session, shelf: Shelf, piece_ids: Sequence[int]) -> list[PageFacts]:
    """The pieces in their order, as their Sheets show them: an ordinary kitchen, own trials in."""
    knives = shelf.knives(db, piece_ids)
    foods, life = shelf.models(Basis.CALIBRATED)
    predictions = predict([k.blade for k in knives], Kitchen(), foods=foods, life=life)
    seen = observations_of_pieces(db, piece_ids)
    shop = db.scalars(select(Shop)).one()
    terms = terms_of(db, life.coefficients)

    def cost(knife: ShelfKnife, of: Sequence[Prediction]) -> float | None:
        months = next(p.central for p in of if p.key == "months_to_stone")
        height = knife.figures.get("height_heel")
        if not knife.piece.price or months is None or height is None:
            return None
        return float(cost_of_year(knife.piece.price, height.mean, months, terms).total)

    return [
        PageFacts(knife, shop, of, seen.get(knife.piece.id, ()), cost(knife, of))
        for knife, of in zip(knives, predictions, strict=True)
    ]


def draft_facts(db: Session, of: PageFacts) -> Facts:
    """What the draft of a review is written from."""
    knife, piece = of.knife, of.knife.piece
    kind = KNIFE_TYPES[piece.knife_type].label
    required = required_quantities(piece.knife_type, Grind(piece.grind))
    how = how_measured(db, of, of.figures, people=False)
    return Facts(
        name=knife.model,
        kind=kind,
        condition=piece.condition,
        grind=GRINDS[Grind(piece.grind)].label,
        construction=piece.construction,
        steel=piece.steel or "",
        figures=of.figures,
        seen=[SeenFact(o.item, o.label, o.stop, o.value, o.text, o.note) for o in of.seen],
        claims=[told_claim(c, knife) for c in knife.claims],
        what_for=what_for(knife.candidate),
        not_for=not_for(knife.candidate),
        cautions=cautions(knife.blade, Place.COUNTER),
        shelf=knife.finish.shelf,
        work=knife.finish.work,
        missing=[
            QUANTITIES[key].label for key in required if key in QUANTITIES and key not in of.figures
        ],
        measured_on=how.days,
        instruments=sorted({n.partition(" (")[0] for f in how.figures for n in f.instruments}),
    )


def told_claim(claim: ClaimOut, knife: ShelfKnife) -> ToldClaim:
    figure = knife.figures.get(claim.quantity)
    unit = "° per side" if claim.unit == "dps" else f" {claim.unit}"
    measured = "" if figure is None else f"{FigureOut.of(figure).text}{unit}"
    return ToldClaim(
        claim.quantity, claim.label, claim.printed, claim.verdict, measured, claim.statement
    )


def proposed(db: Session, shelf: Shelf, of: PageFacts) -> list[Point]:
    """Points for and against the piece, from others of its type in stock and from its record."""
    knife = of.knife
    kind = KNIFE_TYPES[knife.piece.knife_type]
    query = ShelfQuery(knife_types=(kind.key,), stock=IN_STOCK)
    shelf.catch_up(db)
    others = [k for k in chosen(db, query, limit=MOST_OTHERS) if k != knife.piece.id]
    beside = [_beside(other) for other in shelf.knives(db, others)]
    graded = [o for o in of.seen if o.stop == "finish"]
    steel = knife.blade.steel
    record = Record(
        claims=[told_claim(c, knife) for c in knife.claims],
        fine=[o.label for o in graded if o.value == "fine"],
        minor=[o.label for o in graded if o.value == "minor"],
        to_mend=[lower_first(w) for w in knife.finish.work],
        not_hardened=any("not hardened" in w for w in knife.finish.work),
        reacts=steel is not None and steel.reactivity is not Reactivity.STAINLESS,
    )
    coefficients = shelf.models(Basis.CALIBRATED)[1].coefficients
    return [
        *against_others(_beside(knife), beside, kind.label, coefficients, of.shop.currency),
        *from_the_record(record),
    ]


def _beside(knife: ShelfKnife) -> Beside:
    figures = {
        key: Figure(w.central, (w.high - w.low) / (2 * Z_90)) for key, w in knife.predicted.items()
    }
    if "sharpness_score" in knife.figures:
        figures["sharpness_score"] = knife.figures["sharpness_score"]
    if knife.piece.price is not None:
        figures[PRICE] = Figure(knife.piece.price, 0.0)
    return Beside(knife.piece.tag, figures)


def how_measured(
    db: Session, of: PageFacts, shown: Mapping[str, object] | Collection[str], *, people: bool
) -> HowMeasured:
    """How those of the shown figures that were measured were: days, methods, instruments, U."""
    numbers = list(
        db.scalars(
            select(Sheet.id).where(Sheet.piece_id == of.knife.piece.id, Sheet.set_aside.is_(None))
        )
    )
    by_quantity: dict[str, list[ReadingOut]] = defaultdict(list)
    for reading in readings(db, Reading.sheet_id.in_(numbers)):
        if reading.voided is None and reading.quantity in shown:
            by_quantity[reading.quantity].append(reading)
    described = _described(db, {r.instrument for rows in by_quantity.values() for r in rows})
    days = sorted({r.taken_at.date() for rows in by_quantity.values() for r in rows})
    return HowMeasured(
        tag=of.knife.piece.tag,
        name=of.knife.model,
        days=[day.isoformat() for day in days],
        people=sorted({r.person for rows in by_quantity.values() for r in rows}) if people else [],
        figures=[
            HowFigure(
                key=key,
                label=of.figures[key].label,
                text=of.figures[key].text,
                readings=of.knife.figures[key].n,
                methods=sorted({_method(r.method) for r in by_quantity[key]}),
                instruments=sorted(
                    {described.get(r.instrument, r.instrument) for r in by_quantity[key]} - {""}
                ),
            )
            for key in QUANTITIES
            if key in by_quantity and key in of.figures
        ],
    )


def _method(key: str) -> str:
    """How a reading was taken, in words."""
    if key in PLAIN_METHODS:
        return PLAIN_METHODS[key].label
    return "by hand" if key == "manual" else key.replace("_", " ")


def _described(db: Session, names: Collection[str]) -> dict[str, str]:
    """Instruments by name, with what is known of how true they are."""
    rows = db.scalars(select(Instrument).where(Instrument.name.in_(names)))
    found = {}
    for row in rows:
        due = f", calibration due {row.calibration_due}" if row.calibration_due else ""
        unit = "°" if row.unit == "deg" else f" {row.unit}"
        found[row.name] = f"{row.name} (largest permissible error {row.mpe:g}{unit}{due})"
    return found

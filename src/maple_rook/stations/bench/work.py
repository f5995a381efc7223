"""The use cases of the Bench: enter a piece, take readings, void them, sign off."""

from __future__ import annotations

import datetime as dt
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.core.knife_types import Grind, knife_type
from maple_rook.core.quantities import (
    QUANTITIES,
    doubt,
    parse_reading,
    quantity,
    required_quantities,
)
from maple_rook.core.sheet import contradictions, stop_states
from maple_rook.core.typed import TypedValue, parse_typed
from maple_rook.stations.bench.schemas import (
    BenchSheetOut,
    BenchStartOut,
    ClaimIn,
    ModelChoice,
    ModelIn,
    NewPieceIn,
    OpenSheetOut,
    ReadingIn,
)
from maple_rook.stations.history import readings
from maple_rook.stations.problems import Conflict, UnusualValue
from maple_rook.stations.schemas import FigureOut, PieceOut, piece_outline, section_polygon
from maple_rook.store import records
from maple_rook.store.tables import (
    Claim,
    Instrument,
    KnifeModel,
    Maker,
    Person,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
    SteelGrade,
)


def start(db: Session) -> BenchStartOut:
    """What can be taken up: open sheets, known models, makers and steels."""
    open_sheets = db.execute(
        select(Sheet, func.count(Reading.id))
        .outerjoin(Reading, Reading.sheet_id == Sheet.id)
        .where(Sheet.finished_at.is_(None))
        .group_by(Sheet.id)
        .order_by(Sheet.id.desc())
        .limit(50)
    ).all()
    known = {p.id: p for p in records.pieces(db, [s.piece_id for s, _ in open_sheets])}
    models = db.scalars(
        select(KnifeModel)
        .options(joinedload(KnifeModel.maker), joinedload(KnifeModel.steel))
        .order_by(KnifeModel.id)
    )
    return BenchStartOut(
        open_sheets=[
            OpenSheetOut(
                id=sheet.id,
                piece_id=sheet.piece_id,
                name=records.piece_name(known[sheet.piece_id]),
                person=sheet.person.name,
                started_at=sheet.started_at,
                readings=count,
            )
            for sheet, count in open_sheets
        ],
        models=[
            ModelChoice(
                id=m.id,
                name=records.model_name(m),
                knife_type=m.knife_type,
                grind=m.grind,
                steel=m.steel.designation if m.steel else None,
            )
            for m in models
        ],
        makers=list(db.scalars(select(Maker.name).order_by(Maker.name))),
        steels=list(db.scalars(select(SteelGrade.designation).order_by(SteelGrade.id))),
    )


def enter_piece(db: Session, person: Person, asked: NewPieceIn) -> BenchSheetOut:
    """Enter a piece, and its model where it is new, and begin its sheet."""
    if db.scalar(select(Piece.id).where(Piece.tag == asked.tag)):
        raise InvalidValue("tag", asked.tag, "a tag no other piece carries")
    if asked.model is not None:
        model = _new_model(db, asked.model)
    else:
        model = records.get(db, KnifeModel, "model", asked.model_id or 0)
    piece = Piece(model=model, tag=asked.tag, condition=asked.condition)
    sheet = Sheet(piece=piece, person=person)
    db.add_all([piece, sheet])
    db.commit()
    return sheet_state(db, sheet.id)


def _new_model(db: Session, asked: ModelIn) -> KnifeModel:
    kind = knife_type(asked.knife_type)
    nominal = parse_reading("edge_length", asked.nominal).base_value
    steel = None
    if asked.steel is not None:
        steel = db.scalar(select(SteelGrade).where(SteelGrade.designation == asked.steel))
        if steel is None:
            known = ", ".join(db.scalars(select(SteelGrade.designation)))
            raise InvalidValue("steel", asked.steel, known)
    maker = db.scalar(select(Maker).where(Maker.name == asked.maker)) or Maker(name=asked.maker)
    if maker.id is not None and db.scalar(
        select(KnifeModel.id).where(
            KnifeModel.maker_id == maker.id,
            KnifeModel.line == asked.line,
            KnifeModel.knife_type == kind.key,
            KnifeModel.nominal_mm == nominal,
        )
    ):
        raise InvalidValue("model", f"{asked.maker} {asked.line}", "a model not yet in the record",
                           hint="Choose it from the list.")  # fmt: skip
    return KnifeModel(
        maker=maker,
        line=asked.line,
        knife_type=kind.key,
        nominal_mm=nominal,
        grind=asked.grind.value,
        construction=asked.construction,
        finish=asked.finish,
        handle=asked.handle,
        even_machine_edge=asked.even_machine_edge,
        steel=steel,
        price=None if asked.price is None else Decimal(f"{asked.price:.2f}"),
        claims=[_claim(c) for c in asked.claims],
    )


def _claim(asked: ClaimIn) -> Claim:
    q = quantity(asked.quantity)
    typed = parse_typed(asked.printed, q.dimension, field=f"claim on {q.label}")
    for value in (typed.base_low, typed.base_high):
        if not q.hard_low <= value <= q.hard_high:
            raise InvalidValue(f"claim on {q.label}", asked.printed, q.accepted)
    return Claim(quantity=q.key, printed=asked.printed, low=typed.base_low, high=typed.base_high)


def begin_sheet(db: Session, person: Person, piece_id: int) -> BenchSheetOut:
    """Take up the open sheet of a piece, or begin a new one."""
    piece = records.get(db, Piece, "piece", piece_id)
    open_sheet = db.scalar(
        select(Sheet)
        .where(Sheet.piece_id == piece.id, Sheet.finished_at.is_(None))
        .order_by(Sheet.id.desc())
    )
    sheet = open_sheet or Sheet(piece=piece, person=person)
    db.add(sheet)
    db.commit()
    return sheet_state(db, sheet.id)


def take_reading(db: Session, person: Person, sheet_id: int, asked: ReadingIn) -> BenchSheetOut:
    """Store one reading exactly once.

    Hard limits refuse it; a value outside the typical range is kept when ``confirmed`` and marked.
    """
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    if db.scalar(select(Reading.id).where(Reading.client_id == asked.client_id)):
        return sheet_state(db, sheet.id)
    if sheet.finished_at is not None:
        raise Conflict("This sheet is signed off. Begin a new sheet of the piece to add readings.")
    typed = parse_reading(asked.quantity, asked.typed, default_unit=asked.default_unit)
    unusual = doubt(asked.quantity, typed, sheet.piece.model.knife_type)
    if unusual and not asked.confirmed:
        raise UnusualValue(quantity(asked.quantity).label, asked.typed, unusual)
    _insert_reading(db, person, sheet, asked, typed, unusual is not None)
    db.commit()
    return sheet_state(db, sheet.id)


def _insert_reading(
    db: Session, person: Person, sheet: Sheet, asked: ReadingIn, typed: TypedValue, unusual: bool
) -> None:
    q = QUANTITIES[asked.quantity]
    db.execute(select(Sheet.id).where(Sheet.id == sheet.id).with_for_update())
    taken = db.scalar(
        select(func.count()).where(Reading.sheet_id == sheet.id, Reading.quantity == q.key)
    )
    instrument_id = db.scalar(
        select(Instrument.id)
        .where(Instrument.kind == q.instrument, Instrument.resolution == q.resolution)
        .order_by(Instrument.id)
    )
    values = {
        "client_id": asked.client_id,
        "sheet_id": sheet.id,
        "quantity": q.key,
        "typed": asked.typed,
        "value": typed.value,
        "unit": typed.unit,
        "si_value": typed.base_value,
        "si_unit": q.unit,
        "instrument_id": instrument_id,
        "station": q.station,
        "station_mm": _station_mm(db, sheet, q.station),
        "replicate": (taken or 0) + 1,
        "unusual_confirmed": unusual,
        "taken_at": asked.taken_at or dt.datetime.now(dt.UTC),
        "person_id": person.id,
    }
    db.execute(insert(Reading).values(values).on_conflict_do_nothing(index_elements=["client_id"]))


def _station_mm(db: Session, sheet: Sheet, station: str) -> float | None:
    """Distance of a named station from the heel, where the edge length is known."""
    if station == "heel":
        return 0.0
    edge = records.sheet_figures(db, sheet.id).get("edge_length")
    if edge is None:
        return None
    places = {"middle": 0.5 * edge.mean, "front": 0.8 * edge.mean, "10 mm from tip": edge.mean - 10}
    return places.get(station)


def void_reading(db: Session, person: Person, reading_id: int, reason: str) -> BenchSheetOut:
    """Strike a reading out; it stays in the history."""
    reading = records.get(db, Reading, "reading", reading_id)
    if reading.sheet.finished_at is not None:
        raise Conflict("This sheet is signed off; its readings can no longer be voided.")
    db.execute(
        insert(ReadingVoid)
        .values(reading_id=reading.id, reason=reason, person_id=person.id)
        .on_conflict_do_nothing()
    )
    db.commit()
    return sheet_state(db, reading.sheet_id)


def sign_off(db: Session, sheet_id: int) -> BenchSheetOut:
    """Close a sheet that has at least one reading."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    if not records.sheet_figures(db, sheet.id):
        raise Conflict("Nothing is measured on this sheet yet.")
    sheet.finished_at = sheet.finished_at or dt.datetime.now(dt.UTC)
    db.commit()
    return sheet_state(db, sheet.id)


def sheet_state(db: Session, sheet_id: int) -> BenchSheetOut:
    """The sheet as it stands: readings, figures, stops, checks and the growing drawing."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    piece = records.pieces(db, [sheet.piece_id])[0]
    figures = records.sheet_figures(db, sheet.id)
    required = required_quantities(piece.model.knife_type, Grind(piece.model.grind))
    return BenchSheetOut(
        id=sheet.id,
        piece=PieceOut.of(piece),
        started_at=sheet.started_at,
        finished_at=sheet.finished_at,
        person=sheet.person.name,
        readings=readings(db, Reading.sheet_id == sheet.id),
        figures={key: FigureOut.of(f) for key, f in figures.items()},
        stops=stop_states(figures, required),
        required=required,
        checks=contradictions(figures),
        outline=piece_outline(piece, figures),
        section=section_polygon(records.blade(piece, figures)),
    )

"""The use cases of the Bench around a sheet: enter a piece, begin, add claims, sign off."""

from __future__ import annotations

import datetime as dt
import re
import statistics
from collections import defaultdict
from decimal import Decimal

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.knife_types import knife_type
from maple_rook.core.measurement.plausibility import parse_claim, parse_reading
from maple_rook.core.measurement.quantities import quantity
from maple_rook.core.measurement.time_on_task import worked_seconds
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.stations.bench.schemas import (
    BenchSheetOut,
    BenchStartOut,
    ClaimIn,
    LabelOut,
    ModelChoice,
    ModelIn,
    NewPieceIn,
    OpenSheetOut,
    SteelChoice,
)
from maple_rook.stations.bench.state import sheet_state
from maple_rook.store import records
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.steels import grade_named
from maple_rook.store.tables import (
    Claim,
    KnifeModel,
    Maker,
    Observation,
    Piece,
    Reading,
    Sheet,
    SteelGrade,
)

TIMED_SHEETS = 50
_PAGE = re.compile(r"/k/([a-z0-9-]{1,80})/?$")


def start(db: Session) -> BenchStartOut:
    """What can be continued: open sheets, known models, makers and steels."""
    open_sheets = db.execute(
        select(Sheet, func.count(Reading.id))
        .outerjoin(Reading, Reading.sheet_id == Sheet.id)
        .where(Sheet.finished_at.is_(None), Sheet.set_aside.is_(None))
        .group_by(Sheet.id)
        .order_by(Sheet.id.desc())
        .limit(50)
    ).all()
    known = {p.id: p for p in records.pieces(db, [s.piece_id for s, _ in open_sheets])}
    models = db.scalars(
        select(KnifeModel)
        .options(joinedload(KnifeModel.maker), joinedload(KnifeModel.steel))
        .where(~KnifeModel.retired)
        .order_by(KnifeModel.id)
    )
    times = worked_times(db)
    return BenchStartOut(
        median_s=statistics.median(times) if times else None,
        timed_sheets=len(times),
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
        steels=[
            SteelChoice(designation=s.designation, names=[s.name, *s.aliases])
            for s in db.scalars(select(SteelGrade).order_by(SteelGrade.id))
        ],
    )


def piece_of_label(db: Session, code: str) -> LabelOut:
    """The piece whose tag or public page a label says, in any case of letters."""
    said = code.strip()
    found = db.scalar(select(Piece.id).where(func.lower(Piece.tag) == said.lower()))
    if found is None and (address := _PAGE.search(said)):
        found = db.scalar(
            select(Publication.piece_id).where(Publication.address == address[1]).limit(1)
        )
    if found is None:
        raise records.NotFound("piece with the label", said[:80])
    merged = db.scalar(select(Piece.merged_into_id).where(Piece.id == found))
    found = merged or found
    piece = records.pieces(db, [found])[0]
    open_sheet = db.scalar(
        select(Sheet.id)
        .where(Sheet.piece_id == found, Sheet.finished_at.is_(None), Sheet.set_aside.is_(None))
        .order_by(Sheet.id.desc())
        .limit(1)
    )
    return LabelOut(
        piece_id=found, tag=piece.tag, name=records.piece_name(piece), sheet_id=open_sheet
    )


def enter_piece(db: Session, person: Somebody, asked: NewPieceIn) -> BenchSheetOut:
    """Enter a piece, and its model where it is new, and begin its sheet."""
    if db.scalar(select(Piece.id).where(Piece.tag == asked.tag)):
        raise InvalidValue("tag", asked.tag, "a tag no other piece carries")
    if asked.model is not None:
        model = _new_model(db, asked.model)
    else:
        model = records.get(db, KnifeModel, "model", asked.model_id or 0)
    piece = Piece(model=model, tag=asked.tag, condition=asked.condition)
    sheet = Sheet(piece=piece, person_id=person.id)
    db.add_all([piece, sheet])
    db.commit()
    return sheet_state(db, sheet.id)


def _new_model(db: Session, asked: ModelIn) -> KnifeModel:
    kind = knife_type(asked.knife_type)
    nominal = parse_reading("edge_length", asked.nominal).base_value
    steel = None if asked.steel is None else grade_named(db, asked.steel)
    maker = db.scalar(select(Maker).where(Maker.name == asked.maker)) or Maker(name=asked.maker)
    if maker.id is not None and db.scalar(
        select(KnifeModel.id).where(
            KnifeModel.maker_id == maker.id,
            KnifeModel.line == asked.line,
            KnifeModel.knife_type == kind.key,
            KnifeModel.nominal_mm == nominal,
        )
    ):
        raise InvalidValue(
            "model",
            f"{asked.maker} {asked.line}",
            "a model not yet in the record",
            hint="Choose it from the list.",
        )
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
    typed = parse_claim(q, asked.printed)
    return Claim(quantity=q.key, printed=asked.printed, low=typed.base_low, high=typed.base_high)


def begin_sheet(db: Session, person: Somebody, piece_id: int) -> BenchSheetOut:
    """Continue the open sheet of a piece, or begin a new one."""
    piece = records.get(db, Piece, "piece", piece_id)
    open_sheet = db.scalar(
        select(Sheet)
        .where(Sheet.piece_id == piece.id, Sheet.finished_at.is_(None), Sheet.set_aside.is_(None))
        .order_by(Sheet.id.desc())
    )
    sheet = open_sheet or Sheet(piece=piece, person_id=person.id)
    db.add(sheet)
    db.commit()
    return sheet_state(db, sheet.id)


def add_claim(db: Session, sheet_id: int, asked: ClaimIn) -> BenchSheetOut:
    """Copy a claim from the box; a model keeps one claim for each quantity, as first printed."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    model_id = sheet.piece.model_id
    claim = _claim(asked)
    known = db.scalar(
        select(Claim).where(Claim.model_id == model_id, Claim.quantity == claim.quantity)
    )
    if known is not None and known.printed != claim.printed:
        label = quantity(claim.quantity).label
        raise Conflict(
            f"This model already claims {label} {known.printed}; claims are not changed."
        )
    if known is None:
        claim.model_id = model_id
        db.add(claim)
        db.commit()
    return sheet_state(db, sheet_id)


def sign_off(db: Session, sheet_id: int) -> BenchSheetOut:
    """Close a sheet that has at least one reading."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    if not records.sheet_figures(db, sheet.id):
        raise Conflict("Nothing is measured on this sheet yet.")
    sheet.finished_at = sheet.finished_at or dt.datetime.now(dt.UTC)
    db.commit()
    return sheet_state(db, sheet.id)


def worked_times(db: Session) -> list[float]:
    """Seconds of work in each of the newest signed-off sheets, without the breaks."""
    newest = (
        select(Sheet.id, Sheet.started_at)
        .where(Sheet.finished_at.is_not(None), Sheet.set_aside.is_(None))
        .order_by(Sheet.id.desc())
        .limit(TIMED_SHEETS)
        .subquery()
    )
    times: dict[int, list[float]] = defaultdict(list)
    for key, at in db.execute(select(newest.c.id, newest.c.started_at)):
        times[key].append(at.timestamp())
    for table in (Reading, Observation):
        rows = db.execute(
            select(table.sheet_id, table.taken_at).join(newest, newest.c.id == table.sheet_id)
        )
        for key, at in rows:
            times[key].append(at.timestamp())
    return [worked_seconds(found) for found in times.values() if len(found) > 1]

"""The record read out row by row, a few thousand at a time, in the order it was written."""

from __future__ import annotations

import datetime as dt
import json
import uuid
from collections.abc import Iterator
from itertools import islice
from typing import Any, NamedTuple

from sqlalchemy import Select, case, func, select, true
from sqlalchemy.orm import Session, aliased

from maple_rook.core.edge_life.trials import TrialKind
from maple_rook.core.measurement.uncertainty import type_b
from maple_rook.store.tables import (
    Claim,
    EdgeTrace,
    Instrument,
    KnifeModel,
    Maker,
    Person,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
    Shop,
    SteelGrade,
)
from maple_rook.store.trial_tables import TrialRow
from maple_rook.store.trials import trials_as_they_stand

AT_ONCE = 2_000
Rows = Iterator[dict[str, Any]]
_MODEL = (Maker.name, KnifeModel.line, KnifeModel.knife_type, KnifeModel.nominal_mm)
_MODEL_NAMES = ("maker", "line", "knife_type", "nominal_mm")


class Part(NamedTuple):
    """Rows to leave out at the start, and how many to read then; None for all."""

    after: int = 0
    limit: int | None = None


EVERYTHING = Part()


def shop_row(db: Session) -> dict[str, str]:
    shop = db.scalars(select(Shop)).one()
    return {"name": shop.name, "place": shop.place, "currency": shop.currency}


def _rows(
    db: Session, query: Select[*tuple[Any, ...]], names: tuple[str, ...], part: Part = EVERYTHING
) -> Rows:
    query = query.offset(part.after).limit(part.limit)
    found = db.execute(query.execution_options(yield_per=AT_ONCE))
    for row in found:
        yield dict(zip(names, row, strict=True))


def _plain(row: dict[str, Any]) -> dict[str, Any]:
    """The row with its key and moments as text, moments in UTC."""
    return {name: _text(value) for name, value in row.items()}


def _text(value: object) -> object:
    if isinstance(value, dt.datetime):
        return value.astimezone(dt.UTC).isoformat()
    return str(value) if isinstance(value, uuid.UUID) else value


def models(db: Session, part: Part = EVERYTHING) -> Rows:
    query = (
        select(
            *_MODEL,
            KnifeModel.grind,
            KnifeModel.construction,
            KnifeModel.finish,
            KnifeModel.handle,
            KnifeModel.even_machine_edge,
            SteelGrade.designation,
            KnifeModel.price,
            case((KnifeModel.price.is_not(None), func.nullif(Shop.currency, ""))),
            KnifeModel.gtin,
        )
        .select_from(KnifeModel)
        .join(Shop, true())
        .join(Maker, Maker.id == KnifeModel.maker_id)
        .outerjoin(SteelGrade, SteelGrade.id == KnifeModel.steel_id)
        .order_by(KnifeModel.id)
    )
    names = (
        *_MODEL_NAMES,
        "grind",
        "construction",
        "finish",
        "handle",
        "even_machine_edge",
        "steel",
        "price",
        "currency",
        "gtin",
    )
    for row in _rows(db, query, names, part):
        row["price"] = None if row["price"] is None else float(row["price"])
        yield row


def claims(db: Session, part: Part = EVERYTHING) -> Rows:
    query = (
        select(*_MODEL, Claim.quantity, Claim.printed)
        .join(KnifeModel, KnifeModel.id == Claim.model_id)
        .join(Maker, Maker.id == KnifeModel.maker_id)
        .order_by(Claim.id)
    )
    return _rows(db, query, (*_MODEL_NAMES, "quantity", "printed"), part)


def pieces(db: Session, part: Part = EVERYTHING) -> Rows:
    query = (
        select(Piece.tag, *_MODEL, Piece.condition, Piece.note)
        .join(KnifeModel, KnifeModel.id == Piece.model_id)
        .join(Maker, Maker.id == KnifeModel.maker_id)
        .order_by(Piece.id)
    )
    return _rows(db, query, ("tag", *_MODEL_NAMES, "condition", "note"), part)


def readings(db: Session, part: Part = EVERYTHING) -> Rows:
    """Every reading with its sheet and instrument, sheet by sheet."""
    block = aliased(Instrument)
    query = (
        select(
            Piece.tag,
            Reading.client_id,
            Reading.quantity,
            Reading.typed,
            Reading.unit,
            Reading.si_value,
            Reading.si_unit,
            Instrument.resolution,
            Instrument.mpe,
            Reading.standard_uncertainty,
            Reading.typed_step,
            Reading.kind,
            Reading.taken_at,
            Sheet.started_at,
            Sheet.finished_at,
            Person.name,
            Instrument.name,
            block.name,
            Reading.method,
            Reading.station_mm,
            Reading.above_edge_mm,
            Reading.station,
            Reading.note,
            Reading.unusual_confirmed,
            func.coalesce(ReadingVoid.reason, Sheet.set_aside),
        )
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .join(Piece, Piece.id == Sheet.piece_id)
        .join(Person, Person.id == Reading.person_id)
        .outerjoin(Instrument, Instrument.id == Reading.instrument_id)
        .outerjoin(block, block.id == Reading.reference_id)
        .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
        .order_by(Reading.sheet_id, Reading.id)
    )
    names = (
        "tag",
        "key",
        "quantity",
        "typed",
        "unit",
        "si_value",
        "si_unit",
        "resolution",
        "mpe",
        "own",
        "step",
        "known_as",
        "taken_at",
        "round",
        "signed",
        "person",
        "instrument",
        "block",
        "method",
        "along_mm",
        "above_edge_mm",
        "place",
        "note",
        "unusual",
        "struck",
    )
    for row in _rows(db, query, names, part):
        own, resolution, mpe = row.pop("own"), row.pop("resolution"), row.pop("mpe")
        step = row.pop("step") or 0.0
        row["u"] = round(type_b(max(resolution, step), mpe) if own is None else own, 6)
        yield _plain(row)


def profiles(db: Session, part: Part = EVERYTHING) -> Rows:
    """Every traced edge that was not withdrawn, a row a point."""
    return _of_points(_profiles(db), part)


def _of_points(rows: Rows, part: Part) -> Rows:
    """A part of rows that are made of lists inside the rows of the record."""
    return islice(rows, part.after, None if part.limit is None else part.after + part.limit)


def _profiles(db: Session) -> Rows:
    query = (
        select(
            Piece.tag,
            EdgeTrace.client_id,
            EdgeTrace.source,
            EdgeTrace.taken_at,
            Sheet.started_at,
            Sheet.finished_at,
            Person.name,
            EdgeTrace.points,
        )
        .join(Sheet, Sheet.id == EdgeTrace.sheet_id)
        .join(Piece, Piece.id == Sheet.piece_id)
        .join(Person, Person.id == EdgeTrace.person_id)
        .order_by(EdgeTrace.id)
    )
    names = ("tag", "key", "source", "taken_at", "round", "signed", "person", "points")
    for row in _rows(db, query, names):
        points = row.pop("points")
        plain = _plain(row)
        for x, y in points:
            yield {**plain, "x_mm": x, "y_mm": y}


def trials(db: Session, part: Part = EVERYTHING) -> Rows:
    """Every edge trial as it stands, a row a point."""
    return _of_points(_trials(db), part)


def _trials(db: Session) -> Rows:
    query = (
        select(
            TrialRow.id,
            TrialRow.client_id,
            Piece.tag,
            TrialRow.kind,
            TrialRow.source,
            TrialRow.started_at,
            Person.name,
            Instrument.name,
            TrialRow.note,
        )
        .join(Piece, Piece.id == TrialRow.piece_id)
        .join(Person, Person.id == TrialRow.person_id)
        .outerjoin(Instrument, Instrument.id == TrialRow.instrument_id)
        .order_by(TrialRow.id)
    )
    names = ("id", "key", "tag", "trial_kind", "source", "taken_at", "person", "instrument", "note")
    found = list(_rows(db, query, names))
    standing = trials_as_they_stand(db, [row["id"] for row in found])
    for row in found:
        row["trial_kind"] = TrialKind(row["trial_kind"]).label
        stands = standing[row.pop("id")]
        plain = _plain(row) | {
            "protocol": json.dumps(stands.protocol, sort_keys=True),
            "set_aside": stands.set_aside or None,
        }
        for point in stands.points:
            yield {
                **plain,
                "x": point.x,
                "value": point.value,
                "event": point.event.value if point.event else None,
            }

"""What the record knows of rows that come from outside, and writing many of them at once."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from psycopg import Connection
from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

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
    SteelGrade,
)
from maple_rook.store.trial_tables import TrialRow

_AT_ONCE = 5_000
READING_COLUMNS = (
    "client_id",
    "sheet_id",
    "quantity",
    "typed",
    "value",
    "unit",
    "si_value",
    "si_unit",
    "instrument_id",
    "method",
    "station",
    "station_mm",
    "above_edge_mm",
    "reference_id",
    "replicate",
    "unusual_confirmed",
    "standard_uncertainty",
    "kind",
    "typed_step",
    "note",
    "photo_id",
    "taken_at",
    "person_id",
)
ModelKey = tuple[str, str, str, float]


def model_ids(db: Session) -> dict[ModelKey, int]:
    """Models by maker, line, type and nominal size, names in small letters."""
    rows = db.execute(
        select(
            KnifeModel.id, Maker.name, KnifeModel.line, KnifeModel.knife_type, KnifeModel.nominal_mm
        ).join(Maker, Maker.id == KnifeModel.maker_id)
    )
    return {
        (maker.casefold(), line.casefold(), knife_type, round(nominal, 3)): key
        for key, maker, line, knife_type, nominal in rows
    }


def piece_ids(db: Session) -> dict[str, tuple[int, str]]:
    """Piece and type of knife by tag in small letters."""
    rows = db.execute(
        select(Piece.id, Piece.tag, KnifeModel.knife_type).join(
            KnifeModel, KnifeModel.id == Piece.model_id
        )
    )
    return {tag.casefold(): (key, knife_type) for key, tag, knife_type in rows}


def claims_of(db: Session) -> dict[tuple[int, str], str]:
    """What is printed, by model and quantity."""
    rows = db.execute(select(Claim.model_id, Claim.quantity, Claim.printed))
    return {(model, quantity): printed for model, quantity, printed in rows}


def named(db: Session, table: type[Maker | Person | Instrument]) -> dict[str, int]:
    """Rows by name in small letters."""
    return {name.casefold(): key for key, name in db.execute(select(table.id, table.name))}


def enter_named(db: Session, row: Maker | Person, known: dict[str, int]) -> int:
    """A maker or person the record does not know; known by name from now on."""
    db.add(row)
    db.flush()
    known[row.name.casefold()] = row.id
    return row.id


def steel_names(db: Session) -> dict[str, list[str]]:
    """Every name of a grade, by designation."""
    rows = db.execute(select(SteelGrade.designation, SteelGrade.name, SteelGrade.aliases))
    return {designation: [designation, name, *aliases] for designation, name, aliases in rows}


def known_readings(db: Session, keys: Sequence[uuid.UUID]) -> dict[uuid.UUID, tuple[float, str]]:
    """Base value and text of those of the keys that the record has."""
    found: dict[uuid.UUID, tuple[float, str]] = {}
    for start in range(0, len(keys), _AT_ONCE):
        rows = db.execute(
            select(Reading.client_id, Reading.si_value, Reading.typed).where(
                Reading.client_id.in_(keys[start : start + _AT_ONCE])
            )
        )
        found.update((key, (value, typed)) for key, value, typed in rows)
    return found


def is_known(db: Session, table: type[EdgeTrace | TrialRow], key: uuid.UUID) -> bool:
    return db.scalar(select(table.id).where(table.client_id == key)) is not None


def sheets_of(
    db: Session, pieces: Iterable[int]
) -> dict[tuple[int, dt.datetime], tuple[int, bool]]:
    """Sheet, and whether it is signed off, by piece and when it was begun."""
    rows = db.execute(
        select(Sheet.id, Sheet.piece_id, Sheet.started_at, Sheet.finished_at).where(
            Sheet.piece_id.in_(list(pieces)), Sheet.set_aside.is_(None)
        )
    )
    return {(piece, begun): (key, signed is not None) for key, piece, begun, signed in rows}


def add_sheets(db: Session, rows: Sequence[dict[str, Any]]) -> list[int]:
    """Sheets added together; their ids in the order of the rows."""
    if not rows:
        return []
    added = insert(Sheet).returning(Sheet.id, sort_by_parameter_order=True)
    return list(db.scalars(added, rows))


def add_pieces(db: Session, rows: Sequence[dict[str, Any]]) -> list[int]:
    """Pieces added together; their ids in the order of the rows."""
    if not rows:
        return []
    added = insert(Piece).returning(Piece.id, sort_by_parameter_order=True)
    return list(db.scalars(added, rows))


def replicates(db: Session, sheets: Iterable[int]) -> dict[tuple[int, str], int]:
    """How many readings a sheet has of each quantity."""
    rows = db.execute(
        select(Reading.sheet_id, Reading.quantity, func.max(Reading.replicate))
        .where(Reading.sheet_id.in_(list(sheets)))
        .group_by(Reading.sheet_id, Reading.quantity)
    )
    return {(sheet, quantity): number for sheet, quantity, number in rows}


def edge_lengths(db: Session, sheets: Iterable[int]) -> dict[int, float]:
    """Mean edge length that sheets hold, mm, by sheet; voided readings do not count."""
    rows = db.execute(
        select(Reading.sheet_id, func.avg(Reading.si_value))
        .where(
            Reading.sheet_id.in_(list(sheets)),
            Reading.quantity == "edge_length",
            Reading.id.not_in(select(ReadingVoid.reading_id)),
        )
        .group_by(Reading.sheet_id)
    )
    return dict(rows.all())


def copy_readings(db: Session, rows: Sequence[Sequence[Any]]) -> None:
    """Readings in the order of :data:`READING_COLUMNS`, by COPY in the session's transaction.

    Rows may end with when they were recorded, all of them or none.
    """
    connection: Connection[Any] = db.connection().connection.driver_connection  # type: ignore[assignment]
    when = ("recorded_at",) if rows and len(rows[0]) > len(READING_COLUMNS) else ()
    columns = ", ".join((*READING_COLUMNS, *when))
    with (
        connection.cursor() as cursor,
        cursor.copy(f"COPY readings ({columns}) FROM STDIN") as copy,
    ):
        for row in rows:
            copy.write_row(row)


def strike(db: Session, reasons: Mapping[uuid.UUID, tuple[str, int]]) -> None:
    """Readings that were struck out elsewhere, by key: why, and who brought them."""
    rows = db.execute(select(Reading.id, Reading.client_id).where(Reading.client_id.in_(reasons)))
    voids = [
        {"reading_id": key, "reason": reasons[of][0], "person_id": reasons[of][1]}
        for key, of in rows
    ]
    if voids:
        db.execute(insert(ReadingVoid), voids)

"""What stands behind a sheet: readings and observations, who, when, with what."""

from __future__ import annotations

import datetime as dt
import uuid
from collections import defaultdict
from collections.abc import Sequence
from typing import Self, cast

from pydantic import BaseModel
from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session, joinedload

from maple_rook.answers.keys import Aspect
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.observations import DECISION_PREFIX, ITEMS, choices_text
from maple_rook.core.measurement.plain_methods import PLAIN_METHODS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.store import records
from maple_rook.store.tables import Observation, Reading, Sheet


class ReadingOut(BaseModel):
    id: int
    client_id: uuid.UUID
    quantity: str
    typed: str
    value: float
    unit: str
    si_value: float
    si_unit: str
    replicate: int
    kind: FigureKind
    instrument: str
    method: str
    station: str
    above_edge_mm: float | None
    along_mm: float | None
    reference: str | None
    unusual_confirmed: bool
    note: str
    photo_id: int | None
    taken_at: dt.datetime
    person: str
    voided: str | None


class ObservationOut(BaseModel):
    """What was seen; ``label`` and ``text`` are the item and the choices in words."""

    id: int
    client_id: uuid.UUID
    item: str
    aspect: Aspect
    value: str
    note: str
    label: str
    text: str
    stop: str
    photo_id: int | None
    person: str
    taken_at: dt.datetime

    @classmethod
    def of(cls, row: Observation) -> Self:
        item, q = ITEMS.get(row.item), QUANTITIES.get(row.item)
        return cls(
            id=row.id,
            client_id=row.client_id,
            item=row.item,
            aspect=cast(Aspect, row.aspect),
            value=row.value,
            note=row.note,
            label=item.label if item else q.label if q else row.item,
            text=choices_text(row.item, row.value),
            stop=item.stop if item else q.stop if q else "",
            photo_id=row.photo_id,
            person=row.person.name,
            taken_at=row.taken_at,
        )


def observations_of_piece(standing: Sequence[Observation]) -> list[ObservationOut]:
    """What is known of a piece by eye: the newest sheet's word on each item and aspect.

    ``standing`` is what stands on its sheets, sheet by sheet, oldest first.
    """
    newest: dict[tuple[str, str], Observation] = {}
    for row in standing:
        if not row.item.startswith(DECISION_PREFIX):
            newest[row.item, row.aspect] = row
    order = {key: i for i, key in enumerate((*QUANTITIES, *ITEMS))}
    found = sorted(newest.values(), key=lambda row: (order.get(row.item, 0), row.aspect))
    return [ObservationOut.of(row) for row in found]


def observations_of_pieces(
    db: Session, piece_ids: Sequence[int]
) -> dict[int, list[ObservationOut]]:
    """:func:`observations_of_piece` of several, by piece."""
    sheets = db.execute(
        select(Sheet.id, Sheet.piece_id)
        .where(Sheet.piece_id.in_(list(piece_ids)), Sheet.set_aside.is_(None))
        .order_by(Sheet.started_at, Sheet.id)
    ).all()
    by_sheet: dict[int, list[Observation]] = defaultdict(list)
    for row in records.observations(db, [sheet for sheet, _ in sheets]):
        by_sheet[row.sheet_id].append(row)
    standing: dict[int, list[Observation]] = defaultdict(list)
    for sheet, piece in sheets:
        standing[piece] += by_sheet[sheet]
    return {piece: observations_of_piece(rows) for piece, rows in standing.items()}


UNKNOWN_INSTRUMENT = "unknown instrument"


def _instrument(reading: Reading) -> str:
    """What a reading was taken with; what is estimated or told has none."""
    if reading.instrument is not None:
        return reading.instrument.name
    if reading.method in PLAIN_METHODS:
        return PLAIN_METHODS[reading.method].label
    return UNKNOWN_INSTRUMENT if reading.kind == FigureKind.MEASURED else ""


def readings(db: Session, where: ColumnElement[bool]) -> list[ReadingOut]:
    """Readings with who, when and with what, voided ones too, oldest first."""
    query = (
        select(Reading)
        .options(
            joinedload(Reading.instrument),
            joinedload(Reading.reference),
            joinedload(Reading.person),
            joinedload(Reading.void),
            joinedload(Reading.sheet),
        )
        .where(where)
        .order_by(Reading.id)
    )
    return [
        ReadingOut(
            id=r.id,
            client_id=r.client_id,
            quantity=r.quantity,
            typed=r.typed,
            value=r.value,
            unit=r.unit,
            si_value=r.si_value,
            si_unit=r.si_unit,
            replicate=r.replicate,
            kind=FigureKind(r.kind),
            instrument=_instrument(r),
            method=r.method,
            station=r.station,
            above_edge_mm=r.above_edge_mm,
            along_mm=r.station_mm,
            reference=r.reference.name if r.reference else None,
            unusual_confirmed=r.unusual_confirmed,
            note=r.note,
            photo_id=r.photo_id,
            taken_at=r.taken_at,
            person=r.person.name,
            voided=r.void.reason if r.void else r.sheet.set_aside,
        )
        for r in db.scalars(query)
    ]

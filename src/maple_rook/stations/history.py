"""The readings behind the figures: who, when, with what, and what was struck out."""

from __future__ import annotations

import datetime as dt
import uuid

from pydantic import BaseModel
from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session, joinedload

from maple_rook.store.tables import Reading


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
    instrument: str
    method: str
    station: str
    unusual_confirmed: bool
    taken_at: dt.datetime
    person: str
    voided: str | None


def readings(db: Session, where: ColumnElement[bool]) -> list[ReadingOut]:
    """Readings with who, when and with what, voided ones too, oldest first."""
    query = (
        select(Reading)
        .options(joinedload(Reading.instrument), joinedload(Reading.person),
                 joinedload(Reading.void))
        .where(where)
        .order_by(Reading.id)
    )  # fmt: skip
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
            instrument=r.instrument.name,
            method=r.method,
            station=r.station,
            unusual_confirmed=r.unusual_confirmed,
            taken_at=r.taken_at,
            person=r.person.name,
            voided=r.void.reason if r.void else None,
        )
        for r in db.scalars(query)
    ]

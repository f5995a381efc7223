"""Readings taken without the quantity's instrument: computed from what was read instead of it."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.plain_methods import PLAIN_METHODS, PlainMethod, by_plain_method
from maple_rook.core.measurement.plausibility import doubt, parse_as
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import from_base
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict, UnusualValue
from maple_rook.intake.readings import SIGNED_OFF
from maple_rook.intake.schemas import MethodFigureOut, MethodIn, MethodReadingIn, StoredOut
from maple_rook.store import records
from maple_rook.store.readings import NewReading, keep_many
from maple_rook.store.tables import Reading, Sheet

_DIGITS = 4


def method_named(key: str) -> PlainMethod:
    found = PLAIN_METHODS.get(key)
    if found is None:
        raise InvalidValue("method", key, ", ".join(PLAIN_METHODS))
    return found


def figure_of(key: str, asked: MethodIn) -> MethodFigureOut:
    """What a method says by what was read; nothing is stored."""
    method = method_named(key)
    found = by_plain_method(key, asked.given)
    unit = QUANTITIES[method.quantity].entry_unit
    return MethodFigureOut(
        value=from_base(found.mean, unit), expanded=from_base(found.expanded, unit), unit=unit
    )


def take(
    db: Session, person: Somebody, sheet_id: int, key: str, asked: MethodReadingIn
) -> StoredOut:
    """Store a reading by a method, once however often it is sent.

    Parameters
    ----------
    db : the session, committed here.
    person : who asks.
    sheet_id : number of the sheet.
    key : of the method.
    asked : what was read.
    """
    method = method_named(key)
    found = by_plain_method(key, asked.given)
    sheet = records.get(db, Sheet, "sheet", sheet_id, lock=True)
    known = _stored(db, asked.client_id)
    if known is not None:
        return known
    if sheet.finished_at is not None:
        raise Conflict(SIGNED_OFF)
    q = QUANTITIES[method.quantity]
    typed = parse_as(q, _typed(found, q.entry_unit))
    unusual = doubt(q.key, typed, sheet.piece.model.knife_type)
    if unusual and not asked.confirmed:
        raise UnusualValue(q.label, typed.text, unusual)
    taken = TakenReading(
        asked.client_id,
        q,
        typed,
        dt.datetime.now(dt.UTC),
        unusual=unusual is not None,
        method=method.key,
        standard_uncertainty=found.standard_uncertainty,
        note=_noted(method, asked.given),
    )
    keep_many(db, [NewReading(sheet_id, taken, person.id, instrument_unknown=True)])
    db.commit()
    stored = _stored(db, asked.client_id)
    assert stored is not None
    return stored


def _typed(found: Figure, unit: str) -> str:
    return f"{from_base(found.mean, unit):.{_DIGITS}g} {unit}"


def _noted(method: PlainMethod, given: Mapping[str, float]) -> str:
    """What was read, so that the figure can be computed again."""
    read = ", ".join(f"{need.label} {given[need.key]:g} {need.unit}" for need in method.needs)
    return f"by {method.label}: {read}"


def _stored(db: Session, client_id: uuid.UUID) -> StoredOut | None:
    row = db.scalars(select(Reading).where(Reading.client_id == client_id)).first()
    if row is None:
        return None
    return StoredOut(id=row.id, client_id=client_id, sheet_id=row.sheet_id, replicate=row.replicate)

"""The use cases of instruments: enter, mend, list, listen, take a reading."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.instruments import INSTRUMENT_KINDS, InstrumentKind, measured_by
from maple_rook.core.measurement.quantities import quantity
from maple_rook.core.measurement.units import UNITS
from maple_rook.http.policy import May, Somebody
from maple_rook.http.preconditions import IfMatch, version
from maple_rook.http.problems import NotPermitted
from maple_rook.instruments import Hub, Sent, Wanted
from maple_rook.instruments.link import Event, State
from maple_rook.settings import Settings, named
from maple_rook.stations.instruments.schemas import (
    BenchEvent,
    InstrumentIn,
    InstrumentOut,
    TakenOut,
)
from maple_rook.store import records
from maple_rook.store.tables import Instrument
from maple_rook.store.today import today

LOOPBACK = frozenset({"127.0.0.1", "localhost", "::1"})


def listed(db: Session, hub: Hub) -> list[InstrumentOut]:
    """Every instrument, those in use first."""
    rows = db.scalars(select(Instrument).order_by(Instrument.retired, Instrument.id))
    states = {event.instrument_id: event for event in hub.states()}
    return [_shown(row, states, today(db)) for row in rows]


def _shown(row: Instrument, states: Mapping[int, Event], day: dt.date) -> InstrumentOut:
    event = states.get(row.id)
    return InstrumentOut(
        id=row.id,
        name=row.name,
        kind=row.kind,
        measures=list(measured_by(row.kind)),
        resolution=row.resolution,
        mpe=row.mpe,
        unit=row.unit,
        serial=row.serial,
        calibration_due=row.calibration_due,
        overdue_days=(day - row.calibration_due).days if row.calibration_due else None,
        address=row.address,
        certified=row.certified,
        stand_in=row.stand_in,
        retired=row.retired,
        state=event.state.value if event else ("" if not row.address else State.GONE.value),
        words=event.words if event else "",
        etag=version(row),
    )


def check_address(
    db: Session,
    person: Somebody,
    settings: Settings,
    asked: InstrumentIn,
    instrument_id: int | None = None,
) -> None:
    """Refuse an address that is not the owner's, or not of a machine instruments are on.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    settings : name the machines beside this one.
    asked : what was asked, as it came in.
    instrument_id : number of the one that is changed, or None.
    """
    known = db.get(Instrument, instrument_id) if instrument_id is not None else None
    if asked.address == (known.address if known is not None else ""):
        return
    if May.SET not in person.may:
        raise NotPermitted("An owner sets where an instrument is connected.")
    host = asked.address.rpartition(":")[0].strip("[]").lower()
    if asked.address and host not in LOOPBACK | named(settings.instrument_hosts):
        raise InvalidValue(
            "address",
            asked.address,
            "127.0.0.1 with a port, or a machine that MAPLE_ROOK_INSTRUMENT_HOSTS names",
        )


def keep(
    db: Session,
    hub: Hub,
    asked: InstrumentIn,
    instrument_id: int | None = None,
    seen: IfMatch | None = None,
) -> InstrumentOut:
    """Enter an instrument, or mend the entry of one as it was seen.

    Parameters
    ----------
    db : the session the caller commits.
    hub : the instruments on a line.
    asked : what was asked, as it came in.
    instrument_id : number of the one that is changed, or None.
    seen : the version of it that the writer had in sight.
    """
    facts = INSTRUMENT_KINDS[asked.kind]
    if facts.is_reference != (asked.certified is not None):
        shown = "none" if asked.certified is None else f"{asked.certified:g}"
        accepted = "a certified value for a reference block, and only for one"
        raise InvalidValue("certified value", shown, accepted)
    same = db.scalar(select(Instrument.id).where(Instrument.name == asked.name))
    if same is not None and same != instrument_id:
        raise InvalidValue("name", asked.name, "a name no other instrument carries")
    row = (
        Instrument()
        if instrument_id is None
        else records.get(db, Instrument, "instrument", instrument_id, lock=True)
    )
    if seen is not None:
        seen.check(row)
    if instrument_id is not None and row.kind != asked.kind:
        taken_with = InstrumentKind(row.kind).label
        raise InvalidValue("kind", asked.kind, f"{taken_with}: its readings were taken with one")
    for name, value in asked.model_dump().items():
        setattr(row, name, value)
    row.unit = facts.unit
    db.add(row)
    db.commit()
    listen(db, hub)
    hub.wanted_abroad()
    return _shown(row, {}, today(db))


def listen(db: Session, hub: Hub) -> None:
    """Keep up the lines of all instruments in use that have an address."""
    rows = db.scalars(select(Instrument).where(Instrument.address != "", ~Instrument.retired))
    hub.want([Wanted(row.id, row.name, row.kind, row.address) for row in rows])


def taken(key: str, reading: Sent, event: Event) -> TakenOut:
    """A reading as the Bench takes it; a unit the quantity cannot have is refused by name."""
    q = quantity(key)
    if UNITS[reading.unit].dimension is not q.dimension:
        raise InvalidValue(
            q.label,
            f"{reading.typed} from {event.name}",
            f"a {q.dimension.value}",
            hint=f"Set {event.name} to {q.unit}, or type the reading.",
        )
    assert event.client_id is not None
    return TakenOut(
        instrument_id=event.instrument_id,
        name=event.name,
        typed=reading.typed,
        client_id=event.client_id,
    )


def bench_event(event: Event | int) -> BenchEvent:
    """What is sent to a Bench."""
    if isinstance(event, int):
        return BenchEvent(what="sheet", sheet_id=event)
    return BenchEvent(
        what="reading" if event.reading else "instrument",
        instrument_id=event.instrument_id,
        name=event.name,
        kind=event.kind,
        state=event.state.value,
        words=event.words,
        typed=event.reading.typed if event.reading else "",
        client_id=event.client_id,
    )

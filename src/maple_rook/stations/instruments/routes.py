from __future__ import annotations

from collections.abc import AsyncIterator

from fastapi import APIRouter, Request
from fastapi.sse import EventSourceResponse

from maple_rook.http.access import (
    AtTheEntrance,
    CurrentPerson,
    CurrentSettings,
    Db,
    Instruments,
    RowId,
)
from maple_rook.http.preconditions import Seen
from maple_rook.stations.instruments import use_cases
from maple_rook.stations.instruments.schemas import (
    BenchEvent,
    InstrumentIn,
    InstrumentOut,
    TakeIn,
    TakenOut,
)

router = APIRouter(prefix="/instruments", tags=["instruments"])


@router.get("")
def listed(db: Db, _: CurrentPerson, hub: Instruments) -> list[InstrumentOut]:
    """Every instrument with its state and calibration."""
    return use_cases.listed(db, hub)


@router.post("", status_code=201)
def enter(
    db: Db, person: CurrentPerson, hub: Instruments, settings: CurrentSettings, asked: InstrumentIn
) -> InstrumentOut:
    """Enter an instrument or a reference block; its address on a line is the owner's to set."""
    use_cases.check_address(db, person, settings, asked)
    return use_cases.keep(db, hub, asked)


@router.put("/{instrument_id}")
def mend(
    db: Db,
    person: CurrentPerson,
    hub: Instruments,
    settings: CurrentSettings,
    seen: Seen,
    instrument_id: RowId,
    asked: InstrumentIn,
) -> InstrumentOut:
    """Mend an instrument's entry; readings keep the instrument they were taken with."""
    use_cases.check_address(db, person, settings, asked, instrument_id)
    return use_cases.keep(db, hub, asked, instrument_id, seen)


@router.post("/{instrument_id}/take")
async def take(_: CurrentPerson, hub: Instruments, instrument_id: RowId, asked: TakeIn) -> TakenOut:
    """Ask an instrument on a line for a reading; nothing is stored by it."""
    reading, event = await hub.take(instrument_id, asked.quantity, asked.about)
    return use_cases.taken(asked.quantity, reading, event)


@router.get("/events", response_class=EventSourceResponse)
async def events(
    request: Request, _: CurrentPerson, hub: Instruments, entrance: AtTheEntrance
) -> AsyncIterator[BenchEvent]:
    """States and unasked readings of instruments, and sheets written to, while signed in."""
    with request.app.state.watch.streams.track_inprogress():
        async for event in hub.events():
            if await entrance.who(request, "instruments_events") is None:
                return
            yield use_cases.bench_event(event)

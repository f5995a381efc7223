"""What every route is handed: a database session, the settings and the current person."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Path, Request
from fastapi.concurrency import run_in_threadpool
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.core.errors import MapleRookError
from maple_rook.instruments import Hub
from maple_rook.settings import Settings
from maple_rook.store.readings import ReadingStore
from maple_rook.store.tables import Person

MAX_ID = 2**31 - 1
PERSON_KEPT_S = 2.0


@dataclass(frozen=True)
class Somebody:
    """Who is at the bench."""

    id: int
    name: str


async def opener(request: Request) -> sessionmaker[Session]:
    """Opens sessions; for the one route where even waiting for a session is felt."""
    found: sessionmaker[Session] = request.app.state.sessions
    return found


async def reading_store(request: Request) -> ReadingStore:
    found: ReadingStore = request.app.state.readings
    return found


def session(request: Request) -> Iterator[Session]:
    """One session per request, committed by the work that writes."""
    with request.app.state.sessions() as opened:
        yield opened


async def settings(request: Request) -> Settings:
    found: Settings = request.app.state.settings
    return found


async def instruments(request: Request) -> Hub:
    found: Hub = request.app.state.instruments
    return found


async def current_person(request: Request) -> Somebody:
    """Who is at the bench. Until people sign in it is the shop's first person.

    Looked up again every :data:`PERSON_KEPT_S`, so that a burst of readings asks once.
    """
    state = request.app.state
    known: tuple[Somebody, float] | None = getattr(state, "person", None)
    if known is None or time.monotonic() > known[1]:
        found = await run_in_threadpool(_first_person, state.sessions)
        known = state.person = (found, time.monotonic() + PERSON_KEPT_S)
    return known[0]


def _first_person(sessions: sessionmaker[Session]) -> Somebody:
    with sessions() as opened:
        row = opened.execute(select(Person.id, Person.name).order_by(Person.id).limit(1)).first()
    if row is None:
        raise MapleRookError("The shop has no people yet.")
    return Somebody(*row)


async def public_base(request: Request) -> str:
    """Where others reach the shop, with a slash at the end: as set, else as this one did."""
    set_as: str | None = request.app.state.settings.public_url
    return f"{set_as.rstrip('/')}/" if set_as else str(request.base_url)


Db = Annotated[Session, Depends(session)]
Opener = Annotated[sessionmaker[Session], Depends(opener)]
Readings = Annotated[ReadingStore, Depends(reading_store)]
CurrentPerson = Annotated[Somebody, Depends(current_person)]
Instruments = Annotated[Hub, Depends(instruments)]
PublicBase = Annotated[str, Depends(public_base)]
CurrentSettings = Annotated[Settings, Depends(settings)]
RowId = Annotated[int, Path(ge=1, le=MAX_ID)]

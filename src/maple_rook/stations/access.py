"""What every route is handed: a database session, the settings and the current person."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Path, Request
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import MapleRookError
from maple_rook.instruments import Hub
from maple_rook.settings import Settings
from maple_rook.store.tables import Person

MAX_ID = 2**31 - 1


def session(request: Request) -> Iterator[Session]:
    """One session per request, committed by the work that writes."""
    with request.app.state.sessions() as opened:
        yield opened


def settings(request: Request) -> Settings:
    found: Settings = request.app.state.settings
    return found


def instruments(request: Request) -> Hub:
    found: Hub = request.app.state.instruments
    return found


def current_person(db: Annotated[Session, Depends(session)]) -> Person:
    """Who is at the bench. Until people sign in it is the shop's first person."""
    person = db.scalars(select(Person).order_by(Person.id).limit(1)).first()
    if person is None:
        raise MapleRookError("The shop has no people yet.")
    return person


Db = Annotated[Session, Depends(session)]
CurrentPerson = Annotated[Person, Depends(current_person)]
Instruments = Annotated[Hub, Depends(instruments)]
CurrentSettings = Annotated[Settings, Depends(settings)]
RowId = Annotated[int, Path(ge=1, le=MAX_ID)]

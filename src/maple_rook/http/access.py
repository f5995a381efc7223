"""What every route is handed: a database session, the settings and the current person."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Annotated, NamedTuple, TypeVar

from anyio import CapacityLimiter, to_thread
from fastapi import Depends, Path, Request
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.http.authentication import SAFE, Entrance
from maple_rook.http.policy import CATALOGUE, Somebody, action_of
from maple_rook.http.problems import SignInNeeded
from maple_rook.instruments import Hub
from maple_rook.settings import Settings
from maple_rook.store import people
from maple_rook.store.database import REQUEST, WRITER
from maple_rook.store.readings import ReadingStore

T = TypeVar("T")
MAX_ID = 2**31 - 1


async def opener(request: Request) -> sessionmaker[Session]:
    """Opens sessions, where a request should hold none while it waits."""
    found: sessionmaker[Session] = request.app.state.sessions
    return found


class ReadingDesk(NamedTuple):
    """What storing a reading needs, handed over at once: a person waits for it.

    ``limiter`` keeps threads that only readings use, so that however busy the shop is the Bench is
    not kept waiting.
    """

    opener: sessionmaker[Session]
    store: ReadingStore
    hub: Hub
    limiter: CapacityLimiter
    person: Somebody

    async def look(self, work: Callable[[Session], T]) -> T:
        """Do what needs a session, in a thread."""
        return await to_thread.run_sync(self._look, work, limiter=self.limiter)

    def _look(self, work: Callable[[Session], T]) -> T:
        with self.opener() as db:
            return work(db)


def reading_desk(request: Request) -> ReadingDesk:
    """Called, not depended on: resolving a dependency takes as long as reading the body."""
    state = request.app.state
    person = signed_in(request)
    return ReadingDesk(state.sessions, state.readings, state.instruments, state.of_readings, person)


def session(request: Request) -> Iterator[Session]:
    """One session per request, committed by the work that writes, which says who wrote."""
    state = request.app.state
    reads = action_of(request.scope["route"]) in CATALOGUE
    opener = state.reads.opener() if reads else state.sessions
    with opener() as opened:
        person: Somebody | None = request.state.person
        if person is not None and not reads and request.method not in SAFE:
            opened.info[WRITER] = person.id
            opened.info[REQUEST] = request.state.asked
        yield opened


def long_session(request: Request) -> Iterator[Session]:
    """A session for an export, of which a few may run at a time; it is audited."""
    person: Somebody = signed_in(request)
    with request.app.state.sessions() as noting:
        noting.info[WRITER] = person.id
        people.write_down(noting, "exports", "made", person.id, request.url.path)
        noting.commit()
    reads = action_of(request.scope["route"]) in CATALOGUE
    state = request.app.state
    opener = state.long_reads.opener() if reads else state.long_sessions
    with opener() as opened:
        yield opened


async def settings(request: Request) -> Settings:
    found: Settings = request.app.state.settings
    return found


async def instruments(request: Request) -> Hub:
    found: Hub = request.app.state.instruments
    return found


def signed_in(request: Request) -> Somebody:
    """Who is signed in, as authenticated before the route is reached."""
    person: Somebody | None = request.state.person
    if person is None:
        raise SignInNeeded("Sign in first.")
    return person


async def current_person(request: Request) -> Somebody:
    return signed_in(request)


async def visitor(request: Request) -> Somebody | None:
    """Who asks, where anybody may."""
    found: Somebody | None = request.state.person
    return found


async def entrance(request: Request) -> Entrance:
    found: Entrance = request.app.state.entrance
    return found


async def public_base(request: Request) -> str:
    """Where others reach the shop, with a slash at the end: as set, else as this one did."""
    set_as: str | None = request.app.state.settings.public_url
    return f"{set_as.rstrip('/')}/" if set_as else str(request.base_url)


Db = Annotated[Session, Depends(session, scope="function")]
"""Released before the answer is sent, so that a slow client holds no connection."""
LongDb = Annotated[Session, Depends(long_session, scope="function", max_concurrency=4)]
Opener = Annotated[sessionmaker[Session], Depends(opener)]
CurrentPerson = Annotated[Somebody, Depends(current_person)]
Visitor = Annotated[Somebody | None, Depends(visitor)]
AtTheEntrance = Annotated[Entrance, Depends(entrance)]
Instruments = Annotated[Hub, Depends(instruments)]
PublicBase = Annotated[str, Depends(public_base)]
CurrentSettings = Annotated[Settings, Depends(settings)]
RowId = Annotated[int, Path(ge=1, le=MAX_ID)]

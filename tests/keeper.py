"""The store of single readings, for tests that run outside an event loop."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from anyio.from_thread import BlockingPortal, start_blocking_portal
from sqlalchemy import Engine

from maple_rook.store.readings import Kept, NewReading, ReadingStore


@dataclass(frozen=True)
class Keeper:
    """Keeps readings from any thread, in the loop the store's connections belong to."""

    store: ReadingStore
    portal: BlockingPortal

    def keep(self, new: NewReading) -> Kept:
        return self.portal.call(self.store.keep, new)

    def knife_type(self, sheet_id: int) -> str | None:
        return self.portal.call(self.store.knife_type, sheet_id)


@contextmanager
def keeper(engine: Engine) -> Iterator[Keeper]:
    store = ReadingStore(engine)
    with start_blocking_portal() as portal:
        portal.call(store.open)
        yield Keeper(store, portal)
        portal.call(store.close)

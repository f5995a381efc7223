"""All instruments of the shop: links kept up, and what they say passed on to every Bench."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Callable, Sequence

from maple_rook.instruments.link import Event, Link, NoReading, Wanted
from maple_rook.instruments.protocol import Sent

MAX_WAITING = 200
END = -1


class Hub:
    """Lives on the server's event loop; threads may call :meth:`want` and :meth:`changed`."""

    def __init__(self) -> None:
        self._links: dict[int, tuple[Link, asyncio.Task[None]]] = {}
        self._listeners: set[asyncio.Queue[Event | int]] = set()
        self._loop: asyncio.AbstractEventLoop | None = None
        self.abroad: Callable[[int], None] = lambda _: None
        self.wanted_abroad: Callable[[], None] = lambda: None
        """Told of sheets written to and of instruments entered here, for other processes."""

    def start(self) -> None:
        self._loop = asyncio.get_running_loop()

    def close(self) -> None:
        """End every event stream; listeners connect again to whoever serves next."""
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._tell, END)

    async def stop(self) -> None:
        tasks = [task for _, task in self._links.values()]
        self._links.clear()
        for task in tasks:
            task.get_loop().call_soon_threadsafe(task.cancel)
        ours = [task for task in tasks if task.get_loop() is asyncio.get_running_loop()]
        if ours:
            await asyncio.wait(ours)
        self._tell(END)

    def want(self, instruments: Sequence[Wanted]) -> None:
        """Keep links to these instruments and no others."""
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._set, list(instruments))

    def _set(self, instruments: list[Wanted]) -> None:
        wanted = {w.id: w for w in instruments}
        for key, (link, task) in list(self._links.items()):
            if wanted.get(key) != link.wanted:
                task.cancel()
                del self._links[key]
        for key, instrument in wanted.items():
            if key not in self._links:
                link = Link(instrument, self._tell)
                self._links[key] = (link, asyncio.create_task(link.keep()))

    def changed(self, sheet_id: int) -> None:
        """A sheet was written to: other Benches with it open will look again."""
        self.abroad(sheet_id)
        self.changed_elsewhere(sheet_id)

    def changed_elsewhere(self, sheet_id: int) -> None:
        """The same, written to by another process."""
        if self._loop is not None and self._listeners and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._tell, sheet_id)

    def _tell(self, event: Event | int) -> None:
        for queue in self._listeners:
            with contextlib.suppress(asyncio.QueueFull):
                queue.put_nowait(event)

    def states(self) -> list[Event]:
        return [link.event() for link, _ in self._links.values()]

    async def events(self) -> AsyncIterator[Event | int]:
        """States now, then every change: an event of an instrument, or the id of a sheet."""
        queue: asyncio.Queue[Event | int] = asyncio.Queue(MAX_WAITING)
        self._listeners.add(queue)
        try:
            for event in self.states():
                yield event
            while (event_or_sheet := await queue.get()) != END:
                yield event_or_sheet
        finally:
            self._listeners.discard(queue)

    async def take(
        self, instrument_id: int, quantity: str, about: float | None
    ) -> tuple[Sent, Event]:
        """A reading from one instrument, and the event it would have been unasked."""
        found = self._links.get(instrument_id)
        if found is None:
            raise NoReading("This instrument is not on the line; type the reading.")
        reading = await found[0].take(quantity, about)
        return reading, found[0].event(reading)

"""What one process of the shop tells the others: a sheet was written to, instruments were changed.

PostgreSQL passes it on (NOTIFY); nothing of the record depends on it, it only spares waiting.
"""

from __future__ import annotations

import asyncio
import contextlib
import uuid
from collections.abc import Awaitable, Callable

import psycopg
import structlog
from sqlalchemy import Engine

from maple_rook.store.database import APPLICATION_NAME, driver_address

CHANNEL = "maple_rook"
INSTRUMENTS = "instruments"
_GATHER_S, _AGAIN_S = 0.05, 1.0
log = structlog.get_logger()


class Bulletin:
    """Lives on the server's event loop; threads may call :meth:`tell`.

    ``heard`` is called on the loop with what another process told.
    """

    def __init__(self, engine: Engine, heard: Callable[[str], None]) -> None:
        self._address = driver_address(engine.url)
        self._heard, self._origin = heard, uuid.uuid4().hex[:12]
        self._loop: asyncio.AbstractEventLoop | None = None
        self._outgoing: asyncio.Queue[str] = asyncio.Queue(1000)
        self._tasks: list[asyncio.Task[None]] = []

    def start(self) -> None:
        self._loop = asyncio.get_running_loop()
        self._tasks = [asyncio.create_task(self._keep(work)) for work in (self._listen, self._send)]

    async def stop(self) -> None:
        for task in self._tasks:
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)

    def tell(self, what: str) -> None:
        if self._loop is not None and not self._loop.is_closed():
            self._loop.call_soon_threadsafe(self._put, what)

    def _put(self, what: str) -> None:
        with contextlib.suppress(asyncio.QueueFull):
            self._outgoing.put_nowait(what)

    async def _keep(self, work: Callable[[psycopg.AsyncConnection], Awaitable[None]]) -> None:
        """Do it on a connection of its own, and on another one where that ends."""
        while True:
            with contextlib.suppress(psycopg.OperationalError):
                connection = await psycopg.AsyncConnection.connect(
                    self._address,
                    autocommit=True,
                    application_name=APPLICATION_NAME,
                    connect_timeout=5,
                )
                async with connection:
                    await work(connection)
            await asyncio.sleep(_AGAIN_S)

    async def _listen(self, connection: psycopg.AsyncConnection) -> None:
        await connection.execute(f"LISTEN {CHANNEL}")
        async for notice in connection.notifies():
            origin, _, what = notice.payload.partition(" ")
            if origin != self._origin:
                self._heard(what)

    async def _send(self, connection: psycopg.AsyncConnection) -> None:
        while True:
            told = {await self._outgoing.get()}
            await asyncio.sleep(_GATHER_S)  # a burst of readings is shown once
            while not self._outgoing.empty():
                told.add(self._outgoing.get_nowait())
            for what in told:
                payload = f"{self._origin} {what}"
                await connection.execute("SELECT pg_notify(%s, %s)", (CHANNEL, payload))

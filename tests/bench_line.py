"""The simulated instruments of a bench, for tests that need them on a line."""

from __future__ import annotations

import asyncio
import threading
import time
from collections.abc import Callable
from types import TracebackType
from typing import Self

from maple_rook.instruments.stand_ins import bench_set


class Line:
    """The simulated instruments of a bench, listening on a thread of their own."""

    def __init__(self) -> None:
        self.instruments = {stand_in.kind: stand_in for stand_in in bench_set()}
        self.addresses: dict[str, str] = {}
        self._loop = asyncio.new_event_loop()
        self._thread = threading.Thread(target=self._loop.run_forever, daemon=True)

    async def _serve(self) -> None:
        for stand_in in self.instruments.values():
            stand_in.chance.seed(20_061)
            server = await asyncio.start_server(stand_in.serve, "127.0.0.1", 0)
            port = server.sockets[0].getsockname()[1]
            self.addresses[stand_in.kind] = f"127.0.0.1:{port}"

    def __enter__(self) -> Self:
        self._thread.start()
        asyncio.run_coroutine_threadsafe(self._serve(), self._loop).result(10)
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self._loop.call_soon_threadsafe(self._loop.stop)
        self._thread.join(5)


def until(true: Callable[[], bool]) -> None:
    """Wait until it is so; a minute is too long."""
    deadline = time.monotonic() + 60
    while not true():
        assert time.monotonic() < deadline
        time.sleep(0.02)

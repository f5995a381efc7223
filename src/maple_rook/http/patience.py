"""How long a client may take: for the head of a request, and for fetching the answer.

How long for a body is counted where it is read. Each is far more than the slowest honest line
needs. Without them a client that sends half a request, or never reads what it asked for, keeps
what it holds for as long as it likes.
"""

from __future__ import annotations

import asyncio
import logging
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_WITHIN_S, HEAD_BYTES = 10.0, 32_768
FETCHED_WITHIN_S = 60.0
"""For as much of an answer as waits to be sent, some 50 kB."""


class PatientProtocol(HttpToolsProtocol):
    """HTTP by uvicorn, closed where the head is late or too long, or the answer is not read."""

    _head: asyncio.TimerHandle | None = None
    _fetching: asyncio.TimerHandle | None = None
    _head_bytes = 0

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        super().connection_made(transport)
        self._await_head()

    def connection_lost(self, exc: Exception | None) -> None:
        self._head_came()
        self.resume_writing()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        if self._head is None and (self.cycle is None or self.cycle.response_complete):
            self._await_head()  # the next request on a line that was kept
        if self._head is not None:
            self._head_bytes += len(data)
        super().data_received(data)
        if self._head is not None and self._head_bytes > HEAD_BYTES:
            self._end(b"431 Request Header Fields Too Large")

    def on_headers_complete(self) -> None:
        self._head_came()
        super().on_headers_complete()

    def pause_writing(self) -> None:
        super().pause_writing()
        if self._fetching is None:
            self._fetching = self.loop.call_later(FETCHED_WITHIN_S, self.transport.abort)

    def resume_writing(self) -> None:
        if self._fetching is not None:
            self._fetching.cancel()
            self._fetching = None
        super().resume_writing()

    def _await_head(self) -> None:
        self._head_bytes = 0
        self._head = self.loop.call_later(HEAD_WITHIN_S, self._end, b"408 Request Timeout")

    def _head_came(self) -> None:
        if self._head is not None:
            self._head.cancel()
            self._head = None

    def _end(self, status: bytes) -> None:
        self._head_came()
        if not self.transport.is_closing():
            self.transport.write(b"HTTP/1.1 " + status + b"\r\nconnection: close\r\n\r\n")
            self.transport.close()


class _ToldAlready(logging.Filter):
    """An error in a request has one traceback, in the log of the application."""

    def filter(self, record: logging.LogRecord) -> bool:
        return not record.getMessage().startswith("Exception in ASGI application")


def told_once() -> None:
    """Leave out of the log what the application says itself: its errors, an absent database."""
    logging.getLogger("uvicorn.error").addFilter(_ToldAlready())
    for name in ("procrastinate", "psycopg.pool"):
        logging.getLogger(name).setLevel(logging.CRITICAL)


def served_with(**how: Any) -> dict[str, Any]:
    """Arguments of uvicorn's ``Config`` for a server that is patient, but not for ever."""
    return {"http": PatientProtocol, "log_level": "warning", "access_log": False, **how}

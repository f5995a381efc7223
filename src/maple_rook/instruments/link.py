"""The link to one instrument: connecting, listening, asking, and saying what is wrong with it."""

from __future__ import annotations

import asyncio
import contextlib
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass

from maple_rook.core.errors import MapleRookError
from maple_rook.core.labelled import Labelled
from maple_rook.instruments.protocol import (
    MAX_LINE_BYTES,
    Garbled,
    Hello,
    Pong,
    Sent,
    Sorry,
    parse,
    take_line,
)

CONNECT_S, ANSWER_S, PING_S, SILENT_S, AGAIN_S = 2.0, 2.0, 2.0, 6.0, 1.0
NO_GREETING = "did not identify itself as an instrument; reconnecting"
_READINGS = uuid.UUID("0a6c4f3e-0b3a-4f0c-8b7e-6a2f5d1c9e47")


@dataclass(frozen=True)
class Wanted:
    """An instrument to listen to: its row, its name for people, its kind and address."""

    id: int
    name: str
    kind: str
    address: str


class State(Labelled):
    READY = "ready"
    SILENT = "silent"
    GARBLED = "garbled"
    GONE = "not_reached"


class NoReading(MapleRookError):
    """An instrument did not give a reading; the message names it and says what to do."""


@dataclass(frozen=True)
class Event:
    """Something about one instrument: its state, or a reading nobody asked for."""

    instrument_id: int
    name: str
    kind: str
    state: State
    words: str
    reading: Sent | None = None
    client_id: uuid.UUID | None = None


class Link:
    """Keeps one instrument connected; ``tell`` hears of every change and unasked reading."""

    def __init__(self, wanted: Wanted, tell: Callable[[Event], None]) -> None:
        self.wanted, self._tell = wanted, tell
        self.state, self.words = State.GONE, f"{wanted.name}: not connected yet"
        self._run = ""
        self._greeted = False
        self._writer: asyncio.StreamWriter | None = None
        self._answer: asyncio.Future[Sent] | None = None
        self._asking = asyncio.Lock()
        self._request = 0
        self._heard = 0.0

    def event(self, reading: Sent | None = None) -> Event:
        w = self.wanted
        identity = self.client_id(reading) if reading else None
        return Event(w.id, w.name, w.kind, self.state, self.words, reading, identity)

    def client_id(self, reading: Sent) -> uuid.UUID:
        """The same for one reading wherever it is heard, so that it is kept once."""
        return uuid.uuid5(_READINGS, f"{self.wanted.address}/{self._run}/{reading.number}")

    def _now(self, state: State, words: str) -> None:
        said = f"{self.wanted.name}: {words}"
        if (state, said) != (self.state, self.words):
            self.state, self.words = state, said
            self._tell(self.event())

    async def keep(self) -> None:
        """Connect, listen, and connect again after an end, until cancelled."""
        while True:
            with contextlib.suppress(OSError, ValueError):
                await self._session()
            await asyncio.sleep(AGAIN_S)

    async def _session(self) -> None:
        host, _, port = self.wanted.address.rpartition(":")
        try:
            async with asyncio.timeout(CONNECT_S):
                reader, self._writer = await asyncio.open_connection(
                    host, int(port), limit=MAX_LINE_BYTES
                )
        except (TimeoutError, OSError):
            self._now(State.GONE, f"no answer from {self.wanted.address}; type the readings")
            return
        self._heard, self._greeted = time.monotonic(), False
        pinging = asyncio.create_task(self._ping())
        try:
            await self._listen(reader)
        finally:
            pinging.cancel()
            self._writer.close()
            self._writer = None
            self._fail("the connection ended")
            if self.state is not State.GARBLED:
                self._now(State.GONE, "connection lost; reconnecting")

    async def _listen(self, reader: asyncio.StreamReader) -> None:
        while True:
            try:
                raw = await reader.readuntil(b"\n")
            except asyncio.LimitOverrunError:
                words = f"sent a line over {MAX_LINE_BYTES} bytes; reconnecting"
                if not self._greeted:
                    words = NO_GREETING
                self._now(State.GARBLED, words)
                self._fail(words)
                return
            except asyncio.IncompleteReadError:
                return
            self._heard = time.monotonic()
            try:
                self._understand(raw.decode("utf-8", "replace"))
            except Garbled as wrong:
                # who has not greeted as an instrument may be anything, and is not quoted
                words = f"sent {wrong}; type this one" if self._greeted else NO_GREETING
                self._now(State.GARBLED, words)
                self._fail(words)
                if not self._greeted:
                    return

    def _understand(self, line: str) -> None:
        message = parse(line)
        if not self._greeted and not isinstance(message, Hello):
            raise Garbled(line, "no greeting")
        match message:
            case Hello():
                self._run = message.run
                if message.kind != self.wanted.kind:
                    words = f"sent a greeting of a {message.kind}; type the readings"
                    self._now(State.GARBLED, words)
                    raise ConnectionAbortedError(words)
                self._greeted = True
                self._now(State.READY, "ready")
            case Pong():
                self._now(State.READY, "ready")
            case Sorry():
                self._fail(message.reason)
            case Sent():
                self._now(State.READY, "ready")
                self._deliver(message)

    def _deliver(self, reading: Sent) -> None:
        if reading.request is None:
            self._tell(self.event(reading))
        elif reading.request == self._request and self._answer and not self._answer.done():
            self._answer.set_result(reading)

    def _fail(self, reason: str) -> None:
        if self._answer is not None and not self._answer.done():
            self._answer.set_exception(NoReading(f"{self.wanted.name}: {reason}."))

    async def _ping(self) -> None:
        while self._writer is not None:
            await asyncio.sleep(PING_S)
            if time.monotonic() - self._heard > SILENT_S:
                self._now(State.SILENT, "connected, but no answer; type the readings")
            await self._say("PING")

    async def _say(self, line: str) -> None:
        if self._writer is None:
            raise NoReading(f"{self.words}.")
        with contextlib.suppress(ConnectionError):
            self._writer.write(f"{line}\n".encode())
            await self._writer.drain()

    async def take(self, quantity: str, about: float | None) -> Sent:
        """Ask for a reading and wait for it, :data:`ANSWER_S` at most."""
        async with self._asking:
            self._answer = asyncio.get_running_loop().create_future()
            self._request += 1
            await self._say(take_line(self._request, quantity, about))
            try:
                async with asyncio.timeout(ANSWER_S):
                    reading = await self._answer
            except TimeoutError:
                words = f"no reading within {ANSWER_S:g} s; type it"
                if self.state is not State.GONE:
                    self._now(State.SILENT, words)
                raise NoReading(f"{self.wanted.name}: {words}.") from None
            finally:
                self._answer = None
        if not reading.steady:
            raise NoReading(f"{self.wanted.name}: still moving; hold it and take it again.")
        return reading

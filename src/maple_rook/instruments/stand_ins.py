"""Simulated stand-ins for the bench's instruments, in a process of their own.

Each is a TCP server on loopback that speaks the line protocol and misbehaves on request: noise,
resolution, zero error, drift, dropouts, slow answers, garbled lines, the other unit system, and a
unit its quantity cannot have.
"""

from __future__ import annotations

import asyncio
import contextlib
import json
import random
import sys
import time
import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from maple_rook.core.errors import MapleRookError
from maple_rook.core.measurement.instruments import measured_by
from maple_rook.core.measurement.quantities import TAKEN
from maple_rook.core.measurement.units import OTHER_SYSTEM, UNITS, from_base
from maple_rook.instruments.protocol import MAX_LINE_BYTES, Hello, reading_line

MODES = ("steady", "moving", "dropout", "slow", "garbled", "long-line", "other-unit", "wrong-unit")
SLOW_S = 5.0


class NotUnderstood(MapleRookError):
    """A control line a stand-in cannot follow."""


@dataclass
class StandIn:
    """One simulated instrument. ``noise``, ``zero`` and ``drift_per_min`` are in its base unit."""

    kind: str
    resolution: float
    noise: float
    zero: float = 0.0
    drift_per_min: float = 0.0
    mode: str = "steady"
    specimen: dict[str, float] = field(default_factory=dict)
    run: str = field(default_factory=lambda: uuid.uuid4().hex[:12])
    chance: random.Random = field(default_factory=random.Random)
    clock: Callable[[], float] = time.monotonic
    _number: int = 0
    _started: float | None = None
    _guessed: dict[str, tuple[float, float]] = field(default_factory=dict)
    _writers: set[asyncio.StreamWriter] = field(default_factory=set)

    def true_value(self, quantity: str, about: float | None) -> float:
        """What lies in the jaws: the specimen's value, or one near what is expected."""
        if quantity in self.specimen:
            return self.specimen[quantity]
        if quantity not in TAKEN:
            raise NotUnderstood(f"no quantity {quantity}")
        q = TAKEN[quantity]
        middle = about if about is not None else max(q.hard_low, 1.0)
        known = self._guessed.get(quantity)
        if known is None or known[0] != middle:
            wide = 0.0 if quantity == "hardness_block" else 0.02 * abs(middle)
            self._guessed[quantity] = (middle, middle + self.chance.gauss(0, wide))
        return self._guessed[quantity][1]

    def read(self, quantity: str, about: float | None = None, request: int | None = None) -> str:
        """The next line this instrument sends when ``quantity`` is measured."""
        q = TAKEN.get(quantity)
        if q is None or q.instrument not in measured_by(self.kind):
            raise NotUnderstood(f"a {self.kind} does not measure {quantity}")
        if self._started is None:
            self._started = self.clock()
        minutes = (self.clock() - self._started) / 60
        value = self.true_value(quantity, about) + self.zero + self.drift_per_min * minutes
        value += self.chance.gauss(0, self.noise)
        value = round(value / self.resolution) * self.resolution
        self._number += 1
        unit, shown = self._unit(q.unit, value)
        return reading_line(self._number, request, shown, unit, steady=self.mode != "moving")

    def _unit(self, unit: str, value: float) -> tuple[str, str]:
        if self.mode == "wrong-unit":
            unit, other = ("g" if UNITS[unit].dimension.value != "mass" else "mm"), unit
            return unit, f"{value:.{UNITS[other].decimals}f}"
        if self.mode == "other-unit":
            unit = OTHER_SYSTEM.get(unit, unit)
        return unit, f"{from_base(value, unit):.{max(2, UNITS[unit].decimals)}f}"

    def control(self, line: str) -> None:
        """Follow a control line: ``SET mode dropout``, ``SET zero 0.02``, ``SPECIMEN key 2.1``."""
        match line.split():
            case ["SET", "mode", mode] if mode in MODES:
                self.mode = mode
            case ["SET", ("zero" | "noise" | "drift_per_min" | "resolution") as name, number]:
                setattr(self, name, _number(number))
            case ["SPECIMEN", quantity, number]:
                self.specimen[quantity] = _number(number)
            case _:
                raise NotUnderstood("a line this stand-in does not follow")

    async def serve(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        """One connection: greet, then answer line by line until it ends."""
        self._writers.add(writer)
        try:
            await _send(writer, Hello(self.kind, self.run).line())
            while line := (await reader.readline()).decode("utf-8", "replace").strip():
                await self._answer(line, writer)
        except (ConnectionError, ValueError):
            return
        finally:
            self._writers.discard(writer)
            with contextlib.suppress(RuntimeError):  # its event loop may have ended first
                writer.close()

    async def _answer(self, line: str, writer: asyncio.StreamWriter) -> None:
        word, *words = line.split()
        try:
            if word == "PING":
                if self.mode != "dropout":
                    await _send(writer, "PONG")
            elif word == "TAKE" and len(words) > 1 and words[0].isdigit():
                about = _number(words[2]) if len(words) > 2 else None
                await self._give(self.read(words[1], about, int(words[0])), [writer])
            elif word == "PRESS" and words:
                await self._give(self.read(words[0]), list(self._writers - {writer}))
                await _send(writer, "OK")
            else:
                self.control(line)
                await _send(writer, "OK")
        except NotUnderstood as wrong:
            await _send(writer, f"SORRY {wrong}")

    async def _give(self, reading: str, writers: list[asyncio.StreamWriter]) -> None:
        if self.mode == "dropout":
            return
        if self.mode == "slow":
            await asyncio.sleep(SLOW_S)
        if self.mode == "garbled":
            reading = reading.replace("READ", "RE?D").replace(".", ";")
        if self.mode == "long-line":
            reading = "READ " + "9" * 1_000_000
        for writer in writers:
            await _send(writer, reading)


async def _send(writer: asyncio.StreamWriter, line: str) -> None:
    with contextlib.suppress(ConnectionError):
        writer.write(f"{line}\n".encode())
        await writer.drain()


def _number(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        raise NotUnderstood(f"{text[:20]} is not a number") from None


def bench_set() -> list[StandIn]:
    """The instruments of the demo shop; the hardness tester reads half a point high."""
    return [
        StandIn("caliper", 0.01, noise=0.008, zero=0.01),
        StandIn("scale", 0.1, noise=0.15),
        StandIn("hardness_tester", 0.1, noise=0.25, zero=0.5),
        StandIn("angle_gauge", 0.1, noise=0.25, drift_per_min=0.01),
        StandIn("edge_tester", 0.01, noise=0.03),
        StandIn("card_tester", 0.01, noise=0.06),
    ]


async def run(stand_ins: list[StandIn], note: Path | None, ready: Callable[[str], None]) -> None:
    """Serve until cancelled; ``note`` gets each kind's address as JSON."""
    addresses = {}
    servers = []
    for stand_in in stand_ins:
        server = await asyncio.start_server(stand_in.serve, "127.0.0.1", 0, limit=MAX_LINE_BYTES)
        servers.append(server)
        host, port = server.sockets[0].getsockname()[:2]
        addresses[stand_in.kind] = f"{host}:{port}"
        ready(f"{stand_in.kind} at {addresses[stand_in.kind]}")
    if note is not None:
        part = note.with_suffix(".part")
        part.write_text(json.dumps(addresses))
        part.replace(note)
    if note is None:
        await asyncio.gather(*(server.serve_forever() for server in servers))
    else:  # whoever asked for the note holds our standard input open for as long as we are wanted
        await asyncio.to_thread(sys.stdin.buffer.read)


def main() -> None:
    """Run the bench set, until interrupted or, with a file for the addresses, until input ends."""
    note = Path(sys.argv[1]) if len(sys.argv) > 1 else None
    with contextlib.suppress(KeyboardInterrupt):
        asyncio.run(run(bench_set(), note, lambda line: print(f"  {line}", flush=True)))


if __name__ == "__main__":
    main()

"""The line protocol between the server and an instrument.

UTF-8 text over TCP, one line a message, at most :data:`MAX_LINE_BYTES` with its line feed. Words
are parted by single spaces; numbers have a decimal point. ``docs/instruments.md`` is the whole of
it for whoever builds an instrument.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from maple_rook.core.measurement.units import UNITS

PROTOCOL_VERSION = 1
MAX_LINE_BYTES = 512
UNASKED = "-"

_NUMBER = re.compile(r"[-+]?[0-9]{1,9}(?:\.[0-9]{1,9})?")
_COUNT = re.compile(r"[0-9]{1,9}")
_WORD = re.compile(r"[A-Za-z0-9_-]{1,40}")


class Garbled(ValueError):
    """A line that is not of the protocol; says what is wrong with it and quotes its start."""

    def __init__(self, line: str, wrong: str) -> None:
        shown = "".join(c if c.isprintable() else "·" for c in line[:40])
        super().__init__(f"{wrong}: “{shown}{'…' if len(line) > 40 else ''}”")


@dataclass(frozen=True)
class Hello:
    """The first line of an instrument: what it is, and a name for this run of it."""

    kind: str
    run: str

    def line(self) -> str:
        return f"HELLO {PROTOCOL_VERSION} {self.kind} {self.run}"


@dataclass(frozen=True)
class Sent:
    """A reading an instrument sent; ``request`` is None where nobody asked for one.

    ``number`` counts the readings of one run of the instrument: with it, a reading heard twice is
    known to be one. ``request`` is the number it was asked with: an answer that comes too late is
    not taken for the next.
    """

    number: int
    request: int | None
    value: float
    unit: str
    steady: bool
    text: str

    @property
    def typed(self) -> str:
        """The reading as a person would type it."""
        return f"{self.text} {self.unit}"


@dataclass(frozen=True)
class Sorry:
    """An instrument cannot read now, and why."""

    reason: str


@dataclass(frozen=True)
class Pong:
    """The answer to a ping."""


Message = Hello | Sent | Sorry | Pong


def take_line(request: int, quantity: str, about: float | None = None) -> str:
    """Ask for a reading; ``about`` is where it is expected, in the base unit, for ranging.

    >>> take_line(3, "spine_heel", 2.2)
    'TAKE 3 spine_heel 2.2'
    """
    asked = f"TAKE {request} {quantity}"
    return asked if about is None else f"{asked} {about:.9g}"


def reading_line(
    number: int, request: int | None, text: str, unit: str, *, steady: bool = True
) -> str:
    """A reading as an instrument sends it.

    Parameters
    ----------
    number : of the reading.
    request : the request it answers, if any.
    text : what the display shows.
    unit : its unit.
    steady : whether the display stands still.

    >>> reading_line(7, 3, "2.13", "mm")
    'READ 7 3 2.13 mm steady'
    """
    state = "steady" if steady else "moving"
    return f"READ {number} {UNASKED if request is None else request} {text} {unit} {state}"


def parse(line: str) -> Message:
    """Understand a line from an instrument, or raise :class:`Garbled`.

    >>> parse("READ 7 3 2.13 mm steady").typed
    '2.13 mm'
    """
    if len(line.encode("utf-8", "replace")) > MAX_LINE_BYTES:
        raise Garbled(line, f"a line over {MAX_LINE_BYTES} bytes")
    word, _, rest = line.strip("\r\n").partition(" ")
    if word == "READ":
        return _reading(line, rest)
    if word == "HELLO":
        return _hello(line, rest)
    if word == "SORRY" and rest.strip():
        return Sorry(rest.strip()[:120])
    if word == "PONG" and not rest:
        return Pong()
    raise Garbled(line, "a line that does not follow the protocol")


def _hello(line: str, rest: str) -> Hello:
    parts = rest.split(" ")
    if len(parts) != 3 or not all(_WORD.fullmatch(p) for p in parts):
        raise Garbled(line, "an invalid greeting")
    if parts[0] != str(PROTOCOL_VERSION):
        raise Garbled(line, f"protocol {parts[0]}, where {PROTOCOL_VERSION} is spoken")
    return Hello(parts[1], parts[2])


def _reading(line: str, rest: str) -> Sent:
    parts = rest.split(" ")
    if len(parts) < 5:
        raise Garbled(line, "a reading with too few words")
    number, request, text, *unit_words, state = parts
    unit = " ".join(unit_words)
    if not _COUNT.fullmatch(number):
        raise Garbled(line, "a reading without its number")
    if request != UNASKED and not _COUNT.fullmatch(request):
        raise Garbled(line, "a reading for no request")
    if not _NUMBER.fullmatch(text) or not math.isfinite(float(text)):
        raise Garbled(line, "a reading whose value is not a number")
    if unit not in UNITS:
        raise Garbled(line, "a reading in an unknown unit")
    if state not in ("steady", "moving"):
        raise Garbled(line, "a reading neither steady nor moving")
    asked = None if request == UNASKED else int(request)
    return Sent(int(number), asked, float(text), unit, state == "steady", text)

"""Points of an edge trial from a CSV file: what can be read, and line by line what cannot."""

from __future__ import annotations

import csv
import datetime as dt
import io
from collections.abc import Iterator
from dataclasses import dataclass

from maple_rook.core.edge_life.trials import CYCLES, KINDS, Event, Point, TrialKind
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.units import Dimension, from_base

MOST_CHARACTERS = 200_000
MOST_POINTS = 2_000
_DELIMITERS = ";\t,"
_DEEPEST_MM = 100.0
_HIGHEST_X = 100_000.0


@dataclass(frozen=True)
class BadRow:
    """A row that was left out: its line in the file, what stands there, and why."""

    line: int
    text: str
    why: str


@dataclass(frozen=True)
class ReadPoints:
    points: tuple[Point, ...]
    bad: tuple[BadRow, ...]


def read_points(text: str, kind: TrialKind) -> ReadPoints:
    r"""Two columns: x and what was read there; of a kitchen log a day or date and what was done.

    Columns are parted by semicolons, tabs or commas (the first of them that the file has); where
    commas do not part them they are decimal commas. A heading, empty lines and lines that begin
    with ``#`` are passed over. Values may carry a unit. Dates count from the first.

    >>> found = read_points("cycle;cut\n1;15,2\n2;ten\n3;11,9 mm", TrialKind.CARD)
    >>> [(p.x, p.value) for p in found.points], [(row.line, row.text) for row in found.bad]
    ([(1.0, 15.2), (3.0, 11.9)], [(3, '2;ten')])
    """
    if len(text) > MOST_CHARACTERS:
        raise InvalidValue("file", f"{len(text)} characters", f"at most {MOST_CHARACTERS}")
    points: list[Point] = []
    bad: list[BadRow] = []
    seen: dict[float, int] = {}
    first_day: list[dt.date] = []
    for line, cells, shown in _rows(text):
        try:
            point = _point(cells, kind, first_day)
        except InvalidValue as wrong:
            if points or bad or not _heading(cells):
                bad.append(BadRow(line, shown, str(wrong)))
            continue
        if point.x in seen:
            why = f"{KINDS[kind].x} {point.x:g} again; it stands on line {seen[point.x]}"
            bad.append(BadRow(line, shown, why))
            continue
        seen[point.x] = line
        points.append(point)
        if len(points) > MOST_POINTS:
            raise InvalidValue("file", f"over {MOST_POINTS} points", f"at most {MOST_POINTS}")
    if not points and not bad:
        raise InvalidValue("file", "nothing", f"lines of {KINDS[kind].x} and what was read")
    return ReadPoints(tuple(points), tuple(bad))


def _rows(text: str) -> Iterator[tuple[int, list[str], str]]:
    lines = text.splitlines()
    body = [line for line in lines if line.strip() and not line.lstrip().startswith("#")]
    delimiter = next((d for d in _DELIMITERS if any(d in line for line in body)), ",")
    for number, line in enumerate(lines, 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        cells = next(csv.reader(io.StringIO(line), delimiter=delimiter), [])
        if delimiter != ",":
            cells = [cell.replace(",", ".") for cell in cells]
        yield number, [cell.strip() for cell in cells], line.strip()[:60]


def _heading(cells: list[str]) -> bool:
    """Whether a row that is no point has no digit at all, as a heading has none."""
    return not any(character.isdigit() for cell in cells for character in cell)


def _point(cells: list[str], kind: TrialKind, first_day: list[dt.date]) -> Point:
    facts = KINDS[kind]
    filled = [cell for cell in cells if cell]
    if len(filled) < 2:
        raise InvalidValue("row", ", ".join(cells), f"{facts.x} and {facts.value or 'event'}")
    if kind is TrialKind.KITCHEN:
        return Point(_day(filled[0], first_day), event=_event(filled[1]))
    x = _number(filled[0], facts.x)
    if kind is TrialKind.CARD and not (x.is_integer() and 1 <= x <= CYCLES):
        raise InvalidValue(facts.x, filled[0], f"a whole number from 1 to {CYCLES}")
    if kind is TrialKind.LINE:
        typed = parse_typed(filled[1], Dimension.FORCE, field=facts.value, default_unit="gf")
        value = round(from_base(typed.base_value, "gf"), 6)
        accepted, fits = "a force above 0", value > 0
    elif kind is TrialKind.CARD:
        value = parse_typed(filled[1], Dimension.LENGTH, field=facts.value).base_value
        accepted, fits = f"0 to {_DEEPEST_MM:g} mm", 0 <= value <= _DEEPEST_MM
    else:
        value = _number(filled[1], facts.value)
        accepted, fits = "a count of 1 or more", value >= 1
    if not fits or value > _HIGHEST_X:
        raise InvalidValue(facts.value, filled[1], accepted)
    return Point(x, value)


def _number(text: str, field: str) -> float:
    try:
        value = float(text)
    except ValueError:
        raise InvalidValue(field, text, "a number") from None
    if not 0 <= value <= _HIGHEST_X:
        raise InvalidValue(field, text, f"0 to {_HIGHEST_X:g}")
    return value


def _day(text: str, first_day: list[dt.date]) -> float:
    """A day's number, or days since the first date of the file."""
    try:
        day = dt.date.fromisoformat(text)
    except ValueError:
        return _number(text, "day")
    if not first_day:
        first_day.append(day)
    if day < first_day[0]:
        raise InvalidValue("day", text, f"{first_day[0]} or later, the first day of the file")
    return float((day - first_day[0]).days)


_EVENTS = {
    "rod": Event.ROD,
    "honed": Event.ROD,
    "stone": Event.STONE,
    "sharpened": Event.STONE,
    "start": Event.START,
    "end": Event.END,
}


def _event(text: str) -> Event:
    found = _EVENTS.get(text.strip().lower())
    if found is None:
        raise InvalidValue("event", text, "start, rod, stone or end")
    return found

"""Cuts of a session from a CSV file: knife, food, depth and force by line, or peaks alone."""

from __future__ import annotations

import csv
import io
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from maple_rook.core.cutting.cut_record import MOST_POINTS
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.units import MM_PER_INCH, UNITS
from maple_rook.formats.trial_points import BadRow

MOST_CHARACTERS = 2_000_000
MOST_CUTS = 400
_DELIMITERS = ";\t,"
_NAMES = {
    "knife": "knife tag piece blade",
    "food": "food vegetable",
    "cut": "cut run number no",
    "lot": "lot batch",
    "stroke": "stroke motion",
    "height": "height food_height",
    "width": "width food_width",
    "depth": "depth travel",
    "force": "force load peak peak_force",
}
_MEANS = {name: key for key, names in _NAMES.items() for name in names.split()}
_NEEDED = ("knife", "food", "force")
_GRAM_FORCE = UNITS["gf"].factor
_LENGTHS = {"mm": 1.0, "cm": 10.0, "in": MM_PER_INCH, "um": 0.001}
_FACTORS = {
    "force": {
        "n": 1.0,
        "g": _GRAM_FORCE,
        "gf": _GRAM_FORCE,
        "kg": 1000 * _GRAM_FORCE,
        "kgf": 1000 * _GRAM_FORCE,
        "lbf": UNITS["lbf"].factor,
    },
    "depth": _LENGTHS,
    "height": _LENGTHS,
    "width": _LENGTHS,
}
"""What a heading's unit is worth, in N and mm; a scale's grams are read as grams-force."""


@dataclass
class ReadCut:
    """One cut of a file; texts as they stand there. No depths where only the peak was read."""

    line: int
    knife: str
    food: str
    lot: str
    stroke: str
    height_mm: float | None
    width_mm: float | None
    depth_mm: list[float] = field(default_factory=list)
    force_n: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class ReadCuts:
    cuts: tuple[ReadCut, ...]
    bad: tuple[BadRow, ...]


def read_cuts(text: str) -> ReadCuts:
    r"""Every cut of a file, and line by line what cannot be read.

    The first line that is not empty names the columns, with units as in ``depth mm`` or
    ``load (kg)``; knife, food and force are needed. Lines of one knife, food, lot, stroke and
    number of the cut are one cut; without a depth each line is the peak of a cut of its own.
    Columns are parted by semicolons, tabs or commas; where commas do not part them they are decimal
    commas.

    Raises
    ------
    InvalidValue
        A text that is too long, has no such heading, or no line that can be read.

    >>> found = read_cuts("knife;food;depth mm;load kg\nA-1;carrot;3;1,9\nA-1;carrot;28;x")
    >>> found.cuts[0].depth_mm, [round(f, 1) for f in found.cuts[0].force_n], found.bad[0].line
    ([3.0], [18.6], 3)
    """
    if len(text) > MOST_CHARACTERS:
        raise InvalidValue("file", f"{len(text)} characters", f"at most {MOST_CHARACTERS}")
    lines = list(_lines(text))
    if not lines:
        raise InvalidValue("file", "nothing", "a heading and a line for each reading")
    columns, factors = _columns(lines[0][1])
    found: dict[tuple[str, ...], ReadCut] = {}
    bad: list[BadRow] = []
    for line, cells, shown in lines[1:]:
        try:
            _take(found, line, dict(zip(columns, cells, strict=False)), factors)
        except InvalidValue as wrong:
            bad.append(BadRow(line, shown, str(wrong)))
    cuts = tuple(cut for cut in found.values() if cut.force_n)
    if not cuts and not bad:
        raise InvalidValue("file", "a heading alone", "a line for each reading")
    return ReadCuts(cuts, tuple(bad))


def _lines(text: str) -> Iterator[tuple[int, list[str], str]]:
    lines = text.removeprefix("\ufeff").splitlines()
    body = [line for line in lines if line.strip() and not line.lstrip().startswith("#")]
    delimiter = next((d for d in _DELIMITERS if body and d in body[0]), ",")
    for number, line in enumerate(lines, 1):
        if not line.strip() or line.lstrip().startswith("#"):
            continue
        cells = next(csv.reader(io.StringIO(line), delimiter=delimiter), [])
        if delimiter != ",":
            cells = [cell.replace(",", ".") if _NUMBER.match(cell) else cell for cell in cells]
        yield number, [cell.strip() for cell in cells], line.strip()[:60]


_NUMBER = re.compile(r"^\s*[-+]?\d+,\d+\s*$")
_PARTED = re.compile(r"[^a-z]+")


def _columns(heading: list[str]) -> tuple[list[str], dict[str, float]]:
    """What each column means, and what a unit in it is worth."""
    columns: list[str] = []
    factors: dict[str, float] = {}
    for cell in heading:
        name, *rest = [word for word in _PARTED.split(cell.lower()) if word] or [""]
        if rest and f"{name}_{rest[0]}" in _MEANS:
            name, rest = f"{name}_{rest[0]}", rest[1:]
        key = _MEANS.get(name, "")
        if key and key in columns:
            raise InvalidValue("heading", cell, f"one column of {key}")
        columns.append(key)
        known = _FACTORS.get(key, {})
        unit = next((word for word in rest if word in known), None)
        if rest and known and unit is None:
            raise InvalidValue("heading", cell, f"{name} in {', '.join(known)}")
        factors[key] = known.get(unit, 1.0) if unit else 1.0
    lacking = [key for key in _NEEDED if key not in columns]
    if lacking:
        raise InvalidValue(
            "heading", "; ".join(heading)[:120], f"columns of {', '.join(_NEEDED)}, and depth"
        )
    return columns, factors


def _take(
    found: dict[tuple[str, ...], ReadCut],
    line: int,
    cells: dict[str, str],
    factors: dict[str, float],
) -> None:
    for key in _NEEDED:
        if not cells.get(key):
            raise InvalidValue(key, "nothing", "a value")
    knife, food, lot, stroke = (cells.get(k, "") for k in ("knife", "food", "lot", "stroke"))
    by_depth = bool(cells.get("depth"))
    number = cells.get("cut", "") if by_depth else f"line {line}"
    named = (knife, food, lot, stroke, number)
    force = _number(cells, "force", factors)
    depth = _number(cells, "depth", factors) if by_depth else None
    cut = found.get(named)
    if cut is None:
        if len(found) >= MOST_CUTS:
            raise InvalidValue("file", f"over {MOST_CUTS} cuts", f"at most {MOST_CUTS}")
        height, width = (
            _number(cells, k, factors) if cells.get(k) else None for k in ("height", "width")
        )
        cut = found[named] = ReadCut(line, knife, food, lot, stroke, height, width)
    if len(cut.force_n) >= MOST_POINTS:
        raise InvalidValue("cut", f"over {MOST_POINTS} points", f"at most {MOST_POINTS}")
    cut.force_n.append(force)
    if depth is not None:
        cut.depth_mm.append(depth)


def _number(cells: dict[str, str], key: str, factors: dict[str, float]) -> float:
    try:
        value = float(cells[key]) * factors[key]
    except ValueError:
        value = math.nan
    if not math.isfinite(value) or abs(value) > 1e5:
        raise InvalidValue(key, cells[key], "a number")
    return round(value, 6)

"""A traced edge from pasted text: columns of coordinates, or an SVG path.

Both give (x, y) in mm with y up, in the order of the text; the core lays them on the board.
"""

from __future__ import annotations

import re
from xml.etree.ElementTree import Element, ParseError  # nosec B405 - names only

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring
from svg.path import Line, Move, parse_path
from svg.path.path import Path

from maple_rook.core.errors import InvalidValue

MOST_CHARACTERS = 200_000
_CURVE_STEPS = 24
_PARTED = re.compile(r"[\d.](?:[\t ]*;[\t ]*|[\t ]+)[-+.\d]")
"""Blanks or a semicolon between two numbers; one way only to read a run of blanks."""
_LENGTH = re.compile(r"^\s*([\d.]+)\s*(mm|cm|in)\s*$")
_IN_MM = {"mm": 1.0, "cm": 10.0, "in": 25.4}

Point = tuple[float, float]


def read_columns(text: str) -> list[Point]:
    """Two columns x and y, one point a line: comma, semicolon, tab or blanks between.

    A decimal comma is understood where the columns are not parted by commas. Lines before the
    first number are taken for a heading.

    >>> read_columns("x;y\\n0;0\\n100,5;0\\n200;12,25")
    [(0.0, 0.0), (100.5, 0.0), (200.0, 12.25)]
    """
    _check_size(text)
    points: list[Point] = []
    for number, line in enumerate(text.splitlines(), 1):
        if not line.strip():
            continue
        cells = _cells(line)
        if cells is None:
            if points:
                raise InvalidValue(f"line {number}", line.strip(), "two numbers, x and y in mm")
            continue
        points.append(cells)
    if not points:
        raise InvalidValue("coordinates", text.strip()[:40] or "nothing", "lines of x and y in mm")
    return points


def _cells(line: str) -> Point | None:
    """Two numbers of a line, or None; blanks or a semicolon between leave commas to decimals."""
    parted = _PARTED.search(line)
    parts = re.split(r"[;\t ]+", line.strip()) if parted else line.split(",")
    try:
        x, y = (float(part.strip().replace(",", ".")) for part in parts)
    except ValueError:
        return None
    return x, y


def read_svg(text: str) -> list[Point]:
    """The first path of an SVG file, or bare path data; curves as short chords, y turned up.

    Where the file gives a width in mm, cm or in and a viewBox, its units are turned into mm.

    >>> read_svg("M0 20 L100 20 L150 10")
    [(0.0, -20.0), (100.0, -20.0), (150.0, -10.0)]
    """
    _check_size(text)
    scale, data = 1.0, text.strip()
    if data.startswith("<"):
        scale, data = _of_file(data)
    try:
        path = parse_path(data)
    except (ValueError, TypeError, IndexError, AttributeError) as error:
        raise InvalidValue("SVG path", data[:40], "path data such as M0 0 L200 12") from error
    points = [(scale * x, -scale * y) for x, y in _sampled(path)]
    if not points:
        raise InvalidValue("SVG path", data[:40] or "nothing", "path data such as M0 0 L200 12")
    return points


def _of_file(text: str) -> tuple[float, str]:
    """mm per user unit, and the data of the first path."""
    if "<!DOCTYPE" in text or "<!ENTITY" in text:
        raise InvalidValue("SVG file", "a document type", "a plain SVG file without one")
    try:
        root = fromstring(text)
    except (ParseError, DefusedXmlException) as error:
        raise InvalidValue("SVG file", str(error), "a well-formed SVG file") from None
    found = next((e for e in root.iter() if e.tag.rpartition("}")[2] == "path"), None)
    if found is None or not found.get("d"):
        raise InvalidValue("SVG file", "no path in it", "a file with the edge as a path")
    if found.get("transform"):
        raise InvalidValue("SVG path", "a transform on it", "a path in plain coordinates")
    return _mm_per_unit(root), str(found.get("d"))


def _mm_per_unit(root: Element) -> float:
    width, box = _LENGTH.match(root.get("width", "")), root.get("viewBox")
    if width is None or box is None:
        return 1.0
    try:
        _, _, across, _ = (float(n) for n in re.split(r"[\s,]+", box.strip()))
        return float(width[1]) * _IN_MM[width[2]] / across
    except (ValueError, ZeroDivisionError):
        raise InvalidValue("SVG file", f"viewBox {box}", "a viewBox of four numbers") from None


def _sampled(path: Path) -> list[Point]:
    found: list[Point] = []
    for segment in path:
        steps = 1 if isinstance(segment, (Line, Move)) else _CURVE_STEPS
        for k in range(1, steps + 1):
            point = segment.point(k / steps)
            if not found or (point.real, point.imag) != found[-1]:
                found.append((point.real, point.imag))
    return found


def _check_size(text: str) -> None:
    if len(text) > MOST_CHARACTERS:
        raise InvalidValue("text", f"{len(text)} characters", f"at most {MOST_CHARACTERS}")

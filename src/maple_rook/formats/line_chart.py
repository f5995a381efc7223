"""A plain line chart as an SVG file, for pages: level axes, few lines, each with its name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree import ElementTree as ET  # nosec B405 - it only writes

from maple_rook.formats.inks import HAIRLINE, INK, INKS, PAPER, SOFT

Point = tuple[float, float]
WIDE, TALL = 680, 360
_LEFT, _RIGHT, _TOP, _BOTTOM = 64, 176, 40, 48
_DASHES = ("", "7 4", "2 3", "8 3 2 3", "12 4", "4 4")
_APART = 15


@dataclass(frozen=True)
class Line:
    """A line and its name; ``down_to`` fills the space to another line's points.

    ``place`` is that of its hue and pattern, where it is not that of the line among the others.
    """

    name: str
    points: Sequence[Point]
    down_to: Sequence[Point] = ()
    place: int | None = None


@dataclass(frozen=True)
class Axis:
    """What an axis shows, from where to where, and where its ticks stand."""

    name: str
    low: float
    high: float
    ticks: Sequence[float]


def line_chart(title: str, x: Axis, y: Axis, lines: Sequence[Line]) -> str:
    """The chart as an SVG document; names stand at the ends of the lines, kept apart."""
    root = ET.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=str(WIDE),
        height=str(TALL),
        viewBox=f"0 0 {WIDE} {TALL}",
    )
    root.set("font-family", "sans-serif")
    root.set("font-size", "13")
    ET.SubElement(root, "title").text = title
    ET.SubElement(root, "rect", width=str(WIDE), height=str(TALL), fill=PAPER)
    _text(root, (_LEFT, 22), title, INK, "start").set("font-weight", "600")

    def at(point: Point) -> Point:
        across = (point[0] - x.low) / (x.high - x.low)
        up = (point[1] - y.low) / (y.high - y.low)
        return (
            _LEFT + across * (WIDE - _LEFT - _RIGHT),
            TALL - _BOTTOM - up * (TALL - _TOP - _BOTTOM),
        )

    _axes(root, x, y, (at((x.low, y.low)), at((x.high, y.high))))
    for tick in x.ticks:
        _text(root, (at((tick, y.low))[0], TALL - _BOTTOM + 18), f"{tick:g}", SOFT, "middle")
    for tick in y.ticks:
        left, right = at((x.low, tick)), at((x.high, tick))
        _stroke(root, (left, right), HAIRLINE, 1)
        _text(root, (_LEFT - 8, left[1] + 4), f"{tick:g}", SOFT, "end")
    for i, line in enumerate(lines):
        _line(root, [at(p) for p in line.points], [at(p) for p in line.down_to], _place(line, i))
    ends = [(line.name, at(line.points[-1]), _place(line, i)) for i, line in enumerate(lines)]
    _names(root, ends)
    return ET.tostring(root, encoding="unicode") + "\n"


def _axes(root: ET.Element, x: Axis, y: Axis, box: tuple[Point, Point]) -> None:
    (left, bottom), (right, top) = box
    _stroke(root, ((left, bottom), (right, bottom)), SOFT, 1)
    _text(root, ((left + right) / 2, TALL - 10), x.name, SOFT, "middle")
    name = _text(root, (0, 0), y.name, SOFT, "middle")
    name.set("transform", f"translate(16 {(top + bottom) / 2:.1f}) rotate(-90)")


def _line(root: ET.Element, points: list[Point], down_to: list[Point], at: int) -> None:
    hue = INKS[at % len(INKS)]
    if down_to:
        area = ET.SubElement(root, "path", d=_path([*points, *reversed(down_to)]) + "Z", fill=hue)
        area.set("fill-opacity", "0.22")
    drawn = ET.SubElement(root, "path", d=_path(points), fill="none", stroke=hue)
    drawn.set("stroke-width", "2")
    if _DASHES[at % len(_DASHES)] and not down_to:
        drawn.set("stroke-dasharray", _DASHES[at % len(_DASHES)])


def _place(line: Line, among: int) -> int:
    return among if line.place is None else line.place


def _names(root: ET.Element, ends: list[tuple[str, Point, int]]) -> None:
    """The names beside the ends of the lines, moved down where they would meet."""
    lowest = 0.0
    for name, (x, y), place in sorted(ends, key=lambda end: end[1][1]):
        lowest = max(y + 4, lowest + _APART)
        _text(root, (x + 8, lowest), name, INKS[place % len(INKS)], "start")


def _path(points: Sequence[Point]) -> str:
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def _stroke(root: ET.Element, ends: tuple[Point, Point], colour: str, width: float) -> None:
    (x1, y1), (x2, y2) = ends
    line = ET.SubElement(root, "line", x1=f"{x1:.1f}", y1=f"{y1:.1f}", x2=f"{x2:.1f}")
    line.set("y2", f"{y2:.1f}")
    line.set("stroke", colour)
    line.set("stroke-width", f"{width:g}")


def _text(root: ET.Element, at: Point, words: str, colour: str, anchor: str) -> ET.Element:
    found = ET.SubElement(root, "text", x=f"{at[0]:.1f}", y=f"{at[1]:.1f}", fill=colour)
    found.set("text-anchor", anchor)
    found.text = words
    return found

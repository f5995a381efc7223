"""Drawings as SVG files in millimetres: one user unit is one millimetre of the knife.

Elevation, plan and profile are at life size. A section is a few millimetres thick, so it is drawn
larger by a whole factor that the drawing states; both directions alike.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree import ElementTree as ET  # nosec B405 - it only writes

from maple_rook.formats.inks import BLADE, HANDLE, INK, INKS, SOFT

Point = tuple[float, float]

DASHES = ("", "6 3", "1 2", "6 2 1 2", "12 3", "6 2 1 2 1 2")
"""Line pattern of knives A to F, mm."""
_MARGIN, _TEXT = 8.0, 4.0


@dataclass(frozen=True)
class Shape:
    """A line through points in mm, y up; ``knife`` is its place on the strip, if it is overlaid."""

    points: Sequence[Point]
    closed: bool = True
    part: str = "blade"
    knife: int | None = None


@dataclass(frozen=True)
class Dimension:
    """A measured distance between two points, and what it says; ``apart`` moves the line off."""

    start: Point
    end: Point
    text: str
    apart: float = 0.0


def drawing(
    title: str,
    shapes: Sequence[Shape],
    dimensions: Sequence[Dimension] = (),
    *,
    scale: float = 1.0,
    board: bool = False,
    lettering: float = 1.0,
) -> str:
    """An SVG document of the shapes, with dimension lines and a scale bar.

    ``scale`` is how many times larger than life it is printed; coordinates stay those of the
    knife, so that the file measures right at any scale.

    Parameters
    ----------
    title : what the drawing is called.
    shapes : lines and outlines, mm.
    dimensions : what is dimensioned.
    scale : how many times larger than life it is printed.
    board : whether a board is drawn under the edge.
    lettering : how many times larger than on paper words and their room are, for a screen.
    """
    unit = 1 / scale
    lines = [(*_placed(d), d.text) for d in dimensions]
    everything = [p for s in shapes for p in s.points] + [p for a, b, _ in lines for p in (a, b)]
    xs, ys = zip(*everything, strict=True)
    room = lettering * unit
    left, right = min(xs) - _MARGIN * unit, max(xs) + _MARGIN * unit + 14 * room
    top, bottom = max(ys) + _MARGIN * unit, min(ys) - _MARGIN * unit - 12 * room
    wide, tall = right - left, top - bottom
    root = ET.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=f"{wide * scale:.2f}mm",
        height=f"{tall * scale:.2f}mm",
        viewBox=f"{left:.3f} {-top:.3f} {wide:.3f} {tall:.3f}",
    )
    root.set("font-family", "sans-serif")
    ET.SubElement(root, "title").text = title
    if board:
        _line(root, (left, 0.0), (right, 0.0), 0.2 * unit, SOFT)
    for shape in shapes:
        _shape(root, shape, unit)
    for start, end, text in lines:
        _dimension(root, start, end, text, unit, lettering)
    _scale_bar(root, (left + 4 * unit, bottom + 4 * unit), unit, scale, lettering)
    return ET.tostring(root, encoding="unicode", xml_declaration=True) + "\n"


def _placed(d: Dimension) -> tuple[Point, Point]:
    """Both ends of the line itself, moved square to it: down for level lines, right for upright."""
    if abs(d.start[0] - d.end[0]) >= abs(d.start[1] - d.end[1]):
        return (d.start[0], d.start[1] - d.apart), (d.end[0], d.end[1] - d.apart)
    return (d.start[0] + d.apart, d.start[1]), (d.end[0] + d.apart, d.end[1])


def _shape(root: ET.Element, shape: Shape, unit: float) -> None:
    path = "M" + "L".join(f"{x:.3f} {0.0 - y:.3f}" for x, y in shape.points)
    drawn = ET.SubElement(root, "path", d=path + ("Z" if shape.closed else ""))
    drawn.set("class", shape.part)
    fill = {"blade": BLADE, "handle": HANDLE}.get(shape.part, "none")
    colour = INK
    if shape.knife is not None:
        colour, fill = INKS[shape.knife], "none"
        drawn.set("data-knife", "ABCDEF"[shape.knife])
        if DASHES[shape.knife]:
            gaps = (float(g) * unit for g in DASHES[shape.knife].split())
            drawn.set("stroke-dasharray", " ".join(f"{g:g}" for g in gaps))
    drawn.set("fill", fill if shape.closed else "none")
    drawn.set("stroke", colour)
    drawn.set("stroke-width", f"{0.35 * unit:.4g}")
    drawn.set("stroke-linejoin", "round")


def _line(root: ET.Element, a: Point, b: Point, width: float, colour: str) -> None:
    ET.SubElement(
        root,
        "line",
        x1=f"{a[0]:.3f}",
        y1=f"{-a[1]:.3f}",
        x2=f"{b[0]:.3f}",
        y2=f"{-b[1]:.3f}",
        stroke=colour,
    ).set("stroke-width", f"{width:.4g}")


def _dimension(
    root: ET.Element, start: Point, end: Point, text: str, unit: float, lettering: float
) -> None:
    group = ET.SubElement(root, "g")
    group.set("class", "dimension")
    tick = 1.2 * unit
    _line(group, start, end, 0.18 * unit, SOFT)
    for x, y in (start, end):
        _line(group, (x - tick, y - tick), (x + tick, y + tick), 0.3 * unit, SOFT)
    level = abs(start[0] - end[0]) >= abs(start[1] - end[1])
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    at = (middle[0], middle[1] + 1.2 * unit) if level else (middle[0] + 1.5 * unit, middle[1])
    _text(group, at, text, lettering * unit, "middle" if level else "start")


def _text(root: ET.Element, at: Point, text: str, unit: float, anchor: str) -> None:
    words = ET.SubElement(root, "text", x=f"{at[0]:.3f}", y=f"{-at[1]:.3f}", fill=INK)
    words.set("font-size", f"{_TEXT * unit:.4g}")
    words.set("text-anchor", anchor)
    words.text = text


def _scale_bar(root: ET.Element, at: Point, unit: float, scale: float, lettering: float) -> None:
    length = 50.0 if scale == 1 else 5.0
    x, y = at
    group = ET.SubElement(root, "g")
    group.set("class", "scale-bar")
    _line(group, at, (x + length, y), 0.3 * unit, SOFT)
    for end in (x, x + length):
        _line(group, (end, y), (end, y + 1.5 * unit), 0.3 * unit, SOFT)
    said = f"{length:g} mm" if scale == 1 else f"{length:g} mm, drawn {scale:g} : 1"
    _text(group, (x + length + 2 * unit, y), said, lettering * unit, "start")

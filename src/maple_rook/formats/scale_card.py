"""Scale cards to print: PDF and SVG at life size, the same drawing in both."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from xml.etree import ElementTree as ET  # nosec B405 - it only writes

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.geometry.scale_card import ScaleCard, View
from maple_rook.formats.inks import INK, SOFT
from maple_rook.formats.paper import STRONG, Page

Pattern = Callable[[int], NDArray[np.bool_]]
Box = tuple[float, float, float, float]
BLACK = "#000000"
PAGES: dict[str, tuple[float, float]] = {"heel": (148.0, 105.0)}
"""Page of a card that is smaller than any paper; the others are their own page."""
_TICK_MM, _LONG_TICK_MM = 1.6, 3.2


def dark_boxes(card: ScaleCard, pattern: Pattern) -> Iterator[Box]:
    """The dark parts of the markers as boxes (x, y, width, height), mm, a run of cells each."""
    for marker in card.markers:
        cells = ~pattern(marker.number)
        cell = marker.side_mm / len(cells)
        for row, line in enumerate(cells):
            edges = np.flatnonzero(np.diff(np.concatenate([[0], line.astype(int), [0]])))
            for start, end in edges.reshape(-1, 2):
                yield (
                    marker.x_mm + start * cell,
                    marker.y_mm + row * cell,
                    (end - start) * cell,
                    cell,
                )


def _ticks(card: ScaleCard) -> Iterator[tuple[float, float]]:
    """Places along the ruler line and how long the tick is there, mm."""
    start, end, _ = card.ruler
    for k in range(round(end - start) + 1):
        if k % 5 == 0:
            yield start + k, _LONG_TICK_MM if k % 10 == 0 else _TICK_MM


def _words(card: ScaleCard) -> tuple[str, str]:
    first = (
        f"Print at 100 %. This line must measure {card.ruler_mm:g} mm; "
        "if it does not, enter what it measures."
    )
    return first, card.use


def card_pdf(card: ScaleCard, pattern: Pattern) -> bytes:
    """A page to print, the card on it at life size."""
    width, height = PAGES.get(card.key, (card.width_mm, card.height_mm))
    page = Page(width, height, f"Scale card {card.label}")
    dx, dy = (width - card.width_mm) / 2, 4.0 if card.key in PAGES else 0.0
    for x, y, w, h in dark_boxes(card, pattern):
        page.box(dx + x, dy + y, w, h * 1.002, BLACK)
    start, end, y = card.ruler
    page.line((dx + start, dy + y), (dx + end, dy + y), ink=BLACK, width=0.2)
    for x, tick in _ticks(card):
        page.line((dx + x, dy + y), (dx + x, dy + y + tick), ink=BLACK, width=0.15)
    first, second = _words(card)
    name = f"{card.label} card, {'from the heel' if card.view is View.HEEL else 'from the side'}"
    if card.window:
        f = card.field
        for a, b in zip(f.corners, (*f.corners[1:], f.corners[0]), strict=True):
            page.line((dx + a[0], dy + a[1]), (dx + b[0], dy + b[1]), ink=SOFT, width=0.15)
        page.text(dx + f.left + 4, dy + f.top + 6, "cut out", 8, ink=SOFT)
        page.paragraph(
            dx + 3,
            dy + card.height_mm + 1.5,
            f"{name}. {first} {second}",
            6.5,
            card.width_mm - 6,
            ink=SOFT,
            most=3,
        )
    else:
        below = dy + y + _LONG_TICK_MM + 3.2
        page.text(dx + start, dy + y - 2.0, name, 8, font=STRONG, ink=INK)
        page.text(dx + start, below, first, 6.5, ink=SOFT, within=end - start)
    return page.finished()


def card_svg(card: ScaleCard, pattern: Pattern) -> str:
    """The card in millimetres, one user unit each."""
    root = ET.Element(
        "svg",
        xmlns="http://www.w3.org/2000/svg",
        width=f"{card.width_mm:g}mm",
        height=f"{card.height_mm:g}mm",
        viewBox=f"0 0 {card.width_mm:g} {card.height_mm:g}",
    )
    root.set("font-family", "sans-serif")
    ET.SubElement(root, "title").text = f"Scale card {card.label}"
    ET.SubElement(
        root,
        "rect",
        x="0",
        y="0",
        width=f"{card.width_mm:g}",
        height=f"{card.height_mm:g}",
        fill="#ffffff",
    )
    path = "".join(
        f"M{x:.4f} {y:.4f}h{w:.4f}v{h:.4f}h{-w:.4f}z" for x, y, w, h in dark_boxes(card, pattern)
    )
    ET.SubElement(root, "path", d=path, fill=BLACK, attrib={"shape-rendering": "crispEdges"})
    start, end, y = card.ruler
    ticks = "".join(f"M{x:.3f} {y:.3f}v{tick}" for x, tick in _ticks(card))
    ET.SubElement(
        root,
        "path",
        d=f"M{start:.3f} {y:.3f}H{end:.3f}{ticks}",
        stroke=BLACK,
        fill="none",
        attrib={"stroke-width": "0.2"},
    )
    if card.window:
        f = card.field
        ET.SubElement(
            root,
            "rect",
            x=f"{f.left:g}",
            y=f"{f.top:g}",
            width=f"{f.right - f.left:g}",
            height=f"{f.bottom - f.top:g}",
            fill="none",
            stroke=SOFT,
            attrib={"stroke-width": "0.2"},
        )
    first, second = _words(card)
    for i, line in enumerate((first, second)):
        left = 4.0 if card.window else start
        said = ET.SubElement(
            root, "text", x=f"{left:.3f}", fill=SOFT, y=f"{y + _LONG_TICK_MM + 2.6 + 2.4 * i:.3f}"
        )
        said.set("font-size", "2" if not card.window else "1.6")
        said.text = line
    return ET.tostring(root, encoding="unicode", xml_declaration=True) + "\n"

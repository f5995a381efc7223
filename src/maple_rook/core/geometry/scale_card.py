"""Printed cards that set millimetres and the camera's place in a photo.

A card carries fiducial markers, each with a number no other card uses, round a field that stays
clear for the blade, and a ruler line that shows at what size it was printed. Card coordinates: mm,
x to the right and y downward as one looks at the card; heights are above it, toward the camera.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from maple_rook.core.errors import InvalidValue

RULER_LOW, RULER_HIGH = 0.9, 1.1
"""A print outside this share of its size is not the card."""
PRINT_RELATIVE_U = 0.003
"""Standard uncertainty of a print that has not been measured (assumption)."""
RULER_U_MM = 0.15
"""Standard uncertainty of a ruler line read with a rule or caliper (practice rule)."""


class View(StrEnum):
    """From where a photo looks at the knife."""

    SIDE = "side"
    HEEL = "heel"


@dataclass(frozen=True)
class Marker:
    """A square marker by its upper left corner."""

    number: int
    x_mm: float
    y_mm: float
    side_mm: float

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """Upper left, upper right, lower right, lower left."""
        x, y, s = self.x_mm, self.y_mm, self.side_mm
        return (x, y), (x + s, y), (x + s, y + s), (x, y + s)


@dataclass(frozen=True)
class Field:
    """The clear part of a card."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        return (
            (self.left, self.top),
            (self.right, self.top),
            (self.right, self.bottom),
            (self.left, self.bottom),
        )


@dataclass(frozen=True)
class ScaleCard:
    """One card; ``ruler`` is its line as (x from, x to, y), ``window`` a field to be cut out."""

    key: str
    label: str
    view: View
    width_mm: float
    height_mm: float
    markers: tuple[Marker, ...]
    field: Field
    ruler: tuple[float, float, float]
    use: str
    window: bool = False

    @property
    def ruler_mm(self) -> float:
        return self.ruler[1] - self.ruler[0]


def _row(first: int, xs: Iterable[float], y: float, side: float) -> list[Marker]:
    return [Marker(first + i, x, y, side) for i, x in enumerate(xs)]


def _sheet(key: str, label: str, first: int, width: float, height: float, side: float) -> ScaleCard:
    """Markers above and below the field and at its right end; the left end is the handle's."""
    margin, apart = 10.0, 4.0
    across = int((width - 2 * margin + apart) // (side + 3 * apart))
    pitch = (width - 2 * margin - side) / (across - 1)
    top = _row(first, (margin + i * pitch for i in range(across)), margin, side)
    low = height - margin - side
    ruler = (width / 2 - 50.0, width / 2 + 50.0, low + side / 2)
    beside = [
        m.x_mm for m in top if m.x_mm + side < ruler[0] - 2 * apart or m.x_mm > ruler[1] + 2 * apart
    ]
    bottom = _row(first + across, beside, low, side)
    right = width - margin - side
    clear = (low - margin - side) / 3
    end = [
        Marker(first + across + len(bottom) + i, right, margin + side / 2 + (i + 1) * clear, side)
        for i in range(2)
    ]
    field = Field(margin, margin + side + apart, right - apart, low - apart)
    longest = field.right - field.left - 12
    use = (
        f"Blade inside the field, tip to the right, handle off the left end; "
        f"for blades up to {longest:.0f} mm."
    )
    return ScaleCard(key, label, View.SIDE, width, height, (*top, *bottom, *end), field, ruler, use)


def _heel_card(first: int) -> ScaleCard:
    side, width, height = 12.0, 100.0, 90.0
    ys = (6.0, 31.0, 56.0)
    markers = [
        Marker(first + 2 * row + column, x, y, side)
        for row, y in enumerate(ys)
        for column, x in enumerate((8.0, width - 8.0 - side))
    ]
    field = Field(28.0, 4.0, width - 28.0, 70.0)
    use = (
        "Cut out the window, stand the card level with the heel of the edge, edge down, with "
        "plain paper a hand behind it."
    )
    return ScaleCard(
        "heel",
        "heel",
        View.HEEL,
        width,
        height,
        tuple(markers),
        field,
        (25.0, 75.0, 80.0),
        use,
        window=True,
    )


CARDS: dict[str, ScaleCard] = {
    card.key: card
    for card in (
        _sheet("a4", "A4", 0, 297.0, 210.0, 16.0),
        _sheet("letter", "Letter", 40, 279.4, 215.9, 16.0),
        _sheet("a3", "A3", 80, 420.0, 297.0, 20.0),
        _heel_card(120),
    )
}
"""All cards by key; each number is on one card only."""
CARD_OF: dict[int, ScaleCard] = {m.number: card for card in CARDS.values() for m in card.markers}
MARKERS: dict[int, Marker] = {m.number: m for card in CARDS.values() for m in card.markers}


def scale_card(key: str) -> ScaleCard:
    """The card of this key, or :class:`InvalidValue` naming those there are."""
    try:
        return CARDS[key]
    except KeyError:
        raise InvalidValue("scale card", key, ", ".join(CARDS)) from None


@dataclass(frozen=True)
class PrintSize:
    """How large a card was printed, over its design; ``relative_u`` is a standard uncertainty."""

    factor: float
    relative_u: float


def print_size(card: ScaleCard, ruler_mm: float | None) -> PrintSize:
    """The size of a print from its ruler line as measured, mm; None if not measured.

    >>> print_size(CARDS["a4"], 99.5).factor
    0.995
    """
    if ruler_mm is None:
        return PrintSize(1.0, PRINT_RELATIVE_U)
    factor = ruler_mm / card.ruler_mm
    if not RULER_LOW <= factor <= RULER_HIGH:
        low, high = RULER_LOW * card.ruler_mm, RULER_HIGH * card.ruler_mm
        raise InvalidValue(
            "ruler line",
            f"{ruler_mm:g} mm",
            f"{low:g} to {high:g} mm",
            hint="Print the card at 100 %, not fitted to the page.",
        )
    return PrintSize(factor, RULER_U_MM / card.ruler_mm)

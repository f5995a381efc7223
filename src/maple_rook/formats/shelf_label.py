"""Shelf labels of knives as PDF: on rolls, a page each, and on sheets of self-adhesive labels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from maple_rook.formats.inks import HAIRLINE, SOFT
from maple_rook.formats.paper import SCALES, STRONG, TITLE, Page, extent, fitting_scale
from maple_rook.formats.spec_card import Card

_INCH = 25.4


@dataclass(frozen=True)
class LabelStock:
    """What labels are printed on; lengths in mm.

    Parameters
    ----------
    name : size, and how many a sheet has, as people choose it.
    label : width and height of a label.
    page : width and height of the sheet; of a roll those of the label.
    grid : labels across and down a sheet.
    first : of the first label, its left and top edge from the sheet's.
    pitch : from one label to the next, across and down.
    """

    name: str
    label: tuple[float, float]
    page: tuple[float, float]
    grid: tuple[int, int] = (1, 1)
    first: tuple[float, float] = (0.0, 0.0)
    pitch: tuple[float, float] = (0.0, 0.0)

    @property
    def places(self) -> int:
        """Labels on a sheet; one on a roll."""
        return self.grid[0] * self.grid[1]

    def corner(self, place: int) -> tuple[float, float]:
        """Left and top edge of a place of the sheet, row by row from 0, mm.

        >>> [round(edge, 2) for edge in LABEL_STOCKS[LabelSize.A4_21].corner(4)]
        [73.25, 53.25]
        """
        down, across = divmod(place, self.grid[0])
        left, top = self.first
        return (left + across * self.pitch[0], top + down * self.pitch[1])


def _roll(name: str, width: float, height: float) -> LabelStock:
    return LabelStock(name, (width, height), (width, height))


def _sheet(
    name: str,
    page: tuple[float, float],
    label: tuple[float, float],
    grid: tuple[int, int],
    gap: float = 0.0,
) -> LabelStock:
    """Labels in the middle of a sheet, with a gap between columns and none between rows."""
    pitch = (label[0] + gap, label[1])
    across = grid[0] * label[0] + (grid[0] - 1) * gap
    first = ((page[0] - across) / 2, (page[1] - grid[1] * label[1]) / 2)
    return LabelStock(name, label, page, grid, first, pitch)


class LabelSize(StrEnum):
    """Key of what labels are printed on: a roll by its width, a sheet by how many it has."""

    ROLL_90 = "roll_90"
    ROLL_102 = "roll_102"
    ROLL_62 = "roll_62"
    ROLL_57 = "roll_57"
    A4_14 = "a4_14"
    A4_21 = "a4_21"
    A4_24 = "a4_24"
    LETTER_10 = "letter_10"
    LETTER_30 = "letter_30"


_A4, _LETTER = (210.0, 297.0), (8.5 * _INCH, 11 * _INCH)
LABEL_STOCKS = {
    LabelSize.ROLL_90: _roll("Roll, 90 × 40 mm", 90.0, 40.0),
    LabelSize.ROLL_102: _roll("Roll, 102 × 51 mm (4 × 2 in)", 4 * _INCH, 2 * _INCH),
    LabelSize.ROLL_62: _roll("Roll, 62 × 29 mm", 62.0, 29.0),
    LabelSize.ROLL_57: _roll("Roll, 57 × 32 mm (2¼ × 1¼ in)", 57.2, 31.8),
    LabelSize.A4_14: _sheet("A4, 14 of 99.1 × 38.1 mm", _A4, (99.1, 38.1), (2, 7), 2.5),
    LabelSize.A4_21: _sheet("A4, 21 of 63.5 × 38.1 mm", _A4, (63.5, 38.1), (3, 7), 2.5),
    LabelSize.A4_24: _sheet("A4, 24 of 70 × 37 mm", _A4, (70.0, 37.0), (3, 8)),
    LabelSize.LETTER_10: _sheet(
        "Letter, 10 of 4 × 2 in", _LETTER, (4 * _INCH, 2 * _INCH), (2, 5), 0.1875 * _INCH
    ),
    LabelSize.LETTER_30: _sheet(
        "Letter, 30 of 2⅝ × 1 in", _LETTER, (2.625 * _INCH, _INCH), (3, 10), 0.125 * _INCH
    ),
}
"""Common stock by the key it is chosen with; sizes are common practice, not of one maker."""


def shelf_labels(cards: Sequence[Card], stock: LabelStock, first: int = 1) -> bytes:
    """A label for each knife.

    Parameters
    ----------
    cards : what the labels say, at least one.
    stock : what they are printed on.
    first : the first place of the first sheet that is still free, from 1.
    """
    labels = cards[0].words.labels
    page = Page(*stock.page, labels if len(cards) > 1 else f"{cards[0].name}: {labels}")
    for place, card in enumerate(cards, first - 1):
        on_sheet = place % stock.places
        if on_sheet == 0 and place > first - 1:
            page.next()
        with page.moved(*stock.corner(on_sheet)):
            _label(page, card, *stock.label)
    return page.finished()


_WIDE_MM, _TALL_MM = 80.0, 35.0
"""From this width figures stand in both unit systems; from this height the knife is drawn."""
_ROW = 3.1
_SCALES = (*SCALES, 1 / 8, 1 / 10, 1 / 15)


def _label(page: Page, card: Card, width: float, height: float) -> None:
    """One label from its upper left corner: name and price, knife, figures, code, what it is."""
    margin = 3.5 if height >= _TALL_MM else 2.5
    wide, tall = width >= _WIDE_MM, height >= _TALL_MM
    left, right, foot = margin, width - margin, height - margin + 0.7
    lettering = 10.5 if wide else 8.5
    price_size = lettering if wide else 8.0
    room = right - left - page.width_of(card.price, price_size, STRONG) - 2.5
    size = min(lettering, max(6.0, lettering * room / page.width_of(card.name, lettering, TITLE)))
    head = margin + 3.1 if wide else margin + 2.4
    page.text(left, head, card.name, size, font=TITLE, within=room)
    page.text(right, head, card.price, price_size, font=STRONG, align="right")
    rule = head + (2.0 if wide else 1.5)
    page.line((left, rule), (right, rule), ink=HAIRLINE)
    side = min(25.0, 0.24 * width, foot - rule - 4.0)
    page.qr(right - side, rule + 1.0, side, card.code)
    y = rule + 2.0
    beside = right - left - side - 2.0
    if tall:
        scale = fitting_scale(card.outline, beside, 11.0 if wide else 8.0, _SCALES)
        page.shapes(card.outline, left, y, scale)
        (_, low), (_, high) = extent(card.outline)
        y += (high - low) * scale + 1.0
    y += 3.0
    shown = card.figures[: max(0, int((foot - 2.6 - y) / _ROW) + 1)][:4]
    for line in shown:
        taken = page.width_of(line.value, 7, STRONG)
        at = left + (39.0 if wide else beside)
        page.text(left, y, line.label, 7, ink=SOFT, within=at - left - taken - 1.5)
        page.text(at, y, line.value, 7, font=STRONG, align="right")
        if wide:
            page.text(left + 60, y, line.other, 7, ink=SOFT, align="right", within=20)
        y += _ROW
    says = page.width_of(card.code_says, 6)
    page.text(left, foot, card.about, 6, ink=SOFT, within=right - left - min(says, 22) - 2)
    page.text(right, foot, card.code_says, 6, ink=SOFT, align="right", within=22)

"""The spec card of a knife, as PDF at true scale with embedded fonts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from maple_rook.formats.card_words import CardWords
from maple_rook.formats.drawings import Shape
from maple_rook.formats.inks import PATINA, PLUM, RUST, SOFT
from maple_rook.formats.paper import LARGER_SCALES, STRONG, TITLE, Page, extent, fitting_scale

LANDSCAPE_MM = {"A4": (297.0, 210.0), "Letter": (279.4, 215.9)}
_MARGIN = 14.0
_LOGO_MM = (38.0, 19.0)


@dataclass(frozen=True)
class CardLine:
    """One figure as it is printed: what it is, in the shop's units, in the other system."""

    label: str
    value: str
    other: str = ""


@dataclass(frozen=True)
class Card:
    """What a card or label says; ``code`` is what its QR code leads to, ``code_says`` in words.

    ``opening`` are words of the shop's own, ``words`` the fixed texts in its language.
    """

    name: str
    about: str
    shop: str
    price: str
    outline: Sequence[Shape]
    section: Sequence[Shape]
    figures: Sequence[CardLine]
    estimates: Sequence[CardLine]
    making: Sequence[CardLine]
    claims: Sequence[tuple[str, bool]]
    not_measured: str
    cautions: str
    code: str
    code_says: str
    words: CardWords
    opening: str = ""
    logo: bytes | None = None
    paper: str = "A4"


def spec_card(card: Card) -> bytes:
    """One page: the knife at the largest true scale that fits, and all that is known of it."""
    page = Page(*LANDSCAPE_MM[card.paper], f"{card.name}: {card.words.card}")
    right = page.width - _MARGIN
    if card.logo:
        page.picture(card.logo, right - _LOGO_MM[0], 8.0, *_LOGO_MM)
        right -= _LOGO_MM[0] + 4
    room = 195 - (page.width - _MARGIN - right)
    size = min(22.0, 22.0 * room / page.width_of(card.name, 22, TITLE))
    page.text(_MARGIN, 19, card.name, size, font=TITLE)
    page.text(_MARGIN, 25.5, card.about, 10, ink=SOFT, within=room - 5)
    page.text(right, 18, card.price, 16, font=STRONG, align="right")
    page.text(right, 25.5, card.shop, 10, ink=SOFT, align="right")
    right = page.width - _MARGIN
    page.line((_MARGIN, 29), (right, 29))
    begin = 34.0
    if card.opening:
        begin = page.paragraph(_MARGIN, 34, card.opening, 9.5, right - _MARGIN, most=2) + 2
    scale = fitting_scale(card.outline, right - _MARGIN, 56)
    (_, low), (_, high) = extent(card.outline)
    page.shapes(card.outline, _MARGIN, begin, scale)
    below = begin + (high - low) * scale + 6
    page.scale_bar(_MARGIN, below, scale)
    top = below + 9
    column = (right - _MARGIN - 16) / 3
    lefts = [_MARGIN + i * (column + 8) for i in range(3)]
    foot = page.height - 16
    rows = _rows_that_fit(top, foot)
    _table(page, lefts[0], top, column, card.words.measured, card.figures[:rows], PATINA)
    _second(page, lefts[1], top, column, card, rows)
    _third(page, lefts[2], top, column, card, foot)
    page.line((_MARGIN, foot), (right, foot))
    page.paragraph(_MARGIN, foot + 4, card.cautions, 6.8, right - _MARGIN, ink=SOFT, most=3)
    return page.finished()


_ROW = 4.6


def _rows_that_fit(top: float, foot: float) -> int:
    return int((foot - top - 6) / _ROW)


def _table(
    page: Page, x: float, y: float, width: float, title: str, lines: Sequence[CardLine], ink: str
) -> float:
    page.text(x, y, title, 9, font=STRONG, ink=ink)
    y += 1.6
    page.line((x, y), (x + width, y), ink=ink)
    other = max((page.width_of(line.other, 8) + 5 for line in lines if line.other), default=0.0)
    for line in lines:
        y += _ROW
        taken = page.width_of(line.value, 9, STRONG)
        page.text(x, y, line.label, 9, ink=SOFT, within=width - other - 2 - taken)
        page.text(x + width - other, y, line.value, 9, font=STRONG, align="right")
        page.text(x + width, y, line.other, 8, ink=SOFT, align="right")
    return y


def _second(page: Page, x: float, top: float, width: float, card: Card, rows: int) -> None:
    rest = card.figures[rows:]
    y = _table(page, x, top, width, card.words.continued, rest, PATINA) + 8 if rest else top
    if card.making:
        y = _table(page, x, y, width, card.words.made_of, card.making, SOFT) + 8
    if card.estimates:
        _table(page, x, y, width, card.words.estimated, card.estimates, PLUM)


def _third(page: Page, x: float, top: float, width: float, card: Card, foot: float) -> None:
    aside = x
    if card.section:
        aside = x + 34
        (_, low), (_, high) = extent(card.section)
        scale = fitting_scale(card.section, 20, foot - top - 36, LARGER_SCALES)
        page.text(x, top, card.words.section, 9, font=STRONG, ink=SOFT)
        page.line((x, top + 1.6), (x + 30, top + 1.6), ink=SOFT)
        page.shapes(card.section, x + 1, top + 4.5, scale)
        bar = top + 4.5 + (high - low) * scale + 3
        page.scale_bar(x + 1, bar, scale, 5.0)
    if card.claims:
        page.text(aside, top, card.words.claimed, 9, font=STRONG, ink=SOFT)
        page.line((aside, top + 1.6), (x + width, top + 1.6), ink=SOFT)
        y = top + 6.2
        for said, wrong in card.claims[:6]:
            ink = RUST if wrong else SOFT
            y = (
                page.paragraph(
                    aside,
                    y,
                    f"{'! ' if wrong else ''}{said}",
                    8.5,
                    x + width - aside,
                    ink=ink,
                    most=3,
                )
                + 0.8
            )
    side = 25.0
    page.qr(x + width - side, foot - side - 3, side, card.code)
    page.text(x + width - side - 2, foot - 5.5, card.code_says, 8, ink=SOFT, align="right")
    if card.not_measured:
        page.paragraph(
            aside,
            foot - 24,
            f"{card.words.not_measured}: {card.not_measured}",
            7.5,
            x + width - side - 3 - aside,
            ink=SOFT,
            most=5,
        )

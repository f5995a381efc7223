"""A knife document in words: figures with U in both unit systems, what it is made of, its price."""

from __future__ import annotations

from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.documents.knife_document import FigureDoc, KnifeDocument
from maple_rook.formats.drawings import Shape
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.store.tables import Shop

_SIGN = {
    "mm": "mm",
    "in": "in",
    "g": "g",
    "oz": "oz",
    "dps": "°/side",
    "incl": "° incl.",
    "deg": "°",
    "HRC": "HRC",
    "HRB": "HRB",
    "N": "N",
    "lbf": "lbf",
    "%": "% right",
    "of 10": "of 10",
}
METRIC = "metric"
_IMPERIAL = ("in", "oz", "lbf")


def shop_base(shop: Shop, base_url: str) -> str:
    """Where others reach the shop: the address it names, or the one it was asked by."""
    return f"{shop.public_address.rstrip('/')}/" if shop.public_address else base_url


def currency_code(currency: str) -> str | None:
    """The shop's currency where it is written as a code of three letters."""
    return currency if len(currency) == 3 and currency.isalpha() and currency.isupper() else None


def outline_shapes(knife: ShelfKnife) -> list[Shape]:
    """Handle and blade, the edge at the bottom."""
    drawn = knife.outline
    return [
        Shape([(x, y) for x, y in points], part=part)
        for part, points in (("handle", drawn.handle), ("blade", drawn.blade))
        if points
    ]


def figure_label(figure: FigureDoc) -> str:
    """What it is, or that it was not measured."""
    measured = figure.kind is FigureKind.MEASURED
    return figure.label if measured else f"{figure.label}, {figure.kind.label}"


def figure_texts(figure: FigureDoc, units: str = METRIC) -> tuple[str, str]:
    """A figure in words, in the system shown first with U and in the other."""
    value, other = _texts(figure)
    if units != METRIC and figure.other_unit in _IMPERIAL:
        value, other = _imperial_first(figure)
    return (value if figure.kind is FigureKind.MEASURED else f"≈ {value}"), other


def _texts(figure: FigureDoc) -> tuple[str, str]:
    if figure.unit == "dps" and figure.other_unit is None:
        return f"{figure.value:.1f} ± {figure.u:.1f}°", ""
    if figure.unit == "dps":  # said together, per side and inclusive have to agree
        side = round(figure.value, 1)
        return f"{side:.1f} ± {figure.u:.1f}{_SIGN['dps']}", f"{2 * side:.1f}{_SIGN['incl']}"
    decimals = decimals_for(2 * figure.u)
    mean, u = rounded_text(figure.value, decimals), rounded_text(figure.u, decimals)
    value = f"{mean} ± {u} {_SIGN[figure.unit]}".replace("-", "−").replace(" °", "°")
    if figure.other_value is None or figure.other_unit is None or figure.other_u is None:
        return value, ""
    other = rounded_text(figure.other_value, decimals_for(2 * figure.other_u))
    return value, f"{other} {_SIGN[figure.other_unit]}".replace("-", "−")


def _imperial_first(figure: FigureDoc) -> tuple[str, str]:
    assert figure.other_unit is not None
    assert figure.other_value is not None
    assert figure.other_u is not None
    decimals = decimals_for(2 * figure.other_u)
    mean, u = (rounded_text(v, decimals) for v in (figure.other_value, figure.other_u))
    own = rounded_text(figure.value, decimals_for(2 * figure.u))
    value = f"{mean} ± {u} {_SIGN[figure.other_unit]}".replace("-", "−")
    return value, f"{own} {_SIGN[figure.unit]}".replace("-", "−")


def making_of(doc: KnifeDocument) -> list[tuple[str, str]]:
    """What the knife is made of, in words, without what is not known or not shown."""
    rows = (
        ("grind", doc.grind),
        ("construction", doc.construction),
        ("steel", doc.steel),
        ("finish", doc.finish),
        ("handle", doc.handle),
    )
    return [(label, text) for label, text in rows if text]


def estimates_of(doc: KnifeDocument) -> list[tuple[str, str, str]]:
    """Estimates in words: what, between which limits, and how well founded."""
    return [(e.label, e.text, f"grade {e.grade}") for e in doc.estimates]


def money_text(price: float, currency: str) -> str:
    """
    >>> money_text(1480, "crowns"), money_text(9.5, "")
    ('1,480.00 crowns', '9.50')
    """
    return f"{price:,.2f} {currency}".strip()


def price_text(doc: KnifeDocument) -> str:
    return "" if doc.price is None else money_text(doc.price, doc.currency or "")

"""Prices of a table from outside: how much, and in which currency.

References
----------
.. [1] ISO 4217, codes of currencies, as Babel ships them; signs and words beside them from memory.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache

from babel.numbers import list_currencies

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.cells import Decimals, as_point
from maple_rook.formats.incoming.headings import Column

_SIGNS = {
    **{
        "€": "EUR",
        "euro": "EUR",
        "euros": "EUR",
        "£": "GBP",
        "¥": "JPY",
        "円": "JPY",
        "yen": "JPY",
    },
    **{"₩": "KRW", "₹": "INR", "₺": "TRY", "zł": "PLN", "kč": "CZK", "ft": "HUF", "fr.": "CHF"},
    **{"us$": "USD", "a$": "AUD", "ca$": "CAD", "c$": "CAD", "nz$": "NZD", "hk$": "HKD"},
    **{"sfr.": "CHF", "sfr": "CHF", "r$": "BRL", "元": "CNY"},
}
_SHARED = {
    "$": frozenset(("USD", "CAD", "AUD", "NZD", "SGD", "HKD", "MXN", "TWD")),
    "kr": frozenset(("SEK", "NOK", "DKK", "ISK")),
    "kr.": frozenset(("SEK", "NOK", "DKK", "ISK")),
}
"""Signs that several countries write; the shop's own is meant where it is one of them."""
_PRICE = re.compile(r"([^\d-]{0,12}?)\s*(\d+(?:\.\d{1,2})?)(?:\.-|,-)?\s*([^\d]{0,12})")
_BESIDE = " .,-:\u00a0"
_OF_A_PRICE = re.compile(
    r"price|rrp|msrp|retail|list|shop|cost|in|incl|excl|vat|tax|net|gross|preis|uvp|prix|ttc|ht"
    r"|precio|pvp|prezzo|prijs"
)
_WORD = re.compile(r"[^\s()\[\],/]+")
_LONGEST = 80
MOST = Decimal(10_000_000)


@lru_cache(maxsize=1)
def codes() -> frozenset[str]:
    """The codes of all currencies [1]_."""
    return frozenset(list_currencies("en"))


def currency_named(text: str) -> str:
    """The currency that a text names: its code, a sign that is shared, or the word itself.

    >>> currency_named("€"), currency_named("chf"), currency_named("$"), currency_named(" crowns ")
    ('EUR', 'CHF', '$', 'crowns')
    """
    said = text.strip(_BESIDE).casefold()
    if said.upper() in codes():
        return said.upper()
    return _SIGNS.get(said) or _SIGNS.get(f"{said}.") or said


def currency_of_heading(heading: str) -> str:
    """The currency that the heading of prices names; empty where it names none.

    >>> currency_of_heading("RRP (EUR)"), currency_of_heading("Price in £")
    ('EUR', 'GBP')
    """
    words = [w.casefold() for w in _WORD.findall(heading[:_LONGEST])]
    named = [w for w in words if not _OF_A_PRICE.fullmatch(w)]
    known = [c for c in map(currency_named, named) if c in codes() or c in _SHARED]
    return known[0] if len(known) == 1 else ""


@dataclass(frozen=True)
class Prices:
    """What prices of a table are in, and what they are in the shop's currency.

    Parameters
    ----------
    own : the shop's currency, a code or a word.
    of_heading : the one that the heading names.
    rates : how much of the shop's currency one of another is worth, by :func:`currency_named`.
    """

    own: str = ""
    of_heading: str = ""
    rates: Mapping[str, Decimal] = field(default_factory=dict)

    def is_own(self, currency: str) -> bool:
        """Whether a currency is the shop's; what names none is taken so."""
        own = currency_named(self.own)
        return not currency or currency == own or own in _SHARED.get(currency, ())

    def read(self, text: str, decimals: Decimals, of_row: str = "") -> tuple[Decimal, str]:
        """A price in the shop's currency, and what was done to it; empty where nothing.

        Raises :class:`InvalidValue` where it is in another currency without a rate.
        """
        amount, beside = price_of(text, decimals)
        currency = beside or currency_named(of_row) or self.of_heading
        if self.is_own(currency):
            return amount, ""
        rate = self.rates.get(currency)
        if rate is None:
            own = f"in {self.own}, as the shop's are" if self.own else "in the shop's currency"
            accepted = f"a price {own}, or with a rate for {currency}"
            raise InvalidValue("price", f"{amount:f} {currency}", accepted)
        price = _rounded(amount * rate)
        return price, f"price: {amount:f} {currency} at {rate:f} is {price:f} {self.own}".rstrip()

    def others(self, cells: Iterable[str], decimals: Decimals) -> list[str]:
        """The currencies beside the shop's that a column of prices is in."""
        found: dict[str, None] = {}
        for cell in cells:
            try:
                _, beside = price_of(cell, decimals)
            except InvalidValue:
                continue
            currency = beside or self.of_heading
            if not self.is_own(currency):
                found[currency] = None
        return list(found)


def prices_of(
    headings: Sequence[str],
    columns: Sequence[Column],
    own: str,
    rates: Mapping[str, Decimal] | None = None,
) -> Prices:
    """What the prices of a table are in, by its headings, the shop's currency and the rates."""
    of_price = [h for h, c in zip(headings, columns, strict=False) if c.field == "price"]
    named = currency_of_heading(of_price[0]) if of_price else ""
    return Prices(own, named, {currency_named(k): rate for k, rate in (rates or {}).items()})


def price_of(text: str, decimals: Decimals) -> tuple[Decimal, str]:
    """A price, and the currency beside it; empty where none stands there.

    >>> price_of("€ 1.249,50", Decimals.COMMA)
    (Decimal('1249.50'), 'EUR')
    """
    said = text.strip()
    found = _PRICE.fullmatch(as_point(said, decimals)) if len(said) <= _LONGEST else None
    if found is None or not 0 < Decimal(found[2]) < MOST:
        raise InvalidValue("price", text, "a price above 0, with at most two decimals")
    return _rounded(Decimal(found[2])), currency_named(f"{found[1]} {found[3]}")


def _rounded(amount: Decimal) -> Decimal:
    return amount.quantize(Decimal("0.01"))

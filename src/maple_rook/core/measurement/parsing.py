"""Reading what people type: numbers, fractions, units, bands and ratios.

One entry, :func:`parse_typed`. It never guesses between two readings of a text: what could be
either is refused with both spelled out.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.units import BASE_UNIT, UNITS, Dimension, to_base, units_of

MAX_TYPED_CHARACTERS = 64

_VULGAR = {"¼": "1/4", "½": "1/2", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_LOOKALIKES = str.maketrans({"″": '"', "”": '"', "“": '"', "–": "-", "−": "-", "º": "°", "⁄": "/"})
_DECIMAL = r"[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+"
_NUMBER = rf"(?:[0-9]+[ -]+[0-9]+/[0-9]+|[0-9]+/[0-9]+|{_DECIMAL})"
_BAND = re.compile(rf"(?P<low>{_DECIMAL})\s*(?:-|to|\.\.)\s*(?P<high>{_DECIMAL})(?P<unit>[^0-9]*)")
_PLUS_MINUS = re.compile(
    rf"(?P<mid>[-+]?{_NUMBER})(?P<unit_a>[^0-9±+]*)(?:±|\+/-|\+-)\s*"
    rf"(?P<half>{_DECIMAL})(?P<unit_b>[^0-9]*)"
)
_SINGLE = re.compile(rf"(?P<number>[-+]?\s*{_NUMBER})(?P<unit>[^0-9]*)")
_POUNDS = re.compile(
    rf"(?P<lb>{_DECIMAL})\s*(?:lbs?|pounds?)\s*(?P<oz>{_DECIMAL})\s*(?:oz|ounces?)"
)
_SCORE = re.compile(rf"^({_DECIMAL})\s*(?:/\s*10|(?:out )?of (?:10|ten))$")
_RATIO = re.compile(rf"(?P<right>{_DECIMAL})\s*[/:]\s*(?P<left>{_DECIMAL})")


@dataclass(frozen=True)
class TypedValue:
    """What was typed, understood: the value in its own unit and in the base unit.

    ``base_low`` and ``base_high`` differ from ``base_value`` only for a band such as ``58-60 HRC``.
    ``unit_given`` is false for a bare number, which took the field's own unit.
    """

    text: str
    value: float
    unit: str
    base_value: float
    base_low: float
    base_high: float
    unit_given: bool

    @property
    def is_band(self) -> bool:
        return self.base_low < self.base_high


def parse_typed(
    text: str, dimension: Dimension, *, field: str = "value", default_unit: str | None = None
) -> TypedValue:
    """Understand a typed value of the given dimension.

    A bare number takes ``default_unit`` or the dimension's base unit. Bands (``62±2``,
    ``58-60 HRC``) keep their limits. Ratios (``70/30``, ``85:15``) become per cent of the
    right-hand face and must add up to 100.

    Raises :class:`InvalidValue` naming field, text and accepted spellings.

    >>> parse_typed('9-5/8"', Dimension.LENGTH).base_value
    244.475
    >>> parse_typed("30° incl", Dimension.ANGLE).base_value
    15.0
    >>> parse_typed("4 lb 3 oz", Dimension.MASS).value
    67.0
    """
    if len(text) > MAX_TYPED_CHARACTERS:
        raise InvalidValue(field, text, f"at most {MAX_TYPED_CHARACTERS} characters")
    cleaned = _cleaned(text)
    default = default_unit or BASE_UNIT[dimension]
    if dimension is Dimension.SCORE:
        cleaned = _SCORE.sub(r"\1", cleaned)
    if dimension is Dimension.RATIO and (match := _RATIO.fullmatch(cleaned)):
        return _ratio(text, match, field)
    if dimension is Dimension.MASS and (match := _POUNDS.fullmatch(cleaned)):
        ounces = 16 * _number(match["lb"], field) + _number(match["oz"], field)
        return _single(text, ounces, "oz", given=True)
    if match := _PLUS_MINUS.fullmatch(cleaned):
        unit, given = _unit(match["unit_b"] or match["unit_a"], dimension, default, field, text)
        half = _number(match["half"], field)
        return _band(text, _number(match["mid"], field), half, unit, given=given)
    if match := _SINGLE.fullmatch(cleaned):
        unit, given = _unit(match["unit"], dimension, default, field, text)
        return _single(text, _number(match["number"], field), unit, given=given)
    if match := _BAND.fullmatch(cleaned):
        unit, given = _unit(match["unit"], dimension, default, field, text)
        low, high = _number(match["low"], field), _number(match["high"], field)
        if low > high:
            raise InvalidValue(field, text, "a band with the smaller number first")
        return _band(text, (low + high) / 2, (high - low) / 2, unit, given=given)
    raise InvalidValue(field, text, _accepted(dimension))


def _cleaned(text: str) -> str:
    for sign, spelled in _VULGAR.items():
        text = text.replace(sign, f" {spelled}")
    return " ".join(text.translate(_LOOKALIKES).lower().split())


def _number(text: str, field: str) -> float:
    """A decimal, a fraction or a whole number with a fraction; a comma is a decimal comma."""
    compact = text.replace("+", "").strip()
    sign = -1.0 if compact.startswith("-") else 1.0
    compact = compact.lstrip("- ")
    if "/" in compact:
        *whole, fraction = re.split(r"[ -]+", compact)
        numerator, denominator = fraction.split("/")
        if float(denominator) == 0:
            raise InvalidValue(field, text, "a fraction with a denominator other than 0")
        return sign * (float(whole[0] if whole else 0) + float(numerator) / float(denominator))
    if re.fullmatch(r"[1-9][0-9]{0,2},[0-9]{3}", compact):
        plain = compact.replace(",", "")
        raise InvalidValue(
            field, text, f"{compact.replace(',', '.')} or {plain}: write which, with no comma"
        )
    return sign * float(compact.replace(",", "."))


def _unit(
    text: str, dimension: Dimension, default: str, field: str, whole: str
) -> tuple[str, bool]:
    spelled = text.strip().rstrip(".")
    if not spelled:
        return default, False
    inclusive = spelled.removeprefix("°").removeprefix("deg").strip()
    for candidate in (spelled, inclusive):
        for unit in UNITS.values():
            if unit.dimension == dimension and candidate in (unit.symbol, *unit.spellings):
                return unit.symbol, True
    raise InvalidValue(field, whole, _accepted(dimension))


def _accepted(dimension: Dimension) -> str:
    if dimension is Dimension.RATIO:
        return "a ratio such as 70/30, right-hand face first"
    if dimension is Dimension.SCORE:
        return "a number from 0 to 10"
    return f"a number in {', '.join(units_of(dimension))}"


def _single(text: str, value: float, unit: str, *, given: bool) -> TypedValue:
    base = to_base(value, unit)
    return TypedValue(text, value, unit, base, base, base, given)


def _band(text: str, middle: float, half: float, unit: str, *, given: bool) -> TypedValue:
    low, high = to_base(middle - half, unit), to_base(middle + half, unit)
    return TypedValue(text, middle, unit, to_base(middle, unit), low, high, given)


def _ratio(text: str, match: re.Match[str], field: str) -> TypedValue:
    right, left = _number(match["right"], field), _number(match["left"], field)
    if abs(right + left - 100) > 0.01:
        raise InvalidValue(field, text, "two shares that add up to 100, such as 70/30")
    return _single(text, right, "%", given=True)

"""Reading what people type: numbers, fractions, units, bands and ratios.

One entry, :func:`parse_typed`. It never guesses between two readings of a text: what could be
either is refused with both spelled out. A text also says how well it is known: ``about 58`` and
``58-60`` are estimates, ``told 58`` is somebody's word, and ``1 7/8`` was read to an eighth.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.units import BASE_UNIT, UNITS, Dimension, to_base, units_of

MAX_TYPED_CHARACTERS = 64
COARSEST_FRACTION = 1 / 8
"""A fraction says no coarser step than this: inch rules are divided so at least (assumption)."""

_VULGAR = {"¼": "1/4", "½": "1/2", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_LOOKALIKES = str.maketrans({"″": '"', "”": '"', "“": '"', "–": "-", "−": "-", "º": "°", "⁄": "/"})
_DECIMAL = r"[0-9]+(?:[.,][0-9]+)?|[.,][0-9]+"
_NUMBER = rf"(?:[0-9]+[ -]+[0-9]+/[0-9]+|[0-9]+/[0-9]+|{_DECIMAL})"
_BAND = re.compile(
    rf"(?P<low>{_DECIMAL})\s*(?:-|~|to|\.\.)\s*(?P<high>{_DECIMAL})(?P<unit>[^0-9]*)"
)
_PLUS_MINUS = re.compile(
    rf"(?P<mid>[-+]?{_NUMBER})(?P<unit_a>[^0-9±+]*)(?:±|\+/-|\+-)\s*"
    rf"(?P<half>{_DECIMAL})(?P<unit_b>[^0-9]*)"
)
_SINGLE = re.compile(rf"(?P<number>[-+]?\s*{_NUMBER})(?P<unit>[^0-9]*)")
_POUNDS = re.compile(
    rf"(?P<lb>{_DECIMAL})\s*(?:lbs?|pounds?)\s*(?P<oz>{_DECIMAL})\s*(?:oz|ounces?)"
)
_SCORE = re.compile(
    rf"^((?:{_DECIMAL})(?:\s*(?:-|~|to|\.\.)\s*(?:{_DECIMAL}))?)"
    r"\s*(?:/\s*10|(?:out )?of (?:10|ten))$"
)
_RATIO = re.compile(rf"(?P<right>{_DECIMAL})\s*[/:]\s*(?P<left>{_DECIMAL})")
_TOLD = re.compile(r"(?:told|printed|claimed)\b:?\s*(?P<rest>.+)")
_ABOUT = re.compile(
    r"(?:[~≈]|(?:about|around|roughly|approximately|approx|circa|ca)\b\.?)\s*(?P<rest>.+)"
)
_OR_SO = re.compile(r"(?P<rest>.+?)\s*(?:\bor so|\bish|(?<=[0-9])ish)")


@dataclass(frozen=True)
class TypedValue:
    """What was typed, understood: the value in its own unit and in the base unit.

    ``base_low`` and ``base_high`` differ from ``base_value`` only for a band such as ``58-60 HRC``.
    ``unit_given`` is false for a bare number, which took the field's own unit. ``step`` is the
    step in which it was typed, in the base unit: 0.1 mm for ``2.3 mm``, an eighth of an inch for
    ``1 7/8 in``; 0 for a band, whose width says it.
    """

    text: str
    value: float
    unit: str
    base_value: float
    base_low: float
    base_high: float
    unit_given: bool
    step: float = 0.0
    kind: FigureKind = FigureKind.MEASURED

    @property
    def is_band(self) -> bool:
        return self.base_low < self.base_high

    @property
    def half_width(self) -> float:
        """Half the width of a band, in the base unit."""
        return (self.base_high - self.base_low) / 2


def parse_typed(
    text: str, dimension: Dimension, *, field: str = "value", default_unit: str | None = None
) -> TypedValue:
    """Understand a typed value of the given dimension.

    A bare number takes ``default_unit`` or the dimension's base unit. Bands (``62±2``,
    ``58-60 HRC``) keep their limits and are estimates, as is ``~58`` or ``about 58``; ``told 58``
    is told. Ratios (``70/30``, ``85:15``) become per cent of the right-hand face and must add up
    to 100.

    Raises :class:`InvalidValue` naming field, text and accepted spellings.

    >>> parse_typed('9-5/8"', Dimension.LENGTH).base_value
    244.475
    >>> parse_typed("30° incl", Dimension.ANGLE).base_value
    15.0
    >>> parse_typed("4 lb 3 oz", Dimension.MASS).value
    67.0
    >>> parse_typed("~58", Dimension.HARDNESS).kind
    <FigureKind.ESTIMATED: 'estimated'>
    """
    if len(text) > MAX_TYPED_CHARACTERS:
        raise InvalidValue(field, text, f"at most {MAX_TYPED_CHARACTERS} characters")
    cleaned, kind = _kind(_cleaned(text))
    found = _parsed(text, cleaned, dimension, field, default_unit or BASE_UNIT[dimension])
    if kind is FigureKind.MEASURED and found.is_band:
        kind = FigureKind.ESTIMATED
    return replace(found, kind=kind) if kind is not FigureKind.MEASURED else found


def _kind(cleaned: str) -> tuple[str, FigureKind]:
    """The text without the words that say how it is known."""
    kind = FigureKind.MEASURED
    for words, said in (
        (_TOLD, FigureKind.TOLD),
        (_ABOUT, FigureKind.ESTIMATED),
        (_OR_SO, FigureKind.ESTIMATED),
    ):
        if match := words.fullmatch(cleaned):
            cleaned = match["rest"].strip()
            kind = said if kind is FigureKind.MEASURED else kind
    return cleaned, kind


def _parsed(text: str, cleaned: str, dimension: Dimension, field: str, default: str) -> TypedValue:
    """Understand a text without such words."""
    if dimension is Dimension.SCORE:
        cleaned = _SCORE.sub(r"\1", cleaned)
    if dimension is Dimension.RATIO and (match := _RATIO.fullmatch(cleaned)):
        return _ratio(text, match, field)
    if dimension is Dimension.MASS and (match := _POUNDS.fullmatch(cleaned)):
        ounces = 16 * _number(match["lb"], field) + _number(match["oz"], field)
        return _single(text, ounces, "oz", _step(match["oz"]), given=True)
    if match := _PLUS_MINUS.fullmatch(cleaned):
        unit, given = _unit(match["unit_b"] or match["unit_a"], dimension, default, field, text)
        half = _number(match["half"], field)
        return _band(text, _number(match["mid"], field), half, unit, given=given)
    if match := _SINGLE.fullmatch(cleaned):
        unit, given = _unit(match["unit"], dimension, default, field, text)
        number = match["number"]
        return _single(text, _number(number, field), unit, _step(number), given=given)
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


def _step(number: str) -> float:
    """The step in which a number was typed, in its own unit.

    >>> _step("1 7/8"), _step("10,50"), _step("210"), _step("1/2")
    (0.125, 0.01, 1.0, 0.125)
    """
    if "/" in number:
        return min(1 / float(number.split("/")[1]), COARSEST_FRACTION)
    decimals = re.split(r"[.,]", number)[1:]
    return float(10.0 ** -len(decimals[0])) if decimals else 1.0


def _single(text: str, value: float, unit: str, step: float, *, given: bool) -> TypedValue:
    base = to_base(value, unit)
    return TypedValue(text, value, unit, base, base, base, given, to_base(step, unit))


def _band(text: str, middle: float, half: float, unit: str, *, given: bool) -> TypedValue:
    low, high = to_base(middle - half, unit), to_base(middle + half, unit)
    return TypedValue(text, middle, unit, to_base(middle, unit), low, high, given)


def _ratio(text: str, match: re.Match[str], field: str) -> TypedValue:
    right, left = _number(match["right"], field), _number(match["left"], field)
    if abs(right + left - 100) > 0.01:
        raise InvalidValue(field, text, "two shares that add up to 100, such as 70/30")
    return _single(text, right, "%", _step(match["right"]), given=True)

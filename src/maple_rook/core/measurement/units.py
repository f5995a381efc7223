"""Units of the trade with their exact factors.

The stored value of a reading is in the SI-based unit of its dimension: millimetre, gram, newton;
edge angles in degrees per side, other angles in degrees, hardness in HRC or HRB, ratios in per
cent of the right-hand face, scores of ten.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

MM_PER_INCH = 25.4
G_PER_OUNCE = 28.349523125
N_PER_POUND_FORCE = 4.4482216152605
N_PER_GRAM_FORCE = 0.00980665


class Dimension(StrEnum):
    LENGTH = "length"
    MASS = "mass"
    FORCE = "force"
    ANGLE = "angle"
    HARDNESS = "hardness"
    RATIO = "ratio"
    SCORE = "score"
    TILT = "tilt"
    HARDNESS_B = "hardness_b"


@dataclass(frozen=True)
class Unit:
    """A unit a person may type: value in the dimension's base unit = factor x value."""

    symbol: str
    dimension: Dimension
    factor: float
    spellings: tuple[str, ...]
    decimals: int


UNITS: dict[str, Unit] = {
    unit.symbol: unit
    for unit in (
        Unit("mm", Dimension.LENGTH, 1.0, ("mm", "millimetre", "millimetres", "millimeters"), 2),
        Unit("cm", Dimension.LENGTH, 10.0, ("cm", "centimetre", "centimetres"), 3),
        Unit("in", Dimension.LENGTH, MM_PER_INCH, ("in", "inch", "inches", '"', "''"), 3),
        Unit(
            "thou",
            Dimension.LENGTH,
            MM_PER_INCH / 1000,
            ("thou", "thous", "thousandths", "mil", "mils"),
            1,
        ),
        Unit("um", Dimension.LENGTH, 0.001, ("um", "µm", "μm", "micron", "microns"), 1),
        Unit("g", Dimension.MASS, 1.0, ("g", "gr", "gram", "grams"), 1),
        Unit("kg", Dimension.MASS, 1000.0, ("kg",), 4),
        Unit("oz", Dimension.MASS, G_PER_OUNCE, ("oz", "ounce", "ounces"), 2),
        Unit("lb", Dimension.MASS, 16 * G_PER_OUNCE, ("lb", "lbs", "pound", "pounds"), 3),
        Unit("N", Dimension.FORCE, 1.0, ("n", "newton", "newtons"), 1),
        Unit("lbf", Dimension.FORCE, N_PER_POUND_FORCE, ("lbf",), 2),
        Unit("gf", Dimension.FORCE, N_PER_GRAM_FORCE, ("gf", "gram-force", "grams-force"), 0),
        Unit("dps", Dimension.ANGLE, 1.0, ("dps", "°", "deg", "degrees", "per side", "°/side"), 1),
        Unit("incl", Dimension.ANGLE, 0.5, ("incl", "inclusive", "total"), 1),
        Unit("HRC", Dimension.HARDNESS, 1.0, ("hrc", "rc", "rockwell c"), 1),
        Unit("HRB", Dimension.HARDNESS_B, 1.0, ("hrb", "rb", "rockwell b"), 1),
        Unit("deg", Dimension.TILT, 1.0, ("°", "deg", "degree", "degrees"), 1),
        Unit("%", Dimension.RATIO, 1.0, ("%", "percent"), 0),
        Unit("of 10", Dimension.SCORE, 1.0, ("of 10", "/10", "out of 10", "points"), 1),
    )
}

BASE_UNIT: dict[Dimension, str] = {
    Dimension.LENGTH: "mm",
    Dimension.MASS: "g",
    Dimension.FORCE: "N",
    Dimension.ANGLE: "dps",
    Dimension.HARDNESS: "HRC",
    Dimension.RATIO: "%",
    Dimension.SCORE: "of 10",
    Dimension.TILT: "deg",
    Dimension.HARDNESS_B: "HRB",
}

OTHER_SYSTEM: dict[str, str] = {
    "mm": "in",
    "cm": "in",
    "in": "mm",
    "g": "oz",
    "kg": "lb",
    "oz": "g",
    "lb": "g",
    "dps": "incl",
    "incl": "dps",
    "N": "lbf",
    "lbf": "N",
    "gf": "N",
}


def units_of(dimension: Dimension) -> list[str]:
    """Symbols a person may type for this dimension, base unit first."""
    base = BASE_UNIT[dimension]
    others = [u.symbol for u in UNITS.values() if u.dimension == dimension and u.symbol != base]
    return [base, *others]


def to_base(value: float, unit: str) -> float:
    """Value in the base unit of the unit's dimension.

    >>> to_base(1, "in"), to_base(30, "incl")
    (25.4, 15.0)
    """
    return value * UNITS[unit].factor


def from_base(base_value: float, unit: str) -> float:
    """Value in ``unit`` of a value in the base unit.

    >>> from_base(25.4, "in")
    1.0
    """
    return base_value / UNITS[unit].factor


def inches_as_sixteenths(length_mm: float) -> str:
    """Length as whole inches and the nearest sixteenth.

    >>> inches_as_sixteenths(244.475)
    '9 5/8 in'
    """
    sixteenths = round(length_mm / MM_PER_INCH * 16)
    whole, rest = divmod(abs(sixteenths), 16)
    sign = "-" if sixteenths < 0 else ""
    if not rest:
        return f"{sign}{whole} in"
    divisor = 16
    while rest % 2 == 0:
        rest, divisor = rest // 2, divisor // 2
    return f"{sign}{whole} {rest}/{divisor} in" if whole else f"{sign}{rest}/{divisor} in"

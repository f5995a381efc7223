"""What a knife costs its owner in a year: its price over its life, and its sharpenings."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.upkeep.wear import LOWERED_MM, WORN_SHARE

MOST_YEARS = 15.0
"""The longest life counted, however long a blade would last (assumption)."""


class Terms(NamedTuple):
    """What the shop reckons with: coefficients, its charge for a sharpening, how a blade wears.

    A sharpening takes ``lowered_mm`` off the height, and a blade is worn out once it has lost
    ``worn_share`` of it. Without a charge of the shop's own the cost is of the knife alone.
    """

    coefficients: Coefficients = PUBLISHED
    charge: float = 0.0
    lowered_mm: float = LOWERED_MM.mean
    worn_share: float = WORN_SHARE


USUAL = Terms()


class YearlyCost(NamedTuple):
    """Cost of owning for a year, and its parts; the knife's price is spread over ``years``."""

    total: Array
    knife: Array
    sharpenings: Array
    years: Array


def cost_of_year(
    price: ArrayLike, height_mm: ArrayLike, months: ArrayLike, terms: Terms
) -> YearlyCost:
    r"""Cost of owning for a year: price / years + sharpenings a year x charge.

    A blade of height h lasts worn_share h / lowered_mm sharpenings, one every ``months``: that is
    its life, at most :data:`MOST_YEARS`.

    >>> cost = cost_of_year(150.0, 45.0, 3.0, Terms(charge=14.0))
    >>> [round(float(part), 1) for part in cost]
    [66.0, 10.0, 4.0, 15.0]
    """
    lasting = np.asarray(months, dtype=float)
    sharpenings = 12 / lasting
    left = terms.worn_share * np.asarray(height_mm, dtype=float) / terms.lowered_mm
    years = np.minimum(left / sharpenings, MOST_YEARS)
    knife = np.asarray(price, dtype=float) / years
    return YearlyCost(knife + sharpenings * terms.charge, knife, sharpenings, years)

"""Numbers in words carry only the digits their interval supports."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.measurement.wording import decimals_for, interval_text, rounded_text


@pytest.mark.parametrize(
    ("central", "low", "high", "unit", "text"),
    [
        (23.41, 19.9, 27.2, "N", "20 to 27 N, likely 23"),
        (153.33, 133.79, 175.58, "N", "130 to 180 N, likely 150"),
        (3.28, 1.99, 5.45, "months", "2 to 5 months, likely 3"),
        (102.4, 100.02, 105.07, "", "100 to 105, likely 102"),
        (-0.06, -0.081, -0.041, "mm", "-0.08 to -0.04 mm, likely -0.06"),
        (0.001, -0.04, 0.04, "mm", "-0.04 to 0.04 mm, likely 0.00"),
    ],
)
def test_predictions_as_a_person_says_them(
    central: float, low: float, high: float, unit: str, text: str
) -> None:
    assert interval_text(central, low, high, unit) == text


@given(st.floats(1e-3, 1e4))
def test_a_step_is_between_a_fortieth_and_four_tenths_of_the_interval(width: float) -> None:
    step = 10.0 ** -decimals_for(width)
    assert step <= 0.4 * width * 1.0001 or decimals_for(width) == 4
    assert step >= width / 40 or decimals_for(width) == -3


@pytest.mark.parametrize("width", [0.0, -1.0, math.nan, math.inf])
def test_an_interval_of_no_width_gets_two_decimals(width: float) -> None:
    assert decimals_for(width) == 2


def test_nothing_is_shown_as_minus_zero() -> None:
    assert rounded_text(-0.001, 1) == "0.0"

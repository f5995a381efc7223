"""Readings with what every shop has: geometry held against facts, uncertainty against a package.

The package ``uncertainties`` propagates by itself; angles and forces follow from school geometry
and the standard acceleration of free fall, 9.80665 m/s2.
"""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from uncertainties import ufloat, umath

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.plain_methods import (
    EDGE_SCATTER_DEG,
    PLAIN_METHODS,
    bevel_angle,
    by_plain_method,
    force_on_scale,
    laser_angle,
)
from maple_rook.core.measurement.quantities import QUANTITIES


def test_a_beam_is_turned_by_twice_the_angle_of_the_bevel() -> None:
    """At 15 degrees per side the spots stand 30 degrees off the beam: tan 30 = 1/sqrt 3."""
    assert laser_angle(1000, 2000 / math.sqrt(3)).mean == pytest.approx(15.0)


@given(st.floats(8, 30), st.floats(300, 2000))
def test_the_laser_tells_any_usual_edge_with_the_uncertainty_of_its_two_lengths(
    angle: float, distance: float
) -> None:
    apart = 2 * distance * math.tan(math.radians(2 * angle))
    found = laser_angle(distance, apart)
    assert found.mean == pytest.approx(angle)
    s, d = ufloat(apart, 2.0), ufloat(distance, 2.0)
    by_package = umath.degrees(umath.atan(s / (2 * d)) / 2)
    expected = math.hypot(by_package.std_dev, EDGE_SCATTER_DEG)
    assert found.standard_uncertainty == pytest.approx(expected)


@given(st.floats(9, 25), st.floats(0.1, 0.8), st.floats(0.3, 0.7))
def test_bevels_tell_the_angle_however_they_are_divided(
    angle: float, behind: float, share: float
) -> None:
    both = behind / math.sin(math.radians(angle))
    right, left = share * both, (1 - share) * both
    found = bevel_angle(behind, right, left)
    assert found.mean == pytest.approx(angle)
    package = umath.degrees(
        umath.asin(ufloat(behind, 0.02) / (ufloat(right, 0.1) + ufloat(left, 0.1)))
    )
    assert found.standard_uncertainty == pytest.approx(math.hypot(package.std_dev, 0.5))


def test_a_scale_tells_force_in_steps_of_a_slow_display() -> None:
    found = force_on_scale(200)
    assert found.mean == pytest.approx(0.2 * 9.80665)
    assert found.standard_uncertainty / found.mean == pytest.approx(math.hypot(0.05, 5 / 200))


@pytest.mark.parametrize("key", sorted(PLAIN_METHODS))
def test_every_method_has_its_steps_its_caution_and_a_quantity(key: str) -> None:
    method = PLAIN_METHODS[key]
    assert method.quantity in QUANTITIES
    assert len(method.steps) >= 2
    assert method.caution
    with pytest.raises(InvalidValue, match="nothing"):
        by_plain_method(key, {})


def test_what_cannot_be_is_refused_by_name() -> None:
    with pytest.raises(InvalidValue, match="from the edge to the wall"):
        by_plain_method("laser", {"distance": 5, "apart": 100})
    with pytest.raises(InvalidValue, match="wider than the edge is thick"):
        by_plain_method("bevels", {"behind_edge": 1.5, "right": 0.5, "left": 0.5})
    with pytest.raises(InvalidValue, match="edge angle"):
        by_plain_method("laser", {"distance": 3000, "apart": 5})

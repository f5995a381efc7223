"""Cutting force against the published slicing equation and worked examples."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import quad
from shapely import Polygon
from shapely.affinity import scale

from maple_rook.core.cutting.force import (
    FOODS,
    STROKES,
    blunting_factor,
    cutting_force_n,
    ease_index,
    fracture_force_n,
    peak_forces_n,
    reference_section,
    slicing_factors,
    wedge_force_n,
)
from maple_rook.core.geometry.edge import AsymmetrySchool, angle_from_bevel_deg, bevels
from maple_rook.core.geometry.section import Section, flat_section, polygon

# Atkins, Xu and Jeronimidis 2004, J. Materials Science 39, 2761: down 1/(1+xi^2), along
# xi/(1+xi^2) of R w.
SLICING = {0: (1, 0), 1: (1 / 2, 1 / 2), 2: (1 / 5, 2 / 5), 3: (1 / 10, 3 / 10)}

# Worked examples of the model: symmetric flat grind, straight push, edge radius 1 um.
# (spine, height, behind the edge, angle per side): force in N by food.
EXAMPLES = [
    ((1.9, 46, 0.15, 12), {"onion": 20.6, "carrot": 20.0, "squash": 138}),
    ((2.2, 45, 0.30, 15), {"onion": 21.3, "carrot": 22.4, "squash": 154}),
    ((3.2, 46, 0.50, 20), {"onion": 23.8, "carrot": 27.8, "squash": 207}),
]


@pytest.mark.parametrize(("xi", "shares"), SLICING.items())
def test_slicing_shares_of_the_fracture_force(xi: int, shares: tuple[float, float]) -> None:
    down, along = slicing_factors(xi)
    assert (float(down), float(along)) == pytest.approx(shares)


@pytest.mark.parametrize(("blade", "forces"), EXAMPLES)
def test_worked_examples_of_the_push_cut(
    blade: tuple[float, float, float, float], forces: dict[str, float]
) -> None:
    section = flat_section(*blade)
    for food, force in forces.items():
        assert float(cutting_force_n(section, FOODS[food], 1.0)) == pytest.approx(force, rel=0.005)


def test_the_all_round_blade_needs_5_6_n_on_onion_at_a_long_draw() -> None:
    """Worked example of the model, xi = 2."""
    force = cutting_force_n(reference_section(), FOODS["onion"], 1.0, 2.0)
    assert float(force) == pytest.approx(5.6, abs=0.05)


def test_a_kitchen_dull_edge_needs_109_n_on_tomato() -> None:
    """Worked example of the model, edge radius 10 um."""
    force = cutting_force_n(reference_section(), FOODS["tomato"], 10.0)
    assert float(force) == pytest.approx(109, abs=0.5)


def test_fracture_of_a_slice_is_toughness_times_width() -> None:
    """Mechanics: 250 J/m2 over 60 mm is 15 N for an infinitely keen edge."""
    assert float(fracture_force_n(FOODS["onion"], 0.0, 0.0)) == pytest.approx(15.0)


def test_blunting_grows_with_radius_over_the_foods_own_length() -> None:
    """Assumption of the model: 1 + r / r_f."""
    assert float(blunting_factor(3.0, 3.0)) == 2.0


@pytest.mark.parametrize("food", FOODS.values(), ids=lambda f: f.key)
@pytest.mark.parametrize("xi", [0.0, 1.0, 2.0])
@pytest.mark.parametrize("share", [0.5, 0.7])
def test_wedging_agrees_with_numerical_integration(food, xi, share) -> None:  # type: ignore[no-untyped-def]
    """Independent quadrature of w k x (sin a + mu / sqrt(1 + xi^2) cos a) over both faces."""
    section = flat_section(2.6, 47, 0.35, 16, share)
    depth = min(food.height_mm, 47)
    total = 0.0
    for face in (section.right, section.left):
        knee = float(face.pieces[0].z1)

        def pressure(z: float, face=face) -> float:  # type: ignore[no-untyped-def]
            step = 1e-6
            slope = float(face.half_thickness_mm(z + step) - face.half_thickness_mm(z)) / step
            angle = np.arctan(slope)
            drag = food.friction / np.sqrt(1 + xi**2)
            return float(face.half_thickness_mm(z)) * (np.sin(angle) + drag * np.cos(angle))

        total += quad(pressure, 0, knee)[0] + quad(pressure, knee, depth)[0]
    expected = food.width_mm * food.stiffness_n_mm3 * total
    assert float(wedge_force_n(section, food, depth, xi)) == pytest.approx(expected, rel=1e-4)


def test_the_peak_is_the_force_through_the_whole_food() -> None:
    section = reference_section()
    foods, strokes = list(FOODS.values()), list(STROKES.values())
    peaks = peak_forces_n(section, foods, strokes, 0.75)
    for i, food in enumerate(foods):
        for j, stroke in enumerate(strokes):
            depth = np.linspace(0, food.height_mm, 200)
            along = cutting_force_n(section, food, 0.75, stroke.slice_push_ratio, depth)
            assert float(peaks[i, j]) == pytest.approx(float(along.max()))


def test_the_reference_blade_has_ease_100() -> None:
    forces = peak_forces_n(reference_section(), list(FOODS.values()), [STROKES["push"]], 1.0)
    assert float(ease_index(forces, forces)[0]) == pytest.approx(100)


def test_bevels_of_a_70_30_edge_by_the_width_school() -> None:
    """Worked example: T 0.30 mm, 15 per side gives 0.811 and 0.348 mm, apex 0.060 mm off."""
    edge = bevels(0.30, 15, 0.70)
    assert float(edge.width_right_mm) == pytest.approx(0.811, abs=5e-4)
    assert float(edge.width_left_mm) == pytest.approx(0.348, abs=5e-4)
    assert abs(float(edge.apex_offset_mm)) == pytest.approx(0.060, abs=5e-4)
    assert abs(float(edge.apex_offset_mm)) == pytest.approx(0.20 * 0.30)


def test_the_angle_school_divides_the_inclusive_angle() -> None:
    """Geometry: 30 inclusive at 70:30 is 21 and 9 degrees, both bevels equally tall."""
    edge = bevels(0.30, 15, 0.70, AsymmetrySchool.ANGLE)
    assert float(edge.angle_right_deg) == pytest.approx(21)
    assert float(edge.angle_left_deg) == pytest.approx(9)
    heights = edge.shoulder_height_right_mm, edge.shoulder_height_left_mm
    assert float(heights[0]) == pytest.approx(float(heights[1]))
    assert float(edge.shoulder_right_mm + edge.shoulder_left_mm) == pytest.approx(0.30)


def test_two_of_thickness_width_and_angle_give_the_third() -> None:
    edge = bevels(0.30, 15, 0.5)
    angle = angle_from_bevel_deg(edge.shoulder_right_mm, edge.width_right_mm)
    assert float(angle) == pytest.approx(15)


def _shape(section: Section) -> Polygon:
    return Polygon(polygon(section))


@pytest.mark.parametrize("share", [0.0, 0.3, 0.5, 0.7, 0.85, 1.0])
def test_sections_are_valid_polygons(share: float) -> None:
    """Checked with shapely."""
    shape = _shape(flat_section(2.2, 45, 0.30, 15, share))
    assert shape.is_valid
    assert shape.bounds[3] == pytest.approx(45)


def test_section_area_agrees_with_shapely_and_the_trapezia() -> None:
    section = flat_section(2.2, 45, 0.30, 15)
    knee = float(section.right.pieces[0].z1)
    by_hand = 0.5 * 0.30 * knee + 0.5 * (0.30 + 2.2) * (45 - knee)
    assert _shape(section).area == pytest.approx(by_hand)


def test_a_mirrored_edge_is_the_mirrored_section() -> None:
    right = _shape(flat_section(2.2, 45, 0.30, 15, 0.7))
    left = _shape(flat_section(2.2, 45, 0.30, 15, 0.3))
    mirrored = scale(left, xfact=-1, origin=(0, 0))
    assert right.symmetric_difference(mirrored).area == pytest.approx(0, abs=1e-9)

"""Cutting force against the published slicing equation, quadrature and worked examples."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
from scipy.integrate import quad
from shapely import Polygon
from shapely.affinity import scale

from maple_rook.core.cutting.foods import FOODS, STROKES, Food, stroke_of
from maple_rook.core.cutting.force import (
    APEX_UM,
    BITE_MM,
    Parts,
    cut,
    ease_index,
    forces_n,
    parts_n,
    reference_section,
    side_force_n,
    slicing_factors,
    work_j,
)
from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.geometry.edge import AsymmetrySchool, angle_from_bevel_deg, bevels
from maple_rook.core.geometry.section import Section, flat_section, polygon, section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.prediction.evaluate import reference_forces, reference_sections

# Atkins, Xu and Jeronimidis 2004, J. Materials Science 39, 2761: down 1/(1+xi^2), along
# xi/(1+xi^2) of R w.
SLICING = {0: (1, 0), 1: (1 / 2, 1 / 2), 2: (1 / 5, 2 / 5), 3: (1 / 10, 3 / 10)}
FIRST, THIN, THICK = (2.2, 45, 0.30, 15), (1.9, 46, 0.15, 12), (3.2, 46, 0.50, 20)
"""Spine, height, behind the edge, angle per side."""

# Worked examples of the model, N, in the order of FOODS: tomato, onion, carrot, squash, fish,
# cheese; edge radius 0.75 um and straight through the food where nothing else is said.
WORKED: dict[str, tuple[Section, dict[str, float], list[float]]] = {
    "first": (flat_section(*FIRST), {}, [11.0, 25.5, 30.3, 90.8, 13.7, 28.2]),
    "thin": (flat_section(*THIN), {}, [9.5, 21.8, 24.2, 76.3, 12.9, 26.0]),
    "thick": (flat_section(*THICK), {}, [13.9, 32.3, 41.9, 120.9, 15.3, 32.6]),
    "bite": (flat_section(*FIRST), {"depth": BITE_MM}, [8.8, 21.2, 18.8, 49.7, 10.7, 5.2]),
    "dull": (flat_section(*FIRST), {"radius": 7.5}, [27.2, 38.7, 35.8, 107.6, 27.2, 29.0]),
    "sliced": (flat_section(*FIRST), {"ratio": 2.0}, [3.03, 7.10, 10.3, 31.4, 3.63, 12.1]),
    "a slice": (
        flat_section(*FIRST),
        {"ratio": 3.0, "slice": 1.0},
        [1.48, 3.48, 4.19, 13.8, 1.91, 7.74],
    ),
}


def parts(made: Section, food: Food, how: dict[str, float] | None = None) -> Parts:
    how = how or {}
    return parts_n(
        made,
        food,
        how.get("radius", 0.75),
        how.get("ratio", 0.0),
        how.get("depth"),
        side_stiffness=food.slice_stiffness if "slice" in how else 1.0,
    )


@pytest.mark.parametrize(("xi", "shares"), SLICING.items())
def test_slicing_shares_of_the_fracture_force(xi: int, shares: tuple[float, float]) -> None:
    down, along = slicing_factors(xi)
    assert (float(down), float(along)) == pytest.approx(shares)


@pytest.mark.parametrize("name", WORKED)
def test_worked_examples_of_a_cut(name: str) -> None:
    """To the digits that the examples have: a unit of the last one."""
    made, how, forces = WORKED[name]
    for food, force in zip(FOODS.values(), forces, strict=True):
        last = 0.01 if force < 10 and name in ("sliced", "a slice") else 0.1
        assert float(parts(made, food, how).total) == pytest.approx(force, abs=last)


@pytest.mark.parametrize(
    ("food", "parting", "opening", "wedging", "sticking"),
    [
        ("tomato", 7.42, 1.34, 1.15, 1.08),
        ("carrot", 11.51, 6.81, 11.16, 0.78),
        ("cheese", 1.45, 2.28, 5.23, 19.2),
    ],
)
def test_worked_examples_of_the_parts(
    food: str, parting: float, opening: float, wedging: float, sticking: float
) -> None:
    """Opening and wedging with their friction; of one food without, mu = 0 tells them apart."""
    found = parts(flat_section(*FIRST), FOODS[food])
    assert float(found.parting) == pytest.approx(parting, abs=0.01)
    assert float(found.sticking) == pytest.approx(sticking, abs=0.02)
    both = float(found.opening + found.wedging + found.friction)
    assert both == pytest.approx(opening + wedging, abs=0.02)


def test_the_bite_at_20_degrees_over_that_at_10() -> None:
    """Worked examples: tomato 1.44, onion 1.26, carrot 1.25, fish 1.21."""
    keen, blunt = (flat_section(2.2, 45, 0.30, angle) for angle in (10, 20))
    for food, ratio in (("tomato", 1.44), ("onion", 1.26), ("carrot", 1.25), ("fish", 1.21)):
        of = [float(parts(s, FOODS[food], {"depth": BITE_MM}).total) for s in (keen, blunt)]
        assert of[1] / of[0] == pytest.approx(ratio, abs=0.01)


def test_the_tip_by_hand() -> None:
    """40 J/m2 over 60 mm is 2.4 N; 0.75 um and 5 um x tan 15 over 1 um make it 3.09 times."""
    found = parts(flat_section(*FIRST), FOODS["tomato"])
    by_hand = 2.4 * (1 + 0.75 + APEX_UM * np.tan(np.radians(15)))
    assert float(found.parting) == pytest.approx(by_hand)


def test_a_plain_wedge_is_the_closed_form() -> None:
    """x = z tan a: 2 w lam p (1 - exp(-d/lam)) sin a beside the edge, k w d^2 tan a sin a above."""
    food, height = FOODS["carrot"], 30.0
    made = flat_section(2 * height * np.tan(np.radians(4)), height, 0.3, 4.0)
    angle, pressed = np.radians(4), food.modulus_mpa * np.tan(np.radians(4))
    found = parts(made, food)
    fades = food.crush_mm * (1 - np.exp(-food.height_mm / food.crush_mm))
    assert float(found.opening) == pytest.approx(
        2 * food.width_mm * pressed * fades * np.sin(angle), rel=1e-6
    )
    wedge = food.stiffness_n_mm3 * food.width_mm * food.height_mm**2 * np.tan(angle)
    assert float(found.wedging) == pytest.approx(wedge * np.sin(angle), rel=1e-6)


@pytest.mark.parametrize("grind", Grind)
@pytest.mark.parametrize("xi", [0.0, 2.0])
def test_every_family_agrees_with_numerical_integration(grind: Grind, xi: float) -> None:
    """Independent quadrature of (p_e + p_b)(sin a + mu' cos a) over both faces, and sideways."""
    made, food = section(grind, 2.4, 46.0, 0.3, 12.0, 0.7), FOODS["carrot"]
    spread = np.sqrt(1 + xi**2)
    drag, total, side = food.friction / spread, 0.0, 0.0
    for sign, face in ((1, made.right), (-1, made.left)):
        pieces = (*made.right.pieces, *made.left.pieces)
        knees = {float(p.z1) for p in pieces if 0 < float(p.z1) < food.height_mm}
        ends = [0.0, *sorted(knees), food.height_mm]

        def pressed(z: float, what: str, face=face) -> float:  # type: ignore[no-untyped-def]
            step = 1e-5
            rise = float(face.half_thickness_mm(z + step) - face.half_thickness_mm(z - step))
            slope = rise / (2 * step)
            angle = np.arctan(slope)
            crush = min(food.crush_mpa, max(food.modulus_mpa * slope / spread, 0.0))
            edge = crush * np.exp(-z / food.crush_mm)
            if what == "side":
                return float(edge * (np.cos(angle) - food.friction * np.sin(angle)))
            bulk = food.stiffness_n_mm3 * float(made.thickness_mm(z)) / 2
            return float((edge + bulk) * (np.sin(angle) + drag * np.cos(angle)))

        for low, high in itertools.pairwise(ends):
            inside = (low + 1e-4, high - 1e-4)
            total += quad(pressed, *inside, args=("down",), limit=200)[0]
            side += sign * quad(pressed, *inside, args=("side",), limit=200)[0]
    found = parts(made, food, {"ratio": xi})
    down = float(found.opening + found.wedging + found.friction)
    assert down == pytest.approx(food.width_mm * total, rel=3e-3)
    if not xi:
        assert float(side_force_n(made, food)) == pytest.approx(food.width_mm * side, rel=5e-3)


def test_steering_of_a_single_bevel_and_of_70_30() -> None:
    """Common practice: it wanders, it does not shove; about 10 to 12 N and about 3 N in carrot."""
    single = section(Grind.SINGLE_BEVEL, 3.6, 34, 0.0, 11.0, 1.0)
    assert 10 <= float(side_force_n(single, FOODS["carrot"])) <= 12
    uneven = flat_section(2.24, 46, 0.24, 15, 0.7)
    assert float(side_force_n(uneven, FOODS["carrot"])) == pytest.approx(3, abs=0.3)


def test_a_long_draw_is_as_long_as_the_edge_allows() -> None:
    """xi = (0.9 L - w) / H, from 0 to 6."""
    draw, fish = STROKES["draw"], FOODS["fish"]
    assert float(draw.slice_push_ratio(fish, 270.0)) == pytest.approx((243 - 60) / 35)
    assert [float(draw.slice_push_ratio(fish, length)) for length in (60, 400)] == [0, 6]


def test_the_work_is_the_integral_of_the_force() -> None:
    food, made = FOODS["squash"], flat_section(*FIRST)
    by_quad = quad(lambda d: float(parts(made, food, {"depth": d}).total), 0, food.height_mm)[0]
    assert float(work_j(made, food, 0.75)) == pytest.approx(by_quad / 1000, rel=2e-3)
    through = cut(made, food, 0.75, 0.0, points=200)
    assert float(through.work_j) == pytest.approx(by_quad / 1000, rel=2e-3)
    assert float(through.peak_n) == pytest.approx(float(parts(made, food).total))
    assert float(through.bite_n) == pytest.approx(float(parts(made, food, {"depth": 3.0}).total))


@pytest.mark.parametrize("mix", FoodMix)
def test_the_reference_blade_has_ease_100_for_every_job(mix: FoodMix) -> None:
    foods, stroke = tuple(FOODS.values()), stroke_of(mix)
    (again,) = forces_n(reference_sections(), foods, [stroke], [0.75], 210.0)
    efforts = reference_forces(foods, stroke).effort
    assert float(ease_index(again.effort, efforts)[0]) == pytest.approx(100)
    if stroke.key == "push":  # a tomato of 50 mm takes more than one pass of a blade 45 mm high
        assert again.passes[:, 0].tolist() == pytest.approx([50 / 45, 1, 1, 1, 1, 1], rel=0.02)
    elif stroke.in_hand:  # a blade of 210 mm, 45 mm high, is in the way: by hand
        by_hand = (210 / 90 * float(np.max(reference_sections().height_mm)) / 25) ** 0.5
        assert again.passes[:, 0].tolist() == [pytest.approx(by_hand)] * 6
        assert again.effort.tolist() == (again.bite * again.passes).tolist()
    else:
        assert set(again.passes[:, 0].tolist()) == {1.0}


def test_the_reference_at_the_heel_is_the_first_section() -> None:
    heel, first = reference_section(), flat_section(*FIRST)
    assert float(heel.thickness_mm(20.0)) == float(first.thickness_mm(20.0))


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

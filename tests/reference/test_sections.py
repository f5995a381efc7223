"""Sections of every grind family against shapely, closed forms and independent integration."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.interpolate import PchipInterpolator
from shapely import Polygon
from shapely.affinity import scale

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.cutting.force import parts_n, side_force_n
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.face import curvature_per_mm, sagitta_mm
from maple_rook.core.geometry.section import Section, check_section, polygon, section
from maple_rook.core.geometry.solid import (
    PINCH_MM,
    STATION_SHARES,
    YOUNG_MPA,
    Solid,
    in_the_hand,
    thickness_along_mm,
    tip_deflection_mm,
)
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.hardness_session import (
    INDENT_HEIGHT,
    Hardened,
    Indent,
    hardened,
    place_warnings,
)
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built, spots

DOUBLE = [g for g in Grind if not GRINDS[g].single_bevel]
SINGLE = [g for g in Grind if GRINDS[g].single_bevel]


def usual(grind: Grind, share: float = 0.7, **changes: float) -> Section:
    """An ordinary section of the family, right-handed and uneven."""
    angle = 12.0 if GRINDS[grind].single_bevel else 15.0
    spine = 3.4 if GRINDS[grind].single_bevel else 2.2
    return section(grind, spine, 45.0, 0.3, angle, share, hollow_depth_mm=0.2, **changes)


def moment_by_corners(shape: Polygon) -> float:
    """Second moment about the upright axis through the centroid, from a polygon's corners.

    The usual corner sums (Green's theorem), written apart from the code they check.
    """
    x, y = np.asarray(shape.exterior.coords).T
    cross = x[:-1] * y[1:] - x[1:] * y[:-1]
    area = cross.sum() / 2
    about_axis = (cross * (x[:-1] ** 2 + x[:-1] * x[1:] + x[1:] ** 2)).sum() / 12
    return float(abs(about_axis - area * shape.centroid.x**2))


@pytest.mark.parametrize("grind", Grind)
@pytest.mark.parametrize("steeper", [None, 17.0])
def test_area_and_second_moment_of_every_family(grind: Grind, steeper: float | None) -> None:
    """Checked with shapely: validity, area, and the moment from the polygon's own corners."""
    made = usual(grind, steeper_deg=steeper)
    shape = Polygon(polygon(made))
    assert shape.is_valid
    assert float(made.area_mm2) == pytest.approx(shape.area, rel=1e-3)
    assert float(made.second_moment_mm4) == pytest.approx(moment_by_corners(shape), rel=2e-3)
    assert shape.bounds[3] == pytest.approx(45.0)
    assert float(made.thickness_mm(45.0)) == pytest.approx(
        3.4 if GRINDS[grind].single_bevel else 2.2
    )


def test_ten_thousand_random_knives_have_valid_sections() -> None:
    """Checked with shapely; random within what the checks let through."""
    rng = np.random.default_rng(20)
    grinds, made = list(Grind), 0
    while made < 10_000:
        grind = grinds[made % len(grinds)]
        spine, height = rng.uniform(1, 9), rng.uniform(16, 140)
        behind = rng.uniform(0.04, min(1.6, 0.8 * spine))
        angle, hollow = rng.uniform(8, 28), rng.uniform(0, 1.0)
        steeper = angle + rng.uniform(0.5, 8) if rng.random() < 0.4 else None
        figures = {
            "spine_heel": spine,
            "height_heel": height,
            "edge_angle": angle,
            "thickness_behind_edge": behind,
            "hollow_depth": hollow,
        }
        try:
            check_section(figures, grind)
        except InvalidValue:
            continue
        one = section(
            grind,
            spine,
            height,
            behind,
            angle,
            rng.choice([0, 0.15, 0.3, 0.5, 0.85, 1]),
            steeper_deg=steeper,
            hollow_depth_mm=hollow,
            bulge=rng.normal(0, 0.4),
            grind_line=rng.uniform(0.3, 0.95),
        )
        shape = Polygon(polygon(one))
        assert shape.is_valid, (grind, figures)
        assert one.thickness_mm(np.linspace(0, height, 40)).min() > -1e-9, (grind, figures)
        made += 1


def test_closed_forms_of_triangle_and_rectangle() -> None:
    """Mechanics: I = h t^3 / 48 of a wedge standing on its point, h t^3 / 12 of a flat bar."""
    wedge = section(Grind.FULL_FLAT, 2.0, 45.0, 1e-6, 15.0)
    assert float(wedge.second_moment_mm4) == pytest.approx(7.5, rel=1e-4)
    bar = section(Grind.FULL_FLAT, 2.0, 45.0, 2.0, 45.0)
    assert float(bar.second_moment_mm4) == pytest.approx(45 * 8 / 12, rel=0.03)
    assert float(bar.area_mm2) == pytest.approx(45 * 2 - 1.0, rel=1e-9)  # less the bevels' corners


@pytest.mark.parametrize(("radius", "chord"), [(100.0, 20.0), (500.0, 40.0), (150.0, 60.0)])
def test_a_hollow_is_the_circle_of_its_wheel(radius: float, chord: float) -> None:
    """Geometry: sagitta R - sqrt(R^2 - c^2/4); three points of the arc lie on one circle."""
    depth = float(sagitta_mm(radius, chord))
    assert depth == pytest.approx(radius - np.sqrt(radius**2 - chord**2 / 4))
    assert 1 / float(curvature_per_mm(depth, chord)) == pytest.approx(radius)
    one = section(Grind.DEEP_CONCAVE, 4.0, 45.0, 0.3, 15.0, bulge=-0.3)
    face = one.lower_faces[0]
    u = np.array([0.2, 0.5, 0.8]) * float(face.length)
    off_chord = face.x_mm(u) - (face.x0 + face.slope * u)
    centre = 1 / float(face.curvature or 0.0)
    from_centre = np.hypot(u - float(face.length) / 2, off_chord - off_chord[1] + centre)
    assert from_centre == pytest.approx(abs(centre))


@pytest.mark.parametrize("grind", DOUBLE)
def test_the_mirrored_knife_cuts_alike_and_steers_the_other_way(grind: Grind) -> None:
    food = FOODS["carrot"]
    right, left = usual(grind, 0.7), usual(grind, 0.3)
    mirrored = scale(Polygon(polygon(left)), xfact=-1, origin=(0, 0))
    assert Polygon(polygon(right)).symmetric_difference(mirrored).area == pytest.approx(0, abs=1e-4)
    down = [float(parts_n(s, food, 1.0).total) for s in (right, left)]
    across = [float(side_force_n(s, food)) for s in (right, left)]
    assert down[0] == pytest.approx(down[1])
    assert across[0] == pytest.approx(-across[1])
    assert across[0] > 0, "the wider bevel on the right pushes the blade left (common practice)"


def test_a_single_bevel_of_the_other_hand_is_its_mirror() -> None:
    for grind in SINGLE:
        right, left = usual(grind, 0.9), usual(grind, 0.1)
        mirrored = scale(Polygon(polygon(left)), xfact=-1, origin=(0, 0))
        apart = Polygon(polygon(right)).symmetric_difference(mirrored).area
        assert apart == pytest.approx(0, abs=1e-6)


def test_the_spine_between_its_stations_is_scipys_monotone_curve() -> None:
    """Fritsch and Butland 1984, as in scipy's PchipInterpolator."""
    rng = np.random.default_rng(7)
    for _ in range(200):
        length, spine = rng.uniform(60, 350), rng.uniform(0.3, 8, 3)
        share = np.linspace(0, (length - 10) / length, 40)
        expected = PchipInterpolator([0, length / 2, length - 10], spine)(share * length)
        assert thickness_along_mm(share, length, *spine) == pytest.approx(expected)


def test_the_flex_of_a_uniform_wedge_is_the_closed_form() -> None:
    """Closed form F L^3 / (3 E I): 45 x 2.0 mm wedge, 200 mm, 10 N gives 17.34 mm."""
    weights = np.polynomial.legendre.leggauss(len(STATION_SHARES))[1] / 2
    found = tip_deflection_mm(STATION_SHARES, weights, np.full(len(STATION_SHARES), 7.5), 200.0)
    assert float(found) == pytest.approx(17.34, abs=0.005)
    assert float(found) == pytest.approx(10 * 200**3 / (3 * YOUNG_MPA * 7.5))


def test_the_flex_of_a_tapered_blade_agrees_with_the_beam_equation() -> None:
    """y'' = M / (E I) integrated step by step (scipy), clamped at the heel."""
    figures = {
        "edge_length": 210.0,
        "spine_heel": 2.6,
        "spine_mid": 2.0,
        "spine_tip": 0.9,
        "height_heel": 46.0,
        "thickness_behind_edge": 0.25,
        "edge_angle": 15.0,
    }
    blade = Blade({k: Figure(v, 0.0) for k, v in figures.items()}, knife_type="nakiri")
    made = built(blade)
    assert made is not None

    def slope(x: float, y: np.ndarray) -> list[float]:
        moment = 10.0 * (210.0 - x)
        stiffness = YOUNG_MPA * float(made.section_at(min(x / 210.0, 1.0)).second_moment_mm4)
        return [y[1], moment / stiffness]

    solved = solve_ivp(slope, (0.0, 210.0), [0.0, 0.0], max_step=2.0)
    assert float(made.solid.tip_deflection_mm.item()) == pytest.approx(solved.y[0, -1], rel=0.01)


def test_mass_balance_and_swing_of_a_bar_are_the_closed_forms() -> None:
    """Mechanics: a bar of 200 x 45 x 2 mm of 7.75 g/cm3, a rod of 100 mm as handle."""
    bar = section(Grind.FULL_FLAT, np.full(10, 2.0), np.full(10, 45.0), 1.9999, 44.9)
    solid = Solid(bar, np.asarray(200.0), 7.75)
    blade_g = 200 * float(bar.area_mm2[0]) * 7.75 / 1000
    mass, centre, _ = solid.mass_and_balance()
    assert float(mass) == pytest.approx(blade_g)
    assert float(centre) == pytest.approx(100.0)
    hand = in_the_hand(solid, blade_g + 80.0, np.nan, 100.0)
    middle = -54.0
    balance = (blade_g * 100 + 80 * middle) / (blade_g + 80)
    assert float(hand.handle_side_g) == pytest.approx(80.0)
    assert float(hand.balance_mm) == pytest.approx(balance)
    weight_n = (blade_g + 80) / 1000 * 9.80665
    assert float(hand.static_moment_n_mm) == pytest.approx(weight_n * (balance - PINCH_MM))
    swing = blade_g * ((200**2 + 45**2) / 12 + (100 - PINCH_MM) ** 2)
    swing += 80 * (100**2 / 12 + (middle - PINCH_MM) ** 2)
    assert float(hand.swing_kg_cm2) == pytest.approx(swing / 1e5, rel=1e-4)


def test_a_hollow_blade_is_too_thin_for_the_cone_where_a_flat_one_is_not() -> None:
    """ISO 6508-1: 60 HRC wants 0.80 mm under the cone; the section says what is there."""
    figures = {
        "spine_heel": 2.2,
        "height_heel": 45.0,
        "thickness_behind_edge": 0.3,
        "edge_angle": 15.0,
        "edge_length": 210.0,
        "hardness": 60.0,
    }
    known = {k: Figure(v, 0.01, n=3) for k, v in figures.items()}
    known[INDENT_HEIGHT] = Figure(16.0, 0.0)
    flat, hollow = (spots(Blade(known, grind=g)) for g in (Grind.FULL_FLAT, Grind.DEEP_CONCAVE))
    there = [spot(16.0, 40.0) for spot in (flat, hollow)]
    assert there[0] is not None
    assert there[1] is not None
    assert there[0] > 0.80 > there[1]
    assert flat(60.0, 40.0) is None, "above the spine"
    indents = [Indent(60.0, 16.0, 40.0)]
    assert place_warnings(indents, known, flat) == []
    (warning,) = place_warnings(indents, known, hollow)
    assert "wants 0.80 mm" in warning
    assert hardened(known, flat).verdict is Hardened.HARDENED
    assert hardened(known, hollow).verdict is Hardened.CANNOT_BE_SAID

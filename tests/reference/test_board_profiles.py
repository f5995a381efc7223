"""The edge on the board against analytic curves: line, circle arc, parabola."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.spatial import ConvexHull

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.profile import (
    CHOPPING_GAP_MM,
    FLAT_GAP_MM,
    ROCKER_ROCK_DEG,
    ROCKER_SHARE,
    ROCKS_SHARE,
    EdgeCurve,
    ProfileClass,
    Rocking,
    butt_rise_mm,
    from_points,
    from_stations,
    knuckle_room_mm,
    lower_hull,
    motion_of,
    on_board,
)

LENGTH = 210.0


def arc(radius: float, touching: float, points: int = 400) -> EdgeCurve:
    """A circle arc that touches the board at a distance from the heel."""
    x = np.linspace(0, LENGTH, points)
    return EdgeCurve(x, radius - np.sqrt(radius**2 - (x - touching) ** 2))


def flat_then_parabola(flat: float, a: float, points: int = 400) -> EdgeCurve:
    """Flat from the heel, then y = a (x - flat)^2."""
    x = np.linspace(0, LENGTH, points)
    return EdgeCurve(x, a * np.clip(x - flat, 0, None) ** 2)


def test_a_straight_edge_rests_all_along_and_cannot_rock() -> None:
    found = on_board(EdgeCurve(np.array([0.0, LENGTH]), np.zeros(2)))
    assert found.resting == (0.0, LENGTH)
    assert found.flat_length_mm == found.chopping_length_mm == LENGTH
    assert found.rock_deg == 0.0
    assert found.tip_height_mm == 0.0
    assert found.belly_radius_mm is None
    assert found.kind is ProfileClass.CHOPPER


@pytest.mark.parametrize("radius", [400.0, 900.0, 2500.0])
def test_a_circle_arc_is_flat_over_its_chord_and_rocks_to_its_tangent(radius: float) -> None:
    """Closed forms: chord 2 sqrt(2 R g - g^2) under a gap g, tangent asin((L - x0) / R)."""
    found = on_board(arc(radius, 105.0))
    for length, gap in (
        (found.flat_length_mm, FLAT_GAP_MM),
        (found.chopping_length_mm, CHOPPING_GAP_MM),
    ):
        assert length == pytest.approx(
            min(2 * np.sqrt(2 * radius * gap - gap**2), LENGTH), rel=2e-3
        )
    assert found.rock_deg == pytest.approx(np.degrees(np.arcsin(105.0 / radius)), rel=5e-3)
    rise = radius - np.sqrt(radius**2 - 105.0**2)
    assert found.tip_height_mm == pytest.approx(rise, abs=1e-3)
    if found.belly_radius_mm is not None:
        assert found.belly_radius_mm == pytest.approx(radius, rel=1e-3)
    for raised in (2.0, 5.0):
        if raised < found.rock_deg:
            contact = 105.0 + radius * np.sin(np.radians(raised))
            step = found.rock_deg / 60
            slack = radius * np.radians(step) + 0.5
            assert found.contact_mm(raised)[0] == pytest.approx(contact, abs=slack)


def test_a_flat_edge_with_a_parabolic_belly() -> None:
    """Closed forms: flat + sqrt(g / a); the tip digs in at atan(2 a (L - flat))."""
    found = on_board(flat_then_parabola(110.0, 0.0016))
    assert found.flat_length_mm == pytest.approx(110 + np.sqrt(FLAT_GAP_MM / 0.0016), rel=2e-3)
    assert found.chopping_length_mm == pytest.approx(110 + np.sqrt(1 / 0.0016), rel=2e-3)
    assert found.rock_deg == pytest.approx(np.degrees(np.arctan(0.0032 * 100)), rel=5e-3)
    assert found.tip_height_mm == pytest.approx(16.0)
    assert found.resting[0] == 0.0
    assert found.resting[1] == pytest.approx(110, abs=1)
    assert found.hollow is None
    assert found.hump_mm is None


MESH_SHARE = 0.035
"""Share of the edge by which a mesh of 40 points, 5 mm apart, may move where it touches."""


@given(st.integers(40, 500), st.floats(0.2, 1.0), st.floats(80, 140), st.floats(0.0008, 0.003))
def test_flat_length_and_rock_do_not_depend_on_the_mesh(
    points: int, step: float, flat: float, a: float
) -> None:
    coarse = on_board(flat_then_parabola(flat, a, points), step)
    fine = on_board(flat_then_parabola(flat, a, 2000), 0.05)
    assert coarse.flat_length_mm == pytest.approx(fine.flat_length_mm, abs=1.5)
    assert coarse.chopping_length_mm == pytest.approx(fine.chopping_length_mm, abs=1.5)
    assert coarse.rock_deg == pytest.approx(fine.rock_deg, abs=0.4)
    assert coarse.rocking_share == pytest.approx(fine.rocking_share, abs=MESH_SHARE)
    near_a_limit = (
        abs(fine.rocking_share - ROCKS_SHARE) < MESH_SHARE
        or abs(fine.chopping_length_mm / fine.length_mm - ROCKER_SHARE) < MESH_SHARE
        or abs(fine.rock_deg - ROCKER_ROCK_DEG) < 0.4
    )
    assert near_a_limit or coarse.kind is fine.kind


def flat_then_arc(flat_mm: float, radius: float, length_mm: float) -> EdgeCurve:
    x = np.linspace(0, length_mm, 800)
    ahead = np.clip(x - flat_mm, 0, None)
    return EdgeCurve(x, radius - np.sqrt(radius**2 - np.minimum(ahead, radius) ** 2))


@pytest.mark.parametrize(
    ("curve", "share", "rocking"),
    [
        (arc(600, 0), 0.75, Rocking.ROCKS),
        (flat_then_arc(110, 60, 165), 0.10, Rocking.NOT),
        (flat_then_arc(100, 150, 165), 0.24, Rocking.A_LITTLE),
        (flat_then_arc(165, 60, 166), 0.0, Rocking.NOT),
    ],
)
def test_an_edge_rocks_by_how_far_the_contact_runs_as_the_handle_comes_up(
    curve: EdgeCurve, share: float, rocking: Rocking
) -> None:
    """Closed form: to 15 degrees the contact runs an arc of R pi/12, from the flat's end on.

    A front corner makes no rocker of a chopper, however far up the tip stands.
    """
    found = on_board(curve)
    assert found.rocking_share == pytest.approx(share, abs=0.012)
    assert found.rocking is rocking
    assert motion_of(curve)[0] == pytest.approx(found.rocking_share, abs=0.02)


def test_a_jump_over_a_flat_is_no_rocking() -> None:
    """A bar of five straight parts of a fifth each: it falls from one to the next."""
    corners = np.linspace(0, 200, 6)
    rises = np.cumsum([0.0, *(40 * np.tan(np.radians(d)) for d in (0.0, 3.0, 6.0, 9.0, 12.0))])
    x = np.linspace(0, 200, 2001)
    found = on_board(EdgeCurve(x, np.interp(x, corners, rises)))
    assert found.rocking is Rocking.NOT


def test_the_lower_hull_is_the_general_packages() -> None:
    """Checked with scipy's ConvexHull (Qhull)."""
    rng = np.random.default_rng(3)
    for _ in range(50):
        x, y = np.sort(rng.uniform(0, 200, 60)), rng.uniform(0, 20, 60)
        whole = set(ConvexHull(np.column_stack([x, y])).vertices.tolist())
        chord = y[0] + (y[-1] - y[0]) * (x - x[0]) / (x[-1] - x[0])
        below = {i for i in whole if y[i] <= chord[i] + 1e-12}
        assert set(lower_hull(x, y).tolist()) == below


def test_a_hollow_is_found_measured_and_placed() -> None:
    """Common practice: over 0.1 mm across 10 mm leaves threads."""
    x = np.linspace(0, LENGTH, 600)
    dip = 0.4 * np.exp(-(((x - 70) / 18) ** 2))
    found = on_board(EdgeCurve(x, flat_then_parabola(120, 0.0015, 600).y_mm + dip))
    assert found.hollow is not None
    assert found.hollow.gap_mm == pytest.approx(0.4, abs=0.01)
    assert found.hollow.at_mm == pytest.approx(70, abs=2)
    assert found.hollow.from_mm < 50
    assert found.hollow.to_mm > 90
    shallow = on_board(EdgeCurve(x, flat_then_parabola(120, 0.0015, 600).y_mm + dip / 5))
    assert shallow.hollow is None


def test_a_hump_between_flatter_parts_is_found() -> None:
    x = np.linspace(0, LENGTH, 600)
    proud = 0.5 * np.exp(-(((x - 70) / 10) ** 2))
    y = flat_then_parabola(120, 0.0015, 600).y_mm - proud
    found = on_board(EdgeCurve(x, y - y.min()))
    assert found.hump_mm == pytest.approx(70, abs=3)


@given(st.floats(-25, 25), st.floats(-300, 300), st.booleans())
def test_a_trace_lies_the_same_however_it_was_drawn(
    tilt: float, shift: float, backwards: bool
) -> None:
    curve = flat_then_parabola(110, 0.0016)
    turn = np.radians(tilt)
    x = curve.x_mm * np.cos(turn) - curve.y_mm * np.sin(turn) + shift
    y = curve.x_mm * np.sin(turn) + curve.y_mm * np.cos(turn) - shift
    x = -x if backwards else x
    straight, tilted = on_board(curve), on_board(from_points(np.column_stack([x, y]).tolist()))
    assert tilted.length_mm == pytest.approx(straight.length_mm, abs=1.0)
    assert tilted.flat_length_mm == pytest.approx(straight.flat_length_mm, abs=3.0)
    assert tilted.rock_deg == pytest.approx(straight.rock_deg, abs=0.5)


def test_stations_pass_through_what_was_read_and_never_overshoot() -> None:
    read = [(20.0, 0.0), (60.0, 0.0), (120.0, 0.7), (175.0, 6.2)]
    curve = from_stations(209, read, 13.6)
    for at, gap in [*read, (209.0, 13.6)]:
        assert float(curve.rise_mm(at)) == pytest.approx(gap)
    rise = curve.rise_mm(np.linspace(60, 209, 300))
    assert np.all(np.diff(rise) >= -1e-12)
    assert float(curve.rise_mm(np.linspace(0, 60, 50)).max()) == 0.0


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (lambda: from_stations(200, [(230, 1.0)], 12), "distance from the heel: 230 mm"),
        (lambda: from_stations(200, [(0, 0.5), (90, 0.4)], 12), "touches the straight edge"),
        (lambda: from_points([(0, 0), (100, 0)]), "3 to 5000 points"),
        (lambda: from_points([(0, 0), (5, 0), (9, 1)]), "at least 20 mm"),
        (lambda: from_points([(0, 0), (90, 0), (60, 3), (200, 9)]), "turns back"),
        (lambda: from_points([(0, 0), (90, float("nan")), (200, 9)]), "not a number"),
    ],
)
def test_what_is_no_edge_is_refused_in_words(make, said: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InvalidValue, match=said):
        make()


def test_the_handle_comes_up_by_its_lever() -> None:
    """Geometry: about the contact, (x_c - x) sin phi + (y - y_c)(cos phi - 1)."""
    found = on_board(flat_then_parabola(110.0, 0.0016))
    raised = butt_rise_mm(found, (-130.0, 20.0), found.rock_deg)
    phi = np.radians(found.rock_deg)
    tip = (LENGTH, found.tip_height_mm)
    above = (20.0 - tip[1]) * np.cos(phi) + (tip[0] + 130.0) * np.sin(phi)
    assert raised == pytest.approx(above - 20.0, abs=0.5)
    assert float(knuckle_room_mm(48, 24)) == 24.0
    assert float(knuckle_room_mm(48, 24, 100, 2)) == pytest.approx(24 + 100 * np.tan(np.radians(2)))

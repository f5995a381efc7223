"""The pieces under a measured photo against general packages and shapes known in closed form."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
import shapely
from scipy.special import ellipe
from skimage.transform import ProjectiveTransform
from uncertainties import ufloat, umath

from maple_rook.core.geometry.photo_blade import PhotoFigure, budget, laid_out, side_figures
from maple_rook.core.geometry.scale_card import CARDS, MARKERS
from maple_rook.photo.camera import Camera, fit_camera, flat_scale
from maple_rook.photo.tracing import evenly, outward, smoothed

SIZE = (4000, 3000)
CENTRE = ((SIZE[0] - 1) / 2, (SIZE[1] - 1) / 2)
ALL = list(CARDS["a4"].markers)


def camera(tilt_deg: float, k1: float, focal: float = 3100.0) -> Camera:
    """Over the A4 card, looking at its middle from 420 mm away."""
    turn = np.array([np.radians(tilt_deg), 0.4 * np.radians(tilt_deg), 0.03])
    rotation = cv2.Rodrigues(turn)[0]
    place = np.array([0, 0, 420.0]) - rotation @ np.array([148.5, 105.0, 0.0])
    theta = np.array([np.log(focal), k1, *turn, *place])
    return Camera(theta, np.zeros((8, 8)), CENTRE)


def corners(at: Camera) -> dict[int, np.ndarray]:
    return {m.number: at.to_pixels(m.corners) for m in ALL}


@pytest.mark.parametrize("tilt_deg", [0.0, 12.0, 25.0])
def test_points_fall_where_opencv_projects_them(tilt_deg: float) -> None:
    """cv2.projectPoints: pinhole with radial distortion (Zhang 2000)."""
    at = camera(tilt_deg, -0.04)
    chance = np.random.default_rng(3)
    flat, above = chance.uniform(0, 290, (50, 2)), chance.uniform(0, 12, 50)
    matrix = np.array([[3100.0, 0, CENTRE[0]], [0, 3100.0, CENTRE[1]], [0, 0, 1]])
    theirs, _ = cv2.projectPoints(
        np.column_stack([flat, -above]),
        at.theta[2:5],
        at.theta[5:8],
        matrix,
        np.array([-0.04, 0, 0, 0.0]),
    )
    seen = at.to_pixels(flat, above)
    assert seen == pytest.approx(theirs.reshape(-1, 2), abs=1e-6)
    assert at.to_mm(seen, above) == pytest.approx(flat, abs=1e-4)


def test_without_a_lens_the_card_is_a_homography() -> None:
    """scikit-image's ProjectiveTransform, estimated from the four outer corners alone."""
    at = camera(20.0, 0.0)
    flat = np.array([m.corners[0] for m in ALL])
    seen = at.to_pixels(flat)
    four = [0, 9, 10, 15]
    theirs = ProjectiveTransform.from_estimate(seen[four], flat[four])
    assert theirs(seen) == pytest.approx(flat, abs=1e-6)
    assert at.to_mm(seen) == pytest.approx(theirs(seen), abs=1e-4)


@pytest.mark.parametrize(("tilt_deg", "k1"), [(3.0, 0.0), (14.0, -0.05), (24.0, 0.03)])
def test_the_camera_is_found_from_the_markers(tilt_deg: float, k1: float) -> None:
    true, chance = camera(tilt_deg, k1), np.random.default_rng(9)
    noisy = {n: c + chance.normal(0, 0.15, c.shape) for n, c in corners(true).items()}
    noisy[4] = noisy[4] + np.array([25.0, -8.0])  # one marker read wrongly is overruled
    found = fit_camera(noisy, SIZE, 3100.0)
    places = np.array([(60.0, 60.0), (150.0, 105.0), (240.0, 150.0)])
    assert found.to_mm(true.to_pixels(places)) == pytest.approx(places, abs=0.06)
    above = found.to_mm(true.to_pixels(places, 8.0), 8.0)
    assert above == pytest.approx(places, abs=0.25)
    assert found.tilt_deg((148.5, 105.0)) == pytest.approx(true.tilt_deg((148.5, 105.0)), abs=0.3)


def test_the_uncertainty_of_the_camera_is_that_of_many_cameras() -> None:
    """Covariance of the fit against the spread over 60 sets of noisy corners (JCGM 101)."""
    true, chance = camera(10.0, -0.02), np.random.default_rng(4)
    spot = true.to_pixels([(150.0, 105.0)], 5.0)
    found = []
    for _ in range(60):
        noisy = {n: c + chance.normal(0, 0.3, c.shape) for n, c in corners(true).items()}
        found.append(fit_camera(noisy, SIZE, 3100.0))
    spread = np.std([c.to_mm(spot, 5.0)[0] for c in found], axis=0)
    one = found[0]
    steps = [one.moved(d).to_mm(spot, 5.0)[0] - one.to_mm(spot, 5.0)[0] for d in one.doubts]
    stated = np.sqrt(np.square(steps).sum(axis=0))
    assert np.all(stated > 0.5 * spread)
    assert np.all(stated < 6 * spread)  # it carries the lens's own doubt too


def test_two_points_and_a_distance() -> None:
    at = flat_scale(
        (500, 400), (3500, 400), 300.0, SIZE, apart_u_mm=0.3, click_u_px=2.0, tilt_u_deg=4.0
    )
    apart = np.diff(at.to_mm([(500, 400), (3500, 400)]), axis=0)[0]
    assert apart == pytest.approx([300.0, 0.0], abs=1e-6)
    relative = np.sqrt(at.covariance[7, 7]) / at.theta[7]
    tilted = (1 - np.cos(np.radians(8.0))) / np.sqrt(3)
    assert relative == pytest.approx(np.sqrt(1e-6 + 2 * (2 / 3000) ** 2 + tilted**2))


def test_an_outline_is_as_long_as_the_shape_it_goes_round() -> None:
    """Perimeter 4 a E(e^2) of an ellipse (complete elliptic integral), and shapely's length."""
    a, b = 120.0, 22.0
    angle = np.linspace(0, 2 * np.pi, 3000, endpoint=False)
    ring = np.column_stack([a * np.cos(angle), b * np.sin(angle)])
    even = evenly(ring, 0.5)
    length = shapely.LinearRing(even).length
    assert length == pytest.approx(4 * a * ellipe(1 - (b / a) ** 2), rel=1e-4)
    steps = np.linalg.norm(np.diff(even, axis=0), axis=1)
    assert steps == pytest.approx(np.full(len(steps), steps.mean()), rel=0.02)
    normals = outward(smoothed(even, 3))
    grown = shapely.Polygon(even + 0.5 * normals)
    assert grown.area - shapely.Polygon(even).area == pytest.approx(0.5 * length, rel=0.01)


def test_figures_of_a_blade_drawn_with_straight_lines() -> None:
    """Edge flat for 150 mm and then rising 20 mm over 60 mm, spine level at 45 mm, laid askew."""
    x = np.linspace(0, 210, 421)
    edge = np.column_stack([x, np.interp(x, [0, 150, 210], [0, 0, 20])])
    spine = np.column_stack([x, np.interp(x, [0, 180, 210], [45, 45, 20])])
    turn = np.radians(7.0)
    askew = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    found = side_figures(laid_out(edge @ askew + 30, spine @ askew + 30), None, None)
    assert found["edge_length"] == pytest.approx(np.hypot(210, 20), abs=0.02)
    assert found["height_heel"] == pytest.approx(45.0, abs=0.02)
    assert found["height_mid"] == pytest.approx(45.0, abs=0.02)
    assert found["height_front"] == pytest.approx(45 - 6.0, abs=0.05)
    assert found["flat_length"] == pytest.approx(150.9, abs=0.3)  # within 0.3 mm of the board
    assert found["tip_height"] == pytest.approx(20.0, abs=0.02)
    assert found["edge_gap"] == 0.0


def test_the_budget_is_the_law_of_propagation() -> None:
    """Against the ``uncertainties`` package: a height seen at a slant, h = s d cos(a)."""
    d, s, a = ufloat(50.0, 0.12), ufloat(1.0, 0.004), ufloat(0.3, 0.02)
    theirs = d * s * umath.cos(a)  # type: ignore[attr-defined]

    def measure(step: np.ndarray) -> dict[str, float]:
        slant = np.cos(0.3 + 0.02 * step[2])
        return {"height_heel": (50 + 0.12 * step[0]) * (1 + 0.004 * step[1]) * slant}

    ours = budget(measure, ["pixels", "print", "card"], {"height_heel": 0.05})["height_heel"]
    assert isinstance(ours, PhotoFigure)
    assert ours.value == pytest.approx(theirs.nominal_value)
    assert ours.standard_uncertainty == pytest.approx(np.hypot(theirs.std_dev, 0.05), rel=1e-3)
    assert sum(ours.shares.values()) == pytest.approx(1.0)
    assert max(ours.shares, key=lambda k: ours.shares[k]) == "card"


def test_every_marker_is_on_one_card_inside_it_and_off_its_field() -> None:
    drawn: list[int] = []
    for card in CARDS.values():
        paper = shapely.box(0, 0, card.width_mm, card.height_mm)
        field = shapely.Polygon(card.field.corners)
        squares = [shapely.Polygon(m.corners) for m in card.markers]
        assert all(paper.contains(s) and s.distance(field) >= 3 for s in squares)
        assert all(a.distance(b) >= 4 for i, a in enumerate(squares) for b in squares[:i])
        drawn += [m.number for m in card.markers]
    assert len(set(drawn)) == len(drawn) == len(MARKERS)

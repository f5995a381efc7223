"""Lifts, steel removed, apex shift and growth behind the edge against closed forms and shapely."""

from __future__ import annotations

import math

import numpy as np
import pytest
from shapely import Polygon, box
from shapely.affinity import rotate, translate
from uncertainties import ufloat

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool, bevels
from maple_rook.core.geometry.section import Section, flat_section, section
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.grinding import (
    STONES,
    Stone,
    minutes,
    sharpening_mm3,
    steps,
    thinning_mm3,
)
from maple_rook.core.upkeep.reprofile import Faces, Wanted, area_mm2, faces_of, reground
from maple_rook.core.upkeep.setup import (
    Spacer,
    angle_of_lift_deg,
    face_lift_mm,
    lift_mm,
    lift_u_mm,
    stacked,
    stroke_share,
    strokes,
)
from maple_rook.core.upkeep.wear import Lowered, height_until_mm, sharpenings, wear_rate

DOUBLE = [g for g in Grind if not GRINDS[g].single_bevel]


def removed_by_shapely(faces: Faces, wanted: Wanted) -> tuple[float, float]:
    """What lies outside the new bevels, by shapely's own clipping, right and left of the apex."""
    found = reground(faces, wanted)
    (x0, z0), tall = found.faces.apex, 500.0
    angles = wanted.angles_deg
    whole = Polygon(faces.ring)
    areas = []
    for sign, angle in ((1, angles[0]), (-1, angles[1])):
        reach = tall * math.tan(math.radians(angle))
        inside = Polygon([(x0, z0), (x0 + sign * reach, z0 + tall), (x0, z0 + tall)])
        side = box(*((x0, -1, 99, tall) if sign > 0 else (-99, -1, x0, tall)))
        areas.append(whole.intersection(side).difference(inside).area)
    return areas[0], areas[1]


def test_the_lift_of_a_tall_blade_at_15_degrees() -> None:
    """Worked example: 45 mm high, spine 2.0 mm, 15 degrees: 10.68 mm (geometry, by hand)."""
    assert float(lift_mm(45, 2.0, 15)) == pytest.approx(10.68, abs=0.005)
    assert float(lift_mm(28, 1.7, 15)) == pytest.approx(
        28 * math.sin(math.radians(15)) - 0.821, abs=0.001
    )


@pytest.mark.parametrize("share", [0.5, 0.7, 0.2])
@pytest.mark.parametrize("face", ["right", "left"])
def test_a_lift_is_the_gap_under_the_spine_when_shapely_lays_the_blade_down(
    share: float, face: str
) -> None:
    """The section turned onto the stone about its apex: the spine's lower corner is so high."""
    made = flat_section(2.2, 46, 0.3, 15, share)
    blade = Polygon(faces_of(made).ring)
    turned = rotate(blade, -(90 - 15) if face == "right" else 90 - 15, origin=(0, 0))
    ends = [p for p in turned.exterior.coords if math.hypot(*p) > 45.0]
    assert len(ends) == 2
    assert min(y for _, y in ends) == pytest.approx(face_lift_mm(made, 15, face), abs=1e-9)


def test_twenty_to_fifteen_degrees_removes_what_two_triangles_hold() -> None:
    """Worked example: 45 x 2.2 mm, 0.50 mm behind the edge: 0.0314 mm2 a side, 12.6 mm3 over
    200 mm. The triangle between old bevel, new bevel and primary face, by its corners."""
    faces = faces_of(flat_section(2.2, 45, 0.50, 20))
    found = reground(faces, Wanted(15))
    old_z = 0.25 / math.tan(math.radians(20))
    slope = (1.1 - 0.25) / (45 - old_z)
    new_z = (0.25 - slope * old_z) / (math.tan(math.radians(15)) - slope)
    new_x = new_z * math.tan(math.radians(15))
    triangle = abs(0.25 * new_z - old_z * new_x) / 2
    assert found.areas_mm2 == pytest.approx((0.0314, 0.0314), abs=5e-5)
    assert found.areas_mm2 == pytest.approx((triangle, triangle), rel=1e-9)
    assert 200 * sum(found.areas_mm2) == pytest.approx(12.6, abs=0.05)
    assert found.height_lost_mm == 0
    assert found.faces.behind_edge_mm == pytest.approx(2 * new_x)


@pytest.mark.parametrize("grind", DOUBLE)
@pytest.mark.parametrize(
    "wanted",
    [
        Wanted(11),
        Wanted(19),
        Wanted(15, 0.5),
        Wanted(13, 0.8),
        Wanted(14, 0.6, AsymmetrySchool.ANGLE),
        Wanted(21, micro_mm=0.25),
    ],
)
def test_steel_removed_of_every_family_agrees_with_shapely(grind: Grind, wanted: Wanted) -> None:
    faces = faces_of(section(grind, 2.4, 45, 0.34, 15, 0.7))
    found = reground(faces, wanted)
    assert found.areas_mm2 == pytest.approx(removed_by_shapely(faces, wanted), abs=1e-9)
    left_over = Polygon(found.faces.ring)
    assert left_over.is_valid
    whole = Polygon(faces.ring)
    assert left_over.area + sum(found.areas_mm2) == pytest.approx(whole.area, rel=1e-9)
    assert left_over.difference(whole.buffer(1e-9)).area == pytest.approx(0, abs=1e-9)


def test_seventy_thirty_has_its_apex_a_fifth_of_the_thickness_off_and_even_lifts_it() -> None:
    """Worked example: T 0.30 mm, 15 per side, 70:30: the apex stands 0.060 mm off the middle. To
    stand in the middle at the same angle it must rise by offset / tan 15, faces parallel."""
    edge = bevels(0.30, 15, 0.7)
    assert float(edge.apex_offset_mm) == pytest.approx(-0.060, abs=1e-9)
    parallel = section(Grind.SABRE, 0.3001, 45, 0.30, 15, 0.7)  # faces as good as parallel
    found = reground(faces_of(parallel), Wanted(15, 0.5))
    assert found.faces.apex[0] == pytest.approx(0.060, abs=1e-4)
    assert found.height_lost_mm == pytest.approx(0.060 / math.tan(math.radians(15)), rel=1e-3)
    right, left = found.areas_mm2
    assert right == pytest.approx(0, abs=1e-9)  # the wide bevel keeps its plane
    assert left == pytest.approx(area_mm2(found.removed_left))
    assert left > 0.02
    assert found.faces.bevel_widths_mm[0] == pytest.approx(found.faces.bevel_widths_mm[1])


def test_a_micro_bevel_lifts_the_apex_by_its_closed_form() -> None:
    """On a straight bevel: w cos th' (tan th' - tan th) / tan th."""
    faces = faces_of(flat_section(2.2, 45, 0.3, 15))
    found = reground(faces, Wanted(20, micro_mm=0.2))
    tan15, tan20 = math.tan(math.radians(15)), math.tan(math.radians(20))
    assert found.height_lost_mm == pytest.approx(
        0.2 * math.cos(math.radians(20)) * (tan20 - tan15) / tan15
    )
    whole = reground(faces, Wanted(20))
    assert sum(whole.areas_mm2) > 4 * sum(found.areas_mm2)
    assert whole.faces.behind_edge_mm == pytest.approx(0.3)


def test_a_single_bevel_is_ground_on_its_face_alone() -> None:
    """Common practice: nothing but the burr comes off the back."""
    for share, back in ((1.0, "left"), (0.0, "right")):
        faces = faces_of(
            section(Grind.SINGLE_BEVEL, 3.9, 33, 0.0, 11, share, hollow_depth_mm=0.15),
            single_bevel=True,
        )
        found = reground(faces, Wanted(13, micro_mm=0.5))
        assert faces.back == back
        on_face, on_back = found.areas_mm2 if back == "left" else found.areas_mm2[::-1]
        assert on_face > 0
        assert on_back < 0.02 * on_face
        with pytest.raises(InvalidValue, match="back"):
            reground(faces, Wanted(13, 0.5))


def test_what_cannot_be_ground_is_refused_with_what_can() -> None:
    thick = faces_of(flat_section(9.0, 40, 0.9, 22))
    with pytest.raises(InvalidValue, match=r"over 6\.4°, where the spine touches"):
        reground(thick, Wanted(6))
    for wanted in (Wanted(4), Wanted(40), Wanted(15, 0.99), Wanted(20, 0.9, AsymmetrySchool.ANGLE)):
        with pytest.raises(InvalidValue):
            reground(faces_of(flat_section(2.2, 45, 0.3, 15)), wanted)


def test_growth_behind_the_edge_follows_the_faces() -> None:
    """On straight faces two lines meet: the shoulder of a bevel whose apex rose by dh stands
    2 dh tan a / (1 - tan a / tan th) further out, a half the primary angle. To first order that
    is 2 dh tan a (worked example: dh 0.05 mm on 2.2 x 45 mm: 0.0021 mm a sharpening)."""
    made = flat_section(2.2, 45, 0.30, 15)
    face = math.tan(math.radians(float(made.primary_angle_deg) / 2))
    faces = faces_of(made)
    for lifted in (0.05, 1.0, 4.0):
        grown = faces.thickness_mm(lifted) - faces.behind_edge_mm
        exact = 2 * lifted * face / (1 - face / math.tan(math.radians(15)))
        assert grown == pytest.approx(exact, rel=1e-9)
    first_order = 2 * 0.05 * face
    assert first_order == pytest.approx(0.0021, abs=5e-5)
    assert faces.thickness_mm(0.05) - 0.30 == pytest.approx(first_order, rel=0.1)
    until = height_until_mm(faces, 0.40)
    assert until is not None
    assert faces.thickness_mm(until) == pytest.approx(0.40, abs=1e-5)
    assert height_until_mm(faces, 0.20) == 0
    assert height_until_mm(faces_of(section(Grind.SABRE, 2.2, 45, 0.3, 15)), 5.0) is None


def test_a_hollow_thickens_late_and_then_fast() -> None:
    """Common practice: thin behind the edge, thickens quickly."""
    hollow = faces_of(section(Grind.DEEP_CONCAVE, 2.2, 45, 0.30, 15))
    flat = faces_of(section(Grind.FULL_FLAT, 2.2, 45, 0.30, 15))
    assert hollow.thickness_mm(3) < flat.thickness_mm(3)
    late = [f.thickness_mm(40) - f.thickness_mm(36) for f in (hollow, flat)]
    assert late[0] > late[1]


def test_strokes_keep_the_ratio_that_is_there() -> None:
    """Common practice: 70:30 wants seven strokes to three."""
    assert strokes(stroke_share(flat_section(2.2, 45, 0.3, 15, 0.7))) == (7, 3)
    assert strokes(stroke_share(flat_section(2.2, 45, 0.3, 15))) == (1, 1)
    by_angle = flat_section(2.2, 45, 0.3, 15, 0.6, AsymmetrySchool.ANGLE)
    right, left = (math.tan(math.radians(a)) for a in (18, 12))
    assert stroke_share(by_angle) == pytest.approx(right / (right + left))
    assert [strokes(s) for s in (0.97, 0.03, 1.0, 0.0)] == [(11, 1), (1, 11), (1, 0), (0, 1)]


def test_a_stack_of_spacers_is_the_nearest_there_is() -> None:
    """Every stack of up to six pieces was tried apart."""
    rng = np.random.default_rng(3)
    spacers = [Spacer("token", 2.35), Spacer("half", 1.8), Spacer("shim", 0.5)]
    heights = [
        2.35 * a + 1.8 * b + 0.5 * c
        for a in range(7)
        for b in range(7)
        for c in range(7)
        if 1 <= a + b + c <= 6
    ]
    for wanted in rng.uniform(0.1, 17, 60):
        found = stacked(float(wanted), spacers)
        best = min(abs(h - wanted) for h in heights)
        assert (found is None) == (best > 0.5)
        if found is None:
            continue
        assert abs(found.height_mm - wanted) == pytest.approx(best, abs=0.101)
    assert stacked(5.0, []) is None
    assert stacked(-2.0, spacers) is None
    assert float(angle_of_lift_deg(45, 2.0, lift_mm(45, 2.0, 17.5))) == pytest.approx(17.5)


def test_time_on_the_stones_adds_up() -> None:
    taken = steps(30.0, 400.0, STONES)
    assert sum(s.volume_mm3 for s in taken) == pytest.approx(30.0)
    assert [s.stone.grit for s in taken] == [220, 1000, 3000, 6000]
    likely, least, most = minutes(taken)
    assert likely == pytest.approx(4 + sum(s.volume_mm3 / s.stone.rate_mm3_min for s in taken))
    assert (likely / least, most / likely) == pytest.approx((1.6, 1.6))
    assert minutes(steps(30.0, 400.0, STONES, 0.5))[0] - 4 == pytest.approx(2 * (likely - 4))
    assert [s.stone.grit for s in steps(1.0, 400.0, STONES)] == [3000, 6000]
    assert [s.volume_mm3 for s in steps(0.0, 400.0, [Stone(1000, 1, 3)])] == [0.0]
    assert sharpening_mm3(0.30, 200, 0.05) == pytest.approx(3.0)
    assert thinning_mm3(-0.1, 200) == 0


def test_the_rate_learns_from_the_log_as_two_normals_multiply() -> None:
    """A posterior found on a grid: prior times likelihood, apart from the closed form."""
    log = [Lowered(4, Figure(0.36, 0.06)), Lowered(6, Figure(0.50, 0.06))]
    grid = np.linspace(-0.1, 0.4, 20_001)
    prior_sd = math.hypot(0.025, 0.015)
    weight = -((grid - 0.05) ** 2) / 2 / prior_sd**2
    for row in log:
        sd = math.hypot(
            row.lost_mm.standard_uncertainty / row.sharpenings, 0.02 / math.sqrt(row.sharpenings)
        )
        weight -= (grid - row.lost_mm.mean / row.sharpenings) ** 2 / 2 / sd**2
    weight = np.exp(weight - weight.max())
    mean = float((grid * weight).sum() / weight.sum())
    spread = math.sqrt(float(((grid - mean) ** 2 * weight).sum() / weight.sum()))
    found = wear_rate([], log)
    assert (found.mean, found.standard_uncertainty) == pytest.approx((mean, spread), rel=1e-3)
    shop = wear_rate([log])
    assert 0.05 < shop.mean < found.mean
    assert shop.standard_uncertainty > found.standard_uncertainty
    assert wear_rate([], [Lowered(3, Figure(-0.9, 0.02))]).mean == 0.005


def test_counts_keep_their_limits_about_them() -> None:
    count = sharpenings(2.0, Figure(0.05, 0.02))
    assert count.central == pytest.approx(40)
    assert count.central**2 == pytest.approx(count.low * count.high)
    assert sharpenings(-1.0, Figure(0.05, 0.02)).central == 0


def test_a_tilted_stone_would_show_in_the_drawing() -> None:
    """The blade laid on the stone lies wholly above it but for its bevel's line."""
    made: Section = flat_section(2.2, 46, 0.3, 15)
    laid = rotate(Polygon(faces_of(made).ring), -75, origin=(0, 0))
    stone = translate(box(0, -5, 60, 0), 0, -1e-6)
    assert laid.intersection(stone).area == pytest.approx(0, abs=1e-9)


def test_a_lifts_uncertainty_is_that_of_the_uncertainties_package() -> None:
    """h sin th - t/2 cos th propagated by `uncertainties` (JCGM 100:2008, law of propagation)."""
    blade = Blade(
        {
            k: Figure(v, u)
            for k, v, u in (
                ("height_heel", 46.2, 0.3),
                ("spine_heel", 2.12, 0.05),
                ("edge_length", 209.0, 0.2),
                ("thickness_behind_edge", 0.27, 0.01),
                ("edge_angle", 14.6, 0.3),
                ("hardness", 60.2, 0.4),
            )
        }
    )
    theta = math.radians(15)
    by_package = ufloat(46.2, 0.3) * math.sin(theta) - ufloat(2.12, 0.05) / 2 * math.cos(theta)
    assert lift_u_mm(blade, 46.2, 15, 0.0) == pytest.approx(by_package.std_dev, rel=1e-9)
    assert float(lift_mm(46.2, 2.12, 15)) == pytest.approx(by_package.nominal_value)
    assert lift_u_mm(blade, 41.0, 15, 0.5) > lift_u_mm(blade, 46.2, 15, 0.0)


def test_the_mirrored_blade_is_ground_as_a_mirror_image() -> None:
    """Symmetry of left and right, in every family."""
    for grind in DOUBLE:
        right = reground(faces_of(section(grind, 2.4, 45, 0.34, 15, 0.7)), Wanted(13, 0.4))
        left = reground(faces_of(section(grind, 2.4, 45, 0.34, 15, 0.3)), Wanted(13, 0.6))
        assert right.areas_mm2 == pytest.approx(left.areas_mm2[::-1], abs=1e-7)
        assert right.height_lost_mm == pytest.approx(left.height_lost_mm, abs=1e-7)
        assert right.faces.apex[0] == pytest.approx(-left.faces.apex[0], abs=1e-7)


def test_by_the_angle_school_both_bevels_are_equally_tall() -> None:
    """Inclusive angle divided n:m, 60:40 of 30 degrees is 18 and 12; bevels of one height."""
    found = reground(
        faces_of(flat_section(2.2, 45, 0.3, 15)), Wanted(15, 0.6, AsymmetrySchool.ANGLE)
    )
    (x0, z0), faces = found.faces.apex, found.faces
    tall = [faces.right[1, 1] - z0, faces.left[1, 1] - z0]
    assert tall[0] == pytest.approx(tall[1], abs=1e-6)
    angles = [
        math.degrees(math.atan((faces.right[1, 0] - x0) / tall[0])),
        math.degrees(math.atan((faces.left[1, 0] + x0) / tall[1])),
    ]
    assert angles == pytest.approx([18, 12], abs=1e-4)


def test_the_further_the_ratio_is_moved_the_more_steel_it_takes() -> None:
    """Common practice: ground even by mistake, an asymmetric edge wastes a lot of steel."""
    faces = faces_of(flat_section(2.2, 45, 0.34, 15, 0.8))
    taken = [sum(reground(faces, Wanted(15, share)).areas_mm2) for share in (0.75, 0.65, 0.5, 0.3)]
    assert taken == sorted(taken)
    lost = [reground(faces, Wanted(15, share)).height_lost_mm for share in (0.75, 0.65, 0.5, 0.3)]
    assert lost == sorted(lost)


def test_a_hundred_sharpenings_one_by_one_are_what_is_counted_at_once() -> None:
    """The edge raised again and again at its own angle, against the faces followed at once."""
    start = faces_of(section(Grind.CONVEX, 2.4, 46, 0.28, 15))
    faces, removed = start, 0.0
    for _ in range(100):
        right, left = (
            np.vstack([(0.0, faces.apex[1] + 0.05), corner])
            for corner in (faces.right[1:], faces.left[1:])
        )
        raised = Faces(right, left, faces.shoulders)
        tangent = math.tan(math.radians(15))
        right, left = (_at_angle(face, tangent) for face in (raised.right, raised.left))
        now = Faces(right, left, (1, 1))
        removed += Polygon(faces.ring).area - Polygon(now.ring).area
        faces = now
    assert faces.apex[1] == pytest.approx(5.0)
    from_bevel = faces.behind_edge_mm
    assert from_bevel == pytest.approx(start.thickness_mm(5.0), rel=1e-3)
    assert removed == pytest.approx(5.0 * (start.behind_edge_mm + from_bevel) / 2, rel=0.1)


def _at_angle(face: np.ndarray, tangent: float) -> np.ndarray:
    """A face cut by the bevel plane through its own first corner."""
    z0 = face[0, 1]
    off = face[:, 0] - (face[:, 1] - z0) * tangent
    first = int(np.flatnonzero((off < -1e-12) & (face[:, 1] > z0))[0])
    if off[first - 1] <= 0:
        return np.vstack([face[0], face[first:]])
    share = off[first - 1] / (off[first - 1] - off[first])
    shoulder = face[first - 1] + share * (face[first] - face[first - 1])
    return np.vstack([face[0], shoulder, face[first:]])


def test_a_budget_knife_from_20_to_15_is_an_evenings_work_at_most() -> None:
    """Common practice: it cuts much better afterwards, and is done at one sitting."""
    faces = faces_of(flat_section(2.2, 45, 0.50, 20))
    found = reground(faces, Wanted(15))
    bevels = 200 * sum(found.faces.bevel_widths_mm)
    soft, hard = (
        minutes(steps(200 * sum(found.areas_mm2), bevels, STONES, p))[0] for p in (1.2, 0.5)
    )
    assert 8 < soft < hard < 60

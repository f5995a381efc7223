"""Single bevels and stones: what holds whatever the blade, and how long steels take."""

from __future__ import annotations

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.upkeep.grinding import STONES, Stone, minutes, pace, steps
from maple_rook.core.upkeep.reprofile import Faces, Wanted, faces_of, reground
from maple_rook.core.upkeep.reprofile_plan import ADDED_WIDTH_MM, found_edge, reprofile_plan


@st.composite
def singles(draw: st.DrawFn) -> tuple[Faces, float]:
    """A single bevel of either hand, plain, micro-bevelled or with an added bevel; its angle."""
    grind = draw(st.sampled_from([Grind.SINGLE_BEVEL, Grind.SINGLE_BEVEL_ADDED]))
    angle = draw(st.floats(9, 14))
    more = draw(st.none() | st.floats(1, 3)) if grind is Grind.SINGLE_BEVEL else 2.0
    steeper = None if more is None else angle + more
    right = draw(st.booleans())
    share = (0.9 if right else 0.1) if grind is Grind.SINGLE_BEVEL_ADDED else float(right)
    made = section(
        grind,
        draw(st.floats(2.5, 5)),
        draw(st.floats(30, 60)),
        0.2,
        angle,
        share,
        steeper_deg=steeper,
        hollow_depth_mm=draw(st.floats(0, 0.3)),
    )
    return faces_of(made, single_bevel=True), steeper or angle


@given(singles(), st.floats(0.5, 6), st.floats(0.2, 0.9))
def test_a_steeper_edge_bevel_is_as_wide_as_asked_and_spares_the_back(
    knife: tuple[Faces, float], steeper: float, width: float
) -> None:
    faces, angle = knife
    try:
        found = reground(faces, Wanted(angle + steeper, micro_mm=width))
    except InvalidValue:
        assume(False)
    front = 0 if faces.back == "left" else 1
    assert found.faces.bevel_widths_mm[front] <= width + 1e-6
    assert found.height_lost_mm >= 0
    assert found.faces.back == faces.back
    on_face, on_back = found.areas_mm2[front], found.areas_mm2[1 - front]
    assert on_face > 0
    assert on_back <= on_face


@given(singles(), st.floats(0.2, 3))
def test_a_flatter_face_keeps_the_apex(knife: tuple[Faces, float], flatter: float) -> None:
    faces, angle = knife
    try:
        found = reground(faces, Wanted(angle - flatter))
    except InvalidValue:
        assume(False)
    assert found.height_lost_mm == pytest.approx(0, abs=1e-9)
    front = 0 if faces.back == "left" else 1
    assert found.areas_mm2[1 - front] == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("hand", [100.0, 0.0])
def test_either_hand_is_planned_alike(hand: float) -> None:
    figures = {
        "edge_length": 268.0,
        "height_heel": 33.0,
        "height_mid": 29.0,
        "spine_heel": 3.9,
        "spine_mid": 3.2,
        "spine_tip": 1.8,
        "edge_angle": 11.0,
        "asymmetry": hand,
        "hardness": 62.5,
    }
    knife = Blade(
        {k: Figure(v, 0.05) for k, v in figures.items()},
        grind=Grind.SINGLE_BEVEL,
        knife_type="single_bevel_slicer",
        steel=STEELS["C105U"],
    )
    assert built(knife) is not None
    assert found_edge(knife) == (11.0, hand / 100)
    plan = reprofile_plan(knife, Wanted(14.0), STONES, 0.05)
    assert plan.wanted.micro_mm == ADDED_WIDTH_MM
    assert max(plan.volumes_mm3) == plan.volumes_mm3[0 if hand else 1]
    assert plan.after.figures["micro_bevel"].mean == 14.0


def test_simple_carbon_steels_sharpen_fastest() -> None:
    """Common practice: high-alloy wear-resistant steels need good stones and patience."""
    likely = {
        name: minutes(steps(20.0, 400.0, STONES, pace(STEELS[name].sharpening)))[0]
        for name in ("C105U", "1.4116", "X153CrMoV12", "HS6-5-3")
    }
    assert list(likely.values()) == sorted(likely.values())
    assert pace(None) == 1.0


@given(st.lists(st.integers(100, 9000), min_size=1, max_size=6, unique=True), st.floats(0, 300))
def test_whatever_stones_a_shop_has_coarse_comes_before_fine(
    grits: list[int], volume: float
) -> None:
    stones = [Stone(g, 400 / g, 2000 / g) for g in grits]
    taken = steps(volume, 350.0, stones)
    used = [s.stone.grit for s in taken]
    assert used == sorted(used)
    assert used[-1] == max(grits)
    assert sum(s.volume_mm3 for s in taken) == pytest.approx(volume)
    with pytest.raises(InvalidValue):
        steps(volume, 350.0, [])

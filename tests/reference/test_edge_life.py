"""Sharpness over the days, and what an edge bears, against closed forms and the trade."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from maple_rook.core.edge_life.course import (
    ROD_LEAVES,
    ROD_MISSES,
    ROLL_PLATEAU,
    STONE_LEAVES,
    Routine,
    edge_life,
    roll,
    wear,
)
from maple_rook.core.edge_life.retention import BoardMaterial, Kitchen, days_to_rod, wearing_deg
from maple_rook.core.edge_life.stability import (
    SIDE_LOAD_N_MM,
    TOUGHNESS_60,
    StrokeStyle,
    borne_n_mm,
    chip_over_roll,
    lasting_share,
    roll_load_n_mm,
    stability,
    yield_depth_mm,
)
from maple_rook.core.measurement.hardness import yield_strength_mpa
from maple_rook.core.measurement.uncertainty import Figure

DAYS = np.arange(0, 180.5, 0.5)


def test_the_rod_and_stone_days_are_where_the_curves_cross() -> None:
    """By definition: 75 % left by roll on the rod day, 50 % by wear on the stone day."""
    assert 1 - float(roll(7.0, 7.0)) == pytest.approx(ROD_LEAVES)
    assert 1 - float(wear(105.0, 105.0)) == pytest.approx(STONE_LEAVES)
    assert float(roll(1e6, 7.0)) == pytest.approx(ROLL_PLATEAU)


def test_wear_grows_with_the_root_of_time_and_roll_like_a_settling_body() -> None:
    """Independent integration of dR/dt = (P - R) ln 2 / t_rod (scipy)."""
    assert float(wear(25, 100)) == pytest.approx(float(wear(100, 100)) / 2)
    rate = np.log(2) / 6.0
    solved = solve_ivp(
        lambda _, r: (ROLL_PLATEAU - r) * rate, (0, 20), [0.1], rtol=1e-9, atol=1e-12
    )
    assert float(roll(20.0, 6.0, 0.1)) == pytest.approx(solved.y[0, -1], rel=1e-6)


def test_the_saw_tooth_is_the_day_by_day_bookkeeping() -> None:
    """The same routine walked tooth by tooth: the rod leaves 15 % of the roll, the stone none."""
    rod, stone = 8.0, 60.0
    found = edge_life(DAYS, rod, stone)
    expected = []
    for day in DAYS:
        since_stone = day % stone
        start = 0.0
        for _ in range(int(since_stone // rod)):
            start = ROD_MISSES * float(roll(rod, rod, start))
        left = (1 - float(wear(since_stone, stone))) * (
            1 - float(roll(since_stone % rod, rod, start))
        )
        expected.append(100 * left)
    assert found.sharpness == pytest.approx(np.array(expected))
    assert found.sharpness[0] == found.sharpness[120] == found.sharpness[240] == 100


@given(st.floats(1, 40), st.floats(20, 400), st.sampled_from(Routine))
def test_an_edge_is_never_better_than_fresh_nor_worse_than_nothing(
    rod: float, stone: float, routine: Routine
) -> None:
    found = edge_life(DAYS, rod, stone, routine).sharpness
    assert np.all((found >= 0) & (found <= 100))
    assert found[0] == 100


@given(st.floats(2, 30), st.floats(30, 300), st.floats(1.0, 3.0))
def test_looking_after_it_or_a_kinder_kitchen_never_leaves_it_duller(
    rod: float, stone: float, kinder: float
) -> None:
    at = DAYS[stone > DAYS]  # before the first stone, where the days can be told apart
    care, stone_only, nothing = (edge_life(at, rod, stone, r).sharpness for r in Routine)
    assert np.all(care >= stone_only - 1e-9)
    assert np.all(stone_only >= nothing - 1e-9)
    longer = edge_life(at, rod, stone * kinder, Routine.STONE_ONLY).sharpness
    assert np.all(longer >= stone_only - 1e-9)


def test_many_curves_at_once_are_each_as_alone() -> None:
    rods, stones = np.array([3.0, 8.0, 20.0]), np.array([40.0, 90.0, 200.0])
    together = edge_life(DAYS, rods, stones).sharpness
    for i in range(3):
        assert together[i] == pytest.approx(edge_life(DAYS, rods[i], stones[i]).sharpness)


def test_a_glass_board_makes_the_teeth_six_times_as_fine() -> None:
    """Common practice: glass and stone are the hardest on an edge."""
    wood, glass = (
        days_to_rod(60, 15, Kitchen(board=b)) for b in (BoardMaterial.WOOD, BoardMaterial.GLASS)
    )
    assert float(wood / glass) == pytest.approx(6.0)


def test_the_apex_yields_where_beam_theory_puts_it() -> None:
    """Beam theory: M = q z, W = (2 z tan th)^2 / 6 a length, yield at M = sigma_y W."""
    hrc, angle, load = 60.0, 15.0, 1.3
    depth = float(yield_depth_mm(load, hrc, angle))
    modulus = (2 * depth * np.tan(np.radians(angle))) ** 2 / 6
    assert load * depth == pytest.approx(float(yield_strength_mpa(hrc)) * modulus)


def test_geometry_counts_more_than_steel() -> None:
    """From 56 to 64 HRC strength rises 30 %; from 12 to 15 degrees the edge gains 59 %."""
    harder = roll_load_n_mm(64, 12) / roll_load_n_mm(56, 12)
    wider = roll_load_n_mm(56, 15) / roll_load_n_mm(56, 12)
    assert float(harder) == pytest.approx(1.30, abs=0.01)
    assert float(wider) == pytest.approx(1.59, abs=0.005)
    found = stability(Figure(56.0, 0.5), Figure(12.0, 0.5), "medium")
    assert [label for label, _ in found.levers][:2] == ["angle 3° per side steeper", "2 HRC harder"]
    assert "angle 3° per side steeper counts most" in found.lesson


def words(hrc: float, angle: float, toughness: str) -> dict[StrokeStyle, str]:
    found = stability(Figure(hrc, 0.5), Figure(angle, 0.5), toughness)
    return {m.style: m.words for m in found.margins}


def test_thin_hard_edges_never_go_on_bone_and_choppers_do_better() -> None:
    """Common practice: no bone with thin hard knives; 58 HRC or so at 25 degrees goes through."""
    thin, chopper = words(63, 11, "low"), words(57, 25, "high")
    assert thin[StrokeStyle.BONE] == "the edge chips"
    assert thin[StrokeStyle.TWIST] == "the edge chips"
    assert chopper[StrokeStyle.NORMAL] == chopper[StrokeStyle.TWIST] == "holds"


CHIP_OVER_ROLL = [
    (56, (2.31, 1.68, 1.26)),
    (60, (1.54, 1.12, 0.84)),
    (66, (0.81, 0.59, 0.44)),
]


@pytest.mark.parametrize(("hrc", "expected"), CHIP_OVER_ROLL)
def test_soft_edges_roll_first_and_hard_ones_chip_first(
    hrc: float, expected: tuple[float, float, float]
) -> None:
    """Worked values: a flaw of 10 um, toughness of 22, 16 and 12 MPa sqrt(m) at 60 HRC."""
    found = chip_over_roll(hrc, [TOUGHNESS_60[t] for t in ("high", "medium", "low")])
    assert found.tolist() == [pytest.approx(value, abs=0.01) for value in expected]


@given(st.floats(50, 57), st.floats(62.1, 68), st.sampled_from(["medium", "low"]))
def test_below_58_an_edge_rolls_and_above_62_it_chips(
    soft: float, hard: float, toughness: str
) -> None:
    tough = TOUGHNESS_60[toughness]
    assert chip_over_roll(hard, tough) < 1 < chip_over_roll(soft, tough)
    assert chip_over_roll(soft, tough) > chip_over_roll(soft + 0.1, tough)


@pytest.mark.parametrize(("hrc", "angle", "margin"), [(58, 24, 1.25), (60, 15, 0.49)])
def test_a_bone_pattern_holds_on_small_bone_and_a_thin_edge_gives(
    hrc: float, angle: float, margin: float
) -> None:
    on_bone = stability(Figure(hrc, 0.5), Figure(angle, 0.5), "high").margins[-1]
    assert on_bone.style is StrokeStyle.BONE
    assert on_bone.roll[0] == pytest.approx(margin, abs=0.01)


def test_softer_bends_instead_of_chipping() -> None:
    """Common practice: soft tough edges roll, hard brittle ones chip."""
    assert words(55, 15, "high")[StrokeStyle.BONE] == "the edge rolls"
    assert words(65, 15, "low")[StrokeStyle.BONE] == "the edge chips"


@given(st.floats(50, 67), st.floats(8, 25), st.sampled_from(sorted(TOUGHNESS_60)))
def test_margins_fall_with_the_load_and_hold_their_interval(
    hrc: float, angle: float, toughness: str
) -> None:
    found = stability(Figure(hrc, 0.6), Figure(angle, 0.6), toughness).margins
    likely = [m.roll[0] for m in found]
    assert likely == sorted(likely, reverse=True)
    assert likely[0] / likely[-1] == pytest.approx(
        SIDE_LOAD_N_MM[StrokeStyle.BONE] / SIDE_LOAD_N_MM[StrokeStyle.CAREFUL]
    )
    for m in found:
        for central, low, high in filter(None, (m.roll, m.chip)):
            assert low < central < high
    without = stability(Figure(hrc, 0.6), Figure(angle, 0.6), None)
    assert all(m.chip is None for m in without.margins)


def test_an_edge_that_gives_lasts_no_longer_for_being_thin() -> None:
    """54 HRC at 8 degrees bears half its work: what wear alone would give does not come of it."""
    at_8, at_20 = (
        float(borne_n_mm(54, angle, TOUGHNESS_60["medium"])) / SIDE_LOAD_N_MM[StrokeStyle.NORMAL]
        for angle in (8, 20)
    )
    assert (at_8, at_20) == (pytest.approx(0.71, abs=0.01), pytest.approx(4.76, abs=0.02))
    shares = [float(lasting_share(m)) for m in (at_8, at_20)]
    assert shares == [pytest.approx(0.47, abs=0.01), pytest.approx(1.0, abs=0.001)]
    assert float(lasting_share(0.01)) == 0.2


@given(st.floats(0.01, 10))
def test_the_share_that_lasts_grows_evenly_with_the_margin(margin: float) -> None:
    """min(1, M / 1.5) rounded: never over it, at most a twelfth under it."""
    share = float(lasting_share(margin))
    ideal = max(0.2, min(1.0, margin / 1.5))
    assert 0.915 * ideal <= share <= ideal
    assert 0 <= float(lasting_share(1.01 * margin)) - share <= 0.011 * share + 1e-9


def test_a_micro_bevel_hardly_wears_and_bears_by_its_own_angle() -> None:
    """0.05 mm of 20 degrees on 12: an eighth of the first 0.4 mm, so 13 degrees wear (by hand)."""
    assert float(wearing_deg(12, 20)) == pytest.approx((0.05 * 20 + 0.35 * 12) / 0.4)
    gain = borne_n_mm(60, 20, 22.0) / borne_n_mm(60, 12, 22.0)
    assert float(gain) == pytest.approx((np.tan(np.radians(20)) / np.tan(np.radians(12))) ** 2)

"""Invariants of every grind family: the section, the cut, the solid, what is inferred."""

from __future__ import annotations

import re
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from maple_rook.core.cutting.food_release import RELEASE_WEIGHTS, release_points
from maple_rook.core.cutting.foods import FOODS, STROKES, Food, Stroke, food_mix_weights
from maple_rook.core.cutting.force import cut, ease_index, forces_n, parts_n, side_force_n
from maple_rook.core.edge_life.retention import EdgeState, FoodMix, Kitchen, Technique
from maple_rook.core.edge_life.stability import StrokeStyle, stability
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import check_section, section
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade, Origin
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.edge_change import bite_changes, in_words
from maple_rook.core.prediction.predict import predict, predict_arrays

FOOD_LIST = list(FOODS.values())
spines, heights = st.floats(1.2, 7.0), st.floats(22, 110)
behinds, angles, shares = st.floats(0.08, 0.8), st.floats(8, 24), st.floats(0.5, 1.0)


def possible(grind: Grind, *figures: float) -> None:
    keys = ("spine_heel", "height_heel", "thickness_behind_edge", "edge_angle")
    try:
        check_section(dict(zip(keys, figures, strict=True)), grind)
    except InvalidValue:
        assume(False)


@given(st.sampled_from(Grind), spines, heights, behinds, angles, shares, st.floats(1.0, 1.4))
def test_force_never_falls_when_a_blade_gets_thicker_everywhere(
    grind: Grind,
    spine: float,
    height: float,
    behind: float,
    angle: float,
    share: float,
    thicker: float,
) -> None:
    possible(grind, spine * thicker, height, behind * thicker, angle)
    possible(grind, spine, height, behind, angle)
    more = angle if not GRINDS[grind].single_bevel else min(angle * thicker, 40.0)
    possible(grind, spine * thicker, height, behind * thicker, more)
    thin = section(grind, spine, height, behind, angle, share)
    thick = section(grind, spine * thicker, height, behind * thicker, more, share)
    z = np.linspace(0.01, height, 80)
    assume(bool(np.all(thick.thickness_mm(z) >= thin.thickness_mm(z) - 1e-9)))
    for food in FOOD_LIST:
        low, high = (cut(s, food, 1.0, 0.0) for s in (thin, thick))
        assert float(high.peak_n) >= float(low.peak_n) * (1 - 2e-3)


@given(st.sampled_from(Grind), spines, heights, behinds, st.floats(8, 29), shares)
def test_force_never_falls_with_angle_thickness_spine_or_radius_and_has_no_kinks(
    grind: Grind, spine: float, height: float, behind: float, angle: float, share: float
) -> None:
    """Of the edge angle 8 to 30 degrees, the same change on both sides of any angle."""
    possible(grind, spine * 1.1, height, behind * 1.1, angle + 1)
    possible(grind, spine, height, behind, angle)

    def pressed(r: float = 0.75, **more: float) -> np.ndarray:
        figures = {"spine": spine, "behind": behind, "angle": angle} | more
        one = section(grind, figures["spine"], height, figures["behind"], figures["angle"], share)
        return np.array([float(parts_n(one, food, r).total) for food in FOOD_LIST])

    now = pressed()
    assert np.all(pressed(r=1.0) >= now)
    if not GRINDS[grind].single_bevel:
        assert np.all(pressed(spine=spine * 1.1) >= now * (1 - 1e-3))
        # a spine of 6.5 mm on a blade 22 mm high: the face gets less steep by it, 0.6 %
        assert np.all(pressed(behind=behind * 1.1) >= now * (1 - 1e-2))
        assert np.all(pressed(angle=angle + 1) >= now * (1 - 1e-3))
    step = 0.02
    left, right = now - pressed(angle=angle - step), pressed(angle=angle + step) - now
    assert np.all(np.abs(left - right) <= 0.02 * now + 0.02)


@given(
    st.sampled_from(Grind),
    st.builds(
        Food,
        st.just("any"),
        st.just("any"),
        st.floats(1, 20_000),
        st.floats(0.1, 1000),
        st.floats(0, 50),
        st.floats(0, 50),
        st.floats(0.05, 20),
        st.floats(0, 5),
        st.floats(0, 2),
        st.floats(0, 50),
        st.floats(2, 300),
        st.floats(2, 300),
        st.floats(0.01, 1),
    ),
    st.sampled_from([*STROKES.values()]),
    st.floats(1, 600),
)
def test_any_food_that_a_shop_may_enter_gives_forces_and_an_ease(
    grind: Grind, food: Food, stroke: Stroke, edge: float
) -> None:
    """Zero stiffness, a food thinner than the bite, an edge shorter than the food is wide."""
    one = section(grind, np.full(3, 2.4), np.full(3, 46.0), 0.3, 12.0, 0.7)
    found = forces_n(one, [food], [stroke], [0.75, 7.5], edge)
    for fresh, dull in zip(found[0], found[1], strict=True):
        assert np.all(np.isfinite(fresh))
        assert np.all(fresh > 0)
        assert np.all(dull >= fresh)
    assert np.isfinite(ease_index(found[1].effort[:, 0], found[0].effort[:, 0]))
    if not stroke.slices and stroke.ratio == 0:
        assert np.all(found[0].bite <= found[0].through * (1 + 1e-9))


@given(spines, heights, behinds, angles)
def test_an_even_blade_is_pushed_neither_way(
    spine: float, height: float, behind: float, angle: float
) -> None:
    for grind in (Grind.FULL_FLAT, Grind.HOLLOW, Grind.CONVEX, Grind.SABRE, Grind.TWO_ANGLE):
        possible(grind, spine, height, behind, angle)
        one = section(grind, spine, height, behind, angle, 0.5)
        side = side_force_n(one, FOODS["carrot"])
        assert float(side) == pytest.approx(0.0, abs=1e-9)


def test_a_curve_on_one_face_only_steers_away_from_it() -> None:
    """Common practice: convexing is often on one face only; the fuller face pushes away."""
    one = section(Grind.CONVEX, 2.2, 45, 0.3, 15, 0.5, shaped="right")
    assert float(side_force_n(one, FOODS["carrot"])) > 0
    both = section(Grind.CONVEX, 2.2, 45, 0.3, 15, 0.5)
    assert float(one.area_mm2) < float(both.area_mm2)


def test_a_job_whose_foods_the_shop_took_off_counts_what_is_left_alike() -> None:
    assert food_mix_weights(FoodMix.ROOTS, [FOODS["fish"], FOODS["tomato"]]).tolist() == [0.5, 0.5]


def knife(grind: Grind = Grind.FULL_FLAT, **figures: float) -> Blade:
    usual = {
        "spine_heel": 2.2,
        "spine_mid": 1.8,
        "spine_tip": 0.7,
        "edge_length": 210.0,
        "height_heel": 45.0,
        "height_mid": 40.0,
        "thickness_behind_edge": 0.3,
        "edge_angle": 15.0,
        "asymmetry": 50.0,
        "hardness": 60.0,
        "weight": 186.0,
        "balance_point": 6.0,
        "handle_length": 126.0,
    }
    known = {k: Figure(v, 0.01) for k, v in {**usual, **figures}.items()}
    return Blade(known, grind=grind, steel=STEELS["1.4112"], seed=5)


def central(blade: Blade, key: str, kitchen: Kitchen | None = None) -> float:
    found = next(p for p in predict([blade], kitchen, draws=200)[0] if p.key == key)
    assert found.central is not None
    return found.central


def forces(blade: Blade, kitchen: Kitchen | None = None) -> dict[str, float]:
    """Force of a straight push by food, N."""
    found = {p.key: p.central for p in predict([blade], kitchen, draws=50)[0]}
    return {food: found[f"force.{food}.push"] or 0.0 for food in FOODS}


def test_a_dull_edge_shows_first_on_tomato() -> None:
    """Common practice."""
    fresh, dull = forces(knife()), forces(knife(), Kitchen(edge=EdgeState.DULL))
    worse = {food: dull[food] / fresh[food] for food in FOODS}
    assert max(worse, key=lambda food: worse[food]) == "tomato"
    assert worse["tomato"] > 2 > worse["carrot"]


def test_the_spine_alone_changes_dense_roots_and_hardly_tomato() -> None:
    """Common practice."""
    spines = {"spine_heel": 2.2, "spine_mid": 1.9, "spine_tip": 0.8}
    thin, thick = (forces(knife(**{k: v * by for k, v in spines.items()})) for by in (1, 1.4))
    more = {food: thick[food] / thin[food] for food in FOODS}
    assert more["carrot"] > 1.08
    assert more["squash"] > 1.08
    assert more["tomato"] < 1.05


@pytest.mark.parametrize("food", FOODS)
def test_a_lower_angle_and_a_thinner_edge_cut_easier(food: str) -> None:
    """Common practice: each by more than 5 % of effort for 5 degrees or 0.15 mm behind the edge."""
    share = Kitchen(shares=((food, 1.0),))
    edge = {"thickness_behind_edge": 0.35, "edge_angle": 17.0}
    usual, lower, thinner = (
        central(knife(**edge | changed), "cutting_ease", share)
        for changed in ({}, {"edge_angle": 12.0}, {"thickness_behind_edge": 0.20})
    )
    assert lower > 1.05 * usual or food == "cheese"
    assert thinner > usual
    if food in ("carrot", "squash"):
        assert thinner > 1.05 * usual


def test_a_sharpener_hears_what_15_instead_of_20_degrees_gives_and_costs() -> None:
    """Common practice: it bites easier by a tenth to a sixth, lasts longer and bears less."""
    sturdy, keen = (knife(edge_angle=angle) for angle in (20.0, 15.0))
    foods = [FOODS["carrot"], FOODS["tomato"]]
    changes = bite_changes((sturdy, keen), foods)
    assert changes is not None
    assert changes == pytest.approx({"carrot": 10, "tomato": 16}, abs=3)
    predictions = [predict([b], draws=50, foods=foods)[0] for b in (sturdy, keen)]
    margins = [
        next(
            m
            for m in stability(Figure(60, 0.5), Figure(angle, 0.5), "medium").margins
            if m.style is StrokeStyle.NORMAL
        )
        for angle in (20.0, 15.0)
    ]
    before, after = ({p.key: p for p in found} for found in predictions)
    said = in_words((sturdy, keen), (before, after), (margins[0], margins[1]), foods)
    assert re.fullmatch(r"Bites \d+ to \d+ % easier, most in tomato\.", said[0])
    assert re.fullmatch(r"Cuts \d+ % easier fresh, \d+ % easier half way to the stone\.", said[1])
    assert re.fullmatch(r"The stone falls due \d+ weeks later\.", said[2])
    assert re.fullmatch(r"Normal work: bears .* before .*; holds, with less in hand\.", said[3])
    back = in_words((keen, sturdy), (after, before), (margins[1], margins[0]), foods)
    assert "harder, most in tomato" in back[0]
    assert back[2].endswith("sooner.")
    assert "with more in hand" in back[3]
    assert in_words((keen, keen), (after, after), (margins[1], margins[1]), foods) == [
        "Bites as before.",
        "Cuts through as before, fresh and half way to the stone.",
        "The stone falls due when it did.",
    ]


def test_hollow_cuts_easier_and_flexes_more_than_flat_and_convex_less() -> None:
    """Common practice: hollow is thin behind the edge, convex strong and lets food go."""
    ease = [
        central(knife(g), "cutting_ease") for g in (Grind.HOLLOW, Grind.FULL_FLAT, Grind.CONVEX)
    ]
    assert ease == sorted(ease, reverse=True)
    flex = [
        central(knife(g), "tip_deflection")
        for g in (Grind.DEEP_CONCAVE, Grind.FULL_FLAT, Grind.CONVEX)
    ]
    assert flex == sorted(flex, reverse=True)
    assert central(knife(Grind.CONVEX), "release") > central(knife(), "release")


def test_a_micro_bevel_bears_by_its_angle_and_hardly_wears_by_it() -> None:
    plain, steep, all_of_it = knife(), knife(micro_bevel=20.0), knife(edge_angle=20.0)
    cards = [central(one, "card_test") for one in (plain, steep, all_of_it)]
    assert cards == sorted(cards, reverse=True)
    assert cards[0] - cards[1] < 0.25 * (cards[0] - cards[2])
    assert steep.margin(Technique.NORMAL) == all_of_it.margin(Technique.NORMAL)
    assert central(steep, "days_to_rod") > central(plain, "days_to_rod")
    onion = [central(one, "force.onion.push") for one in (plain, steep, knife(edge_angle=20.0))]
    assert onion == sorted(onion), "it opens the food a little more than the edge it stands on"


def test_both_bevel_widths_give_asymmetry_and_the_third_of_three() -> None:
    figures = {
        k: f for k, f in knife().figures.items() if k not in ("asymmetry", "thickness_behind_edge")
    }
    figures |= {"bevel_width_right": Figure(0.81, 0.03), "bevel_width_left": Figure(0.35, 0.03)}
    inputs = replace(knife(), figures=figures).inputs
    assert inputs["asymmetry"].origin is Origin.DERIVED
    assert inputs["asymmetry"].figure.mean == pytest.approx(100 * 0.81 / 1.16)
    assert inputs["thickness_behind_edge"].figure.mean == pytest.approx(0.30, abs=0.002)
    assert inputs["thickness_behind_edge"].origin is Origin.DERIVED


def test_the_angles_of_both_faces_stand_for_the_angle_nobody_read() -> None:
    figures = {k: f for k, f in knife().figures.items() if k != "edge_angle"}
    figures |= {"angle_right": Figure(17.0, 0.3), "angle_left": Figure(13.0, 0.3)}
    inputs = replace(knife(), figures=figures).inputs
    assert inputs["edge_angle"].figure.mean == 15.0
    assert inputs["angle_difference"].figure.mean == 4.0
    assert central(replace(knife(), figures=figures), "apex_offset") < 0


@given(
    st.sampled_from(sorted(k for k, t in KNIFE_TYPES.items() if t.predicted)),
    st.sampled_from(Grind),
)
def test_spine_and_height_are_enough_for_a_whole_blade_of_any_type(kind: str, grind: Grind) -> None:
    typical = KNIFE_TYPES[kind].typical
    figures = {key: Figure(sum(typical[key]) / 2, 0.05) for key in ("spine_heel", "height_heel")}
    blade = Blade(figures, knife_type=kind, grind=grind, steel=STEELS["C105U"])
    made = built(blade)
    assert made is not None
    assert made.mass_g > 0
    for p in predict([blade], draws=200)[0]:
        if p.card.key in ("cutting_force", "blade_mass", "tip_deflection", "release"):
            assert p.central is not None, p.key
            assert np.isfinite([p.central, p.low, p.high]).all(), p.key
            if p.card.key != "release":
                assert p.central > 0
            assert any(note.startswith("Inferred from type") for note in p.notes)


def test_blades_of_every_grind_together_are_each_as_alone() -> None:
    rows = [replace(knife(g), seed=i) for i, g in enumerate(Grind)]
    together = predict_arrays(rows, draws=150)
    for i, blade in enumerate(rows):
        alone = predict_arrays([blade], draws=150)
        for name in ("central", "low", "high"):
            ours, its = getattr(together, name)[i], getattr(alone, name)[0]
            assert np.allclose(ours, its, equal_nan=True), (blade.grind, name)


def test_a_left_handers_single_bevel_is_the_right_handers_mirrored() -> None:
    right = knife(Grind.SINGLE_BEVEL, spine_heel=3.6, edge_angle=11.0, asymmetry=100.0)
    left = knife(Grind.SINGLE_BEVEL, spine_heel=3.6, edge_angle=11.0, asymmetry=0.0)
    assert central(right, "force.fish.draw") == pytest.approx(central(left, "force.fish.draw"))
    assert central(right, "steering_force") == pytest.approx(-central(left, "steering_force"))
    assert central(right, "apex_offset") == pytest.approx(-central(left, "apex_offset"))


@given(st.floats(-0.6, 0.6), st.floats(0, 15), st.floats(0, 1), st.floats(10, 140))
def test_the_release_index_stays_between_0_and_100(
    bulge: float, angle: float, surface: float, height: float
) -> None:
    points = [float(p) for p in release_points(bulge, angle, surface, height)]
    assert sum(RELEASE_WEIGHTS.values()) == 100
    for won, of in zip(points, RELEASE_WEIGHTS.values(), strict=True):
        assert 0 <= won <= of

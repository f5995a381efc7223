"""What people who cut say of knives, held against the predictions for the demo shelf.

Facts of the trade are common practice without a published source.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import pytest
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.edge_life.retention import EdgeState, FoodMix, Kitchen
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.predict import drawn, predict_arrays
from maple_rook.store import records

ALL_ROUND, ROOTS = Kitchen(), Kitchen(food_mix=FoodMix.ROOTS)
FISH = Kitchen(food_mix=FoodMix.SLICING, shares=(("fish", 1.0),))
TOMATO = Kitchen(shares=(("tomato", 1.0),))
JOBS = {"all-round": ALL_ROUND, "roots": ROOTS, "fish": FISH, "tomato": TOMATO}
BONE_CHOPPER, PARING, SLICERS = "OM-21", "TH-08", {"BT-27", "PM-27"}
Shelf = dict[str, Blade]


@pytest.fixture
def shelf(db: Session) -> Shelf:
    pieces = records.pieces(db)
    return {
        p.tag: blade
        for p, blade in zip(pieces, records.blades(db, pieces, records.figures(db)), strict=True)
    }


def central(blades: Sequence[Blade], key: str, kitchen: Kitchen = ALL_ROUND) -> Array:
    found = predict_arrays(blades, kitchen, draws=10, shares=False)
    at = [t.key for t in found.targets].index(key)
    return found.central[:, at]


def in_order(shelf: Shelf, kitchen: Kitchen, key: str = "cutting_ease") -> list[str]:
    """Tags by ease, the easiest first; knives of which too little is known are left out."""
    eases = dict(zip(shelf, central(list(shelf.values()), key, kitchen), strict=True))
    known = {tag: ease for tag, ease in eases.items() if not np.isnan(ease)}
    return sorted(known, key=lambda tag: -known[tag])


def test_long_slicers_win_thin_slices_of_fish_single_bevel_or_not(shelf: Shelf) -> None:
    assert set(in_order(shelf, FISH)[:2]) == SLICERS


@pytest.mark.parametrize("job", JOBS)
def test_the_paring_knife_and_the_bone_chopper_win_no_job_on_the_board(
    shelf: Shelf, job: str
) -> None:
    order = in_order(shelf, JOBS[job])
    assert order.index(PARING) >= len(order) - 3
    assert order.index(BONE_CHOPPER) >= 2 * len(order) // 3 - 2


def test_small_work_in_the_hand_is_for_the_paring_knife_then_the_petties(shelf: Shelf) -> None:
    order = in_order(shelf, Kitchen(food_mix=FoodMix.SMALL))
    assert order[0] == PARING
    assert {shelf[tag].knife_type for tag in order[1:4]} == {"petty"}
    assert order[-1] == BONE_CHOPPER


def test_a_hand_that_draws_long_slices_gains_by_length_whatever_is_cut(shelf: Shelf) -> None:
    drawn_through = Kitchen(shares=(("tomato", 1.0),), stroke="draw")
    order, pushed = in_order(shelf, drawn_through), in_order(shelf, TOMATO)
    for slicer in SLICERS:
        assert order.index(slicer) < 3 < pushed.index(slicer)


def test_short_knives_lose_thin_slices_to_long_ones(shelf: Shelf) -> None:
    """What an edge is long, a draw is long: nothing under 175 mm is among the first twelve."""
    first = in_order(shelf, FISH)[:12]
    assert min(shelf[tag].figures["edge_length"].mean for tag in first) > 175


def test_a_thin_cheap_knife_beats_a_thick_dear_one_on_roots(shelf: Shelf) -> None:
    """The petty of a budget line against the heavy single bevel of a dear one."""
    order = in_order(shelf, ROOTS)
    assert order.index("QD-13") < order.index("BT-16")


def test_most_all_round_knives_get_through_a_quarter_of_swede(shelf: Shelf) -> None:
    kinds = ("gyuto", "santoku", "western_chef", "nakiri", "vegetable_cleaver")
    blades = [blade for blade in shelf.values() if blade.knife_type in kinds]
    forces = central(blades, "force.squash.push")
    forces = forces[~np.isnan(forces)]
    assert len(forces) > 15
    assert np.mean(forces < 125) > 0.9
    assert np.median(forces) > 60  # with effort


def test_the_thick_spined_thin_edged_and_the_thin_240_lead_the_soft_full_bolster(
    shelf: Shelf,
) -> None:
    for kitchen in (ALL_ROUND, ROOTS, TOMATO):
        order = in_order(shelf, kitchen)
        for better in ("HS-24", "PK-22"):
            assert order.index(better) < order.index("DG-20")


def test_a_single_bevel_steers_and_an_even_edge_does_not(shelf: Shelf) -> None:
    tags = [tag for tag, blade in shelf.items() if blade.grind is Grind.SINGLE_BEVEL]
    steering = dict(zip(shelf, central(list(shelf.values()), "steering_force"), strict=True))
    assert tags
    for tag in tags:
        assert 5 < abs(steering[tag]) < 15
    even = [
        tag
        for tag, blade in shelf.items()
        if (found := blade.figures.get("asymmetry")) and found.mean == 50
    ]
    assert max(abs(steering[tag]) for tag in even) < 2


def test_half_worn_every_knife_cuts_worse_and_a_thin_one_stays_ahead(shelf: Shelf) -> None:
    blades = list(shelf.values())
    fresh, worn = central(blades, "cutting_ease"), central(blades, "worn_ease")
    known = ~np.isnan(fresh)
    assert np.all(worn[known] < fresh[known])
    order = in_order(shelf, ALL_ROUND, "worn_ease")
    assert order.index("PK-22") < order.index("DG-20")


def test_a_dull_edge_shows_first_on_tomato_on_every_knife(shelf: Shelf) -> None:
    blades = list(shelf.values())
    dull = Kitchen(edge=EdgeState.DULL)
    worse = np.array(
        [
            central(blades, f"force.{food}.push", dull) / central(blades, f"force.{food}.push")
            for food in FOODS
        ]
    )
    known = ~np.isnan(worse).any(axis=0)
    assert known.sum() > 25
    assert set(np.argmax(worse[:, known], axis=0)) == {list(FOODS).index("tomato")}


U = {
    "spine_heel": 0.03,
    "spine_mid": 0.03,
    "spine_tip": 0.03,
    "edge_length": 0.5,
    "height_heel": 0.2,
    "height_mid": 0.2,
    "thickness_behind_edge": 0.03,
    "edge_angle": 0.8,
    "asymmetry": 3.0,
}
"""Standard uncertainties of a usual sheet: mm, degrees, percent right."""
THIN = {
    "spine_heel": 1.9,
    "spine_mid": 1.7,
    "spine_tip": 0.8,
    "edge_length": 240.0,
    "height_heel": 48.0,
    "height_mid": 42.0,
    "thickness_behind_edge": 0.25,
    "edge_angle": 13.0,
    "asymmetry": 50.0,
}
STURDY = {**THIN, "spine_heel": 2.6, "thickness_behind_edge": 0.35, "edge_angle": 16.0}


def test_the_interval_of_a_difference_of_ease_holds_the_truth_as_often_as_it_says() -> None:
    """Two blades are measured 1,000 times over, each time with other errors: 87 to 93 %.

    What no reading tells, such as the radius of the edge, is another one each time as well.
    """
    rng = np.random.default_rng(20)
    times = 1000

    def eases(blades: Sequence[Blade], draws: int) -> Array:
        key = "cutting_ease"
        found = drawn(blades, ALL_ROUND, foods=list(FOODS.values()), draws=draws, only=[key])
        return np.log(found[key])

    def blade(true: dict[str, float], seed: int, *, errors: bool = True) -> Blade:
        read = {
            k: Figure(rng.normal(v, errors * U[k]), U[k] if errors else 1e-9)
            for k, v in true.items()
        }
        return Blade(read, grind=Grind.FULL_FLAT, seed=seed)

    truth = np.subtract(
        *eases([blade(t, n, errors=False) for n, t in enumerate((THIN, STURDY))], times)
    )
    thin, sturdy = (
        eases([blade(t, times * n + i) for i in range(times)], 200)
        for n, t in ((1, THIN), (2, STURDY))
    )
    low, high = np.quantile(thin - sturdy, (0.05, 0.95), axis=1)
    held = np.mean((low <= truth) & (truth <= high))
    assert 0.87 <= held <= 0.93

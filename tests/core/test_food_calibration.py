"""What cut trials teach of a food, on trials drawn from known foods, knives and lots."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from maple_rook.core.cutting import food_calibration as fc
from maple_rook.core.cutting.cut_record import curve_record, peak_record
from maple_rook.core.cutting.foods import FOOD_SCATTER, FOODS, STROKES, Food
from maple_rook.core.cutting.force import curves_n, parts_n
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import Section, flat_section

PUSH, EDGE_MM, RADIUS_UM = STROKES["push"], 210.0, 0.75
SHAPES = [  # spine at the three places, height, behind the edge, degrees per side
    ((2.2, 2.0, 1.4), 45.0, 0.30, 15.0),
    ((1.9, 1.8, 1.5), 46.0, 0.15, 12.0),
    ((3.2, 3.0, 2.6), 46.0, 0.50, 20.0),
    ((1.3, 1.2, 1.0), 44.0, 0.35, 18.0),
    ((2.6, 2.2, 1.2), 47.0, 0.35, 16.0),
    ((4.2, 4.0, 3.6), 50.0, 0.80, 22.0),
]


def sections(at: int) -> Section:
    spine, height, behind, angle = SHAPES[at]
    return flat_section(np.array(spine), np.full(3, height), behind, angle)


def cut_of(
    assumed: Food, true: Food, knife: int, offset: float = 0.0, noise: float = 0.0, **more: object
) -> fc.Cut:
    """A cut followed by depth, of a food that is in truth another."""
    depth = np.linspace(1, assumed.height_mm, 12)
    of = sections(knife)
    force = curves_n(of, [true], [PUSH], RADIUS_UM, EDGE_MM, depth[None])[0, 0]
    terms = fc.terms_of(of, assumed, PUSH, RADIUS_UM, EDGE_MM, depth)
    record = curve_record(assumed, depth, force * np.exp(offset + noise))
    return fc.Cut(knife, assumed.key, str(more.get("lot", "")), record, terms)


def peak_n(food: Food) -> float:
    depth = np.array([[food.height_mm]])
    return float(curves_n(sections(0), [food], [PUSH], RADIUS_UM, EDGE_MM, depth)[0, 0, 0])


@pytest.mark.parametrize("key", FOODS)
def test_the_terms_add_up_to_the_model_whatever_the_food_is(key: str) -> None:
    """The force is linear in toughness, stiffness and adhesion: checked against its own parts."""
    assumed, factors = FOODS[key], np.array([1.7, 0.4, 2.2])
    true = assumed.resisting(*factors)
    depth = np.array([3.0, 10.0, assumed.height_mm])
    terms = fc.terms_of(sections(0), assumed, PUSH, RADIUS_UM, EDGE_MM, depth)
    whole = parts_n(sections(0), true, RADIUS_UM, 0.0, depth[:, None]).total
    along = (np.broadcast_to(whole, (3, 3)) * np.array(PUSH.weights)).sum(axis=-1)
    assert terms.force_n(factors) == pytest.approx(along, rel=1e-9)


@pytest.mark.parametrize("key", ["tomato", "carrot", "cheese"])
def test_a_shops_own_food_is_found_from_curves(key: str) -> None:
    assumed = FOODS[key]
    true = assumed.resisting(1.4, 0.7, 1.5)
    cuts = [cut_of(assumed, true, i, lot=f"lot {n}") for i in range(6) for n in range(6)]
    found = fc.calibrated(list(FOODS.values()), cuts)
    fit = found.fits[key]
    for name, sd in zip(fc.FITTED, fit.sds, strict=True):
        off = np.log(getattr(fit.food, name) / getattr(true, name))
        assert abs(off) < 2 * sd
    toughness = fit.food.toughness_j_m2
    assert toughness == pytest.approx(true.toughness_j_m2, rel=0.12)
    assert fit.food.knives_tried == 6
    assert found.foods(list(FOODS.values()))[0].key == "tomato"
    assert set(found.fits) == {key}


def test_one_peak_moves_a_food_as_a_conjugate_normal_does() -> None:
    """By hand: with parting alone, mean = miss x prior / (prior + lot + knife + scatter)."""
    bare = replace(
        FOODS["carrot"], modulus_mpa=0, crush_mpa=0, stiffness_n_mm3=0, friction=0, adhesion_kpa=0
    )
    depth = np.array([bare.height_mm])
    terms = fc.terms_of(sections(0), bare, PUSH, RADIUS_UM, EDGE_MM, depth)
    assumed = float(terms.force_n(np.ones(3))[0])
    cut = fc.Cut(1, "carrot", "", peak_record(bare, assumed * np.exp(0.3)), terms)
    found = fc.calibrated([bare], [cut])
    variance = np.array([fc.PRIOR_SD[0], fc.LOT_SD, fc.KNIFE_SD, found.scatter]) ** 2
    moved = np.log(found.fits["carrot"].food.toughness_j_m2 / bare.toughness_j_m2)
    assert moved == pytest.approx(0.3 * variance[0] / variance.sum(), rel=1e-4)
    left = variance[0] * (1 - variance[0] / variance.sum())
    assert found.fits["carrot"].sds[0] == pytest.approx(np.sqrt(left), rel=1e-4)
    assert found.fits["carrot"].food.stiffness_n_mm3 == 0


def test_ninety_per_cent_intervals_hold_what_they_say() -> None:
    """Shops drawn from what is assumed of them: foods, lots, knives and cuts all vary."""
    rng, inside, scores = np.random.default_rng(7), [], []
    for _ in range(120):
        cuts, true = [], {}
        knives = rng.normal(0, fc.KNIFE_SD, 4)
        for key in ("tomato", "carrot"):
            true[key] = FOODS[key].resisting(*np.exp(rng.normal(0, fc.PRIOR_SD)))
            for lot in ("one", "two"):
                of_lot = rng.normal(0, fc.LOT_SD)
                for i, knife in enumerate(knives):
                    noise = rng.normal(0, fc.CUT_SD)
                    offset = of_lot + knife
                    cuts.append(cut_of(FOODS[key], true[key], i, offset, noise, lot=lot))
        found = fc.calibrated(list(FOODS.values()), cuts)
        for key, fit in found.fits.items():
            for name, sd in zip(fc.FITTED, fit.sds, strict=True):
                z = np.log(getattr(fit.food, name) / getattr(true[key], name)) / sd
                inside.append(abs(z) < 1.645)
                scores.append(z)
            next_lot = np.exp(rng.normal(0, fc.LOT_SD))
            peaks = [peak_n(food) for food in (true[key], fit.food)]
            inside.append(abs(np.log(peaks[0] * next_lot / peaks[1])) < 1.645 * fit.food.spread)
    assert 0.87 < np.mean(inside) < 0.95
    assert abs(np.mean(scores)) < 0.15


def test_what_was_learned_from_other_knives_predicts_one_left_out() -> None:
    rng = np.random.default_rng(3)
    true = FOODS["carrot"].resisting(1.6, 1.3, 1.0)
    cuts = [cut_of(FOODS["carrot"], true, i, noise=rng.normal(0, 0.06)) for i in range(5)]
    foods = list(FOODS.values())
    left_out = fc.leave_one_out(foods, cuts, fc.calibrated(foods, cuts).scatter)
    assert left_out is not None
    before, after = left_out.errors
    assert before > 0.25
    assert after < 0.12
    assert fc.leave_one_out(foods, cuts[:1], fc.CUT_SD) is None


def test_a_tried_food_is_known_better_than_an_assumed_one() -> None:
    cuts = [cut_of(FOODS["carrot"], FOODS["carrot"], i) for i in range(4)]
    found = fc.calibrated(list(FOODS.values()), cuts)
    assert fc.LOT_SD < found.fits["carrot"].food.spread < FOOD_SCATTER
    assert fc.calibrated([FOODS["tomato"]], cuts) is fc.UNTRIED


CARROT = FOODS["carrot"]
DEPTH = np.linspace(0, 28, 29)
FORCE = np.linspace(1, 30, 29)
GAP = np.arange(8, 20)


@pytest.mark.parametrize(
    ("depth", "force", "notes", "left_out"),
    [
        (DEPTH, FORCE, (), ""),
        (np.r_[DEPTH, 20, 10], np.r_[FORCE, 8, 2], ("2 points left out: the blade was",), ""),
        (DEPTH, np.minimum(FORCE, 19.6), ("11 points left out: the load cell was satur",), ""),
        (np.delete(DEPTH, GAP), np.delete(FORCE, GAP), ("nothing read from 7 to 20",), ""),
        (DEPTH[:10], FORCE[:10], (), "it ends at 9 of 28 mm"),
        (np.r_[DEPTH, 40], np.r_[FORCE, 31], ("1 point left out: not between the top",), ""),
    ],
)
def test_what_is_odd_in_a_cut_is_left_out_and_said(
    depth: np.ndarray, force: np.ndarray, notes: tuple[str, ...], left_out: str
) -> None:
    found = curve_record(CARROT, depth, force)
    assert len(found.notes) == len(notes)
    assert all(said.startswith(want) for said, want in zip(found.notes, notes, strict=True))
    assert found.left_out == left_out
    assert found.depth_mm.max() <= 1.1 * CARROT.height_mm


@pytest.mark.parametrize(
    ("depth", "force", "word"),
    [
        (FORCE[:20] + np.resize([0, -3], 20), DEPTH[:20], "swapped"),
        (DEPTH, FORCE[:-1], "29 depths and 28 forces"),
        (DEPTH, np.where(DEPTH == 5, np.nan, FORCE), "no number"),
        (DEPTH, np.zeros(29), "a peak of 0.5 N or more"),
        ([], [], "0 depths"),
    ],
)
def test_a_cut_that_is_none_is_refused_in_words(
    depth: np.ndarray, force: np.ndarray, word: str
) -> None:
    with pytest.raises(InvalidValue, match=word):
        curve_record(CARROT, depth, force)


@pytest.mark.parametrize("peak", [0.0, -3.0, 1e9, float("nan")])
def test_a_peak_no_hand_makes_is_refused(peak: float) -> None:
    with pytest.raises(InvalidValue, match="peak force"):
        peak_record(CARROT, peak)

"""What the trade says of knives and customers, held against the judgement.

Facts of the trade are common practice without a published source; published sources are named
beside the check.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats

from candidates import Shown, knife, single_bevel
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Grip,
    Hand,
    Heft,
    Motion,
    Ratio,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.customers import PRESETS
from maple_rook.core.choosing.deciding import FIGURES, desirabilities, kitchen_of, margin
from maple_rook.core.choosing.judging import judge
from maple_rook.core.choosing.ruling import rod_rule, stops, warnings
from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    FoodMix,
    Kitchen,
    RodSchool,
    Technique,
    Use,
)
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import Dimension
from maple_rook.core.prediction.model_blade import USUAL_COUNTS_AS, next_piece, spread
from maple_rook.core.prediction.predict import predict


def made(**figures: float) -> Candidate:
    """The invented knife with some of its figures otherwise."""
    plain = knife()
    changed = {key: Figure(value, 0.2) for key, value in figures.items()}
    return replace(plain, blade=replace(plain.blade, figures={**plain.blade.figures, **changed}))


def typed(candidate: Candidate, knife_type: str) -> Candidate:
    return replace(candidate, blade=replace(candidate.blade, knife_type=knife_type))


def desirable(
    profile: CustomerProfile, knives: Sequence[Candidate], criterion: Criterion
) -> list[float]:
    """Desirability by one criterion where ease, months and release are the same for all."""
    n = len(knives)
    figures = dict(zip(FIGURES, (np.full(n, v) for v in (100.0, 3.0, 40.0)), strict=True))
    found = desirabilities(profile, traits(knives), figures)[:, CRITERIA.index(criterion)]
    return [round(float(d), 9) for d in found]


@pytest.mark.parametrize(
    ("hrc", "rods", "words"),
    [
        (55.0, RodSchool.NONE, "A steel rod"),
        (58.0, RodSchool.NONE, "A steel rod"),
        (60.0, RodSchool.NONE, "A fine ceramic rod, lightly"),
        (63.0, RodSchool.NONE, "No rod on an edge this hard"),
        (63.0, RodSchool.LIGHT, "very lightly"),
    ],
)
def test_steel_rods_to_58_fine_ceramic_to_62_and_two_schools_above(
    hrc: float, rods: RodSchool, words: str
) -> None:
    """Common practice."""
    assert words in rod_rule(CustomerProfile(rods=rods), knife(hrc=hrc))


@pytest.mark.parametrize("tools", list(Tools))
@pytest.mark.parametrize("rods", list(RodSchool))
def test_no_rod_is_ever_advised_for_a_single_bevel(tools: Tools, rods: RodSchool) -> None:
    """Common practice: never use a rod on a single-bevel blade."""
    profile = CustomerProfile(tools=tools, rods=rods)
    assert rod_rule(profile, single_bevel(100)).startswith("Never a rod on a single bevel")
    ruled_out = bool(stops(profile, single_bevel(100)))
    assert ruled_out == (tools in (Tools.ROD, Tools.NOTHING))


@pytest.mark.parametrize(
    ("profile", "better", "worse", "criterion"),
    [
        (CustomerProfile(heft=Heft.LIGHT), made(weight=150), made(weight=260), Criterion.HANDLING),
        (CustomerProfile(heft=Heft.HEFT), made(weight=260), made(weight=150), Criterion.HANDLING),
        (
            CustomerProfile(skill=Skill.LEARNER),
            made(edge_length=180),
            made(edge_length=270),
            Criterion.HANDLING,
        ),
        (
            CustomerProfile(grip=Grip.PINCH),
            made(balance_point=12),
            made(balance_point=-50),
            Criterion.HANDLING,
        ),
        (
            CustomerProfile(grip=Grip.HANDLE),
            made(balance_point=-5, handle_length=128),
            made(balance_point=45, handle_length=100),
            Criterion.HANDLING,
        ),
        (
            CustomerProfile(motion=Motion.PUSH),
            typed(made(), "nakiri"),
            typed(made(), "western_chef"),
            Criterion.BOARD,
        ),
        (
            CustomerProfile(motion=Motion.ROCK),
            typed(made(), "western_chef"),
            typed(made(), "nakiri"),
            Criterion.BOARD,
        ),
        (
            CustomerProfile(size=Size.LONG, motion=Motion.SLICE),
            made(edge_length=270, height_heel=36),
            made(edge_length=270, height_heel=58),
            Criterion.BOARD,
        ),
        (
            CustomerProfile(size=Size.SMALL),
            made(edge_length=120, height_heel=26),
            made(edge_length=240),
            Criterion.BOARD,
        ),
        (
            CustomerProfile(bone=Bone.AROUND),
            made(edge_length=150, height_heel=38, spine_heel=3.2),
            made(edge_length=210, height_heel=50, spine_heel=2.0),
            Criterion.BOARD,
        ),
        (CustomerProfile(), knife("1.4116"), knife("C105U"), Criterion.UPKEEP),
        (CustomerProfile(), knife(hrc=62), knife(hrc=56), Criterion.ROBUSTNESS),
        (CustomerProfile(), made(edge_angle=18), made(edge_angle=12), Criterion.ROBUSTNESS),
        (CustomerProfile(), knife(price=80), knife(price=240), Criterion.VALUE),
    ],
)
def test_what_a_customer_wants_is_what_scores(
    profile: CustomerProfile, better: Candidate, worse: Candidate, criterion: Criterion
) -> None:
    """Common practice, one fact a row."""
    high, low = desirable(profile, [better, worse], criterion)
    assert high > low


def test_weight_is_a_preference_and_never_a_defect() -> None:
    """Common practice: two schools on weight; where it is no matter, it is none."""
    light, heavy = made(weight=140), made(weight=330)
    alike = desirable(CustomerProfile(heft=Heft.EITHER), [light, heavy], Criterion.HANDLING)
    assert alike[0] == alike[1]


@pytest.mark.parametrize("care", list(Care))
def test_worse_care_never_makes_a_reactive_knife_the_easier_to_keep(care: Care) -> None:
    """Common practice: acid and wet rust a reactive blade, and a dishwasher is a stop."""
    stainless, reactive = knife("1.4116", 57.0), knife("90MnCrV8", 60.0)
    profile = CustomerProfile(care=care)
    high, low = desirable(profile, [stainless, reactive], Criterion.UPKEEP)
    assert high > low
    assert any("rusts" in r for r in stops(profile, reactive)) == (care is Care.DISHWASHER)
    assert any("Reacts" in w for w in warnings(profile, reactive))
    assert not any("Reacts" in w for w in warnings(profile, stainless))


@pytest.mark.parametrize(
    ("technique", "bone", "load"),
    [
        (Technique.CAREFUL, Bone.NONE, 0.25),
        (Technique.NORMAL, Bone.NONE, 0.7),
        (Technique.ROUGH, Bone.NONE, 1.8),
        (Technique.NORMAL, Bone.AROUND, 1.8),
        (Technique.CAREFUL, Bone.THROUGH, 4.5),
    ],
)
def test_the_margin_is_the_load_borne_over_that_of_the_roughest_stroke(
    technique: Technique, bone: Bone, load: float
) -> None:
    """0.02 mm of yield: q = 0.02 sigma tan^2 th / 1.5 with sigma = 9.81 HV/3 (Tabor 1951);
    60 HRC is 697 HV (ASTM E140, from memory)."""
    of = traits([made(hardness=60.0, edge_angle=15.0)])
    sigma = 9.81 * 697 / 3
    borne = 0.02 * sigma * np.tan(np.radians(15)) ** 2 / 1.5
    profile = CustomerProfile(kitchen=Kitchen(technique=technique), bone=bone)
    assert margin(profile, of)[0] == pytest.approx(borne / load, rel=2e-3)


@pytest.mark.parametrize("tools", list(Tools))
def test_an_edge_is_honed_where_there_is_something_to_hone_it_with(tools: Tools) -> None:
    honed = kitchen_of(CustomerProfile(tools=tools)).honed
    assert honed == (tools in (Tools.ROD, Tools.STONES))


@pytest.mark.parametrize(
    ("key", "text", "dimension", "plain"),
    [
        ("edge_length", "8 1/4 in", Dimension.LENGTH, 209.55),
        ("weight", "6.35 oz", Dimension.MASS, 180.02),
        ("edge_angle", "28° incl", Dimension.ANGLE, 14.0),
        ("spine_heel", "0.083 in", Dimension.LENGTH, 2.108),
    ],
)
def test_the_unit_a_reading_was_typed_in_changes_nothing(
    key: str, text: str, dimension: Dimension, plain: float
) -> None:
    """International yard and pound agreement of 1959: 25.4 mm an inch, 28.349523 g an ounce."""
    typed_in, metric = made(**{key: parse_typed(text, dimension).base_value}), made(**{key: plain})
    for profile in PRESETS.values():
        assert stops(profile, typed_in) == stops(profile, metric)
        for criterion in Criterion:
            one, other = desirable(profile, [typed_in, metric], criterion)
            assert one == pytest.approx(other, abs=2e-3)


def test_a_hard_kitchen_is_no_fault_of_the_knife() -> None:
    """Months fall by u b t in a rough kitchen; how a knife compares by them stays the same."""
    rough = Kitchen(Use.PROFESSIONAL, BoardMaterial.BAMBOO, Technique.ROUGH)
    at = CRITERIA.index(Criterion.LIFE)
    found = []
    for kitchen in (Kitchen(), rough):
        months = 3.0 * Kitchen().harshness() / kitchen.harshness()
        figures = dict(zip(FIGURES, (np.array([v]) for v in (100.0, months, 40.0)), strict=True))
        profile = CustomerProfile(kitchen=kitchen)
        found.append(float(desirabilities(profile, traits([knife()]), figures)[0, at]))
    assert found[0] == pytest.approx(found[1])


def test_the_probability_of_being_first_is_the_exact_normal_one() -> None:
    """Two knives that differ in ease alone: P(A first) = Phi(ln(a / b) / (s sqrt 2)), exactly.

    The mean being geometric, weights that are drawn alike for both cannot turn the order.
    """
    profile, spread_of = CustomerProfile(), 0.08
    shown = Shown([knife(), knife()], [100.0, 95.0], [3.0, 3.0], spread_of)

    def drawn(some: Sequence[Candidate], _: CustomerProfile) -> dict[str, np.ndarray]:
        z = np.random.default_rng(7).standard_normal((2, 200_000))
        at = [k.blade.seed for k in some]
        ease = np.array([[100.0], [95.0]]) * np.exp(spread_of * z)
        return {
            key: (ease if key == "cutting_ease" else np.full_like(ease, 3.0))[at] for key in FIGURES
        }

    cheap = [replace(k, price=None) for k in shown.knives]  # value would follow the ease
    found = judge(profile, cheap, drawn)
    exact = stats.norm.cdf(np.log(100 / 95) / (spread_of * np.sqrt(2)))
    assert found.ranked.ahead[0, 1] == pytest.approx(exact, abs=0.005)


@pytest.mark.parametrize("n", [2, 3, 5, 9])
def test_the_usual_spread_fades_as_pieces_are_measured(n: int) -> None:
    """Scaled inverse chi-squared prior (Gelman et al., Bayesian Data Analysis, from memory)."""
    values = [186.0 + (-1) ** i * 12.0 for i in range(n)]
    seen = float(np.std(values, ddof=1))
    usual = 0.03 * float(np.mean(values))
    found = spread("weight", values).deviation
    assert usual < found < seen
    weight = (USUAL_COUNTS_AS * usual**2 + (n - 1) * seen**2) / (USUAL_COUNTS_AS + n - 1)
    assert found**2 == pytest.approx(weight)


def test_one_piece_tells_of_itself_and_hardly_of_the_next() -> None:
    """Common practice: one piece taken for the model is a mistake."""
    one = Figure(60.0, 0.4)
    assert next_piece("hardness", [one]).expanded > 2 * one.expanded


def test_reading_the_ratio_by_another_school_moves_an_uneven_edge_alone() -> None:
    """Closed forms, T behind the edge: 70:30 by widths lies 0.20 T off the middle; by angles the
    bevels are as tall as each other, so (tan 0.7a - tan 0.3a) / (tan 0.7a + tan 0.3a) T/2."""
    uneven, even = (made(asymmetry=n, thickness_behind_edge=0.3) for n in (70.0, 50.0))
    assert even.read_as(Ratio.ANGLE) is even
    turned = uneven.read_as(Ratio.ANGLE)
    widths, angles = (
        next(p.central for p in predict([k.blade], draws=100)[0] if p.key == "apex_offset")
        for k in (uneven, turned)
    )
    wide, narrow = (np.tan(np.radians(share * 2 * 14.0)) for share in (0.7, 0.3))
    assert widths == pytest.approx(-0.20 * 0.3)
    assert angles == pytest.approx(-0.15 * (wide - narrow) / (wide + narrow))
    strokes = replace(uneven, blade=replace(uneven.blade, school=None))
    assert strokes.read_as(Ratio.ANGLE) is strokes, "a share of strokes computes nothing"


@pytest.mark.parametrize("label", list(PRESETS))
def test_every_preset_can_be_followed_by_either_hand_and_school(label: str) -> None:
    for hand in Hand:
        for school in School:
            profile = replace(PRESETS[label], hand=hand, school=school)
            assert profile.weights.min() > 0
            assert not any("hand" in reason for reason in stops(profile, knife()))


def test_shares_of_foods_weigh_the_ease_and_go_before_the_usual_mix() -> None:
    """A knife thin behind the edge gains on tomato what a flat thin spine gains on squash."""

    def ease(kitchen: Kitchen) -> float:
        found = predict([knife().blade], kitchen, draws=100)[0]
        return next(p.central for p in found if p.key == "cutting_ease") or 0.0

    roots = ease(Kitchen(food_mix=FoodMix.ROOTS))
    assert ease(Kitchen(shares=(("carrot", 5.0), ("squash", 5.0)))) == pytest.approx(roots)
    assert ease(Kitchen(food_mix=FoodMix.ROOTS, shares=(("tomato", 1.0),))) != pytest.approx(roots)

"""The verdict: stops before scores, whatever the order, honest about ties and schools."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from candidates import Shown, knife, profiles, single_bevel, thin, vague
from maple_rook.core.choosing.advice import OnShelf, advise
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import CustomerProfile, Hand, School, Tools
from maple_rook.core.choosing.deciding import scores
from maple_rook.core.choosing.judging import Judgement, judge
from maple_rook.core.choosing.owning import Terms
from maple_rook.core.choosing.ruling import ruled_by, stops, warnings
from maple_rook.core.choosing.verdict import FACTS, Sentence, verdict
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.model_blade import USUAL_COUNTS_AS, model_blade, next_piece, spread

knives_on_board = st.lists(
    st.builds(
        lambda made, price: replace(made, price=price),
        st.sampled_from(
            [
                knife(),
                knife("C105U", 62.5),
                knife("1.4116", 56.0),
                knife(hrc=44),
                knife("HS6-5-2", 66.0),
                single_bevel(100),
                single_bevel(0),
                thin(),
                vague(55.0),
                knife(knife_type="bone_chopper"),
                knife(knife_type="serrated"),
            ]
        ),
        st.one_of(st.none(), st.floats(20, 400)),
    ),
    min_size=2,
    max_size=6,
)
figures = st.tuples(
    st.lists(st.floats(60, 140), min_size=6, max_size=6),
    st.lists(st.floats(0.5, 8), min_size=6, max_size=6),
)
Figures = tuple[list[float], list[float]]


def judged(
    profile: CustomerProfile,
    knives: Sequence[Candidate],
    ease: Sequence[float],
    months: Sequence[float],
    order: Sequence[int] | None = None,
    spread: float = 0.05,
) -> Judgement:
    """These knives judged, laid in some order; the draws go with the knife."""
    shown = Shown(knives, ease[: len(knives)], months[: len(knives)], spread)
    laid = [shown.knives[i] for i in (range(len(knives)) if order is None else order)]
    return judge(profile, laid, shown.drawn, Terms(charge=14.0))


def sentences(
    profile: CustomerProfile,
    knives: Sequence[Candidate],
    ease: float,
    month: float,
    names: str = "AB",
) -> list[Sentence]:
    """The verdict on two knives, the second easier by ``ease`` and lasting ``month`` longer."""
    both = [100.0, 100 * ease], [3.0, 3 * month]
    found = judged(profile, knives, *both)
    draws = Shown(knives, *both).drawn
    facts = draws(Shown(knives, *both).knives, profile)
    every = {key: facts.get(key, facts["months_to_stone"]) for key in FACTS}
    shown = {key: np.median(values, axis=1) for key, values in every.items()}
    return verdict(found, knives, names, every, shown, [[] for _ in knives])


@settings(max_examples=40, deadline=None)
@given(profiles, knives_on_board, figures, st.randoms())
def test_the_order_of_the_strip_never_changes_the_verdict(
    profile: CustomerProfile, knives: list[Candidate], figures: Figures, random: object
) -> None:
    order = list(range(len(knives)))
    random.shuffle(order)  # type: ignore[attr-defined]
    one, other = judged(profile, knives, *figures), judged(profile, knives, *figures, order=order)
    back = [order[i] for i in other.order]
    assert sorted(back) == sorted(one.order)
    scored = dict(zip(one.standing, one.score[:, 0], strict=True))
    assert [scored[i] for i in back] == pytest.approx([scored[i] for i in one.order])
    assert [one.reasons[i] for i in order] == list(other.reasons)
    if len(set(scored.values())) == len(scored):
        assert back == one.order
        assert {order[i] for i in other.tied} == one.tied
        assert [order[s.at] for s in other.schools] == [s.at for s in one.schools]
    assert other.deciding == one.deciding or len(set(scored.values())) < len(scored)


@settings(max_examples=40, deadline=None)
@given(profiles, knives_on_board, figures)
def test_a_stop_always_wins_over_a_score(
    profile: CustomerProfile, knives: list[Candidate], figures: Figures
) -> None:
    found = judged(profile, knives, *figures)
    for i, candidate in enumerate(knives):
        assert bool(stops(profile, candidate)) == (i not in found.order)
    assert set(found.tied) <= set(found.order)
    assert {s.at for s in found.schools} <= set(found.order)
    assert found.ranked.first.sum() == pytest.approx(1 if found.order else 0)


@settings(max_examples=40, deadline=None)
@given(profiles, knives_on_board, figures)
def test_a_worse_knife_never_changes_the_order_of_the_others(
    profile: CustomerProfile, knives: list[Candidate], figures: Figures
) -> None:
    ease, months = figures
    before = judged(profile, knives, ease, months)
    shown = Shown(
        [*knives, knives[0]], [*ease[: len(knives)], 52.0], [*months[: len(knives)], 0.41]
    )
    same = Shown(knives, ease[: len(knives)], months[: len(knives)])
    worse = judge(
        profile,
        shown.knives,
        lambda some, j: {
            key: np.concatenate([values, *[shown.drawn([k], j)[key] for k in some[len(values) :]]])
            for known in [[k for k in some if k.blade.seed < len(knives)]]
            for key, values in same.drawn(known, j).items()
        },
    )
    alone = judge(profile, same.knives, same.drawn)
    assert [i for i in worse.order if i < len(knives)] == alone.order
    assert set(before.order) == set(alone.order)


@settings(max_examples=40, deadline=None)
@given(profiles, figures)
def test_a_weight_moved_as_far_as_is_said_makes_two_level(
    profile: CustomerProfile, figures: Figures
) -> None:
    """Exact: ln of a weighted geometric mean times the sum of weights is linear in a weight."""
    found = judged(profile, [knife(price=90), knife("1.4116", 57.0, 60)], *figures, spread=1e-9)
    for w in found.weighings:
        assert w.at == found.order[1]
        weights = profile.weights
        weights[CRITERIA.index(w.criterion)] *= w.times
        logs = np.log(np.maximum(found.desirable, 0.02))
        assert (logs[0] @ weights) == pytest.approx(logs[1] @ weights, abs=1e-6)


def test_switching_the_school_changes_the_verdict_and_it_says_so() -> None:
    keen, lasting = knife(), knife()
    told = sentences(CustomerProfile(label="prep line"), [lasting, keen], 1.35, 0.62)
    assert told[0].text.startswith("B suits the prep line best: it comes first in")
    assert Sentence("With steel first, A would be best.", ("schools",)) in told
    steel = sentences(CustomerProfile(school=School.STEEL), [lasting, keen], 1.35, 0.62)
    assert steel[0].text.startswith("A suits this customer best")
    assert not any(s.evidence == ("schools",) and "A would" in s.text for s in steel)


def test_two_that_are_alike_are_a_tie_in_the_verdict_too() -> None:
    told = [s.text for s in sentences(CustomerProfile(), [knife(), knife()], 1.0, 1.0)]
    assert told[0].startswith("For this customer, A and B are too close to call: ")
    assert "In cutting ease A and B cannot be told apart." in told
    assert not any("decides" in text for text in told), "nothing decides between twins"


def test_a_percent_difference_in_the_verdict_names_its_base() -> None:
    told = [s.text for s in sentences(CustomerProfile(), [knife(), knife()], 1.25, 1.0)]
    said = r"Between B and A, cutting ease decides: B's cutting ease is 125, A's 100 \(2\d % more"
    assert any(re.match(said + r" than A\)\.", text) for text in told), told
    assert any(re.match(r"B cuts most easily: 2\d % more than A", text) for text in told)


def test_what_decides_is_never_called_hardly_noticed() -> None:
    """12 % more ease is real with so little scatter, and nobody notices it: it decides nothing."""
    for ease in (1.12, 1.19, 1.25):
        told = [s.text for s in sentences(CustomerProfile(), [knife(), knife()], ease, 1.0)]
        decided = [text for text in told if "cutting ease decides" in text]
        unnoticed = [text for text in told if text.startswith("B cuts") and "few would" in text]
        assert bool(decided) != bool(unnoticed), told
        assert bool(decided) == (ease > 1.2)


def test_of_several_every_difference_to_the_best_is_told() -> None:
    knives = [knife() for _ in range(4)]
    shown = Shown(knives, [130.0, 100.0, 80.0, 128.0], [3.0] * 4)
    found = judge(CustomerProfile(), shown.knives, shown.drawn)
    facts = dict.fromkeys(FACTS, shown.drawn(shown.knives, CustomerProfile())["cutting_ease"])
    central = dict.fromkeys(FACTS, shown.central["cutting_ease"])
    told = verdict(found, knives, "ABCD", facts, central, [[]] * 4)
    [ease] = [s.text for s in told if s.evidence == ("prediction.cutting_ease",)]
    assert ease == "A cuts most easily: 30 % more than B, 62 % more than C; D may match it."


def test_a_knife_ruled_out_is_named_with_its_reason_and_none_may_be_left() -> None:
    left = CustomerProfile(hand=Hand.LEFT, tools=Tools.STONES)
    told = sentences(left, [knife(), single_bevel(100)], 1.2, 1.2)
    assert [s.text for s in told[:2]] == [
        "Only A suits this customer; the other is ruled out.",
        "B is ruled out. Left-handed, and this is ground for the right hand.",
    ]
    none = sentences(left, [single_bevel(100), single_bevel(100)], 1.0, 1.0)
    assert none[0].text == "None of these suits this customer."


def test_the_dearer_knife_that_suits_no_better_is_pointed_out() -> None:
    told = sentences(CustomerProfile(), [knife(price=240.0), knife(price=90.0)], 1.3, 1.3)
    assert Sentence("B costs no more than A and suits at least as well.", ("price",)) in told


def test_every_sentence_has_its_evidence() -> None:
    known = {
        "score",
        "schools",
        "price",
        *(f"criterion.{c.value}" for c in Criterion),
        *(f"prediction.{key}" for key in FACTS),
        "stop.A",
        "stop.B",
    }
    for other in (knife(price=60.0), single_bevel(100)):
        for said in sentences(CustomerProfile(), [knife(), other], 1.3, 0.5):
            assert said.evidence
            assert set(said.evidence) <= known


def test_weights_are_drawn_about_themselves_and_alike_for_every_knife() -> None:
    profile = CustomerProfile()
    drawn = profile.weight_draws(4000)
    assert np.median(drawn, axis=0) == pytest.approx(profile.weights, rel=0.05)
    level = np.full((2, len(CRITERIA)), 0.4)
    assert scores(profile, level) == pytest.approx([0.4, 0.4])


@given(st.lists(st.floats(150, 250), min_size=2, max_size=8))
def test_the_next_piece_lies_in_students_prediction_interval(values: list[float]) -> None:
    """Reference: scipy's t distribution, with the usual spread counted as so many pieces."""
    found = next_piece("weight", [Figure(v, 0.0) for v in values])
    n, mean = len(values), float(np.mean(values))
    usual = 0.03 * mean
    freedom = USUAL_COUNTS_AS + n - 1
    s = np.sqrt((USUAL_COUNTS_AS * usual**2 + (n - 1) * np.var(values, ddof=1)) / freedom)
    half = stats.t(freedom).ppf(0.975) * s * np.sqrt(1 + 1 / n)
    assert (found.mean, found.expanded) == pytest.approx((mean, half))


def test_a_model_is_no_single_piece() -> None:
    one, other = knife(hrc=60.0).blade, knife(hrc=62.0).blade
    model = model_blade([one, other])
    assert model.figures["hardness"].mean == 61.0
    assert model.figures["hardness"].expanded > one.figures["hardness"].expanded
    assert spread("hardness", [60.0]).deviation < spread("hardness", [58.0, 62.0]).deviation
    assert model_blade([single_bevel(100).blade]).figures["asymmetry"].mean == 100
    with pytest.raises(ValueError, match="at least one piece"):
        model_blade([])


@given(knives_on_board, profiles)
@settings(max_examples=30, deadline=None)
def test_columns_of_many_knives_say_what_each_says_alone(
    knives: list[Candidate], profile: CustomerProfile
) -> None:
    together = ruled_by(profile, traits(knives))
    alone = np.concatenate([ruled_by(profile, traits([candidate])) for candidate in knives])
    assert (together == alone).all()
    assert len(traits(knives).some([0]).hardness) == 1


def test_what_is_not_predicted_of_a_knife_is_left_out_of_the_facts() -> None:
    knives = [knife(), knife("1.4116", 56.0), knife(knife_type="serrated")]
    found = judged(CustomerProfile(), knives, [100.0, 80.0, 90.0], [3.0, 2.0, 2.0])
    unknown = np.full((1, 200), np.nan)
    rng = np.random.default_rng(3)
    draws = np.concatenate([rng.normal(100, 1, (1, 200)), rng.normal(60, 1, (1, 200)), unknown])
    central = dict.fromkeys(FACTS, np.array([100.0, 60.0, np.nan]))
    told = verdict(found, knives, "ABC", dict.fromkeys(FACTS, draws), central, [[], [], []])
    of_facts = [s.text for s in told if s.evidence[0].startswith("prediction.")]
    assert of_facts[0] == "A cuts most easily: 67 % more than B."
    assert not any("C" in text.split() for text in of_facts)
    nothing = dict.fromkeys(FACTS, unknown.repeat(3, 0))
    none = verdict(found, knives, "ABC", nothing, central, [[], [], []])
    assert not any(s.evidence[0].startswith("prediction.") for s in none)


def test_one_piece_of_a_model_is_offered_the_first_that_stands() -> None:
    """Pieces stand in the order in which they are offered; a stopped one makes way."""
    shown = Shown([knife(hrc=44), knife(), knife(), knife(price=90.0)], [100.0] * 4, [3.0] * 4)
    shelf = OnShelf(
        traits(shown.knives), np.array([7, 7, 7, 8]), shown.some, lambda _: shown.central
    )
    found = advise(CustomerProfile(), shelf, shown.drawn)
    assert sorted(offer.at for offer in found.offers) == [1, 3]
    assert found.ruled_out == (0,)


def test_of_those_ruled_out_the_nearest_come_first_and_the_unmeasured_last() -> None:
    twice = replace(single_bevel(100), price=900.0)
    knives = [Candidate(Blade({})), twice, single_bevel(100), knife()]
    shown = Shown(knives, [100.0] * 4, [3.0] * 4)
    shelf = OnShelf(traits(shown.knives), np.arange(4), shown.some, lambda _: shown.central)
    found = advise(CustomerProfile(hand=Hand.LEFT, budget=400.0), shelf, shown.drawn)
    assert found.ruled_out == (2, 1, 0)


def test_an_answer_that_lets_a_knife_in_is_told_with_it() -> None:
    """A stop that another answer would lift: more to spend, or drying at once."""
    dear, plain = knife(price=180.0), knife("1.4116", 55.0, 60.0)
    shown = Shown([dear, plain], [125.0, 80.0], [5.0, 1.5])
    shelf = OnShelf(traits(shown.knives), np.arange(2), shown.some, lambda _: shown.central)
    found = advise(CustomerProfile(budget=130.0), shelf, shown.drawn)
    assert [offer.at for offer in found.offers] == [1]
    assert [(c.answer, c.at) for c in found.changes] == [("up to 195 to spend", 0)]
    nothing = advise(CustomerProfile(budget=20.0), shelf, shown.drawn)
    assert nothing.nothing.startswith("Nothing on the shelf suits. Most often: Costs")


@given(knives_on_board, profiles)
@settings(max_examples=30, deadline=None)
def test_what_is_said_of_a_knife_is_a_sentence_once(
    knives: list[Candidate], profile: CustomerProfile
) -> None:
    for candidate in knives:
        reasons = stops(profile, candidate)
        said = reasons or warnings(profile, candidate)
        assert len(set(said)) == len(said)
        for text in said:
            assert re.fullmatch(r"[A-Z].*[a-z)]\.", text), text

"""Which knife for whom: stops before scores, and a short list that explains itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from candidates import Shown, knife, profiles, single_bevel, thin, vague
from maple_rook.core.choosing.advice import MOST_OFFERED, Advice, OnShelf, advise
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.circumstances import Buyer, Storage, Trouble, Wrist
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Hand,
    Motion,
    School,
    Size,
    Tools,
)
from maple_rook.core.choosing.customers import PRESETS
from maple_rook.core.choosing.deciding import FIGURES, as_kept, desirabilities, kitchen_of, scores
from maple_rook.core.choosing.owning import Terms
from maple_rook.core.choosing.ruling import ruled_by, stops, warnings
from maple_rook.core.choosing.suiting import not_for, what_for
from maple_rook.core.choosing.take_home import care_lines, to_mind
from maple_rook.core.edge_life.retention import BoardMaterial, Kitchen, RodSchool, Technique
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.finish_work import FinishState, Shelf


def sized(
    length: float, *, height: float = 46.0, weight: float = 180.0, hrc: float = 60.0
) -> Candidate:
    plain = knife(hrc=hrc)
    given = {"edge_length": length, "height_heel": height, "weight": weight}
    figures = {**plain.blade.figures, **{key: Figure(v, 0.2) for key, v in given.items()}}
    return replace(plain, blade=replace(plain.blade, figures=figures))


def found(shelf: Shelf, *work: str, unsafe: str = "") -> Candidate:
    return replace(knife(), finish=FinishState(shelf, work, 20.0, (unsafe,) if unsafe else ()))


def advised(
    profile: CustomerProfile,
    knives: Sequence[Candidate],
    ease: Sequence[float],
    months: Sequence[float],
    spread: float = 0.02,
) -> Advice:
    """Advice where each knife is the only piece of its model."""
    shown = Shown(knives, ease, months, spread)
    shelf = OnShelf(
        traits(shown.knives),
        np.arange(len(knives)),
        shown.some,
        lambda _: shown.central,
        Terms(charge=14.0),
    )
    return advise(profile, shelf, shown.drawn)


@pytest.mark.parametrize(
    ("profile", "candidate", "why"),
    [
        (
            CustomerProfile(hand=Hand.LEFT, tools=Tools.STONES),
            single_bevel(100),
            "Left-handed, and",
        ),
        (
            CustomerProfile(hand=Hand.RIGHT, tools=Tools.STONES),
            single_bevel(0),
            "for the left hand",
        ),
        (CustomerProfile(hand=Hand.BOTH, tools=Tools.STONES), single_bevel(100), "both share it"),
        (CustomerProfile(tools=Tools.ROD), single_bevel(100), "never on a rod"),
        (CustomerProfile(bone=Bone.THROUGH), knife(), "no bone chopper"),
        (CustomerProfile(), knife(knife_type="bone_chopper"), "no bone is cut through"),
        (CustomerProfile(care=Care.DISHWASHER), knife("C105U"), "this steel rusts"),
        (
            CustomerProfile(kitchen=Kitchen(technique=Technique.ROUGH)),
            knife(hrc=64),
            "chips from it",
        ),
        (CustomerProfile(bone=Bone.AROUND), knife(hrc=64), "chips on them"),
        (CustomerProfile(bone=Bone.AROUND), thin(), "too thin for them"),
        (CustomerProfile(bone=Bone.AROUND), sized(150, hrc=58), None),
        (CustomerProfile(bone=Bone.AROUND), knife(hrc=58), "Too long for work round bones"),
        (CustomerProfile(bone=Bone.THROUGH), knife(knife_type="deba"), "no bone chopper"),
        (CustomerProfile(), knife(knife_type="deba"), None),
        (CustomerProfile(), sized(81), "Too short for the main knife: 81 mm"),
        (CustomerProfile(), sized(150, height=28), "no room over the board"),
        (CustomerProfile(size=Size.LONG), sized(254, height=52), "wants a lower blade"),
        (CustomerProfile(size=Size.LONG), sized(270, height=36), None),
        (CustomerProfile(size=Size.SMALL), knife(), "Too long for small work"),
        (CustomerProfile(motion=Motion.ROCK), knife(hrc=63), "Rocks on the board, and 63 HRC"),
        (CustomerProfile(motion=Motion.PUSH), knife(hrc=63), None),
        (CustomerProfile(tools=Tools.NOTHING), knife(hrc=53), "Nobody hones it, and 53 HRC"),
        (CustomerProfile(tools=Tools.ROD), knife(hrc=53), None),
        (CustomerProfile(wrist=Wrist.WEAK), sized(210, weight=340), "Weighs 340 g"),
        (CustomerProfile(troubles=(Trouble.RUSTED,)), knife("90MnCrV8"), "rusted"),
        (CustomerProfile(buyer=Buyer.GIFT), replace(knife(), used=True), "this one is used"),
        (CustomerProfile(buyer=Buyer.GIFT), single_bevel(100), "asks for stones"),
        (CustomerProfile(storage=Storage.ROLL), sized(270), "too long to carry"),
        (CustomerProfile(), found(Shelf.RETURN, "tip: snapped"), "return to maker: tip: snapped"),
        (CustomerProfile(), found(Shelf.READY, unsafe="handle: loose"), "Not safe: handle: loose"),
        (CustomerProfile(), found(Shelf.KEPT), "Not for sale"),
        (CustomerProfile(), replace(knife(), reserved=True), "Reserved"),
        (CustomerProfile(), found(Shelf.NEEDS_WORK, "rivets"), None),
        (CustomerProfile(budget=100), knife(price=150), "over the 100"),
        (CustomerProfile(), knife(hrc=44), "Not hardened"),
        (CustomerProfile(), vague(49.0), "Not hardened"),
        (CustomerProfile(), knife(knife_type="serrated"), "cannot be compared"),
        (CustomerProfile(), Candidate(Blade({}, steel=STEELS["C105U"])), "Not measured enough"),
        (CustomerProfile(), knife(steel="1.4112"), None),
        (CustomerProfile(tools=Tools.STONES), single_bevel(100), None),
        (CustomerProfile(hand=Hand.LEFT, tools=Tools.STONES), single_bevel(0), None),
    ],
)
def test_what_must_not_be_is_a_stop_with_its_reason(
    profile: CustomerProfile, candidate: Candidate, why: str | None
) -> None:
    """Common practice: hands, bone, rods, twists and dishwashers; no published source."""
    found = stops(profile, candidate)
    assert ruled_by(profile, traits([candidate])).any() == bool(found)
    assert found == [] if why is None else any(why in reason for reason in found), found


@settings(max_examples=40)
@given(profiles, st.floats(60, 140), st.floats(0.5, 8))
def test_more_ease_or_longer_life_never_scores_less(
    profile: CustomerProfile, ease: float, months: float
) -> None:
    one = [knife()]

    def score(e: float, m: float) -> float:
        figures = dict(zip(FIGURES, (np.array([v]) for v in (e, m, 40.0)), strict=True))
        return float(scores(profile, desirabilities(profile, traits(one), figures))[0])

    assert score(ease + 5, months) >= score(ease, months) - 1e-12
    assert score(ease, months * 1.2) >= score(ease, months) - 1e-12
    assert 0 < score(ease, months) <= 1


@settings(max_examples=40)
@given(profiles)
def test_every_criterion_is_from_0_to_1_and_an_even_knife_suits_either_hand(
    profile: CustomerProfile,
) -> None:
    figures = {key: np.array([100.0, 3.0][:1]) for key in FIGURES}
    d = desirabilities(profile, traits([knife()]), figures)
    assert d.shape == (1, len(CRITERIA))
    assert ((d >= 0) & (d <= 1)).all()
    assert profile.weights.min() > 0
    assert not any("hand" in reason for reason in stops(profile, knife()))


def test_the_school_decides_between_a_keen_knife_and_a_lasting_one() -> None:
    """Common practice: two schools; the advice says that the other answer changes it."""
    knives = [knife(), knife()]
    geometry = advised(CustomerProfile(), knives, [122, 80], [2.0, 6.5])
    steel = advised(CustomerProfile(school=School.STEEL), knives, [122, 80], [2.0, 6.5])
    assert (geometry.offers[0].at, steel.offers[0].at) == (0, 1)
    assert (geometry.deciding, steel.deciding) == (Criterion.EASE, Criterion.LIFE)
    assert School.STEEL.label in [change.answer for change in geometry.changes]
    assert geometry.offers[0].why == (Criterion.EASE,)
    assert Criterion.LIFE in geometry.offers[0].gives_up


def test_two_that_cannot_be_told_apart_are_a_tie() -> None:
    level = advised(CustomerProfile(), [knife(), knife()], [100, 101], [3.0, 3.0], spread=0.1)
    assert [offer.tied for offer in level.offers] == [True, True]
    assert sum(offer.first for offer in level.offers) == pytest.approx(1)
    apart = advised(CustomerProfile(), [knife(), knife()], [120, 70], [3.0, 3.0])
    assert [offer.tied for offer in apart.offers] == [False, False]
    assert apart.offers[0].first > 0.99


def test_a_worse_knife_changes_nothing_for_the_others_and_order_of_the_shelf_neither() -> None:
    ease, months = [118.0, 95.0, 104.0, 88.0], [2.5, 4.0, 3.0, 5.0]
    knives = [knife(price=p) for p in (120, 180, 90, 200)]
    before = advised(CustomerProfile(), knives, ease, months)
    worse = advised(CustomerProfile(), [*knives, knife(price=900)], [*ease, 55.0], [*months, 0.5])
    assert [o.at for o in worse.offers] == [o.at for o in before.offers]
    turned = advised(CustomerProfile(), knives[::-1], ease[::-1], months[::-1])
    assert [3 - o.at for o in turned.offers] == [o.at for o in before.offers]


def test_nothing_to_offer_and_many_to_offer() -> None:
    assert advised(CustomerProfile(), [], [], []).offers == ()
    many = [knife(price=100 + i) for i in range(20)]
    found = advised(CustomerProfile(), many, [100.0] * 20, [3.0] * 20, spread=0.1)
    assert len(found.offers) == MOST_OFFERED
    assert advised(CustomerProfile(), [knife()], [100.0], [3.0]).deciding is None


def test_what_is_said_with_a_knife_fits_knife_and_customer() -> None:
    reactive = knife("C105U", 63.0)
    said = " ".join(warnings(CustomerProfile(tools=Tools.NOTHING), reactive))
    for words in ("no bone", "Reacts", "Plan to have it sharpened"):
        assert words in said
    assert warnings(CustomerProfile(tools=Tools.STONES), knife()) == []
    uneven = replace(
        knife().blade, figures={**knife().blade.figures, "asymmetry": Figure(70.0, 3.0)}
    )
    left = warnings(CustomerProfile(hand=Hand.LEFT), replace(knife(), blade=uneven))
    assert any("steers in the other hand" in words for words in left)


def test_presets_are_told_apart_by_their_labels_and_differ() -> None:
    assert len(PRESETS) == 12
    assert len({replace(profile, label="") for profile in PRESETS.values()}) == 12


def test_a_knife_that_needs_work_is_offered_after_a_ready_one_and_says_so() -> None:
    """The shelf lists a model's ready piece first, and the work is named with one offered alone."""
    waiting = found(Shelf.NEEDS_WORK, "edge on the board: hollow")
    [said] = [text for text in warnings(CustomerProfile(), waiting) if "work" in text]
    assert said == "Ready to sell after 20 min of work: edge on the board: hollow."
    claim = "Hardness is printed as 60 and measures otherwise"
    contradicted = replace(knife(), contradicted=(claim,))
    assert f"{claim}." in warnings(CustomerProfile(), contradicted)


def test_a_dishwasher_customer_is_not_told_to_wash_by_hand() -> None:
    dishwasher = CustomerProfile(care=Care.DISHWASHER)
    said = " ".join([*warnings(dishwasher, knife()), *care_lines(dishwasher, knife(), (2.0, 4.0))])
    assert "by hand" not in said
    assert "out before the drying" in said
    assert "by hand" in " ".join(care_lines(CustomerProfile(), knife(), (2.0, 4.0)))


@settings(max_examples=40)
@given(profiles, st.floats(70, 130), st.floats(0.5, 8), st.floats(1.01, 1.3))
def test_a_better_and_cheaper_twin_always_comes_before(
    profile: CustomerProfile, ease: float, months: float, better: float
) -> None:
    twins = [knife(price=150.0), knife(price=150.0 / better)]
    of = traits(twins)
    figures = {
        "cutting_ease": np.array([ease, ease * better]),
        "months_to_stone": np.array([months, months * better]),
        "release": np.array([40.0, 40.0]),
    }
    one, twin = scores(profile, desirabilities(profile, of, figures, Terms(charge=14.0)))
    assert twin >= one
    assert twin > one or ease >= 125 or months >= 7 / profile.kitchen.harshness()


def test_a_rod_kept_off_a_hard_edge_does_not_hone_it() -> None:
    """Common practice: from 62 HRC one school takes no rod, the other ceramic very lightly."""
    of = traits([knife(hrc=64), knife(hrc=59)])
    months = {"months_to_stone": np.array([4.0, 4.0])}
    no_rod, light = (CustomerProfile(tools=Tools.ROD, rods=rods) for rods in RodSchool)
    never = PUBLISHED.stone_never_honed
    assert as_kept(no_rod, of, months)["months_to_stone"].tolist() == [4 * never, 4.0]
    assert as_kept(light, of, months)["months_to_stone"].tolist() == [4.0, 4.0]
    assert "strop" in " ".join(warnings(no_rod, knife(hrc=64)))
    assert "very lightly" in " ".join(warnings(light, knife(hrc=64)))
    assert kitchen_of(no_rod).honed
    assert not kitchen_of(CustomerProfile(tools=Tools.SERVICE)).honed


def test_care_at_home_fits_steel_handle_and_board() -> None:
    """Common practice; no published source."""
    glass = CustomerProfile(kitchen=Kitchen(board=BoardMaterial.GLASS), tools=Tools.STONES)
    lines = " ".join(care_lines(glass, replace(single_bevel(100), handle="octagonal, ash"), (1, 3)))
    for words in ("never a rod", "darkens with use", "Oil the wooden handle", "softer board"):
        assert words in lines
    plain = " ".join(care_lines(CustomerProfile(), knife(hrc=57), (1.04, 2.96)))
    assert "1.0 to 3.0 months" in plain
    rod = CustomerProfile(tools=Tools.ROD)
    assert any("ceramic" in words for words in warnings(rod, knife(hrc=60)))
    assert to_mind(rod, knife(hrc=60)) == []
    assert "steel rod" in plain
    assert "Oil" not in plain


@pytest.mark.parametrize(
    ("motion", "stroke"),
    [(Motion.ROCK, "rock"), (Motion.PUSH, "push"), (Motion.SLICE, "draw"), (Motion.ANY, "")],
)
def test_ease_is_by_the_motion_of_the_customers_own_hand(motion: Motion, stroke: str) -> None:
    assert kitchen_of(CustomerProfile(motion=motion)).stroke == stroke


@pytest.mark.parametrize("kind", ["gyuto", "paring", "slicer", "bone_chopper", "honesuke"])
@pytest.mark.parametrize("gone", ["edge_length", "weight"])
@settings(max_examples=20)
@given(profiles, st.sampled_from(Wrist), st.sampled_from(Storage), st.sampled_from(Bone))
def test_a_figure_nobody_measured_is_no_hindrance_to_a_reason(
    gone: str, kind: str, profile: CustomerProfile, wrist: Wrist, storage: Storage, bone: Bone
) -> None:
    """Length is inferred from the type where it is not measured; what follows from it says why."""
    asked = replace(profile, wrist=wrist, storage=storage, bone=bone)
    whole = knife(knife_type=kind)
    left = {key: f for key, f in whole.blade.figures.items() if key != gone}
    candidate = replace(whole, blade=replace(whole.blade, figures=left))
    found = stops(asked, candidate)
    assert ruled_by(asked, traits([candidate])).any() == bool(found)
    assert what_for(candidate).startswith("For ")
    assert not_for(candidate).startswith("Not for") or not not_for(candidate)
    assert found or isinstance(warnings(asked, candidate), list)

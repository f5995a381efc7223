"""What may touch an edge and how a knife is kept, as the trade has it. Common practice."""

from __future__ import annotations

import pytest

from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.customer import CustomerProfile, Tools
from maple_rook.core.choosing.ruling import rod_rule
from maple_rook.core.choosing.take_home import care_lines
from maple_rook.core.edge_life.retention import BoardMaterial, Kitchen, RodSchool, Technique
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.observations import ITEMS, Seen
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.care import CareCard, care_card, reacts, wooden
from maple_rook.core.upkeep.finish_work import METHODS, cost, faults
from maple_rook.core.upkeep.sharpening_tools import HELD, Leave, Tool, rod_for, rules
from maple_rook.core.upkeep.workshop import Workshop

YES, LIGHTLY, NEVER = Leave.YES, Leave.LIGHTLY, Leave.NEVER
HONING = (RodSchool.NONE, RodSchool.LIGHT)


def blade(
    hrc: float | None = 60.0,
    steel: str = "1.4112",
    share: float = 50.0,
    grind: Grind = Grind.FULL_FLAT,
    kind: str = "gyuto",
) -> Blade:
    figures = {
        "edge_angle": Figure(14.6, 0.3),
        "asymmetry": Figure(share, 2.0),
        "edge_length": Figure(210, 0.5),
    }
    if hrc is not None:
        figures["hardness"] = Figure(hrc, 0.4)
    return Blade(figures, knife_type=kind, grind=grind, steel=STEELS[steel])


@pytest.mark.parametrize(
    ("hrc", "steel_rod", "ceramic_by_none", "ceramic_by_light", "belt"),
    [
        (52.0, YES, YES, YES, LIGHTLY),
        (58.0, YES, YES, YES, LIGHTLY),
        (58.4, NEVER, LIGHTLY, LIGHTLY, LIGHTLY),
        (61.9, NEVER, LIGHTLY, LIGHTLY, LIGHTLY),
        (62.0, NEVER, NEVER, LIGHTLY, LIGHTLY),
        (62.3, NEVER, NEVER, LIGHTLY, NEVER),
        (66.0, NEVER, NEVER, LIGHTLY, NEVER),
    ],
)
def test_rods_and_belt_by_hardness(
    hrc: float, steel_rod: Leave, ceramic_by_none: Leave, ceramic_by_light: Leave, belt: Leave
) -> None:
    for school, ceramic in zip(HONING, (ceramic_by_none, ceramic_by_light), strict=True):
        leave = {r.tool: r.leave for r in rules(blade(hrc), school)}
        assert (leave[Tool.STEEL_ROD], leave[Tool.CERAMIC_ROD], leave[Tool.BELT]) == (
            steel_rod,
            ceramic,
            belt,
        )
        assert leave[Tool.WHETSTONE] is leave[Tool.STROP] is YES
        assert leave[Tool.PULL_THROUGH] is NEVER


@pytest.mark.parametrize("grind", [Grind.SINGLE_BEVEL, Grind.SINGLE_BEVEL_ADDED])
@pytest.mark.parametrize("school", HONING)
@pytest.mark.parametrize("hrc", [None, 54.0, 63.0])
def test_a_single_bevel_knows_stone_and_strop_only(
    grind: Grind, school: RodSchool, hrc: float | None
) -> None:
    allowed = {
        r.tool for r in rules(blade(hrc, "C105U", 100.0, grind), school) if r.leave is not NEVER
    }
    assert allowed == {Tool.WHETSTONE, Tool.STROP}


def test_every_tool_says_why_and_how_it_is_held() -> None:
    for school in HONING:
        for knife in (blade(56), blade(64), blade(60, share=70), blade(None)):
            found = rules(knife, school)
            assert [r.tool for r in found] == list(Tool)
            assert all(r.why.endswith(".") and "{" not in r.why for r in found)
    assert {tool for tool, words in HELD.items() if not words} == {Tool.PULL_THROUGH}


@pytest.mark.parametrize("hrc", [55.0, 60.0, 64.0])
@pytest.mark.parametrize("school", HONING)
def test_the_counter_and_upkeep_agree_about_the_rod(hrc: float, school: RodSchool) -> None:
    """One rule serves both: where no rod may touch it, the Counter says so in words."""
    knife = Candidate(blade(hrc))
    said = rod_rule(CustomerProfile(tools=Tools.ROD, rods=school), knife)
    rod = rod_for(knife.blade, school)
    assert said.startswith("No rod") == (rod is None)
    if rod is not None:
        assert ("steel rod, lightly" in said) == (rod.tool is Tool.STEEL_ROD)


def card(
    knife: Blade,
    handle: str = "riveted, resin laminate",
    *,
    school: RodSchool = RodSchool.NONE,
    kitchen: Kitchen | None = None,
    months: tuple[float, float] | None = (2.0, 5.0),
    **seen: str,
) -> CareCard:
    observed = {item: Seen(value) for item, value in seen.items()}
    return care_card(knife, handle, observed, kitchen or Kitchen(), school, months)


def said(lines: tuple[str, ...], words: str) -> bool:
    return any(words in line for line in lines)


def test_what_rusts_is_wiped_and_what_does_not_is_not_fussed_over() -> None:
    carbon, stainless = card(blade(62, "C105U")), card(blade(60, "1.4112"))
    assert said(carbon.every_day, "Red rust")
    assert not said(stainless.every_day, "rust")
    clad = card(blade(62, "C105U"), cladding_reactivity="reactive")
    assert said(clad.every_day, "The faces are iron")
    assert reacts(Blade({}))  # unknown steel is taken to react


def test_lacquer_board_handle_and_tang() -> None:
    knife = blade(60)
    assert said(card(knife, lacquer="blade").every_day, "take it off before first use")
    assert not said(card(knife, lacquer="none").every_day, "lacquer")
    glass = card(knife, kitchen=Kitchen(board=BoardMaterial.GLASS))
    assert said(glass.every_day, "softer board")
    wood = card(knife, "octagonal, smoked ash", tang="hidden")
    assert said(wood.handle, "Oil the wooden handle")
    assert said(wood.handle, "open joint sealed")
    assert not said(card(knife, tang="hidden").handle, "Oil")
    assert [wooden(h) for h in ("riveted, beech", "riveted, acetal", "moulded, soft grip", "")] == [
        True,
        False,
        False,
        False,
    ]


def test_the_edge_on_the_card_is_this_knifes_own() -> None:
    even = card(blade(60))
    assert said(even.edge, "15° per side, 29° inclusive. Alike on both faces.")
    assert said(even.edge, "fine ceramic rod, lightly")
    assert said(even.edge, "about every 2 to 5 months")
    uneven = card(blade(60, share=70))
    assert said(uneven.edge, "Ground 70:30: 7 strokes on the right face to 3 on the left")
    left = card(blade(60, share=30))
    assert said(left.edge, "3 strokes on the right face to 7 on the left")
    hard = card(blade(65, "HS6-5-2"))
    assert said(hard.edge, "No rod on this edge")
    assert said(card(blade(65, "HS6-5-2"), school=RodSchool.LIGHT).edge, "ceramic rod, lightly")
    single = card(blade(63, "C105U", 100, Grind.SINGLE_BEVEL), months=None)
    assert said(single.edge, "the wide face flat on its bevel")
    assert not said(single.edge, "months")
    serrated = card(blade(54, kind="serrated"))
    assert serrated.edge == ("A serrated edge goes back to be sharpened.",)


def test_what_is_never_done_with_it() -> None:
    for knife in (blade(55), blade(64), blade(63, "C105U", 100, Grind.SINGLE_BEVEL)):
        never = card(knife).never
        assert said(never, "dishwasher")
        assert said(never, "bone, frozen food")
    assert said(card(blade(64)).never, "Never twisted or scraped")
    assert not said(card(blade(56)).never, "Never twisted or scraped")
    rough = card(blade(56), kitchen=Kitchen(technique=Technique.ROUGH))
    assert said(rough.never, "Never twisted or scraped")
    chopper = card(blade(54, kind="bone_chopper"))
    assert said(chopper.never, "Small bones only")
    assert said(card(blade(63, "C105U", 100, Grind.SINGLE_BEVEL)).never, "never an angle on its")


def test_card_and_take_home_page_say_the_same_of_washing() -> None:
    knife = Candidate(blade(62, "C105U"), handle="octagonal, smoked ash")
    taken = care_lines(CustomerProfile(), knife, (2.0, 5.0))
    kept = card(knife.blade, knife.handle)
    assert taken[0] == kept.every_day[0]
    assert said(kept.handle, taken[2])


def test_every_fault_of_the_checklist_can_be_mended_and_says_how_it_is_rechecked() -> None:
    """The Bench's own finish items, each with a method, and two items that say a fault."""
    checklist = {key for key, item in ITEMS.items() if "mend" in item.choices}
    assert set(METHODS) == checklist | {"edge_line", "lacquer"}
    for method in METHODS.values():
        assert method.recheck.endswith(".")
        assert method.caution.endswith(".")
        assert list(method.grits) == sorted(method.grits)
        assert len(method.what) <= 400
        assert len(method.caution) <= 300
    corners, etching = METHODS["spine_corners"], METHODS["etching"]
    assert corners.grits == etching.grits == (600, 1200)
    assert "steel wool does nothing" in etching.what
    assert METHODS["rivets"].minutes == 5
    assert faults([("edge_line", "", "true", ""), ("lacquer", "", "none", "")]) == []
    assert cost(30, 40) == 20
    assert Workshop().stones[0].grit < Workshop().stones[-1].grit

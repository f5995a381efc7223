"""Three invented knives measured whole by a hand that knows the keys: every fact in its box."""

from __future__ import annotations

import re
import time
import uuid
from collections import Counter
from dataclasses import dataclass
from typing import Any, NamedTuple

import pytest
from at_the_bench import entry, piece, readings, stored
from patience import PATIENCE_MS
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session

from maple_rook.core.measurement.observations import ITEMS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.store import records
from maple_rook.store.tables import Sheet

MOST_KEYS, MOST_IN_START_FORM = 140, 25
ORDER = [*QUANTITIES, *ITEMS]
"""How the questions of a stop follow each other."""
BETWEEN_CHOICES_MS, AFTER_A_CHOICE_S = 90, 0.45
"""No hand answers two lists faster, or passes over the next question sooner."""


class Fact(NamedTuple):
    """What is true of the knife, where the Bench asks for it, what is typed, what is kept.

    ``kept`` is the kind of a reading and its figure in the base unit, or what was seen: side or
    part, choices, note.
    """

    said: str
    asked: str
    typed: str
    kept: tuple[Any, ...]


def seen(value: str, aspect: str = "", note: str = "") -> tuple[str, str, str]:
    return aspect, value, note


def measured(figure: float) -> tuple[str, float]:
    return "measured", figure


MODEL = {
    **{"maker": "Kesterby", "line": "Skerry", "knife_type": "slicer", "nominal": "270 mm"},
    "grind": "full_flat",
}
SHOWN_BY_ITS_SISTER = {
    "construction": "clad_three",
    "making": "forged",
    "core_reactivity": "reactive",
    "cladding_reactivity": "stainless",
    "surface": "layered",
    "lacquer": "none",
    "tang": "hidden",
    "bolster": "ferrule",
    "handle_shape": "octagonal",
    "handle_material": "wood",
    "spine_line": "falls",
    "tip_place": "low",
}
SLICER = [
    *(
        Fact(f"{key} as its sister piece", key, "=", seen(value))
        for key, value in SHOWN_BY_ITS_SISTER.items()
    ),
    Fact("its cladding is soft", "cladding_hardness", "1", seen("soft")),
    Fact("convex on the right", "face_form", "2r", seen("slightly_convex", "right")),
    Fact("182 g", "weight", "182", measured(182)),
    Fact("271.5 mm of edge", "edge_length", "271.5", measured(271.5)),
    Fact("412 mm overall", "overall_length", "412", measured(412)),
    Fact("a handle of 134 mm", "handle_length", "134", measured(134)),
    Fact("spine 2.42 mm at the heel", "spine_heel", "2.42", measured(2.42)),
    Fact("1.98 halfway", "spine_mid", "1.98", measured(1.98)),
    Fact("0.71 near the tip", "spine_tip", ".71", measured(0.71)),
    Fact("38.2 mm high", "height_heel", "38.2", measured(38.2)),
    Fact("0.21 mm behind the edge", "thickness_behind_edge", ".21", measured(0.21)),
    Fact("12 degrees per side", "edge_angle", "12", measured(12)),
    Fact("60:40", "asymmetry", "60", measured(60)),
    Fact("the core shows 9 mm", "core_exposure", "9", measured(9)),
    Fact("no micro-bevel", "micro_bevel_face", "1", seen("none")),
    Fact("the block reads 62.5", "hardness_block", "62.5", measured(62.5)),
    Fact("the core 61", "hardness", "61", measured(61)),
    Fact("and 61.5", "hardness", "61.5", measured(61.5)),
    Fact("balances 24 mm ahead", "balance_point", "24", measured(24)),
    Fact("handle 84 mm round", "handle_circumference", "84", measured(84)),
    Fact("held by a pinch", "grip", "1", seen("pinch")),
    Fact("blade-heavy", "feel", "1", seen("blade")),
    Fact("95 mm lie flat", "flat_length", "95", measured(95)),
    Fact("true on the board", "edge_line", "1", seen("true")),
    Fact("a gentle belly", "belly", "2", seen("gentle")),
    Fact("sharp: 7 of 10", "sharpness_score", "7", measured(7)),
    Fact("the back third is dull", "sharpness_parts", "3h", seen("dull", "heel")),
    Fact("onion goes clean, pushed", "cut_onion", "1p", seen("clean", "push")),
    Fact("fish goes clean, drawn", "cut_protein", "1d", seen("clean", "draw")),
    Fact("ready for the shelf", "verdict", "1", seen("sell")),
    Fact("good value", "value", "2", seen("good")),
    Fact("for prep line and fish", "suits", "3 4", seen("line,fish")),
]
BUDGET = [
    Fact("one steel", "construction", "1", seen("one_steel")),
    Fact("stamped", "making", "2", seen("stamped")),
    Fact("stainless", "core_reactivity", "1", seen("stainless")),
    Fact("6.4 oz", "weight", "6.4 oz", measured(6.4 * 28.349523125)),
    Fact("8 1/8 in of edge", "edge_length", "U8 1/8", measured(8.125 * 25.4)),
    Fact("12 7/8 in overall", "overall_length", "12 7/8", measured(12.875 * 25.4)),
    Fact("a handle of 4 5/8 in", "handle_length", "4 5/8", measured(4.625 * 25.4)),
    Fact("spine 0.085 in at the heel", "spine_heel", ".085", measured(0.085 * 25.4)),
    Fact("1.5 mm at 3 in from the tip", "spine_at", "1.5 mm at 3 from tip", measured(1.5)),
    Fact("1 3/4 in high", "height_heel", "1 3/4", measured(1.75 * 25.4)),
    Fact("narrower on the left", "bevel_sides", "3", seen("left_narrower")),
    Fact("a micro-bevel on the right", "micro_bevel_face", "3", seen("right")),
    Fact("the angle looks like 18 to 20", "edge_angle", "18-20", ("estimated", 19)),
    Fact("56 on the box", "hardness", "told 56", ("told", 56)),
    Fact("on scale C the dial went round", "hardness_dial", "2", seen("went_round")),
    Fact("88 on scale B", "hardness_b", "88", measured(88)),
    Fact("a bolster all the same", "bolster", "2", seen("half")),
    Fact("the tang's end bent over", "tang", "3", seen("bent_over")),
    Fact("handle drops by 5 degrees", "handle_angle", "-5", measured(-5)),
    Fact("a high tip", "tip_place", "3", seen("high")),
    Fact("its choil is eased", "eased", "3", seen("choil")),
    Fact("spine sharp on the left", "spine_corners", "3l, cuts", seen("mend", "left", "cuts")),
    Fact("5 to 6 of 10", "sharpness_score", "5-6", ("estimated", 5.5)),
    Fact("sellable after work", "verdict", "2", seen("after_work")),
    Fact("ease the spine", "to_mend", "ease the spine", seen("", note="ease the spine")),
]
CHOPPER = [
    Fact("one steel", "construction", "1", seen("one_steel")),
    Fact("reactive", "core_reactivity", "3", seen("reactive")),
    Fact("forge-black on the right", "surface", "4r", seen("forge_black", "right")),
    Fact("brushed on the left", "surface", "1l", seen("brushed", "left")),
    Fact("about 720 g", "weight", "~720", ("estimated", 720)),
    Fact("208 mm of edge", "edge_length", "208", measured(208)),
    Fact("spine about 6", "spine_heel", "about 6", ("estimated", 6)),
    Fact("104 mm high", "height_heel", "104", measured(104)),
    Fact("106 halfway", "height_mid", "106", measured(106)),
    Fact("108.5 at the front: it grows", "height_front", "108.5", measured(108.5)),
    Fact("22 to 25 per side", "edge_angle", "22-25", ("estimated", 23.5)),
    Fact("54 to 56, said a file", "hardness", "54-56", ("estimated", 55)),
    Fact("far forward", "balance_place", "1", seen("far_forward")),
    Fact("held both ways", "grip", "1 2", seen("pinch,handle")),
    Fact("true at the back", "edge_line", "1h", seen("true", "heel")),
    Fact("a hump in front", "edge_line", "3f", seen("hump", "front")),
    Fact("celeriac splits", "cut_other", "2, celeriac", seen("wedging", note="celeriac")),
    Fact("not for a learner", "not_for", "6", seen("learner")),
    Fact("ready for the shelf", "verdict", "1", seen("sell")),
]


@dataclass
class Hand:
    """Presses keys and counts them."""

    page: Page
    keys: int = 0
    chosen_at: float = 0.0

    def press(self, key: str) -> None:
        self.page.keyboard.press(key)
        self.keys += 1

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)
        self.keys += len(text)

    @property
    def asked(self) -> str:
        return self.page.locator("label.what").get_attribute("data-question") or ""

    def answer(self, fact: Fact) -> None:
        """Type it as a hand does, and keep what the Bench asks about."""
        at, typed = self.asked, fact.typed
        if typed.startswith("U"):
            self.press("u")
            typed = typed[1:]
        if one_digit(fact):
            self.press(typed)
            self.page.wait_for_timeout(BETWEEN_CHOICES_MS)
            self.chosen_at = time.monotonic()
        else:
            self.type(typed)
            self.press("Enter")
        asked_back = self.page.get_by_role("alertdialog", name="Unusual")
        until = time.monotonic() + PATIENCE_MS / 1000
        while self.asked == at and time.monotonic() < until:
            if asked_back.is_visible():
                self.press("k")
                expect(asked_back).to_be_hidden()  # a hand that waits presses no second time
            elif fact.asked == "to_mend":
                return  # the last question
            else:
                self.page.wait_for_timeout(20)
        assert self.asked != at, f"{fact.said}: not taken at {at}"

    def look(self) -> None:
        """Wait until what is asked stays: what was stored may have changed what comes next."""
        at, steady = self.asked, 0
        while steady < 20:
            self.page.wait_for_timeout(20)
            now = self.asked
            at, steady = now, steady + 1 if now == at else 0

    def pass_over(self, left: list[Fact]) -> None:
        """On to the next question or stop, or back to one that came up; pressed until it moves."""
        at = self.asked
        here = [ORDER.index(f.asked) for f in left if stop_of(f.asked) == stop_of(at)]
        more_here = any(n > ORDER.index(at) for n in here)
        back = bool(here) and not more_here
        rest_s = self.chosen_at + AFTER_A_CHOICE_S - time.monotonic()
        if more_here and rest_s > 0:  # an Enter at once would belong to the choice
            self.page.wait_for_timeout(1000 * rest_s)
        for _ in range(5):
            self.press("ArrowUp" if back else "Enter" if more_here else "PageDown")
            for _ in range(300):  # who sees nothing move waits, and presses no key
                if self.asked != at:
                    return
                self.page.wait_for_timeout(20)
        raise AssertionError(f"the Bench stays at {at}")


def one_digit(fact: Fact) -> bool:
    item = ITEMS.get(fact.asked)
    one = item is not None and not item.multiple and not item.free and len(item.aspects) == 1
    return one and fact.typed.isdigit()


def stop_of(key: str) -> str:
    return QUANTITIES[key].stop if key in QUANTITIES else ITEMS[key].stop


def measure(hand: Hand, facts: list[Fact]) -> None:
    """Round the knife: what is known is entered, what is not is passed over."""
    left = list(facts)
    fine = False
    while left:
        at = hand.asked
        here = [fact for fact in left if fact.asked == at]
        if stop_of(at) == "finish" and not fine:
            hand.press("Alt+a")
            fine = True
        if here and here[0].typed == "=":
            hand.press("Alt+=")
            stored(hand.page)
            left = [f for f in left if not (f.typed == "=" and stop_of(f.asked) == stop_of(at))]
        elif here:
            hand.answer(here[0])
            left.remove(here[0])
            if at in ITEMS:  # what was seen decides what is asked next
                stored(hand.page)
                hand.look()
            if len(here) > 1:
                hand.press("ArrowUp")
        else:
            hand.pass_over(left)


def in_its_box(shop: Session, tag: str, facts: list[Fact]) -> None:
    """Every fact is kept where it belongs, as it was typed, and nothing else was read."""
    taken = Counter((r.quantity, r.kind, round(r.si_value, 6)) for r in readings(shop, tag))
    expected = Counter(
        (f.asked, f.kept[0], round(f.kept[1], 6)) for f in facts if f.asked in QUANTITIES
    )
    assert taken == expected
    sheets = [s.id for s in shop.query(Sheet).filter_by(piece_id=piece(shop, tag).id)]
    standing = {(o.item, o.aspect, o.value, o.note) for o in records.observations(shop, sheets)}
    for fact in facts:
        if fact.asked in ITEMS:
            assert (fact.asked, *fact.kept) in standing, fact.said


def new_model(page: Page, model: dict[str, Any]) -> dict[str, Any]:
    tag = f"W-{uuid.uuid4().hex[:6]}"
    made = page.request.post("/api/bench/pieces", data={"tag": tag, "model": model})
    assert made.ok, made.text()
    found: dict[str, Any] = made.json()
    return found


def test_a_clad_slicer_of_a_known_model(page: Page, shop: Session) -> None:
    sister = new_model(page, MODEL)
    for item, value in SHOWN_BY_ITS_SISTER.items():
        body = {"client_id": str(uuid.uuid4()), "item": item, "value": value}
        address = f"/api/bench/sheets/{sister['id']}/observations"
        assert page.request.post(address, data=body).ok
    page.goto("/rack")
    expect(page.get_by_text(re.compile(r"of [\d,]+ knives"))).to_be_visible()
    page.bring_to_front()
    hand, tag = Hand(page), f"S{uuid.uuid4().hex[:4]}"
    hand.press("2")
    expect(page.get_by_label("Piece tag")).to_be_focused()
    hand.type(tag)
    field = page.get_by_role("combobox", name="Model")
    while not field.evaluate("e => e === document.activeElement"):
        hand.press("Tab")
    hand.type("skerry")
    expect(page.get_by_role("option", name="Skerry")).to_be_visible()
    hand.press("Enter")
    hand.press("Tab")
    hand.press("Enter")
    expect(entry(page)).to_be_focused()
    assert hand.keys <= MOST_IN_START_FORM, f"{hand.keys} keys in the start form"
    hand.keys = 0
    measure(hand, SLICER)
    stored(page)
    assert hand.keys <= MOST_KEYS, f"{hand.keys} keys for the sheet"
    in_its_box(shop, tag, SLICER)


@pytest.mark.parametrize(
    ("model", "facts"),
    [
        ({"line": "Budget", "knife_type": "western_chef", "nominal": "8 in"}, BUDGET),
        ({"line": "Grows", "knife_type": "bone_chopper", "nominal": "210 mm"}, CHOPPER),
    ],
    ids=["inch-only budget knife", "forward-growing chopper"],
)
def test_a_knife_of_a_new_model(
    page: Page, shop: Session, model: dict[str, Any], facts: list[Fact]
) -> None:
    begun = new_model(page, {"maker": f"Nobody {uuid.uuid4().hex[:4]}", **model})
    page.goto(f"/bench/{begun['id']}")
    page.bring_to_front()
    expect(entry(page)).to_be_focused()
    measure(Hand(page), facts)
    stored(page)
    in_its_box(shop, begun["piece"]["tag"], facts)

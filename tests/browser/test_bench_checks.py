"""Each check of the Bench fed a realistic slip, instruments that misbehave, two benches at once."""

from __future__ import annotations

import pytest
from at_the_bench import at, begin, entry, go, readings, stored, typed_readings
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session

from maple_rook.instruments.stand_ins import StandIn
from signed_in import Contexts

WELL = [("edge length", "209.4"), ("overall length", "342"), ("handle length", "126")]
Slip = list[tuple[str, str]]


def take(page: Page, slip: Slip) -> None:
    """Type each reading where it belongs; what is unusual is kept."""
    page.get_by_role("button", name="short sheet").click()  # every question, not only the required
    for label, typed in slip:
        go(page, label)
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        asked = page.get_by_role("alertdialog", name="Unusual")
        expect(asked.or_(page.get_by_text("All readings stored"))).to_be_visible()
        if asked.is_visible():
            page.keyboard.press("k")
        stored(page)


@pytest.mark.parametrize(
    ("slip", "wrong", "mend"),
    [
        ([("edge length", "229"), *WELL[1:]], "at heel and bolster", "one of the three"),
        ([("edge length", "210")], "nominal size to the digit", "read it again"),
        ([("spine at heel", "1.84"), ("spine at middle", "2.12")], "grows toward the tip",
         "swapped"),
        ([("bevel width, right face", "0.62"), ("bevel width, left face", "0.62"),
          ("edge angle", "15"), ("thickness behind the edge", "0.55")],
         "make 0.32 mm behind the edge", "repeat the thickness or the angle"),
        ([*WELL, ("spine at heel", "2.12"), ("spine near tip", "0.72"),
          ("height at heel", "46.2"), ("weight", "61")], "for the handle", "weigh again"),
        ([("edge angle", "20")], "against the maker's 15", "measure at three places"),
        ([("height at heel", "32")], "a gyuto has 42 to 54 mm", "type was chosen wrong"),
        ([("bevel width, right face", "0.35"), ("bevel width, left face", "0.80"),
          ("asymmetry", "70/30")], "bevel widths make it 30:70", "compare the faces again"),
    ],
    ids=["lengths", "nominal", "spine", "third from two", "weight", "claim", "height", "hand"],
)  # fmt: skip
def test_a_slip_is_said_with_its_why_and_mend_and_the_decision_is_kept(
    page: Page, slip: Slip, wrong: str, mend: str
) -> None:
    begin(page)
    take(page, slip)
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_text(wrong)).to_be_visible()
    page.keyboard.press("c")
    question = page.get_by_role("alertdialog", name="Check")
    for part in (wrong, "Why:", mend):
        expect(question.get_by_text(part).first).to_be_visible()
    page.keyboard.press("k")
    expect(checks.get_by_text("stands, Odd in the office decided")).to_be_visible()
    page.reload()
    expect(checks.get_by_text("stands, Odd in the office decided")).to_be_visible()


@pytest.mark.parametrize(
    ("quantity", "typed", "kept", "mean"),
    [("weight", "6.9", "6.9 oz", 195.6), ("spine at heel", "0.083", "0.083 in", 2.108)],
)
def test_a_unit_slip_is_put_right_with_one_key(
    page: Page, shop: Session, quantity: str, typed: str, kept: str, mean: float
) -> None:
    tag = begin(page)
    go(page, quantity)
    page.keyboard.type(typed)
    page.keyboard.press("Enter")
    expect(page.get_by_role("alertdialog", name="Unusual")).to_contain_text(f"take {kept}")
    page.keyboard.press("t")
    stored(page)
    (reading,) = readings(shop, tag)
    assert (reading.typed, reading.si_value) == (kept, pytest.approx(mean, abs=0.1))


def test_an_inclusive_angle_is_put_right_from_its_check(page: Page, shop: Session) -> None:
    tag = begin(page)
    take(page, [("edge angle", "30")])
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_text("is twice the maker's 15")).to_be_visible()
    page.keyboard.press("c")
    expect(page.get_by_role("alertdialog", name="Check")).to_contain_text("take 30 incl")
    page.keyboard.press("t")
    stored(page)
    expect(page.get_by_text("Nothing contradicts so far.")).to_be_visible()
    wrong, right = readings(shop, tag)
    assert wrong.void is not None
    assert wrong.void.reason.startswith("corrected: edge angle 30")
    assert (right.typed, right.si_value, right.void) == ("30 incl", 15.0, None)


def test_not_applicable_takes_a_reason(page: Page) -> None:
    begin(page)
    go(page, "balance point")
    page.keyboard.press("n")
    page.keyboard.type("handle not fitted yet")
    page.keyboard.press("Enter")
    at(page, "verdict")
    stored(page)
    expect(page.get_by_role("button", name="Sign off (15 missing)")).to_be_visible()


def test_a_reading_is_voided_with_a_reason_by_number(page: Page, shop: Session) -> None:
    tag = begin(page)
    page.keyboard.type("186")
    page.keyboard.press("Enter")
    stored(page)
    go(page, "weight")
    page.get_by_role("button", name="Void the reading 186").click()
    page.keyboard.press("3")
    expect(page.get_by_text("voided: wrong knife")).to_be_visible()
    (reading,) = readings(shop, tag)
    assert reading.void is not None


# --- instruments -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("mode", "says"),
    [
        ("dropout", "no reading within 2 s"),
        ("garbled", "sent not a line of the protocol"),
        ("long-line", "sent a line over 512 bytes"),
        ("moving", "still moving"),
        ("wrong-unit", "from scale on the line"),
    ],
)
def test_an_instrument_that_fails_is_named_and_typing_goes_on(
    page: Page, shop: Session, instruments: dict[str, StandIn], mode: str, says: str
) -> None:
    tag = begin(page)
    expect(page.get_by_role("button", name="scale ready").or_(page.get_by_text("takes it"))
           .first).to_be_visible()  # fmt: skip
    instruments["scale"].mode = mode
    page.keyboard.press("Space")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text(says)
    expect(alert).to_contain_text("scale on the line")
    page.keyboard.type("186")
    page.keyboard.press("Enter")
    stored(page)
    assert typed_readings(shop, tag) == ["186"]


def test_a_reading_sent_by_the_instruments_own_button_is_stored_once(
    page: Page, shop: Session, instruments: dict[str, StandIn]
) -> None:
    tag = begin(page)
    expect(page.get_by_text("takes it")).to_be_visible()
    instruments["scale"].specimen["weight"] = 186.4
    line = instruments["scale"].read("weight")
    for writer in list(instruments["scale"]._writers):
        for _ in range(2):  # heard twice
            writer.get_extra_info("socket").dup().send(f"{line}\n".encode())
    at(page, "edge length")
    stored(page)
    (reading,) = readings(shop, tag)
    assert (reading.method, reading.instrument.name) == ("instrument", "scale on the line")
    assert reading.si_value == pytest.approx(186.4, abs=1)


# --- two benches -----------------------------------------------------------------------------


def second_bench(contexts: Contexts, page: Page, *, deaf: bool) -> Page:
    """The same sheet at another machine; a deaf one is a tab that hears of nothing new."""
    other = contexts().new_page()
    other.set_default_timeout(15_000)
    if deaf:
        other.route("**/instruments/events", lambda route: route.abort())
    other.goto(page.url)
    expect(entry(other)).to_be_focused()
    return other


def test_what_one_bench_stores_the_other_shows(page: Page, new_context: Contexts) -> None:
    begin(page)
    other = second_bench(new_context, page, deaf=False)
    page.bring_to_front()
    page.keyboard.type("186")
    page.keyboard.press("Enter")
    stored(page)
    go(other, "weight")
    expect(other.get_by_role("list").filter(has_text="186").first).to_be_visible()
    other.context.close()


def test_an_older_tab_is_told_and_loses_nothing(page: Page, new_context: Contexts) -> None:
    begin(page, start="construction")
    other = second_bench(new_context, page, deaf=True)
    page.bring_to_front()
    page.keyboard.type("1")
    page.keyboard.press("Enter")
    stored(page)
    other.bring_to_front()
    at(other, "construction")
    other.keyboard.type("2, seen at the choil")
    other.keyboard.press("Enter")
    refused = other.get_by_role("alert").filter(has_text="Kept here: construction clad three")
    expect(refused).to_contain_text("entered “one steel” here at another bench")
    refused.get_by_role("button", name="enter mine all the same").click()
    stored(other)
    page.bring_to_front()
    go(page, "construction")
    expect(page.get_by_text("seen at the choil")).to_be_visible()
    other.context.close()

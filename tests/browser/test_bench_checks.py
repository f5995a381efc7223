"""Each check of the Bench fed a realistic slip, instruments that misbehave, two benches at once."""

from __future__ import annotations

import pytest
from at_the_bench import at, begin, entry, go, readings, stored, type_in, typed_readings
from patience import PATIENCE_MS
from playwright.sync_api import Page, expect
from sqlalchemy.orm import Session

from maple_rook.instruments.stand_ins import StandIn
from signed_in import Contexts

Slip = list[tuple[str, str]]


def take(page: Page, slip: Slip) -> None:
    """Type each reading where it belongs; what is unusual is kept."""
    page.get_by_role("button", name="short sheet").click()  # every question, not only the required
    for label, typed in slip:
        go(page, label)
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        asked = page.get_by_role("alertdialog", name="Unusual")
        expect(asked.or_(page.get_by_text("All readings stored")).first).to_be_visible()
        if asked.is_visible():
            page.keyboard.press("k")
        stored(page)


def test_a_slip_is_said_with_its_why_and_mend_and_the_decision_is_kept(page: Page) -> None:
    wrong = "at heel and bolster"
    begin(page)
    take(page, [("edge length", "229"), ("overall length", "342"), ("handle length", "126")])
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_text(wrong)).to_be_visible()
    page.keyboard.press("Alt+c")
    question = page.get_by_role("alertdialog", name="Check")
    for part in (wrong, "Why:", "one of the three"):
        expect(question.get_by_text(part).first).to_be_visible()
    page.keyboard.press("k")
    expect(checks.get_by_text("confirmed, Otta in the office decided")).to_be_visible()
    page.reload()
    expect(checks.get_by_text("confirmed, Otta in the office decided")).to_be_visible()


def test_a_unit_slip_is_put_right_with_one_key(page: Page, shop: Session) -> None:
    tag = begin(page)
    type_in(page, "6.9")
    expect(page.get_by_role("alertdialog", name="Unusual")).to_contain_text("take 6.9 oz")
    page.keyboard.press("t")
    stored(page)
    (reading,) = readings(shop, tag)
    assert (reading.typed, reading.si_value) == ("6.9 oz", pytest.approx(195.6, abs=0.1))


def test_an_inclusive_angle_is_put_right_from_its_check(page: Page, shop: Session) -> None:
    tag = begin(page)
    take(page, [("edge angle", "30")])
    checks = page.get_by_role("region", name="Checks")
    expect(checks.get_by_text("is twice the maker's 15")).to_be_visible()
    page.keyboard.press("Alt+c")
    expect(page.get_by_role("alertdialog", name="Check")).to_contain_text("take 30 incl")
    page.keyboard.press("t")
    stored(page)
    expect(page.get_by_text("No contradictions so far.")).to_be_visible()
    wrong, right = readings(shop, tag)
    assert wrong.void is not None
    assert wrong.void.reason.startswith("corrected: edge angle 30")
    assert (right.typed, right.si_value, right.void) == ("30 incl", 15.0, None)


# --- instruments -----------------------------------------------------------------------------


def test_an_instrument_that_fails_is_named_and_typing_goes_on(
    page: Page, shop: Session, instruments: dict[str, StandIn]
) -> None:
    tag = begin(page)
    expect(page.get_by_text("takes it")).to_be_visible()
    instruments["scale"].mode = "dropout"
    page.keyboard.press("Space")
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("no reading within 2 s")
    expect(alert).to_contain_text("scale on the line")
    type_in(page, "186")
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
    other.set_default_timeout(PATIENCE_MS)
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
    other.keyboard.type("2, seen at the choil", delay=90)  # as a hand types
    other.keyboard.press("Enter")
    refused = other.get_by_role("alert").filter(has_text="Kept here: construction clad three")
    expect(refused).to_contain_text("entered “one steel” here at another bench")
    refused.get_by_role("button", name="enter mine anyway").click()
    stored(other)
    page.bring_to_front()
    go(page, "construction")
    expect(page.get_by_text("seen at the choil")).to_be_visible()
    other.context.close()

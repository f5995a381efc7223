"""Keys at the Bench that a slip or a slow line must not turn into a loss."""

from __future__ import annotations

import re
import time

import pytest
from at_the_bench import at, begin, entry, go, readings, stored, type_in, typed_readings
from playwright.sync_api import Page, Route, expect
from sqlalchemy.orm import Session


@pytest.mark.parametrize("latency_ms", [0, 300, 1500])
def test_on_a_slow_line_each_reading_is_stored_where_it_was_typed(
    page: Page, shop: Session, latency_ms: int
) -> None:
    tag = begin(page)

    def late(route: Route) -> None:
        time.sleep(latency_ms / 1000)
        route.continue_()

    page.route("**/api/bench/sheets/*/readings", late)
    type_in(page, "heavy", "186")  # refused at once; what is typed next takes its place
    at(page, "edge length")
    type_in(page, "209", "")
    go(page, "edge angle")
    type_in(page, "30")
    page.keyboard.press("t")
    stored(page)
    assert [(r.quantity, r.typed) for r in readings(shop, tag)] == [
        ("weight", "186"),
        ("edge_length", "209"),
        ("edge_angle", "30 incl"),
    ]


def test_a_number_typed_beside_the_entry_goes_into_it_and_to_no_other_station(
    page: Page, shop: Session
) -> None:
    tag = begin(page)
    page.get_by_role("link", name="from a photo").focus()
    page.keyboard.type("186")
    expect(entry(page)).to_be_focused()
    expect(entry(page)).to_have_value("186")
    page.keyboard.press("Enter")
    stored(page)
    assert typed_readings(shop, tag) == ["186"]
    expect(page).to_have_url(re.compile(r"/bench/\d+"))


def test_a_number_that_answers_a_question_is_not_typed_besides(page: Page, shop: Session) -> None:
    tag = begin(page)
    type_in(page, "186")
    stored(page)
    page.keyboard.press("ArrowUp")
    page.get_by_role("button", name="Void the reading 186").click()
    expect(page.get_by_role("alertdialog", name="Void")).to_be_visible()
    page.get_by_role("link", name="from a photo").focus()
    page.keyboard.press("3")
    expect(page.get_by_text("voided: wrong knife")).to_be_visible()
    expect(entry(page)).to_have_value("")
    assert typed_readings(shop, tag) == ["186"]


def test_words_at_a_list_are_the_choice_they_name(page: Page) -> None:
    begin(page)
    page.keyboard.press("Alt+f")
    go(page, "finish of the faces")
    type_in(page, "forge-black")
    at(page, "lacquer")
    stored(page)
    go(page, "finish of the faces")
    expect(page.get_by_role("listitem").locator("strong")).to_have_text("forge-black")
    expect(page.get_by_role("button", name="full sheet")).to_be_visible()


def test_what_is_missing_is_listed_and_asked_once_at_sign_off(page: Page) -> None:
    begin(page)
    type_in(page, "186")
    stored(page)
    page.get_by_role("button", name=re.compile(r"^Sign off \(")).click()
    asked = page.get_by_role("alertdialog", name="Sign off")
    expect(asked).to_contain_text(re.compile(r"Not measured: .*edge length.*hardness"))
    page.keyboard.press("Escape")
    expect(asked).to_be_hidden()
    page.get_by_role("button", name=re.compile(r"^Sign off \(")).click()
    page.keyboard.press("k")
    expect(page.get_by_role("heading", level=1)).to_have_text("Sheet")

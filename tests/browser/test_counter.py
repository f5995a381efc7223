"""At the Counter: taps in, a reasoned short list out."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect


def test_a_customer_is_asked_by_taps_and_answered_with_reasons(page: Page) -> None:
    page.goto("/rack")
    expect(page.get_by_text("knives · one scale")).to_be_visible()
    page.keyboard.press("5")
    offers = page.get_by_role("region", name="Short list")
    expect(page.get_by_role("heading", name="Counter", level=1)).to_be_visible()
    page.get_by_role("button", name="fish counter").click()
    expect(offers.get_by_role("heading", name=re.compile("^fish counter: 3 of"))).to_be_visible()
    first = offers.locator("ol").get_by_role("listitem").first
    expect(first).to_contain_text("Pellow Quay Merlin slicer")
    expect(first).to_contain_text("Speaks for it: board fit")
    expect(offers.get_by_role("status")).to_contain_text("decides")

    page.get_by_role("button", name="left", exact=True).click()
    expect(offers.get_by_role("heading", name=re.compile("^This customer"))).to_be_visible()
    offers.get_by_text("ruled out, each with its reason").click()
    expect(offers.get_by_role("listitem").filter(has_text="BT-27")).to_contain_text(
        "Left-handed, and this is ground for the right hand."
    )
    first.get_by_role("button", name="Hang it").click()
    expect(page.locator("header.strip .tag")).to_have_count(1)
    page.reload()
    expect(page.get_by_role("button", name="left", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )


def test_nothing_suits_is_said(page: Page) -> None:
    page.goto("/counter")
    page.get_by_role("button", name="galley").click()
    page.get_by_label(re.compile("at most")).fill("5")
    offers = page.get_by_role("region", name="Short list")
    expect(offers).to_contain_text("Nothing on the shelf suits. Most often:")
    expect(offers.get_by_role("heading", name=re.compile(": nothing of"))).to_be_visible()


def test_the_bench_shows_what_reads_round_it_and_trials_the_card_tester(page: Page) -> None:
    page.goto("/bench/24")
    tray = page.get_by_role("list", name="Instruments")
    expect(tray).to_contain_text("caliper")
    expect(tray).not_to_contain_text("card tester")
    page.goto("/trials?new=1")
    page.get_by_label("run on a tester").check()
    expect(page.get_by_text("The tester runs when the trial is begun")).to_be_visible()
    expect(page.get_by_text("keep fingers out of the stroke")).to_be_visible()

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
    page.get_by_role("button", name="fish counter", exact=True).click()
    expect(offers.get_by_role("heading", name=re.compile("^fish counter: 3 of"))).to_be_visible()
    first = offers.locator("ol").get_by_role("listitem").first
    expect(first).to_contain_text("Pellow Quay Merlin slicer")
    expect(first).to_contain_text(re.compile(r"Speaks for it: .*board fit \(271 mm long"))
    expect(offers.get_by_role("status")).to_contain_text("decides")
    expect(offers).to_contain_text("never a promise that a cut is safe")
    expect(offers).to_contain_text("follow local law")

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
    page.get_by_role("button", name="galley", exact=True).click()
    page.get_by_label(re.compile("at most")).fill("5")
    offers = page.get_by_role("region", name="Short list")
    expect(offers).to_contain_text("Nothing on the shelf suits. Most often:")
    expect(offers.get_by_role("heading", name=re.compile(": nothing of"))).to_be_visible()


def short_list(page: Page) -> list[str]:
    """Names on the short list once it is the customer's own."""
    expect(page.locator("section.stale")).to_have_count(0)
    return page.get_by_role("region", name="Short list").locator("ol h3 a").all_inner_texts()


def test_three_customers_of_the_demo_get_different_lists_each_with_reasons(page: Page) -> None:
    page.goto("/counter")
    lists = []
    for customer in ("ferry galley", "cookery school, left hand", "home cook, no upkeep"):
        page.get_by_role("button", name=customer, exact=True).click()
        offers = page.get_by_role("region", name="Short list")
        expect(offers.get_by_role("heading", name=re.compile(f"^{customer}: "))).to_be_visible()
        lists.append(tuple(short_list(page)))
        for offer in offers.locator("ol > li").all():
            expect(offer).to_contain_text(re.compile(r"best choice in (under |over )?\d+ %"))
            expect(offer).to_contain_text("Speaks for it:")
            expect(offer).to_contain_text("a month between stones")
        expect(offers.get_by_text("ruled out, each with its reason")).to_be_visible()
        expect(offers.get_by_role("img", name=re.compile("^Price against"))).to_be_visible()
    assert len(set(lists)) == 3
    assert all(3 <= len(names) <= 5 for names in lists)


def test_a_left_hander_never_gets_a_right_ground_single_bevel(page: Page) -> None:
    page.goto("/counter")
    for customer in ("fish counter", "prep line"):
        page.get_by_role("button", name=customer, exact=True).click()
        page.get_by_role("button", name="left", exact=True).click()
        expect(page.get_by_role("heading", name=re.compile("^This customer"))).to_be_visible()
        assert not [name for name in short_list(page) if "Tideline" in name]
    page.goto("/board?hand=10.1")
    verdict = page.get_by_role("region", name="Verdict")
    expect(verdict).to_contain_text("Only B is left for this customer.")
    expect(verdict).to_contain_text("Left-handed, and this is ground for the right hand.")


def test_a_customer_is_kept_under_a_label_and_forgotten(page: Page) -> None:
    page.goto("/counter")
    page.get_by_role("button", name="galley", exact=True).click()
    page.get_by_role("button", name="in parts…").click()
    for _ in range(3):
        page.get_by_role("button", name="more tomato").click()
    page.get_by_label("galley", exact=True).fill("the slow ferry")
    page.get_by_role("button", name="Keep", exact=True).click()
    kept = page.get_by_role("group", name="Kept customers")
    expect(kept.get_by_role("button", name="the slow ferry", exact=True)).to_be_visible()
    page.get_by_role("button", name="prep line", exact=True).click()
    page.reload()
    kept.get_by_role("button", name="the slow ferry", exact=True).click()
    expect(page.get_by_label("parts of tomato")).to_have_text("3")
    expect(page.get_by_role("button", name="shared by both")).to_have_attribute(
        "aria-pressed", "true"
    )
    kept.get_by_role("button", name="Forget the slow ferry").click()
    expect(page.get_by_text("the slow ferry", exact=True)).to_have_count(0)


def test_the_take_home_card_is_one_printed_page(page: Page) -> None:
    page.goto("/counter")
    page.get_by_role("button", name="home cook who hates upkeep", exact=True).click()
    first = page.get_by_role("region", name="Short list").locator("ol > li").first
    expect(page.get_by_role("heading", name=re.compile("^home cook"))).to_be_visible()
    first.get_by_role("link", name="Take-home card").click()
    card = page.get_by_role("article")
    for heading in ("Why this one", "Keep it well", "Mind"):
        expect(card.get_by_role("heading", name=heading)).to_be_visible()
    expect(card).to_contain_text("chosen for the home cook who hates upkeep")
    expect(card).to_contain_text("not in the dishwasher")
    expect(card).to_contain_text("local first aid")
    for paper in ("A4", "Letter"):
        printed = page.pdf(format=paper)
        assert len(re.findall(rb"/Type\s*/Page\b", printed)) == 1, paper


def test_the_bench_shows_what_reads_round_it_and_trials_the_card_tester(page: Page) -> None:
    page.goto("/bench/24")
    tray = page.get_by_role("list", name="Instruments")
    expect(tray).to_contain_text("caliper")
    expect(page.get_by_role("note")).to_contain_text("Secure the blade")
    expect(tray).not_to_contain_text("card tester")
    page.goto("/trials?new=1")
    page.get_by_label("run on a tester").check()
    expect(page.get_by_text("The tester runs when the trial is begun")).to_be_visible()
    expect(page.get_by_text("keep fingers out of the stroke")).to_be_visible()


def test_a_whole_conversation_is_one_tap_a_question(page: Page) -> None:
    """Under a minute at the counter: no more than sixteen taps, each answered at once."""
    page.goto("/counter")
    customer = page.get_by_role("region", name="The customer")
    questions = customer.locator("fieldset")
    expect(questions.first).to_be_visible()
    assert questions.count() <= 12
    for question in questions.all():
        last = question.get_by_role("button").filter(has_not_text="in parts").last
        last.click()
        expect(last).to_have_attribute("aria-pressed", "true")
        expect(question.locator("[aria-pressed=true]")).to_have_count(1)
    page.get_by_role("radio", name="steel first").check()
    expect(page.locator("section.stale")).to_have_count(0)
    offers = page.get_by_role("region", name="Short list")
    expect(offers.get_by_role("heading", name=re.compile("^This customer: "))).to_be_visible()


def test_the_counter_fits_a_phone(page: Page) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto("/counter")
    page.get_by_role("button", name="prep line", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("^prep line: "))).to_be_visible()
    overflow = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
    assert overflow <= 0
    first = page.get_by_role("region", name="Short list").locator("ol > li").first
    first.get_by_role("button", name="Hang it").click()
    expect(page.locator("header.strip .tag")).to_have_count(1)

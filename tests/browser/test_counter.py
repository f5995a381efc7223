"""At the Counter: from taps to a short list."""

from __future__ import annotations

import re

from fields import choose
from playwright.sync_api import Page, expect


def test_a_customer_is_asked_by_taps_and_answered_with_reasons(page: Page) -> None:
    page.goto("/rack")
    expect(page.get_by_text(re.compile(r"of [\d,]+ knives"))).to_be_visible()
    page.keyboard.press("5")
    offers = page.get_by_role("region", name="Short list")
    expect(page.get_by_role("heading", name="Counter", level=1)).to_be_visible()
    page.get_by_role("button", name="fish counter", exact=True).click()
    expect(offers.get_by_role("heading", name=re.compile("^fish counter: 2 of"))).to_be_visible()
    first = offers.locator("ol").get_by_role("listitem").first
    expect(first).to_contain_text("Pellow Quay Merlin slicer")
    expect(first).to_contain_text(re.compile(r"In its favour: .*robustness \(bears"))
    expect(offers.get_by_role("status")).to_contain_text("decides")
    expect(offers).to_contain_text("never a promise that a cut is safe")
    expect(offers).to_contain_text("follow local law")

    page.get_by_role("button", name="left", exact=True).click()
    expect(offers.get_by_role("heading", name=re.compile("^This customer"))).to_be_visible()
    offers.get_by_text("ruled out, each with its reason").click()
    expect(offers.get_by_role("listitem").filter(has_text="BT-27")).to_contain_text(
        "Left-handed, and this is ground for the right hand."
    )
    first.get_by_role("button", name="Hang on the strip").click()
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
    """Names on the short list once it is the customer's own, and every knife is calculated."""
    expect(page.get_by_text("still being recalculated")).to_have_count(0)
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
            expect(offer).to_contain_text(re.compile(r"best in (fewer|more)?.*\d+ of 100 simul"))
            expect(offer).to_contain_text("In its favour:")
            expect(offer).to_contain_text("For ")
            expect(offer).to_contain_text(re.compile(r"Owning it costs \d+ crowns a year: \d+ for"))
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
    expect(verdict).to_contain_text("Only B suits this customer; the other is ruled out.")
    expect(verdict).to_contain_text("Left-handed, and this is ground for the right hand.")


def test_a_customer_is_kept_under_a_label_and_forgotten(page: Page) -> None:
    page.goto("/counter")
    page.get_by_role("button", name="galley", exact=True).click()
    page.get_by_role("button", name="several, in parts…").click()
    for _ in range(3):
        page.get_by_role("button", name="more tomato").click()
    page.get_by_label("customer’s label").fill("the slow ferry")
    page.get_by_role("button", name="Save", exact=True).click()
    kept = page.get_by_role("group", name="Saved customers")
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
    for heading in ("Why this one", "Care", "Mind"):
        expect(card.get_by_role("heading", name=heading)).to_be_visible()
    expect(card).to_contain_text("chosen for the home cook who hates upkeep")
    expect(card).to_contain_text("out before the drying")
    expect(card).not_to_contain_text("by hand")
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
    questions = customer.locator("fieldset").filter(visible=True)
    expect(questions.first).to_be_visible()
    assert questions.count() <= 12, "what a seller may skip is folded away"
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
    first.get_by_role("button", name="Hang on the strip").click()
    expect(page.locator("header.strip .tag")).to_have_count(1)


def test_what_a_seller_may_skip_changes_the_answer_and_is_named(page: Page) -> None:
    page.goto("/counter")
    customer = page.get_by_role("region", name="The customer")
    offers = page.get_by_role("region", name="Short list")
    customer.get_by_role("button", name="More about the customer").click()
    changed = offers.get_by_role("list", name="What the answers changed")
    for question, answer, said in (
        ("How large is the hand?", "small", "Small hand: a shorter handle"),
        ("How strong is the wrist?", "tires soon", "Wrist that tires: nothing over 300 g"),
        ("How many hours a day at the board?", "four hours or more", "Four hours or more a day"),
        ("Who will own it?", "a gift", "A gift: nothing used, no single bevel"),
        ("Where is it stored?", "loose in a drawer", "Loose in a drawer: a robust edge"),
        ("What did the last knife do wrong?", "chipped", "The last knife chipped"),
    ):
        tap = customer.get_by_role("group", name=question).get_by_role("button", name=answer)
        tap.click()
        expect(changed).to_contain_text(said)
        tap.click()
        expect(tap).to_have_attribute("aria-pressed", "false")
        expect(changed).to_have_count(0)
    page.get_by_role("button", name="fish counter", exact=True).click()
    owned = customer.get_by_role("group", name="Which knives do they own already?")
    owned.get_by_label("edge in mm, or a tag").fill("150")
    choose(owned.get_by_role("combobox").last, "petty")
    beside = offers.locator("p", has_text="Beside the first, for small work")
    expect(beside).to_be_visible()
    owned.get_by_role("button", name="Add").click()
    expect(beside).to_have_count(0)
    expect(changed).to_contain_text("The petty 150 mm that is there does small work already.")
    owned.get_by_role("button", name="Remove petty 150 mm").click()
    expect(beside).to_be_visible()
    owned.get_by_label("edge in mm, or a tag").fill("kh-15")
    owned.get_by_role("button", name="Add").click()
    expect(owned.get_by_text("petty 149 mm")).to_be_visible()
    expect(beside).to_have_count(0)


def test_which_of_two_or_both_for_any_two_on_the_strip(page: Page) -> None:
    page.goto("/counter?hand=1.3.6")
    pair = page.get_by_role("region", name="Which of these two, or both")
    expect(pair.get_by_role("status")).to_have_text(
        "Both: Kesterby Harbour gyuto 210 for the daily work on the board, "
        "Kesterby Harbour petty 150 for small work."
    )
    pair.get_by_role("button", name=re.compile("^C")).click()
    pair.get_by_role("button", name=re.compile("^A")).click()
    expect(pair.get_by_role("status")).to_contain_text("One is enough: Kesterby Harbour gyuto 210.")


def test_a_wish_is_kept_and_answered_once_a_knife_that_suits_is_in_stock(page: Page) -> None:
    """The only knife that would suit is sold; back on the shelf it answers the wish."""
    page.goto("/sheet/25")
    stock = page.get_by_role("region", name="Stock")
    stock.get_by_role("button", name="Sell", exact=True).click()
    stock.get_by_label("for whom, a label").fill("a lodger")
    stock.get_by_role("button", name="Sell", exact=True).last.click()
    expect(stock).to_contain_text(re.compile(r"sold\s*since \d{4}-\d\d-\d\d · a lodger"))
    page.goto("/rack")
    search = page.get_by_role("textbox", name="Search")
    search.fill("QS-17")
    expect(page.get_by_text("No knife matches these filters")).to_be_visible()
    choose(page.get_by_role("combobox", name="Where").last, "sold")
    expect(page.get_by_text("santoku 170 · QS-17")).to_be_visible()

    page.goto("/counter")
    page.get_by_role("button", name="apprentice", exact=True).click()
    page.get_by_label(re.compile("at most")).fill("60")
    page.get_by_role("button", name="More about the customer").click()
    page.get_by_role("button", name="a gift", exact=True).click()
    offers = page.get_by_role("region", name="Short list")
    expect(offers).to_contain_text("This is what would suit:")
    expect(offers).to_contain_text("price up to 60 crowns")
    offers.get_by_role("button", name="Save as a wish").click()
    wishes = page.get_by_role("region", name="Wishes")
    expect(wishes).to_contain_text("Nothing in stock matches yet.")
    page.goto("/sheet/25")
    stock.get_by_role("button", name="Put back on the shelf").click()
    expect(stock).to_contain_text("on the shelf")
    page.goto("/counter")
    expect(wishes.get_by_role("link", name=re.compile("QS-17"))).to_be_visible()
    wishes.get_by_role("button", name=re.compile("Delete the wish")).click()
    expect(wishes).to_have_count(0)

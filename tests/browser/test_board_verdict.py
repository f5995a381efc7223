"""The Board's verdict: in sight, led to its evidence, turned by a school, kept under a name."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, expect

KH_01, HS_24, DG_20, QS_17 = 1, 4, 7, 25


def lay(page: Page, *pieces: int, customer: str | None = None) -> Locator:
    """Lay pieces on the Board for a customer; the verdict on them."""
    page.goto(f"/board?hand={'.'.join(map(str, pieces))}")
    if customer:
        page.get_by_role("button", name="The customer…").click()
        page.get_by_role("button", name=customer, exact=True).click()
        page.get_by_role("button", name="Hide").click()
        page.wait_for_load_state("networkidle")
    verdict = page.get_by_role("region", name="Verdict")
    expect(verdict).to_be_visible()
    return verdict


def test_switching_a_school_turns_the_verdict_and_it_says_so(page: Page) -> None:
    verdict = lay(page, KH_01, QS_17, customer="prep line")
    expect(verdict).to_contain_text("B suits the prep line best: it comes first in")
    said = verdict.get_by_role("button", name=re.compile("^With"))
    expect(said).to_have_text("With heft preferred, A would be best.")
    said.click()
    expect(page.locator("#evidence-schools")).to_have_class(re.compile("pointed"))
    page.get_by_role("radio", name="heft", exact=True).check()
    expect(verdict).to_contain_text(re.compile("A suits this customer best"))


def test_every_sentence_leads_to_what_it_stands_on(page: Page) -> None:
    verdict = lay(page, KH_01, HS_24, DG_20)
    verdict.get_by_role("button", name=re.compile("the whole verdict")).click()
    for sentence in verdict.locator("button.sentence").all():
        if re.match(r"[A-F]: ", sentence.inner_text()):
            continue
        sentence.click()
        expect(page.locator(".pointed").first).to_be_in_viewport()
        page.evaluate(
            "document.querySelectorAll('.pointed').forEach(e => e.classList.remove('pointed'))"
        )


def test_a_contradicted_hardness_claim_is_worded_and_leads_to_the_sheet(page: Page) -> None:
    verdict = lay(page, KH_01, DG_20)
    verdict.get_by_role("button", name=re.compile("the whole verdict")).click()
    claim = verdict.get_by_role("button", name=re.compile("hardness is printed as 58-60 HRC"))
    expect(claim).to_have_text(
        re.compile(r"B: .* and measures 56\.\d ± [01]\.\d; .* HRC below 58, U [01]\.\d+\.")
    )
    claim.click()
    expect(page.get_by_role("heading", name="Claims")).to_be_in_viewport()
    expect(page).to_have_url(re.compile(f"/sheet/{DG_20}"))


def test_models_are_compared_by_their_next_piece(page: Page) -> None:
    lay(page, KH_01, HS_24)
    page.get_by_role("radio", name="models", exact=True).check()
    expect(page.get_by_text("Models: every figure is that of the next piece")).to_contain_text(
        re.compile("A KH-01, KH-02, KH-03.*B HS-24, HS-25")
    )
    page.reload()
    expect(page.get_by_text("Models: every figure is that of the next piece")).to_be_visible()


def test_a_comparison_is_kept_by_name_and_its_link_stays(page: Page) -> None:
    verdict = lay(page, KH_01, HS_24, customer="prep line")
    expect(verdict).to_contain_text("the prep line")  # judged for the customer by now
    said = verdict.locator("button.sentence").first.inner_text()
    page.get_by_role("button", name="Save this comparison").click()
    page.get_by_label("name of the comparison").fill("winter shelf, two gyuto")
    page.keyboard.press("Enter")
    page.get_by_role("status").get_by_role("link", name="winter shelf, two gyuto").click()
    expect(page.get_by_role("heading", name="winter shelf, two gyuto")).to_be_visible()
    expect(page.get_by_text("The same, word for word.")).to_be_visible()
    expect(page.get_by_text(said)).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^weight"))).to_contain_text("=")
    link = page.url.split("?")[0]
    page.goto("/board?hand=7.9")
    page.goto(f"{link}?hand=7.9")
    page.get_by_role("button", name="Open on the Board").click()
    expect(page.locator("header.strip .tag")).to_have_text(["KH-01", "HS-24"])
    page.get_by_role("link", name="saved comparisons").click()
    row = page.get_by_role("row", name=re.compile("winter shelf, two gyuto"))
    expect(row).to_contain_text("the prep line")
    row.get_by_role("button", name="archive").click()
    expect(row).to_have_count(0)
    page.get_by_label("include archived").check()
    expect(row).to_be_visible()


def test_the_first_screen_shows_outlines_customer_differences_and_verdict(page: Page) -> None:
    """And nothing that opens lies under anything."""
    page.set_viewport_size({"width": 1280, "height": 800})
    verdict = lay(page, KH_01, HS_24, DG_20, QS_17)
    expect(page.get_by_role("img", name=re.compile("^Outlines laid"))).to_be_in_viewport(ratio=1)
    expect(page.get_by_role("group", name="For whom")).to_be_in_viewport(ratio=1)
    expect(
        page.get_by_role("region", name="What differs").get_by_role("row").nth(2)
    ).to_be_in_viewport(ratio=1)
    expect(verdict.locator("button.sentence").first).to_be_in_viewport(ratio=1)
    page.get_by_role("button", name="Save this comparison").click()
    page.get_by_role("button", name="The customer…").click()
    for control in (
        page.get_by_label("name of the comparison"),
        page.get_by_role("button", name="Hide"),
        page.get_by_role("button", name="prep line", exact=True),
    ):
        control.scroll_into_view_if_needed()
        on_top = control.evaluate(
            "e => { const r = e.getBoundingClientRect(); const there = document.elementFromPoint("
            "r.x + r.width / 2, r.y + r.height / 2); return e === there || e.contains(there) }"
        )
        assert on_top


def test_every_pair_is_told_with_its_base(page: Page) -> None:
    lay(page, KH_01, HS_24, DG_20)
    page.get_by_role("radio", name="every pair").check()
    page.get_by_role("combobox", name="quantity").select_option(label="edge length")
    table = page.get_by_role("table", name="Every pair")
    expect(table.get_by_role("button")).to_have_count(6)
    table.get_by_role("button", name=re.compile("^edge length: C against A")).click()
    said = page.get_by_role("region", name="What differs").get_by_role("status")
    expect(said).to_have_text(
        re.compile(r"^edge length: C against A −\d\.\d mm \(−\d % of A\), real, and noticeable")
    )
    pair = page.get_by_role("region", name="Which of these two, or both")
    expect(pair.get_by_role("status")).to_contain_text("One is enough")
    page.get_by_role("radio", name="models", exact=True).check()
    expect(page.get_by_text("Models: every figure is that of the next piece")).to_be_visible()
    expect(table.get_by_role("button")).to_have_count(6)

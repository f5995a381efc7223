"""Strip, Rack, Sheet and Board as a person uses them; readable in both schemes and narrow."""

from __future__ import annotations

import re

import pytest
from fields import choose
from playwright.sync_api import Page, expect

from signed_in import Contexts


def hung(page: Page) -> list[str]:
    """Tags on the strip, in order."""
    return page.locator("header.strip .tag").all_inner_texts()


def whole_rack(page: Page) -> None:
    """The Rack in a window so tall that every knife of the shop is drawn."""
    page.set_viewport_size({"width": 1280, "height": 4000})
    page.goto("/rack")
    expect(page.locator(".rails > li.place").first).to_be_visible()


def test_knives_are_hung_and_taken_off_by_key(page: Page) -> None:
    page.goto("/rack")
    page.get_by_role("link", name="Sheet of Kesterby Harbour gyuto 210 · KH-01").hover()
    page.keyboard.press("h")
    expect(page.locator("header.strip .tag")).to_have_text(["KH-01"])
    page.get_by_role("button", name="Hang DG-20").click()
    expect(page.locator("header.strip .tag")).to_have_text(["KH-01", "DG-20"])
    page.keyboard.press("a")
    expect(page.get_by_role("button", name="A: Kesterby")).to_have_attribute("aria-pressed", "true")
    page.locator("h1").click()
    page.keyboard.press("Backspace")
    expect(page.locator("header.strip .tag")).to_have_text(["DG-20"])


def test_the_strip_survives_a_reload_and_travels_in_the_link(
    page: Page, new_context: Contexts
) -> None:
    page.goto("/rack?hand=1.4.5.999999")  # and one that no longer exists
    expect(page.locator("header.strip .tag")).to_have_count(3)
    before = hung(page)
    page.goto("/rack")
    page.reload()
    expect(page.locator("header.strip .tag")).to_have_text(before)
    expect(page).to_have_url(re.compile(r"hand=1\.4\.5"))
    other = new_context().new_page()
    other.goto(page.url)
    expect(other.locator("header.strip .tag")).to_have_text(before)
    other.close()


def test_each_knife_has_its_own_hue_and_line_pattern(page: Page) -> None:
    page.goto("/board?hand=1.3.5.7.13.17")
    outlines = page.locator(".outlines path:not(.handle):not(.scale-bar path)")
    expect(outlines).to_have_count(6)
    looks = [
        (o.get_attribute("stroke"), o.get_attribute("stroke-dasharray") or "")
        for o in outlines.all()
    ]
    assert len({hue for hue, _ in looks}) == 6
    assert len({dash for _, dash in looks}) == 6


def test_search_narrows_and_clearing_brings_all_back(page: Page) -> None:
    page.goto("/rack")
    page.get_by_label("Search").first.fill("not hardened")
    expect(page.get_by_text("KH-01")).to_have_count(0)
    expect(page.get_by_text("TT-16")).to_be_visible()
    page.get_by_label("Search").first.fill("no such knife")
    expect(page.get_by_role("heading", name="No knife matches these filters")).to_be_visible()
    page.get_by_role("button", name="Clear filters").last.click()
    expect(page.get_by_text("KH-01").first).to_be_visible()


def test_a_range_is_narrowed_by_keyboard(page: Page) -> None:
    whole_rack(page)
    low = page.get_by_role("group", name="weight").get_by_role("slider", name="Minimum")
    expect(low).to_be_visible()
    total = page.locator(".rails > li").count()
    low.focus()
    for _ in range(60):
        page.keyboard.press("ArrowRight")
    expect(page.locator(".rails > li")).not_to_have_count(total)
    assert page.locator(".rails > li").count() > 0


def test_the_table_holds_the_same_knives_as_the_rails(page: Page) -> None:
    whole_rack(page)
    count = page.locator(".rails > li").count()
    page.get_by_role("radio", name="table").check()
    expect(page.locator("tbody tr")).to_have_count(count)


def test_knives_hang_at_one_true_scale(page: Page) -> None:
    """Geometry: drawn lengths are in the proportion of the measured ones."""
    whole_rack(page)
    lengths = {}
    for tag, name in (
        ("KH-01", "Sheet of Kesterby Harbour gyuto 210 · KH-01"),
        ("TH-08", "Sheet of Tarnwick Hedgerow paring 80 · TH-08"),
    ):
        blade = page.get_by_role("link", name=name).first.locator("path.blade")
        lengths[tag] = blade.evaluate("e => e.getBoundingClientRect().width")
    drawn = lengths["KH-01"] / lengths["TH-08"]
    assert drawn == pytest.approx((209.3 + 4) / (79.2 + 2.5), rel=0.04)


def test_the_sheet_shows_figures_with_uncertainty_claims_and_history(page: Page) -> None:
    page.goto("/rack?search=DG-20")
    page.get_by_role("link", name=re.compile("Sheet of Dunmarrow Galley")).first.click()
    expect(page.get_by_role("cell", name="⚠ contradicted").first).to_be_visible()
    expect(page.get_by_text("± U (k = 2)")).to_be_visible()
    expect(page.get_by_role("img", name="Section at the heel")).to_be_visible()
    page.get_by_role("button", name=re.compile(r"All \d+ readings")).click()
    expect(page.get_by_role("cell", name=re.compile("oz")).first).to_be_visible()


def test_an_unhardened_knife_is_promised_nothing(page: Page) -> None:
    whole_rack(page)
    page.get_by_role("link", name=re.compile("Sheet of Tarnwick Tidewrack")).first.click()
    expect(page.get_by_text("⚠ Not hardened.")).to_be_visible()
    expect(page.get_by_text("it will not hold an edge").first).to_be_visible()


def test_a_harsher_kitchen_shortens_the_months(page: Page) -> None:
    page.goto("/sheet/1")
    months = page.get_by_role("button", name=re.compile("^Why: Months to the stone"))
    before = months.locator(".likely").inner_text()
    choose(page.get_by_role("combobox", name="use").last, "professional")
    expect(months.locator(".likely")).not_to_have_text(before)
    page.reload()
    expect(months.locator(".likely")).not_to_have_text(before)


def test_food_and_stroke_change_the_force(page: Page) -> None:
    page.goto("/board?hand=1.5")
    expect(page.get_by_role("img", name="Force against depth").locator("svg")).to_be_visible()
    row = page.get_by_role("button", name=re.compile("^Why: half onion, straight push, A"))
    pushed = row.locator(".value").inner_text()
    choose(page.get_by_role("combobox", name="stroke").last, "long draw")
    drawn = page.get_by_role(
        "button", name=re.compile("^Why: half onion, long draw, thin slices, A")
    )
    assert drawn.locator(".value").inner_text() != pushed


def test_the_board_asks_for_two_knives(page: Page) -> None:
    page.goto("/board?hand=1")
    expect(page.get_by_role("heading", name="Hang two knives to compare them")).to_be_visible()


def test_unknown_addresses_lead_back(page: Page) -> None:
    page.goto("/attic")
    expect(page.get_by_text("There is no such place")).to_be_visible()
    page.goto("/sheet/999999")
    expect(page.get_by_text("There is no piece 999999.")).to_be_visible()


def test_the_first_visit_is_shown_three_steps_once_and_only_what_is_left_of_them(
    new_context: Contexts,
) -> None:
    page = new_context().new_page()
    page.goto("/rack")
    hint = page.get_by_role("complementary", name="First steps")
    expect(hint).to_contain_text("1 of 3")
    page.get_by_role("button", name=re.compile("^Hang")).nth(0).click()
    expect(hint).to_contain_text("2 of 3")
    page.get_by_role("button", name=re.compile("^Hang")).nth(0).click()
    expect(hint).to_contain_text("3 of 3")
    page.goto("/counter")
    expect(page.get_by_role("heading", name="Counter", level=1)).to_be_visible()
    expect(hint).to_be_hidden()
    page.goto("/rack")
    hint.get_by_role("button", name="Done").click()
    expect(hint).to_be_hidden()
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(hint).to_be_hidden()
    page.close()


def test_a_grade_is_found_entered_and_its_carbides_estimated(page: Page) -> None:
    page.goto("/rack")
    expect(page.get_by_text(re.compile(r"of [\d,]+ knives"))).to_be_visible()
    page.keyboard.press("8")
    expect(page.get_by_role("heading", name="Steels", level=1)).to_be_visible()
    page.get_by_role("textbox", name="Search").fill("stainless C>0.9 Mo>=0.6")
    expect(page.get_by_text(re.compile("^2 of"))).to_be_visible()
    page.get_by_role("textbox", name="Search").fill("Zz>3")
    expect(page.get_by_role("alert")).to_contain_text("PREN")
    page.get_by_role("textbox", name="Search").fill("")
    page.get_by_role("button", name="1.4112").click()
    expect(page.get_by_role("region", name="Grade", exact=True)).to_contain_text("17.0 to 19.0 %")
    page.get_by_role("button", name="Enter a grade").click()
    form = page.get_by_role("form", name="A grade of your own")
    form.get_by_label("Designation").fill("Harbour 95")
    form.get_by_label("C %", exact=True).fill("0,95")
    form.get_by_label("Cr %").fill("15")
    expect(form.get_by_role("status")).to_contain_text("CrC")
    form.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("region", name="Grade", exact=True)).to_contain_text("Harbour 95")
    expect(page.get_by_text("Carbides: estimated from the composition")).to_be_visible()


def test_a_hardness_is_converted_and_refused_outside_the_table(page: Page) -> None:
    page.goto("/steels")
    panel = page.get_by_role("region", name="Hardness")
    expect(panel.get_by_role("status")).to_contain_text("697 HV")
    panel.get_by_label("hardness").fill("75")
    expect(panel.get_by_role("alert")).to_contain_text("20 to 68 HRC")


def test_the_edges_course_follows_the_kitchen_and_stops_for_soft_steel(page: Page) -> None:
    page.goto("/sheet/1")
    panel = page.get_by_role("region", name="Edge life and stability")
    expect(panel.get_by_role("img", name="Sharpness over 180 days")).to_be_visible()
    expect(panel).to_contain_text("a rod every")
    expect(panel.get_by_role("row", name=re.compile("on bone"))).to_contain_text("⚠")
    page.get_by_label("honed regularly").click()
    expect(panel).not_to_contain_text("a rod every")
    whole_rack(page)
    page.get_by_role("link", name=re.compile("Sheet of Tarnwick Tidewrack")).first.click()
    expect(panel).to_contain_text("No course of sharpness")
    page.goto("/board?hand=1.5")
    expect(page.get_by_role("img", name="Sharpness over 180 days")).to_be_visible()


def test_a_contradicted_claim_is_found_and_worded_as_a_fact(page: Page) -> None:
    page.goto("/rack")
    page.get_by_role("link", name="claims", exact=True).click()
    page.get_by_role("button", name=re.compile("contradicted")).click()
    page.get_by_label("Search").fill("galley hardness")
    row = page.get_by_role("row", name=re.compile("Dunmarrow Galley"))
    expect(row).to_have_count(1)
    expect(row).to_contain_text("58-60 HRC")
    expect(row).to_contain_text("2 pieces measured: 2 contradicted")
    expect(row).to_contain_text(re.compile(r"⚠ contradicted.*HRC below 58"))
    row.get_by_role("link", name="DG-20").click()
    expect(page.get_by_role("heading", name="Claims")).to_be_visible()


def test_a_repeat_study_is_typed_and_taken_apart(page: Page) -> None:
    page.goto("/office/repeatability")
    expect(page.get_by_role("row", name=re.compile("^spine at heel"))).to_contain_text("assumed")
    page.get_by_role("button", name="Run a repeat study").click()
    study = page.get_by_role("form", name="Repeat study")
    show = study.get_by_role("button", name="Analyse")
    expect(show).to_be_disabled()
    grams = [[186, 187, 186, 188, 189, 188], [142, 141, 142, 144, 143, 144], [210, 211, 210] * 2]
    cells = study.locator("input.reading")
    for cell, value in zip(cells.all(), [v for row in grams for v in row], strict=True):
        cell.fill(f"{value} g")
    show.click()
    parts = study.get_by_role("status")
    expect(parts.get_by_role("row", name=re.compile("^Between pieces"))).to_contain_text("99 %")
    expect(parts.get_by_role("row", name=re.compile("^Repeats of one"))).to_contain_text("0.58")
    cells.first.fill("190 g")  # what was shown is of other readings now
    expect(parts).to_be_hidden()
    study.get_by_role("button", name="Cancel").click()
    expect(study).to_be_hidden()

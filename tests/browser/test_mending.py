"""A wrong entry corrected as a person does it: on its page, with a reason, and taken back."""

from __future__ import annotations

import re

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect


def test_a_model_is_corrected_for_all_its_pieces_and_the_change_undone(page: Page) -> None:
    page.goto("/sheet/1")
    page.get_by_role("link", name="Correct its model").click()
    expect(page.get_by_label("Line", exact=True)).to_have_value("Harbour")
    page.get_by_label("Line", exact=True).fill("Haven")
    page.get_by_label("Why, if you like").fill("misread on the box")
    save = page.get_by_role("button", name="Save the change")
    save.click()
    mended = page.get_by_role("region", name="Corrections")
    expect(mended.get_by_text("line: Harbour → Haven")).to_be_visible()
    expect(save).to_be_disabled()  # what stands is what is shown
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()
    page.goto("/sheet/1")
    expect(page.get_by_role("heading", name=re.compile("Kesterby Haven gyuto"))).to_be_visible()
    page.goto("/office/models")
    mended.get_by_role("button", name="undo").first.click()
    expect(mended.get_by_text("undone").first).to_be_visible()
    page.goto("/sheet/1")
    expect(page.get_by_role("heading", name=re.compile("Kesterby Harbour gyuto"))).to_be_visible()


def test_a_wrong_sheet_is_set_aside_and_put_back(page: Page) -> None:
    page.goto("/sheet/2")
    history = page.locator(".history")
    history.get_by_role("button", name="set it aside").click()
    history.get_by_label("Reason for setting it aside").fill("another knife lay there")
    history.get_by_role("button", name="Set it aside", exact=True).last.click()
    expect(history.get_by_text("another knife lay there")).to_be_visible()
    expect(page.get_by_text("not measured").first).to_be_visible()
    history.get_by_role("button", name="count it again").click()
    expect(history.get_by_text("signed off")).to_be_visible()

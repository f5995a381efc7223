"""Fields of a form, as a person fills them in."""

from __future__ import annotations

import re

from playwright.sync_api import Error, Locator, Page, expect

_TRIES = 4


def choose(field: Locator, option: str) -> None:
    """Choose from a list that drops down.

    While a page is still filling, its parts move: a click can land beside the option and close the
    list. Who sees that chooses again.
    """
    taken = expect(field)
    listed = field.page.get_by_role("option", name=option)
    for _ in range(_TRIES):
        if not listed.is_visible():
            field.press("ArrowDown")
        try:
            listed.click(timeout=10_000)
            taken.to_have_value(re.compile(re.escape(option)), timeout=5_000)
        except (Error, AssertionError):
            continue
        return
    taken.to_have_value(re.compile(re.escape(option)))


def sign_in(page: Page, name: str, password: str) -> None:
    """Fill in the door's form."""
    expect(page.locator("input:focus")).to_be_visible()  # the form takes the focus once it is there
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.keyboard.press("Enter")

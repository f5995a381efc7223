"""A Rack of hundreds: only what is seen is drawn, and nothing is missed on the way."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.shelves import grow_to
from maple_rook.settings import Settings
from maple_rook.shelf.projection import Shelf
from maple_rook.store.database import sessions
from maple_rook.store.people import BROWSER
from served import served
from shops import shop_engine
from signed_in import in_browser, key_of

PIECES = 600
NEAR = 80
_SEEN = "e => e.getBoundingClientRect().top < innerHeight"
_DOWN = "scrollY + innerHeight >= document.documentElement.scrollHeight - 2"
"""More knives than these are never drawn at once in a window of 1280 by 800."""


@pytest.fixture(scope="module")
def large(
    cluster: Cluster, browser: Browser, browser_context_args: dict[str, Any]
) -> Iterator[Page]:
    with shop_engine(cluster, demo=True) as engine:
        grow_to(engine, PIECES)
        with sessions(engine)() as session:
            while Shelf().work_out(session, 200):
                pass
        how = {**browser_context_args, **in_browser(key_of(engine, kind=BROWSER))}
        with served(create_app(Settings(), engine)) as address:
            context = browser.new_context(**{**how, "base_url": address})
            context.add_init_script("localStorage.setItem('maple-rook.hinted', 'yes')")
            yield context.new_page()
            context.close()


def whole(page: Page) -> None:
    """Every knife near the window has arrived."""
    expect(page.locator(".rails li.place").first).to_be_visible()
    expect(page.locator(".rails li.coming")).to_have_count(0)


def test_every_knife_comes_by_and_few_are_drawn_at_once(large: Page) -> None:
    large.goto("/rack")
    whole(large)
    expect(large.get_by_text(f"{PIECES} of {PIECES} knives")).to_be_visible()
    seen: set[str] = set()
    for _ in range(200):
        whole(large)
        drawn = large.locator(".rails li.place .soft.small").all_inner_texts()
        assert len(drawn) <= NEAR
        seen |= {text for text in drawn if "·" in text}
        if large.evaluate(_DOWN):
            break
        large.mouse.wheel(0, 700)
    assert len(seen) == PIECES


def go_to_the_end(page: Page, last: Locator) -> None:
    """Until the last line is seen: what lies before it has an estimated height at first."""
    for _ in range(200):
        page.keyboard.press("End")
        page.wait_for_timeout(100)
        if page.evaluate(_DOWN) and last.count() and last.evaluate(_SEEN):
            break


def test_filters_and_order_stay_at_hand_far_down(large: Page) -> None:
    large.goto("/rack")
    whole(large)
    large.mouse.wheel(0, 9_000)
    whole(large)
    expect(large.get_by_label("Search").first).to_be_in_viewport()
    expect(large.get_by_role("button", name="lowest first")).to_be_in_viewport()
    large.get_by_label("Search").first.fill("KH-01")
    expect(large.locator(".rails li.place")).to_have_count(1)
    expect(large.locator(".rails li.place").first).to_be_in_viewport()


def test_the_table_draws_few_lines_of_many(large: Page) -> None:
    large.goto("/rack")
    whole(large)
    large.get_by_role("radio", name="table").check()
    expect(large.get_by_role("table")).to_have_attribute("aria-rowcount", str(PIECES + 1))
    last = large.locator(f"tr[aria-rowindex='{PIECES + 1}']")
    go_to_the_end(large, last)
    expect(last).to_be_in_viewport()
    assert large.get_by_role("row").count() < NEAR
    large.get_by_role("button", name="Hang").last.click()
    expect(large.locator("header.strip .tag")).to_have_count(1)

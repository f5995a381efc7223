"""Every view of the shop, by its address, and when it is there to be looked at."""

from __future__ import annotations

from playwright.sync_api import Page, expect

VIEWS = [
    "/rack",
    "/rack/claims",
    "/bench",
    "/bench/24",
    "/bench/24/photo",
    "/bench/instruments",
    "/sheet/1",
    "/board",
    "/board/foods",
    "/steels",
    "/counter",
    "/trials",
    "/trials?new=1",
    "/trials/calibration",
    "/trials/cuts",
    "/trials/cuts?part=foods",
    "/trials/cuts?new=1",
    "/upkeep",
    "/upkeep/7/setup",
    "/upkeep/20/reprofile",
    "/upkeep/8/life",
    "/upkeep/16/work",
    "/upkeep/4/care",
    "/upkeep/workshop",
    "/office",
    "/office/repeatability",
    "/office/pages",
    "/office/in",
    "/office/out",
    "/office/work",
    "/office/people",
    "/office/changes",
    "/office/me",
]
IN_HAND = "hand=1.4.5"


def with_hand(view: str) -> str:
    """The address of a view with three knives on the strip."""
    return f"{view}{'&' if '?' in view else '?'}{IN_HAND}"


def ready(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.get_by_text("Fetching the station")).to_be_hidden()

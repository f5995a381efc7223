"""A shop that was just founded: what it says first, and its first knife without a manual."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from patience import PATIENCE_MS
from playwright.sync_api import Browser, Page, expect

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.settings import Settings
from maple_rook.store.people import BROWSER
from served import served
from shops import shop_engine as a_shop
from signed_in import in_browser, key_of


@pytest.fixture
def empty(browser: Browser, cluster: Cluster) -> Iterator[Page]:
    """A page of an owner in a shop without a single knife."""
    with a_shop(cluster) as engine, served(create_app(Settings(), engine)) as address:
        context = browser.new_context(
            base_url=address,
            viewport={"width": 1280, "height": 800},
            **in_browser(key_of(engine, kind=BROWSER)),
        )
        page = context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        yield page
        context.close()


def test_the_first_knife_is_entered_with_what_is_known_of_it(empty: Page) -> None:
    empty.goto("/rack")
    hint = empty.get_by_role("complementary", name="First steps")
    expect(hint).to_contain_text("enter your first knife")
    expect(hint).not_to_contain_text("Hang")
    empty.get_by_role("main").get_by_role("link", name="Bench").first.click()
    begin = empty.get_by_role("button", name="Begin measuring")
    expect(empty.get_by_role("combobox", name="Grind")).to_have_value("not yet seen")
    empty.get_by_label("Piece tag").fill("K-1")
    begin.click()
    for field in ("Maker", "Line", "Type", "Nominal size"):  # each says for itself what it lacks
        expect(empty.get_by_text(f"{field} is missing.")).to_be_visible()
    empty.get_by_label("Maker").fill("Kesterby")
    empty.get_by_label("Line", exact=True).fill("Harbour")
    empty.get_by_role("combobox", name="Type").fill("gyuto")
    empty.get_by_label("Nominal size").fill("210")
    begin.click()
    entry = empty.locator("input.typed, label.what").first
    expect(entry).to_be_visible()
    empty.goto("/rack")
    expect(hint).to_contain_text("Hang a knife")
    empty.get_by_role("link", name="Sheet of Kesterby Harbour gyuto 210").click()
    expect(empty.get_by_text("not yet seen").first).to_be_visible()
    expect(empty.get_by_text("steel not known").first).to_be_visible()


def test_a_shop_is_named_fed_from_a_list_and_sold_from(empty: Page, tmp_path: Path) -> None:
    empty.goto("/office/shop")
    empty.get_by_label("Name", exact=True).fill("Weir & Daughter")
    empty.get_by_role("combobox", name="Currency of its prices").fill("EUR")
    empty.get_by_role("button", name="Save").click()
    expect(empty.get_by_text("✓ Saved")).to_be_visible()
    listed = tmp_path / "pieces.csv"
    listed.write_text(
        "tag,maker,line,type,size,weight g,price\nW-1,Kesterby,Quay,petty,150,90,€ 85\n"
    )
    empty.goto("/office/in")
    empty.locator("input[type=file]").set_input_files(listed)
    empty.get_by_role("radio", name="measured here, with our usual instruments").check()
    empty.get_by_role("button", name="Preview the import").click()
    empty.get_by_role("button", name="Import", exact=True).click()
    expect(empty.get_by_text("Imported:")).to_be_visible()
    empty.get_by_role("link", name="See the Rack").click()
    empty.get_by_role("link", name="Sheet of Kesterby Quay petty").click()
    expect(empty.get_by_text("85 EUR")).to_be_visible()
    stock = empty.get_by_role("region", name="Stock")
    stock.get_by_role("button", name="Sell").click()
    stock.get_by_role("button", name="Sell").last.click()
    expect(stock.get_by_text("sold", exact=True)).to_be_visible()
    empty.goto("/rack")
    expect(
        empty.get_by_text("No knife matches these filters").or_(
            empty.get_by_text("The rack is empty")
        )
    ).to_be_visible()

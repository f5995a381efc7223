"""A shop below a path of somebody's site: every view, and all that it fetches, is below it."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from fields import sign_in
from playwright.sync_api import Page, Response, expect
from sqlalchemy import Engine
from views import VIEWS, ready, with_hand

from maple_rook.app import create_app
from maple_rook.demo.people import DEMO_PASSWORD, IN_DEMO
from maple_rook.settings import Settings
from served import served

PATH = "/shop"


@pytest.fixture(scope="module")
def below(shop_engine: Engine) -> Iterator[str]:
    settings = Settings(public_url=f"http://127.0.0.1{PATH}")
    with served(create_app(settings, shop_engine, IN_DEMO)) as address:
        yield f"{address}{PATH}"


def test_nothing_is_looked_for_beside_the_path(below: str, stranger: Page) -> None:
    wrong: list[str] = []

    def look(answer: Response) -> None:
        if not answer.url.startswith(("blob:", "data:")) and (
            not answer.url.startswith(f"{below}/") or answer.status >= 400
        ):
            wrong.append(f"{answer.status} {answer.url}")

    stranger.on("response", look)
    stranger.goto(f"{below}/rack")
    sign_in(stranger, "Otta in the office", DEMO_PASSWORD)
    expect(stranger.get_by_text("KH-01").first).to_be_visible()
    [cookie] = [c for c in stranger.context.cookies() if c["name"] == "rook"]
    assert cookie["path"] == f"{PATH}/"
    for view in VIEWS:
        stranger.goto(f"{below}{with_hand(view)}")
        ready(stranger)
        addresses = stranger.eval_on_selector_all(
            "[href], [src]", "all => all.map((e) => e.href || e.src).map(String)"
        )
        theirs = [a for a in addresses if a.startswith("http") and "#" not in a]
        assert [a for a in theirs if not a.startswith(f"{below}/")] == [], view
    assert wrong == []

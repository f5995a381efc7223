"""The database takes its time: whoever measures does not wait for it."""

from __future__ import annotations

from typing import Any

import pytest
from at_the_bench import at, begin, readings, stored
from patience import PATIENCE_MS
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import Engine
from sqlalchemy.orm import Session

from maple_rook.app import create_app
from maple_rook.settings import Settings
from maple_rook.store.database import connect
from served import Held, served


@pytest.fixture
def held(shop_engine: Engine) -> Any:
    line = Held(shop_engine.url.port or 0)
    yield line
    line.close()


def test_measuring_goes_on_while_the_database_holds_its_breath(
    browser_context_args: dict[str, Any],
    shop_engine: Engine,
    shop: Session,
    held: Held,
    browser: Browser,
) -> None:
    engine = connect(shop_engine.url.set(port=held.port))
    with served(create_app(Settings(), engine)) as address:
        page: Page = browser.new_context(**{**browser_context_args, "base_url": address}).new_page()
        page.set_default_timeout(PATIENCE_MS)
        tag = begin(page, "weight")
        with held.hold():
            for asked, typed in (
                ("weight", "186"),
                ("edge length", "209.4"),
                ("overall length", "342"),
                ("handle length", "126"),
            ):
                at(page, asked)
                page.keyboard.type(typed)
                page.keyboard.press("Enter")
            expect(page.get_by_text("4 on the way")).to_be_visible()
            assert readings(shop, tag) == []
        stored(page)
        assert [r.typed.split()[0] for r in readings(shop, tag)] == ["186", "209.4", "342", "126"]
        page.close()
    engine.dispose()

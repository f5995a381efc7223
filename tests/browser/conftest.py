"""The real application in headless Chromium, on a PostgreSQL database of its own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from patience import PATIENCE_MS
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import Engine
from sqlalchemy.orm import Session

import chromium
from bench_line import Line
from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.demo.people import IN_DEMO
from maple_rook.instruments.stand_ins import StandIn
from maple_rook.settings import Settings
from maple_rook.store.database import sessions
from maple_rook.store.people import BROWSER
from maple_rook.store.records import place_stand_ins
from served import served
from shops import shop_engine as a_shop
from signed_in import in_browser, key_of

expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return {
        **browser_type_launch_args,
        "executable_path": chromium.EXECUTABLE,
        "args": chromium.FLAGS,
    }


@pytest.fixture(scope="session")
def browser_context_args(
    browser_context_args: dict[str, Any], shop_engine: Engine
) -> dict[str, Any]:
    """Every page begins signed in as the owner."""
    return {
        **browser_context_args,
        "viewport": {"width": 1280, "height": 800},
        "reduced_motion": "reduce",
        **in_browser(key_of(shop_engine, kind=BROWSER)),
    }


@pytest.fixture(scope="session")
def shop_engine(cluster: Cluster) -> Iterator[Engine]:
    with a_shop(cluster, demo=True) as made:
        yield made


@pytest.fixture
def shop(shop_engine: Engine) -> Iterator[Session]:
    """The record the browser's server writes to."""
    with sessions(shop_engine)() as session:
        yield session


@pytest.fixture(scope="session")
def line() -> Iterator[Line]:
    """The bench's simulated instruments, listening."""
    with Line() as listening:
        yield listening


@pytest.fixture
def instruments(line: Line) -> Iterator[dict[str, StandIn]]:
    """The simulated instruments by kind: steady, with no specimen in the jaws."""
    yield line.instruments
    for stand_in in line.instruments.values():
        stand_in.mode = "steady"
        stand_in.specimen.clear()


@pytest.fixture(scope="session")
def base_url(shop_engine: Engine, line: Line) -> Iterator[str]:
    """Address of a running server with the built front end and instruments on their lines."""
    with sessions(shop_engine)() as session:
        place_stand_ins(session, line.addresses)
    settings = Settings()
    assert (settings.web_root / "index.html").exists(), "build the front end: ./rook test browser"
    with served(create_app(settings, shop_engine, IN_DEMO)) as address:
        yield address


@pytest.fixture
def page(page: Page) -> Iterator[Page]:
    """A page past the first hint; anything its scripts complain about fails the test."""
    complaints: list[str] = []
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.add_init_script(
        "if (location.protocol === 'http:' && !localStorage.getItem('maple-rook.hinted'))"
        " localStorage.setItem('maple-rook.hinted', 'yes')"
    )
    page.set_default_timeout(PATIENCE_MS)
    yield page
    assert complaints == []


@pytest.fixture
def stranger(browser: Browser, browser_context_args: dict[str, Any]) -> Page:
    """A browser in which nobody is signed in."""
    how = {**browser_context_args, "storage_state": None, "extra_http_headers": {}}
    page: Page = browser.new_context(**how).new_page()
    page.set_default_timeout(PATIENCE_MS)
    page.add_init_script("localStorage.setItem('maple-rook.hinted', 'yes')")
    return page

"""A shelf of ever more pieces: what a list, a search, a sort, a Sheet, a Board, a Counter take."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager

import httpx2 as httpx
from playwright.sync_api import sync_playwright
from sqlalchemy import Engine, text
from tests.signed_in import bearer, in_browser, key_of

from benchmarks.load import Asked, Borne, bear
from maple_rook.cluster import Cluster, free_port
from maple_rook.demo.shelves import grow_to
from maple_rook.settings import PROJECT_ROOT
from maple_rook.store.database import connect
from maple_rook.store.people import BROWSER

SIZES = (100, 10_000, 100_000)
CLIENTS = (1, 10, 50)
LISTS = {
    "list": ("Rack list", "/api/rack?limit=60"),
    "search": ("Rack, searched", "/api/rack?limit=60&search=santoku"),
    "sorted": ("Rack by months to the stone",
               "/api/rack?limit=60&sort=months_to_stone&descending=true"),
}  # fmt: skip
CUSTOMERS = ("home cook who hates upkeep", "prep line", "galley")
FRAMES, STEP_PX = 300, 90
_SCROLL = """async ([frames, step]) => {
  const seen = { blank: 0, coming: 0, long: 0 }
  let before = performance.now()
  for (let n = 0; n < frames; n++) {
    window.scrollBy(0, step)
    await new Promise(requestAnimationFrame)
    const now = performance.now()
    if (now - before > 50) seen.long++
    before = now
    const middle = document.elementsFromPoint(700, 450)
    if (middle.some((e) => e.matches('.coming'))) seen.coming++
    else if (!middle.some((e) => e.matches('.rails'))) seen.blank++
  }
  return seen
}"""
Row = tuple[str, str, str]
Serve = Callable[[str], AbstractContextManager[tuple[str, int]]]


@contextmanager
def bare(url: str) -> Iterator[str]:
    """The bare SQL behind a minimal endpoint, in a process of its own."""
    port = free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "benchmarks.bare", url, str(port)], cwd=PROJECT_ROOT
    )
    address = f"http://127.0.0.1:{port}"
    try:
        for _ in range(200):
            try:
                httpx.get(f"{address}/nothing")
                break
            except httpx.HTTPError:
                time.sleep(0.1)
        yield address
    finally:
        process.terminate()
        process.wait(timeout=10)


def rows(cluster: Cluster, serve: Serve, flags: list[str]) -> Iterator[Row]:
    first: dict[str, Borne] = {}
    for size in SIZES:
        name = f"shelf_{size}"
        cluster.ensure_database(name)
        url = cluster.url(name)
        with serve(url) as (address, _), bare(url) as beside:
            engine = connect(url)
            grow_to(engine, size)
            entry = bearer(engine)
            yield _worked_out(address, entry, size)
            for key, (label, path) in LISTS.items():
                ours, plain = _both(
                    Asked.get(address, path, entry), Asked.get(beside, f"/{key}", {})
                )
                first.setdefault(key, ours)
                yield (f"  {label}, one client (at most 3.0 of its bare SQL)", _said(ours),
                       f"{ours.median / plain.median:.2f}")  # fmt: skip
                if size != SIZES[0]:
                    times = f"{size // SIZES[0]:,} times the pieces"
                    grown = ours.median / first[key].median
                    yield f"    against {SIZES[0]}: {times}", "", f"{grown:.2f}"
            if size == 10_000:
                yield from _crowds(address, beside, entry)
                yield from _others(address, beside, engine, entry)
                yield _scrolled(address, engine, flags)
            engine.dispose()


def _said(borne: Borne) -> str:
    return f"{borne.median:.1f} ms, 95 %: {borne.p95:.1f}"


def _both(ours: Asked, plain: Asked, clients: int = 1) -> tuple[Borne, Borne]:
    """In turn, twice, the better half of each: the machine's moods hit both alike."""
    tries = [(bear(ours, clients, 2.0), bear(plain, clients, 2.0)) for _ in range(2)]
    return (min((t[0] for t in tries), key=lambda b: b.median),
            min((t[1] for t in tries), key=lambda b: b.median))  # fmt: skip


def _worked_out(address: str, entry: dict[str, str], size: int) -> Row:
    """Ask as somebody would until the queue has worked everything out."""
    started = time.perf_counter()
    with httpx.Client(base_url=address, headers=entry, timeout=120) as client:
        while True:
            head = client.get("/api/rack", params={"limit": 1}).json()
            if not head["behind"]:
                break
            time.sleep(0.5)
    took = time.perf_counter() - started
    assert head["total"] == size, head["total"]
    return (f"Shelf of {size:,} pieces, worked out from nothing by the queue",
            f"{took:.1f} s", f"{size / took:,.0f} pieces/s")  # fmt: skip


def _crowds(address: str, beside: str, entry: dict[str, str]) -> Iterator[Row]:
    for clients in CLIENTS:
        ours, plain = _both(
            Asked.get(address, LISTS["list"][1], entry), Asked.get(beside, "/list", {}), clients
        )
        yield (f"  Rack list, {clients} clients: {_said(ours)}",
               f"{ours.per_second:.0f}/s, bare {plain.per_second:.0f}/s",
               f"{plain.per_second / ours.per_second:.2f}")  # fmt: skip


def _others(address: str, beside: str, engine: Engine, entry: dict[str, str]) -> Iterator[Row]:
    """Sheet, Board and Counter, against an endpoint that does nothing."""
    with engine.connect() as connection:
        ids = connection.scalars(text("SELECT id FROM pieces ORDER BY id LIMIT 6")).all()
    board = "&".join(f"piece={key}" for key in ids)
    with httpx.Client(base_url=address, headers=entry, timeout=60) as client:
        presets = {job["label"]: job for job in client.get("/api/counter").json()["presets"]}
    asked = {
        "Sheet": Asked.get(address, f"/api/pieces/{ids[0]}", entry),
        "Board of six": Asked.get(address, f"/api/board?{board}", entry),
        **{f"Counter, {c}": Asked.post(address, "/api/counter/advice", entry, presets[c])
           for c in CUSTOMERS},
    }  # fmt: skip
    nothing = bear(Asked.get(beside, "/nothing", {}), 1, 2.0)
    yield "  an endpoint that does nothing", _said(nothing), "1.00"
    for label, request in asked.items():
        bear(request, 1, 1.0)
        borne = bear(request, 1, 4.0)
        yield f"  {label}", _said(borne), f"{borne.median / nothing.median:.0f}"


def _scrolled(address: str, engine: Engine, flags: list[str]) -> Row:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=flags)
        page = browser.new_context(
            viewport={"width": 1280, "height": 800}, **in_browser(key_of(engine, kind=BROWSER))
        ).new_page()
        page.goto(f"{address}/rack")
        page.wait_for_selector(".rails li.place")
        page.wait_for_timeout(1500)
        seen = page.evaluate(_SCROLL, [FRAMES, STEP_PX])
        browser.close()
    others = f"{seen['coming']} on their way, {seen['long']} over 50 ms"
    scrolled = f"{FRAMES * STEP_PX:,} px in {FRAMES} frames"
    return f"  Rack scrolled {scrolled}: blank frames (none)", f"{seen['blank']}", others

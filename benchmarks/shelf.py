"""A shelf of ever more pieces: what a list, a search, a sort, a Sheet, a Board, a Counter take."""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from functools import partial

import httpx2 as httpx
from playwright.sync_api import sync_playwright
from sqlalchemy import Engine, text
from tests import chromium
from tests.signed_in import bearer, in_browser, key_of

from benchmarks.load import Asked, Borne, bear
from benchmarks.rows import Row, going_on
from benchmarks.servers import answers, server
from maple_rook.cluster import Cluster, free_port, temporary_cluster
from maple_rook.demo.shelves import grow_to
from maple_rook.settings import PROJECT_ROOT
from maple_rook.store.database import connect
from maple_rook.store.people import BROWSER

SIZES = (100, 10_000, 100_000)
CLIENTS = (1, 10, 50)
LISTS = {
    "list": ("Rack list", "/api/rack?limit=60"),
    "search": ("Rack, searched", "/api/rack?limit=60&search=santoku"),
    "sorted": (
        "Rack by months to the stone",
        "/api/rack?limit=60&sort=months_to_stone&descending=true",
    ),
}
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


@contextmanager
def bare(url: str) -> Iterator[str]:
    """The bare SQL behind a minimal endpoint, in a separate process."""
    port = free_port()
    process = subprocess.Popen(
        [sys.executable, "-m", "benchmarks.bare", url, str(port)], cwd=PROJECT_ROOT
    )
    address = f"http://127.0.0.1:{port}"
    try:
        answers(f"{address}/nothing", process)
        yield address
    finally:
        process.terminate()
        process.wait(timeout=10)


def rows() -> Iterator[Row]:
    first: dict[str, Borne] = {}
    with temporary_cluster() as cluster:
        for size in SIZES:
            yield from going_on(f"Shelf of {size:,}", partial(_sized, cluster, size, first))


def _sized(cluster: Cluster, size: int, first: dict[str, Borne]) -> Iterator[Row]:
    cluster.ensure_database(f"shelf_{size}")
    url = cluster.url(f"shelf_{size}")
    with server(url) as served, bare(url) as beside:
        engine = connect(url)
        grow_to(engine, size)
        entry, address = bearer(engine), served.address
        yield from going_on("worked out", lambda: [_worked_out(address, entry, size)])
        yield from going_on("lists", lambda: _lists(address, beside, entry, size, first))
        if size == 10_000:
            yield from going_on("crowds", lambda: _crowds(address, beside, entry))
            yield from going_on("stations", lambda: _others(address, beside, engine, entry))
            yield from going_on("scrolled", lambda: [_scrolled(address, engine)])
        engine.dispose()


def _lists(
    address: str, beside: str, entry: dict[str, str], size: int, first: dict[str, Borne]
) -> Iterator[Row]:
    for key, (label, path) in LISTS.items():
        ours, plain = _both(Asked.get(address, path, entry), Asked.get(beside, f"/{key}", {}))
        first.setdefault(key, ours)
        yield _row(
            f"  {label}, {size:,} pieces, bare SQL 1 (at most 3.0)",
            ours,
            ours.median / plain.median,
        )
        if size != SIZES[0]:
            times = f"{size // SIZES[0]:,} times the pieces"
            grown = ours.median / first[key].median
            yield Row(f"    {label} against {SIZES[0]}: {times}", ratio=grown)


def _row(figure: str, borne: Borne, ratio: float | None = None) -> Row:
    return Row(figure, borne.median, "ms", ratio, f"95 % {borne.p95:.1f} ms")


def _both(ours: Asked, plain: Asked, clients: int = 1) -> tuple[Borne, Borne]:
    """In turn, twice, the better half of each: the machine's moods hit both alike."""
    tries = [(bear(ours, clients, 2.0), bear(plain, clients, 2.0)) for _ in range(2)]
    return (
        min((t[0] for t in tries), key=lambda b: b.median),
        min((t[1] for t in tries), key=lambda b: b.median),
    )


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
    if head["total"] != size:
        raise ValueError(f"nothing is behind, but {head['total']:,} of {size:,} are listed")
    return Row(
        f"Shelf of {size:,} pieces, worked out from nothing",
        size / took,
        "pieces/s",
        note=f"{took:.1f} s",
    )


def _crowds(address: str, beside: str, entry: dict[str, str]) -> Iterator[Row]:
    for clients in CLIENTS:
        ours, plain = _both(
            Asked.get(address, LISTS["list"][1], entry), Asked.get(beside, "/list", {}), clients
        )
        yield Row(
            f"  Rack list, {clients} clients, bare SQL 1",
            ours.per_second,
            "lists/s",
            plain.per_second / ours.per_second,
            f"95 % {ours.p95:.1f} ms",
        )


def _others(address: str, beside: str, engine: Engine, entry: dict[str, str]) -> Iterator[Row]:
    """Sheet, Board and Counter, against an endpoint that does nothing."""
    with engine.connect() as connection:
        ids = connection.scalars(text("SELECT id FROM pieces ORDER BY id LIMIT 6")).all()
    with httpx.Client(base_url=address, headers=entry, timeout=60) as client:
        presets = {
            profile["label"]: profile for profile in client.get("/api/counter").json()["presets"]
        }
    asked = {
        "Sheet": Asked.get(address, f"/api/pieces/{ids[0]}", entry),
        "Board of six": Asked.post(address, "/api/board", entry, {"pieces": list(ids)}),
        **{
            f"Counter, {c}": Asked.post(address, "/api/counter/advice", entry, presets[c])
            for c in CUSTOMERS
        },
    }
    nothing = bear(Asked.get(beside, "/nothing", {}), 1, 2.0)
    yield _row("  an endpoint that does nothing", nothing, 1.0)
    for label, request in asked.items():
        bear(request, 1, 1.0)
        borne = bear(request, 1, 4.0)
        yield _row(f"  {label}", borne, borne.median / nothing.median)


def _scrolled(address: str, engine: Engine) -> Row:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=chromium.EXECUTABLE, args=chromium.FLAGS
        )
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
    return Row(f"  Rack scrolled {scrolled}: blank (none)", seen["blank"], "frames", note=others)

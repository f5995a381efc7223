"""What a first visit loads and when it paints, and what the server took in memory for it."""

from __future__ import annotations

import gzip
import re
import statistics
from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import sync_playwright
from tests import chromium
from tests.signed_in import in_browser, key_of

from benchmarks.rows import Row
from benchmarks.servers import demo_server
from maple_rook.front_end import DIST
from maple_rook.store.database import connect
from maple_rook.store.people import BROWSER

VISITS = 5
_WATCH = """new MutationObserver(() => {
    if (!window.knivesHang && document.querySelector('.rails li'))
        window.knivesHang = performance.now()
}).observe(document, { childList: true, subtree: true })"""
_SCRIPTS = """performance.getEntriesByType('resource')
    .filter(e => e.name.endsWith('.js') && e.startTime < window.knivesHang).map(e => e.name)"""
_PAINT = "performance.getEntriesByName('first-contentful-paint')[0].startTime"


def rows() -> Iterator[Row]:
    with demo_server() as served:
        engine = connect(served.url)
        scripts: list[str] = []
        paints = []
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(
                executable_path=chromium.EXECUTABLE, args=chromium.FLAGS
            )
            for _ in range(VISITS):
                page = browser.new_context(**in_browser(key_of(engine, kind=BROWSER))).new_page()
                page.add_init_script(_WATCH)
                page.goto(f"{served.address}/rack")
                page.wait_for_selector(".rails li")
                scripts = page.evaluate(_SCRIPTS)
                paints.append(page.evaluate(_PAINT))
                page.close()
            browser.close()
        sizes = [len(gzip.compress((DIST / "assets" / Path(s).name).read_bytes())) for s in scripts]
        yield Row(
            "JavaScript until the knives hang, gzipped (at most 200 kB)", sum(sizes) / 1000, "kB"
        )
        yield Row("Rack, first contentful paint", statistics.median(paints), "ms")
        peak = peak_memory_mb(served.pid)
        yield Row("Peak memory of the server (at most 300 MB)", peak, "MB")
        engine.dispose()


def peak_memory_mb(pid: int | str = "self") -> float:
    found = re.search(r"VmHWM:\s+(\d+) kB", Path(f"/proc/{pid}/status").read_text())
    return int(found[1]) / 1024 if found else float("nan")

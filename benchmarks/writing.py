"""From key press to stored reading, and fifty benches writing at once."""

from __future__ import annotations

import http.client
import json
import statistics
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from typing import Any

import psycopg
from playwright.sync_api import Page, sync_playwright
from tests import chromium
from tests.signed_in import bearer, in_browser, key_of

from benchmarks.rows import Row, going_on
from benchmarks.servers import Served, demo_server
from maple_rook.store.database import connect
from maple_rook.store.people import BROWSER

ROUNDS = 400
KEYS = 60
BENCHES, EACH = 50, 20
ASKED = (
    ("weight", "186 g"),
    ("handle_thickness", "20 mm"),
    ("flat_length", "90 mm"),
    ("knuckle_room", "22 mm"),
)
BARE = """
    INSERT INTO readings (client_id, sheet_id, quantity, typed, value, unit, si_value, si_unit,
        instrument_id, method, station, replicate, unusual_confirmed, taken_at, person_id)
    VALUES (%s, %s, %s, %s, 186, 'g', 186, 'g', 1, 'manual', '', 1, false, now(), 1)"""


class Bench:
    """One Bench's line to the server, kept open as a browser keeps it."""

    def __init__(self, port: int, entry: dict[str, str]) -> None:
        self._line = http.client.HTTPConnection("127.0.0.1", port)
        self._headers = {"content-type": "application/json", **entry}

    def post(self, path: str, body: dict[str, Any]) -> dict[str, Any]:
        self._line.request("POST", path, json.dumps(body), self._headers)
        answer = self._line.getresponse()
        content = answer.read()
        assert answer.status == 201, content
        found: dict[str, Any] = json.loads(content)
        return found

    def new_sheet(self) -> int:
        tag = f"T-{uuid.uuid4().hex[:8]}"
        return int(self.post("/api/bench/pieces", {"tag": tag, "model_id": 1})["id"])

    def reading(self, sheet: int, number: int) -> None:
        quantity, typed = ASKED[number % len(ASKED)]
        body = {"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed}
        self.post(f"/api/bench/sheets/{sheet}/readings", body)


def timed_ms(work: Callable[[], object]) -> float:
    started = time.perf_counter()
    work()
    return 1000 * (time.perf_counter() - started)


def middle(times: list[float]) -> tuple[float, float]:
    """Median and 95th percentile."""
    return statistics.median(times), sorted(times)[int(0.95 * len(times))]


def rows() -> Iterator[Row]:
    """The bare insert is of the same row, on a connection kept open."""
    with demo_server(durable=True) as served:  # as a shop's own writes, to the disk
        engine = connect(served.url)
        entry, token = bearer(engine), key_of(engine, kind=BROWSER)
        engine.dispose()
        ours, bare = _stored_in_turn(served, entry)
        (ours_50, ours_95), (bare_50, bare_95) = middle(ours), middle(bare)
        yield Row(
            "Reading stored: a bare insert through psycopg",
            bare_50,
            "ms",
            1.0,
            f"95 % {bare_95:.1f} ms",
        )
        yield Row(
            "  sent by a Bench over loopback and confirmed (at most 3.5)",
            ours_50,
            "ms",
            ours_50 / bare_50,
            f"95 % {ours_95:.1f} ms",
        )
        yield from going_on("  key press", lambda: _by_key(served, entry, token, bare_50))
        yield from going_on(f"{BENCHES} benches at once", lambda: _by_many(served, entry))


def _stored_in_turn(served: Served, entry: dict[str, str]) -> tuple[list[float], list[float]]:
    """Ours and bare, in turn, so that the machine's moods hit both alike."""
    bench = Bench(served.port, entry)
    sheets = [bench.new_sheet() for _ in range(ROUNDS // 20)]
    ours, bare = [], []
    with psycopg.connect(served.url.replace("+psycopg", "")) as connection:
        for i in range(ROUNDS):
            sheet = sheets[i // 20]
            ours.append(timed_ms(lambda s=sheet, n=i: bench.reading(s, n)))  # type: ignore[misc]

            def insert(sheet: int = sheet, i: int = i) -> None:
                connection.execute(BARE, (uuid.uuid4(), sheet, *ASKED[i % len(ASKED)]))
                connection.commit()

            bare.append(timed_ms(insert))
    return ours, bare


def _by_key(served: Served, entry: dict[str, str], token: str, bare_ms: float) -> Iterator[Row]:
    sheet = Bench(served.port, entry).new_sheet()
    keys, floor = browser_ms(served.port, sheet, in_browser(token))
    (keys_50, keys_95), (floor_50, _) = middle(keys), middle(floor)
    yield Row(
        "  key press in Chromium to confirmed",
        keys_50,
        "ms",
        keys_50 / bare_ms,
        f"95 % {keys_95:.1f} ms",
    )
    yield Row("    of which the browser's own fetch of nothing", floor_50, "ms", floor_50 / bare_ms)


def _by_many(served: Served, entry: dict[str, str]) -> Iterator[Row]:
    bench = Bench(served.port, entry)
    rate, lost = at_once(
        served.port, entry, [bench.new_sheet() for _ in range(BENCHES)], served.url
    )
    yield Row(
        f"{BENCHES} benches at once, {BENCHES * EACH:,} readings",
        rate,
        "readings/s",
        note=f"{lost} lost",
    )


def browser_ms(port: int, sheet: int, signed: dict[str, Any]) -> tuple[list[float], list[float]]:
    """Key press to confirmed reading in a real Bench, and a fetch that does nothing, in ms."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path=chromium.EXECUTABLE, args=chromium.FLAGS
        )
        how = {"viewport": {"width": 1280, "height": 800}, "bypass_csp": True, **signed}
        page = browser.new_context(**how).new_page()
        page.goto(f"http://127.0.0.1:{port}/bench/{sheet}")
        page.wait_for_selector("input[id^=entry-]")
        page.get_by_role("navigation", name="Stops").get_by_role("button", name="3 Weight").click()
        page.evaluate(_WATCH)
        keys = [_pressed(page) for _ in range(KEYS)]
        floor = page.evaluate(_FETCH_NOTHING, KEYS)
        browser.close()
    return keys, floor


_WATCH = """() => {
    performance.setResourceTimingBufferSize(10_000)
    addEventListener('keydown', e => { if (e.key === 'Enter') window.pressed = e.timeStamp }, true)
}"""
_STORED = """() =>
    performance.getEntriesByType('resource').filter(e => e.name.endsWith('/readings'))"""
_FETCH_NOTHING = """async n => {
    const times = []
    for (let i = 0; i < n; i++) {
        const from = performance.now()
        await (await fetch('/api/nowhere', {method: 'POST'})).text()
        times.push(performance.now() - from)
    }
    return times
}"""


def _pressed(page: Page) -> float:
    """One reading typed; from its Enter to the end of the server's answer."""
    before = page.evaluate(f"({_STORED})().length")
    page.keyboard.press("r")
    page.keyboard.type("186")
    page.keyboard.press("Enter")
    page.wait_for_function(f"({_STORED})().length > {before}")
    return float(page.evaluate(f"({_STORED})().at(-1).responseEnd - window.pressed"))


def at_once(
    port: int, entry: dict[str, str], sheets: list[int], database: str
) -> tuple[float, int]:
    """Readings a second with every bench writing at once, and how many are missing after."""

    def write(sheet: int) -> None:
        bench = Bench(port, entry)
        for number in range(EACH):
            bench.reading(sheet, number)

    benches = [threading.Thread(target=write, args=(sheet,)) for sheet in sheets]
    started = time.perf_counter()
    for bench in benches:
        bench.start()
    for bench in benches:
        bench.join()
    took = time.perf_counter() - started
    with psycopg.connect(database.replace("+psycopg", "")) as connection:
        row = connection.execute(
            "SELECT count(*) FROM readings WHERE sheet_id = ANY(%s)", [sheets]
        ).fetchone()
    kept = int(row[0]) if row else 0
    return kept / took, len(sheets) * EACH - kept

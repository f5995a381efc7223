"""How calm each station is as it comes, and how soon it answers a hand, on a slow processor.

Layout shift and interactions as Chromium itself reports them (Layout Instability and Event Timing
of the W3C), with the processor throttled to a quarter.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from statistics import median

from playwright.sync_api import Browser, Page, sync_playwright
from tests import chromium
from tests.signed_in import in_browser, key_of

from benchmarks.rows import Row
from benchmarks.servers import demo_server
from maple_rook.store.database import connect
from maple_rook.store.people import BROWSER

THROTTLED = 4
VISITS = 5
"""A station is visited so often; what is given is the median."""
MOST_SHIFT, MOST_MS = 0.02, 200
_WATCH = """
localStorage.setItem('maple-rook.hinted', 'yes')
window.shift = 0
window.slowest = 0
new PerformanceObserver((list) => {
  for (const e of list.getEntries()) if (!e.hadRecentInput) window.shift += e.value
}).observe({ type: 'layout-shift', buffered: true })
new PerformanceObserver((list) => {
  for (const e of list.getEntries())
    if (e.interactionId) window.slowest = Math.max(window.slowest, e.duration)
}).observe({ type: 'event', durationThreshold: 16, buffered: true })
"""


def _click(role: str, name: str) -> Callable[[Page], None]:
    """A click where the element is, by the mouse alone: no script of the driver's is timed."""

    def on_it(page: Page) -> None:
        element = page.get_by_role(role, name=name).first  # type: ignore[arg-type]
        element.scroll_into_view_if_needed()
        box = element.bounding_box()
        assert box
        page.wait_for_timeout(500)
        page.evaluate("window.slowest = 0")
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)

    return on_it


def _type(text: str) -> Callable[[Page], None]:
    def into_the_first_field(page: Page) -> None:
        page.locator("main input").first.click()
        page.keyboard.type(text, delay=80)

    return into_the_first_field


STATIONS: dict[str, tuple[str, Callable[[Page], None]]] = {
    "Rack": ("/rack", _click("button", "Hang KH-02")),
    "Bench": ("/bench/24", _type("186")),
    "Sheet": ("/sheet/1", _click("button", "What if")),
    "Board": ("/board", _click("radio", "every pair")),
    "Counter": ("/counter", _click("button", "rocks")),
    "Trials": ("/trials", _click("link", "Calibration")),
    "Upkeep": ("/upkeep/7/setup", _click("link", "Life")),
    "Steels": ("/steels", _type("1.41")),
    "Office": ("/office", _click("link", "Repeatability")),
}


def rows() -> Iterator[Row]:
    with demo_server() as served, sync_playwright() as playwright:
        engine = connect(served.url)
        signed_in = in_browser(key_of(engine, kind=BROWSER))
        browser = playwright.chromium.launch(
            executable_path=chromium.EXECUTABLE, args=chromium.FLAGS
        )
        for station, (path, act) in STATIONS.items():
            address = f"{served.address}{path}?hand=1.4.5"
            visits = [_felt(browser, signed_in, address, act) for _ in range(VISITS)]
            shift, slowest = map(median, zip(*visits, strict=True))
            calm = f"at most {MOST_SHIFT}: {'kept' if shift < MOST_SHIFT else 'NOT kept'}"
            yield Row(f"{station}, layout shift", 1000 * shift, "/1000", note=calm)
            soon = f"at most {MOST_MS} ms: {'kept' if slowest < MOST_MS else 'NOT kept'}"
            yield Row(
                f"{station}, interaction at a quarter of the speed",
                slowest,
                "ms",
                note=soon,
            )
        browser.close()
        engine.dispose()


def _felt(
    browser: Browser, signed_in: dict[str, object], address: str, act: Callable[[Page], None]
) -> tuple[float, float]:
    """Cumulative layout shift until the page is still, and the longest interaction in ms."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, **signed_in)  # type: ignore[arg-type]
    page = context.new_page()
    page.add_init_script(_WATCH)
    throttle = context.new_cdp_session(page)
    throttle.send("Emulation.setCPUThrottlingRate", {"rate": THROTTLED})
    page.goto(address)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(1000)
    shift = page.evaluate("window.shift")
    act(page)
    page.wait_for_timeout(1500)
    slowest = page.evaluate("window.slowest")
    context.close()
    return shift, slowest

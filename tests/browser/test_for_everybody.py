"""Used by keyboard alone, at twice the size, on a phone, without motion, by a screen reader.

Each view is opened once, and everything that holds of every view is looked at in that visit.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect
from views import VIEWS, ready, with_hand

BRIEF = {"resultTypes": ["violations"], "selectors": False, "iframes": False}
"""Only what fails is written down node by node, with its HTML."""
WCAG = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"], **BRIEF}
"""WCAG 2.1 A and AA, contrast included."""
CONTRAST = {"runOnly": {"type": "rule", "values": ["color-contrast"]}, **BRIEF}
"""All of it that hangs on the colours of a scheme."""
STILL = ("/rack", "/bench/24", "/board", "/counter", "/office/work")
_TO_REACH = """() => {
  const shown = (e) => {
    const box = e.getBoundingClientRect()
    return box.width > 0 && box.height > 0 && getComputedStyle(e).visibility !== 'hidden'
  }
  const names = new Set()
  return [...document.querySelectorAll('a[href], button, input, select, textarea, [tabindex]')]
    .filter((e) => e.tabIndex >= 0 && !e.disabled && shown(e) && !e.closest('[inert]'))
    .filter((e) => !e.closest('details:not([open])') || e.matches('summary'))
    .filter((e) => {  // of a group of radio buttons one is reached, the arrows do the rest
      if (e.type !== 'radio') return true
      const first = !names.has(e.name)
      names.add(e.name)
      return first
    }).length
}"""
_REACHED = """() => {
  const e = document.activeElement
  if (!e || e === document.body) return null
  if (!e.dataset.reached) e.dataset.reached = String(Math.random())
  const box = e.getBoundingClientRect()
  const marked = [e, e.closest('.v-field'), e.closest('.v-selection-control'), e.parentElement,
                  e.closest('.v-slider-thumb')]
    .filter(Boolean).some((m) => getComputedStyle(m).outlineStyle !== 'none')
  const over = document.elementFromPoint(box.x + box.width / 2, box.y + box.height / 2)
  const stuck = over && over.closest('header.strip, .bar, thead')
  return {
    key: e.dataset.reached, marked, hidden: Boolean(stuck && !stuck.contains(e)),
    html: e.outerHTML.slice(0, 120),
  }
}"""


_STUCK_TO = """() => [...document.querySelectorAll('*')]
    .filter((e) => ['fixed', 'sticky'].includes(getComputedStyle(e).position))
    .map((e) => e.getBoundingClientRect())
    .filter((box) => box.width > 300 && box.top < 200 && box.height < 400)
    .reduce((low, box) => Math.max(low, box.bottom), 0)"""


@pytest.mark.spread
@pytest.mark.parametrize("view", VIEWS)
def test_every_view_is_for_everybody(page: Page, view: str) -> None:
    page.goto(with_hand(view))
    ready(page)
    faults = [*not_reached_by_keyboard(page), *against(page, WCAG)]
    if view in STILL:
        faults += moving(page)
    page.get_by_role("button", name="Switch to the dark scheme").click()
    expect(page.locator("html")).to_have_attribute("data-scheme", "rook")
    faults += [f"dark: {fault}" for fault in against(page, CONTRAST)]
    faults += [*wider_than_a_phone(page, view), *cramped_at_twice_the_size(page)]
    assert faults == []


def against(page: Page, options: dict[str, Any]) -> Iterator[str]:
    """What axe finds."""
    for v in Axe().run(page, options=options).response["violations"]:
        yield f"{v['id']}: {v['help']}: {[n['html'][:160] for n in v['nodes'][:3]]}"


def not_reached_by_keyboard(page: Page) -> Iterator[str]:
    """Everything is reached by Tab, seen when it is, and not under the strip."""
    expected = page.evaluate(_TO_REACH)
    reached: dict[str, Any] = {}
    again = 0
    for _ in range(2 * expected + 40):
        page.keyboard.press("Tab")
        at = page.evaluate(_REACHED)
        if at is None or at["key"] in reached:
            again += 1
            if again > 12:  # a field of a date alone is passed in four steps
                break
            continue
        reached[at["key"]], again = at, 0
    yield from (f"focus is not seen: {at['html']}" for at in reached.values() if not at["marked"])
    yield from (f"under the strip: {at['html']}" for at in reached.values() if at["hidden"])
    # lists that draw only what is near the window grow as one goes through them
    if len(reached) < expected:
        yield f"{len(reached)} of {expected} are reached by keyboard"


def moving(page: Page) -> Iterator[str]:
    """Nothing moves for who asked for stillness."""
    for button in page.get_by_role("button").all()[:12]:
        if button.is_visible() and button.is_enabled():
            button.hover()
            if page.evaluate("""document.getAnimations().filter(
                    (a) => a.effect.getComputedTiming().activeDuration > 20).length"""):
                yield f"moves: {button.inner_text()}"


def wider_than_a_phone(page: Page, view: str) -> Iterator[str]:
    for wide in (320, 390):  # WCAG 1.4.10 asks for 320
        page.set_viewport_size({"width": wide, "height": 844})
        if (width := page.evaluate("document.documentElement.scrollWidth")) > wide:
            yield f"{width} px wide on a phone of {wide}"
    if view == "/bench/24":  # the entry keeps its size beside the knife
        size = page.locator("input[id^=entry-]").evaluate("e => getComputedStyle(e).fontSize")
        if size != "56px":
            yield f"the entry is {size}"


def cramped_at_twice_the_size(page: Page) -> Iterator[str]:
    """A window of 1280 by 800 at 200 % shows what one of 640 by 400 shows (WCAG 1.4.4, 1.4.10)."""
    page.set_viewport_size({"width": 640, "height": 400})
    page.evaluate("scrollTo(0, 0)")
    if (width := page.evaluate("document.documentElement.scrollWidth")) > 640:
        yield f"{width} px wide at twice the size"
    if (held := page.evaluate(_STUCK_TO)) > 200:  # half of the window is left to read in
        yield f"what stays in place takes {held} px of 400"


@pytest.mark.spread
@pytest.mark.parametrize("path", ["/", "/join#not-a-token"])
def test_the_front_door_is_for_everybody(
    browser: Browser, browser_context_args: dict[str, Any], path: str
) -> None:
    """Signing in and joining, checked with axe."""
    how = {**browser_context_args, "storage_state": None, "extra_http_headers": {}}
    page = browser.new_context(**how).new_page()
    page.goto(path)
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    faults = list(against(page, WCAG))
    page.get_by_role("button", name="Switch to the dark scheme").click()
    faults += against(page, CONTRAST)
    assert faults == []
    page.context.close()


@pytest.mark.parametrize("view", ["/trials/cuts", "/trials/calibration", "/board", "/sheet/1"])
def test_a_chart_that_has_not_heard_of_a_new_width_widens_no_page(page: Page, view: str) -> None:
    page.add_init_script("ResizeObserver.prototype.observe = () => {}")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(with_hand(view))
    ready(page)
    assert list(cramped_at_twice_the_size(page)) == []

"""Used by keyboard alone, at twice the size, without motion, by eyes that tell fewer colours."""

from __future__ import annotations

import itertools
import re
from typing import Any

import numpy as np
import pytest
from axe_playwright_python.sync_playwright import Axe
from colorspacious import cspace_convert
from playwright.sync_api import Browser, Page, expect
from test_around_the_shop import VIEWS, ready, with_hand

from maple_rook.settings import PROJECT_ROOT

TOKENS = (PROJECT_ROOT / "web/src/theme/tokens.css").read_text()
LEAST_APART = 10.0
"""In CAM02-UCS, where 1 is about the least difference that is seen side by side."""
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


@pytest.mark.parametrize("view", VIEWS)
def test_everything_is_reached_by_keyboard_seen_and_not_under_the_strip(
    page: Page, view: str
) -> None:
    page.goto(with_hand(view))
    ready(page)
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
    unmarked = [at["html"] for at in reached.values() if not at["marked"]]
    hidden = [at["html"] for at in reached.values() if at["hidden"]]
    assert unmarked == []
    assert hidden == []
    # lists that draw only what is near the window grow as one goes through them
    assert len(reached) >= expected


@pytest.mark.parametrize("view", VIEWS)
def test_every_view_works_at_twice_the_size(page: Page, view: str) -> None:
    """A window of 1280 by 800 at 200 % shows what one of 640 by 400 shows (WCAG 1.4.4, 1.4.10)."""
    page.set_viewport_size({"width": 640, "height": 400})
    page.goto(with_hand(view))
    ready(page)
    assert page.evaluate("document.documentElement.scrollWidth") <= 640
    held = page.evaluate("""() => [...document.querySelectorAll('*')]
        .filter((e) => ['fixed', 'sticky'].includes(getComputedStyle(e).position))
        .map((e) => e.getBoundingClientRect())
        .filter((box) => box.width > 300 && box.top < 200 && box.height < 400)
        .reduce((low, box) => Math.max(low, box.bottom), 0)""")
    assert held <= 200, "half of the window is left to read in"


@pytest.mark.parametrize("view", ["/rack", "/bench/24", "/board", "/counter", "/office/work"])
def test_nothing_moves_for_who_asked_for_stillness(page: Page, view: str) -> None:
    page.goto(with_hand(view))
    ready(page)
    page.keyboard.press("Tab")
    for button in page.get_by_role("button").all()[:12]:
        if button.is_visible() and button.is_enabled():
            button.hover()
            moving = page.evaluate("""document.getAnimations().filter(
                (a) => a.effect.getComputedTiming().activeDuration > 20).length""")
            assert moving == 0


@pytest.mark.parametrize("scheme", ["maple", "rook"])
@pytest.mark.parametrize("path", ["/", "/join#not-a-token"])
def test_the_front_door_is_accessible(
    browser: Browser, browser_context_args: dict[str, Any], scheme: str, path: str
) -> None:
    """Signing in and joining, checked with axe."""
    how = {**browser_context_args, "storage_state": None, "extra_http_headers": {}}
    page = browser.new_context(**how).new_page()
    page.add_init_script(f"localStorage.setItem('maple-rook.scheme', '{scheme}')")
    page.goto(path)
    page.wait_for_load_state("networkidle")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    options = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa"]}
    found = Axe().run(page, options=options)
    assert [f"{v['id']}: {v['help']}" for v in found.response["violations"]] == []
    page.context.close()


def tokens(scheme: str) -> dict[str, np.ndarray]:
    light, dark = TOKENS.split(":root[data-scheme='rook']")
    said = light if scheme == "maple" else dark.split("}")[0]
    return {
        name: np.array([int(code[i : i + 2], 16) for i in (0, 2, 4)]) / 255
        for name, code in re.findall(r"--([\w-]+): #([0-9a-f]{6})", said)
    }


def as_seen(colour: np.ndarray, kind: str | None) -> np.ndarray:
    """CAM02-UCS of a colour for eyes without one of the cones.

    Simulated after Machado, Oliveira and Fernandes 2009, "A physiologically-based model for
    simulation of color vision deficiency", severity 100 %, as colorspacious has it.
    """
    if kind is not None:
        space = {"name": "sRGB1+CVD", "cvd_type": kind, "severity": 100}
        colour = np.clip(cspace_convert(colour, space, "sRGB1"), 0, 1)
    return np.asarray(cspace_convert(colour, "sRGB1", "CAM02-UCS"))


@pytest.mark.parametrize("scheme", ["maple", "rook"])
@pytest.mark.parametrize("kind", [None, "protanomaly", "deuteranomaly", "tritanomaly"])
def test_colours_that_are_told_apart_stay_apart(scheme: str, kind: str | None) -> None:
    """The six knives, and what is measured, derived, predicted or wrong."""
    of = tokens(scheme)
    groups = ([f"knife-{letter}" for letter in "abcdef"],
              ["measured", "derived", "predicted", "rust"])  # fmt: skip
    for group in groups:
        for one, other in itertools.combinations(group, 2):
            apart = np.linalg.norm(as_seen(of[one], kind) - as_seen(of[other], kind))
            assert apart > LEAST_APART, f"{one} and {other}: {apart:.1f}"

"""What a person does at the Bench, as the browser tests do it: by keyboard, one thing at a time."""

from __future__ import annotations

import re
import uuid

from playwright.sync_api import Locator, Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.measurement.observations import ITEMS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import STOPS
from maple_rook.store.tables import Piece, Reading, Sheet


def begin_by_keyboard(
    page: Page, model: str = "Kesterby Harbour gyuto", start: str = "weight"
) -> str:
    """Enter a piece of a known model without touching the mouse; returns its tag."""
    tag = f"W-{uuid.uuid4().hex[:6]}"
    page.goto("/rack")
    expect(page.get_by_text(re.compile(r"of [\d,]+ knives"))).to_be_visible()
    page.bring_to_front()
    page.keyboard.press("2")
    expect(page.get_by_label("Piece tag")).to_be_focused()
    page.keyboard.type(tag)
    model_field = page.get_by_role("combobox", name="Model")
    for _ in range(8):
        page.keyboard.press("Tab")
        if model_field.evaluate("e => e === document.activeElement"):
            break
    expect(model_field).to_be_focused()
    page.keyboard.type(model)
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    button = page.get_by_role("button", name="Begin measuring")
    for _ in range(4):
        if button.evaluate("e => e === document.activeElement"):
            break
        page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(entry(page)).to_be_focused()
    page.keyboard.press("Alt+f")
    expect(page.get_by_role("button", name="short sheet")).to_be_visible()
    if start != "construction":
        go(page, start)
    return tag


def begin(page: Page, start: str = "weight", model_id: int = 1) -> str:
    """A new piece of a model, entered over the API, and its sheet opened: short, at a question."""
    tag = f"W-{uuid.uuid4().hex[:6]}"
    made = page.request.post("/api/bench/pieces", data={"tag": tag, "model_id": model_id})
    assert made.ok, made.text()
    page.goto(f"/bench/{made.json()['id']}")
    page.bring_to_front()
    expect(entry(page)).to_be_focused()
    page.keyboard.press("Alt+f")
    expect(page.get_by_role("button", name="short sheet")).to_be_visible()
    if start != "construction":
        go(page, start)
    return tag


def entry(page: Page) -> Locator:
    return page.locator("input[id^=entry-]")


def at(page: Page, label: str) -> None:
    """Wait until the Bench asks for this."""
    expect(page.locator("label.what")).to_contain_text(label)


def go(page: Page, label: str) -> None:
    """Go to a question by its stop, as a person who jumps ahead does."""
    known = {
        **{q.label: q.stop for q in QUANTITIES.values()},
        **{i.label: i.stop for i in ITEMS.values()},
    }
    number = list(STOPS).index(known[label]) + 1
    stops = page.get_by_role("navigation", name="Stops")
    stops.get_by_role("button", name=f"{number} {STOPS[known[label]]}").click()
    if not page.locator("label.what").inner_text().startswith(label):
        stops.locator("button.row", has=page.get_by_text(label, exact=True)).click()
    at(page, label)
    expect(entry(page)).to_be_focused()


def type_in(page: Page, *typed: str) -> None:
    """Each followed by Enter."""
    for text in typed:
        page.keyboard.type(text)
        page.keyboard.press("Enter")


def stored(page: Page) -> None:
    expect(page.get_by_text("All readings stored")).to_be_visible()


def piece(shop: Session, tag: str) -> Piece:
    shop.rollback()
    return shop.scalars(select(Piece).where(Piece.tag == tag)).one()


def readings(shop: Session, tag: str) -> list[Reading]:
    """What the record holds for a piece, oldest first."""
    query = (
        select(Reading)
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .where(Sheet.piece_id == piece(shop, tag).id)
        .order_by(Reading.id)
    )
    return list(shop.scalars(query))


def typed_readings(shop: Session, tag: str) -> list[str]:
    return [r.typed for r in readings(shop, tag)]

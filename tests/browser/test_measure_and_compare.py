"""From the first stop to the Board: by keyboard, with mixed units, nothing lost or doubled."""

from __future__ import annotations

import re
import uuid

import pytest
from at_the_bench import (
    at,
    begin,
    begin_by_keyboard,
    entry,
    go,
    piece,
    stored,
    type_in,
    typed_readings,
)
from playwright.sync_api import Page, expect
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.answers.calibration import CalibrationCache
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.measurement.wording import interval_text
from maple_rook.core.prediction.predict import predict
from maple_rook.store import records
from maple_rook.store.tables import Piece

WHOLE_SHEET = [
    ("construction", "1"),
    ("core steel reacts", "1"),
    ("weight", "6.9oz"),
    ("edge length", "8 1/4 in"),
    ("overall length", "13 1/2 in"),
    ("handle length", "126 mm"),
    ("spine at heel", "2,12"),
    ("spine at middle", "1.84"),
    ("spine near tip", "0.72"),
    ("height at heel", "46.2"),
    ("thickness behind the edge", "0.27"),
    ("edge angle", "30° incl"),
    ("asymmetry", "60/40"),
    ("hardness", "60.5"),
    ("balance point", "6"),
    ("verdict", "1"),
]
SEEN = ("construction", "core steel reacts", "verdict")

TWO_KEPT = re.compile(r"^\s*⚠ The server does not answer since [\d:]+\. 2 kept here")


def test_a_whole_sheet_by_keyboard_then_the_board_shows_the_cores_numbers(
    page: Page, shop: Session
) -> None:
    tag = begin_by_keyboard(page, start="construction")
    for quantity, typed in WHOLE_SHEET:
        at(page, quantity)
        type_in(page, typed)
    stored(page)
    expect(page.get_by_role("button", name="Sign off", exact=True)).to_be_visible()
    assert typed_readings(shop, tag) == [typed for label, typed in WHOLE_SHEET if label not in SEEN]

    page.keyboard.press("Alt+h")
    page.get_by_role("button", name="Sign off", exact=True).press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Sheet")
    page.keyboard.press("1")
    page.get_by_role("button", name="Hang DG-20").press("Enter")
    page.keyboard.press("4")
    expect(page.get_by_role("heading", name="What differs")).to_be_visible()

    mine, other = piece(shop, tag), piece(shop, "DG-20")
    figures = records.figures(shop, [mine.id, other.id])
    blades = records.blades(shop, records.pieces(shop, [mine.id, other.id]), figures)
    foods, life = CalibrationCache().models(shop, Basis.CALIBRATED)
    ours = predict(blades, foods=foods, life=life)
    for letter, knife in zip("AB", ours, strict=True):
        by_key = {p.key: p for p in knife}
        for key in ("cutting_ease", "months_to_stone", "force.onion.push"):
            p = by_key[key]
            row = page.get_by_role("button", name=re.compile(rf"^Why: {p.label}, {letter}:"))
            assert p.central is not None
            assert p.low is not None
            assert p.high is not None
            said = interval_text(p.central, p.low, p.high, "").split(", ")
            expect(row.locator(".value")).to_contain_text(said[0])
            expect(row.locator(".likely")).to_have_text(said[1])


def test_the_board_explains_a_number(page: Page) -> None:
    page.goto("/board?hand=1.5")
    row = page.get_by_role("button", name=re.compile("^Why: Edge retention.*, A:"))
    row.click()
    panel = page.get_by_role("dialog", name="Why this number")
    for words in ("Equation", "Source", "Valid for", "share of variance", "the interval narrows"):
        expect(panel.get_by_text(words).first).to_be_visible()
    page.keyboard.press("Escape")
    expect(panel).to_be_hidden()
    expect(row).to_be_focused()


def test_reloading_in_the_middle_of_a_sheet_loses_nothing(page: Page, shop: Session) -> None:
    tag = begin(page)
    for typed in ("186", "209"):
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
    stored(page)
    page.keyboard.type("34")
    page.reload()
    at(page, "overall length")
    expect(entry(page)).to_have_value("34")
    page.keyboard.press("End")
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    stored(page)
    assert typed_readings(shop, tag) == ["186", "209", "342"]


def test_an_outage_keeps_readings_here_and_delivers_each_once(page: Page, shop: Session) -> None:
    tag = begin(page)
    page.context.set_offline(True)
    for typed in ("186", "209"):
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
    expect(page.get_by_text(TWO_KEPT)).to_be_visible()
    assert typed_readings(shop, tag) == []
    page.context.set_offline(False)
    stored(page)
    shop.rollback()
    assert typed_readings(shop, tag) == ["186", "209"]


def test_an_unusual_angle_is_asked_about_and_kept(page: Page, shop: Session) -> None:
    tag = begin(page)
    go(page, "edge angle")
    type_in(page, "30")
    expect(page.get_by_role("alertdialog", name="Unusual")).to_contain_text("typical 9 to 16")
    assert typed_readings(shop, tag) == []
    page.keyboard.press("k")
    stored(page)
    shop.rollback()
    assert typed_readings(shop, tag) == ["30"]


def test_what_cannot_be_is_refused_beside_the_field_and_stays_there(
    page: Page, shop: Session
) -> None:
    tag = begin(page)
    page.keyboard.insert_text("heavy")
    page.keyboard.press("Enter")
    alert = page.get_by_role("alert").or_(page.get_by_role("alertdialog")).first
    expect(alert).to_contain_text("Not stored")
    expect(alert).to_contain_text("a number in g")
    expect(entry(page)).to_have_value("heavy")
    assert typed_readings(shop, tag) == []


def test_readings_for_a_sheet_signed_off_elsewhere_are_kept_until_discarded(
    page: Page, shop: Session
) -> None:
    tag = begin(page)
    type_in(page, "186")
    stored(page)
    sheet = page.url.split("/bench/")[1].split("?")[0]
    page.context.set_offline(True)
    type_in(page, "209", "342")
    expect(page.get_by_text(TWO_KEPT)).to_be_visible()
    elsewhere = page.request.post(f"/api/bench/sheets/{sheet}/sign-off")
    assert elsewhere.ok
    page.context.set_offline(False)
    expect(page.get_by_text("2 not stored, see above")).to_be_visible()
    expect(page.get_by_text("Kept here: edge length 209.")).to_be_visible()
    page.reload()
    expect(page.get_by_text("Kept here: edge length 209.")).to_be_visible()
    expect(page.get_by_text("This sheet is signed off").first).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="discard").first.click()
    expect(page.get_by_role("button", name="Signed off · open the Sheet")).to_be_visible()
    shop.rollback()
    assert typed_readings(shop, tag) == ["186"]


def test_repeat_switch_unit_and_void_by_key(page: Page, shop: Session) -> None:
    tag = begin(page)
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="Unit oz, switch")).to_be_visible()
    page.keyboard.type("6.5")
    page.keyboard.press("Enter")
    at(page, "edge length")
    stored(page)
    page.keyboard.press("r")
    at(page, "weight")
    page.keyboard.type("186 g")
    page.keyboard.press("Enter")
    stored(page)
    page.keyboard.press("ArrowUp")
    at(page, "weight")
    page.keyboard.down("Backspace")
    for _ in range(6):
        page.keyboard.down("Backspace")  # held: the browser repeats it
    page.keyboard.up("Backspace")
    expect(page.get_by_text("voided: taken back at the bench")).to_have_count(1)
    stored(page)
    mine = piece(shop, tag).id
    figures = records.figures(shop, [mine])[mine]
    assert figures["weight"].n == 1
    assert figures["weight"].mean == pytest.approx(6.5 * 28.349523125)
    page.get_by_role("button", name="undo the void of weight 186").click()
    expect(page.get_by_text("2 readings, spread")).to_be_visible()
    shop.rollback()
    assert typed_readings(shop, tag) == ["6.5", "186 g", "186 g"]  # the voided line stays
    assert records.figures(shop, [mine])[mine]["weight"].n == 2


def test_the_keys_are_shown_on_request(page: Page) -> None:
    begin(page)
    page.keyboard.press("?")
    expect(page.get_by_text("Keys at the Bench")).to_be_visible()
    page.keyboard.press("Escape")
    expect(entry(page)).to_be_focused()


def test_a_new_model_is_entered_with_its_claims(page: Page, shop: Session) -> None:
    tag = f"N-{uuid.uuid4().hex[:6]}"
    page.goto("/bench")
    page.get_by_label("Piece tag").fill(tag)
    page.get_by_role("radio", name="a new model").check()
    page.get_by_label("Maker").fill("Test Smithy")
    page.keyboard.press("Tab")
    page.get_by_label("Line", exact=True).fill(tag)
    page.get_by_label("Nominal size").fill("8 1/4 in")
    page.get_by_role("combobox", name="Type").fill("gyuto")
    steel = page.get_by_role("combobox", name="Steel, if known")
    steel.fill("dragon steel")
    page.get_by_label("Hardness on the box").fill("62±2")
    expect(page.get_by_text("Not among the shop’s grades")).to_be_visible()
    expect(steel).to_have_value("dragon steel")  # what was typed is not thrown away
    steel.fill("x50crmov15")  # typed exactly, and left by clicking elsewhere
    page.get_by_label("Hardness on the box").click()
    page.get_by_role("button", name="Begin measuring").click()
    expect(entry(page)).to_be_focused()
    made = piece(shop, tag)
    assert made.model.nominal_mm == pytest.approx(209.55)
    assert (made.model.steel.designation, made.model.grind) == ("1.4116", "not_seen")
    assert [(c.quantity, c.low, c.high) for c in made.model.claims] == [("hardness", 60, 64)]


def test_a_tag_in_use_opens_its_piece(page: Page, shop: Session) -> None:
    before = shop.scalar(select(func.count()).select_from(Piece))
    page.goto("/bench")
    expect(page.get_by_label("Piece tag")).to_be_focused()
    page.get_by_label("Piece tag").fill("KH-01")
    page.get_by_role("combobox", name="Model").fill("Kesterby Harbour petty")
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Begin measuring").click()
    expect(page).to_have_url(re.compile(r"/sheet/\d+$"))
    expect(page.get_by_text("KH-01").first).to_be_visible()
    shop.rollback()
    assert shop.scalar(select(func.count()).select_from(Piece)) == before

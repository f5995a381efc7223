"""The stops that are more than a number: identify, construction, hardness, finish, cuts."""

from __future__ import annotations

import re
import struct
import uuid
import zlib

import pytest
from at_the_bench import at, begin, entry, go, piece, readings, stored, type_in
from axe_playwright_python.sync_playwright import Axe
from fields import choose
from playwright.sync_api import Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.instruments.stand_ins import StandIn
from maple_rook.store.tables import Observation, Photo, Sheet


def observed(shop: Session, tag: str, item: str) -> list[tuple[str, str, str]]:
    """Aspect, value and note of everything entered for an item, oldest first."""
    query = (
        select(Observation)
        .join(Sheet, Sheet.id == Observation.sheet_id)
        .where(Sheet.piece_id == piece(shop, tag).id, Observation.item == item)
        .order_by(Observation.id)
    )
    return [(o.aspect, o.value, o.note) for o in shop.scalars(query)]


def picture() -> bytes:
    """A small PNG of one grey."""
    rows = b"".join(b"\x00" + b"\x88" * 40 for _ in range(30))

    def chunk(kind: bytes, data: bytes) -> bytes:
        body = kind + data
        return struct.pack(">I", len(data)) + body + struct.pack(">I", zlib.crc32(body))

    head = struct.pack(">IIBBBBB", 40, 30, 8, 0, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n"
        + chunk(b"IHDR", head)
        + chunk(b"IDAT", zlib.compress(rows))
        + chunk(b"IEND", b"")
    )


def full_sheet(page: Page) -> None:
    page.get_by_role("button", name="short sheet").click()
    expect(page.get_by_role("button", name="full sheet")).to_be_visible()


def test_the_stops_adapt_to_what_is_seen_of_the_knife(page: Page) -> None:
    begin(page, start="construction")
    stops = page.get_by_role("navigation", name="Stops")
    stops.get_by_role("button", name="4 Lengths").click()
    expect(stops.get_by_text("blade length")).to_be_hidden()
    full_sheet(page)
    expect(stops.get_by_text("blade length")).to_be_visible()
    go(page, "construction")
    expect(stops.get_by_text("cladding reacts")).to_be_hidden()
    type_in(page, "2")
    expect(stops.get_by_text("cladding reacts")).to_be_visible()
    at(page, "forming method")
    type_in(page, "2")
    stored(page)
    go(page, "tang")
    expect(stops.get_by_text("bolster", exact=True)).to_be_visible()
    go(page, "tip")
    expect(stops.get_by_text("bolster against the edge")).to_be_hidden()
    go(page, "hardness")
    expect(stops.get_by_text("hardness of the cladding")).to_be_visible()


def test_a_single_bevel_is_asked_for_its_face_and_back(page: Page) -> None:
    models = page.request.get("/api/bench").json()["models"]
    single = next(m["id"] for m in models if m["grind"] == "single_bevel")
    begin(page, start="construction", model_id=single)
    full_sheet(page)
    stops = page.get_by_role("navigation", name="Stops")
    stops.get_by_role("button", name="7 Edge").click()
    for label in ("face angle", "bevel width, face", "hollow of the back"):
        expect(stops.get_by_text(label, exact=True)).to_be_visible()
    expect(stops.get_by_text("bevel width, left face")).to_be_hidden()


def test_several_choices_a_note_and_a_withdrawal(page: Page, shop: Session) -> None:
    tag = begin(page, start="construction")
    full_sheet(page)
    go(page, "finish of the faces")
    type_in(page, "4 5, down to the shinogi")
    stored(page)
    go(page, "finish of the faces")
    expect(page.get_by_text("forge-black, hammered").first).to_be_visible()
    page.get_by_role("button", name="withdraw").click()
    stored(page)
    expect(page.get_by_text("Not inspected yet.")).to_be_visible()
    assert observed(shop, tag, "surface") == [
        ("", "forge_black,hammered", "down to the shinogi"),
        ("", "withdrawn", ""),
    ]


def test_a_choice_can_be_tapped(page: Page, shop: Session) -> None:
    tag = begin(page, start="construction")
    page.get_by_role("button", name="3 core clad, many layers").click()
    at(page, "core steel reacts")
    stored(page)
    assert observed(shop, tag, "construction") == [("", "clad_many", "")]


def test_claims_are_copied_from_the_box_as_printed(page: Page) -> None:
    tag = f"C-{uuid.uuid4().hex[:6]}"
    model = {"maker": "Test Smithy", "line": tag, "knife_type": "gyuto", "nominal": "210 mm"}
    made = page.request.post("/api/bench/pieces", data={"tag": tag, "model": model}).json()
    page.goto(f"/bench/{made['id']}")
    expect(page.get_by_text("none copied")).to_be_visible()
    page.get_by_label("As printed").fill("62±2")
    page.get_by_role("button", name="Copy").click()
    expect(page.get_by_text("hardness 62±2")).to_be_visible()
    page.get_by_label("As printed").fill("90 HRC")
    page.get_by_role("button", name="Copy").click()
    expect(page.get_by_role("alert")).to_contain_text("20 to 70 HRC")


def test_a_hardness_session_from_block_to_verdict(
    page: Page, shop: Session, instruments: dict[str, StandIn]
) -> None:
    tester = instruments["hardness_tester"]
    tester.specimen.update(hardness_block=62.0, hardness=60.0)
    tester.noise = 0.0
    tag = begin(page, start="spine at heel")
    type_in(page, "2.12")
    go(page, "height at heel")
    type_in(page, "46.2")
    full_sheet(page)
    go(page, "reference block")
    session = page.get_by_role("region", name="Hardness session")
    expect(session.get_by_text("not read; the result is not corrected")).to_be_visible()
    page.keyboard.press("Space")
    expect(session.get_by_text("the tester reads 0.5 high; corrected for")).to_be_visible()
    at(page, "hardness")
    above, along = session.get_by_role("textbox").all()
    above.fill("24")
    along.fill("40")
    entry(page).focus()
    for _ in range(2):
        page.keyboard.press("Space")
        at(page, "hardness, scale B")
        stored(page)
        page.keyboard.press("Alt+r")
        at(page, "hardness")
    expect(session.get_by_text("✓ hardened")).to_be_visible()
    result = session.locator("dd strong").first
    expect(result).to_have_text(re.compile(r"^60(\.0)? ± (0\.\d|1(\.\d)?)$"))
    expect(session.get_by_text("60±1 (band as printed)")).to_be_visible()
    blade = [r for r in readings(shop, tag) if r.quantity == "hardness"]
    assert [(r.typed, r.above_edge_mm, r.station_mm) for r in blade] == [
        ("60.50 HRC", 24.0, 40.0),
        ("60.50 HRC", 24.0, 44.0),
    ]
    above.fill("6")
    entry(page).focus()
    page.keyboard.press("Space")
    at(page, "hardness, scale B")
    stored(page)
    page.keyboard.press("Alt+r")
    expect(session.get_by_text("? cannot be said")).to_be_visible()
    expect(session.get_by_text("10 times the depth")).to_be_visible()


def test_a_soft_blade_is_not_hardened_and_says_why(page: Page) -> None:
    begin(page, start="hardness")
    full_sheet(page)
    go(page, "reference block")
    type_in(page, "62.5")
    for typed in ("44", "44.5"):
        go(page, "hardness")
        page.keyboard.type(typed)
        page.keyboard.press("Enter")
        expect(page.get_by_role("alertdialog", name="Unusual")).to_be_visible()
        page.keyboard.press("k")
        stored(page)
    go(page, "hardness")
    session = page.get_by_role("region", name="Hardness session")
    expect(session.get_by_text("⚠ not hardened")).to_be_visible()
    expect(session.get_by_text("lies below 52 HRC throughout")).to_be_visible()
    expect(session.get_by_text("⚠ contradicted")).to_be_visible()


def test_a_finish_fault_with_side_note_and_photo(page: Page, shop: Session) -> None:
    tag = begin(page, start="construction")
    full_sheet(page)
    go(page, "spine corners")
    page.get_by_label("Photo").set_input_files(
        {"name": "spine.png", "mimeType": "image/png", "buffer": picture()}
    )
    expect(page.get_by_text("photo ready, goes with the next entry")).to_be_visible()
    entry(page).focus()
    type_in(page, "3l, sharp where the finger pinches")
    stored(page)
    go(page, "spine corners")
    shown = page.get_by_role("img", name="photo of it")
    expect(shown).to_be_visible()
    assert shown.evaluate("e => e.complete && e.naturalWidth > 0 || e.decode().then(() => true)")
    assert observed(shop, tag, "spine_corners") == [
        ("left", "mend", "sharp where the finger pinches")
    ]
    (photo,) = shop.scalars(
        select(Photo)
        .join(Sheet, Sheet.id == Photo.sheet_id)
        .where(Sheet.piece_id == piece(shop, tag).id)
    ).all()
    assert photo.media_type == "image/jpeg"


def test_cuts_are_noted_per_stroke_and_the_score_is_of_ten(page: Page, shop: Session) -> None:
    tag = begin(page, start="construction")
    full_sheet(page)
    go(page, "sharpness out of the box")
    type_in(page, "7/10")
    at(page, "line-cut force")
    expect(page.get_by_role("button", name="Unit gf, switch")).to_be_visible()
    type_in(page, "150")
    at(page, "sharp along the edge")
    type_in(page, "3h")
    at(page, "onion")
    type_in(page, "1p")
    go(page, "onion")
    type_in(page, "2 4d, leaves the line")
    stored(page)
    force = next(r for r in readings(shop, tag) if r.quantity == "sharpness_force")
    assert (force.unit, force.si_value) == ("gf", pytest.approx(150 * 0.00980665))
    assert observed(shop, tag, "cut_onion") == [
        ("push", "clean", ""),
        ("draw", "wedging,steering", "leaves the line"),
    ]


def test_sign_off_says_what_to_mend_and_the_sheet_shows_it_all(page: Page) -> None:
    begin(page, start="weight")
    type_in(page, "186")
    go(page, "verdict")
    full_sheet(page)
    type_in(page, "2", "2", "1 7", "2")
    at(page, "to mend before sale")
    type_in(page, "ease the spine, then re-check")
    stored(page)
    page.get_by_role("button", name=re.compile(r"^Sign off \(")).click()
    asked = page.get_by_role("alertdialog", name="Sign off")
    asked.get_by_role("button", name="sign off").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Sheet")
    seen = page.get_by_role("region", name="Observed")
    seen.get_by_role("heading").click()
    for words in (
        "after the work named below",
        "home cook, left-handed",
        "ease the spine, then re-check",
    ):
        expect(seen.get_by_text(words)).to_be_visible()


def test_the_sheet_compares_a_repeat_and_looks_over_the_pieces(page: Page) -> None:
    page.goto("/rack")
    page.get_by_role("link", name=re.compile("Sheet of .* DL-25")).click()
    expect(page.get_by_text("moved as sharpening moves them: this is wear.")).to_be_visible()
    page.goto("/rack")
    page.get_by_role("link", name=re.compile("Sheet of .* HS-24")).click()
    table = page.get_by_role("region", name="The model over its pieces")
    table.get_by_role("heading").click()
    weight = table.get_by_role("row", name=re.compile("^weight"))
    expect(weight).to_contain_text("more")
    needed = re.compile(r"(\d+) more")
    before = int(needed.search(weight.inner_text())[1])  # type: ignore[index]
    choose(table.get_by_role("combobox").last, "a quarter of it")
    expect(weight).not_to_contain_text(f"\t{before} more")
    after = needed.search(weight.inner_text())
    assert after is None or int(after[1]) > before


def test_an_instrument_is_entered_and_chosen_for_typed_readings(page: Page, shop: Session) -> None:
    name = f"fine caliper {uuid.uuid4().hex[:5]}"
    page.goto("/bench/instruments")
    page.get_by_role("button", name="Enter an instrument").click()
    page.get_by_label("Name").fill(name)
    page.get_by_label("Resolution").fill("0,001")
    page.get_by_label("Maximum permissible error").fill("0.002")
    page.get_by_label("Calibration due").fill("2026-01-31")
    page.get_by_role("button", name="Save", exact=True).click()
    row = page.get_by_role("row", name=re.compile(name))
    expect(row).to_contain_text("days overdue")
    tag = begin(page, start="spine at heel")
    page.get_by_label("By hand with").select_option(label=name)
    expect(entry(page)).to_be_focused()
    type_in(page, "2.123")
    stored(page)
    (reading,) = readings(shop, tag)
    assert reading.instrument.name == name


def test_a_bad_instrument_is_told_in_the_form(page: Page) -> None:
    page.goto("/bench/instruments")
    page.get_by_role("button", name="Enter an instrument").click()
    page.get_by_label("Name").fill("bench scale 1 g")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("a name no other instrument carries")


def test_handing_over_says_where_to_go_on(page: Page) -> None:
    tag = begin(page)
    page.get_by_role("button", name="hand over").click()
    expect(page.get_by_text("Open the Bench there and continue this sheet")).to_be_visible()
    page.goto("/bench")
    page.get_by_role("link", name=re.compile(tag)).click()
    expect(entry(page)).to_be_focused()


def test_every_kind_of_question_is_for_a_screen_reader_and_a_phone(page: Page) -> None:
    begin(page, start="construction")
    full_sheet(page)
    for label in ("hardness", "spine corners", "verdict"):
        go(page, label)
        found = Axe().run(page)
        assert found.violations_count == 0, found.generate_report()
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("combobox", name="Stop").select_option(label="8 Hardness")
    at(page, "reference block")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390

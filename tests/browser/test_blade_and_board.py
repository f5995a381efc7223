"""The blade's shape in the browser: what-if, rocking, tracing an edge, foods, drawings."""

from __future__ import annotations

import re
from collections.abc import Iterator
from xml.etree import ElementTree as ET

import pytest
from at_the_bench import begin, entry, go, piece, stored, type_in
from playwright.sync_api import Locator, Page, expect
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.wording import interval_text
from maple_rook.core.prediction.predict import predict
from maple_rook.store import records
from maple_rook.store.tables import EdgeTrace, Piece, Reading


def open_sheet(page: Page, shop: Session, tag: str) -> int:
    number = piece(shop, tag).id
    page.goto(f"/sheet/{number}")
    expect(page.get_by_role("heading", level=2).first).to_be_visible()
    return number


def slide(slider: Locator, to: float) -> None:
    """Put a slider where a drag would leave it."""
    slider.evaluate(
        "(e, v) => { e.value = v; e.dispatchEvent(new Event('input', { bubbles: true })) }", str(to)
    )


def test_what_if_sliders_move_force_edge_life_and_stiffness(page: Page, shop: Session) -> None:
    number = open_sheet(page, shop, "KH-01")
    kept = shop.scalar(select(func.count()).select_from(Reading))
    panel = page.get_by_role("region", name="What if")
    expect(panel.get_by_text("Move a slider")).to_be_visible()
    slide(panel.get_by_label("spine at heel"), 2.6)
    slide(panel.get_by_label("edge angle"), 20)
    slide(panel.get_by_label("behind the edge"), 0.45)
    for label, words in (
        ("squash or swede", "worse"),
        ("Edge retention", "worse"),
        ("Days to the rod", "better"),
        ("Cutting ease index", "worse"),
    ):
        row = panel.get_by_role("row", name=re.compile(label))
        expect(row.get_by_text(words)).to_be_attached()
    flex = panel.get_by_role("row", name=re.compile("Flex"))
    expect(flex.locator("td").last).to_contain_text("−")
    asked = {"spine_heel": 2.6, "edge_angle": 20, "thickness_behind_edge": 0.45}
    same = page.request.post(f"/api/pieces/{number}/what-if", data=asked).json()
    told = next(r for r in same["rows"] if r["key"] == "cutting_ease")["percent"]
    ease = panel.get_by_role("row", name=re.compile("Cutting ease index")).locator("td").last
    expect(ease).to_contain_text(f"−{abs(round(told))} %")
    panel.get_by_label("grind").select_option(Grind.HOLLOW.value)
    expect(panel.get_by_text("as found full flat")).to_be_visible()
    expect(panel.get_by_role("img", name="Section at the heel")).to_be_visible()
    panel.get_by_role("button", name="Back to measured").click()
    expect(panel.get_by_text("Move a slider")).to_be_visible()
    shop.rollback()
    assert shop.scalar(select(func.count()).select_from(Reading)) == kept


def test_what_cannot_be_is_told_by_its_two_figures(page: Page, shop: Session) -> None:
    """A thick single bevel at a low angle has no room for its shinogi line."""
    open_sheet(page, shop, "BT-27")
    panel = page.get_by_role("region", name="What if")
    slide(panel.get_by_label("edge angle"), 8)
    slide(panel.get_by_label("spine at heel"), 5.8)
    alert = panel.get_by_role("alert")
    expect(alert).to_contain_text("Face angle and spine at heel contradict each other")
    slide(panel.get_by_label("spine at heel"), 3.9)
    expect(alert).to_be_hidden()
    expect(panel.get_by_role("row", name=re.compile("Cutting ease index"))).to_be_visible()


def test_a_contradiction_is_said_while_measuring(page: Page) -> None:
    begin(page)
    for quantity, typed in (("spine at heel", "1.8"), ("thickness behind the edge", "2.1")):
        go(page, quantity)
        type_in(page, typed)
        if quantity == "thickness behind the edge":
            expect(page.get_by_role("alertdialog", name="Unusual")).to_be_visible()
            page.keyboard.press("k")
        stored(page)
    expect(page.get_by_text("Thickness behind the edge and spine contradict")).to_be_visible()


def test_dragging_the_handle_runs_the_contact_to_the_tip(page: Page, shop: Session) -> None:
    number = open_sheet(page, shop, "KH-01")
    profile = page.request.get(f"/api/pieces/{number}").json()["profile"]
    panel = page.get_by_role("region", name="On the board")
    drawing = panel.get_by_role("img", name="The knife on the board")
    drawing.scroll_into_view_if_needed()
    status = panel.get_by_role("status")
    expect(status).to_contain_text(f"digs in at {round(profile['rock_deg'])}°")
    box = drawing.locator(".handle").bounding_box()
    assert box is not None
    x, y = box["x"] + 10, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 30, steps=4)
    expect(status).not_to_contain_text("touches 60 mm")
    touched = re.search(r"touches (\d+) mm", status.inner_text())
    assert touched is not None
    raised = float(panel.get_by_label("Handle raised, degrees").input_value())
    assert 1 < raised < profile["rock_deg"]
    nearest = min(profile["rock"], key=lambda row: abs(row[0] - raised))
    assert float(touched[1]) == pytest.approx(nearest[1], abs=6)
    page.mouse.move(x, y - 300, steps=6)
    expect(status).to_contain_text("the tip digs in")
    page.mouse.up()
    slide(panel.get_by_label("Handle raised, degrees"), 0)
    expect(status).to_contain_text("touches")


def test_a_drawing_is_taken_away_in_mm_and_measures_right(page: Page, shop: Session) -> None:
    number = open_sheet(page, shop, "DG-20")
    figures = records.figures(shop, [number])[number]
    with page.expect_download() as coming:
        page.get_by_role("link", name="elevation").click()
    assert coming.value.suggested_filename == f"knife-{number}-elevation.svg"
    root = ET.parse(coming.value.path()).getroot()
    box = [float(v) for v in root.get("viewBox", "").split()]
    assert float(root.get("width", "").removesuffix("mm")) == pytest.approx(box[2], abs=0.01)
    drawn = next(e for e in root.iter() if e.get("class") == "blade")
    corners = [tuple(map(float, p.split())) for p in re.split("[MLZ]", drawn.get("d", "")) if p]
    tip, heights = max(x for x, _ in corners), [y for _, y in corners]
    assert tip == pytest.approx(figures["edge_length"].mean, abs=0.01)
    assert max(heights) - min(heights) == pytest.approx(figures["height_heel"].mean, abs=0.6)
    # What the browser makes of it: as many mm on paper as the knife has.
    page.set_content(coming.value.path().read_text().partition("?>")[2])
    px = page.locator("path.blade").bounding_box()
    assert px is not None
    assert px["width"] * 25.4 / 96 == pytest.approx(tip - min(x for x, _ in corners), abs=0.5)


def test_an_edge_is_traced_at_the_bench_and_lies_on_the_sheet(page: Page, shop: Session) -> None:
    tag = begin(page, "edge length")
    type_in(page, "209")
    stored(page)
    page.keyboard.press("Alt+f")  # the full sheet: the edge line is no required reading
    go(page, "flat length")
    page.get_by_label("Distance and gap").fill("20 0\n60 0\n95 0.05\n120 0.6\n150 2.9\n175 6.2")
    page.get_by_role("button", name="Preview on the board").click()
    expect(page.get_by_role("alert")).to_contain_text("tip height")
    page.get_by_label("Tip above the board").fill("0.54 in")
    page.reload()
    go(page, "flat length")
    expect(page.get_by_label("Tip above the board")).to_have_value("0.54 in")
    page.get_by_role("button", name="Preview on the board").click()
    expect(page.get_by_text("all-rounder")).to_be_visible()
    page.get_by_role("button", name="Save this edge").click()
    expect(page.get_by_text("saved; enter it again to replace it")).to_be_visible()
    number = piece(shop, tag).id
    kept = records.traces(shop, [number])[number]
    assert kept.source == "stations"
    assert kept.points[-1] == pytest.approx([209, 13.716], abs=0.01)
    page.goto(f"/sheet/{number}")
    expect(page.get_by_text("Edge taken by stations")).to_be_visible()
    expect(page.get_by_text("13.7 mm")).to_be_visible()


def test_a_pasted_path_of_another_scale_is_stretched_when_asked(page: Page, shop: Session) -> None:
    tag = begin(page, "edge length")
    type_in(page, "209")
    stored(page)
    page.keyboard.press("Alt+f")  # the full sheet: the edge line is no required reading
    go(page, "flat length")
    page.get_by_label("SVG path").check()
    page.get_by_label("Traced edge").fill("M0 50 L60 50 C80 50 95 49 104.5 43")
    page.get_by_role("button", name="Preview on the board").click()
    expect(page.get_by_role("alert")).to_contain_text("stretch it to the measured length")
    page.get_by_label("another scale").check()
    page.get_by_role("button", name="Preview on the board").click()
    expect(page.get_by_role("alert")).to_be_hidden()
    page.get_by_role("button", name="Save this edge").click()
    expect(page.get_by_text("saved; enter it again")).to_be_visible()
    expect(entry(page)).to_be_visible()
    shop.rollback()
    number = piece(shop, tag).id
    assert shop.scalar(select(func.count()).select_from(EdgeTrace)) is not None
    assert records.traces(shop, [number])[number].points[-1][1] == pytest.approx(14, abs=0.3)


@pytest.fixture
def foods_put_back(page: Page) -> Iterator[None]:
    yield
    page.request.post("/api/foods/restore")


@pytest.mark.usefixtures("foods_put_back")
def test_a_changed_food_changes_the_sheet_until_it_is_restored(page: Page, shop: Session) -> None:
    number = open_sheet(page, shop, "KH-01")
    row = page.get_by_role("button", name="Why: carrot, straight push")
    before = row.inner_text()
    page.get_by_role("link", name="foods").click()
    carrot = page.get_by_role("row", name=re.compile("^carrot"))
    carrot.get_by_role("button", name="edit").click()
    page.get_by_label("toughness, J/m²").fill("as a brick")
    expect(page.get_by_text("A number is wanted for toughness")).to_be_visible()
    page.get_by_label("toughness, J/m²").fill("900")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(carrot.get_by_text("changed")).to_be_visible()
    page.goto(f"/sheet/{number}")
    expect(row).not_to_have_text(before)
    page.goto("/board/foods")
    page.get_by_role("button", name="Restore the supplied set").click()
    expect(carrot.get_by_text("changed")).to_be_hidden()
    page.goto(f"/sheet/{number}")
    assert row.inner_text() == before


@pytest.mark.parametrize("tag", ["TT-16", "OK-21", "BT-27", "BT-16", "QP-18"])
def test_every_grind_has_its_sections_and_forces_on_the_sheet(
    page: Page, shop: Session, tag: str
) -> None:
    number = open_sheet(page, shop, tag)
    shapes = page.get_by_role("region", name="Sections and taper")
    expect(shapes.get_by_role("img", name=re.compile("^Section"))).to_have_count(3)
    expect(page.get_by_role("region", name="One cut, part by part")).to_contain_text("peak")
    found = shop.get(Piece, number)
    assert found is not None
    blade = records.blades(shop, [found], records.figures(shop, [number]))[0]
    computed = {p.key: p for p in predict([blade])[0]}
    force = computed["force.onion.push"]
    assert force.central is not None
    assert force.low is not None
    assert force.high is not None
    row = page.get_by_role("button", name="Why: half onion, straight push")
    said = interval_text(force.central, force.low, force.high, "").split(", ")
    expect(row).to_contain_text(said[0])
    expect(row).to_contain_text(said[1])


def test_life_size_is_matched_against_a_card(page: Page, shop: Session) -> None:
    number = open_sheet(page, shop, "KH-01")
    page.get_by_role("button", name="life size").click()
    frame = page.get_by_role("group", name="Match the screen")
    slide(frame.get_by_label("Width of the frame"), 3.2)
    frame.get_by_role("button", name="The size matches").click()
    expect(frame).to_be_hidden()
    blade = page.get_by_role("img", name="Dimensioned drawing").locator(".blade").bounding_box()
    edge = records.figures(shop, [number])[number]["edge_length"].mean
    assert blade is not None
    assert blade["width"] / 3.2 == pytest.approx(edge + 2.5, abs=1.5)
    page.reload()
    page.get_by_role("button", name="life size").click()
    expect(page.get_by_role("group", name="Match the screen")).to_be_hidden()

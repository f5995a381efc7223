"""A photo measured as a person does it: opened, a point moved, taken over, seen everywhere."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Locator, Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.scale_card import CARDS
from maple_rook.photo import specimen
from maple_rook.photo.stand_in import Shot, photograph
from maple_rook.store.tables import EdgeTrace, Piece, Reading, Sheet
from photo_survey import blade


def bench_of(page: Page, shop: Session, tag: str) -> str:
    """The address of the open sheet of a piece."""
    key = shop.scalar(select(Piece.id).where(Piece.tag == tag))
    page.goto("/rack")
    begun = page.request.post(f"/api/bench/pieces/{key}/sheets").json()["id"]
    return f"/bench/{begun}"


def photo_file(where: Path, **how: object) -> Path:
    """A photo of a 230 mm knife as a camera would have left it on disk."""
    made = blade("gyuto", 230.0, 49.0)
    knife = specimen.lying(made, outline(made.figures, "gyuto", 230.0), bolster=False)
    shot = Shot(**{"tilt_deg": 6.0, "width_px": 2000, "height_px": 1500, **how})  # type: ignore[arg-type]
    path = where / "knife.jpg"
    path.write_bytes(photograph(CARDS["a4"], knife, shot))
    return path


def value(page: Page, label: str) -> float:
    row = page.get_by_role("row").filter(has=page.get_by_role("rowheader", name=label, exact=True))
    said = row.get_by_role("button").inner_text()
    return float(re.match(r"[\d.]+", said)[0])  # type: ignore[index]


def on_the_board(page: Page, piece: int) -> list[str]:
    """The outlines that the Board lays over each other, this knife's and another's."""
    page.goto(f"/board?hand={piece}.1")
    overlay = page.get_by_role("img", name="Edges on one board")
    expect(overlay).to_be_visible()
    return [path.get_attribute("d") or "" for path in overlay.locator("path").all()]


def point(page: Page, name: str) -> Locator:
    return page.get_by_role("button", name=f"{name}: arrow keys move it")


def drag(page: Page, name: str, by_px: float) -> None:
    """Take a point with the mouse and put it down a little to the right."""
    there = point(page, name).locator(".reach").bounding_box()
    assert there is not None
    x, y = there["x"] + there["width"] / 2, there["y"] + there["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + by_px, y, steps=3)
    page.mouse.up()


def test_open_adjust_take_over_and_find_it_at_bench_and_board(
    page: Page, shop: Session, tmp_path: Path
) -> None:
    bench = bench_of(page, shop, "HS-24")
    sheet_id = int(bench.rsplit("/", 1)[1])
    piece = shop.scalars(select(Sheet.piece_id).where(Sheet.id == sheet_id)).one()
    of_its_type = on_the_board(page, piece)
    page.goto(bench)
    page.get_by_role("link", name="from a photo").click()
    expect(page.get_by_role("img", name="The A4 card")).to_be_visible()
    page.get_by_label("Open a photo").set_input_files(photo_file(tmp_path))
    expect(page.get_by_text("18 of 18 markers")).to_be_visible()
    ruler = page.get_by_label("Ruler line as printed, mm")
    ruler.fill("100")
    ruler.press("Tab")
    expect(page.get_by_text("not yet checked")).to_have_count(0)
    before = value(page, "edge length")
    assert before == pytest.approx(230, abs=2)

    tip = point(page, "tip")
    tip.focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowLeft")
    expect(page.get_by_role("button", name="back to the proposed points")).to_be_visible()
    expect(page.get_by_role("button", name="230")).to_have_count(0)
    moved = value(page, "edge length")
    assert before - moved == pytest.approx(30 / 6.1, abs=1.5)
    page.reload()  # what was moved is still moved
    expect(page.get_by_role("button", name="back to the proposed points")).to_be_visible()
    assert value(page, "edge length") == pytest.approx(moved, abs=1)
    page.get_by_role("button", name="back to the proposed points").click()
    drag(page, "heel of the edge", 1.0)
    expect(page.get_by_role("button", name="back to the proposed points")).to_be_visible()
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()

    page.get_by_role("button", name=re.compile(r"Store 7 readings and the edge")).click()
    expect(page.get_by_text("Stored:")).to_be_visible()
    kept = shop.scalars(select(Reading).where(Reading.sheet_id == sheet_id)).all()
    assert {r.method for r in kept} == {"photo"}
    trace = shop.scalars(select(EdgeTrace).where(EdgeTrace.sheet_id == sheet_id)).one()
    assert trace.spine
    page.get_by_role("link", name="See them at the Bench").click()
    growing = page.get_by_role("complementary", name="The blade so far")
    length = next(r for r in kept if r.quantity == "edge_length").si_value
    expect(growing.get_by_text(re.compile(rf"^{length:.0f}"))).to_be_visible()

    page.goto(f"/sheet/{piece}")
    expect(page.get_by_text("inferred from type and figures")).to_have_count(0)
    traced = on_the_board(page, piece)
    assert len(traced) == len(of_its_type)
    assert sum(a != b for a, b in zip(of_its_type, traced, strict=True)) >= 1


def test_a_spoilt_photo_is_refused_with_what_to_change_and_thrown_away(
    page: Page, shop: Session, tmp_path: Path
) -> None:
    page.goto(f"{bench_of(page, shop, 'TH-08')}/photo")
    page.get_by_label("Open a photo").set_input_files(photo_file(tmp_path, glare=1.0))
    refused = page.get_by_role("alert").filter(has_text="glare")
    expect(refused).to_contain_text("What to change: Turn the flash off")
    expect(page.get_by_role("button", name=re.compile("Store"))).to_have_count(0)
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()
    page.get_by_role("button", name="delete this photo").click()
    expect(page.get_by_text("Print at 100 % on matt paper")).to_be_visible()
    broken = tmp_path / "broken.jpg"
    broken.write_bytes(b"\xff\xd8\xff" + bytes(900))
    page.get_by_label("Open a photo").set_input_files(broken)
    expect(page.get_by_role("alert")).to_contain_text("a JPEG, PNG, WebP or HEIC picture")


def test_the_simulated_camera_shows_a_section_from_the_heel(page: Page, shop: Session) -> None:
    page.goto(f"{bench_of(page, shop, 'KH-01')}/photo")
    page.get_by_role("button", name="from the heel: the section").click()
    page.get_by_role("button", name="Take the photo").click()
    expect(page.get_by_text("6 of 6 markers")).to_be_visible()
    expect(page.get_by_text(re.compile("as declared"))).to_be_visible()
    assert value(page, "thickness 10 mm up") > 0.3
    expect(page.get_by_role("button", name=re.compile(r"Store \d readings?$"))).to_be_enabled()

"""At Upkeep: a set-up read off, an edge kept from being ground even, a fault mended, a calendar."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
import vobject
from playwright.sync_api import Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.upkeep.setup import lift_mm
from maple_rook.store.tables import Piece

PNG = bytes.fromhex(
    "89504e470d0a1a0a0000000d49484452000000010000000108060000001f15c489"
    "0000000d49444154789c6360606060000000050001a5f645400000000049454e44ae426082"
)


@pytest.fixture
def ids(shop: Session) -> dict[str, int]:
    return {piece.tag: piece.id for piece in shop.scalars(select(Piece))}


def millimetres(text: str) -> float:
    found = re.search(r"[\d.]+", text)
    assert found is not None
    return float(found.group())


def test_fifteen_per_side_on_a_tall_and_a_low_blade(page: Page, ids: dict[str, int]) -> None:
    lifts = {}
    for tag, height, spine in (("OK-21", 92.4, 2.92), ("TH-08", 20.2, 1.58)):
        page.goto(f"/upkeep/{ids[tag]}/setup")
        setup = page.get_by_role("region", name="Set-up")
        expect(setup.get_by_role("heading")).to_contain_text("whetstone")
        page.get_by_label("Angle per side").fill("15")
        expect(setup).to_contain_text("° per side, 30.0° inclusive")
        expect(page.locator("section.stale")).to_have_count(0)
        expect(setup.get_by_role("img", name=re.compile("15.0° per side"))).to_be_visible()
        lifts[tag] = millimetres(setup.locator("tbody tr").first.locator("td.grade-G").inner_text())
        assert lifts[tag] == pytest.approx(float(lift_mm(height, spine, 15)), abs=0.15)
    assert lifts["OK-21"] > 4 * lifts["TH-08"]
    page.get_by_label("Angle per side").fill("2")
    expect(page.get_by_role("alert")).to_contain_text("5 to 35 degrees")


def test_what_would_ruin_an_edge_is_said_before_it_touches(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/upkeep/{ids['BT-27']}/setup")
    tools = page.get_by_role("region", name="Tools")
    tools.get_by_role("button", name=re.compile("^fine ceramic rod")).click()
    setup = page.get_by_role("region", name="Set-up")
    expect(setup.get_by_role("status")).to_contain_text("Never on this knife.")
    expect(setup.locator("table")).to_have_count(0)
    page.goto(f"/upkeep/{ids['HS-24']}/setup")
    rod = tools.get_by_role("button", name=re.compile("^fine ceramic rod"))
    expect(rod).to_contain_text("never")
    expect(rod).to_contain_text("The other school: lightly")
    page.get_by_label("ceramic, very lightly").check()
    expect(rod).to_contain_text("~ lightly")


def test_seventy_thirty_turned_even_shows_its_cost_and_wants_the_owners_word(
    page: Page, ids: dict[str, int]
) -> None:
    page.goto(f"/upkeep/{ids['PM-21']}/reprofile")
    plan = page.get_by_role("region", name="Plan")
    expect(plan).to_contain_text("steel cut away over the edge")
    expect(plan.get_by_role("status")).to_have_count(0)
    page.get_by_label("even, 50:50").check()
    expect(plan.get_by_role("status")).to_contain_text("ground 70:30 for the right hand")
    expect(plan.get_by_role("status")).to_contain_text("cannot be put back")
    expect(page.locator("section.stale")).to_have_count(0)
    expect(page.get_by_role("img", name=re.compile("before and after"))).to_be_visible()
    steel = plan.get_by_role("row", name=re.compile("^steel cut away over the edge"))
    right, left = (millimetres(text) for text in steel.locator("td.number").all_inner_texts())
    assert left > 3 * right > 0
    order = plan.get_by_role("button", name="Order this work")
    expect(order).to_be_disabled()
    plan.get_by_label(re.compile("accepts the cost")).check()
    order.click()
    expect(page).to_have_url(re.compile("/work"))
    expect(page.get_by_role("region", name="Orders")).to_contain_text("the owner accepts the cost")


def test_a_work_order_from_a_failed_checklist_to_done(page: Page, tmp_path: Path) -> None:
    page.goto("/rack")
    expect(page.get_by_text(re.compile(r"of [\d,]+ knives"))).to_be_visible()
    page.keyboard.press("7")
    work = page.get_by_role("region", name="Open work")
    row = work.get_by_role("row", name=re.compile("^QS-17"))
    expect(row).to_contain_text("needs work")
    row.get_by_role("link").click()
    faults = page.get_by_role("region", name="Faults")
    expect(faults.get_by_role("status")).to_contain_text("needs work")
    expect(faults).to_contain_text("600 → 1200")
    faults.get_by_role("button", name="Order these 2 repairs").click()
    orders = page.get_by_role("region", name="Orders")
    expect(orders).to_contain_text("10 min to do")
    picture = tmp_path / "before.png"
    picture.write_bytes(PNG)
    repair = orders.get_by_role("listitem").filter(has=page.get_by_text("choil corners")).first
    repair.get_by_label("picture before").set_input_files(picture)
    expect(repair.get_by_role("img", name=re.compile("before$"))).to_be_visible()
    for name in ("choil corners", "spine corners"):
        repair = orders.locator("ol > li").filter(has=page.get_by_text(name, exact=False)).first
        repair.get_by_label("minutes it took").fill("5")
        repair.get_by_role("button", name="Done").click()
        expect(repair).to_contain_text("Re-check:")
        repair.get_by_role("button", name="Passed").click()
        expect(repair).to_contain_text("✓ closed")
    expect(faults.get_by_role("status")).to_contain_text("ready")
    page.get_by_role("link", name="Upkeep", exact=True).first.click()
    expect(work.get_by_role("row", name=re.compile("^QS-17"))).to_contain_text("✓ ready")


def test_the_calendar_downloads_and_parses(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/upkeep/{ids['DG-20']}/life")
    plans = page.get_by_role("region", name="Plans")
    page.get_by_label("kitchen label").fill("lighthouse")
    page.get_by_role("button", name="Assign to this kitchen").click()
    expect(plans).to_contain_text("grooved steel rod")
    expect(plans.get_by_role("img", name="Dates of a year")).to_be_visible()
    with page.expect_download() as waiting:
        plans.get_by_role("link", name="calendar, .ics").click()
    events = vobject.readOne(waiting.value.path().read_text(encoding="utf-8")).vevent_list
    assert {"Rod: DG-20 (lighthouse)", "Stone: DG-20 (lighthouse)"} <= {
        e.summary.value for e in events
    }
    page.get_by_label("height after, mm").fill("45,3")
    page.get_by_role("button", name="Add entry").click()
    log = plans.locator("tbody tr").first
    expect(log).to_contain_text("45.30 mm high")
    expect(page.get_by_role("region", name="What sharpening leaves")).to_contain_text(
        "3 sharpenings of this knife"
    )
    log.get_by_role("button", name="strike out").click()
    log.get_by_label("why").fill("wrong knife")
    log.get_by_role("button", name="Strike out").click()
    expect(plans).to_contain_text("struck out: wrong knife")
    plans.get_by_role("button", name="end this plan").click()
    expect(plans.get_by_role("status")).to_contain_text("its log stays")
    plans.get_by_role("button", name="resume it").click()
    expect(plans.get_by_role("heading", name=re.compile("^lighthouse"))).to_be_visible()
    plans.get_by_role("button", name="end this plan").click()
    expect(plans).to_contain_text("Not assigned to a kitchen yet.")


def test_the_workshop_sets_the_spacers_of_every_set_up(page: Page, ids: dict[str, int]) -> None:
    page.goto("/upkeep/workshop")
    page.get_by_role("button", name="Another spacer").click()
    spacers = page.get_by_role("region", name="Spacers")
    spacers.get_by_label("name").last.fill("pier block")
    spacers.get_by_label("mm", exact=True).last.fill("10,8")
    page.get_by_role("button", name="Save the workshop").click()
    expect(page.get_by_text(re.compile("Version 2, set"))).to_be_visible()
    page.goto(f"/upkeep/{ids['PM-21']}/setup")
    expect(page.get_by_role("region", name="Set-up").locator("tbody tr").first).to_contain_text(
        "pier block"
    )


def test_a_single_bevel_is_offered_no_other_ratio(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/upkeep/{ids['BT-27']}/reprofile")
    wanted = page.get_by_role("region", name="Wanted")
    expect(wanted).to_contain_text("A single bevel keeps its ratio")
    expect(wanted.get_by_label("even, 50:50")).to_have_count(0)
    page.get_by_label("Angle wanted").fill("16")
    expect(page.get_by_role("region", name="Plan")).to_contain_text("Grind the face only.")
    page.goto(f"/upkeep/{ids['BT-27']}/life")
    expect(page.get_by_role("region", name="What sharpening leaves")).to_contain_text(
        "never: its whole face is sharpened"
    )


def test_the_set_up_is_worked_by_keys_and_drawn_at_life_size(
    page: Page, ids: dict[str, int]
) -> None:
    page.goto(f"/upkeep/{ids['DG-20']}/setup")
    drawing = page.get_by_role("img", name=re.compile("on the whetstone"))
    expect(drawing).to_be_visible()
    tools = page.get_by_role("region", name="Tools")
    tools.get_by_role("button").first.focus()
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.get_by_role("img", name=re.compile("on the grooved steel rod"))).to_be_visible()
    expect(page.get_by_role("region", name="Set-up")).to_contain_text("the rod leans as much")
    tools.get_by_role("button").first.press("Enter")
    page.get_by_role("button", name="life size").click()
    page.get_by_role("button", name="The size matches").click()
    box = drawing.bounding_box()
    wide = drawing.evaluate("svg => svg.viewBox.baseVal.width")
    per_mm = float(page.evaluate("localStorage.getItem('maple-rook.px-per-mm')"))
    assert box is not None
    assert box["width"] == pytest.approx(wide * per_mm, rel=0.01)


def test_an_order_that_fails_says_so_and_is_not_doubled(page: Page, ids: dict[str, int]) -> None:
    page.goto("/upkeep")
    page.get_by_label("Find a knife").fill("TH-08")
    page.locator("p.hand").get_by_role("link", name="TH-08", exact=True).click()
    expect(page).to_have_url(re.compile(f"/upkeep/{ids['TH-08']}/setup"))
    page.get_by_role("link", name="Work", exact=True).click()
    faults = page.get_by_role("region", name="Faults")
    order = faults.get_by_role("button", name="Order these 2 repairs")
    page.route(
        "**/api/pieces/*/work",
        lambda route: route.abort() if route.request.method == "POST" else route.continue_(),
    )
    order.click()
    expect(faults.get_by_role("alert")).to_contain_text("The server does not answer.")
    page.unroute("**/api/pieces/*/work")
    order.click()
    orders = page.get_by_role("region", name="Orders")
    expect(orders.get_by_role("article")).to_have_count(1)
    repair = orders.locator("ol > li").first
    repair.get_by_text("Drop this repair").click()
    repair.get_by_label("why").fill("the maker's own mark")
    repair.get_by_role("button", name="Drop", exact=True).click()
    expect(repair).to_contain_text("dropped")
    expect(repair).to_contain_text("the maker's own mark")


def test_the_rack_and_the_sheet_say_what_needs_work(page: Page, ids: dict[str, int]) -> None:
    page.goto("/rack")
    page.get_by_role("textbox", name="Search").fill("OK-22")
    expect(page.get_by_text("return to maker").first).to_be_visible()
    page.goto(f"/sheet/{ids['OK-22']}")
    page.get_by_role("link", name="return to maker").click()
    faults = page.get_by_role("region", name="Faults")
    expect(faults).to_contain_text("Back to the maker, with the fault named.")
    expect(faults.get_by_role("status")).to_contain_text("return to maker")


def test_a_care_card_prints_alone_and_follows_the_kitchen(page: Page, ids: dict[str, int]) -> None:
    page.goto(f"/upkeep/{ids['HS-24']}/care")
    card = page.locator("article.card")
    expect(card).to_contain_text("Keeping Hollinreach Slate 240")
    expect(card).to_contain_text("No rod on this edge.")
    page.get_by_label("ceramic, very lightly").check()
    expect(card).to_contain_text("Hone it with a fine ceramic rod, lightly")
    page.emulate_media(media="print")
    expect(card).to_be_visible()
    for chrome in ("Stations", "Parts of Upkeep", "Knives in hand", "Kitchen"):
        expect(page.get_by_label(chrome, exact=True)).to_be_hidden()
    expect(page.get_by_role("heading", level=1)).to_be_hidden()


def test_work_is_done_with_a_phone_beside_the_stone(page: Page, ids: dict[str, int]) -> None:
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"/upkeep/{ids['OM-21']}/work")
    repair = page.get_by_role("region", name="Orders").locator("ol > li").first
    done = repair.get_by_role("button", name="Done")
    done.scroll_into_view_if_needed()
    box = done.bounding_box()
    assert box is not None
    assert box["x"] + box["width"] <= 390
    assert box["height"] >= 32
    repair.get_by_label("minutes it took").fill("12,5")
    page.route("**/events", lambda route: route.abort())
    done.click()
    expect(page.get_by_role("alert")).to_contain_text("The server does not answer.")
    expect(repair.get_by_label("minutes it took")).to_have_value("12,5")
    page.unroute("**/events")
    done.click()
    expect(repair).to_contain_text("took 13 min")
    expect(repair).to_contain_text("Nail across: no step, no gap.")
    repair.get_by_role("button", name="Not yet right").click()
    expect(repair).to_contain_text("re-check: mend")
    expect(repair.get_by_role("button", name="Done")).to_be_visible()

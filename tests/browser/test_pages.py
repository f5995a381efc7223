"""Pages for readers as a person makes them: from a button on a Sheet to withdrawn."""

from __future__ import annotations

import io
import re

import pytest
from html_validator import check_html
from PIL import Image
from playwright.sync_api import Browser, Page, expect
from resvg_py import svg_to_bytes
from test_for_everybody import WCAG, against

from maple_rook.front_end import FrontEndError


def editor(page: Page) -> None:
    page.wait_for_url(re.compile(r"/office/pages/\d+"))
    expect(page.get_by_text("All changes saved")).to_be_visible()


def pick(page: Page, label: str, option: str) -> None:
    """Pick from a list that drops down and cannot be typed in."""
    page.get_by_label(label).press("ArrowDown")
    listed = page.get_by_role("listbox", name=label)  # another list may still be closing
    listed.get_by_role("option", name=option, exact=True).click()
    expect(page.locator(".v-select", has_text=label)).to_contain_text(option)


def published(page: Page) -> str:
    """Publish, and the address it is read at."""
    page.get_by_role("button", name=re.compile("^Publish")).click()
    expect(page.get_by_text("● Published", exact=True)).to_be_visible()
    address = page.locator(".bar a").get_attribute("href")
    assert address
    return address


def test_the_validator_knows_what_is_wrong() -> None:
    with pytest.raises(FrontEndError, match="element-permitted-content"):
        check_html("<!DOCTYPE html><html lang='en'><head><title>x</title></head><ul><p>a</ul>")


def test_a_review_from_a_sheet_to_readers_and_back(
    page: Page, browser: Browser, base_url: str
) -> None:
    page.goto("/sheet/1")
    page.get_by_role("button", name="Write a review").click()
    editor(page)
    publish = page.get_by_role("button", name="Publish")
    expect(publish).to_be_disabled()
    expect(page.get_by_text("how the knife was obtained")).to_be_visible()
    pick(page, "The knife was", "lent, and goes back")
    page.get_by_label("By whom").fill("the maker")
    pick(page, "Did anyone pay for the review?", "no")
    pick(page, "Did anyone see it before publication?", "no")
    pick(page, "Do links earn money?", "no")
    page.get_by_role("button", name="Rewrite Value").click()
    own = page.get_by_label("Value, in your words")
    expect(own).to_be_focused()
    own.fill("Fair at {price}, says {nobody}.")
    expect(page.get_by_text("Not known or not measured: nobody")).to_be_visible()
    own.fill("Fair at {price}.")
    page.get_by_role("button", name="Move Value up").click()
    page.get_by_role("checkbox", name="Fit and finish").uncheck()
    frame = page.frame_locator("iframe")
    expect(frame.get_by_text("Fair at 148.00 crowns.")).to_be_visible()
    expect(frame.get_by_role("heading", name="Fit and finish")).to_have_count(0)
    page.reload()  # nothing typed is lost
    expect(page.get_by_label("Value, in your words")).to_have_value("Fair at {price}.")
    assert list(against(page, WCAG)) == []
    address = published(page)

    reader = browser.new_context(base_url=base_url).new_page()  # nobody, from outside
    reader.goto(address)
    expect(reader.get_by_role("heading", level=1)).to_have_text(re.compile("Kesterby Harbour"))
    expect(reader.get_by_text("Fair at 148.00 crowns.")).to_be_visible()
    expect(reader.get_by_text("lent to us by the maker")).to_be_visible()
    assert list(against(reader, WCAG)) == []
    reader.set_viewport_size({"width": 320, "height": 640})
    how = reader.get_by_role("link", name="How this was measured").get_attribute("href")
    check_html(*(reader.request.get(at).text() for at in (address, how or "")))
    assert reader.evaluate("document.documentElement.scrollWidth") <= 320
    reader.get_by_role("link", name="How this was measured").click()
    expect(
        reader.get_by_role("cell", name=re.compile("largest permissible error")).first
    ).to_be_visible()
    assert list(against(reader, WCAG)) == []

    page.get_by_role("link", name="All pages").click()
    page.get_by_role("button", name=re.compile("^Withdraw Kesterby")).click()
    page.get_by_label(re.compile("Why is")).fill("sold")
    page.get_by_role("button", name="Withdraw", exact=True).click()
    expect(page.get_by_text("○ Withdrawn")).to_be_visible()
    assert list(against(page, WCAG)) == []
    assert reader.goto(address).status == 404  # type: ignore[union-attr]
    reader.context.close()


def test_photographs_are_taken_at_the_bench_and_cropped_by_hand(page: Page) -> None:
    page.goto(f"/bench/{page.request.post('/api/bench/pieces/4/sheets').json()['id']}")
    page.get_by_role("button", name="photographs").click()
    held = io.BytesIO()
    Image.new("RGB", (1800, 1200), "#d8d2c4").save(held, "JPEG")
    page.get_by_label("Add photographs").set_input_files(
        {"name": "knife.jpg", "mimeType": "image/jpeg", "buffer": held.getvalue()}
    )
    page.get_by_label("Description for those who cannot see it").fill("9 from the left")
    page.get_by_role("button", name="Crop photograph 1").click()
    expect(page.locator(".picture img")).to_have_js_property("naturalWidth", 960)
    box = page.locator(".picture").bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 5)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] + 40, box["y"] + box["height"] / 2, steps=4)
    page.mouse.up()
    expect(page.get_by_label("Width, %")).to_have_value(re.compile(r"^(49|50)"))
    page.get_by_label("Height, %").fill("100")
    page.get_by_role("button", name="Use this").click()
    expect(page.get_by_text("50 % shown")).to_be_visible()
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
    assert list(against(page, WCAG)) == []
    page.get_by_role("button", name="Close").click()
    entry = page.locator(".entry input").first
    expect(entry).to_be_focused()
    expect(entry).to_have_value("")  # nothing that was typed over it went into it


def test_a_chart_is_saved_in_either_scheme_at_a_width(page: Page) -> None:
    page.goto("/board?hand=1.4.5")
    files = (("Picture .png", "Dark", "png"), ("Drawing .svg", "Light", "svg"))
    for file, colours, ends in files:
        page.get_by_role("button", name="Save chart: Force against depth").click()
        pick(page, "File", file)
        page.get_by_label("Width, px").fill("900")
        pick(page, "Colours", colours)
        with page.expect_download() as saved:
            page.get_by_role("button", name="Save", exact=True).click()
        assert saved.value.suggested_filename == f"force-against-depth.{ends}"
        content = saved.value.path().read_bytes()
        if ends == "svg":
            drawn = svg_to_bytes(svg_string=content.decode())  # another renderer reads it
            content = bytes(drawn)
        picture = Image.open(io.BytesIO(content)).convert("RGB")
        assert picture.width == 900
        assert (max(picture.getpixel((2, 2))) < 60) is (colours == "Dark")
        assert len(picture.getcolors(1 << 20)) > 20  # axes, words and three lines


def test_a_comparison_from_the_board_and_a_range_that_readers_put_in_order(page: Page) -> None:
    page.goto("/board?hand=1.4.5")
    page.get_by_role("button", name="Write up a comparison").click()
    editor(page)
    page.get_by_role("button", name="Leave out Sections over each other").click()
    frame = page.frame_locator("iframe")
    expect(frame.get_by_role("heading", name="Sections")).to_have_count(0)
    address = published(page)
    page.goto(address)
    expect(page.get_by_role("heading", name="What differs")).to_be_visible()
    assert list(against(page, WCAG)) == []
    check_html(page.request.get(address).text())

    page.goto("/office/pages")
    page.get_by_label("Maker or search words").fill("Hollinreach")
    page.get_by_role("button", name="Start a draft", exact=True).click()
    editor(page)
    page.goto(published(page))
    page.get_by_role("link", name="weight").click()
    expect(page.get_by_role("columnheader", name="weight")).to_have_attribute(
        "aria-sort", "ascending"
    )
    cells = page.locator("tbody tr td:nth-child(4)").all_inner_texts()
    weights = [float(text.split(" ")[0]) for text in cells if text]
    assert len(weights) > 2
    assert weights == sorted(weights)
    check_html(page.request.get(page.url).text())
    assert list(against(page, WCAG)) == []

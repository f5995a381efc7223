"""In and out as a person does it: an untidy list imported, a card taken, a page shown."""

from __future__ import annotations

import re
from pathlib import Path

import pypdfium2
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.store.tables import Piece

UNTIDY = """Spring list;;;;;;;
No.;Brand;Model;Type;Size;Wt;Spine @ heel;Rockwell
SP-1;Kesterby;Spring;gyuto;210;186,5;2,1 mm;60,5
SP-2;Kesterby;Spring;gyuto;210;6,7 oz;76;61
SP-3;;Spring;gyuto;210;187;2,2;60
"""


def figure(page: Page, said: str) -> int:
    found = page.get_by_role("group", name="Rows by verdict").get_by_role("button", name=said)
    return int(re.match(r"\d+", found.inner_text().strip())[0])  # type: ignore[index]


def test_an_untidy_list_from_mapping_to_the_rack(page: Page, shop: Session, tmp_path: Path) -> None:
    path = tmp_path / "spring.csv"
    path.write_bytes(UNTIDY.encode("cp1252"))
    page.goto("/office/in")
    page.locator("input[type=file]").set_input_files(path)
    table = page.get_by_role("region", name="Table spring.csv")
    expect(table.get_by_role("combobox", name="What Rockwell means")).to_have_value("hardness")
    expect(table.get_by_role("radio", name="decimal comma")).to_be_checked()
    weight = table.get_by_role("combobox", name="What Wt means")
    expect(weight).to_have_value("weight")
    weight.select_option("")  # taken back, and kept over a reload
    page.reload()
    expect(weight).to_have_value("")
    weight.select_option("weight")

    expect(page.get_by_role("button", name="Preview the import")).to_be_disabled()
    table.get_by_role("radio", name="measured here, with our usual instruments").check()
    page.get_by_role("button", name="Preview the import").click()
    expect(page.get_by_text("Nothing is written yet")).to_be_visible()
    assert (figure(page, "refused"), figure(page, "in, in part")) == (1, 1)
    found = Axe().run(page)
    assert found.violations_count == 0, found.generate_report()
    report = page.get_by_role("region", name="Report")
    expect(report.get_by_role("row", name=re.compile("without maker"))).to_be_visible()
    page.get_by_role("button", name="in, in part").click()
    expect(report.get_by_role("row", name=re.compile("76 mm is not accepted"))).to_be_visible()
    with page.expect_download() as download:
        report.get_by_role("link", name="the whole report").click()
    assert "SP-2" in download.value.path().read_text()
    assert shop.scalar(select(Piece.id).where(Piece.tag == "SP-1")) is None

    page.get_by_role("combobox", name="Unusual figures").select_option("bring")
    expect(
        page.get_by_role("button", name="Import", exact=True)
    ).to_be_hidden()  # tried with other choices
    page.get_by_role("button", name="Preview the import").click()
    page.get_by_role("button", name="Import", exact=True).click()
    expect(page.get_by_text("Imported:")).to_be_visible()
    page.get_by_role("link", name="See the Rack").click()
    page.get_by_label("Search").first.fill("SP-1")
    expect(
        page.get_by_role("link", name="Sheet of Kesterby Spring gyuto 210 · SP-1")
    ).to_be_visible()

    page.goto("/office/in")
    expect(page.get_by_role("row", name=re.compile("spring.csv.*2 pieces"))).to_be_visible()


def test_a_file_that_cannot_be_read_says_why(page: Page, tmp_path: Path) -> None:
    path = tmp_path / "old.xls"
    path.write_bytes(b"\xd0\xcf\x11\xe0 an old workbook")
    page.goto("/office/in")
    page.locator("input[type=file]").set_input_files(path)
    expect(page.get_by_role("alert")).to_contain_text("save it as XLSX")
    page.goto("/office/in?file=00000000000000000000000000000000")
    expect(page.get_by_role("alert")).to_contain_text("Nothing was imported")


@pytest.fixture
def knife(shop: Session) -> int:
    found = shop.scalar(select(Piece.id).where(Piece.tag == "KH-01"))
    assert found is not None
    return found


def test_a_spec_card_is_downloaded_and_says_the_knife(page: Page, knife: int) -> None:
    page.goto(f"/sheet/{knife}")
    with page.expect_download() as download:
        page.get_by_role("link", name="spec card .pdf").click()
    document = pypdfium2.PdfDocument(download.value.path())
    text = document[0].get_textpage().get_text_bounded()
    document.close()
    assert "Kesterby Harbour gyuto 210" in text
    assert "187 ± 1 g" in text


def test_a_page_without_sign_in_shows_only_what_was_chosen(
    page: Page, browser: Browser, base_url: str, knife: int
) -> None:
    page.goto(f"/sheet/{knife}")
    out = page.get_by_role("region", name="Out of the shop")
    out.get_by_text("Not published. Choose").click()
    for label in ("the price", "hardness"):
        out.get_by_role("checkbox", name=label, exact=True).uncheck()
    out.get_by_label("Introduction above").fill("For long days.")
    out.get_by_role("button", name="Publish the page").click()
    link = out.get_by_role("link", name="/k/")
    address = link.get_attribute("href")
    for scheme in ("light", "dark"):
        stranger = browser.new_context(color_scheme=scheme, base_url=base_url)  # type: ignore[arg-type]
        there = stranger.new_page()
        there.goto(str(address))
        expect(there.get_by_role("heading", level=1)).to_have_text("Kesterby Harbour gyuto 210")
        expect(there.get_by_text("For long days.")).to_be_visible()
        expect(
            there.get_by_role("row", name=re.compile("weight.*187 ± 1 g.*6.60 oz"))
        ).to_be_visible()
        expect(there.get_by_text(re.compile("crowns|HRC"))).to_have_count(0)
        expect(there.get_by_text(re.compile("follow local law"))).to_be_visible()
        found = Axe().run(there)
        assert found.violations_count == 0, found.generate_report()
        assert there.evaluate("document.fonts.check('20px Vollkorn')")
        stranger.close()
    out.get_by_role("button", name="Unpublish the page").click()
    expect(out.get_by_text("Not published. Choose")).to_be_visible()
    assert page.request.get(f"{base_url}{address}").status == 404

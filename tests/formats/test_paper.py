"""Cards and labels on paper: at the scale they say, inside the page, with a code that scans."""

from __future__ import annotations

import io

import pypdfium2
import pytest
import zxingcpp
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from maple_rook.formats.card_words import CARD_WORDS
from maple_rook.formats.drawings import Shape
from maple_rook.formats.paper import LARGER_SCALES, SCALES, Page, fitting_scale, scale_text
from maple_rook.formats.preview import SIZE, preview
from maple_rook.formats.shelf_label import LABEL_STOCKS, LabelStock, shelf_labels
from maple_rook.formats.spec_card import LANDSCAPE_MM, Card, CardLine, spec_card

MM = 72 / 25.4
HANDLE = Shape([(-130, 20), (-130, 45), (0, 45), (0, 20)], part="handle")
BLADE = Shape([(0, 0), (0, 46), (120, 44), (210, 6), (180, 0)])
SECTION = Shape([(-1, 46), (1, 46), (0.2, 1), (0, 0), (-0.2, 1)], part="section")


def card(**changes: object) -> Card:
    figures = [CardLine(f"figure {i}", f"{i}.0 ± 0.1 mm", f"{i / 25.4:.3f} in") for i in range(26)]
    made = {
        "name": "Kesterby Harbour gyuto 210",
        "about": "KH-01 · gyuto · new",
        "shop": "Saltmarsh",
        "price": "148.00 crowns",
        "outline": [HANDLE, BLADE],
        "section": [SECTION],
        "figures": figures,
        "estimates": [CardLine("Cutting ease", "102 to 107", "grade G")],
        "making": [CardLine("steel", "1.4112")],
        "claims": [("hardness 60±1: found 58", True)],
        "not_measured": "balance point, handle length",
        "cautions": "Edge away from the body. " * 9,
        "code": "https://shop.example/k/kesterby-harbour-gyuto-210-kh-01",
        "code_says": "its page",
        **changes,
    }
    return Card(words=CARD_WORDS["en"], **made)  # type: ignore[arg-type]


def pages(content: bytes) -> list[tuple[str, tuple[float, float], list[tuple[float, ...]]]]:
    """Text, size in mm, and the boxes of all characters of each page, in mm."""
    document = pypdfium2.PdfDocument(content)
    found = []
    for page in document:
        text = page.get_textpage()
        boxes = [tuple(v / MM for v in text.get_charbox(i)) for i in range(text.count_chars())]
        size = tuple(v / MM for v in page.get_size())
        found.append((text.get_text_bounded(), size, boxes))
    document.close()
    return found


def picture(content: bytes, per_mm: float = 10) -> Image.Image:
    document = pypdfium2.PdfDocument(content)
    found = document[0].render(scale=per_mm / MM).to_pil()
    document.close()
    return found


def dark_run(image: Image.Image, y: int, upto: int) -> int:
    """Length in dots of the line drawn at a height, left of where words begin."""
    dark = [x for x in range(upto) if image.getpixel((x, y))[0] < 180]  # type: ignore[index]
    return max(dark) - min(dark) if dark else 0


@pytest.mark.parametrize(
    "changes",
    [
        {},
        {
            "name": "Brackenmoor & Long Tideline single-bevel slicer (yanagiba) 270, old kind",
            "price": "1,249,310.00 crowns",
        },
        {"section": [], "claims": [], "estimates": [], "making": [], "not_measured": ""},
        {"figures": [], "price": ""},
        {"outline": [Shape([(-300, 0), (-300, 140), (240, 140), (240, 0)])]},
        {"claims": [("weight 185 g: " + "inside the band by more than U " * 4, False)] * 9},
    ],
    ids=["usual", "long names", "little known", "nothing measured", "huge", "many claims"],
)
def test_everything_stays_inside_the_page(changes: dict[str, object]) -> None:
    for content, size in (
        (spec_card(card(**changes)), LANDSCAPE_MM["A4"]),
        *(
            (shelf_labels([card(**changes)], stock), stock.page)
            for stock in LABEL_STOCKS.values()
            if stock.places == 1
        ),
    ):
        [(text, found, boxes)] = pages(content)
        assert found == pytest.approx(size, abs=0.1)
        assert text.strip()
        drawn = [b for b in boxes if b[2] > b[0]]
        assert min(b[0] for b in drawn) > 1.9
        assert max(b[2] for b in drawn) < size[0] - 1.9
        assert min(b[1] for b in drawn) > 0.5
        assert max(b[3] for b in drawn) < size[1] - 1


@pytest.mark.parametrize("stock", LABEL_STOCKS.values(), ids=LABEL_STOCKS)
def test_every_word_of_a_label_stays_on_its_label(stock: LabelStock) -> None:
    """On paper sheets a label that spills over spoils its neighbour."""
    cards = [card(name=f"Knife {n}", figures=[], code_says=f"code {n}") for n in range(3)]
    found = pages(shelf_labels(cards, stock, first=stock.places))
    assert len(found) == (3 if stock.places == 1 else 2)
    for (text, size, boxes), places in zip(
        found, ([stock.places - 1], [0, 1]) if stock.places > 1 else ([0],) * 3, strict=True
    ):
        assert size == pytest.approx(stock.page, abs=0.1)
        for place in places:
            left, top = stock.corner(place)
            width, height = stock.label
            assert left >= 0
            assert left + width <= stock.page[0] + 0.1
            assert top + height <= stock.page[1] + 0.1
            bottom = stock.page[1] - top - height
            inside = [
                b for b in boxes if left < b[0] < left + width and bottom < b[1] < bottom + height
            ]
            assert all(b[2] < left + width - 1 and b[3] < bottom + height - 1 for b in inside)
            assert len(inside) > 12
        assert sum(f"Knife {n}" in text for n in range(3)) == len(places)


def test_labels_of_a_sheet_do_not_lie_over_each_other() -> None:
    for stock in LABEL_STOCKS.values():
        corners = [stock.corner(place) for place in range(stock.places)]
        for i, (left, top) in enumerate(corners):
            for other_left, other_top in corners[:i]:
                apart = abs(left - other_left) > stock.label[0] - 0.01
                assert apart or abs(top - other_top) > stock.label[1] - 0.01


def test_the_code_of_every_label_can_be_read() -> None:
    code = "https://shop.example/k/kesterby-harbour-gyuto-210-kh-01"
    for name, stock in LABEL_STOCKS.items():
        image = picture(shelf_labels([card(code=code)], stock), per_mm=16)
        found = zxingcpp.read_barcodes(image)
        assert [one.text for one in found] == [code], name


def test_all_figures_of_a_well_measured_knife_are_on_the_card() -> None:
    [(text, _, _)] = pages(spec_card(card()))
    assert all(f"{i}.0 ± 0.1 mm" in text for i in range(26))


def test_the_bar_of_50_mm_is_as_long_as_its_scale_says() -> None:
    page = Page(120, 40, "bars")
    page.scale_bar(10, 20, 0.5)
    image = picture(page.finished())
    assert dark_run(image, 200, 360) == pytest.approx(250, abs=4)  # 50 mm at 1 : 2, ten dots a mm


def test_a_knife_is_drawn_at_the_largest_scale_that_fits() -> None:
    assert fitting_scale([BLADE], 211, 60) == 1.0
    assert fitting_scale([BLADE], 209, 60) == pytest.approx(2 / 3)
    assert fitting_scale([BLADE], 211, 25) == 0.5
    assert fitting_scale([SECTION], 20, 100, LARGER_SCALES) == 2.0
    assert fitting_scale([BLADE], 1, 1) == min(SCALES)
    assert [scale_text(s) for s in (5.0, 1.0, 0.25)] == ["5 : 1", "life size", "1 : 4"]


@settings(max_examples=15)
@given(st.text(st.characters(min_codepoint=33, max_codepoint=126), min_size=1, max_size=120))
def test_a_code_scans_to_what_was_put_in(text: str) -> None:
    page = Page(60, 60, "code")
    page.qr(5, 5, 50, text)
    found = zxingcpp.read_barcodes(picture(page.finished()))
    # ISO/IEC 18004: a symbol anybody can read, not the small kind few readers know
    assert [(b.text, b.format) for b in found] == [(text, zxingcpp.BarcodeFormat.QRCode)]


def test_a_letter_the_fonts_lack_is_shown_as_one_and_the_rest_stays() -> None:
    [(text, _, _)] = pages(spec_card(card(name="Łódź 刀 gyuto −5 µm")))
    assert "Łódź ? gyuto −5 µm" in text


def test_a_preview_has_the_size_that_links_unfold_to_with_or_without_outline() -> None:
    for outline in ([], [HANDLE, BLADE]):
        image = Image.open(io.BytesIO(preview("Kesterby " * 20, "a shop", outline, ["187 g"] * 9)))
        assert image.size == SIZE
        colours = len(image.getcolors(1_000_000) or [])
        assert colours > 10


def test_a_name_with_a_line_break_has_a_picture() -> None:
    """Names that came with files before they were refused."""
    assert preview("Harbour\nGyuto\r\n210", "Test\nLane", [], ["61 HRC\n"]).startswith(b"\x89PNG")

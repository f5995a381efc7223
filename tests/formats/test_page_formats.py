"""A page in every format, read back by programs that are not ours."""

from __future__ import annotations

import datetime as dt
import io
import re
from html import unescape
from html.parser import HTMLParser

import docx as word_processor
import feedparser
import pypdf
import pytest
import zxingcpp
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.atom import Entry, atom
from maple_rook.formats.drawings import Shape, drawing
from maple_rook.formats.inks import PANEL_DARK, PAPER
from maple_rook.formats.line_chart import Axis, Line, line_chart
from maple_rook.formats.page import html, plain
from maple_rook.formats.page.blocks import (
    Bullets,
    Cell,
    Drawing,
    Heading,
    PageDocument,
    Paragraph,
    Run,
    Shown,
    TableBlock,
)
from maple_rook.formats.page.pdf import pdf
from maple_rook.formats.page.pictures import as_png, in_scheme
from maple_rook.formats.page.word import docx

HOSTILE = '<script>alert(1)</script> & "quotes" [x](javascript:1) `c` | # 1. - é ± 刀'
SQUARE = drawing("a square", [Shape([(0, 0), (40, 0), (40, 30), (0, 30)])])
CHART = line_chart(
    "Force", Axis("mm", 0, 30, [0, 30]), Axis("N", 0, 40, [0, 40]), [Line("A", [(0, 5), (30, 33)])]
)


def page(text: str = "It weighs ", title: str = "A gyuto, measured") -> PageDocument:
    figure = Run(text="187 ± 1 g", figure="weight", grade="M")
    return PageDocument(
        kind="review",
        title=title,
        summary=text,
        by="R. Reader",
        shop="A shop, a town",
        published_on="2026-11-30",
        blocks=[
            Heading(key="glance", text="At a glance"),
            Paragraph(runs=[Run(text=text), figure, Run(text=".")], tone="own"),
            Bullets(items=[[Run(text="Light")]], tone="for"),
            TableBlock(
                key="t",
                caption="Figures",
                head=["knife", "weight"],
                rows=[
                    [Cell(text="B"), Cell(text="200 ± 1 g", value=200.0)],
                    [Cell(text="A", href="/k/a"), Cell(text="187 ± 1 g", value=187.0)],
                    [Cell(text="C"), Cell(text="")],
                ],
                numbers=[1],
                sortable=True,
            ),
            Drawing(key="outline", svg=SQUARE, alt="a square", caption="A square"),
        ],
        disclosure=["We bought this knife."],
        cautions=["Hand-wash and dry."],
        figures=[Shown(piece_id=1, key="weight", label="weight", text="187 ± 1 g")],
    )


class Tags(HTMLParser):
    """Elements and their attributes, and the text."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.elements: list[tuple[str, dict[str, str | None]]] = []
        self.text = ""
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        names = [name for name, _ in attrs]
        assert len(set(names)) == len(names), (tag, attrs)  # an attribute stands once
        self.elements.append((tag, dict(attrs)))

    def handle_data(self, data: str) -> None:
        self.text += data

    def names(self) -> set[str]:
        return {tag for tag, _ in self.elements}


def test_a_pages_text_is_never_markup() -> None:
    for written in (
        html.whole(page(HOSTILE, HOSTILE), html.Around("https://s.example/p/a")),
        html.fragment(page(HOSTILE, HOSTILE), "https://s.example/p/a"),
    ):
        read = Tags(written)
        scripts = [attrs for tag, attrs in read.elements if tag == "script"]
        assert [s["type"] for s in scripts] == ["application/ld+json"]
        assert HOSTILE in read.text
        assert not any(name.startswith("on") for _, attrs in read.elements for name in attrs)


def test_the_same_text_is_in_every_format() -> None:
    written = page()
    told = ["A gyuto, measured", "It weighs 187 ± 1 g", "Light", "We bought this knife."]
    opened = word_processor.Document(io.BytesIO(docx(written)))
    in_word = "\n".join(p.text for p in opened.paragraphs)
    in_pdf = " ".join(
        (p.extract_text() or "") for p in pypdf.PdfReader(io.BytesIO(pdf(written, "x"))).pages
    )
    in_text = " ".join(plain.plain_text(written, "https://s.example/p/a").split())
    in_markdown = plain.markdown(written, "https://s.example/p/a").replace("*", "")
    in_html = Tags(html.whole(written, html.Around())).text
    for text in told:
        for found in (in_word, " ".join(in_pdf.split()), in_text, in_markdown, in_html):
            assert text in found, text
    assert [[c.text for c in row.cells] for row in opened.tables[0].rows] == [
        ["knife", "weight"],
        ["B", "200 ± 1 g"],
        ["A", "187 ± 1 g"],
        ["C", ""],
    ]
    assert len(opened.inline_shapes) == 1


@pytest.mark.parametrize(("paper", "wide"), [("A4", 595.3), ("Letter", 612.0)])
def test_a_pdf_has_the_papers_size_and_a_code_that_leads_on(paper: str, wide: float) -> None:
    address = "https://shop.example/m/p1"
    content = pdf(page(), address, paper)
    last = pypdf.PdfReader(io.BytesIO(content)).pages[-1]
    assert float(last.mediabox.width) == pytest.approx(wide, abs=0.1)
    codes = [found.text for image in last.images for found in zxingcpp.read_barcodes(image.image)]
    assert codes == [address]


@given(st.text(max_size=200))
@settings(max_examples=25)
def test_markdown_and_word_take_any_text(text: str) -> None:
    written = page(text or "x", "t")
    assert plain.markdown(written, "https://s.example/p/a").startswith("# t\n")
    docx(written.model_copy(update={"blocks": written.blocks[:2]}))


def test_lines_of_a_newsletter_fit() -> None:
    long = page("word " * 80)
    lines = plain.plain_text(long, "https://s.example/p/a").splitlines()
    assert max(map(len, lines)) <= 72
    assert lines[-1] == "https://s.example/p/a"


def test_a_table_is_put_in_order_and_gaps_stay_last() -> None:
    [table] = [b for b in page().blocks if isinstance(b, TableBlock)]

    def names(column: int, *, down: bool) -> str:
        return "".join(row[0].text for row in html.put_in_order(table, column, down=down).rows)

    assert (names(1, down=False), names(1, down=True)) == ("ABC", "BAC")
    assert (names(0, down=False), names(0, down=True)) == ("ABC", "CBA")


@pytest.mark.parametrize("svg", [SQUARE, CHART])
def test_drawings_become_pictures_of_the_width_asked_for(svg: str) -> None:
    for scheme in ("maple", "rook"):
        picture = Image.open(io.BytesIO(as_png(svg, 640, scheme)))
        assert picture.width == 640
        assert len(picture.convert("RGBA").getcolors(100_000) or ()) > 4  # text is smoothed
    for width in (10, 9000):
        with pytest.raises(InvalidValue):
            as_png(svg, width)


def test_the_dark_scheme_has_none_of_the_light_ones_colours() -> None:
    assert PAPER in CHART
    dark = in_scheme(CHART, "rook")
    assert PANEL_DARK in dark
    assert PAPER not in dark


def test_a_drawing_inside_a_page_takes_its_colours_and_says_what_it_is() -> None:
    for svg in (SQUARE, CHART):
        inline = html.inline(Drawing(key="d", svg=svg, alt='a "square"'))
        assert not re.search(r"#[0-9a-f]{6}", inline)
        read = Tags(inline)
        assert read.elements[0][1]["aria-label"] == 'a "square"'
        assert "width" not in read.elements[0][1]


def test_a_feed_reads_elsewhere() -> None:
    day = dt.datetime(2026, 11, 30, 9, 30, tzinfo=dt.UTC)
    entry = Entry("One & two <b>", "https://s.example/p/one", day, "R. Reader", "What & why")
    site = "https://s.example/"
    read = feedparser.parse(atom("A shop", f"{site}p/feed.atom", site, [entry]))
    assert not read.bozo
    assert read.version == "atom10"
    [found] = read.entries
    assert unescape(found.title) == "One & two <b>"
    assert (found.link, found.author) == ("https://s.example/p/one", "R. Reader")
    assert found.published_parsed[:5] == (2026, 11, 30, 9, 30)

"""A page as a PDF, A4 or Letter, with a code that leads to how it was measured."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from functools import cache
from typing import Any
from xml.sax.saxutils import escape  # nosec B406 - it only writes

from reportlab.lib.colors import HexColor
from reportlab.lib.enums import TA_RIGHT
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    Flowable,
    Image,
    KeepTogether,
    ListFlowable,
    ListItem,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)
from reportlab.platypus import Paragraph as Laid

from maple_rook.formats.inks import HAIRLINE, INK, PATINA, PLUM, SOFT
from maple_rook.formats.page.blocks import (
    NO_PHOTOGRAPHS,
    Block,
    Bullets,
    Cell,
    Drawing,
    Heading,
    PageDocument,
    Paragraph,
    PhotoBlock,
    Photographs,
    Run,
    TableBlock,
)
from maple_rook.formats.page.pictures import as_png, on_white
from maple_rook.formats.page.plain import closing
from maple_rook.formats.paper import STRONG, TEXT, TITLE, known_characters, qr_png

_PAPERS = {"A4": A4, "Letter": LETTER}
_MARGIN_MM, _PICTURE_PX, _CODE_MM, _TALLEST_MM = 20.0, 1600, 24.0, 75.0
_SIGNS = {"for": "+", "against": "–"}


@cache
def _styles() -> dict[str, ParagraphStyle]:
    known_characters()  # which registers the fonts
    text = ParagraphStyle("text", fontName=TEXT, fontSize=10, leading=14, textColor=HexColor(INK))
    return {
        "text": ParagraphStyle("body", text, spaceAfter=5),
        "title": ParagraphStyle("title", text, fontName=TITLE, fontSize=21, leading=26),
        "by": ParagraphStyle("by", text, textColor=HexColor(SOFT), spaceAfter=8),
        "heading": ParagraphStyle(
            "heading",
            text,
            fontName=TITLE,
            fontSize=13,
            leading=17,
            spaceBefore=9,
            spaceAfter=3,
            keepWithNext=1,
        ),
        "note": ParagraphStyle("note", text, fontSize=8.5, leading=11.5, textColor=HexColor(SOFT)),
        "cell": ParagraphStyle("cell", text, fontSize=9, leading=12),
        "number": ParagraphStyle("number", text, fontSize=9, leading=12, alignment=TA_RIGHT),
        "head": ParagraphStyle("head", text, fontName=STRONG, fontSize=8.5, leading=11),
        "head_number": ParagraphStyle(
            "head_number", text, fontName=STRONG, fontSize=8.5, leading=11, alignment=TA_RIGHT
        ),
    }


def pdf(
    page: PageDocument, address: str, paper: str = "A4", photographs: Photographs = NO_PHOTOGRAPHS
) -> bytes:
    """The page as a PDF; ``address`` is in its code, lower right on the last page.

    Parameters
    ----------
    page : what it holds.
    address : where it is told how the figures were measured.
    paper : "A4" or "Letter".
    photographs : as JPEG, by version.
    """
    held = io.BytesIO()
    wide, tall = _PAPERS[paper]
    margin = _MARGIN_MM * mm
    made = SimpleDocTemplate(
        held,
        pagesize=(wide, tall),
        leftMargin=margin,
        rightMargin=margin,
        topMargin=margin,
        bottomMargin=margin,
        title=page.title,
        author=page.by or page.shop,
        subject=page.summary,
        creator="Maple Rook",
        invariant=1,
    )
    made.build(
        list(_flowed(page, address, wide - 2 * margin - 12, photographs)),
        onFirstPage=_foot,
        onLaterPages=_foot,
    )
    return held.getvalue()


def _foot(canvas: Canvas, made: SimpleDocTemplate) -> None:
    canvas.setFont(TEXT, 8)
    canvas.setFillColor(HexColor(SOFT))
    canvas.drawString(made.leftMargin, 11 * mm, _known(str(made.title or "")))
    canvas.drawRightString(
        made.pagesize[0] - made.rightMargin, 11 * mm, str(canvas.getPageNumber())
    )


def _flowed(
    page: PageDocument, address: str, wide: float, photographs: Photographs
) -> Iterator[Flowable]:
    styles = _styles()
    yield Laid(_text(page.title), styles["title"])
    yield Laid(_text(page.by or page.shop), styles["by"])
    for block in page.blocks:
        yield from _block(block, wide, photographs)
    if page.disclosure:
        yield Laid("Disclosure", styles["heading"])
        yield Laid(_text(" ".join(page.disclosure)), styles["text"])
    for caution in page.cautions:
        yield Laid(_text(caution), styles["note"])
    yield Spacer(0, 3 * mm)
    side = _CODE_MM * mm
    said = [
        Laid(_text(closing(page)), styles["note"]),
        Laid(f"How this was measured: {_text(address)}", styles["note"]),
    ]
    code = Image(io.BytesIO(qr_png(address)), side, side)
    table = Table([[said, code]], colWidths=[wide - side - 2 * mm, side + 2 * mm])
    table.setStyle(
        TableStyle([("VALIGN", (0, 0), (-1, -1), "BOTTOM"), ("PADDING", (0, 0), (-1, -1), 0)])
    )
    yield KeepTogether([table])


def _known(text: str) -> str:
    known = known_characters()[TEXT]
    return "".join(c if ord(c) in known else "?" for c in text)


def _text(text: str) -> str:
    return escape(_known(text.replace("\n", " ")))


def _runs(runs: Sequence[Run]) -> str:
    return "".join(
        f'<font name="{STRONG}" color="{PATINA if r.grade == "M" else PLUM if r.grade else INK}">'
        f"{_text(r.text)}</font>"
        if r.figure
        else _text(r.text)
        for r in runs
    )


def _block(block: Block, wide: float, photographs: Photographs) -> Iterator[Flowable]:
    styles = _styles()
    match block:
        case Heading():
            yield Laid(_text(block.text), styles["heading"])
        case Paragraph():
            style = styles["note"] if block.tone in ("note", "caution") else styles["text"]
            yield Laid(_runs(block.runs), style)
        case Bullets():
            sign = _SIGNS.get(block.tone, "•")
            laid: list[Any] = [ListItem(Laid(_runs(item), styles["text"])) for item in block.items]
            yield ListFlowable(
                laid,
                bulletType="bullet",
                start=sign,
                bulletFontName=STRONG,
                leftIndent=12,
            )
        case TableBlock():
            yield from _table(block, wide)
        case Drawing():
            yield _picture(on_white(as_png(block.svg, _PICTURE_PX)), wide)
            if block.caption:
                yield Laid(_text(block.caption), styles["note"])
        case PhotoBlock():
            if content := photographs.get(block.version):
                yield _picture(content, wide)
            yield Laid(_text(block.said or block.alt), styles["note"])


def _picture(content: bytes, wide: float) -> Image:
    across, up = ImageReader(io.BytesIO(content)).getSize()
    shown = min(wide, _TALLEST_MM * mm * across / up)
    return Image(io.BytesIO(content), shown, shown * up / across)


def _table(block: TableBlock, wide: float) -> Iterator[Flowable]:
    styles = _styles()
    head = [
        Laid(_text(name), styles["head_number" if j in block.numbers else "head"])
        for j, name in enumerate(block.head)
    ]
    rows = [head]
    rows += [
        [
            Laid(_text(cell.text), styles["number" if j in block.numbers else "cell"])
            for j, cell in enumerate(row)
        ]
        for row in block.rows
    ]
    table = Table(rows, colWidths=_widths(block, wide), repeatRows=1)
    table.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, HexColor(HAIRLINE)),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
            ]
        )
    )
    yield Laid(_text(block.caption), styles["note"])
    yield table
    yield Spacer(0, 3 * mm)


def _widths(block: TableBlock, wide: float) -> list[float]:
    """Columns as wide as their longest texts ask for, within limits."""
    columns = zip(*([Cell(text=name) for name in block.head], *block.rows), strict=True)
    asked = [min(30, max(3, *(len(cell.text) for cell in column))) + 2 for column in columns]
    return [wide * share / sum(asked) for share in asked]

"""A page as a DOCX file for a word processor."""

from __future__ import annotations

import io
from collections.abc import Sequence

from docx import Document
from docx.document import Document as DocxDocument
from docx.enum.text import WD_ALIGN_PARAGRAPH
from docx.shared import Mm, Pt, RGBColor

from maple_rook.formats.page.blocks import (
    NO_PHOTOGRAPHS,
    Block,
    Bullets,
    Drawing,
    Heading,
    PageDocument,
    Paragraph,
    PhotoBlock,
    Photographs,
    Run,
    TableBlock,
)
from maple_rook.formats.page.pictures import as_png
from maple_rook.formats.page.plain import closing

DOCX_TYPE = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"
_WIDE_MM, _PICTURE_PX = 160, 1600
_SIZES_MM = {"A4": (210, 297), "Letter": (215.9, 279.4)}
_GRADES = {"M": RGBColor(0x1B, 0x66, 0x62), "G": RGBColor(0x7E, 0x5A, 0x10)}
_PREDICTED = RGBColor(0x6B, 0x3A, 0x6E)


def docx(page: PageDocument, paper: str = "A4", photographs: Photographs = NO_PHOTOGRAPHS) -> bytes:
    """The page as a DOCX file; figures in bold in the colour of their grade, drawings as PNG."""
    made = Document()
    section = made.sections[0]
    section.page_width, section.page_height = (Mm(side) for side in _SIZES_MM[paper])
    section.left_margin = section.right_margin = Mm((_SIZES_MM[paper][0] - _WIDE_MM) / 2)
    made.core_properties.title = _legal(page.title)
    made.core_properties.author = _legal(page.by or page.shop)
    made.core_properties.comments = _legal(page.summary)
    made.add_heading(_legal(page.title), 0)
    if page.by:
        made.add_paragraph(_legal(page.by)).runs[0].italic = True
    for block in page.blocks:
        _add(made, block, photographs)
    if page.disclosure:
        made.add_heading("Disclosure", 1)
        made.add_paragraph(_legal(" ".join(page.disclosure)))
    for text in (*page.cautions, closing(page)):
        made.add_paragraph(_legal(text)).runs[0].font.size = Pt(9)
    held = io.BytesIO()
    made.save(held)
    return held.getvalue()


def _legal(text: str) -> str:
    """Text without the characters that XML has no place for."""
    return "".join(c for c in text if c in "\t\n" or (c >= " " and c not in "\ufffe\uffff"))


def _add(made: DocxDocument, block: Block, photographs: Photographs) -> None:
    match block:
        case Heading():
            made.add_heading(_legal(block.text), 1)
        case Paragraph():
            _runs(made, block.runs)
        case Bullets():
            for item in block.items:
                _runs(made, item, "List Bullet")
        case TableBlock():
            _table(made, block)
        case Drawing():
            made.add_picture(io.BytesIO(as_png(block.svg, _PICTURE_PX)), width=Mm(_WIDE_MM))
            _describe(made, block.alt)
            if block.caption:
                made.add_paragraph(_legal(block.caption), style="Caption")
        case PhotoBlock():
            if content := photographs.get(block.version):
                made.add_picture(io.BytesIO(content), width=Mm(_WIDE_MM))
                _describe(made, block.alt)
            made.add_paragraph(_legal(block.said or block.alt), style="Caption")


def _runs(made: DocxDocument, runs: Sequence[Run], style: str | None = None) -> None:
    paragraph = made.add_paragraph(style=style)
    for run in runs:
        added = paragraph.add_run(_legal(run.text))
        if run.figure:
            added.bold = True
            added.font.color.rgb = _GRADES.get(run.grade, _PREDICTED) if run.grade else None


def _describe(made: DocxDocument, alt: str) -> None:
    """Say what the picture added last shows."""
    shape = made.inline_shapes[len(made.inline_shapes) - 1]
    shape._inline.docPr.set("descr", _legal(alt))


def _table(made: DocxDocument, block: TableBlock) -> None:
    made.add_paragraph(_legal(block.caption), style="Caption")
    table = made.add_table(rows=1 + len(block.rows), cols=len(block.head), style="Light List")
    for j, name in enumerate(block.head):
        table.rows[0].cells[j].text = _legal(name)
    for i, row in enumerate(block.rows, 1):
        cells = table.rows[i].cells
        for j, cell in enumerate(row):
            cells[j].text = _legal(cell.text)
            if j in block.numbers:
                cells[j].paragraphs[0].alignment = WD_ALIGN_PARAGRAPH.RIGHT

"""XLSX workbooks written row by row: headings stay in sight, numbers are numbers, text is text."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from xlsxwriter import Workbook

from maple_rook.formats.csv_table import Cell

XLSX_TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_WIDEST, _NARROWEST = 42, 9


@dataclass(frozen=True)
class BookSheet:
    """One sheet: its name, headings, and rows that are asked for once."""

    name: str
    headings: Sequence[str]
    rows: Iterable[Sequence[Cell]]


def write_workbook(path: Path, sheets: Iterable[BookSheet]) -> None:
    """Write the sheets, holding one row at a time; text is never taken for a formula."""
    book = Workbook(
        str(path),
        {
            "constant_memory": True,
            "strings_to_formulas": False,
            "strings_to_urls": False,
            "strings_to_numbers": False,
        },
    )
    bold = book.add_format({"bold": True, "bottom": 1, "text_wrap": True, "valign": "bottom"})
    for sheet in sheets:
        page = book.add_worksheet(sheet.name)
        page.freeze_panes(1, 1)
        for column, heading in enumerate(sheet.headings):
            page.set_column(column, column, min(_WIDEST, max(_NARROWEST, len(heading) * 0.8)))
            page.write_string(0, column, heading, bold)
        for line, row in enumerate(sheet.rows, 1):
            for column, cell in enumerate(row):
                if isinstance(cell, str):
                    if cell:
                        page.write_string(line, column, cell)
                elif cell is not None and math.isfinite(cell):
                    page.write_number(line, column, cell)
    book.close()

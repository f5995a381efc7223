"""XLSX workbooks: every sheet a table; merged cells filled, formulas by their last value."""

from __future__ import annotations

import datetime as dt
import re
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from itertools import zip_longest
from pathlib import Path
from xml.etree.ElementTree import ParseError

from openpyxl import Workbook, load_workbook
from openpyxl.utils import range_boundaries
from openpyxl.utils.exceptions import InvalidFileException
from openpyxl.worksheet._read_only import ReadOnlyWorksheet

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.table import (
    MOST_CELL,
    MOST_COLUMNS,
    Table,
    TableRow,
    with_headings,
)

MOST_UNPACKED = 400_000_000
MOST_SHARED = 60_000_000
_MOST_PARTS = 2_000
_MOST_MERGED = 20_000
_EMPTY_ROWS_END = 1_000
_MERGE = re.compile(rb'<(?:\w+:)?mergeCell\s[^>]*?ref="([A-Z0-9:]+)"')
_FORMULA = re.compile(rb"<(?:\w+:)?f[\s>/]")
_OVERLAP = 200


@dataclass(frozen=True)
class _Part:
    """What a sheet's XML says that reading it row by row does not: merged ranges, formulas."""

    merged: tuple[tuple[int, int, int, int], ...]
    formulas: bool


def xlsx_tables(path: Path) -> list[Table]:
    """The sheets of a workbook that hold anything, in their order."""
    _check(path)
    with _whole_workbook(), _opened(path, data_only=True) as book:
        sheets = [
            (s.title, str(vars(s)["_worksheet_path"]).lstrip("/"))
            for s in book.worksheets
            if isinstance(s, ReadOnlyWorksheet) and s.sheet_state == "visible"
        ]
    tables = []
    for title, place in sheets:
        with _whole_workbook():
            part = _scanned(path, place)
        said = [f"{len(part.merged)} merged ranges: each cell takes the range's value"] * bool(
            part.merged
        ) + ["formulas: their last computed values are read"] * part.formulas
        found = with_headings(title, partial(_rows, path, title, part), said)
        if found:
            tables.append(found)
    return tables


def _check(path: Path) -> None:
    """Refuse what would unpack to more than memory and patience hold."""
    try:
        with zipfile.ZipFile(path) as packed:
            parts = packed.infolist()
    except zipfile.BadZipFile:
        raise InvalidValue("file", "a broken ZIP", "a whole XLSX workbook") from None
    unpacked = sum(part.file_size for part in parts)
    shared = sum(part.file_size for part in parts if "sharedStrings" in part.filename)
    if len(parts) > _MOST_PARTS or unpacked > MOST_UNPACKED or shared > MOST_SHARED:
        raise InvalidValue(
            "file",
            f"{unpacked / 1e6:.0f} MB unpacked in {len(parts)} parts",
            f"at most {MOST_UNPACKED / 1e6:.0f} MB, {MOST_SHARED / 1e6:.0f} MB of it text",
        )


def _scanned(path: Path, place: str) -> _Part:
    """One pass over a sheet's XML in pieces."""
    merged: dict[bytes, None] = {}
    formulas = False
    with zipfile.ZipFile(path) as packed, packed.open(place) as xml:
        rest = b""
        while chunk := xml.read(1_000_000):
            text = rest + chunk
            formulas = formulas or _FORMULA.search(text) is not None
            merged.update(dict.fromkeys(_MERGE.findall(text)))
            if len(merged) > _MOST_MERGED:
                raise InvalidValue("sheet", f"over {_MOST_MERGED} merged ranges", "fewer of them")
            rest = text[-_OVERLAP:]
    return _Part(tuple(_corners(ref.decode()) for ref in merged), formulas)


def _corners(ref: str) -> tuple[int, int, int, int]:
    """Left, top, right, bottom of a range such as B2:D4."""
    left, top, right, bottom = range_boundaries(ref)
    return left or 1, top or 1, right or MOST_COLUMNS, bottom or 1


def _rows(path: Path, title: str, part: _Part) -> Iterator[TableRow]:
    values = _cells(path, title, data_only=True)
    typed: Iterator[tuple[object, ...]] = (
        _cells(path, title, data_only=False) if part.formulas else iter(())
    )
    filled = _Merged(part.merged)
    empty = 0
    for line, (row, source) in enumerate(zip_longest(values, typed, fillvalue=()), 1):
        notes: dict[int, str] = {}
        if any(value is not None for value in row[MOST_COLUMNS:]):
            yield TableRow(line, [], wrong=f"has over {MOST_COLUMNS} columns")
            continue
        cells = [_text(value) for value in row[:MOST_COLUMNS]]
        for column, formula in enumerate(source[:MOST_COLUMNS]):
            if isinstance(formula, str) and formula.startswith("="):
                notes[column] = (
                    f"formula {formula[:30]}: its last value {cells[column]} is read"
                    if cells[column]
                    else f"formula {formula[:30]} without a computed value: save the workbook once"
                )
        filled.fill(line, cells, notes)
        found = TableRow(line, cells, notes)
        empty = empty + 1 if found.empty and not notes else 0
        if empty > _EMPTY_ROWS_END:
            return
        yield found


@contextmanager
def _whole_workbook() -> Iterator[None]:
    """What a broken workbook breaks is said as a person can act on it."""
    try:
        yield
    except (
        InvalidFileException,
        ParseError,
        KeyError,
        ValueError,
        OSError,
        zipfile.BadZipFile,
    ) as error:
        raise InvalidValue("file", str(error)[:60], "a whole XLSX workbook") from None


@contextmanager
def _opened(path: Path, *, data_only: bool) -> Iterator[Workbook]:
    with path.open("rb") as file:
        book = load_workbook(file, read_only=True, data_only=data_only)
        yield book
        book.close()


def _cells(path: Path, title: str, *, data_only: bool) -> Iterator[tuple[object, ...]]:
    with _whole_workbook(), _opened(path, data_only=data_only) as book:
        sheet = book[title]
        sheet.reset_dimensions()
        yield from sheet.iter_rows(values_only=True)


class _Merged:
    """Fills the cells of merged ranges with the value of their first cell."""

    def __init__(self, ranges: tuple[tuple[int, int, int, int], ...]) -> None:
        self._waiting = sorted(ranges, key=lambda r: r[1])
        self._open: list[tuple[tuple[int, int, int, int], str]] = []

    def fill(self, line: int, cells: list[str], notes: dict[int, str]) -> None:
        while self._waiting and self._waiting[0][1] <= line:
            first = self._waiting.pop(0)
            column = first[0] - 1
            self._open.append((first, cells[column] if column < len(cells) else ""))
        self._open = [(r, text) for r, text in self._open if r[3] >= line]
        for (left, top, right, _), text in self._open:
            for column in range(left - 1, min(right, MOST_COLUMNS)):
                if (line, column) == (top, left - 1) or not text:
                    continue
                cells.extend([""] * (column + 1 - len(cells)))
                cells[column] = text
                notes[column] = f"merged cell: {text[:30]}"


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.12g}"
    if isinstance(value, dt.datetime):
        at_midnight = value.time() == dt.time() and value.tzinfo is None
        return value.date().isoformat() if at_midnight else value.isoformat()
    if isinstance(value, dt.date):
        return value.isoformat()
    return str(value).strip()[:MOST_CELL]

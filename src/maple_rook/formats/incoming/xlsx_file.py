"""XLSX workbooks: every sheet a table; merged cells filled, formulas by their last value."""

from __future__ import annotations

import datetime as dt
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import partial
from itertools import zip_longest
from pathlib import Path
from xml.etree.ElementTree import ParseError  # nosec B405 - the name only
from xml.parsers import expat

from openpyxl import Workbook, load_workbook
from openpyxl.utils import get_column_letter, range_boundaries
from openpyxl.utils.exceptions import InvalidFileException
from openpyxl.worksheet._read_only import ReadOnlyWorksheet

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.blocks import tables_of
from maple_rook.formats.incoming.table import (
    MOST_CELL,
    MOST_COLUMNS,
    Table,
    TableRow,
)

MOST_UNPACKED = 400_000_000
MOST_SHARED = 60_000_000
_MOST_PARTS = 2_000
_MOST_MERGED = 20_000
_MOST_EMPTY = 1_000
_SHOWN = 12


@dataclass(frozen=True)
class _Part:
    """What a sheet's XML says that reading it row by row does not.

    Merged ranges, whether there are formulas, hidden rows and columns, the last row that is read,
    and the rows with anything in them that stand below many empty ones.
    """

    merged: tuple[tuple[int, int, int, int], ...]
    formulas: bool
    hidden_rows: tuple[int, ...]
    hidden_columns: tuple[int, ...]
    last: int
    far_below: tuple[int, ...]


def xlsx_tables(path: Path) -> list[Table]:
    """The sheets of a workbook that hold anything, in their order."""
    _check(path)
    with _whole_workbook(), _opened(path, data_only=True) as book:
        sheets = [
            (s.title, str(vars(s)["_worksheet_path"]).lstrip("/"), s.sheet_state != "visible")
            for s in book.worksheets
            if isinstance(s, ReadOnlyWorksheet)
        ]
    tables = []
    for title, place, hidden in sheets:
        with _whole_workbook():
            part = _scanned(path, place)
        rows = partial(_rows, path, title, part)
        tables += tables_of(title, rows, _noticed(part, hidden=hidden), hidden=hidden)
    return tables


def _noticed(part: _Part, *, hidden: bool) -> list[str]:
    """What a person would not see of a sheet, or not expect."""
    said = ["the workbook hides this sheet"] if hidden else []
    if part.merged:
        said.append(f"{len(part.merged)} merged ranges: each cell takes the range's value")
    if part.formulas:
        said.append("formulas: their last computed values are read")
    if part.hidden_rows:
        shown = ", ".join(str(row) for row in part.hidden_rows[:_SHOWN])
        more = len(part.hidden_rows) - _SHOWN
        rest = f" and {more} more" if more > 0 else ""
        said.append(f"hidden rows are read too: {shown}{rest}")
    if part.far_below:
        first, number = part.far_below[0], len(part.far_below)
        rows = f"{number} rows from line {first} on" if number > 1 else f"line {first}"
        said.append(f"not read, below over {_MOST_EMPTY} empty lines: {rows}")
    if part.hidden_columns:
        letters = ", ".join(get_column_letter(c) for c in part.hidden_columns[:_SHOWN])
        said.append(f"hidden columns are read too: {letters}")
    return said


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
    """One pass over a sheet's XML in pieces, by the parser: its time grows with the length alone.

    No tree is built, and a document type, which no workbook has, is refused.
    """
    merged: dict[str, None] = {}
    hidden_rows: list[int] = []
    hidden_columns: list[int] = []
    formulas = False
    far_below: list[int] = []
    row = last = 0

    def begins(name: str, attributes: dict[str, str]) -> None:
        nonlocal formulas, row, last
        local = name.rpartition(" ")[2]
        formulas = formulas or local == "f"
        if local == "row":
            row = int(attributes.get("r", row + 1))
            if _is_hidden(attributes):
                hidden_rows.append(row)
        elif local in ("v", "is", "f"):
            if row <= last + _MOST_EMPTY and not far_below:
                last = row
            elif row not in far_below[-1:]:
                far_below.append(row)
        elif local == "col" and _is_hidden(attributes):
            left, right = int(attributes["min"]), int(attributes["max"])
            hidden_columns.extend(range(left, min(right, MOST_COLUMNS) + 1))
        if local == "mergeCell":
            merged[attributes.get("ref", "")] = None
            if len(merged) > _MOST_MERGED:
                raise InvalidValue("sheet", f"over {_MOST_MERGED} merged ranges", "fewer of them")

    def refused(*_: object) -> None:
        raise InvalidValue("sheet", "a document type", "a whole XLSX workbook")

    parser = expat.ParserCreate(namespace_separator=" ")
    parser.StartElementHandler = begins
    parser.StartDoctypeDeclHandler = refused
    with zipfile.ZipFile(path) as packed, packed.open(place) as xml:
        parser.ParseFile(xml)
    return _Part(
        tuple(_corners(ref) for ref in merged),
        formulas,
        tuple(r for r in hidden_rows if r <= last),
        tuple(hidden_columns),
        last,
        tuple(far_below),
    )


def _is_hidden(attributes: dict[str, str]) -> bool:
    return attributes.get("hidden") in ("1", "true")


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
    for line, (row, source) in enumerate(zip_longest(values, typed, fillvalue=()), 1):
        if line > part.last:
            return
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
        yield TableRow(line, cells, notes)


@contextmanager
def _whole_workbook() -> Iterator[None]:
    """What a broken workbook breaks is said as a person can act on it."""
    try:
        yield
    except (
        InvalidFileException,
        ParseError,
        expat.ExpatError,
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

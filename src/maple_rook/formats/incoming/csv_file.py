"""CSV files as they come: any usual encoding, any usual separator, lines before the headings."""

from __future__ import annotations

import codecs
import csv
from collections import Counter
from collections.abc import Iterator
from functools import partial
from itertools import islice
from pathlib import Path
from typing import TextIO

from charset_normalizer import from_bytes

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.blocks import tables_of
from maple_rook.formats.incoming.table import (
    MOST_CELL,
    MOST_COLUMNS,
    Table,
    TableRow,
)

_BOMS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF32_LE, "utf-32"),
    (codecs.BOM_UTF32_BE, "utf-32"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
_SAMPLE = 200_000
_LONGEST_LINE = 1_000_000
_LONG_ENOUGH = 20_000
_SEPARATORS = ";\t,|"
_NAMES = {";": "semicolons", "\t": "tabs", ",": "commas", "|": "upright strokes"}
_USUAL = {"utf-8", "ascii", *(encoding for _, encoding in _BOMS)}
csv.field_size_limit(MOST_CELL)


def csv_tables(path: Path, name: str) -> list[Table]:
    """The tables of a CSV file."""
    encoding = _encoding(path)
    separator = _separator(path, encoding)
    said = [f"read as {encoding}, separated by {_NAMES[separator]}"]
    if encoding not in _USUAL:
        said.append("look at letters with accents in the first rows: the file is not UTF-8")
    return tables_of(name, partial(_rows, path, encoding, separator), said)


def _encoding(path: Path) -> str:
    """By its mark, else UTF-8 where that fits, else the likeliest by its letters."""
    with path.open("rb") as file:
        sample = file.read(_SAMPLE)
    for mark, encoding in _BOMS:
        if sample.startswith(mark):
            return encoding
    if b"\x00" in sample:
        raise InvalidValue("file", "bytes that are no text", "a CSV, XLSX or JSON file")
    try:
        codecs.getincrementaldecoder("utf-8")().decode(sample)
    except UnicodeDecodeError:
        best = from_bytes(sample, preemptive_behaviour=False).best()
        return best.encoding if best else "cp1252"
    return "utf-8"


def _opened(path: Path, encoding: str) -> TextIO:
    return path.open(encoding=encoding, errors="replace", newline="")


def _lines(file: TextIO) -> Iterator[str]:
    """The lines, none longer than memory should hold at once."""
    while line := file.readline(_LONGEST_LINE + 1):
        if len(line) > _LONGEST_LINE:
            raise InvalidValue("file", f"a line over {_LONGEST_LINE // 1000} kB", "shorter lines")
        yield line


def _separator(path: Path, encoding: str) -> str:
    """The one that parts the first lines into the same number of columns most often."""
    with _opened(path, encoding) as file:
        top = [line[:_LONG_ENOUGH] for line in islice(_lines(file), 60) if line.strip()]

    def steadiness(separator: str) -> tuple[int, int]:
        try:
            widths = Counter(len(row) for row in csv.reader(top, delimiter=separator) if row)
        except csv.Error:
            return 0, 0
        width, times = max(
            widths.items(), key=lambda item: (item[1] * (item[0] > 1), item[0]), default=(1, 0)
        )
        return (times if width > 1 else 0), width

    return max(_SEPARATORS, key=steadiness)


def _rows(path: Path, encoding: str, separator: str) -> Iterator[TableRow]:
    with _opened(path, encoding) as file:
        reader = csv.reader(_lines(file), delimiter=separator)
        while True:
            line = reader.line_num + 1
            try:
                cells = next(reader)
            except StopIteration:
                return
            except csv.Error as error:
                yield TableRow(line, [], wrong=f"cannot be split into cells ({error})")
                continue
            yield _row(line, cells)


def _row(line: int, cells: list[str]) -> TableRow:
    cells = [cell.strip().removeprefix("\ufeff") for cell in cells]
    if len(cells) > MOST_COLUMNS and any(cells[MOST_COLUMNS:]):
        return TableRow(
            line, [], wrong=f"has {len(cells)} columns; at most {MOST_COLUMNS} are read"
        )
    if any("\ufffd" in cell or "\x00" in cell for cell in cells):
        return TableRow(line, cells, wrong="has characters that the file's encoding does not know")
    return TableRow(line, cells[:MOST_COLUMNS])

"""A file from outside looked into, and its rows written down plainly, in a separate process."""

from __future__ import annotations

import json
from collections.abc import Iterator
from itertools import islice
from pathlib import Path
from typing import NamedTuple

from maple_rook.formats.incoming.opening import open_tables
from maple_rook.formats.incoming.table import SAMPLE, TableRow


class Head(NamedTuple):
    """A table as its first rows tell it."""

    name: str
    headings: list[str]
    said: list[str]
    first: list[TableRow]
    hidden: bool


def heads(path: Path, name: str) -> list[Head]:
    """The tables of a file, each with its first rows."""
    return [
        Head(t.name, t.headings, t.said, list(islice(t.rows(), SAMPLE)), t.hidden)
        for t in open_tables(path, name)
    ]


def write_rows(path: Path, name: str, number: int, into: Path) -> None:
    """Every row of one of the tables as JSON, one a line."""
    unfinished = into.with_suffix(".part")
    with unfinished.open("w", encoding="utf-8") as file:
        for row in open_tables(path, name)[number].rows():
            told = [row.line, row.cells, list(row.notes.items()), row.wrong]
            file.write(json.dumps(told, ensure_ascii=False) + "\n")
    unfinished.rename(into)


def read_rows(written: Path) -> Iterator[TableRow]:
    """The rows that :func:`write_rows` wrote."""
    with written.open(encoding="utf-8") as file:
        for said in file:
            line, cells, notes, wrong = json.loads(said)
            yield TableRow(line, cells, dict(notes), wrong)

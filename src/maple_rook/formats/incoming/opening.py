"""One door for files from outside: what kind of file it is, and the tables in it."""

from __future__ import annotations

from pathlib import Path

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.csv_file import csv_tables
from maple_rook.formats.incoming.json_file import json_tables
from maple_rook.formats.incoming.table import MOST_BYTES, Table
from maple_rook.formats.incoming.xlsx_file import xlsx_tables

_OLD_WORKBOOK = b"\xd0\xcf\x11\xe0"


def open_tables(path: Path, name: str) -> list[Table]:
    """The tables of a CSV, XLSX or JSON file, known by its first bytes and not by its name."""
    size = path.stat().st_size
    if size > MOST_BYTES:
        raise InvalidValue("file", f"{size / 1e6:.0f} MB", f"at most {MOST_BYTES / 1e6:.0f} MB")
    with path.open("rb") as file:
        start = file.read(1_000)
    first = start.removeprefix(b"\xef\xbb\xbf").lstrip()[:1]
    if start.startswith(_OLD_WORKBOOK):
        raise InvalidValue("file", "an old binary workbook", "CSV, XLSX or JSON: save it as XLSX")
    if start.startswith(b"PK"):
        tables = xlsx_tables(path)
    elif first in (b"{", b"["):
        tables = json_tables(path, name)
    else:
        tables = csv_tables(path, name)
    if not tables:
        raise InvalidValue("file", "nothing", "a table with headings and at least one row")
    return tables

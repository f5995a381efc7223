"""The record as tables that can be read in again: the same columns in CSV, XLSX and JSON.

A round trip keeps every model, claim, piece, reading (struck out ones with their reason), traced
edge and edge trial. The one JSON document also has the rows of other tables: grades, foods, what
was seen, photos, plans, repairs, customers. Saved comparisons, stored predictions, public pages and
the log of changes are in the archive only.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

from maple_rook.formats.csv_table import Cell, csv_lines
from maple_rook.formats.incoming.fields import WHOLE, Kind

FORMAT, VERSION = "maple-rook-shop", 1
SCHEMA_DRAFT = "https://json-schema.org/draft/2020-12/schema"
Row = Mapping[str, Any]


@dataclass(frozen=True)
class RecordColumn:
    """A column of a record table; ``lacking`` where a row may have none."""

    name: str
    type: Literal["string", "number", "boolean"]
    about: str
    lacking: bool = False


def _s(name: str, about: str, *, lacking: bool = False) -> RecordColumn:
    return RecordColumn(name, "string", about, lacking)


def _n(name: str, about: str, *, lacking: bool = False) -> RecordColumn:
    return RecordColumn(name, "number", about, lacking)


def _b(name: str, about: str) -> RecordColumn:
    return RecordColumn(name, "boolean", about)


_MODEL = (
    _s("maker", "who makes it"),
    _s("line", "the maker's line"),
    _s("knife_type", "type by its key, such as gyuto"),
    _n("nominal_mm", "nominal size, mm"),
)
_TAG = _s("tag", "the tag of the piece")
_KEY = _s("key", "UUID; the same key is kept once, however often it is imported")
_WHEN = _s("taken_at", "when, ISO 8601 in UTC")
_PERSON = _s("person", "who")
_SHEET = (
    _s("round", "when its sheet was begun, ISO 8601"),
    _s("signed", "when its sheet was signed off", lacking=True),
)

RECORD_TABLES: dict[Kind, tuple[RecordColumn, ...]] = {
    Kind.MODELS: (
        *_MODEL,
        _s("grind", "grind by its key"),
        _s("construction", "how the blade is built"),
        _s("finish", "finish of the blade"),
        _s("handle", "handle"),
        _b("even_machine_edge", "whether the edge left the factory ground even by machine"),
        _s("steel", "designation of the grade at the edge", lacking=True),
        _n("price", "price in the shop's currency", lacking=True),
        _s("currency", "that currency, by its ISO 4217 code where it has one", lacking=True),
        _s("gtin", "number of its bar code (GTIN), where it has one"),
    ),
    Kind.CLAIMS: (
        *_MODEL,
        _s("quantity", "what is claimed, by its key"),
        _s("printed", "as printed, with its unit"),
    ),
    Kind.PIECES: (_TAG, *_MODEL, _s("condition", "new or used"), _s("note", "note of the bench")),
    Kind.READINGS: (
        _TAG,
        _KEY,
        _s("quantity", "what was read, by its key"),
        _s("typed", "as typed"),
        _s("known_as", "measured, estimated or told; follows from what was typed"),
        _s("unit", "unit of what was typed"),
        _n("si_value", "value in the base unit"),
        _s("si_unit", "mm, g, N, dps (degrees per side), HRC, %, of 10"),
        _n("u", "standard uncertainty of one reading, its own or its instrument's, base unit"),
        _WHEN,
        *_SHEET,
        _PERSON,
        _s("instrument", "what it was read with, of what is measured", lacking=True),
        _s("block", "reference block, of a reading on one", lacking=True),
        _s("method", "how it was taken"),
        _n("along_mm", "place from the heel, mm", lacking=True),
        _n("above_edge_mm", "height above the edge, mm", lacking=True),
        _s("place", "place by name, or distance from heel or tip"),
        _s("note", "note of the bench"),
        _b("unusual", "outside what is typical of the type, and confirmed"),
        _s("struck", "why it no longer counts", lacking=True),
    ),
    Kind.PROFILES: (
        _TAG,
        _KEY,
        _s("source", "stations, columns, svg or photo"),
        _WHEN,
        *_SHEET,
        _PERSON,
        _n("x_mm", "from the heel along the board, mm"),
        _n("y_mm", "above the board, mm"),
    ),
    Kind.TRIALS: (
        _KEY,
        _TAG,
        _s("trial_kind", "card test, line-cut series, cuts to failure or kitchen log"),
        _s("source", "where its points came from"),
        _WHEN,
        _PERSON,
        _s("instrument", "what it was tried with", lacking=True),
        _s("note", "note"),
        _s("protocol", "how it was done, as JSON"),
        _s("set_aside", "why it is set aside", lacking=True),
        _n("x", "cycle, cuts made before, run or day"),
        _n("value", "what was read there: mm, gf or cuts", lacking=True),
        _s("event", "what was done, of a kitchen log", lacking=True),
    ),
}


def cells(kind: Kind, row: Row) -> list[Cell]:
    """A row as cells of a table; yes or nothing for a boolean."""
    found: list[Cell] = []
    for column in RECORD_TABLES[kind]:
        value = row[column.name]
        found.append("yes" if value is True else None if value is False else value)
    return found


def record_csv(kind: Kind, rows: Iterable[Row]) -> Iterator[str]:
    """One table as CSV, a line at a time."""
    return csv_lines([c.name for c in RECORD_TABLES[kind]], (cells(kind, row) for row in rows))


def shop_json(shop: Row, tables: Iterable[tuple[Kind, Iterable[Row]]]) -> Iterator[str]:
    """All tables as one JSON document, a row at a time; :func:`shop_schema` describes it."""
    head = {"format": FORMAT, "version": VERSION, "shop": dict(shop)}
    yield json.dumps(head, ensure_ascii=False)[:-1]
    for kind, rows in tables:
        yield f', "{kind.value}": ['
        for i, row in enumerate(rows):
            yield f"{',' if i else ''}\n{json.dumps(dict(row), ensure_ascii=False)}"
        yield "]"
    yield "}\n"


_OF_ANY_TABLE: dict[str, Any] = {
    "type": "array",
    "items": {
        "type": "object",
        "properties": {
            "table": {"type": "string", "description": "table of the record"},
            "row": {"type": "object", "description": "its columns; pictures in base64, in parts"},
        },
        "required": ["table", "row"],
        "additionalProperties": False,
    },
}


def shop_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of :func:`shop_json`."""
    return {
        "$schema": SCHEMA_DRAFT,
        "title": "A shop's record",
        "description": "Models, claims, pieces, readings, traced edges, edge trials; then rows of"
        " every other table, which point at others by what names them.",
        "type": "object",
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "shop": {
                "type": "object",
                "properties": {k: {"type": "string"} for k in ("name", "place", "currency")},
                "required": ["name", "place", "currency"],
                "additionalProperties": False,
            },
            **{kind.value: _array(columns) for kind, columns in RECORD_TABLES.items()},
            **{kind.value: _OF_ANY_TABLE for kind in WHOLE},
        },
        "required": [
            *("format", "version", "shop"),
            *(kind.value for kind in (*RECORD_TABLES, *WHOLE)),
        ],
        "additionalProperties": False,
    }


def _array(columns: tuple[RecordColumn, ...]) -> dict[str, Any]:
    return {
        "type": "array",
        "items": {
            "type": "object",
            "properties": {
                c.name: {"type": [c.type, "null"] if c.lacking else c.type, "description": c.about}
                for c in columns
            },
            "required": [c.name for c in columns],
            "additionalProperties": False,
        },
    }

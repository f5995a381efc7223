"""JSON files: a list of flat objects, or an object with such lists by name; read as a stream."""

from __future__ import annotations

import json
from collections.abc import Iterator
from decimal import Decimal
from functools import partial
from pathlib import Path
from typing import Any

import ijson
from ijson.common import ObjectBuilder

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.table import (
    MOST_CELL,
    MOST_COLUMNS,
    Table,
    TableRow,
    limited,
)

_MOST_TABLES = 20
_MOST_DIGITS = 30
_VALUES = ("string", "number", "boolean", "null", "integer", "double")
Named = tuple[str, int, list[tuple[str, str]], str]


def json_tables(path: Path, name: str) -> list[Table]:
    """Every list of objects in the file, by its name; headings are the names the objects use."""
    headings: dict[str, dict[str, None]] = {}
    for table, _, cells, _ in _objects(path):
        headings.setdefault(table, {}).update(dict.fromkeys(key for key, _ in cells))
        if len(headings) > _MOST_TABLES or len(headings[table]) > MOST_COLUMNS:
            raise InvalidValue("file", f"{len(headings[table])} names in {table or name}",
                               f"at most {MOST_COLUMNS} names, {_MOST_TABLES} lists")  # fmt: skip
    if not headings:
        raise InvalidValue("file", "no list of objects", "a list of objects, one a row")
    return [
        Table(table or name, list(names), partial(_rows, path, table, list(names)))
        for table, names in headings.items()
    ]


def _rows(path: Path, table: str, headings: list[str]) -> Iterator[TableRow]:
    column = {name: i for i, name in enumerate(headings)}

    def rows() -> Iterator[TableRow]:
        for of, number, named, wrong in _objects(path):
            if of != table:
                continue
            cells = [""] * len(headings)
            for key, text in named:
                cells[column[key]] = text
            yield TableRow(number, cells, wrong=wrong)

    return limited(row for row in rows() if not row.empty)


def _objects(path: Path) -> Iterator[Named]:
    """Name of the list, place in it from 1, names with their values as text, and what is wrong."""
    counts: dict[str, int] = {}
    try:
        with path.open("rb") as file:
            events = ijson.parse(file)
            for prefix, event, _ in events:
                if event != "start_map" or not (prefix == "item" or prefix.endswith(".item")):
                    continue
                table = prefix.removesuffix("item").rstrip(".")
                counts[table] = counts.get(table, 0) + 1
                yield (table, counts[table], *_members(events))
    except (ijson.JSONError, UnicodeDecodeError, ValueError) as error:
        place = f"after {sum(counts.values())} objects: {error}"
        raise InvalidValue(
            "file", f"no JSON ({place[:90]})", "JSON by RFC 8259; NaN is none"
        ) from None


def _members(events: Iterator[tuple[str, str, Any]]) -> tuple[list[tuple[str, str]], str]:
    found: dict[str, str] = {}
    wrong = key = ""
    for _, event, value in events:
        if event == "end_map":
            break
        if event == "map_key":
            key = value
            if key in found:
                wrong = f"the name {key[:40]} stands twice in it"
        elif event in _VALUES:
            found[key] = _text(value)
        else:
            found[key] = _nested(events, event, value)
    return list(found.items()), wrong


def _nested(events: Iterator[tuple[str, str, Any]], event: str, value: object) -> str:
    """A list or object inside a row, as its own JSON text."""
    builder = ObjectBuilder()
    builder.event(event, value)
    depth = 1
    while depth:
        _, event, value = next(events)
        depth += event.startswith("start_") - event.startswith("end_")
        builder.event(event, value)
    return json.dumps(builder.value, default=float)[:MOST_CELL]


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value:f}" if abs(value.adjusted()) < _MOST_DIGITS else str(value)
    return str(value).strip()[:MOST_CELL]

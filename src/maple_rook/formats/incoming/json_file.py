"""JSON files: a list of objects, lists of them by name, or one object; read as a stream.

What is nested in an object is read under both names, as ``spine heel`` of ``{"spine": {"heel":
2.1}}``; a value with its unit, ``{"value": 186, "unit": "g"}``, is one cell.
"""

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
from maple_rook.formats.incoming.headings import is_known
from maple_rook.formats.incoming.table import MOST_CELL, MOST_COLUMNS, Table, TableRow, limited

_MOST_TABLES = 20
_MOST_DIGITS = 30
_VALUES = ("string", "number", "boolean", "null", "integer", "double")
_DEEPEST = 30
_TOO_DEEP = "lists within lists within lists", f"at most {_DEEPEST} of them"
_AS_JSON = ("protocol", "note", "row")
Named = tuple[str, int, list[tuple[str, str]], str]
Events = Iterator[tuple[str, Any]]


def json_tables(path: Path, name: str) -> list[Table]:
    """Every list of objects in the file, by its name; headings are the names the objects use."""
    headings: dict[str, dict[str, None]] = {}
    for table, _, cells, _ in _objects(path):
        headings.setdefault(table, {}).update(dict.fromkeys(key for key, _ in cells))
        if len(headings) > _MOST_TABLES or len(headings[table]) > MOST_COLUMNS:
            raise InvalidValue(
                "file",
                f"{len(headings[table])} names in {table or name}",
                f"at most {MOST_COLUMNS} names, {_MOST_TABLES} lists",
            )
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
    done = 0
    try:
        with path.open("rb") as file:
            for found in _lists(ijson.basic_parse(file)):
                done += 1
                yield found
    except (ijson.JSONError, UnicodeDecodeError, ValueError) as error:
        said = f"no JSON (after {done} objects: {error})"[:100]
        raise InvalidValue("file", said, "JSON by RFC 8259; NaN is none") from None


def _lists(events: Events) -> Iterator[Named]:
    """The objects of the one list, of every list that an object names, or the one object itself."""
    event, _ = next(events)
    if event == "start_array":
        yield from _list(events, "")
    elif event == "start_map":
        yield from _named_lists(events, 0)


def _named_lists(events: Events, depth: int) -> Iterator[Named]:
    """The lists of an object by their names; an object that has none is a row itself."""
    if depth > _DEEPEST:
        raise InvalidValue("file", *_TOO_DEEP)
    alone: dict[str, str] = {}
    key, lists = "", 0
    for event, value in events:
        if event == "end_map":
            break
        if event == "map_key":
            key = value
        elif event == "start_array":
            lists += 1
            yield from _list(events, key)
        elif event == "start_map":
            for found in _named_lists(events, depth + 1):
                lists += 1
                yield found
        elif event in _VALUES:
            alone[key] = _text(value)
    if depth == 0 and not lists and len(alone) > 1:
        yield "", 1, list(alone.items()), ""


def _list(events: Events, table: str) -> Iterator[Named]:
    number = 0
    for event, value in events:
        if event == "end_array":
            return
        if event == "start_map":
            number += 1
            yield (table, number, *_members(events))
        elif event == "start_array":
            _whole(events, event, value)


def _members(events: Events) -> tuple[list[tuple[str, str]], str]:
    found: dict[str, str] = {}
    wrong = key = ""
    for event, value in events:
        if event == "end_map":
            break
        if event == "map_key":
            key = value
            if key in found:
                wrong = f"the name {key[:40]} occurs twice in it"
        elif event in _VALUES:
            found[key] = _text(value)
        else:
            nested = _whole(events, event, value)
            found |= _unfolded(key, nested)
    return list(found.items()), wrong


def _unfolded(key: str, nested: object) -> dict[str, str]:
    """Cells of what is nested under a name: its own names after it, or all of it as JSON."""
    if not isinstance(nested, dict) or is_known(key) in _AS_JSON:
        return {key: json.dumps(nested, default=float)[:MOST_CELL]}
    by_name = {str(name).casefold(): value for name, value in nested.items()}
    if by_name.keys() == {"value", "unit"}:
        return {key: f"{_text(by_name['value'])} {_text(by_name['unit'])}".strip()}
    found: dict[str, str] = {}
    for name, value in nested.items():
        under = f"{key} {name}"
        found |= {under: _text(value)} if _is_plain(value) else _unfolded(under, value)
    return found


def _is_plain(value: object) -> bool:
    return not isinstance(value, dict | list)


def _whole(events: Events, event: str, value: object) -> object:
    """A list or object with all that is in it, once its start was read."""
    builder = ObjectBuilder()
    builder.event(event, value)
    depth = 1
    while depth:
        event, value = next(events)
        depth += event.startswith("start_") - event.startswith("end_")
        if depth > _DEEPEST:
            raise InvalidValue("file", *_TOO_DEEP)
        builder.event(event, value)
    return builder.value


def _text(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value:f}" if abs(value.adjusted()) < _MOST_DIGITS else str(value)
    return str(value).strip()[:MOST_CELL]

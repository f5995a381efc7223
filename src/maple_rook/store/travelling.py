"""Rows that travel between shops as JSON: each named by what names it anywhere, not by a number.

A row's own number means nothing elsewhere, so a column that points at another row holds that row's
natural key: a piece's tag, a sheet's piece and when it was begun, the key a reading was made with.
What is here already, by its natural key, is left as it is.
"""

from __future__ import annotations

import base64
import json
from collections.abc import Iterator
from typing import Any

from sqlalchemy import LargeBinary, Table, and_, insert, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.store.archive import plain_value, reader
from maple_rook.store.picture_store import PictureStore, from_bucket
from maple_rook.store.tables import Base

BASICS = ("steels", "foods", "instruments", "customers", "wishes", "workshop_sets")
"""What a shop has before any knife; it is imported before them."""
REST = (
    *("sheets", "photos", "measuring_photos", "photo_measurements", "observations", "photographs"),
    *("upkeep_plans", "upkeep_plan_marks", "upkeep_log", "upkeep_voids"),
    *("work_orders", "repairs", "work_events", "cut_sessions", "cuts", "cut_marks"),
)
"""What hangs on pieces and their sheets, each after what it points at."""
_BY_KEY = "client_id"
_NAMED_BY: dict[str, tuple[str, ...]] = {
    "people": ("name",),
    "makers": ("name",),
    "steels": ("designation",),
    "foods": ("key",),
    "instruments": ("name",),
    "customers": ("label", "recorded_at"),
    "wishes": ("label", "recorded_at"),
    "workshop_sets": ("recorded_at",),
    "knife_models": ("maker_id", "line", "knife_type", "nominal_mm"),
    "pieces": ("tag",),
    "sheets": ("piece_id", "started_at"),
    "upkeep_plan_marks": ("plan_id", "recorded_at"),
    "upkeep_voids": ("done_id",),
    "repairs": ("order_id", "place"),
    "cut_marks": ("cut_id", "recorded_at"),
}
_LEFT_OUT = {"instruments": ("address",)}
"""Where an instrument answers is another matter in another shop."""
_COMPLETED = {
    "sheets": ("finished_at", "set_aside"),
    "instruments": ("serial", "calibration_due"),
}
PART = 120_000
"""Characters of a picture's base64 in one row; longer ones come in several."""
Row = dict[str, Any]


def _table(name: str) -> Table:
    return Base.metadata.tables[name]


def _named_by(table: Table) -> tuple[str, ...]:
    return _NAMED_BY.get(table.name) or (_BY_KEY,)


def _points_at(table: Table, column: str) -> Table | None:
    keys = table.c[column].foreign_keys
    return next(iter(keys)).column.table if keys else None


def _columns(table: Table) -> list[str]:
    left_out = _LEFT_OUT.get(table.name, ())
    return [c.name for c in table.columns if c.name != "id" and c.name not in left_out]


class Names:
    """Natural keys of rows by their numbers, and numbers by natural keys, as far as asked for."""

    def __init__(self, db: Session) -> None:
        self._db = db
        self._names: dict[tuple[str, int], Any] = {}
        self._numbers: dict[tuple[str, str], int | None] = {}

    def of(self, table: Table, number: int) -> Any:
        """The natural key of a row: a value, or a list of them."""
        known = self._names.get((table.name, number))
        if known is None:
            columns = _named_by(table)
            query = select(*(table.c[c] for c in columns)).where(_key(table) == number)
            row = self._db.execute(query).one()
            parts = [self.value(table, c, v) for c, v in zip(columns, row, strict=True)]
            known = self._names[table.name, number] = parts[0] if len(parts) == 1 else parts
        return known

    def value(self, table: Table, column: str, value: Any) -> Any:
        """A column's value as it travels."""
        target = _points_at(table, column)
        if value is None:
            return None
        if target is not None and column != "key":
            return self.of(target, value)
        if isinstance(value, bool | int | float | str | list | dict):
            return value
        return plain_value(value)

    def number(self, table: Table, name: Any) -> int | None:
        """The number of the row of a natural key; None where there is none."""
        said = (table.name, json.dumps(name, sort_keys=True))
        if self._numbers.get(said) is None:
            columns = _named_by(table)
            parts = name if len(columns) > 1 else [name]
            if not isinstance(parts, list) or len(parts) != len(columns):
                raise InvalidValue(table.name, str(name)[:60], "what names such a row")
            typed = [self.typed(table, c, v) for c, v in zip(columns, parts, strict=True)]
            if any(v is None for v in typed):
                return None
            where = and_(*(table.c[c] == v for c, v in zip(columns, typed, strict=True)))
            found = self._db.scalar(select(_key(table)).where(where).limit(1))
            if found is None:
                return None
            self._numbers[said] = found
        return self._numbers[said]

    def typed(self, table: Table, column: str, value: Any) -> Any:
        """A value that travelled, as its column has it; a natural key becomes a number."""
        target = _points_at(table, column)
        if value is None or target is None:
            if isinstance(table.c[column].type, JSONB):
                return value
            return reader(table, column)(value)
        number = self.number(target, value)
        if number is None and target.name == "people":
            number = self._somebody(str(value))
        if number is None:
            raise InvalidValue(column.removesuffix("_id"), str(value)[:60], "a row of the record")
        return number

    def _somebody(self, name: str) -> int:
        """A name that the shop does not know, entered as from elsewhere."""
        people = _table("people")
        values = {"name": name[:80], "role": "elsewhere"}
        made: int = self._db.scalar(insert(people).values(values).returning(people.c.id)) or 0
        return made


def _key(table: Table) -> Any:
    return next(iter(table.primary_key.columns))


def rows(
    db: Session, tables: tuple[str, ...], bucket: PictureStore | None = None
) -> Iterator[tuple[str, Row]]:
    """Every row of some tables as it travels, table by table; pictures in parts at the end.

    Photographs that the database does not hold are read from the ``bucket``.
    """
    names = Names(db)
    for name in tables:
        table = _table(name)
        columns = _columns(table)
        key = _key(table)
        query = select(key, *(table.c[c] for c in columns)).order_by(key)
        if name == "steels":
            query = query.where(table.c.own)
        elif name == "instruments":
            query = query.where(~table.c.stand_in)
        for _, *values in db.execute(query.execution_options(yield_per=200)).all():
            row = {c: names.value(table, c, v) for c, v in zip(columns, values, strict=True)}
            if name == "photographs" and row["content"] is None:
                row["content"] = plain_value(from_bucket(row["digest"], bucket))
            yield from _in_parts(table, row)


def _in_parts(table: Table, row: Row) -> Iterator[tuple[str, Row]]:
    picture = next((c.name for c in table.columns if isinstance(c.type, LargeBinary)), None)
    if picture is None:
        yield table.name, row
        return
    content = row.pop(picture)
    parts = [content[i : i + PART] for i in range(0, len(content), PART)] or [""]
    for i, part in enumerate(parts):
        whole = {**row, "content_of": len(parts)} if i == 0 else {}
        yield table.name, {**whole, _BY_KEY: row[_BY_KEY], "content_part": i, picture: part}


class Arrivals:
    """Writes rows that travelled into the record; the caller commits."""

    def __init__(self, db: Session, tables: tuple[str, ...]) -> None:
        self._db, self._tables = db, tables
        self._names = Names(db)
        self._picture: Row | None = None
        self._parts: list[str] = []

    def keep(self, name: str, row: Row) -> bool | None:
        """Whether a row is new, and written; one that is here already is left as it is.

        None where it is a part of a picture whose others are still to come.
        """
        if name not in self._tables:
            raise InvalidValue("table", name, ", ".join(self._tables))
        whole = self._whole(row) if "content_part" in row else row
        if whole is None:
            return None
        table = _table(name)
        strange = set(whole) - set(_columns(table))
        if strange:
            raise InvalidValue(name, ", ".join(sorted(strange)), ", ".join(_columns(table)))
        columns = _named_by(table)
        parts = [whole.get(c) for c in columns]
        if any(part is None for part in parts):
            raise InvalidValue(name, "a row without " + " and ".join(columns), "what names it")
        known = self._names.number(table, parts if len(parts) > 1 else parts[0])
        if known is not None:
            self._complete(table, known, whole)
            return False
        values = {c: self._names.typed(table, c, v) for c, v in whole.items()}
        self._db.execute(insert(table).values(values))
        return True

    def _complete(self, table: Table, known: int, whole: Row) -> None:
        """Of a row that is here, what the record does not say yet: a sheet came with its readings
        and not with how it ended, a new shop's instruments know no calibration.
        """
        columns = _COMPLETED.get(table.name, ())
        if not columns:
            return
        stands = self._db.execute(select(table).where(_key(table) == known)).mappings().one()
        given = {c: self._names.typed(table, c, whole.get(c)) for c in columns if not stands[c]}
        values = {c: v for c, v in given.items() if v}
        if values:
            self._db.execute(table.update().where(_key(table) == known).values(values))

    def _whole(self, row: Row) -> Row | None:
        """A picture's row once its last part came; None before."""
        if "content_of" in row:
            self._picture, self._parts = dict(row), []
        if self._picture is None or row.get(_BY_KEY) != self._picture.get(_BY_KEY):
            accepted = "its parts in their order"
            raise InvalidValue("picture", "a part without its beginning", accepted)
        self._parts.append(str(row.get("content", "")))
        if len(self._parts) < self._picture["content_of"]:
            return None
        whole = {k: v for k, v in self._picture.items() if not k.startswith("content_")}
        self._picture = None
        content = "".join(self._parts)
        base64.b64decode(content, validate=True)
        return {**whole, "content": content}

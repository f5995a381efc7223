"""Corrections in the record: each change with what stood before, so that it can be undone."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable
from decimal import Decimal
from typing import Any, NamedTuple

from sqlalchemy import (
    ForeignKey,
    Identity,
    String,
    Table,
    UniqueConstraint,
    delete,
    insert,
    select,
    text,
    update,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, Session, mapped_column, relationship

from maple_rook.core.errors import MapleRookError
from maple_rook.core.labelled import Labelled
from maple_rook.store.tables import Base, Person, recorded_now


class Act(Labelled):
    """What was done."""

    EDIT = "edit", "edited"
    MERGE = "merge", "merged"
    SET_ASIDE = "set_aside", "set aside"
    PUT_BACK = "put_back", "put back"
    UNDO = "undo", "undone"


class Subject(Labelled):
    """What it was done to."""

    PIECE = "piece"
    MODEL = "model"
    MAKER = "maker"
    SHEET = "sheet"


class Amendment(Base):
    """One change somebody made to what the record says, with every row it touched."""

    __tablename__ = "amendments"
    __table_args__ = (UniqueConstraint("undoes_id"),)

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    act: Mapped[str] = mapped_column(String(16))
    about: Mapped[str] = mapped_column(String(8))
    about_id: Mapped[int]
    named: Mapped[str] = mapped_column(String(200))
    reason: Mapped[str] = mapped_column(String(200), default="", server_default="")
    changes: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    undoes_id: Mapped[int | None] = mapped_column(ForeignKey("amendments.id"))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class ChangedSince(MapleRookError):
    """What would be undone was changed again; the message says what."""


class RowChange(NamedTuple):
    """A row as it was and as it is; None where it was not there, or is no more."""

    table: str
    key: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class Changes:
    """Writes rows, and writes down what they were; the caller commits."""

    def __init__(self, db: Session) -> None:
        self._db = db
        self.rows: list[RowChange] = []

    def set(self, row: Base, **values: Any) -> None:
        """Give columns of a row other values; those that are the same are left out."""
        was = {name: getattr(row, name) for name in values}
        other = {name: value for name, value in values.items() if was[name] != value}
        if not other:
            return
        for name, value in other.items():
            setattr(row, name, value)
        before = {name: _plain(was[name]) for name in other}
        after = {name: _plain(value) for name, value in other.items()}
        self.rows.append(RowChange(row.__tablename__, _key(row), before, after))

    def add(self, row: Base) -> None:
        self._db.add(row)
        self._db.flush()
        self.rows.append(RowChange(row.__tablename__, _key(row), None, _whole(row)))

    def remove(self, row: Base) -> None:
        self.rows.append(RowChange(row.__tablename__, _key(row), _whole(row), None))
        self._db.delete(row)
        self._db.flush()

    def move(self, table: Table, column: str, key: int, to: int) -> None:
        """Point one row of a table elsewhere, though it is never changed otherwise."""
        _allow_moving(self._db, table.name)
        row = select(table.c[column]).where(table.c.id == key)
        before = {column: self._db.scalar(row)}
        self._db.execute(update(table).where(table.c.id == key).values({column: to}))
        self.rows.append(RowChange(table.name, key, before, {column: to}))


def undo(db: Session, changes: list[dict[str, Any]]) -> list[RowChange]:
    """Make rows what they were, the last one first; the changes that this is.

    Raises :class:`ChangedSince` where a row is not as these changes left it.
    """
    done = []
    for change in reversed(changes):
        of = RowChange(**change)
        table = Base.metadata.tables[of.table]
        _check(db, table, of)
        _allow_moving(db, table.name)
        where = table.c.id == of.key
        if of.before is None:
            db.execute(delete(table).where(where))
        elif of.after is None:
            db.execute(insert(table).values(_typed(table, of.before)))
        else:
            db.execute(update(table).where(where).values(_typed(table, of.before)))
        done.append(RowChange(of.table, of.key, of.after, of.before))
    db.expire_all()
    return done


def _check(db: Session, table: Table, of: RowChange) -> None:
    stands = db.execute(select(table).where(table.c.id == of.key)).mappings().first()
    if (of.after is None) != (stands is None):
        raise ChangedSince(f"{_named(of.table)} {of.key} is not as this left it")
    for name, value in (of.after or {}).items():
        if stands is not None and _plain(stands[name]) != value:
            said = f"{_named(of.table)} {of.key}: {name.replace('_', ' ')} was changed again"
            raise ChangedSince(f"{said}, to {_plain(stands[name])}")


def _named(table: str) -> str:
    return table.replace("_", " ").removesuffix("s")


def _allow_moving(db: Session, table: str) -> None:
    db.execute(text("SELECT set_config('maple_rook.moving', :table, true)"), {"table": table})


def _key(row: Base) -> int:
    found: int = row.id  # type: ignore[attr-defined]
    return found


def _whole(row: Base) -> dict[str, Any]:
    return {c.key: _plain(getattr(row, c.key)) for c in row.__table__.columns}


def _plain(value: Any) -> Any:
    """A value of a column as JSON keeps it."""
    if isinstance(value, Decimal):
        return f"{value:.2f}"
    return value.isoformat() if isinstance(value, dt.date) else value


def _typed(table: Table, values: dict[str, Any]) -> dict[str, Any]:
    """Values of JSON as their columns have them."""
    read: dict[type, Callable[[Any], Any]] = {
        Decimal: Decimal,
        dt.date: dt.date.fromisoformat,
        dt.datetime: dt.datetime.fromisoformat,
    }
    found = {}
    for name, value in values.items():
        of = read.get(table.c[name].type.python_type)
        found[name] = of(value) if of is not None and value is not None else value
    return found

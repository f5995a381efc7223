"""Who changed what, from what to what."""

from __future__ import annotations

import datetime as dt
import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, String, and_, cast, or_, select
from sqlalchemy.orm import Session, joinedload

from maple_rook.formats.csv_table import csv_lines
from maple_rook.stations.people.schemas import AuditOut, AuditPage
from maple_rook.store.people_tables import AuditEntry
from maple_rook.store.tables import Person

PAGE = 100
BY_ITSELF = "the shop itself"
"""What was written by no request: founding, migrations, bringing up to date."""

_SEARCHED = (AuditEntry.named, AuditEntry.before, AuditEntry.after)


@dataclass(frozen=True)
class Asked:
    """What is looked for; nothing means everything."""

    words: str = ""
    about: str = ""
    person: str = ""
    since: dt.date | None = None
    until: dt.date | None = None

    def where(self) -> ColumnElement[bool]:
        found: list[ColumnElement[bool]] = [AuditEntry.id > 0]
        for word in self.words.split():
            found.append(
                or_(
                    *(cast(column, String).icontains(word, autoescape=True) for column in _SEARCHED)
                )
            )
        if self.about:
            found.append(AuditEntry.about == self.about)
        if self.person:
            found.append(AuditEntry.person.has(Person.name == self.person))
        if self.since:
            found.append(AuditEntry.at >= self.since)
        if self.until and self.until < dt.date.max:
            found.append(AuditEntry.at < self.until + dt.timedelta(days=1))
        return and_(*found)


def _out(row: AuditEntry) -> AuditOut:
    return AuditOut(
        id=row.id,
        at=row.at,
        person=row.person.name if row.person else BY_ITSELF,
        act=row.act,
        about=row.about,
        of=row.of,
        named=row.named,
        before=row.before,
        after=row.after,
    )


def _rows(asked: Asked, before: int | None = None) -> Any:
    query = (
        select(AuditEntry)
        .options(joinedload(AuditEntry.person))
        .where(asked.where())
        .order_by(AuditEntry.id.desc())
    )
    return query.where(AuditEntry.id < before) if before else query


def page(db: Session, asked: Asked, before: int | None) -> AuditPage:
    rows = db.scalars(_rows(asked, before).limit(PAGE + 1)).all()
    return AuditPage(
        items=[_out(row) for row in rows[:PAGE]],
        next=rows[PAGE - 1].id if len(rows) > PAGE else None,
        about=list(db.scalars(select(AuditEntry.about).distinct().order_by(AuditEntry.about))),
        people=list(db.scalars(select(Person.name).order_by(Person.name))),
    )


def table(db: Session, asked: Asked) -> Iterator[str]:
    """All that is found as CSV, row by row."""
    heads = list(AuditOut.model_fields)
    found = db.scalars(_rows(asked).execution_options(yield_per=500))
    rows = (_out(row).model_dump(mode="json") for row in found)
    return csv_lines(heads, ([_cell(row[head]) for head in heads] for row in rows))


def _cell(value: Any) -> str | float | None:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict) else value

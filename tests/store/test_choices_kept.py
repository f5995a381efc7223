"""Customers under a label, to be forgotten; comparisons that stay as they were."""

from __future__ import annotations

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.store import choices
from maple_rook.store.choice_tables import ComparisonMark, ComparisonRow, CustomerRow
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Person


@pytest.fixture
def person(db: Session) -> int:
    return db.scalars(select(Person.id).order_by(Person.id)).first() or 0


def a_comparison(db: Session, person: int, name: str) -> ComparisonRow:
    row = ComparisonRow(
        name=name, pieces=[1, 2], asked={"pieces": [1, 2]}, answered={}, person_id=person
    )
    db.add(row)
    db.flush()
    return row


def test_a_label_holds_one_job_the_newest(db: Session, person: int) -> None:
    choices.keep_customer(db, "a ferry", {"hand": "left"}, person)
    choices.keep_customer(db, "a ferry", {"hand": "right"}, person)
    rows = [row for row in choices.customers(db) if row.label == "a ferry"]
    assert [row.profile for row in rows] == [{"hand": "right"}]


def test_nothing_of_a_forgotten_customer_is_left(db: Session, person: int) -> None:
    choices.keep_customer(db, "to forget", {"hand": "left"}, person)
    row = next(row for row in choices.customers(db) if row.label == "to forget")
    choices.forget_customer(db, row.id)
    db.expire_all()
    assert db.scalar(select(CustomerRow.id).where(CustomerRow.label == "to forget")) is None
    with pytest.raises(NotFound):
        choices.forget_customer(db, row.id)


def test_customers_are_listed_by_label_and_so_many_at_most(
    db: Session, person: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    for label in ("walnut", "ash", "maple"):
        choices.keep_customer(db, label, {}, person)
    labels = [row.label for row in choices.customers(db)]
    assert labels == sorted(labels)
    monkeypatch.setattr(choices, "MOST_CUSTOMERS", len(labels))
    with pytest.raises(InvalidValue, match="at most"):
        choices.keep_customer(db, "one too many", {}, person)
    choices.keep_customer(db, "ash", {"hand": "left"}, person)


def test_the_newest_mark_of_a_comparison_says_whether_it_is_put_away(
    db: Session, person: int
) -> None:
    row = a_comparison(db, person, "two for the line")
    for away in (True, False, True):
        db.add(ComparisonMark(comparison_id=row.id, away=away, person_id=person))
        db.flush()
        assert choices.comparison(db, row.id) == (row, away)
        shown = [found.id for found, _ in choices.comparisons(db, away=False, limit=500)]
        assert (row.id in shown) == (not away)
        assert (row, away) in choices.comparisons(db, away=True, limit=500)


def test_comparisons_are_listed_newest_first_and_an_unknown_one_is_named(
    db: Session, person: int
) -> None:
    ids = [a_comparison(db, person, f"number {n}").id for n in range(3)]
    listed = [row.id for row, _ in choices.comparisons(db, away=True, limit=3)]
    assert listed == ids[::-1]
    with pytest.raises(NotFound, match="comparison"):
        choices.comparison(db, 2_000_000_000)


@pytest.mark.parametrize("table", ["comparisons", "comparison_marks"])
@pytest.mark.parametrize("change", ["UPDATE {} SET id = id", "DELETE FROM {}"])
def test_what_was_kept_of_a_day_cannot_be_changed(db: Session, table: str, change: str) -> None:
    with pytest.raises(DBAPIError, match="append-only"), db.begin_nested():
        db.execute(text(change.format(table)))

"""Customers' profiles and wishes under a label, and comparisons kept under a name."""

from __future__ import annotations

from typing import Any

from sqlalchemy import ScalarSelect, delete, false, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.errors import InvalidValue
from maple_rook.store.choice_tables import ComparisonMark, ComparisonRow, CustomerRow, WishRow
from maple_rook.store.records import NotFound

MOST_CUSTOMERS, MOST_WISHES = 200, 200


def customers(db: Session) -> list[CustomerRow]:
    """Every kept customer, by label, as the database has them now."""
    query = select(CustomerRow).order_by(CustomerRow.label)
    return list(db.scalars(query.execution_options(populate_existing=True)))


def customer(db: Session, *, label: str = "", number: int = 0) -> CustomerRow | None:
    """One of them, locked for a change."""
    which = CustomerRow.id == number if number else CustomerRow.label == label
    return db.scalars(select(CustomerRow).where(which).with_for_update()).one_or_none()


def keep_customer(db: Session, label: str, profile: dict[str, Any], person_id: int) -> None:
    """Keep a profile under a label; one kept under it before is replaced."""
    known = db.scalar(select(CustomerRow.id).where(CustomerRow.label == label))
    count = db.scalar(select(func.count()).select_from(CustomerRow)) or 0
    if known is None and count >= MOST_CUSTOMERS:
        raise InvalidValue("customers", f"{count + 1}", f"at most {MOST_CUSTOMERS}")
    values = {"label": label, "profile": profile, "person_id": person_id}
    db.execute(
        insert(CustomerRow)
        .values(**values)
        .on_conflict_do_update(index_elements=["label"], set_={**values, "recorded_at": func.now()})
    )


def forget_customer(db: Session, customer_id: int) -> None:
    """Delete a customer for good."""
    gone = db.execute(
        delete(CustomerRow).where(CustomerRow.id == customer_id).returning(CustomerRow.id)
    ).all()
    if not gone:
        raise NotFound("customer", customer_id)


def wishes(db: Session) -> list[WishRow]:
    """Every wish, the newest first."""
    return list(db.scalars(select(WishRow).order_by(WishRow.id.desc())))


def keep_wish(db: Session, label: str, profile: dict[str, Any], person_id: int) -> None:
    """Keep a wish beside those that are there."""
    count = db.scalar(select(func.count()).select_from(WishRow)) or 0
    if count >= MOST_WISHES:
        raise InvalidValue("wishes", f"{count + 1}", f"at most {MOST_WISHES}")
    db.add(WishRow(label=label, profile=profile, person_id=person_id))


def forget_wish(db: Session, wish_id: int) -> None:
    """Delete a wish for good."""
    gone = db.execute(delete(WishRow).where(WishRow.id == wish_id).returning(WishRow.id)).all()
    if not gone:
        raise NotFound("wish", wish_id)


def _away() -> ScalarSelect[bool]:
    """Whether the newest mark of a comparison puts it away."""
    return (
        select(ComparisonMark.away)
        .where(ComparisonMark.comparison_id == ComparisonRow.id)
        .order_by(ComparisonMark.id.desc())
        .limit(1)
        .correlate(ComparisonRow)
        .scalar_subquery()
    )


def comparisons(db: Session, *, away: bool, limit: int) -> list[tuple[ComparisonRow, bool]]:
    """Saved comparisons, newest first, and whether each is put away; those only if asked for."""
    gone = func.coalesce(_away(), false())
    query = select(ComparisonRow, gone).options(joinedload(ComparisonRow.person))
    if not away:
        query = query.where(gone.is_(False))
    rows = db.execute(query.order_by(ComparisonRow.id.desc()).limit(limit))
    return [(row, bool(put)) for row, put in rows]


def comparison(db: Session, comparison_id: int) -> tuple[ComparisonRow, bool]:
    """A saved comparison, and whether it is put away."""
    gone = func.coalesce(_away(), false())
    found = db.execute(select(ComparisonRow, gone).where(ComparisonRow.id == comparison_id)).first()
    if found is None:
        raise NotFound("comparison", comparison_id)
    return found[0], bool(found[1])

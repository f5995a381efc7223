"""Tables of customers' profiles, of their wishes and of saved comparisons."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import ForeignKey, Identity, String
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, recorded_now


class CustomerRow(Base):
    """A profile under a label, and nothing else of the person; it can be changed and forgotten."""

    __tablename__ = "customers"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    label: Mapped[str] = mapped_column(String(60), unique=True)
    profile: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class WishRow(Base):
    """A customer for whom nothing suited, waiting for a knife that does; it can be forgotten."""

    __tablename__ = "wishes"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    label: Mapped[str] = mapped_column(String(60))
    profile: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class ComparisonRow(Base):
    """A Board kept under a name with the numbers of its day; append-only.

    ``asked`` is what was laid on the Board and for whom, ``answered`` what it then showed.
    """

    __tablename__ = "comparisons"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    pieces: Mapped[list[int]] = mapped_column(JSONB)
    asked: Mapped[dict[str, Any]]
    answered: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class ComparisonMark(Base):
    """A comparison archived, or restored; the newest stands."""

    __tablename__ = "comparison_marks"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    comparison_id: Mapped[int] = mapped_column(ForeignKey("comparisons.id"), index=True)
    away: Mapped[bool]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

"""Tasks of the queue: who asked for them, how far they are, what they found."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Identity, Index, String, Text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, recorded_now


class Task(Base):
    """One task of the queue; nobody asked for what the shop began of its own accord."""

    __tablename__ = "tasks"
    __table_args__ = (
        CheckConstraint(
            "state IN ('waiting', 'running', 'done', 'stopped', 'failed')", name="state"
        ),
        Index("ix_tasks_kind", "kind", "id"),
    )

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    kind: Mapped[str] = mapped_column(String(20))
    state: Mapped[str] = mapped_column(String(12), default="waiting")
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    cancelled: Mapped[bool] = mapped_column(default=False)
    problem: Mapped[str] = mapped_column(Text, default="")
    found: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    ended_at: Mapped[dt.datetime | None]
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person | None] = relationship()

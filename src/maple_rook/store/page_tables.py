"""Pages that the shop writes and publishes: the draft that is worked on, and what was published."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Identity, String, Text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, recorded_now


class PageDraft(Base):
    """A page as its author works on it; ``content`` is what was chosen and written, by kind.

    The ``address`` is given once and stays, whatever the title becomes.
    """

    __tablename__ = "page_drafts"
    __table_args__ = (CheckConstraint("kind IN ('review', 'comparison', 'range')", name="kind"),)

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    kind: Mapped[str] = mapped_column(String(12))
    title: Mapped[str] = mapped_column(String(160))
    address: Mapped[str] = mapped_column(String(80), unique=True)
    content: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    changed_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class PublishedPage(Base):
    """What stands at the address of a draft; the newest row counts, and nothing is changed.

    ``document`` is the page as of its day; without one the page is withdrawn, and ``reason`` may
    say why.
    """

    __tablename__ = "published_pages"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    draft_id: Mapped[int] = mapped_column(ForeignKey("page_drafts.id"), index=True)
    document: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    reason: Mapped[str] = mapped_column(String(200), default="", server_default="")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    draft: Mapped[PageDraft] = relationship()
    person: Mapped[Person] = relationship()


class ScoreScale(Base):
    """A scale on which the shop scores knives, and by which criteria; a retired one is kept."""

    __tablename__ = "score_scales"
    __table_args__ = (CheckConstraint("highest BETWEEN 2 AND 100", name="highest"),)

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    highest: Mapped[int]
    criteria: Mapped[str] = mapped_column(Text)
    retired: Mapped[bool] = mapped_column(default=False, server_default="false")

"""Tables of cut trials; all append-only."""

from __future__ import annotations

import datetime as dt
import uuid

from sqlalchemy import ForeignKey, Identity, String, Text, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Instrument, Person, Piece, recorded_now


class CutSession(Base):
    """Cuts made in one go: several knives, several foods, the edges in one state.

    ``given`` is the text the cuts were read from, where they came from one.
    """

    __tablename__ = "cut_sessions"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    source: Mapped[str] = mapped_column(String(12))
    edge: Mapped[str] = mapped_column(String(20))
    given: Mapped[str] = mapped_column(Text, default="")
    note: Mapped[str] = mapped_column(String(400), default="")
    started_at: Mapped[dt.datetime]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class CutRow(Base):
    """One cut: force against depth, or its peak alone where no depth was read."""

    __tablename__ = "cuts"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    session_id: Mapped[int] = mapped_column(ForeignKey("cut_sessions.id"), index=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    food: Mapped[str] = mapped_column(String(40))
    stroke: Mapped[str] = mapped_column(String(12))
    lot: Mapped[str] = mapped_column(String(80), default="")
    height_mm: Mapped[float | None]
    width_mm: Mapped[float | None]
    depth_mm: Mapped[list[float]] = mapped_column(JSONB)
    force_n: Mapped[list[float]] = mapped_column(JSONB)
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instruments.id"))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    piece: Mapped[Piece] = relationship()
    instrument: Mapped[Instrument | None] = relationship()
    session: Mapped[CutSession] = relationship()


class CutMark(Base):
    """A cut set aside, and why; an empty reason makes it count again. The newest stands."""

    __tablename__ = "cut_marks"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    cut_id: Mapped[int] = mapped_column(ForeignKey("cuts.id"), index=True)
    reason: Mapped[str] = mapped_column(String(200))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

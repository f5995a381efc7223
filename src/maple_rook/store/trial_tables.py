"""Tables of edge trials, coefficients and stored predictions; all append-only."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, Index, String, Text, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Instrument, Person, Piece, recorded_now


class TrialRow(Base):
    """One edge trial of one piece; protocol, points and marks are rows of their own.

    ``given`` is the text the points were read from, where they came from one.
    """

    __tablename__ = "trials"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    source: Mapped[str] = mapped_column(String(12))
    given: Mapped[str] = mapped_column(Text, default="")
    note: Mapped[str] = mapped_column(String(400), default="")
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instruments.id"))
    started_at: Mapped[dt.datetime]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    piece: Mapped[Piece] = relationship()
    instrument: Mapped[Instrument | None] = relationship()
    person: Mapped[Person] = relationship()


class TrialPoint(Base):
    """A cycle, a cut or a day of a trial; the newest of each x stands.

    ``value`` is what was read, ``event`` what was done; neither withdraws the point.
    """

    __tablename__ = "trial_points"
    __table_args__ = (
        CheckConstraint("x = x AND abs(x) < 1e6", name="finite_x"),
        CheckConstraint("value = value AND abs(value) < 1e6", name="finite_value"),
        Index("ix_trial_points_trial_x", "trial_id", "x"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trials.id"))
    x: Mapped[float]
    value: Mapped[float | None]
    event: Mapped[str] = mapped_column(String(12), default="")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class TrialProtocol(Base):
    """How a trial was done; the newest stands."""

    __tablename__ = "trial_protocols"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trials.id"), index=True)
    protocol: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class TrialMark(Base):
    """A trial set aside, and why; an empty reason makes it count again. The newest stands."""

    __tablename__ = "trial_marks"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    trial_id: Mapped[int] = mapped_column(ForeignKey("trials.id"), index=True)
    reason: Mapped[str] = mapped_column(String(200))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class CoefficientSet(Base):
    """A version of the shop's coefficients: what differs from the published. The newest stands."""

    __tablename__ = "coefficient_sets"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    changes: Mapped[dict[str, float]]
    note: Mapped[str] = mapped_column(String(200), default="")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class StoredPrediction(Base):
    """Predictions as they were made once, with all it takes to make them again.

    ``made_with`` holds blade, kitchen, foods, life model and draws; ``cards`` the version of each
    model; ``results`` central value and limits by prediction.
    """

    __tablename__ = "stored_predictions"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    trial_id: Mapped[int | None] = mapped_column(ForeignKey("trials.id"))
    coefficients_id: Mapped[int | None] = mapped_column(ForeignKey("coefficient_sets.id"))
    basis: Mapped[str] = mapped_column(String(12))
    note: Mapped[str] = mapped_column(String(200), default="")
    made_with: Mapped[dict[str, Any]]
    cards: Mapped[dict[str, str]] = mapped_column(JSONB)
    results: Mapped[dict[str, list[float]]] = mapped_column(JSONB)
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()

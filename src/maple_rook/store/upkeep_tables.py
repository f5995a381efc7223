"""Tables of upkeep: the workshop, plans, the log, work orders; all append-only."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Identity, String, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, MappedColumn, mapped_column, relationship

from maple_rook.store.tables import Base, Person, Piece, recorded_now


def _person() -> MappedColumn[int]:
    return mapped_column(ForeignKey("people.id"))


class WorkshopSet(Base):
    """A version of the shop's spacers, stones, rates and limits; the newest stands."""

    __tablename__ = "workshop_sets"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    workshop: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()

    person: Mapped[Person] = relationship()


class PlanRow(Base):
    """A knife in a kitchen from a day on; marks end it."""

    __tablename__ = "upkeep_plans"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    label: Mapped[str] = mapped_column(String(60))
    kitchen: Mapped[dict[str, Any]]
    rods: Mapped[str] = mapped_column(String(40))
    begun_on: Mapped[dt.date]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()

    piece: Mapped[Piece] = relationship()
    person: Mapped[Person] = relationship()


class PlanMark(Base):
    """A plan ended, or continued; the newest stands."""

    __tablename__ = "upkeep_plan_marks"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    plan_id: Mapped[int] = mapped_column(ForeignKey("upkeep_plans.id"), index=True)
    ended: Mapped[bool]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()


class DoneRow(Base):
    """What was done to an edge on a day, and what was measured after; mm and degrees."""

    __tablename__ = "upkeep_log"
    __table_args__ = (
        CheckConstraint("height_mm > 0 AND height_mm < 1000", name="height"),
        CheckConstraint("behind_edge_mm > 0 AND behind_edge_mm < 100", name="behind_edge"),
    )

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    care: Mapped[str] = mapped_column(String(20))
    done_on: Mapped[dt.date]
    angle_deg: Mapped[float | None]
    grit: Mapped[int | None]
    height_mm: Mapped[float | None]
    behind_edge_mm: Mapped[float | None]
    minutes: Mapped[float | None]
    note: Mapped[str] = mapped_column(String(400), default="")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()

    person: Mapped[Person] = relationship()


class DoneVoid(Base):
    """An entry of the log that no longer counts, and why; the entry itself stays."""

    __tablename__ = "upkeep_voids"

    done_id: Mapped[int] = mapped_column(
        ForeignKey("upkeep_log.id"), primary_key=True, autoincrement=False
    )
    reason: Mapped[str] = mapped_column(String(200))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()


class WorkOrderRow(Base):
    """Jobs on one piece, ordered together from the sheet on which the faults were seen."""

    __tablename__ = "work_orders"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()

    piece: Mapped[Piece] = relationship()
    person: Mapped[Person] = relationship()
    repairs: Mapped[list[RepairRow]] = relationship(order_by="RepairRow.place")


class RepairRow(Base):
    """One repair as it was ordered: the fault, and the method of that day.

    ``seen_id`` is the observation it answers, where there is one.
    """

    __tablename__ = "repairs"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    order_id: Mapped[int] = mapped_column(ForeignKey("work_orders.id"), index=True)
    place: Mapped[int]
    item: Mapped[str] = mapped_column(String(48))
    aspect: Mapped[str] = mapped_column(String(12), default="")
    severity: Mapped[str] = mapped_column(String(12))
    label: Mapped[str] = mapped_column(String(120))
    note: Mapped[str] = mapped_column(String(400), default="")
    what: Mapped[str] = mapped_column(String(400))
    grits: Mapped[list[int]] = mapped_column(JSONB)
    materials: Mapped[list[str]] = mapped_column(JSONB)
    minutes: Mapped[float]
    caution: Mapped[str] = mapped_column(String(300))
    recheck: Mapped[str] = mapped_column(String(200))
    returns: Mapped[bool]
    seen_id: Mapped[int | None] = mapped_column(BigInteger, ForeignKey("observations.id"))

    order: Mapped[WorkOrderRow] = relationship(back_populates="repairs")
    events: Mapped[list[WorkEventRow]] = relationship(order_by="WorkEventRow.id")


class WorkEventRow(Base):
    """What happened to a repair: a picture, done, re-checked, dropped; in order."""

    __tablename__ = "work_events"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    repair_id: Mapped[int] = mapped_column(ForeignKey("repairs.id"), index=True)
    kind: Mapped[str] = mapped_column(String(12))
    minutes: Mapped[float | None]
    value: Mapped[str] = mapped_column(String(12), default="")
    note: Mapped[str] = mapped_column(String(400), default="")
    photo_id: Mapped[int | None] = mapped_column(ForeignKey("photos.id"))
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = _person()

    person: Mapped[Person] = relationship()

"""Photos that were measured, and what was read from them."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Identity, LargeBinary, String, Uuid
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, Sheet, recorded_now


class MeasuringPhoto(Base):
    """A photo to be measured, as it was taken, less what it told of places and people.

    It never changes; while nothing was accepted from it, it may be thrown away.
    """

    __tablename__ = "measuring_photos"
    __table_args__ = (CheckConstraint("width_px > 0 AND height_px > 0", name="size"),)

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"), index=True)
    view: Mapped[str] = mapped_column(String(8))
    media_type: Mapped[str] = mapped_column(String(20))
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    width_px: Mapped[int]
    height_px: Mapped[int]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    sheet: Mapped[Sheet] = relationship()
    person: Mapped[Person] = relationship()


class PhotoMeasurement(Base):
    """What was accepted from a photo: how it was measured, and what that gave; append-only.

    ``method`` is the version of the way it was measured, ``parameters`` all that went in beside the
    photo, what was known of the knife too, ``results`` each quantity's value and standard
    uncertainty, and the readings that came of them.
    """

    __tablename__ = "photo_measurements"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    photo_id: Mapped[int] = mapped_column(ForeignKey("measuring_photos.id"), index=True)
    method: Mapped[int]
    parameters: Mapped[dict[str, Any]]
    results: Mapped[dict[str, Any]]
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    photo: Mapped[MeasuringPhoto] = relationship()
    person: Mapped[Person] = relationship()

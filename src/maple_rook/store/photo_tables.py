"""Photos that were measured, and what was read from them; photographs that are published."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Identity, LargeBinary, String, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, Piece, Sheet, recorded_now


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


class Photograph(Base):
    """A photograph of a knife for readers, as it was taken, less what it told of places and people.

    ``place`` is its turn among those of the piece; ``crop`` is left, top, width and height as
    shares of the picture, ``digest`` the SHA-256 of its content, which is in a bucket where it is
    not here. One that was ``dropped`` is kept for the pages that show it.
    """

    __tablename__ = "photographs"
    __table_args__ = (CheckConstraint("width_px > 0 AND height_px > 0", name="size"),)

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    place: Mapped[int]
    alt: Mapped[str] = mapped_column(String(300), default="", server_default="")
    caption: Mapped[str] = mapped_column(String(300), default="", server_default="")
    credit: Mapped[str] = mapped_column(String(120), default="", server_default="")
    crop: Mapped[list[float] | None] = mapped_column(JSONB(none_as_null=True))
    media_type: Mapped[str] = mapped_column(String(20))
    digest: Mapped[str] = mapped_column(String(64))
    content: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    width_px: Mapped[int]
    height_px: Mapped[int]
    dropped: Mapped[bool] = mapped_column(default=False, server_default="false")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    piece: Mapped[Piece] = relationship()
    person: Mapped[Person] = relationship()


class WebPicture(Base):
    """A photograph in one of the sizes pages show it in; recalculated where it is missing."""

    __tablename__ = "web_pictures"

    key: Mapped[str] = mapped_column(String(80), primary_key=True)
    content: Mapped[bytes] = mapped_column(LargeBinary)

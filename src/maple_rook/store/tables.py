"""Tables. Readings, voids, observations, photos and traced edges are append-only: the database
sees to it. What is changed in the others is written down by it too (``people_tables.AuditEntry``).
"""

from __future__ import annotations

import datetime as dt
import uuid
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    Identity,
    Index,
    LargeBinary,
    MetaData,
    Numeric,
    ScalarSelect,
    String,
    Text,
    Uuid,
    func,
    select,
)
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP
from sqlalchemy.orm import (
    DeclarativeBase,
    InstrumentedAttribute,
    Mapped,
    MappedColumn,
    column_property,
    mapped_column,
    relationship,
)


class Base(DeclarativeBase):
    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(table_name)s_%(column_0_name)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )
    type_annotation_map = {  # noqa: RUF012 - SQLAlchemy reads it as a class attribute
        dt.datetime: TIMESTAMP(timezone=True),
        dict[str, float]: JSONB,
        dict[str, Any]: JSONB,
    }


_NOW = func.now()


def recorded_now() -> MappedColumn[dt.datetime]:
    """A column that the database fills with the time of writing."""
    return mapped_column(server_default=_NOW)


class Shop(Base):
    """The one shop a database belongs to, and what it settles for itself.

    ``units`` is the system shown first, ``paper`` and ``language`` are of its printed cards, which
    begin with its ``opening_words``; ``logo`` is a PNG. Who has the key of ``feed_key_sha256`` may
    fetch its products.
    """

    __tablename__ = "shop"
    __table_args__ = (
        CheckConstraint("id = 1", name="single"),
        CheckConstraint("units IN ('metric', 'imperial')", name="units"),
        CheckConstraint("paper IN ('A4', 'Letter')", name="paper"),
    )

    id: Mapped[int] = mapped_column(primary_key=True, default=1)
    name: Mapped[str] = mapped_column(String(120))
    place: Mapped[str] = mapped_column(String(120), default="")
    currency: Mapped[str] = mapped_column(String(12), default="")
    demo: Mapped[bool] = mapped_column(default=False)
    owners_in_two_steps: Mapped[bool] = mapped_column(default=False, server_default="false")
    units: Mapped[str] = mapped_column(String(8), default="metric", server_default="metric")
    paper: Mapped[str] = mapped_column(String(8), default="A4", server_default="A4")
    language: Mapped[str] = mapped_column(String(8), default="en", server_default="en")
    public_address: Mapped[str] = mapped_column(String(200), default="", server_default="")
    opening_words: Mapped[str] = mapped_column(String(300), default="", server_default="")
    time_zone: Mapped[str] = mapped_column(String(64), default="UTC", server_default="UTC")
    logo: Mapped[bytes | None]
    feed_key_sha256: Mapped[str] = mapped_column(String(64), default="", server_default="")


class Person(Base):
    """Somebody who works here or did; of role ``elsewhere`` are names that came with files."""

    __tablename__ = "people"
    __table_args__ = (
        CheckConstraint(
            "role IN ('owner', 'bench', 'counter', 'reader', 'elsewhere')", name="role"
        ),
    )

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    role: Mapped[str] = mapped_column(String(40))
    left_on: Mapped[dt.date | None]


class Instrument(Base):
    """What a reading was taken with; resolution and MPE in the base unit of its quantity.

    ``address`` (host:port) is where it answers the line protocol; ``certified`` is set for a
    reference, such as a hardness block, whose ``mpe`` is the permissible error of that value.
    """

    __tablename__ = "instruments"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)
    kind: Mapped[str] = mapped_column(String(40))
    resolution: Mapped[float]
    mpe: Mapped[float]
    unit: Mapped[str] = mapped_column(String(8))
    serial: Mapped[str] = mapped_column(String(40), default="", server_default="")
    calibration_due: Mapped[dt.date | None]
    address: Mapped[str] = mapped_column(String(64), default="", server_default="")
    certified: Mapped[float | None]
    stand_in: Mapped[bool] = mapped_column(default=False, server_default="false")
    retired: Mapped[bool] = mapped_column(default=False, server_default="false")


class Repeatability(Base):
    """How much an instrument scatters for a quantity in this shop; the newest row counts.

    ``deviation`` is the standard deviation of one reading and ``between_people`` what people differ
    by, in the quantity's base unit, on so many degrees of freedom; without a deviation the usual
    assumption holds again. ``study`` has the readings of a repeat study, by person and piece; it is
    empty where the record's repeats were taken.
    """

    __tablename__ = "repeatabilities"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(unique=True)
    quantity: Mapped[str] = mapped_column(String(40))
    instrument_id: Mapped[int] = mapped_column(ForeignKey("instruments.id"))
    deviation: Mapped[float | None]
    between_people: Mapped[float]
    freedom: Mapped[int]
    study: Mapped[dict[str, Any] | None]
    recorded_at: Mapped[dt.datetime] = mapped_column(server_default=func.now())
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class Maker(Base):
    __tablename__ = "makers"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(String(80), unique=True)


class SteelGrade(Base):
    __tablename__ = "steels"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    designation: Mapped[str] = mapped_column(String(40), unique=True)
    name: Mapped[str] = mapped_column(String(60))
    standard: Mapped[str] = mapped_column(String(60))
    composition: Mapped[dict[str, float]]
    carbides: Mapped[dict[str, float]]
    usual_hrc_low: Mapped[float]
    usual_hrc_high: Mapped[float]
    toughness: Mapped[str] = mapped_column(String(20))
    sharpening: Mapped[str] = mapped_column(String(20))
    ranges: Mapped[dict[str, list[float]]] = mapped_column(JSONB, server_default="{}")
    aliases: Mapped[list[str]] = mapped_column(JSONB, server_default="[]")
    carbide_relative_u: Mapped[float] = mapped_column(server_default="0.25")
    own: Mapped[bool] = mapped_column(default=False, server_default="false")


class Claim(Base):
    """What the maker printed; ``low`` and ``high`` in the base unit, as printed in ``printed``."""

    __tablename__ = "claims"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    model_id: Mapped[int] = mapped_column(ForeignKey("knife_models.id"), index=True)
    quantity: Mapped[str] = mapped_column(String(40))
    printed: Mapped[str] = mapped_column(String(64))
    low: Mapped[float]
    high: Mapped[float]


def _claimed(limit: InstrumentedAttribute[float], model_id: Mapped[int]) -> ScalarSelect[float]:
    """A limit of the hardness printed of a model, read along with it."""
    return (
        select(limit)
        .where(Claim.model_id == model_id, Claim.quantity == "hardness")
        .order_by(Claim.id)
        .limit(1)
        .correlate_except(Claim)
        .scalar_subquery()
    )


class KnifeModel(Base):
    """What the catalogue sells; a ``retired`` one is not offered for new pieces.

    ``gtin`` is the number on its bar code, where it has one.
    """

    __tablename__ = "knife_models"
    __table_args__ = (
        Index("uq_knife_models_name", "maker_id", "line", "knife_type", "nominal_mm", unique=True),
    )

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    maker_id: Mapped[int] = mapped_column(ForeignKey("makers.id"), index=True)
    line: Mapped[str] = mapped_column(String(80))
    knife_type: Mapped[str] = mapped_column(String(40))
    nominal_mm: Mapped[float]
    grind: Mapped[str] = mapped_column(String(40))
    construction: Mapped[str] = mapped_column(String(120), default="one steel")
    finish: Mapped[str] = mapped_column(String(120), default="")
    handle: Mapped[str] = mapped_column(String(120), default="")
    even_machine_edge: Mapped[bool] = mapped_column(default=False)
    steel_id: Mapped[int | None] = mapped_column(ForeignKey("steels.id"), index=True)
    price: Mapped[Decimal | None] = mapped_column(Numeric(10, 2))
    gtin: Mapped[str] = mapped_column(String(14), default="", server_default="")
    retired: Mapped[bool] = mapped_column(default=False, server_default="false")

    maker: Mapped[Maker] = relationship()
    steel: Mapped[SteelGrade | None] = relationship()
    claims: Mapped[list[Claim]] = relationship(order_by="Claim.id")
    claimed_hrc_low: Mapped[float | None] = column_property(_claimed(Claim.low, id))  # noqa: A003 - the column above
    claimed_hrc_high: Mapped[float | None] = column_property(_claimed(Claim.high, id))  # noqa: A003


class Piece(Base):
    """One knife in the hand.

    ``stock`` says where it is since ``stock_on``, ``stock_for`` the label of the customer it waits
    for or went to; no more is kept of the person. One that was entered twice is merged into the
    other, and its tag leads there.
    """

    __tablename__ = "pieces"
    __table_args__ = (
        CheckConstraint(
            "stock IN ('on_shelf', 'reserved', 'sold', 'returned', 'retired')", name="stock"
        ),
    )

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    model_id: Mapped[int] = mapped_column(ForeignKey("knife_models.id"), index=True)
    tag: Mapped[str] = mapped_column(String(40), unique=True)
    condition: Mapped[str] = mapped_column(String(20), default="new")
    note: Mapped[str] = mapped_column(Text, default="")
    stock: Mapped[str] = mapped_column(String(12), default="on_shelf", server_default="on_shelf")
    stock_on: Mapped[dt.date | None]
    stock_for: Mapped[str] = mapped_column(String(60), default="", server_default="")
    merged_into_id: Mapped[int | None] = mapped_column(ForeignKey("pieces.id"))
    created_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)

    model: Mapped[KnifeModel] = relationship()


class Sheet(Base):
    """One going-round of one piece by one person; one that is set aside counts for nothing."""

    __tablename__ = "sheets"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))
    started_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)
    finished_at: Mapped[dt.datetime | None]
    set_aside: Mapped[str | None] = mapped_column(String(200))

    piece: Mapped[Piece] = relationship()
    person: Mapped[Person] = relationship()


class Reading(Base):
    """One reading as it was typed, and its value in the SI-based unit of its dimension.

    ``client_id`` is made where the reading is taken; the same reading sent twice is kept once.
    ``standard_uncertainty`` is the reading's own, where it does not follow from its instrument.
    What is estimated or told has no instrument, nor has what was measured with an unknown one.
    ``typed_step`` is the step in which a person typed it, in the base unit.
    """

    __tablename__ = "readings"
    __table_args__ = (
        CheckConstraint("si_value = si_value AND abs(si_value) < 1e6", name="finite"),
        CheckConstraint("replicate >= 1", name="replicate"),
        CheckConstraint(
            "kind IN ('measured', 'estimated', 'told')"
            " AND (kind <> 'measured' OR instrument_id IS NOT NULL"
            " OR standard_uncertainty IS NOT NULL)",
            name="kind",
        ),
        Index("ix_readings_sheet_quantity", "sheet_id", "quantity"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"))
    quantity: Mapped[str] = mapped_column(String(40))
    typed: Mapped[str] = mapped_column(String(64))
    value: Mapped[float]
    unit: Mapped[str] = mapped_column(String(8))
    si_value: Mapped[float]
    si_unit: Mapped[str] = mapped_column(String(8))
    instrument_id: Mapped[int | None] = mapped_column(ForeignKey("instruments.id"))
    method: Mapped[str] = mapped_column(String(40), default="manual")
    station: Mapped[str] = mapped_column(String(40), default="")
    station_mm: Mapped[float | None]
    above_edge_mm: Mapped[float | None]
    reference_id: Mapped[int | None] = mapped_column(ForeignKey("instruments.id"))
    replicate: Mapped[int]
    unusual_confirmed: Mapped[bool] = mapped_column(default=False)
    standard_uncertainty: Mapped[float | None]
    kind: Mapped[str] = mapped_column(String(10), default="measured", server_default="measured")
    typed_step: Mapped[float | None]
    note: Mapped[str] = mapped_column(String(400), default="", server_default="")
    photo_id: Mapped[int | None] = mapped_column(ForeignKey("photos.id"))
    taken_at: Mapped[dt.datetime]
    recorded_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    sheet: Mapped[Sheet] = relationship()
    instrument: Mapped[Instrument | None] = relationship(foreign_keys=[instrument_id])
    reference: Mapped[Instrument | None] = relationship(foreign_keys=[reference_id])
    person: Mapped[Person] = relationship()
    void: Mapped[ReadingVoid | None] = relationship(back_populates="reading")


class ReadingVoid(Base):
    """A reading that no longer counts, and why; the reading itself stays."""

    __tablename__ = "reading_voids"

    reading_id: Mapped[int] = mapped_column(
        BigInteger, ForeignKey("readings.id"), primary_key=True, autoincrement=False
    )
    reason: Mapped[str] = mapped_column(String(200))
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))
    voided_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)

    reading: Mapped[Reading] = relationship(back_populates="void")


class Observation(Base):
    """What was seen of one item, and of which side or stroke; the newest of each stands.

    ``replaces`` is the observation its writer had before their eyes; one that no longer stands is
    refused, so that an older screen never writes over a newer one.
    """

    __tablename__ = "observations"
    __table_args__ = (Index("ix_observations_sheet_item", "sheet_id", "item", "aspect"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"))
    item: Mapped[str] = mapped_column(String(48))
    aspect: Mapped[str] = mapped_column(String(12), default="")
    value: Mapped[str] = mapped_column(String(200))
    note: Mapped[str] = mapped_column(String(400), default="")
    replaces: Mapped[uuid.UUID | None] = mapped_column(Uuid)
    photo_id: Mapped[int | None] = mapped_column(ForeignKey("photos.id"))
    taken_at: Mapped[dt.datetime]
    recorded_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class Photo(Base):
    """A picture taken at the bench, kept in the record with everything else."""

    __tablename__ = "photos"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"), index=True)
    media_type: Mapped[str] = mapped_column(String(20))
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    recorded_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class EdgeTrace(Base):
    """The edge line of a piece on the board: as given, and laid on the board in mm.

    ``points`` are (x, y) from the heel to the tip; none withdraws the trace before it. ``spine``
    is the spine over it, where that was traced too. The newest of a piece stands.
    """

    __tablename__ = "edge_traces"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    client_id: Mapped[uuid.UUID] = mapped_column(Uuid, unique=True)
    sheet_id: Mapped[int] = mapped_column(ForeignKey("sheets.id"), index=True)
    source: Mapped[str] = mapped_column(String(12))
    given: Mapped[str] = mapped_column(Text, default="")
    points: Mapped[list[list[float]]] = mapped_column(JSONB)
    spine: Mapped[list[list[float]] | None] = mapped_column(JSONB(none_as_null=True))
    taken_at: Mapped[dt.datetime]
    recorded_at: Mapped[dt.datetime] = mapped_column(server_default=_NOW)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class ShopFood(Base):
    """A food as this shop cuts it; the fields are those of the core's ``Food``.

    ``estimated`` where an upgrade took what the shop had not said from a food like it.
    """

    __tablename__ = "foods"

    key: Mapped[str] = mapped_column(String(40), primary_key=True)
    label: Mapped[str] = mapped_column(String(80))
    toughness_j_m2: Mapped[float]
    blunting_um: Mapped[float]
    modulus_mpa: Mapped[float]
    crush_mpa: Mapped[float]
    crush_mm: Mapped[float]
    stiffness_n_mm3: Mapped[float]
    friction: Mapped[float]
    adhesion_kpa: Mapped[float]
    height_mm: Mapped[float]
    width_mm: Mapped[float]
    slice_stiffness: Mapped[float]
    estimated: Mapped[bool] = mapped_column(default=False, server_default="false")
    place: Mapped[int]

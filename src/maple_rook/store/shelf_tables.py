"""The shelf as it was last calculated: one row a piece, kept up from the record.

All of it can be recalculated from the record. Triggers on the record's tables write into
:class:`ShelfStale` which pieces changed; whoever works a piece out takes those lines away in the
same transaction.
"""

from __future__ import annotations

import datetime as dt

from sqlalchemy import BigInteger, Double, ForeignKey, Identity, Index, String, Text, func, text
from sqlalchemy.dialects.postgresql import ARRAY, JSONB, TIMESTAMP
from sqlalchemy.orm import Mapped, mapped_column

from maple_rook.core.prediction.evaluate import EASES
from maple_rook.store.tables import Base

SORTED_BY = (
    "edge_length",
    "weight",
    "height_heel",
    "hardness",
    "edge_angle",
    "thickness_behind_edge",
    "price",
)
"""Figures with a column and two indexes of their own; all others stand in ``figures``."""
PREDICTED_BY = ("cutting_ease", "months_to_stone", *EASES.values())
"""Predictions with two indexes of their own."""
NAMED_BY = ("name", "type_label")


def _by(column: str, expression: str, *, falling: bool) -> Index:
    """Pieces without the figure come last either way, pieces of the same figure by age."""
    order = f"{expression} {'DESC' if falling else 'ASC'} NULLS LAST"
    suffix = "_falling" if falling else ""
    return Index(f"ix_shelf_{column}{suffix}", text(order), "piece_id")


class ShelfRow(Base):
    """A piece as the Rack lists it and the Counter rules on it.

    ``version`` counts how often the piece was calculated because the record changed,
    ``model_version`` names what it was computed with, ``written`` is the transaction that wrote the
    row, ``written_at`` when. ``words`` is what a search looks in, ``drawn_mm`` how long the drawing
    of the knife is, ``row`` the piece as the Rack shows it (JSON), ``predicted`` its predictions by
    key with their limits, ``decides`` the columns of ``choosing.candidates.Traits``, ``central``
    the central figures between which the Counter decides; NaN where there is none. Lengths in mm,
    weight in g, angles in degrees per side.
    """

    __tablename__ = "shelf"
    __table_args__ = (
        *(
            _by(column, expression, falling=falling)
            for column, expression in (
                *((column, column) for column in (*NAMED_BY, *SORTED_BY)),
                *(
                    (key, f"(((predicted -> '{key}') ->> 0)::double precision)")
                    for key in PREDICTED_BY
                ),
            )
            for falling in (False, True)
        ),
        Index(
            "ix_shelf_words",
            "words",
            postgresql_using="gin",
            postgresql_ops={"words": "gin_trgm_ops"},
        ),
    )

    piece_id: Mapped[int] = mapped_column(
        ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    model_id: Mapped[int]
    version: Mapped[int] = mapped_column(BigInteger)
    model_version: Mapped[str] = mapped_column(String(16), index=True)
    written: Mapped[int] = mapped_column(
        BigInteger, index=True, server_default=text("pg_current_xact_id()::text::bigint")
    )
    written_at: Mapped[dt.datetime] = mapped_column(index=True, server_default=func.now())
    tag: Mapped[str] = mapped_column(String(40))
    name: Mapped[str] = mapped_column(Text(collation="C"))
    type_label: Mapped[str] = mapped_column(Text(collation="C"))
    knife_type: Mapped[str] = mapped_column(String(40), index=True)
    condition: Mapped[str] = mapped_column(String(20))
    stock: Mapped[str] = mapped_column(String(12), server_default="on_shelf")
    grade_class: Mapped[str | None] = mapped_column(String(40))
    words: Mapped[str] = mapped_column(Text)
    edge_length: Mapped[float | None]
    weight: Mapped[float | None]
    height_heel: Mapped[float | None]
    hardness: Mapped[float | None]
    edge_angle: Mapped[float | None]
    thickness_behind_edge: Mapped[float | None]
    price: Mapped[float | None]
    drawn_mm: Mapped[float]
    figures: Mapped[dict[str, float]]
    predicted: Mapped[dict[str, list[float]]] = mapped_column(JSONB)
    row: Mapped[str] = mapped_column(Text)
    decides: Mapped[list[float]] = mapped_column(ARRAY(Double))
    central: Mapped[list[float]] = mapped_column(ARRAY(Double))


class ShelfClaim(Base):
    """A claim against one piece, as it was judged; ``gravity`` 0 is the gravest verdict."""

    __tablename__ = "shelf_claims"
    __table_args__ = (Index("ix_shelf_claims_model_quantity", "model_id", "quantity"),)

    piece_id: Mapped[int] = mapped_column(
        ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    model_id: Mapped[int]
    model: Mapped[str] = mapped_column(Text(collation="C"))
    quantity: Mapped[str] = mapped_column(String(40))
    label: Mapped[str] = mapped_column(Text(collation="C"))
    gravity: Mapped[int]
    tag: Mapped[str] = mapped_column(String(40))
    claim: Mapped[dict[str, object]] = mapped_column(JSONB)
    measured: Mapped[dict[str, object] | None] = mapped_column(JSONB(none_as_null=True))


class ShelfStale(Base):
    """A piece of which something was written that the shelf has not taken up yet."""

    __tablename__ = "shelf_stale"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    piece_id: Mapped[int] = mapped_column(index=True)


class QuarantinedPiece(Base):
    """A piece that could not be calculated, and why; it waits for a change of it or of the models.

    What the shelf knew of it before stays on the shelf.
    """

    __tablename__ = "shelf_quarantine"

    piece_id: Mapped[int] = mapped_column(
        ForeignKey("pieces.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    model_version: Mapped[str] = mapped_column(String(16))
    why: Mapped[str] = mapped_column(Text)
    since: Mapped[dt.datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=func.now())

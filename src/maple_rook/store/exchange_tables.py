"""Tables of what came in from outside and of what is shown outside; append-only but for files
that wait.
"""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import ForeignKey, Identity, LargeBinary, String, Text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, Piece, recorded_now


class ImportRow(Base):
    """A file that was imported, and how its columns were read.

    ``columns`` holds by heading, in plain letters, the field and unit it was given: what the next
    file of the same ``source`` is read with.
    """

    __tablename__ = "imports"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    source: Mapped[str] = mapped_column(String(80), index=True)
    file: Mapped[str] = mapped_column(String(200))
    sha256: Mapped[str] = mapped_column(String(64))
    columns: Mapped[dict[str, Any]]
    counts: Mapped[dict[str, int]] = mapped_column(JSONB)
    added: Mapped[dict[str, int]] = mapped_column(JSONB)
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    person: Mapped[Person] = relationship()


class Publication(Base):
    """What the shop shows of a piece to anybody; the newest of a piece stands.

    ``shown`` are the groups and quantities chosen; ``on`` is off where the page is taken down. The
    ``address`` of a piece is given once and stays.
    """

    __tablename__ = "publications"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("pieces.id"), index=True)
    address: Mapped[str] = mapped_column(String(80), index=True)
    on: Mapped[bool]
    shown: Mapped[list[str]] = mapped_column(JSONB)
    words: Mapped[str] = mapped_column(String(600), default="")
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))

    piece: Mapped[Piece] = relationship()
    person: Mapped[Person] = relationship()


class ImportFile(Base):
    """A file that waits to be imported, is worked on, or was; gone once it is forgotten.

    ``asked`` is how it shall be read, ``report`` row by row what became of it.
    """

    __tablename__ = "import_files"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    file: Mapped[str] = mapped_column(String(200))
    size: Mapped[int]
    sha256: Mapped[str] = mapped_column(String(64))
    source: Mapped[str] = mapped_column(String(80), default="")
    state: Mapped[str] = mapped_column(String(12), default="waiting")
    for_good: Mapped[bool] = mapped_column(default=False)
    done: Mapped[int] = mapped_column(default=0)
    problem: Mapped[str] = mapped_column(Text, default="")
    cancelled: Mapped[bool] = mapped_column(default=False)
    asked: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    report: Mapped[bytes | None] = mapped_column(LargeBinary, deferred=True)
    recorded_at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"))


class ImportPart(Base):
    """A part of such a file, in order: a large one never stands in memory whole."""

    __tablename__ = "import_parts"

    file_id: Mapped[str] = mapped_column(
        ForeignKey("import_files.id", ondelete="CASCADE"), primary_key=True
    )
    number: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    content: Mapped[bytes] = mapped_column(LargeBinary)

"""Tables of signing in and of what was done: passwords, sign-ins, invitations, keys, the log.

Nothing here lets anybody in by itself: of passwords there is an argon2 hash, of every token only
its SHA-256.
"""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Identity, Index, LargeBinary, String, Text, Uuid
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from maple_rook.store.tables import Base, Person, recorded_now


class Password(Base):
    """How a person proves who they are; who has none cannot sign in."""

    __tablename__ = "passwords"

    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id"), primary_key=True, autoincrement=False
    )
    hashed: Mapped[str] = mapped_column(String(200))
    changed_at: Mapped[dt.datetime] = recorded_now()


class SignIn(Base):
    """A browser signed in, a key for a program, or the address of a calendar.

    ``role`` narrows what a key may; without one it may what its person may.
    """

    __tablename__ = "sign_ins"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    token_sha256: Mapped[bytes] = mapped_column(LargeBinary, unique=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"), index=True)
    kind: Mapped[str] = mapped_column(String(12))
    label: Mapped[str] = mapped_column(String(80))
    role: Mapped[str | None] = mapped_column(String(40))
    made_at: Mapped[dt.datetime] = recorded_now()
    seen_at: Mapped[dt.datetime] = recorded_now()
    expires_at: Mapped[dt.datetime | None]
    ended_at: Mapped[dt.datetime | None]

    person: Mapped[Person] = relationship()


class Invitation(Base):
    """Lets a person choose a password, once and before it expires."""

    __tablename__ = "invitations"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    token_sha256: Mapped[bytes] = mapped_column(LargeBinary, unique=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"), index=True)
    made_at: Mapped[dt.datetime] = recorded_now()
    expires_at: Mapped[dt.datetime]
    used_at: Mapped[dt.datetime | None]

    person: Mapped[Person] = relationship()


class FailedSignIn(Base):
    """An attempt that failed, by the SHA-256 of the name it gave and where it came from."""

    __tablename__ = "failed_sign_ins"
    __table_args__ = (
        Index("ix_failed_sign_ins_name", "name_sha256", "failed_at"),
        Index("ix_failed_sign_ins_address", "address", "failed_at"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    name_sha256: Mapped[bytes] = mapped_column(LargeBinary)
    address: Mapped[str] = mapped_column(String(64))
    failed_at: Mapped[dt.datetime] = recorded_now()


class RequestKey(Base):
    """A request that creates, by the key its writer made; ``answer`` once it was answered."""

    __tablename__ = "request_keys"
    __table_args__ = (Index("ix_request_keys_recorded_at", "recorded_at"),)

    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id"), primary_key=True, autoincrement=False
    )
    key: Mapped[uuid.UUID] = mapped_column(Uuid, primary_key=True)
    asked_sha256: Mapped[bytes] = mapped_column(LargeBinary)
    status: Mapped[int | None]
    media_type: Mapped[str | None] = mapped_column(String(80))
    answer: Mapped[bytes | None] = mapped_column(LargeBinary)
    recorded_at: Mapped[dt.datetime] = recorded_now()


class AuditEntry(Base):
    """Who changed what from what to what; written by the database, append-only.

    ``about`` is a table, ``of`` the key of its row and ``named`` what people call it; ``before``
    and ``after`` hold the columns that differ.
    """

    __tablename__ = "audit"
    __table_args__ = (Index("ix_audit_about_of", "about", "of"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    at: Mapped[dt.datetime] = recorded_now()
    person_id: Mapped[int | None] = mapped_column(ForeignKey("people.id"), index=True)
    act: Mapped[str] = mapped_column(String(12))
    about: Mapped[str] = mapped_column(String(40))
    of: Mapped[str] = mapped_column(String(80))
    named: Mapped[str] = mapped_column(Text, server_default="")
    before: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    after: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))

    person: Mapped[Person | None] = relationship()

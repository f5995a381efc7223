"""Tables of signing in and of what was done: passwords, sign-ins, invitations, keys, the log.

Of passwords there is an argon2 hash, of every token only its SHA-256. What authenticators share
with the shop must be there as it is: whoever reads ``two_step`` still lacks the password.
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

    ``role`` narrows what a key may; without one it may what its person may. ``confirmed_at`` is
    when the password was last given in it, ``used_at`` when a key was first used.
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
    confirmed_at: Mapped[dt.datetime] = recorded_now()
    used_at: Mapped[dt.datetime | None]
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


class SignInAttempts(Base):
    """How often a way of signing in failed lately, and from when on it is looked at again.

    ``bucket`` is a digest: of a name with where it was given, of a name, of an address, of a
    browser or of a person who is asked again.
    """

    __tablename__ = "sign_in_attempts"

    bucket: Mapped[bytes] = mapped_column(LargeBinary, primary_key=True)
    failures: Mapped[int]
    last_at: Mapped[dt.datetime] = mapped_column(index=True)
    next_at: Mapped[dt.datetime]


class SigningKey(Base):
    """What cookies of a kind are signed with, so that only this shop can have written them."""

    __tablename__ = "signing_keys"

    purpose: Mapped[str] = mapped_column(String(40), primary_key=True)
    secret: Mapped[bytes] = mapped_column(LargeBinary)


class TwoStep(Base):
    """What a person's authenticator shares with the shop (RFC 6238); on once it was confirmed.

    ``last_step`` is the time step of the last code that let them in: no code does so twice.
    """

    __tablename__ = "two_step"

    person_id: Mapped[int] = mapped_column(
        ForeignKey("people.id"), primary_key=True, autoincrement=False
    )
    secret: Mapped[str] = mapped_column(String(64))
    last_step: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")
    confirmed_at: Mapped[dt.datetime | None]


class RecoveryCode(Base):
    """Stands in for an authenticator that is lost, once."""

    __tablename__ = "recovery_codes"

    id: Mapped[int] = mapped_column(Identity(), primary_key=True)
    person_id: Mapped[int] = mapped_column(ForeignKey("people.id"), index=True)
    code_sha256: Mapped[bytes] = mapped_column(LargeBinary)
    used_at: Mapped[dt.datetime | None]


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

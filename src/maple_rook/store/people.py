"""People, their passwords, and every way they are signed in."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
import threading
from collections.abc import Sequence
from functools import cache
from itertools import chain, count
from typing import NamedTuple

from pwdlib import PasswordHash
from sqlalchemy import delete, func, or_, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from maple_rook.store.database import FOUNDER, WRITER
from maple_rook.store.people_tables import AuditEntry, FailedSignIn, Invitation, Password, SignIn
from maple_rook.store.tables import Person

BROWSER, PROGRAM, CALENDAR = "browser", "program", "calendar"
SIGNED_IN_FOR = dt.timedelta(days=14)
IDLE_FOR = dt.timedelta(hours=12)
INVITED_FOR = dt.timedelta(days=7)
SEEN_EVERY = dt.timedelta(minutes=5)
COUNTED_FOR = dt.timedelta(minutes=15)
MOST_BY_NAME, MOST_BY_ADDRESS = 5, 30
"""Failed attempts within :data:`COUNTED_FOR` after which no more are looked at."""
HASHER = PasswordHash.recommended()
_HASHING = threading.BoundedSemaphore(2)
"""Each hash takes 64 MB by design: a crowd at the door waits instead of filling memory."""


@cache
def _nobodys() -> str:
    return HASHER.hash(secrets.token_urlsafe(16))


class Entered(NamedTuple):
    """Who a token belongs to, and how it came in."""

    sign_in_id: int
    kind: str
    person_id: int
    name: str
    role: str
    narrowed_to: str | None


def sha256(token: str) -> bytes:
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).digest()


def by_name(db: Session, name: str) -> Person | None:
    """The person who has a name and still works here; small and capital letters are the same."""
    return db.scalars(
        select(Person).where(func.lower(Person.name) == name.lower(), Person.left_on.is_(None))
    ).first()


def name_is_free(db: Session, name: str, *, but: int | None = None) -> bool:
    """Whether nobody here has or had a name, other than ``but``."""
    taken = select(Person.id).where(func.lower(Person.name) == name.lower())
    return db.scalar(taken.where(Person.id != but) if but is not None else taken) is None


# Passwords


def set_password(db: Session, person_id: int, password: str) -> None:
    with _HASHING:
        hashed = HASHER.hash(password)
    statement = insert(Password).values(person_id=person_id, hashed=hashed)
    db.execute(
        statement.on_conflict_do_update(
            index_elements=[Password.person_id], set_={"hashed": hashed, "changed_at": func.now()}
        )
    )


def is_password_of(db: Session, person_id: int | None, password: str) -> bool:
    """Whether it is; of somebody unknown it takes as long to find out that it is not."""
    kept = db.get(Password, person_id) if person_id is not None else None
    with _HASHING:
        nobodys = _nobodys()  # whoever it is waits for it the first time
        fits, better = HASHER.verify_and_update(password, kept.hashed if kept else nobodys)
    if fits and kept is not None and better is not None:
        kept.hashed = better
    return fits and kept is not None


def has_owner(db: Session, *, but: int | None = None) -> bool:
    """Whether somebody can sign in, other than ``but``, who may invite the others."""
    owners = (
        select(Password.person_id)
        .join(Person, Person.id == Password.person_id)
        .where(Person.role == "owner", Person.left_on.is_(None))
    )
    if but is not None:
        owners = owners.where(Person.id != but)
    return db.scalar(owners.limit(1)) is not None


def first_owner(db: Session) -> Person:
    """Who shall set the shop up while it :func:`has no owner <has_owner>` yet."""
    owner = db.scalars(
        select(Person)
        .where(Person.role == "owner", Person.left_on.is_(None))
        .order_by(Person.id)
        .limit(1)
    ).first()
    if owner is None:
        names = set(db.scalars(select(Person.name)))
        free = chain([FOUNDER], (f"{FOUNDER} {n}" for n in count(2)))
        owner = Person(name=next(name for name in free if name not in names), role="owner")
        db.add(owner)
        db.flush()
    return owner


def write_down(db: Session, about: str, act: str, person_id: int, named: str) -> None:
    """Note in the log of changes what no table of the record shows: of a secret only that.

    Parameters
    ----------
    db : the session the caller commits.
    about : table.
    act : what happened.
    person_id : number of who asks.
    named : what it is called.
    """
    db.add(
        AuditEntry(
            person_id=db.info.get(WRITER), about=about, act=act, of=str(person_id), named=named
        )
    )


# Attempts that failed


def seconds_to_wait(db: Session, name: str, address: str) -> int:
    """How long until an attempt under a name, from an address, is looked at; 0 is at once."""
    since = func.now() - COUNTED_FOR
    waits = []
    for column, value, most in (
        (FailedSignIn.name_sha256, sha256(name.lower()), MOST_BY_NAME),
        (FailedSignIn.address, address, MOST_BY_ADDRESS),
    ):
        recent = (
            select(FailedSignIn.failed_at)
            .where(column == value, FailedSignIn.failed_at > since)
            .order_by(FailedSignIn.failed_at.desc())
            .offset(most - 1)
            .limit(1)
        )
        left = db.scalar(
            select(func.extract("epoch", recent.scalar_subquery() + COUNTED_FOR - func.now()))
        )
        waits.append(0 if left is None else max(1, round(left)))
    return max(waits)


def note_failure(db: Session, name: str, address: str) -> None:
    db.execute(delete(FailedSignIn).where(FailedSignIn.failed_at < func.now() - 4 * COUNTED_FOR))
    db.add(FailedSignIn(name_sha256=sha256(name.lower()), address=address[:64]))


def forget_failures(db: Session, name: str) -> None:
    db.execute(delete(FailedSignIn).where(FailedSignIn.name_sha256 == sha256(name.lower())))


# Being signed in

_COUNTS = (
    SignIn.ended_at.is_(None),
    or_(SignIn.expires_at.is_(None), SignIn.expires_at > func.now()),
    or_(SignIn.kind != BROWSER, SignIn.seen_at > func.now() - IDLE_FOR),
)
"""Of a sign-in that still stands: not ended, not expired, not idle too long."""


def let_in(
    db: Session, person_id: int, *, kind: str = BROWSER, label: str = "", role: str | None = None
) -> str:
    """A token that stands for a person from now on; it is told once and kept as a hash.

    Parameters
    ----------
    db : the session the caller commits.
    person_id : number of who asks.
    kind : browser, program or calendar.
    label : what it is called.
    role : what it is narrowed to.
    """
    token = secrets.token_urlsafe(32)
    expires = dt.datetime.now(dt.UTC) + SIGNED_IN_FOR if kind == BROWSER else None
    db.add(
        SignIn(
            token_sha256=sha256(token),
            person_id=person_id,
            kind=kind,
            label=label[:80],
            role=role,
            expires_at=expires,
        )
    )
    return token


def entered_with(db: Session, token: str) -> Entered | None:
    """Who a token lets in now; None where it is unknown, ended, expired or was idle too long."""
    row = db.execute(
        select(
            SignIn.id,
            SignIn.kind,
            Person.id,
            Person.name,
            Person.role,
            SignIn.role,
            SignIn.seen_at,
            func.now(),
        )
        .join(Person, Person.id == SignIn.person_id)
        .where(SignIn.token_sha256 == sha256(token), Person.left_on.is_(None), *_COUNTS)
    ).one_or_none()
    if row is None:
        return None
    number, kind, person_id, name, role, narrowed_to, seen_at, now = row
    if now - seen_at > SEEN_EVERY:
        db.execute(update(SignIn).where(SignIn.id == number).values(seen_at=func.now()))
        db.commit()
    return Entered(number, kind, person_id, name, role, narrowed_to)


def standing(db: Session, person_id: int) -> Sequence[SignIn]:
    """Everywhere a person is signed in, the newest first."""
    return db.scalars(
        select(SignIn).where(SignIn.person_id == person_id, *_COUNTS).order_by(SignIn.id.desc())
    ).all()


def end(
    db: Session,
    person_id: int,
    *,
    only: int | None = None,
    but: int | None = None,
    kind: str | None = None,
) -> int:
    """End one sign-in of a person, or all (of a kind) but one; how many there were to end.

    Parameters
    ----------
    db : the session the caller commits.
    person_id : number of who asks.
    only : only this sign-in.
    but : all but this one.
    kind : only of this kind.
    """
    statement = update(SignIn).where(SignIn.person_id == person_id, SignIn.ended_at.is_(None))
    if only is not None:
        statement = statement.where(SignIn.id == only)
    if but is not None:
        statement = statement.where(SignIn.id != but)
    if kind is not None:
        statement = statement.where(SignIn.kind == kind)
    ended = db.scalars(statement.values(ended_at=func.now()).returning(SignIn.id))
    return len(ended.all())


# Invitations


def invite(db: Session, person_id: int) -> str:
    """A token with which a person chooses a password; those before it no longer count."""
    token = secrets.token_urlsafe(32)
    db.execute(
        delete(Invitation).where(Invitation.person_id == person_id, Invitation.used_at.is_(None))
    )
    db.add(
        Invitation(
            token_sha256=sha256(token),
            person_id=person_id,
            expires_at=dt.datetime.now(dt.UTC) + INVITED_FOR,
        )
    )
    return token


def invited_with(db: Session, token: str, *, take: bool = False) -> Invitation | None:
    """The invitation that still stands; ``take`` locks it for its one use."""
    query = (
        select(Invitation)
        .options(joinedload(Invitation.person, innerjoin=True))
        .join(Person)
        .where(
            Invitation.token_sha256 == sha256(token),
            Invitation.used_at.is_(None),
            Invitation.expires_at > func.now(),
            Person.left_on.is_(None),
        )
    )
    return db.scalars(query.with_for_update(of=Invitation) if take else query).one_or_none()


def invited(db: Session) -> set[int]:
    """The people whose invitation still stands."""
    return set(
        db.scalars(
            select(Invitation.person_id).where(
                Invitation.used_at.is_(None), Invitation.expires_at > func.now()
            )
        )
    )

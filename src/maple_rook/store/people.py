"""People, their passwords, and every way they are signed in."""

from __future__ import annotations

import datetime as dt
import hashlib
import secrets
from collections.abc import Sequence
from functools import cache
from itertools import chain, count
from typing import NamedTuple

from pwdlib import PasswordHash
from sqlalchemy import and_, delete, exists, func, or_, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from maple_rook.store.database import FOUNDER, WRITER
from maple_rook.store.look_alikes import skeleton
from maple_rook.store.people_tables import AuditEntry, Invitation, Password, SignIn, TwoStep
from maple_rook.store.tables import Person, Shop

BROWSER, PROGRAM, CALENDAR = "browser", "program", "calendar"
SIGNED_IN_FOR = dt.timedelta(days=14)
IDLE_FOR = dt.timedelta(hours=12)
INVITED_FOR = dt.timedelta(days=7)
SEEN_EVERY = dt.timedelta(minutes=5)
HASHER = PasswordHash.recommended()


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
    confirmed_s: float
    """Since the password was last given here."""
    owes_second_step: bool
    """An owner of a shop that wants two steps of its owners, who has only one."""


def sha256(token: str) -> bytes:
    return hashlib.sha256(token.encode("utf-8", "surrogatepass")).digest()


def by_name(db: Session, name: str) -> Person | None:
    """The person who has a name and still works here; small and capital letters are the same."""
    return db.scalars(
        select(Person).where(func.lower(Person.name) == name.lower(), Person.left_on.is_(None))
    ).first()


def name_of(db: Session, person_id: int) -> str:
    return db.scalars(select(Person.name).where(Person.id == person_id)).one()


def name_is_free(db: Session, name: str, *, but: int | None = None) -> bool:
    """Whether nobody here, other than ``but``, has or had a name that looks like it."""
    taken = select(Person.id, Person.name)
    looks = skeleton(name)
    return not any(
        skeleton(other) == looks for person_id, other in db.execute(taken) if person_id != but
    )


# Passwords


def hashed(password: str) -> str:
    """The argon2id hash of a password, with the cost that a guess has to pay."""
    return HASHER.hash(password)


def fits(password: str, hashed_before: str | None) -> tuple[bool, str | None]:
    """Whether a password has a hash, and a better hash of it where the old one is too cheap.

    Of nobody's hash it takes as long to find out that it does not.
    """
    found, better = HASHER.verify_and_update(password, hashed_before or _nobodys())
    return found and hashed_before is not None, better


def keep_hash(db: Session, person_id: int, hashed_now: str) -> None:
    statement = insert(Password).values(person_id=person_id, hashed=hashed_now)
    db.execute(
        statement.on_conflict_do_update(
            index_elements=[Password.person_id],
            set_={"hashed": hashed_now, "changed_at": func.now()},
        )
    )


def hash_of(db: Session, person_id: int | None) -> str | None:
    if person_id is None:
        return None
    return db.scalar(select(Password.hashed).where(Password.person_id == person_id))


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
    """A token that stands for a person from now on; it is shown once and kept as a hash.

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
    owes = and_(
        Shop.owners_in_two_steps,
        SignIn.kind == BROWSER,
        Person.role == "owner",
        ~exists().where(TwoStep.person_id == Person.id, TwoStep.confirmed_at.is_not(None)),
    )
    found = db.execute(
        select(
            SignIn.id,
            SignIn.kind,
            Person.id,
            Person.name,
            Person.role,
            SignIn.role,
            func.extract("epoch", func.now() - SignIn.confirmed_at),
            owes,
            or_(SignIn.used_at.is_(None), SignIn.seen_at < func.now() - SEEN_EVERY),
        )
        .join(Person, Person.id == SignIn.person_id)
        .join(Shop, Shop.id == 1)
        .where(SignIn.token_sha256 == sha256(token), Person.left_on.is_(None), *_COUNTS)
    ).one_or_none()
    if found is None:
        return None
    *entered_as, unseen = found
    entered = Entered._make(entered_as)
    if unseen:
        _seen(db, entered)
    return entered


def _seen(db: Session, entered: Entered) -> None:
    """Note that a sign-in is used, now and then; of a key that it is used at all, and who knows."""
    label, is_first = db.execute(
        update(SignIn)
        .where(SignIn.id == entered.sign_in_id)
        .values(seen_at=func.now(), used_at=func.coalesce(SignIn.used_at, func.now()))
        .returning(SignIn.label, SignIn.used_at == func.now())
    ).one()
    if is_first and entered.kind != BROWSER:
        db.info[WRITER] = entered.person_id
        write_down(db, "keys", "used", entered.person_id, f"{label}, for the first time")
    db.commit()


def confirm(db: Session, sign_in_id: int) -> None:
    """The password was given again in a browser that is signed in."""
    db.execute(update(SignIn).where(SignIn.id == sign_in_id).values(confirmed_at=func.now()))


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

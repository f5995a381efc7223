"""Signing in and out, passwords, keys for programs."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.http.policy import ROLES, Role, Somebody
from maple_rook.http.problems import NotPermitted, Refused, TooMany
from maple_rook.stations.people.schemas import (
    PASSWORD_LEAST,
    PASSWORD_MOST,
    DemoPersonOut,
    InvitationOut,
    JoinIn,
    KeyIn,
    KeyOut,
    PasswordIn,
    RoleOut,
    SelfOut,
    SessionOut,
    SignInIn,
    SignInOut,
)
from maple_rook.store import people, request_keys
from maple_rook.store.database import WRITER
from maple_rook.store.people_tables import Invitation
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop


class NotThem(Refused):
    """A name with a password that is not its own; which of the two is wrong is not said."""

    status, kind, title = 401, "not-them", "Not signed in"


class NoInvitation(Refused):
    """An invitation unknown, used, replaced or expired."""

    status, kind, title = 410, "no-invitation", "No invitation"


def session(db: Session, me: Somebody | None, in_demo: Sequence[DemoPersonOut]) -> SessionOut:
    """What the sign-in page and every other page begin with; ``in_demo`` is told in demos only."""
    shop = db.scalars(select(Shop)).one()
    return SessionOut(
        shop=shop.name,
        demo=list(in_demo) if shop.demo else [],
        has_owner=people.has_owner(db),
        roles=[
            RoleOut(key=role, in_words=facts.in_words, given=facts.given)
            for role, facts in ROLES.items()
        ],
        me=me
        and SelfOut(
            id=me.id, name=me.name, role=Role(me.role), may=sorted(me.may), token=me.page_token
        ),
    )


def sign_in(db: Session, asked: SignInIn, *, address: str, label: str, old: Somebody | None) -> str:
    """A token for who knows the password; what the browser came with is ended.

    A name and an address that failed too often wait, right or wrong.

    Parameters
    ----------
    db : the session the caller commits.
    asked : what was asked, as it came in.
    address : where it comes from.
    label : what the browser says it is.
    old : the key of a sign-in that this one replaces.
    """
    wait = people.seconds_to_wait(db, asked.name, address)
    if wait:
        minutes = -(-wait // 60)
        raise TooMany(f"Too many attempts; try again in {minutes} min.", wait)
    person = people.by_name(db, asked.name)
    person_id = person.id if person is not None else None
    if not people.is_password_of(db, person_id, asked.password) or person is None:
        people.note_failure(db, asked.name, address)
        db.commit()
        raise NotThem("Name and password do not belong together.")
    people.forget_failures(db, asked.name)
    return _enter(db, person.id, label, old)


def _enter(db: Session, person_id: int, label: str, old: Somebody | None) -> str:
    if old is not None:
        people.end(db, old.id, only=old.sign_in_id)
    request_keys.tidy(db)
    token = people.let_in(db, person_id, label=label)
    db.commit()
    return token


def sign_out(db: Session, me: Somebody) -> None:
    people.end(db, me.id, only=me.sign_in_id)
    db.commit()


def sign_out_everywhere(db: Session, me: Somebody) -> None:
    """End all sign-ins and keys, this one too."""
    people.end(db, me.id)
    people.write_down(db, "sign-ins", "removed", me.id, f"{me.name}, everywhere")
    db.commit()


def _checked(password: str, name: str) -> str:
    if not PASSWORD_LEAST <= len(password) <= PASSWORD_MOST:
        raise InvalidValue(
            "password",
            f"{len(password)} characters",
            f"{PASSWORD_LEAST} to {PASSWORD_MOST} characters",
        )
    if name.lower() in password.lower() or len(set(password)) < PASSWORD_LEAST // 2:
        accepted = "one without your name and with several different characters"
        raise InvalidValue("password", "one that is easily guessed", accepted)
    return password


def change_password(db: Session, me: Somebody, asked: PasswordIn) -> None:
    """A new password; everywhere else one is signed out, keys for programs stay."""
    if not people.is_password_of(db, me.id, asked.old):
        raise InvalidValue("old", "what was given", "your password as it was")
    people.set_password(db, me.id, _checked(asked.new, me.name))
    people.end(db, me.id, kind=people.BROWSER, but=me.sign_in_id)
    people.write_down(db, "passwords", "changed", me.id, me.name)
    db.commit()


def sign_ins(db: Session, me: Somebody) -> list[SignInOut]:
    """Everywhere I am signed in."""
    return [
        SignInOut(
            id=row.id,
            kind=row.kind,
            label=row.label,
            role=row.role and Role(row.role),
            made_at=row.made_at,
            seen_at=row.seen_at,
            here=row.id == me.sign_in_id,
        )
        for row in people.standing(db, me.id)
    ]


def end_sign_in(db: Session, me: Somebody, sign_in_id: int) -> list[SignInOut]:
    if not people.end(db, me.id, only=sign_in_id):
        raise NotFound("sign-in of yours", sign_in_id)
    people.write_down(db, "sign-ins", "removed", me.id, me.name)
    db.commit()
    return sign_ins(db, me)


def make_key(db: Session, me: Somebody, asked: KeyIn) -> KeyOut:
    """A key that acts as me, or as less; only who signed in with a password makes one."""
    if me.kind != people.BROWSER:
        raise NotPermitted("Keys are made by people, not by programs.")
    narrowed = Role.READER if asked.kind == people.CALENDAR else asked.role
    key = people.let_in(db, me.id, kind=asked.kind, label=asked.label, role=narrowed)
    people.write_down(db, "keys", "made", me.id, asked.label)
    db.commit()
    return KeyOut(key=key, sign_ins=sign_ins(db, me))


# Joining


def _standing(db: Session, token: str, *, take: bool = False) -> Invitation:
    found = people.invited_with(db, token, take=take)
    if found is None:
        raise NoInvitation("This invitation does not count any more; ask an owner for a new one.")
    return found


def invitation(db: Session, token: str) -> InvitationOut:
    person = _standing(db, token).person
    shop = db.scalars(select(Shop)).one()
    first = person.role == Role.OWNER and not people.has_owner(db)
    return InvitationOut(name=person.name, role=Role(person.role), shop=shop.name, first=first)


def join(db: Session, asked: JoinIn, *, label: str, old: Somebody | None) -> str:
    """A password for whom the invitation is, who is then signed in; the first names the shop."""
    found = _standing(db, asked.token, take=True)
    person = found.person
    db.info[WRITER] = person.id
    first = person.role == Role.OWNER and not people.has_owner(db)
    if first and asked.name is not None:
        if not people.name_is_free(db, asked.name, but=person.id):
            raise InvalidValue("name", asked.name, "a name nobody else has")
        person.name = asked.name
    if first:
        shop = db.scalars(select(Shop)).one()
        shop.name = asked.shop or shop.name
        shop.place = asked.place or shop.place
        shop.currency = asked.currency or shop.currency
    people.set_password(db, person.id, _checked(asked.password, person.name))
    found.used_at = dt.datetime.now(dt.UTC)
    people.end(db, person.id)
    people.forget_failures(db, person.name)
    people.write_down(db, "passwords", "made", person.id, person.name)
    return _enter(db, person.id, label, old)

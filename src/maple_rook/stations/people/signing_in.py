"""Signing in, joining, the password given again: nothing is held while one is hashed."""

from __future__ import annotations

import datetime as dt
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import NamedTuple, TypeVar

from fastapi.concurrency import run_in_threadpool
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.core.errors import InvalidValue
from maple_rook.http import known_browsers, passwords
from maple_rook.http.hashing import HashingLine
from maple_rook.http.policy import Role, Somebody
from maple_rook.http.problems import Refused, TooMany
from maple_rook.stations.people.schemas import JoinIn, PasswordIn, SignInIn
from maple_rook.stations.people.use_cases import standing_invitation
from maple_rook.store import attempts, people, request_keys, two_step
from maple_rook.store.attempts import Bucket
from maple_rook.store.database import WRITER
from maple_rook.store.signing_keys import KNOWN_BROWSERS, signing_key
from maple_rook.store.tables import Shop

T = TypeVar("T")
_A_MINUTE_S = 60


class NotThem(Refused):
    """A name with a password that is not its own; which of the two is wrong is not said."""

    status, kind, title = 401, "not-them", "Not signed in"


class CodeNeeded(Refused):
    """Name and password belong together; the code of the second step is wanted as well."""

    status, kind, title = 401, "code-needed", "Code needed"


@dataclass(frozen=True)
class Comer:
    """Who comes to the door: from where, with what browser, as whom it was signed in so far."""

    address: str
    label: str
    known: str
    old: Somebody | None


class LetIn(NamedTuple):
    """What the browser is given: the token of the sign-in, and that it is known from now on."""

    token: str
    known: str


@dataclass(frozen=True)
class Door:
    """What signing in needs: sessions that are opened for a moment, and the line for hashing."""

    opener: sessionmaker[Session]
    hashing: HashingLine

    async def look(self, work: Callable[[Session], T], writer: int | None = None) -> T:
        """Do what needs a session, in a thread; ``writer`` is who writes."""

        def looking() -> T:
            with self.opener() as db:
                if writer is not None:
                    db.info[WRITER] = writer
                return work(db)

        return await run_in_threadpool(looking)


class _Begun(NamedTuple):
    person_id: int | None
    hashed: str | None
    buckets: Sequence[Bucket]


async def sign_in(door: Door, asked: SignInIn, comer: Comer) -> LetIn:
    """A sign-in for who knows the password, and has the code where there is a second step.

    The attempt counts as failed from the beginning; what the browser came with is ended.
    """
    with door.hashing.place():
        begun = await door.look(partial(_begin, asked.name, comer))
        fits, better = await door.hashing.run(partial(people.fits, asked.password, begun.hashed))
    if not fits or begun.person_id is None:
        await door.look(partial(_note_failure, begun.person_id, comer.address))
        raise NotThem("Name and password do not match.")
    finish = partial(_finish, begun, asked.code, better, comer)
    return await door.look(finish, begun.person_id)


def _begin(name: str, comer: Comer, db: Session) -> _Begun:
    person = people.by_name(db, name)
    person_id = person.id if person is not None else None
    browser = known_browsers.read(comer.known, signing_key(db, KNOWN_BROWSERS))
    buckets = (
        attempts.by_known_browser(name, browser.number)
        if browser.knows(person_id)
        else attempts.by_stranger(name, comer.address)
    )
    hashed = people.hash_of(db, person_id)
    _count(db, buckets)
    return _Begun(person_id, hashed, buckets)


def _count(db: Session, buckets: Sequence[Bucket]) -> None:
    wait_s = attempts.begin(db, buckets)
    if wait_s:
        wait = f"{-(-wait_s // _A_MINUTE_S)} min" if wait_s > _A_MINUTE_S else f"{wait_s} s"
        raise TooMany(f"Too many attempts; try again in {wait}.", wait_s)


def _note_failure(person_id: int | None, address: str, db: Session) -> None:
    """What was typed for an unknown name is not stored: it may have been a password."""
    name = people.name_of(db, person_id) if person_id is not None else "a name nobody has"
    people.write_down(db, "sign-ins", "failed", person_id or 0, f"{name}, from {address}")
    attempts.tidy(db)
    db.commit()


def _finish(
    begun: _Begun, code: str | None, better: str | None, comer: Comer, db: Session
) -> LetIn:
    """Check the second step, and let in.

    Parameters
    ----------
    begun : what was found of the name.
    code : of the authenticator, or for recovery.
    better : a hash of the password that costs more to guess.
    comer : who comes.
    db : a session; commits.
    """
    person_id = begun.person_id
    assert person_id is not None
    if two_step.is_on(db, person_id):
        if not code:
            attempts.succeeded(db, begun.buckets)
            db.commit()
            raise CodeNeeded(
                "Enter a code from your authenticator app as well, or a recovery code."
            )
        if not two_step.lets_in(db, person_id, code):
            db.rollback()
            db.info.pop(WRITER)  # nobody proved to be them
            _note_failure(person_id, comer.address, db)
            raise NotThem("This code is wrong or has been used already.")
    if better is not None:
        people.keep_hash(db, person_id, better)
    attempts.succeeded(db, begun.buckets)
    return _enter(db, person_id, comer)


def _enter(db: Session, person_id: int, comer: Comer) -> LetIn:
    if comer.old is not None:
        people.end(db, comer.old.id, only=comer.old.sign_in_id)
    request_keys.tidy(db)
    token = people.let_in(db, person_id, label=comer.label)
    named = f"{people.name_of(db, person_id)}, from {comer.address}"
    people.write_down(db, "sign-ins", "made", person_id, named)
    db.commit()
    key = signing_key(db, KNOWN_BROWSERS)
    browser = known_browsers.read(comer.known, key).with_person(person_id)
    return LetIn(token, known_browsers.written(browser, key))


# The password given again


async def confirm(door: Door, me: Somebody, password: str) -> None:
    """The password counts as given lately in this browser."""
    await _know(door, me, password, "password")

    def keep(db: Session) -> None:
        people.confirm(db, me.sign_in_id)
        db.commit()

    await door.look(keep, me.id)


async def change_password(door: Door, me: Somebody, asked: PasswordIn) -> None:
    """A new password; everywhere else one is signed out, keys for programs stay."""
    await _know(door, me, asked.old, "old")
    shop = await door.look(_shop_name)
    new = passwords.checked(asked.new, me.name, shop)
    with door.hashing.place():
        hashed = await door.hashing.run(partial(people.hashed, new))

    def keep(db: Session) -> None:
        people.keep_hash(db, me.id, hashed)
        people.confirm(db, me.sign_in_id)
        people.end(db, me.id, kind=people.BROWSER, but=me.sign_in_id)
        people.write_down(db, "passwords", "changed", me.id, me.name)
        db.commit()

    await door.look(keep, me.id)


async def _know(door: Door, me: Somebody, password: str, field: str) -> None:
    """Refuse a wrong password; guessing it is no quicker here than at the door.

    Parameters
    ----------
    door : sessions, and the line for hashing.
    me : who is signed in.
    password : what was given.
    field : what it is called in the request.
    """
    buckets = attempts.by_person(me.id)

    def begin(db: Session) -> str | None:
        hashed = people.hash_of(db, me.id)
        _count(db, buckets)
        return hashed

    with door.hashing.place():
        hashed = await door.look(begin)
        fits, _ = await door.hashing.run(partial(people.fits, password, hashed))

    def finish(db: Session) -> None:
        if fits:
            attempts.succeeded(db, buckets)
        else:
            people.write_down(db, "passwords", "failed", me.id, me.name)
        db.commit()

    await door.look(finish, me.id)
    if not fits:
        raise InvalidValue(field, "what was given", "your password as it is")


# Joining


async def join(door: Door, asked: JoinIn, comer: Comer) -> LetIn:
    """Set the invited person's password and sign them in; the first person also names the shop."""

    def known_words(db: Session) -> tuple[str, str]:
        person = standing_invitation(db, asked.token).person
        return asked.name or person.name, asked.shop or _shop_name(db)

    with door.hashing.place():
        password = passwords.checked(asked.password, *await door.look(known_words))
        hashed = await door.hashing.run(partial(people.hashed, password))
    return await door.look(partial(_joined, asked, hashed, comer))


def _joined(asked: JoinIn, hashed: str, comer: Comer, db: Session) -> LetIn:
    found = standing_invitation(db, asked.token, take=True)
    person = found.person
    db.info[WRITER] = person.id
    first = person.role == Role.OWNER and not people.has_owner(db)
    if first and asked.name is not None:
        if not people.name_is_free(db, asked.name, but=person.id):
            raise InvalidValue("name", asked.name, "a name nobody else has, nor one like it")
        person.name = asked.name
    if first:
        shop = db.scalars(select(Shop)).one()
        shop.name = asked.shop or shop.name
        shop.place = asked.place or shop.place
        shop.currency = asked.currency or shop.currency
    people.keep_hash(db, person.id, hashed)
    two_step.end(db, person.id)
    found.used_at = dt.datetime.now(dt.UTC)
    people.end(db, person.id)
    people.write_down(db, "passwords", "made", person.id, person.name)
    return _enter(db, person.id, comer)


def _shop_name(db: Session) -> str:
    return db.scalars(select(Shop.name)).one()

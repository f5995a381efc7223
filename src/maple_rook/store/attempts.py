"""Attempts to prove who one is: each counts as failed from its beginning, until it succeeds.

So many at once are counted one after the other, before any password is hashed. After a few free
ones each has to wait twice as long as the one before.
"""

from __future__ import annotations

import datetime as dt
import ipaddress
from collections.abc import Sequence
from typing import NamedTuple

from sqlalchemy import Float, case, cast, delete, func, literal, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.store.people import sha256
from maple_rook.store.people_tables import SignInAttempts

FREE, FREE_BY_NAME, FREE_BY_ADDRESS = 5, 20, 30
"""Failed attempts before one has to wait: of a name at an address, anywhere, and at an address."""
LONGEST, LONGEST_BY_NAME = dt.timedelta(minutes=15), dt.timedelta(minutes=1)
COUNTED_FOR = dt.timedelta(hours=1)
"""After so long without an attempt they are counted again."""
KEPT_FOR = dt.timedelta(days=1)
_V6_NETWORK, _DOUBLED = 64, 20
_now = func.clock_timestamp


class Bucket(NamedTuple):
    """What attempts are counted by; ``own`` is emptied by success, others take the one back."""

    key: bytes
    free: int
    longest: dt.timedelta
    own: bool = True


def _key(*parts: str) -> bytes:
    return sha256("\0".join(parts))


def by_stranger(name: str, address: str) -> list[Bucket]:
    """A name given at an address: by both, by the name wherever it is given, by the address."""
    name, network = name.casefold(), _network(address)
    return [
        Bucket(_key("name at", name, network), FREE, LONGEST),
        Bucket(_key("name", name), FREE_BY_NAME, LONGEST_BY_NAME, own=False),
        Bucket(_key("address", network), FREE_BY_ADDRESS, LONGEST, own=False),
    ]


def by_known_browser(name: str, browser: str) -> list[Bucket]:
    """A name given in a browser that was signed in with it before: strangers do not count."""
    return [Bucket(_key("browser", browser, name.casefold()), FREE, LONGEST)]


def by_person(person_id: int) -> list[Bucket]:
    """Somebody signed in who is asked for the password again."""
    return [Bucket(_key("person", str(person_id)), FREE, LONGEST)]


def _network(address: str) -> str:
    """An address of version 4, or the network of 64 bits that one customer has of version 6."""
    try:
        found = ipaddress.ip_address(address)
    except ValueError:
        return address
    if found.version == 4:
        return str(found)
    mapped = found.ipv4_mapped if isinstance(found, ipaddress.IPv6Address) else None
    return str(mapped or ipaddress.ip_network((int(found), _V6_NETWORK), strict=False))


def begin(db: Session, buckets: Sequence[Bucket]) -> int:
    """Count an attempt and commit; seconds to wait where it is not looked at, else 0.

    One that is not looked at is not counted.
    """
    for bucket in sorted(buckets):
        new = insert(SignInAttempts).values(
            bucket=bucket.key, failures=1, last_at=_now(), next_at=_now()
        )
        failures = case(
            (SignInAttempts.last_at < _now() - COUNTED_FOR, 1), else_=SignInAttempts.failures + 1
        )
        over = func.least(failures - bucket.free, _DOUBLED)
        longest_s = bucket.longest.total_seconds()
        wait_s = case((over < 0, 0.0), else_=func.least(func.power(2.0, over), longest_s))
        counted = db.execute(
            new.on_conflict_do_update(
                index_elements=[SignInAttempts.bucket],
                set_={
                    "failures": failures,
                    "last_at": _now(),
                    "next_at": _now() + func.make_interval(0, 0, 0, 0, 0, 0, cast(wait_s, Float)),
                },
                where=SignInAttempts.next_at <= _now(),
            ).returning(literal(1))
        ).first()
        if counted is None:
            db.rollback()
            return _wait_s(db, buckets)
    db.commit()
    return 0


def _wait_s(db: Session, buckets: Sequence[Bucket]) -> int:
    last = db.scalar(
        select(func.extract("epoch", func.max(SignInAttempts.next_at) - _now())).where(
            SignInAttempts.bucket.in_([bucket.key for bucket in buckets])
        )
    )
    return max(1, round(last or 0))


def succeeded(db: Session, buckets: Sequence[Bucket]) -> None:
    """Take the attempt back; the caller commits."""
    for bucket in sorted(buckets):
        mine = SignInAttempts.bucket == bucket.key
        if bucket.own:
            db.execute(delete(SignInAttempts).where(mine))
        else:
            less = func.greatest(SignInAttempts.failures - 1, 0)
            db.execute(update(SignInAttempts).where(mine).values(failures=less, next_at=_now()))
    tidy(db)


def tidy(db: Session) -> None:
    """Forget what is older than :data:`KEPT_FOR`."""
    db.execute(delete(SignInAttempts).where(SignInAttempts.last_at < _now() - KEPT_FOR))

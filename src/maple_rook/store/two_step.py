"""The second step of signing in: a code of an authenticator (RFC 6238), or a recovery code."""

from __future__ import annotations

import datetime as dt
import re
import secrets

import pyotp
from sqlalchemy import delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.store.people import sha256
from maple_rook.store.people_tables import RecoveryCode, TwoStep

CODES = 10
STEP_S, STEPS_APART = 30, 1
"""A code counts for its own half minute and the ones beside it: clocks differ."""
_LETTERS = "ABCDEFGHJKMNPQRSTVWXYZ23456789"
_HALF = 5


def is_on(db: Session, person_id: int) -> bool:
    return since(db, person_id) is not None


def since(db: Session, person_id: int) -> dt.datetime | None:
    """Since when a person signs in in two steps."""
    return db.scalar(select(TwoStep.confirmed_at).where(TwoStep.person_id == person_id))


def codes_left(db: Session, person_id: int) -> int:
    unused = (RecoveryCode.person_id == person_id, RecoveryCode.used_at.is_(None))
    return db.scalar(select(func.count()).select_from(RecoveryCode).where(*unused)) or 0


def begin(db: Session, person_id: int) -> str:
    """A new secret to share with an authenticator; it counts once :func:`confirmed`."""
    secret = pyotp.random_base32()
    fresh = {"secret": secret, "last_step": 0, "confirmed_at": None}
    db.execute(
        insert(TwoStep)
        .values(person_id=person_id, **fresh)
        .on_conflict_do_update(index_elements=[TwoStep.person_id], set_=fresh)
    )
    return secret


def address(secret: str, name: str, shop: str) -> str:
    """What an authenticator reads from a QR code."""
    return pyotp.TOTP(secret, interval=STEP_S).provisioning_uri(name=name, issuer_name=shop)


def confirmed(db: Session, person_id: int, code: str) -> list[str] | None:
    """Recovery codes, once the authenticator shows the right code; None where it does not."""
    row = _locked(db, person_id)
    if row is None or not _is_code(row, code):
        return None
    row.confirmed_at = dt.datetime.now(dt.UTC)
    return new_codes(db, person_id)


def new_codes(db: Session, person_id: int) -> list[str]:
    """Recovery codes in the place of those before; they are shown once and kept as hashes."""
    db.execute(delete(RecoveryCode).where(RecoveryCode.person_id == person_id))
    found = []
    for _ in range(CODES):
        halves = ("".join(secrets.choice(_LETTERS) for _ in range(_HALF)) for _ in range(2))
        found.append("-".join(halves))
    db.add_all(RecoveryCode(person_id=person_id, code_sha256=_digest(code)) for code in found)
    return found


def lets_in(db: Session, person_id: int, code: str) -> bool:
    """Whether a code of the authenticator, or one for recovery, is right and was not used yet.

    It is used from then on; the caller commits.
    """
    row = _locked(db, person_id)
    if row is not None and row.confirmed_at is not None and _is_code(row, code):
        return True
    used = db.execute(
        update(RecoveryCode)
        .where(
            RecoveryCode.person_id == person_id,
            RecoveryCode.code_sha256 == _digest(code),
            RecoveryCode.used_at.is_(None),
        )
        .values(used_at=func.now())
        .returning(RecoveryCode.id)
    )
    return used.first() is not None


def end(db: Session, person_id: int) -> None:
    """One step is enough again."""
    db.execute(delete(TwoStep).where(TwoStep.person_id == person_id))
    db.execute(delete(RecoveryCode).where(RecoveryCode.person_id == person_id))


def _locked(db: Session, person_id: int) -> TwoStep | None:
    return db.get(TwoStep, person_id, with_for_update=True, populate_existing=True)


def _is_code(row: TwoStep, code: str) -> bool:
    """Whether it is the code of a step later than the last that let somebody in; then that is."""
    plain = re.sub(r"\s", "", code)
    totp = pyotp.TOTP(row.secret, interval=STEP_S)
    now = totp.timecode(dt.datetime.now(dt.UTC))
    for step in range(now - STEPS_APART, now + STEPS_APART + 1):
        if step > row.last_step and pyotp.utils.strings_equal(totp.generate_otp(step), plain):
            row.last_step = step
            return True
    return False


def _digest(code: str) -> bytes:
    return sha256(re.sub(r"[\s-]", "", code).upper())

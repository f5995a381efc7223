"""Keys of the shop's own, each made when it is first needed and the same for every process."""

from __future__ import annotations

import secrets

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.store.people_tables import SigningKey

KNOWN_BROWSERS = "known browsers"
_BYTES = 32


def signing_key(db: Session, purpose: str) -> bytes:
    """The key for a purpose; commits where it is made."""
    query = select(SigningKey.secret).where(SigningKey.purpose == purpose)
    found = db.scalar(query)
    if found is None:
        new = insert(SigningKey).values(purpose=purpose, secret=secrets.token_bytes(_BYTES))
        db.execute(new.on_conflict_do_nothing())
        db.commit()
        found = db.scalars(query).one()
    return found

"""Requests that create, by the key their writer made: each is done once, however often it is sent.

The key is written in the same transaction as what the request creates, so that either both are
there or neither is. A second request with the key waits for the first one's transaction.
"""

from __future__ import annotations

import datetime as dt
import uuid
from dataclasses import dataclass

from sqlalchemy import Connection, delete, func, select, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.core.errors import MapleRookError
from maple_rook.store.people_tables import RequestKey

KEPT_FOR = dt.timedelta(hours=24)
MOST_ANSWER = 1_000_000


@dataclass
class Asked:
    """One request; ``written`` once its key is in the database or about to be.

    Where it ``keeps`` no answer, who asks again is told that it was done.
    """

    person_id: int
    key: uuid.UUID
    sha256: bytes
    keeps: bool = True
    written: bool = False


class AlreadyAsked(MapleRookError):
    """The key is in the database: the request was done before."""

    def __init__(self, asked: Asked) -> None:
        super().__init__("This was done already; its answer was lost.")
        self.asked = asked


def write(connection: Connection, asked: Asked) -> None:
    """Write the key into the transaction that begins."""
    row = {"person_id": asked.person_id, "key": asked.key, "asked_sha256": asked.sha256}
    known = insert(RequestKey).values(row).on_conflict_do_nothing().returning(RequestKey.key)
    if connection.execute(known).first() is None and not asked.written:
        raise AlreadyAsked(asked)
    asked.written = True


def keep_answer(db: Session, asked: Asked, status: int, media_type: str, answer: bytes) -> None:
    """Keep what was answered, for who asks again.

    Parameters
    ----------
    db : the session the caller commits.
    asked : what was asked, as it came in.
    status : of the answer.
    media_type : of the answer.
    answer : its bytes.
    """
    if len(answer) <= MOST_ANSWER:
        db.execute(
            update(RequestKey)
            .where(RequestKey.person_id == asked.person_id, RequestKey.key == asked.key)
            .values(status=status, media_type=media_type, answer=answer)
        )
        db.commit()


def kept(db: Session, asked: Asked) -> RequestKey | None:
    return db.scalars(
        select(RequestKey).where(
            RequestKey.person_id == asked.person_id, RequestKey.key == asked.key
        )
    ).one_or_none()


def tidy(db: Session) -> None:
    """Forget keys older than :data:`KEPT_FOR`."""
    db.execute(delete(RequestKey).where(RequestKey.recorded_at < func.now() - KEPT_FOR))

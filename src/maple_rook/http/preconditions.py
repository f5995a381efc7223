"""Two people, one row: who changes it says which version they saw (RFC 9110, If-Match)."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from typing import Annotated

from fastapi import Depends, Header
from sqlalchemy import inspect, text
from sqlalchemy.orm import Session

from maple_rook.http.problems import Refused
from maple_rook.store.tables import Base


class NoVersion(Refused):
    """An edit that does not say what it saw."""

    status, kind, title = 428, "version-needed", "Which version?"


class Changed(Refused):
    """Somebody else changed it since it was seen."""

    status, kind, title = 412, "changed-meanwhile", "Changed meanwhile"


def version(*rows: Base | None) -> str:
    """An entity tag of rows as they are kept: another one as soon as any column differs."""
    return tag_of(
        *(
            row and [(c.key, str(getattr(row, c.key))) for c in inspect(type(row)).columns]
            for row in rows
        )
    )


def tag_of(*values: object) -> str:
    """An entity tag of what is kept otherwise than as rows."""
    digest = hashlib.sha256("\n".join(repr(value) for value in values).encode())
    return f'"{digest.hexdigest()[:20]}"'


def alone(db: Session, of: type[Base]) -> None:
    """Lock out other writers of versions until this transaction ends."""
    db.execute(text(f"LOCK TABLE {of.__tablename__} IN SHARE ROW EXCLUSIVE MODE"))


@dataclass(frozen=True)
class IfMatch:
    """The tags an edit was sent with."""

    tags: tuple[str, ...]

    def check(self, *rows: Base | None) -> None:
        """Refuse the edit where what is kept is not what was seen."""
        self.check_tag(version(*rows))

    def check_tag(self, now: str) -> None:
        if "*" not in self.tags and now not in self.tags:
            raise Changed("Somebody changed this since you opened it; reload it first.")


async def _if_match(
    if_match: Annotated[str | None, Header(alias="If-Match", max_length=400)] = None,
) -> IfMatch:
    if not if_match:
        raise NoVersion("Say which version you saw: send its entity tag as If-Match.")
    return IfMatch(tuple(tag.strip() for tag in if_match.split(",")))


async def _maybe(
    if_match: Annotated[str | None, Header(alias="If-Match", max_length=400)] = None,
) -> IfMatch | None:
    return await _if_match(if_match) if if_match else None


Seen = Annotated[IfMatch, Depends(_if_match)]
SeenIfThere = Annotated[IfMatch | None, Depends(_maybe)]
"""For what is made or changed by the same request."""

"""An amendment written down with its changes, whatever was corrected."""

from __future__ import annotations

from sqlalchemy.orm import Session

from maple_rook.http.policy import Somebody
from maple_rook.stations.mending.schemas import MendedOut
from maple_rook.store.amendments import Act, Amendment, Changes, Subject


def written(
    db: Session,
    person: Somebody,
    act: Act,
    about: Subject,
    about_id: int,
    named: str,
    changes: Changes,
    reason: str = "",
) -> MendedOut:
    """Write an amendment down with its changes, and commit; nothing where nothing is other.

    Parameters
    ----------
    db : the session, whose rows were changed.
    person : who did it.
    act, about, about_id, named : what was done, to what.
    changes : the rows.
    reason : why, in the person's words.
    """
    if not changes.rows:
        db.rollback()
        return MendedOut(amendment_id=None)
    row = Amendment(
        act=act.value,
        about=about.value,
        about_id=about_id,
        named=named[:200],
        reason=reason,
        changes=[change._asdict() for change in changes.rows],
        person_id=person.id,
    )
    db.add(row)
    db.commit()
    return MendedOut(amendment_id=row.id)

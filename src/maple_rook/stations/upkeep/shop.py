"""The workshop: spacers, stones, rate and limits; every version stays in the record."""

from __future__ import annotations

from dataclasses import asdict

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, alone, version
from maple_rook.stations.upkeep.schemas import LimitsIO, SpacerIO, StoneIO, WorkshopIn, WorkshopOut
from maple_rook.store import upkeep
from maple_rook.store.tables import Shop
from maple_rook.store.upkeep_tables import WorkshopSet


def shown(db: Session) -> WorkshopOut:
    newest, now = upkeep.newest_workshop(db), upkeep.workshop(db)
    return WorkshopOut(
        etag=version(newest),
        version=newest.id if newest else None,
        person=newest.person.name if newest else "",
        recorded_at=newest.recorded_at if newest else None,
        spacers=[SpacerIO(**asdict(s)) for s in now.spacers],
        stones=[StoneIO(**asdict(s)) for s in now.stones],
        hourly_rate=now.hourly_rate,
        limits=LimitsIO(**asdict(now.limits)),
        sharpening_charge=now.sharpening_charge,
        currency=db.scalars(select(Shop)).one().currency,
    )


def change(db: Session, person: Somebody, asked: WorkshopIn, seen: IfMatch) -> WorkshopOut:
    """A new version; refused where another was set since the one that was seen."""
    alone(db, WorkshopSet)
    seen.check(upkeep.newest_workshop(db))
    stored = upkeep.stored_workshop(asked.core())
    db.add(WorkshopSet(workshop=stored, person_id=person.id))
    db.commit()
    return shown(db)

"""The coefficients of the edge-life models: as they stand, changed, and every version kept."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.measurement.coefficients import ABOUT, PUBLISHED, coefficients
from maple_rook.core.prediction.model_cards import card
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, alone, version
from maple_rook.stations.office.schemas import (
    CoefficientOut,
    CoefficientsIn,
    CoefficientsOut,
    SetOut,
)
from maple_rook.store.trial_tables import CoefficientSet
from maple_rook.store.trials import coefficients_of, newest_set


def listed(db: Session) -> CoefficientsOut:
    newest = newest_set(db)
    now = coefficients_of(newest)
    rows = db.scalars(
        select(CoefficientSet)
        .options(joinedload(CoefficientSet.person))
        .order_by(CoefficientSet.id.desc())
    )
    return CoefficientsOut(
        etag=version(newest),
        version=newest.id if newest else None,
        coefficients=[
            CoefficientOut(
                key=key,
                label=about.label,
                unit=about.unit,
                card=about.card,
                card_name=card(about.card).name,
                low=about.low,
                high=about.high,
                value=getattr(now, key),
                published=getattr(PUBLISHED, key),
            )
            for key, about in ABOUT.items()
        ],
        history=[
            SetOut(
                version=row.id,
                recorded_at=row.recorded_at,
                person=row.person.name,
                note=row.note,
                changes=row.changes,
            )
            for row in rows
        ],
    )


def set_coefficients(
    db: Session, person: Somebody, asked: CoefficientsIn, seen: IfMatch
) -> CoefficientsOut:
    """A new version; refused where another was set since the one that was seen."""
    alone(db, CoefficientSet)
    seen.check(newest_set(db))
    coefficients(asked.changes)
    differs = {k: v for k, v in asked.changes.items() if v != getattr(PUBLISHED, k)}
    db.add(CoefficientSet(changes=differs, note=asked.note, person_id=person.id))
    db.commit()
    return listed(db)

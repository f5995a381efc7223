"""Office: coefficients with their history."""

from __future__ import annotations

from fastapi import APIRouter

from maple_rook.http.access import CurrentPerson, Db
from maple_rook.http.preconditions import Seen
from maple_rook.stations.office import use_cases
from maple_rook.stations.office.schemas import CoefficientsIn, CoefficientsOut

router = APIRouter(prefix="/coefficients", tags=["office"])


@router.get("")
def listed(db: Db, _: CurrentPerson) -> CoefficientsOut:
    """The coefficients as they stand, as published, and every version."""
    return use_cases.listed(db)


@router.post("", status_code=201)
def set_coefficients(
    db: Db, person: CurrentPerson, seen: Seen, asked: CoefficientsIn
) -> CoefficientsOut:
    """Set a new version; every version stays in the record."""
    return use_cases.set_coefficients(db, person, asked, seen)

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query

from maple_rook.http.access import CurrentPerson, Db
from maple_rook.stations.steels import use_cases
from maple_rook.stations.steels.schemas import (
    CarbidesOut,
    CompositionIn,
    ConvertedOut,
    GradeIn,
    GradeOut,
    SteelsOut,
)

router = APIRouter(prefix="/steels", tags=["steels"])


@router.get("")
def steels(
    db: Db, _: CurrentPerson, search: Annotated[str, Query(max_length=120)] = ""
) -> SteelsOut:
    """Grades by words and conditions such as Cr>13 or HRC>=60."""
    return use_cases.listed(db, search)


@router.post("", status_code=201)
def add_grade(db: Db, _: CurrentPerson, asked: GradeIn) -> GradeOut:
    """Enter a grade of the shop's own."""
    return use_cases.add(db, asked)


@router.post("/estimate")
def estimate_carbides(_: CurrentPerson, asked: CompositionIn) -> CarbidesOut:
    """Carbide volumes a composition leaves, with their interval; nothing is stored."""
    return use_cases.estimate(asked)


@router.get("/hardness")
def convert_hardness(
    _: CurrentPerson,
    value: Annotated[float, Query(allow_inf_nan=False)],
    unit: Literal["HRC", "HV", "mm"] = "HRC",
) -> ConvertedOut:
    """A hardness, or the depth the cone left, in both scales, and what follows from it."""
    return use_cases.converted(value, unit)

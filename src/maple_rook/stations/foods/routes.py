from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path

from maple_rook.http.access import CurrentPerson, Db
from maple_rook.http.preconditions import Seen
from maple_rook.stations.foods import use_cases
from maple_rook.stations.foods.schemas import FoodIn, FoodsOut

router = APIRouter(prefix="/foods", tags=["foods"])
FoodKey = Annotated[str, Path(pattern=r"^[a-z][a-z0-9_]{0,39}$")]


@router.get("")
def foods(db: Db, _: CurrentPerson) -> FoodsOut:
    """The foods predictions are made for."""
    return use_cases.listed(db)


@router.post("", status_code=201)
def add_food(db: Db, _: CurrentPerson, asked: FoodIn) -> FoodsOut:
    """Add a food of the shop's own."""
    return use_cases.add(db, asked)


@router.put("/{key}")
def change_food(db: Db, _: CurrentPerson, seen: Seen, key: FoodKey, asked: FoodIn) -> FoodsOut:
    """Change how a food resists."""
    return use_cases.change(db, key, asked, seen)


@router.delete("/{key}")
def drop_food(db: Db, _: CurrentPerson, seen: Seen, key: FoodKey) -> FoodsOut:
    """Take a food off the list."""
    return use_cases.drop(db, key, seen)


@router.post("/restore")
def restore_foods(db: Db, _: CurrentPerson) -> FoodsOut:
    """Back to the set the application ships with."""
    return use_cases.restore(db)

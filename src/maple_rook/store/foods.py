"""The shop's foods: the shipped set until somebody changes one."""

from __future__ import annotations

from dataclasses import fields
from functools import lru_cache
from typing import Any

from sqlalchemy import delete, select, text
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS, Food
from maple_rook.core.errors import InvalidValue
from maple_rook.store.tables import ShopFood

MOST_FOODS = 12
_FIELDS = tuple(f.name for f in fields(Food) if f.name not in ("spread", "knives_tried"))
"""What a shop says of a food; how well it is known follows from trials."""


def shop_foods(db: Session) -> tuple[Food, ...]:
    """The foods predictions are made for, in the shop's order."""
    columns = [getattr(ShopFood, name) for name in _FIELDS]
    rows = db.execute(select(*columns).order_by(ShopFood.place, ShopFood.key)).all()
    return _as_foods(tuple(tuple(row) for row in rows)) if rows else tuple(FOODS.values())


@lru_cache(maxsize=8)
def _as_foods(rows: tuple[tuple[object, ...], ...]) -> tuple[Food, ...]:
    """The same rows give the same foods, so that what is kept by food is found again."""
    return tuple(Food(*row) for row in rows)  # type: ignore[arg-type]


def estimated_foods(db: Session) -> set[str]:
    """Keys of the foods of which an upgrade estimated what the shop had not said."""
    return set(db.scalars(select(ShopFood.key).where(ShopFood.estimated)))


def keep_food(db: Session, food: Food) -> None:
    """Change a food or add one at the end."""
    foods = {f.key: f for f in shop_foods(db)}
    if food.key not in foods and len(foods) >= MOST_FOODS:
        raise InvalidValue("foods", f"{len(foods) + 1} foods", f"at most {MOST_FOODS}")
    _write(db, {**foods, food.key: food}, estimated_foods(db) - {food.key})


def drop_food(db: Session, key: str) -> None:
    """Take a food off the list; one has to stay."""
    foods = {f.key: f for f in shop_foods(db)}
    if key not in foods:
        raise InvalidValue("food", key, ", ".join(foods))
    if len(foods) == 1:
        raise InvalidValue("foods", "no food left", "one food or more")
    _write(db, {k: f for k, f in foods.items() if k != key}, estimated_foods(db))


def restore_foods(db: Session) -> None:
    """Back to the shipped set."""
    db.execute(delete(ShopFood))


def lock(db: Session) -> None:
    """Lock out other writers of foods until this transaction ends."""
    db.execute(text("LOCK TABLE foods IN SHARE ROW EXCLUSIVE MODE"))


def _said(food: Food) -> dict[str, Any]:
    return {name: getattr(food, name) for name in _FIELDS}


def _write(db: Session, foods: dict[str, Food], estimated: set[str]) -> None:
    lock(db)
    db.execute(delete(ShopFood).where(ShopFood.key.not_in(foods)))
    for n, food in enumerate(foods.values()):
        db.merge(ShopFood(**_said(food), place=n, estimated=food.key in estimated))
    db.flush()

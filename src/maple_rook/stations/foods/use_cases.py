"""Keep the shop's foods: change, add, drop, and back to the shipped set."""

from __future__ import annotations

import re

from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.errors import InvalidValue
from maple_rook.http.preconditions import IfMatch, tag_of
from maple_rook.stations.foods.schemas import FoodIn, FoodOut, FoodsOut
from maple_rook.store import foods as food_store


def listed(db: Session) -> FoodsOut:
    now = food_store.shop_foods(db)
    guessed = food_store.estimated_foods(db)
    return FoodsOut(
        foods=[FoodOut.of(f, estimated=f.key in guessed) for f in now],
        as_shipped=now == tuple(FOODS.values()),
    )


def add(db: Session, asked: FoodIn) -> FoodsOut:
    """The key is made from the label."""
    key = re.sub(r"[^a-z0-9]+", "_", asked.label.lower()).strip("_")[:40]
    if not key or not key[0].isalpha():
        raise InvalidValue("label", asked.label, "a name that begins with a letter a to z")
    if any(f.key == key for f in food_store.shop_foods(db)):
        raise InvalidValue("label", asked.label, "a name no other food has")
    food_store.keep_food(db, asked.core(key))
    db.commit()
    return listed(db)


def change(db: Session, key: str, asked: FoodIn, seen: IfMatch) -> FoodsOut:
    _as_seen(db, key, seen)
    food_store.keep_food(db, asked.core(key))
    db.commit()
    return listed(db)


def _as_seen(db: Session, key: str, seen: IfMatch) -> None:
    """Refuse if the food does not exist or has changed; other writers wait meanwhile."""
    food_store.lock(db)
    foods = {f.key: f for f in food_store.shop_foods(db)}
    if key not in foods:
        raise InvalidValue("food", key, ", ".join(foods))
    seen.check_tag(tag_of(foods[key]))


def drop(db: Session, key: str, seen: IfMatch) -> FoodsOut:
    _as_seen(db, key, seen)
    food_store.drop_food(db, key)
    db.commit()
    return listed(db)


def restore(db: Session) -> FoodsOut:
    food_store.restore_foods(db)
    db.commit()
    return listed(db)

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Self

from pydantic import BaseModel, Field

from maple_rook.core.cutting.force import FOODS, Food
from maple_rook.http.preconditions import tag_of
from maple_rook.http.schemas import ShortText, Strict


class FoodIn(Strict):
    """How a food resists; the ranges refuse what no food is."""

    label: ShortText
    toughness_j_m2: Annotated[float, Field(ge=1, le=20_000)]
    blunting_um: Annotated[float, Field(ge=0.1, le=1000)]
    stiffness_n_mm3: Annotated[float, Field(ge=0, le=5)]
    friction: Annotated[float, Field(ge=0, le=2)]
    height_mm: Annotated[float, Field(ge=2, le=300)]
    width_mm: Annotated[float, Field(ge=2, le=300)]

    def core(self, key: str) -> Food:
        return Food(key, *(getattr(self, name) for name in type(self).model_fields))


class FoodOut(BaseModel):
    """A food; ``changed`` from how it was shipped, or the shop's ``own``."""

    key: str
    label: str
    toughness_j_m2: float
    blunting_um: float
    stiffness_n_mm3: float
    friction: float
    height_mm: float
    width_mm: float
    changed: bool
    own: bool
    etag: str

    @classmethod
    def of(cls, food: Food) -> Self:
        shipped = FOODS.get(food.key)
        return cls(
            **asdict(food),
            changed=shipped is not None and shipped != food,
            own=shipped is None,
            etag=tag_of(food),
        )


class FoodsOut(BaseModel):
    foods: list[FoodOut]
    as_shipped: bool

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated, Self

from pydantic import BaseModel, Field

from maple_rook.core.cutting.foods import FOODS, Food
from maple_rook.http.preconditions import tag_of
from maple_rook.http.schemas import ShortText, Strict


class FoodIn(Strict):
    """How a food resists; the ranges refuse what no food is."""

    label: ShortText
    toughness_j_m2: Annotated[float, Field(ge=1, le=20_000)]
    blunting_um: Annotated[float, Field(ge=0.1, le=1000)]
    modulus_mpa: Annotated[float, Field(ge=0, le=50)]
    crush_mpa: Annotated[float, Field(ge=0, le=50)]
    crush_mm: Annotated[float, Field(ge=0.05, le=20)]
    stiffness_n_mm3: Annotated[float, Field(ge=0, le=5)]
    friction: Annotated[float, Field(ge=0, le=2)]
    adhesion_kpa: Annotated[float, Field(ge=0, le=50)]
    height_mm: Annotated[float, Field(ge=2, le=300)]
    width_mm: Annotated[float, Field(ge=2, le=300)]
    slice_stiffness: Annotated[float, Field(ge=0.01, le=1)]

    def core(self, key: str) -> Food:
        return Food(key, *(getattr(self, name) for name in type(self).model_fields))


class FoodOut(BaseModel):
    """A food; ``changed`` from how it was shipped, or the shop's ``own``.

    ``estimated`` where an upgrade took what the shop had not said from a food like it.
    """

    key: str
    label: str
    toughness_j_m2: float
    blunting_um: float
    modulus_mpa: float
    crush_mpa: float
    crush_mm: float
    stiffness_n_mm3: float
    friction: float
    adhesion_kpa: float
    height_mm: float
    width_mm: float
    slice_stiffness: float
    changed: bool
    own: bool
    estimated: bool
    etag: str

    @classmethod
    def of(cls, food: Food, *, estimated: bool) -> Self:
        shipped = FOODS.get(food.key)
        return cls(
            **asdict(food),
            changed=shipped is not None and shipped != food,
            own=shipped is None,
            estimated=estimated,
            etag=tag_of(food),
        )


class FoodsOut(BaseModel):
    foods: list[FoodOut]
    as_shipped: bool

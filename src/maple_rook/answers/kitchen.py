"""The kitchen a prediction is for, as a query string chooses it."""

from __future__ import annotations

from typing import Annotated, Self

from fastapi import Depends, Query
from pydantic import StringConstraints

from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    EdgeState,
    FoodMix,
    Kitchen,
    RodSchool,
    Technique,
    Use,
)
from maple_rook.http.schemas import Strict
from maple_rook.store.foods import MOST_FOODS

_PART = r"^[a-z][a-z0-9_]{0,39}:[0-9]{1,2}([.][0-9]{1,2})?$"
Shares = Annotated[
    tuple[Annotated[str, StringConstraints(pattern=_PART)], ...], Query(max_length=MOST_FOODS)
]


async def chosen_kitchen(
    use: Use = Use.HOME,
    board: BoardMaterial = BoardMaterial.WOOD,
    technique: Technique = Technique.NORMAL,
    honed: bool = True,
    food_mix: FoodMix = FoodMix.ALL_ROUND,
    edge: EdgeState = EdgeState.FRESH,
    share: Shares = (),
    rods: RodSchool = RodSchool.NONE,
) -> Kitchen:
    """The kitchen that a query string chooses.

    Parameters
    ----------
    use : how hard the edge is used.
    board : what is cut on.
    technique : the hand's.
    honed : whether the edge is honed.
    food_mix : what is mostly cut.
    edge : state of the edge.
    share : parts of foods, key:parts each; they go before ``food_mix``.
    rods : school of rods followed.
    """
    parts = (text.split(":") for text in share)
    shares = tuple(sorted((key, float(part)) for key, part in parts if float(part) > 0))
    return Kitchen(use, board, technique, honed, food_mix, edge, shares, rods=rods)


ChosenKitchen = Annotated[Kitchen, Depends(chosen_kitchen)]


class KitchenOfTrial(Strict):
    """The kitchen of a log."""

    use: Use = Use.HOME
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    honed: bool = True

    def core(self) -> Kitchen:
        return Kitchen(
            self.use, self.board, self.technique, self.honed, FoodMix.ALL_ROUND, EdgeState.FRESH
        )

    @classmethod
    def of(cls, kitchen: Kitchen) -> Self:
        return cls(
            use=kitchen.use, board=kitchen.board, technique=kitchen.technique, honed=kitchen.honed
        )

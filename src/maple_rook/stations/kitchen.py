"""The kitchen a prediction is for, as a query string chooses it."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends

from maple_rook.core.retention import BoardMaterial, Kitchen, Technique, Use


async def chosen_kitchen(
    use: Use = Use.HOME,
    board: BoardMaterial = BoardMaterial.WOOD,
    technique: Technique = Technique.NORMAL,
    honed: bool = True,
) -> Kitchen:
    return Kitchen(use, board, technique, honed)


ChosenKitchen = Annotated[Kitchen, Depends(chosen_kitchen)]

"""The kitchen a prediction is for, as a query string chooses it."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends

from maple_rook.core.retention import BoardMaterial, EdgeState, Job, Kitchen, Technique, Use


async def chosen_kitchen(
    use: Use = Use.HOME,
    board: BoardMaterial = BoardMaterial.WOOD,
    technique: Technique = Technique.NORMAL,
    honed: bool = True,
    job: Job = Job.ALL_ROUND,
    edge: EdgeState = EdgeState.FRESH,
) -> Kitchen:
    return Kitchen(use, board, technique, honed, job, edge)


ChosenKitchen = Annotated[Kitchen, Depends(chosen_kitchen)]

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from maple_rook.stations import drawings
from maple_rook.stations.access import MAX_ID, CurrentPerson, CurrentSettings, Db, Opener
from maple_rook.stations.board import work
from maple_rook.stations.board.schemas import BoardOut
from maple_rook.stations.drawings import View
from maple_rook.stations.kitchen import ChosenKitchen
from maple_rook.stations.reckoning import ChosenBasis
from maple_rook.stations.schemas import json_answer

router = APIRouter(tags=["board"])
Hand = Annotated[list[Annotated[int, Field(ge=1, le=MAX_ID)]], Query(min_length=2, max_length=6)]


@router.get("/board", response_model=BoardOut)
async def board(
    request: Request,
    opener: Opener,
    _: CurrentPerson,
    settings: CurrentSettings,
    basis: ChosenBasis,
    kitchen: ChosenKitchen,
    piece: Hand,
) -> Response:
    """Two to six knives compared, in the order given."""
    asked = list(dict.fromkeys(piece))

    def answer() -> Response:
        with opener() as db:
            shelf = request.app.state.shelf
            return json_answer(work.compare(db, shelf, basis, asked, kitchen, settings.draws))

    return await run_in_threadpool(answer)


@router.get("/board/drawings/{view}.svg", response_class=Response)
def drawing(db: Db, _: CurrentPerson, view: View, piece: Hand) -> Response:
    """Two to six knives laid over each other as an SVG file in mm."""
    return drawings.answer(
        drawings.drawn(db, list(dict.fromkeys(piece)), view), f"board-{view.value}"
    )

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from pydantic import Field

from maple_rook.stations.access import MAX_ID, CurrentPerson, CurrentSettings, Db
from maple_rook.stations.board import work
from maple_rook.stations.board.schemas import BoardOut
from maple_rook.stations.kitchen import ChosenKitchen
from maple_rook.stations.schemas import json_answer

router = APIRouter(tags=["board"])


@router.get("/board", response_model=BoardOut)
def board(
    request: Request,
    db: Db,
    _: CurrentPerson,
    settings: CurrentSettings,
    kitchen: ChosenKitchen,
    piece: Annotated[
        list[Annotated[int, Field(ge=1, le=MAX_ID)]], Query(min_length=2, max_length=6)
    ],
) -> Response:
    """Two to six knives compared, in the order given."""
    asked = list(dict.fromkeys(piece))
    return json_answer(work.compare(db, request.app.state.shelf, asked, kitchen, settings.draws))

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from maple_rook.answers import drawings
from maple_rook.answers.drawings import View
from maple_rook.comparing.compare import compare
from maple_rook.comparing.schemas import BoardOut, LaidIn, SeenRow
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, Opener, RowId
from maple_rook.http.schemas import json_answer
from maple_rook.stations.board import comparisons, use_cases
from maple_rook.stations.board.schemas import (
    AwayIn,
    ComparisonOut,
    SavedComparisonOut,
    SaveIn,
)

router = APIRouter(tags=["board"])
Hand = Annotated[list[Annotated[int, Field(ge=1, le=MAX_ID)]], Query(min_length=2, max_length=6)]


@router.post("/board", response_model=BoardOut)
async def board(request: Request, opener: Opener, _: CurrentPerson, asked: LaidIn) -> Response:
    """Knives, or the models they are pieces of, compared and judged; nothing is stored."""

    def answer() -> Response:
        with opener() as db:
            shelf = request.app.state.shelf
            return json_answer(compare(db, shelf, asked))

    return await run_in_threadpool(answer)


@router.get("/board/saved")
def saved_comparisons(db: Db, _: CurrentPerson, away: bool = False) -> list[ComparisonOut]:
    """Saved comparisons, the newest first; with those put away where asked for."""
    return comparisons.listed(db, away=away)


@router.post("/board/saved", status_code=201)
def save_comparison(
    request: Request, db: Db, person: CurrentPerson, asked: SaveIn
) -> ComparisonOut:
    """Keep a Board under a name with the numbers of today."""
    return comparisons.save(db, person, request.app.state.shelf, asked)


@router.get("/board/saved/{comparison_id}")
def saved_comparison(
    request: Request, db: Db, _: CurrentPerson, comparison_id: RowId
) -> SavedComparisonOut:
    """A saved comparison with the numbers of its day beside today's."""
    return comparisons.saved(db, request.app.state.shelf, comparison_id)


@router.post("/board/saved/{comparison_id}/away", status_code=201)
def put_comparison_away(
    db: Db, person: CurrentPerson, comparison_id: RowId, asked: AwayIn
) -> ComparisonOut:
    """Put a comparison away, or take it out again."""
    return comparisons.put_away(db, person, comparison_id, away=asked.away)


@router.get("/board/seen")
def seen(db: Db, _: CurrentPerson, piece: Hand, models: bool = False) -> list[SeenRow]:
    """What was seen of these knives, or of their models, and is not the same of all of them."""
    return use_cases.seen_differences(db, list(dict.fromkeys(piece)), models=models)


@router.get("/board/drawings/{view}.svg", response_class=Response)
def drawing(db: Db, _: CurrentPerson, view: View, piece: Hand) -> Response:
    """Two to six knives laid over each other as an SVG file in mm."""
    return drawings.answer(
        drawings.drawn(db, list(dict.fromkeys(piece)), view), f"board-{view.value}"
    )

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from fastapi.responses import PlainTextResponse

from maple_rook.answers import drawings
from maple_rook.answers.calibration import ChosenModels
from maple_rook.answers.drawings import View
from maple_rook.answers.kitchen import ChosenKitchen
from maple_rook.answers.what_if import WhatIfIn, WhatIfOut, what_if
from maple_rook.http.access import CurrentPerson, Db, RowId
from maple_rook.http.preconditions import Seen
from maple_rook.http.schemas import json_answer
from maple_rook.stations.sheet import stock, use_cases
from maple_rook.stations.sheet.schemas import CutOut, EaseOut, KnifeSheetOut, StockIn, StockOut

router = APIRouter(tags=["sheet"])


@router.get("/pieces/{piece_id}", response_model=KnifeSheetOut)
def knife_sheet(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    piece_id: RowId,
    kitchen: ChosenKitchen,
) -> Response:
    """Everything about one knife."""
    return json_answer(use_cases.knife_sheet(db, models, piece_id, kitchen))


@router.put("/pieces/{piece_id}/stock")
def move_stock(db: Db, _: CurrentPerson, seen: Seen, piece_id: RowId, asked: StockIn) -> StockOut:
    """Reserve a piece, sell it, return it to its maker, or put it back on the shelf."""
    return stock.move(db, piece_id, asked, seen)


@router.get("/pieces/{piece_id}/cut")
def cut(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    piece_id: RowId,
    kitchen: ChosenKitchen,
    food: Annotated[str, Query(max_length=40)] = "onion",
    ratio: Annotated[float, Query(ge=0, le=10, description="slice over push speed")] = 0.0,
) -> CutOut:
    """Force against depth in a food, part by part, at any ratio of slice to push."""
    return use_cases.cut_through(db, models, piece_id, kitchen, food, ratio)


@router.get("/pieces/{piece_id}/ease")
def ease(
    db: Db, _: CurrentPerson, models: ChosenModels, piece_id: RowId, kitchen: ChosenKitchen
) -> EaseOut:
    """Cutting ease food by food, fresh and half way to the stone, and by the edge angle."""
    return use_cases.ease(db, models, piece_id, kitchen)


@router.post("/pieces/{piece_id}/what-if")
def try_figures(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    piece_id: RowId,
    kitchen: ChosenKitchen,
    asked: WhatIfIn,
) -> WhatIfOut:
    """The knife with other figures against itself; nothing is stored."""
    return what_if(db, models, piece_id, kitchen, asked)


@router.get("/pieces/{piece_id}/script.txt", response_class=PlainTextResponse)
def script(
    db: Db,
    _: CurrentPerson,
    models: ChosenModels,
    piece_id: RowId,
    kitchen: ChosenKitchen,
) -> PlainTextResponse:
    """The knife in words to be said aloud, in measuring order."""
    return PlainTextResponse(use_cases.script_text(db, models, piece_id, kitchen))


@router.get("/pieces/{piece_id}/drawings/{view}.svg", response_class=Response)
def drawing(db: Db, _: CurrentPerson, piece_id: RowId, view: View) -> Response:
    """A drawing as an SVG file in mm."""
    return drawings.answer(drawings.drawn(db, [piece_id], view), f"knife-{piece_id}-{view.value}")


@router.get("/pieces/{piece_id}/drawings/{view}.png", response_class=Response)
def picture(
    db: Db,
    _: CurrentPerson,
    piece_id: RowId,
    view: View,
    width: drawings.Width = 1600,
    scheme: drawings.Scheme = "maple",
) -> Response:
    """A drawing as a PNG, so many pixels wide."""
    svg = drawings.drawn(db, [piece_id], view, drawings.ON_SCREEN)
    return drawings.answer_png(svg, f"knife-{piece_id}-{view.value}", width, scheme)

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Annotated, Literal

from fastapi import APIRouter, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import Field

from maple_rook.answers import drawings
from maple_rook.answers.drawings import View
from maple_rook.comparing import table
from maple_rook.comparing.charts import force_chart
from maple_rook.comparing.compare import compare
from maple_rook.comparing.laid import LETTERS
from maple_rook.comparing.schemas import BoardOut, LaidIn, SeenRow
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.formats.csv_table import CSV_TYPE, csv_lines
from maple_rook.formats.page.pictures import in_scheme
from maple_rook.formats.workbook import XLSX_TYPE, BookSheet, write_workbook
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, Opener, RowId
from maple_rook.http.schemas import json_answer
from maple_rook.stations.board import comparisons, use_cases
from maple_rook.stations.board.schemas import (
    AwayIn,
    ComparisonOut,
    SavedComparisonOut,
    SaveIn,
)
from maple_rook.store.records import NotFound

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
    """Saved comparisons, the newest first; archived ones where asked for."""
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
    """Archive or restore a comparison."""
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


@router.get("/board/drawings/{view}.png", response_class=Response)
def picture(
    db: Db,
    _: CurrentPerson,
    view: View,
    piece: Hand,
    width: drawings.Width = 1600,
    scheme: drawings.Scheme = "maple",
) -> Response:
    """The same as a PNG, so many pixels wide."""
    svg = drawings.drawn(db, list(dict.fromkeys(piece)), view, drawings.ON_SCREEN)
    return drawings.answer_png(svg, f"board-{view.value}", width, scheme)


@router.get("/board/table.csv", response_class=Response)
def table_csv(
    request: Request, db: Db, _: CurrentPerson, piece: Hand, models: bool = False
) -> Response:
    """What differs, as CSV: value and U of each knife, and the verdict."""
    board = compare(db, request.app.state.shelf, LaidIn(pieces=piece, models=models))
    text = "".join(csv_lines(table.headings(board), table.rows(board)))
    headers = {"Content-Disposition": 'attachment; filename="board.csv"'}
    return Response(text, media_type=CSV_TYPE, headers=headers)


@router.get("/board/table.xlsx", response_class=Response)
def table_xlsx(
    request: Request, db: Db, _: CurrentPerson, piece: Hand, models: bool = False
) -> Response:
    """The same as a workbook."""
    board = compare(db, request.app.state.shelf, LaidIn(pieces=piece, models=models))
    with tempfile.TemporaryDirectory(prefix="maple-rook-board-") as folder:
        path = Path(folder, "board.xlsx")
        write_workbook(path, [BookSheet("Board", table.headings(board), table.rows(board))])
        content = path.read_bytes()
    headers = {"Content-Disposition": 'attachment; filename="board.xlsx"'}
    return Response(content, media_type=XLSX_TYPE, headers=headers)


@router.get("/board/charts/force.{file_format}", response_class=Response)
def force_picture(
    request: Request,
    db: Db,
    _: CurrentPerson,
    file_format: Literal["svg", "png"],
    piece: Hand,
    food: Annotated[str, Query(max_length=40)] = "carrot",
    stroke: Annotated[str, Query(max_length=20)] = "push",
    width: drawings.Width = 1360,
    scheme: drawings.Scheme = "maple",
) -> Response:
    """Force against depth of the knives in one food, as SVG or PNG."""
    shelf = request.app.state.shelf
    board = compare(db, shelf, LaidIn(pieces=piece))
    curve = next((c for c in board.curves if (c.food, c.stroke) == (food, stroke)), None)
    labels = {f.key: f.label for f in shelf.models(Basis.CALIBRATED)[0]}
    names = [LETTERS[i] for i in range(len(board.knives))]
    svg = None if curve is None else force_chart(curve, labels[food], names)
    if svg is None:
        raise NotFound("chart", f"{food}, {stroke}")
    if file_format == "svg":
        return drawings.answer(in_scheme(svg, scheme), f"force-{food}")
    return drawings.answer_png(svg, f"force-{food}", width, scheme)

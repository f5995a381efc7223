from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import JSONResponse, StreamingResponse
from pydantic import Field

from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.formats.dxf import DXF_TYPE
from maple_rook.formats.incoming.drafts import RowVerdict
from maple_rook.formats.json_ld import JSON_LD_TYPE
from maple_rook.formats.paper import PDF_TYPE
from maple_rook.formats.shelf_label import LABEL_STOCKS
from maple_rook.http.access import MAX_ID, CurrentPerson, Db, LongDb, Opener, PublicBase, RowId
from maple_rook.http.downloads import written
from maple_rook.http.preconditions import Seen
from maple_rook.http.problems import Conflict
from maple_rook.http.schemas import StorableText
from maple_rook.shelf.query import ShelfQuery, chosen, shelf_query
from maple_rook.stations.exchange import printing, publishing, use_cases
from maple_rook.stations.exchange.importing import Imports
from maple_rook.stations.exchange.schemas import (
    ChoicesIn,
    ImportOut,
    ImportsOut,
    LabelStockOut,
    OnStock,
    PublicationIn,
    PublicationOut,
    RowsOut,
)

router = APIRouter(tags=["exchange"])
MOST_LABELS = 200


def _imports(request: Request) -> Imports:
    found: Imports = request.app.state.imports
    return found


@router.get("/imports")
def imports(db: Db, _: CurrentPerson) -> ImportsOut:
    """What columns of a table can mean, and what was imported before."""
    return use_cases.overview(db)


@router.post(
    "/imports",
    status_code=201,
    openapi_extra={
        "requestBody": {
            "required": True,
            "content": {
                "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}
            },
        }
    },
)
async def open_file(
    request: Request,
    opener: Opener,
    person: CurrentPerson,
    name: Annotated[StorableText, Query(min_length=1, max_length=200)],
) -> ImportOut:
    """Give a CSV, XLSX or JSON file as the body; nothing is written yet."""
    waiting = _imports(request)
    path, sha256 = await waiting.receive(request.stream())

    def opened() -> ImportOut:
        with opener() as db:
            return use_cases.opened(db, waiting, path, sha256, name, person.id)

    return await run_in_threadpool(opened)


@router.get("/imports/{key}")
def one(
    request: Request,
    db: Db,
    _: CurrentPerson,
    key: str,
    source: Annotated[str | None, Query(max_length=80)] = None,
) -> ImportOut:
    """A file as it stands; with another ``source`` its columns are read as that one's were."""
    waiting = _imports(request)
    return use_cases.shown(db, waiting, waiting.get(db, key), source)


@router.post("/imports/{key}/run", status_code=202)
def run(request: Request, db: Db, person: CurrentPerson, key: str, asked: ChoicesIn) -> ImportOut:
    """Try the file, or bring it in ``for_good``; ask for it again to see how far it is."""
    waiting = _imports(request)
    return use_cases.shown(db, waiting, waiting.start(db, key, person.id, asked), asked.source)


@router.get("/imports/{key}/rows")
def rows(
    request: Request,
    db: Db,
    _: CurrentPerson,
    key: str,
    verdict: RowVerdict | None = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> RowsOut:
    """Row by row what became of the file."""
    return use_cases.rows(_imports(request).get(db, key), verdict, offset, limit)


@router.get("/imports/{key}/report.csv", response_class=StreamingResponse)
def report(request: Request, db: LongDb, _: CurrentPerson, key: str) -> StreamingResponse:
    """The whole report as a file."""
    lines = use_cases.report_csv(_imports(request).get(db, key))
    return written(lines, CSV_TYPE, "report.csv")


@router.delete("/imports/{key}", status_code=204)
def stop(request: Request, db: Db, _: CurrentPerson, key: str) -> None:
    """Stop what runs, keeping nothing of it, or forget a file at rest."""
    _imports(request).stop(db, key)


def _download(content: bytes | str, media_type: str, name: str) -> Response:
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.get("/pieces/{piece_id}/card.pdf", response_class=Response)
def spec_card(
    request: Request, db: Db, _: CurrentPerson, base: PublicBase, piece_id: RowId
) -> Response:
    """The spec card of a knife, A4, at true scale."""
    content = printing.card_pdf(db, request.app.state.shelf, piece_id, base)
    return _download(content, PDF_TYPE, f"knife-{piece_id}-card.pdf")


PrintedOn = Annotated[OnStock, Depends()]


@router.get("/label-stocks")
def label_stocks(_: CurrentPerson) -> list[LabelStockOut]:
    """What labels can be printed on."""
    return [
        LabelStockOut(key=key, name=stock.name, places=stock.places)
        for key, stock in LABEL_STOCKS.items()
    ]


@router.get("/labels.pdf", response_class=Response)
def labels(
    request: Request,
    db: Db,
    _: CurrentPerson,
    base: PublicBase,
    piece: Annotated[
        list[Annotated[int, Field(ge=1, le=MAX_ID)]], Query(min_length=1, max_length=200)
    ],
    on: PrintedOn,
) -> Response:
    """Shelf labels of these knives, on a roll or on sheets."""
    shelf = request.app.state.shelf
    content = printing.labels_pdf(db, shelf, piece, base, LABEL_STOCKS[on.stock], on.first)
    return _download(content, PDF_TYPE, "shelf-labels.pdf")


@router.get("/rack/labels.pdf", response_class=Response)
def rack_labels(
    request: Request,
    db: Db,
    _: CurrentPerson,
    base: PublicBase,
    query: Annotated[ShelfQuery, Depends(shelf_query)],
    on: PrintedOn,
) -> Response:
    """Shelf labels of the knives that search, ranges and order leave, 200 at most."""
    shelf = request.app.state.shelf
    shelf.catch_up(db)
    ids = chosen(db, query, limit=MOST_LABELS)
    if not ids:
        raise Conflict("No knife is left to print a label of.")
    content = printing.labels_pdf(db, shelf, ids, base, LABEL_STOCKS[on.stock], on.first)
    return _download(content, PDF_TYPE, "shelf-labels.pdf")


class LinkedData(JSONResponse):
    """JSON-LD."""

    media_type = JSON_LD_TYPE


@router.get("/pieces/{piece_id}/product.jsonld", response_class=LinkedData)
def json_ld(
    request: Request, db: Db, _: CurrentPerson, base: PublicBase, piece_id: RowId
) -> LinkedData:
    """The knife as a schema.org Product in JSON-LD with UN/CEFACT unit codes."""
    shelf = request.app.state.shelf
    found = printing.piece_json_ld(db, shelf, piece_id, base)
    headers = {"Content-Disposition": f'attachment; filename="knife-{piece_id}.jsonld"'}
    return LinkedData(found, headers=headers)


@router.get("/pieces/{piece_id}/outline.dxf", response_class=Response)
def outline_dxf(request: Request, db: Db, _: CurrentPerson, piece_id: RowId) -> Response:
    """Outline and section as DXF in mm, a layer a part."""
    knife = request.app.state.shelf.knives(db, [piece_id])[0]
    return _download(printing.outline_dxf(knife), DXF_TYPE, f"knife-{piece_id}.dxf")


@router.get("/pieces/{piece_id}/public")
def published(db: Db, _: CurrentPerson, piece_id: RowId) -> PublicationOut:
    """How a knife is shown to anybody, and what could be shown of it."""
    return publishing.published(db, piece_id)


@router.put("/pieces/{piece_id}/public")
def publish(
    db: Db, person: CurrentPerson, seen: Seen, piece_id: RowId, asked: PublicationIn
) -> PublicationOut:
    """Switch the page of a knife on or off, and choose what it shows."""
    return publishing.publish(db, person, piece_id, asked, seen)

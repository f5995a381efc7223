"""The API for other programs: one versioned path, the record's own tables, and bulk writing."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path as FilePath
from typing import Annotated, Any
from urllib.parse import urlencode

from fastapi import APIRouter, Depends, Path, Query, Request, Response
from fastapi.dependencies.utils import get_flat_params
from fastapi.responses import FileResponse, JSONResponse, StreamingResponse
from pydantic import BaseModel, Field, create_model
from starlette.background import BackgroundTask

from maple_rook.core.errors import InvalidValue
from maple_rook.documents.knife_document import KnifeDocument, knife_document
from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.formats.incoming.fields import RECORD_KINDS, Kind
from maple_rook.formats.record_tables import RECORD_TABLES, RecordColumn, shop_schema
from maple_rook.formats.workbook import XLSX_TYPE
from maple_rook.http.access import CurrentPerson, Db, LongDb
from maple_rook.http.deprecation import say_deprecated
from maple_rook.http.downloads import written
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import (
    FORMERLY,
    SORT_KEYS,
    ShelfQuery,
    chosen,
    count,
    range_of,
    unlisted,
)
from maple_rook.stations.exchange import examples, exporting, temporary, use_cases
from maple_rook.stations.exchange.schemas import BulkIn, BulkOut
from maple_rook.store import archive, outgoing

PieceTag = Annotated[str, Path(examples=["KH-01"], description="as it is on the piece's label")]


def known_parameters(request: Request) -> None:
    """Refuse a parameter that an address does not know: it would be passed over without a word."""
    known = {field.alias for field in get_flat_params(request.scope["route"].dependant)}
    for name, value in request.query_params.multi_items():
        if name not in known:
            accepted = f"one of {', '.join(sorted(known))}" if known else "no parameters here"
            raise InvalidValue(name, value, accepted)


def further_on(request: Request, name: str, value: object, without: str = "") -> str:
    """The address of the same question further on: a path that stays true behind any proxy."""
    left = {name, "after", without}
    asked = [(k, v) for k, v in request.query_params.multi_items() if k not in left]
    below: str = request.app.state.settings.path
    return f"{below}{request.url.path}?{urlencode([*asked, (name, value)])}"


router = APIRouter(prefix="/v1", tags=["v1"], dependencies=[Depends(known_parameters)])
MOST_ROWS = 5_000
JSON_TYPE, ZIP_TYPE = "application/json", "application/zip"
Limit = Annotated[int, Query(ge=1, le=MOST_ROWS, description="most rows of a page")]
Offset = Annotated[int, Query(ge=0, le=2**53, description="rows to leave out; `next` says it")]
After = Annotated[int | None, Query(ge=0, le=2**53, include_in_schema=False)]
"""How rows were paged before: an answer to it is as it was, `rows`, and a number as `next`."""


def _sends(media_type: str) -> dict[int | str, dict[str, Any]]:
    """For a route that sends a file: of what kind it is."""
    schema = {"type": "object"} if media_type == JSON_TYPE else {"type": "string"}
    if media_type in {XLSX_TYPE, ZIP_TYPE}:
        schema["format"] = "binary"
    return {200: {"content": {media_type: {"schema": schema}}}}


class PieceDocument(KnifeDocument):
    """A knife's document with the numbers of its piece and model, which never change."""

    id: int
    model_id: int


def document_of(knife: ShelfKnife, currency: str) -> PieceDocument:
    document = knife_document(knife, currency)
    return PieceDocument.model_construct(
        **dict(document), id=knife.piece.id, model_id=knife.model_id
    )


class PiecePage(BaseModel):
    """A page of knives; ``next`` is the address of the following page, null on the last.

    ``behind`` pieces are still calculated, after a bulk load or with new models: those that are new
    are not listed yet, of others the figures are those of before.
    """

    total: int
    behind: int
    items: list[PieceDocument]
    next: str | None


@router.get("/pieces")
def pieces(
    request: Request,
    response: Response,
    db: Db,
    _: CurrentPerson,
    search: Annotated[
        str,
        Query(
            max_length=200,
            examples=["gyuto 1.4116"],
            description="words of the tag, maker, line, type or steel; all have to be there",
        ),
    ] = "",
    sort: Annotated[
        str,
        Query(
            max_length=40,
            examples=["-weight"],
            description="a figure, - for falling: " + ", ".join(SORT_KEYS),
        ),
    ] = "name",
    where: Annotated[
        list[str] | None,
        Query(
            max_length=20,
            examples=[["hardness:60:63"]],
            description="key:low:high in base units, of any figure; several hold together",
        ),
    ] = None,
    knife_type: Annotated[
        list[str] | None,
        Query(max_length=40, examples=[["gyuto", "santoku"]], description="of one of these types"),
    ] = None,
    tag: Annotated[
        list[str] | None,
        Query(max_length=200, examples=[["KH-01"]], description="with one of these tags"),
    ] = None,
    maker: Annotated[
        list[str] | None,
        Query(max_length=40, examples=[["Kesterby"]], description="of one of these makers"),
    ] = None,
    offset: Annotated[
        int, Query(ge=0, le=1_000_000, description="pieces to leave out; `next` says it")
    ] = 0,
    limit: Annotated[int, Query(ge=1, le=200, description="most pieces of a page")] = 50,
) -> PiecePage:
    """Knives as documents: paged, sorted and narrowed by any figure, by tags or makers.

    Pieces that the shelf has not calculated yet come last, by their tags; a range leaves them out.
    `behind` says how many are not as the record has them now.
    """
    ranges = dict(range_of(text) for text in where or [])
    by = sort.removeprefix("-")
    if {by, *(text.partition(":")[0] for text in where or [])} & FORMERLY.keys():
        say_deprecated(request, response)
    query = ShelfQuery(
        search,
        FORMERLY.get(by, by),
        sort.startswith("-"),
        tuple(knife_type or ()),
        ranges,
        tags=tuple(tag or ()),
        makers=tuple(maker or ()),
    )
    shelf: Shelf = request.app.state.shelf
    behind = shelf.catch_up(db)
    listed, ids = count(db, query), chosen(db, query, offset=offset, limit=limit)
    new = unlisted(db, query)
    total = listed + len(new)
    ids += new[max(0, offset - listed) : max(0, offset + limit - listed)]
    currency = outgoing.shop_row(db)["currency"]
    return PiecePage(
        total=total,
        behind=behind,
        items=[document_of(knife, currency) for knife in shelf.knives(db, ids)],
        next=further_on(request, "offset", offset + limit) if offset + limit < total else None,
    )


@router.get("/shop.json", response_class=StreamingResponse, responses=_sends(JSON_TYPE))
def shop_json(request: Request, db: LongDb, _: CurrentPerson) -> StreamingResponse:
    """Every table in one document, as `shop.schema.json` describes it; read back by an import."""
    return written(exporting.whole_json(db, request.app.state.bucket), JSON_TYPE, "shop.json")


@router.get("/shop.schema.json")
def shop_schema_json() -> dict[str, Any]:
    """JSON Schema (2020-12) of `shop.json`."""
    return shop_schema()


@router.get("/shop.xlsx", response_class=FileResponse, responses=_sends(XLSX_TYPE))
def shop_xlsx(request: Request, db: LongDb, _: CurrentPerson) -> FileResponse:
    """The shelf with units, U and both unit systems, and every table, as a workbook."""
    shelf = request.app.state.shelf
    return _file(lambda path: exporting.workbook(db, shelf, path), XLSX_TYPE, "shop.xlsx")


@router.get("/archive.zip", response_class=FileResponse, responses=_sends(ZIP_TYPE))
def archive_zip(request: Request, db: LongDb, _: CurrentPerson) -> FileResponse:
    """The whole shop with pictures; `./rook restore` makes it a shop again."""
    db.rollback()
    bucket = request.app.state.bucket
    write = partial(archive.write_archive, db, bucket=bucket)
    return _file(write, ZIP_TYPE, "shop.zip")


def _file(write: Callable[[FilePath], object], media_type: str, name: str) -> FileResponse:
    """A file that has to be whole before it is sent; it is gone once it was."""
    with tempfile.NamedTemporaryFile(prefix=temporary.prefix(), delete=False) as held:
        path = FilePath(held.name)
    try:
        write(path)
    except BaseException:
        path.unlink()
        raise
    return FileResponse(
        path, media_type=media_type, filename=name, background=BackgroundTask(path.unlink)
    )


def _model_of(kind: Kind) -> type[BaseModel]:
    """A row of a record table as the API describes it."""
    types = {"string": str, "number": float, "boolean": bool}

    def field(column: RecordColumn) -> Any:
        plain = types[column.type]
        return (plain | None if column.lacking else plain, Field(description=column.about))

    columns = {column.name: field(column) for column in RECORD_TABLES[kind]}
    return create_model(f"{kind.value.capitalize()}Row", **columns)


def _page_of(kind: Kind) -> type[BaseModel]:
    items: Any = (list[_model_of(kind)], ...)  # type: ignore[misc]
    following: Any = (str | None, Field(description="the following page, null on the last"))
    return create_model(f"{kind.value.capitalize()}Page", items=items, next=following)


def _add(kind: Kind) -> None:
    """Reading by page, reading as CSV, and writing in bulk, for one table of the record."""
    name = kind.value

    def page(
        request: Request,
        db: Db,
        _: CurrentPerson,
        offset: Offset = 0,
        limit: Limit = 500,
        after: After = None,
    ) -> Any:
        begin = offset if after is None else after
        rows = list(exporting.table_rows(db, kind, outgoing.Part(begin, limit)))
        following = begin + limit if len(rows) == limit else None
        if after is not None:
            answer = JSONResponse({"rows": rows, "next": following})
            say_deprecated(request, answer)
            return answer
        address = None if following is None else further_on(request, "offset", following)
        return {"items": rows, "next": address}

    def as_csv(db: LongDb, _: CurrentPerson) -> StreamingResponse:
        return written(exporting.table_csv(db, kind), CSV_TYPE, f"{name}.csv")

    def bulk(db: Db, person: CurrentPerson, asked: BulkIn) -> BulkOut:
        return use_cases.bulk(db, person.id, kind, asked)

    router.add_api_route(
        f"/{name}.csv",
        as_csv,
        name=f"{name}_csv",
        response_class=StreamingResponse,
        responses=_sends(CSV_TYPE.partition(";")[0]),
        description=f"All {name} as CSV (RFC 4180).",
    )
    path = "/pieces/rows" if kind is Kind.PIECES else f"/{name}"
    router.add_api_route(
        path,
        page,
        name=f"{name}_page",
        response_model=_page_of(kind),
        description=f"The {name} as they were written, by pages: follow `next` until it is null.",
    )
    router.add_api_route(
        f"/{name}",
        bulk,
        name=f"{name}_bulk",
        methods=["POST"],
        description=f"Write many {name} in one transaction; the same rows sent again change "
        "nothing. Names are those of the rows that are read; a unit may follow a name "
        "(`weight_oz`). `dry_run` only says what would become of each row.",
        openapi_extra=examples.bulk(kind),
    )


for _kind in RECORD_KINDS:
    _add(_kind)


@router.get("/pieces/{tag:path}")
def piece(request: Request, db: Db, _: CurrentPerson, tag: PieceTag) -> PieceDocument:
    """One knife by its tag."""
    knife = use_cases.knife_tagged(db, request.app.state.shelf, tag)
    return document_of(knife, outgoing.shop_row(db)["currency"])

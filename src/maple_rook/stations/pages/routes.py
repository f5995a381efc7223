from __future__ import annotations

import uuid
from typing import Literal

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import HTMLResponse
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.documents.figure_text import shop_base
from maple_rook.documents.short_codes import Of, short_code
from maple_rook.formats.page import plain
from maple_rook.formats.page.blocks import PhotoBlock, Photographs
from maple_rook.formats.page.html import HTML_TYPE, Around, fragment, whole
from maple_rook.formats.page.pdf import pdf
from maple_rook.formats.page.word import DOCX_TYPE, docx
from maple_rook.formats.paper import PDF_TYPE
from maple_rook.http.access import CurrentPerson, Db, Opener, PublicBase, RowId
from maple_rook.http.preconditions import Seen
from maple_rook.http.security_headers import OWN, still_policy
from maple_rook.photo.web_sizes import FORMATS
from maple_rook.stations.pages import feed as products
from maple_rook.stations.pages import photographs as photographing
from maple_rook.stations.pages import use_cases
from maple_rook.stations.pages.photographs import for_files
from maple_rook.stations.pages.schemas import (
    FeedOut,
    NewPageIn,
    OrderIn,
    PageIn,
    PageOut,
    PageRow,
    PhotographIn,
    PhotographOut,
    ScaleIn,
    ScaleOut,
    WithdrawIn,
)
from maple_rook.store import records
from maple_rook.store.database import WRITER
from maple_rook.store.photo_tables import Photograph
from maple_rook.store.tables import Shop

router = APIRouter(tags=["pages"])
Format = Literal["html", "md", "txt", "docx", "pdf"]


@router.get("/pages")
def pages(db: Db, _: CurrentPerson) -> list[PageRow]:
    """Every page: drafts, what is published, and what was withdrawn."""
    return use_cases.listed(db)


@router.post("/pages", status_code=201)
def begin(request: Request, db: Db, person: CurrentPerson, asked: NewPageIn) -> PageOut:
    """Begin a review, a comparison or a range page as a draft."""
    return use_cases.begin(db, request.app.state.shelf, person, asked)


@router.get("/pages/{page_id}")
def page(request: Request, db: Db, _: CurrentPerson, page_id: RowId) -> PageOut:
    """A page to work on, with what the record proposes for it."""
    return use_cases.one(db, request.app.state.shelf, page_id)


@router.put("/pages/{page_id}")
def change(
    request: Request, db: Db, _: CurrentPerson, seen: Seen, page_id: RowId, asked: PageIn
) -> PageOut:
    """Change a draft; what is published stays as it is until it is published again."""
    return use_cases.change(db, request.app.state.shelf, page_id, asked, seen)


@router.delete("/pages/{page_id}", status_code=204)
def discard(db: Db, _: CurrentPerson, seen: Seen, page_id: RowId) -> None:
    """Delete a draft that was never published."""
    use_cases.discard(db, page_id, seen)


@router.post("/pages/{page_id}/publish")
def publish(request: Request, db: Db, person: CurrentPerson, seen: Seen, page_id: RowId) -> PageOut:
    """Publish a draft as it reads now."""
    return use_cases.publish(db, request.app.state.shelf, person, page_id, seen)


@router.post("/pages/{page_id}/withdraw")
def withdraw(
    request: Request, db: Db, person: CurrentPerson, page_id: RowId, asked: WithdrawIn
) -> PageOut:
    """Take a page down; the draft and what was published are kept."""
    return use_cases.withdraw(db, request.app.state.shelf, person, page_id, asked.reason)


@router.get("/pages/{page_id}/preview", response_class=HTMLResponse)
def preview(request: Request, db: Db, _: CurrentPerson, page_id: RowId) -> HTMLResponse:
    """The draft as readers would see it."""
    document = use_cases.document_of(db, request.app.state.shelf, page_id)[1]
    text = whole(document, Around(root="../../../"))
    headers = {
        "Content-Security-Policy": still_policy(text, framed_by=OWN),
        "X-Frame-Options": "SAMEORIGIN",
    }
    return HTMLResponse(text, headers=headers)


@router.get("/pages/{page_id}/page.{file_format}", response_class=Response)
def as_file(
    request: Request,
    db: Db,
    opener: Opener,
    _: CurrentPerson,
    base: PublicBase,
    page_id: RowId,
    file_format: Format,
) -> Response:
    """The draft as a file: HTML fragment with its styles, Markdown, text, DOCX or PDF."""
    row, document = use_cases.document_of(db, request.app.state.shelf, page_id)
    shop = db.scalars(select(Shop)).one()
    root = shop_base(shop, base)
    address, short = f"{root}p/{row.address}", f"{root}m/{short_code(Of.PAGE, row.id)}"
    photographs: Photographs = {}
    if file_format in ("docx", "pdf"):
        photographs = for_files(
            opener, request.app.state.pictures, request.app.state.bucket, document
        )
    match file_format:
        case "html":
            content: bytes | str = fragment(document, address)
            media_type = HTML_TYPE
        case "md":
            content = plain.markdown(document, address)
            media_type = plain.MARKDOWN_TYPE
        case "txt":
            content, media_type = plain.plain_text(document, address), plain.TEXT_TYPE
        case "docx":
            content, media_type = docx(document, shop.paper, photographs), DOCX_TYPE
        case "pdf":
            content, media_type = pdf(document, short, shop.paper, photographs), PDF_TYPE
    name = f"{row.address}.{file_format}"
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


@router.get("/pieces/{piece_id}/photographs")
def photographs(db: Db, _: CurrentPerson, piece_id: RowId) -> list[PhotographOut]:
    """The photographs of a piece for readers, in their order."""
    return photographing.listed(db, piece_id)


@router.put("/pieces/{piece_id}/photographs")
def order_photographs(
    db: Db, _: CurrentPerson, piece_id: RowId, asked: OrderIn
) -> list[PhotographOut]:
    """Put the photographs of a piece in another order."""
    return photographing.order(db, piece_id, asked.ids)


@router.put("/pieces/{piece_id}/photographs/{client_id}", status_code=201)
async def keep_photograph(
    request: Request, opener: Opener, person: CurrentPerson, piece_id: RowId, client_id: uuid.UUID
) -> list[PhotographOut]:
    """Add a photograph sent as the body: JPEG, PNG, WebP or HEIC."""
    content, state = await request.body(), request.app.state

    def keep() -> list[PhotographOut]:
        found = photographing.opened(state.pictures, content)
        with opener() as db:
            db.info[WRITER] = person.id
            return photographing.keep(db, person, piece_id, client_id, found, state.bucket)

    return await run_in_threadpool(keep)


@router.put("/photographs/{photograph_id}")
def change_photograph(
    db: Db, _: CurrentPerson, seen: Seen, photograph_id: RowId, asked: PhotographIn
) -> list[PhotographOut]:
    """Say what a photograph shows and who took it, and crop it."""
    return photographing.change(db, photograph_id, asked, seen)


@router.delete("/photographs/{photograph_id}", status_code=204)
def drop_photograph(db: Db, _: CurrentPerson, photograph_id: RowId) -> None:
    """Remove a photograph; published pages keep theirs."""
    photographing.drop(db, photograph_id)


@router.get(
    "/photographs/{photograph_id}/{width}.{file_format}",
    response_class=Response,
    responses={200: {"content": {kind: {} for kind in FORMATS.values()}}},
)
def photograph(
    request: Request,
    opener: Opener,
    _: CurrentPerson,
    photograph_id: RowId,
    width: Literal["480", "960", "1600"],
    file_format: Literal["webp", "jpeg"],
    whole: bool = False,
) -> Response:
    """A photograph as it is cropped now, or the whole of it, in a size of pages."""

    def this(db: Session) -> PhotoBlock:
        row = records.get(db, Photograph, "photograph", photograph_id)
        return photographing.block_of(row, None if whole else row.crop)

    state, width_px = request.app.state, int(width)
    content = photographing.in_size(
        opener, state.pictures, state.bucket, this, width_px, file_format
    )
    headers = {"Cache-Control": "private, no-cache"}
    return Response(content, media_type=FORMATS[file_format], headers=headers)


@router.get("/score-scales")
def scales(db: Db, _: CurrentPerson) -> list[ScaleOut]:
    """The scales that the shop scores on."""
    return use_cases.scales(db)


@router.post("/score-scales", status_code=201)
def add_scale(db: Db, _: CurrentPerson, asked: ScaleIn) -> ScaleOut:
    """Make a scale, with what its numbers mean."""
    return use_cases.add_scale(db, asked)


@router.put("/score-scales/{scale_id}")
def change_scale(db: Db, _: CurrentPerson, seen: Seen, scale_id: RowId, asked: ScaleIn) -> ScaleOut:
    """Change a scale or retire it; published scores stay."""
    return use_cases.change_scale(db, scale_id, asked, seen)


@router.get("/shop-feed")
def feed(db: Db, _: CurrentPerson) -> FeedOut:
    """Whether the shop's products can be fetched by a key."""
    return FeedOut(is_open=products.is_open(db))


@router.post("/shop-feed", status_code=201)
def open_feed(db: Db, _: CurrentPerson, base: PublicBase) -> FeedOut:
    """Make a new key of the product feed; its addresses are shown only now."""
    key = products.new_key(db)
    root = shop_base(db.scalars(select(Shop)).one(), base)
    address = f"{root}feeds/{key}/products"
    return FeedOut(is_open=True, csv=f"{address}.csv", json_address=f"{address}.json")


@router.delete("/shop-feed", status_code=204)
def close_feed(db: Db, _: CurrentPerson) -> None:
    """End the product feed: its key opens nothing any more."""
    products.close(db)

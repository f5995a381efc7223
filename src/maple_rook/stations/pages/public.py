"""Pages that anybody may read, without signing in: what was published, as of its day."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Header, Path, Query, Request, Response
from fastapi.responses import HTMLResponse
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.documents.figure_text import shop_base
from maple_rook.documents.short_codes import Of, of_code
from maple_rook.formats.atom import ATOM_TYPE, Entry, atom
from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.formats.page import html
from maple_rook.formats.page.blocks import Drawing, PageDocument, PhotoBlock
from maple_rook.formats.page.pictures import (
    NARROWEST_PX,
    PNG_TYPE,
    SVG_TYPE,
    WIDEST_PX,
    as_png,
    in_scheme,
)
from maple_rook.formats.preview import page_preview
from maple_rook.http.access import Db, Opener, PublicBase
from maple_rook.http.preconditions import tag_of
from maple_rook.http.security_headers import ANYBODY, NOBODY, still_policy
from maple_rook.photo.web_sizes import FORMATS
from maple_rook.stations.pages import feed as products
from maple_rook.stations.pages.photographs import in_size
from maple_rook.stations.pages.standing import FRESH, Answer, Standing, memory_of, unchanged
from maple_rook.stations.pages.use_cases import knife_measured
from maple_rook.store import pages, records
from maple_rook.store.page_tables import PageDraft
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop

router = APIRouter(tags=["published"])
Address = Annotated[str, Path(pattern=r"^[a-z0-9-]{1,80}$")]
Key = Annotated[str, Path(pattern=r"^[a-z0-9_-]{1,60}$")]
FeedKey = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{20,60}$")]
Scheme = Literal["maple", "rook"]
IfNoneMatch = Annotated[str | None, Header(alias="If-None-Match", max_length=400)]
KEPT = "public, max-age=86400"
_IN_FEED = 50
_NOT_CHANGED: dict[int | str, dict[str, Any]] = {
    304: {"description": "It is as it was when it was fetched with this entity tag."}
}


def at_address(request: Request, db: Db, base: PublicBase, address: Address) -> Standing:
    """The page at an address; one that was withdrawn is nowhere."""
    return Standing(memory_of(request), db, base, address)


Asked = Annotated[Standing, Depends(at_address)]


def _still(text: str, *, framed_by: str = NOBODY) -> Answer:
    return Answer.of(text, html.HTML_TYPE, still_policy(text, framed_by=framed_by))


@router.get("/p/feed.atom", response_class=Response, responses={200: {"content": {ATOM_TYPE: {}}}})
def feed(db: Db, base: PublicBase) -> Response:
    """What was published, the newest first, as an Atom feed."""
    shop = db.scalars(select(Shop)).one()
    root = shop_base(shop, base)
    entries = [
        Entry(
            title=document.title,
            href=f"{root}p/{page.draft.address}",
            published=page.recorded_at,
            author=document.by or shop.name,
            summary=document.summary,
        )
        for page in pages.published(db, _IN_FEED)
        for document in (PageDocument.model_validate(page.document),)
    ]
    text = atom(shop.name, f"{root}p/feed.atom", root, entries)
    return Response(text, media_type=ATOM_TYPE, headers={"Cache-Control": FRESH})


@router.get(
    "/feeds/{key}/products.csv",
    response_class=Response,
    responses={200: {"content": {"text/csv": {}}}},
)
def products_csv(request: Request, db: Db, base: PublicBase, key: FeedKey) -> Response:
    """The shop's products as CSV, for holders of the key."""
    shop = products.check_key(db, key)
    rows = products.products(db, request.app.state.shelf, shop, shop_base(shop, base))
    return Response("".join(products.as_csv(rows)), media_type=CSV_TYPE)


@router.get("/feeds/{key}/products.json")
def products_json(
    request: Request, db: Db, base: PublicBase, key: FeedKey
) -> list[products.Product]:
    """The same as JSON."""
    shop = products.check_key(db, key)
    return list(products.products(db, request.app.state.shelf, shop, shop_base(shop, base)))


@router.get("/p/{address}.json")
def as_json(of: Asked) -> PageDocument:
    """A published page as a document."""
    return of.document


@router.get(
    "/p/{address}/card.png", response_class=Response, responses={200: {"content": {PNG_TYPE: {}}}}
)
def card_png(of: Asked, known: IfNoneMatch = None) -> Response:
    """The picture a link to the page unfolds to."""

    def card() -> Answer:
        drawing = next(of.document.drawings(), None)
        picture = as_png(drawing.svg, 1000) if drawing else None
        shown = page_preview(of.document.title, of.document.shop, of.document.summary, picture)
        return Answer.of(shown, PNG_TYPE)

    return of.answer(known, ("card",), card)


@router.get("/p/{address}/how", response_class=HTMLResponse)
def how(of: Asked, known: IfNoneMatch = None) -> Response:
    """How the figures of a page were measured."""
    return _how(of, known, "../../")


@router.get("/m/{code}", response_class=HTMLResponse)
def how_by_code(
    request: Request,
    db: Db,
    base: PublicBase,
    code: Annotated[str, Path(pattern=r"^[pk][0-9a-z]{1,6}$")],
    known: IfNoneMatch = None,
) -> Response:
    """The same at the short address that is printed, of a page or of a knife's own page."""
    of, number = of_code(code)
    if of is Of.PAGE:
        draft = records.get(db, PageDraft, "page", number)
        return _how(Standing(memory_of(request), db, base, draft.address), known, "../")
    document, address = knife_measured(db, request.app.state.shelf, number)
    root = shop_base(db.scalars(select(Shop)).one(), base)
    text = html.how(document, f"{root}k/{address}", root="../")
    tag = tag_of(text)
    return unchanged(tag, known) or _still(text).sent(tag)


def _how(of: Standing, known: str | None, root: str) -> Response:
    return of.answer(known, ("how", root), lambda: _still(html.how(of.document, of.url, root)))


@router.get(
    "/p/{address}/drawings/{key}.svg",
    response_class=Response,
    responses={200: {"content": {SVG_TYPE: {}}}},
)
def drawing_svg(
    of: Asked, key: Key, scheme: Scheme = "maple", known: IfNoneMatch = None
) -> Response:
    """A drawing or chart of a page as SVG."""
    drawing = _drawing(of.document, key)
    return of.answer(
        known, (key, scheme), lambda: Answer.of(in_scheme(drawing.svg, scheme), SVG_TYPE)
    )


@router.get(
    "/p/{address}/drawings/{key}.png",
    response_class=Response,
    responses={200: {"content": {PNG_TYPE: {}}}},
)
def drawing_png(
    of: Asked,
    key: Key,
    width: Annotated[int, Query(ge=NARROWEST_PX, le=WIDEST_PX)] = 1200,
    scheme: Scheme = "maple",
    known: IfNoneMatch = None,
) -> Response:
    """A drawing or chart of a page as PNG, so many pixels wide."""
    drawing = _drawing(of.document, key)
    return of.answer(
        known,
        (key, scheme, width),
        lambda: Answer.of(as_png(drawing.svg, width, scheme), PNG_TYPE),
    )


@router.get(
    "/p/{address}/photographs/{version}/{width}.{file_format}",
    response_class=Response,
    responses={200: {"content": {kind: {} for kind in FORMATS.values()}}},
)
def photograph(
    request: Request,
    opener: Opener,
    address: Address,
    version: Annotated[str, Path(pattern=r"^[0-9a-f]{16}$")],
    width: Literal["480", "960", "1600"],
    file_format: Literal["webp", "jpeg"],
) -> Response:
    """A photograph of a page in one of its sizes, as it was cropped when it was published."""
    memory = memory_of(request)

    def this(db: Session) -> PhotoBlock:
        document = memory.document(pages.at_address(db, address))
        found = next((p for p in document.photographs() if p.version == version), None)
        if found is None:
            raise NotFound("photograph", version)
        return found

    state = request.app.state
    content = in_size(opener, state.pictures, state.bucket, this, int(width), file_format)
    return Response(content, media_type=FORMATS[file_format], headers={"Cache-Control": KEPT})


def _drawing(document: PageDocument, key: str) -> Drawing:
    found = next((d for d in document.drawings() if d.key == key), None)
    if found is None:
        raise NotFound("drawing", key)
    return found


@router.get("/embed/{address}", response_class=HTMLResponse)
def embed(of: Asked, known: IfNoneMatch = None) -> Response:
    """A page to be shown in a frame of another site, where its author allowed that."""
    if not of.page.draft.content.get("embed"):
        raise NotFound("page to embed", of.page.draft.address)

    def framed() -> Answer:
        return _still(html.whole(of.document, _shown(of, framed=True)), framed_by=ANYBODY)

    return of.answer(known, ("embed",), framed)


@router.get("/p/{address}", response_class=HTMLResponse, responses=_NOT_CHANGED)
def page(
    of: Asked,
    sort: Annotated[int | None, Query(ge=0, le=40)] = None,
    down: bool = False,
    known: IfNoneMatch = None,
) -> Response:
    """A published page; a table that can be put in order is by the column asked for."""

    def whole() -> Answer:
        order = html.Order(sort, down)
        return _still(html.whole(order.of(of.document), _shown(of, order=order)))

    return of.answer(known, ("page", sort, down), whole)


def _shown(of: Standing, *, order: html.Order | None = None, framed: bool = False) -> html.Around:
    return html.Around(of.url, of.short, of.feed, order, framed)

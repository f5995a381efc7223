"""Pages that anybody may read, without signing in: what was published, as of its day."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Header, Path, Query, Request, Response
from fastapi.responses import HTMLResponse
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook import __version__
from maple_rook.documents.figure_text import shop_base
from maple_rook.documents.short_codes import Of, of_code, short_code
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
from maple_rook.stations.pages.use_cases import knife_measured
from maple_rook.store import pages, records
from maple_rook.store.page_tables import PageDraft, PublishedPage
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop

router = APIRouter(tags=["published"])
Address = Annotated[str, Path(pattern=r"^[a-z0-9-]{1,80}$")]
Key = Annotated[str, Path(pattern=r"^[a-z0-9_-]{1,60}$")]
FeedKey = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{20,60}$")]
Scheme = Literal["maple", "rook"]
IfNoneMatch = Annotated[str | None, Header(alias="If-None-Match", max_length=400)]
FRESH = "public, no-cache"
"""A page may be kept, and is asked for anew each time: a withdrawn one is gone at once."""
KEPT = "public, max-age=86400"
_IN_FEED = 50
_NOT_CHANGED: dict[int | str, dict[str, Any]] = {
    304: {"description": "It is as it was when it was fetched with this entity tag."}
}


class Standing:
    """A page that stands at an address, and how it is addressed."""

    def __init__(self, db: Session, base: str, address: str) -> None:
        self.page: PublishedPage = pages.at_address(db, address)
        self.document = PageDocument.model_validate(self.page.document)
        self.shop: Shop = db.scalars(select(Shop)).one()
        root = shop_base(self.shop, base)
        self.url = f"{root}p/{address}"
        self.short = f"{root}m/{short_code(Of.PAGE, self.page.draft_id)}"
        self.feed = f"{root}p/feed.atom"

    def tag(self, *of: object) -> str:
        """An entity tag: another page, another address or another release is another answer."""
        return tag_of(self.page.id, self.url, __version__, *of)


def _known(tag: str, known: str | None) -> Response | None:
    """That it is as it was, where the asker has it already."""
    if not known or tag not in [t.strip().removeprefix("W/") for t in known.split(",")]:
        return None
    return Response(status_code=304, headers={"ETag": tag, "Cache-Control": FRESH})


def _answer(content: bytes | str, media_type: str, tag: str) -> Response:
    return Response(content, media_type=media_type, headers={"ETag": tag, "Cache-Control": FRESH})


def _page(text: str, tag: str, *, framed_by: str = NOBODY) -> Response:
    answer = _answer(text, html.HTML_TYPE, tag)
    answer.headers["Content-Security-Policy"] = still_policy(text, framed_by=framed_by)
    return answer


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
    """The shop's products as CSV, for who has the key."""
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
def as_json(db: Db, base: PublicBase, address: Address) -> PageDocument:
    """A published page as a document."""
    return Standing(db, base, address).document


@router.get(
    "/p/{address}/card.png", response_class=Response, responses={200: {"content": {PNG_TYPE: {}}}}
)
def card_png(db: Db, base: PublicBase, address: Address, known: IfNoneMatch = None) -> Response:
    """The picture a link to the page unfolds to."""
    of = Standing(db, base, address)
    tag = of.tag("card")
    if same := _known(tag, known):
        return same
    drawing = next(of.document.drawings(), None)
    picture = as_png(drawing.svg, 1000) if drawing else None
    content = page_preview(of.document.title, of.document.shop, of.document.summary, picture)
    return _answer(content, PNG_TYPE, tag)


@router.get("/p/{address}/how", response_class=HTMLResponse)
def how(db: Db, base: PublicBase, address: Address, known: IfNoneMatch = None) -> Response:
    """How the figures of a page were measured."""
    return _how(Standing(db, base, address), known)


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
        return _how(Standing(db, base, draft.address), known)
    document, address = knife_measured(db, request.app.state.shelf, number)
    root = shop_base(db.scalars(select(Shop)).one(), base)
    text = html.how(document, f"{root}k/{address}")
    tag = tag_of(text)
    return _known(tag, known) or _page(text, tag)


def _how(of: Standing, known: str | None) -> Response:
    tag = of.tag("how")
    return _known(tag, known) or _page(html.how(of.document, of.url), tag)


@router.get(
    "/p/{address}/drawings/{key}.svg",
    response_class=Response,
    responses={200: {"content": {SVG_TYPE: {}}}},
)
def drawing_svg(
    db: Db,
    base: PublicBase,
    address: Address,
    key: Key,
    scheme: Scheme = "maple",
    known: IfNoneMatch = None,
) -> Response:
    """A drawing or chart of a page as SVG."""
    of = Standing(db, base, address)
    drawing, tag = _drawing(of.document, key), of.tag(key, scheme)
    return _known(tag, known) or _answer(in_scheme(drawing.svg, scheme), SVG_TYPE, tag)


@router.get(
    "/p/{address}/drawings/{key}.png",
    response_class=Response,
    responses={200: {"content": {PNG_TYPE: {}}}},
)
def drawing_png(
    db: Db,
    base: PublicBase,
    address: Address,
    key: Key,
    width: Annotated[int, Query(ge=NARROWEST_PX, le=WIDEST_PX)] = 1200,
    scheme: Scheme = "maple",
    known: IfNoneMatch = None,
) -> Response:
    """A drawing or chart of a page as PNG, so many pixels wide."""
    of = Standing(db, base, address)
    drawing, tag = _drawing(of.document, key), of.tag(key, scheme, width)
    return _known(tag, known) or _answer(as_png(drawing.svg, width, scheme), PNG_TYPE, tag)


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

    def this(db: Session) -> PhotoBlock:
        document = PageDocument.model_validate(pages.at_address(db, address).document)
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
def embed(db: Db, base: PublicBase, address: Address, known: IfNoneMatch = None) -> Response:
    """A page to be shown in a frame of another site, where its author allowed that."""
    of = Standing(db, base, address)
    if not of.page.draft.content.get("embed"):
        raise NotFound("page to embed", address)
    tag = of.tag("embed")
    if same := _known(tag, known):
        return same
    return _page(html.whole(of.document, _shown(of, framed=True)), tag, framed_by=ANYBODY)


@router.get("/p/{address}", response_class=HTMLResponse, responses=_NOT_CHANGED)
def page(
    db: Db,
    base: PublicBase,
    address: Address,
    sort: Annotated[int | None, Query(ge=0, le=40)] = None,
    down: bool = False,
    known: IfNoneMatch = None,
) -> Response:
    """A published page; a table that can be put in order is by the column asked for."""
    of = Standing(db, base, address)
    tag = of.tag(sort, down)
    if same := _known(tag, known):
        return same
    order = html.Order(sort, down)
    text = html.whole(order.of(of.document), _shown(of, order=order))
    return _page(text, tag)


def _shown(of: Standing, *, order: html.Order | None = None, framed: bool = False) -> html.Around:
    return html.Around(of.url, of.short, of.feed, order, framed)

"""Pages that anybody may read, without signing in: only knives that are switched on."""

from __future__ import annotations

import base64
import json
from typing import Annotated, Any

from fastapi import APIRouter, Path, Request, Response
from fastapi.responses import FileResponse, HTMLResponse
from jinja2 import Environment, PackageLoader, select_autoescape
from markupsafe import Markup
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.upkeep.cautions import Place, cautions
from maple_rook.documents.figure_text import (
    currency_code,
    estimates_of,
    figure_label,
    figure_texts,
    making_of,
    outline_shapes,
    price_text,
    shop_base,
)
from maple_rook.documents.knife_document import KnifeDocument, knife_document
from maple_rook.documents.short_codes import Of, short_code
from maple_rook.formats.json_ld import product
from maple_rook.formats.paper import FONTS, STRONG, TEXT, TITLE
from maple_rook.formats.preview import PNG_TYPE, preview
from maple_rook.http.access import Db, PublicBase
from maple_rook.http.security_headers import new_nonce, page_policy
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.exchange.inline_svg import outline_svg, section_svg
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.publications import at_address
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop

router = APIRouter(tags=["public"])
Address = Annotated[str, Path(pattern=r"^[a-z0-9-]{1,80}$")]
_PAGES = Environment(
    loader=PackageLoader("maple_rook.stations.exchange"),
    autoescape=select_autoescape(),
    trim_blocks=True,
    lstrip_blocks=True,
)
_ON_PREVIEW = ("edge_length", "weight", "hardness", "edge_angle")


class Shown:
    """A knife as the shop shows it: the document holds nothing that was not chosen."""

    def __init__(self, db: Session, shelf: Shelf, address: str) -> None:
        self.standing: Publication = at_address(db, address)
        self.knife: ShelfKnife = shelf.knives(db, [self.standing.piece_id])[0]
        self.shop: Shop = db.scalars(select(Shop)).one()
        self.chosen = set(self.standing.shown)
        self.doc: KnifeDocument = knife_document(self.knife, self.shop.currency, self.chosen)


def _shown(request: Request, db: Session, address: str) -> Shown:
    return Shown(db, request.app.state.shelf, address)


@router.get("/k/{address}.json")
def as_json(request: Request, db: Db, address: Address) -> KnifeDocument:
    """What the shop shows of a knife, as a document."""
    return _shown(request, db, address).doc


@router.get("/k/{address}/card.png", response_class=Response)
def card_png(request: Request, db: Db, address: Address) -> Response:
    """The picture a link unfolds to."""
    shown = _shown(request, db, address)
    by_key = {figure.key: figure for figure in shown.doc.figures}
    figures = [
        figure_texts(by_key[key], shown.shop.units)[0] for key in _ON_PREVIEW if key in by_key
    ]
    outline = outline_shapes(shown.knife) if "drawing" in shown.chosen else []
    content = preview(shown.doc.name, shown.shop.name, outline, figures)
    return Response(content, media_type=PNG_TYPE, headers={"Cache-Control": "max-age=300"})


@router.get("/k/{address}", response_class=HTMLResponse)
def page(request: Request, db: Db, base: PublicBase, address: Address) -> HTMLResponse:
    """A knife's page: what the shop chose, and the cautions."""
    shown = _shown(request, db, address)
    nonce = new_nonce()
    text = _PAGES.get_template("knife.html").render(nonce=nonce, **_content(base, shown))
    headers = {"Content-Security-Policy": page_policy(nonce, scripts=False)}
    return HTMLResponse(text, headers=headers)


def _content(base: str, shown: Shown) -> dict[str, Any]:
    doc, chosen = shown.doc, shown.chosen
    url = f"{shop_base(shown.shop, base)}k/{shown.standing.address}"
    units = shown.shop.units
    figures = [(figure_label(f), *figure_texts(f, units)) for f in doc.figures]
    code = currency_code(shown.shop.currency)
    ld = product(doc.model_dump(), url=url, image=f"{url}/card.png", currency_code=code)
    return {
        "doc": doc,
        "shop": shown.shop,
        "logo": base64.b64encode(shown.shop.logo).decode() if shown.shop.logo else "",
        "url": url,
        "short": f"{shop_base(shown.shop, base)}m/{short_code(Of.KNIFE, shown.knife.piece.id)}",
        "figures": figures,
        "words": shown.standing.words,
        "price": price_text(doc),
        "making": making_of(doc) if "making" in chosen else [],
        "estimates": estimates_of(doc),
        "summary": ", ".join([doc.type, *(f"{label} {value}" for label, value, _ in figures[:4])]),
        "drawing": Markup(outline_svg(shown.knife)) if "drawing" in chosen else "",  # nosec B704 - our SVG
        "section": Markup(section_svg(shown.knife)) if "section" in chosen else "",  # nosec B704 - our SVG
        "cautions": cautions(shown.knife.blade, Place.COUNTER),
        "json_ld": Markup(json.dumps(ld, ensure_ascii=True).replace("<", "\\u003c")),  # nosec B704
    }


@router.get("/k-fonts/{name}.ttf", include_in_schema=False)
def font(name: Annotated[str, Path(max_length=40)]) -> FileResponse:
    """The fonts of these pages."""
    if name not in (TEXT, STRONG, TITLE):
        raise NotFound("font", name)
    headers = {"Cache-Control": "public, max-age=31536000, immutable"}
    return FileResponse(FONTS / f"{name}.ttf", media_type="font/ttf", headers=headers)

"""The shop's products for its own site and for others it sells through, at a keyed address."""

from __future__ import annotations

import hashlib
import hmac
import secrets
from collections.abc import Iterator
from typing import Literal

from pydantic import BaseModel
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.unit_codes import UNIT_TEXT
from maple_rook.core.routine.stock import IN_STOCK, Stock
from maple_rook.documents.figure_text import currency_code
from maple_rook.documents.knife_document import FigureDoc
from maple_rook.formats.csv_table import csv_lines
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ShelfQuery, chosen
from maple_rook.stations.pages.use_cases import pictures_of, reviews
from maple_rook.store import people
from maple_rook.store.publications import on_at
from maple_rook.store.records import NotFound
from maple_rook.store.tables import KnifeModel, Shop

_ATTRIBUTES = ("weight", "edge_length", "overall_length", "height_heel", "hardness", "edge_angle")
_AT_ONCE = 500
_ABOUT = "shop feed"


class Attribute(BaseModel):
    """A measured figure of the product, with U (k = 2) and its unit."""

    name: str
    value: float
    u: float
    unit: str


class Product(BaseModel):
    """A piece as others sell it; ``group`` is its model, ``price`` in ``currency`` (ISO 4217).

    ``link`` leads to its review, else to its page of figures; pieces without either have none.
    """

    id: str
    group: str
    title: str
    brand: str
    type: str
    condition: str
    gtin: str
    price: float | None
    currency: str
    availability: Literal["in_stock", "reserved"]
    link: str
    images: list[str]
    steel: str
    construction: str
    attributes: list[Attribute]


def new_key(db: Session) -> str:
    """A new key of the feed, shown once; the one before opens nothing from now on."""
    key, shop = secrets.token_urlsafe(24), _shop(db)
    act = "changed" if shop.feed_key_sha256 else "made"
    shop.feed_key_sha256 = _digest(key)
    people.write_down(db, _ABOUT, act, shop.id, shop.name)
    db.commit()
    return key


def close(db: Session) -> None:
    """End the feed: no key opens it any more."""
    shop = _shop(db)
    shop.feed_key_sha256 = ""
    people.write_down(db, _ABOUT, "removed", shop.id, shop.name)
    db.commit()


def is_open(db: Session) -> bool:
    return bool(_shop(db).feed_key_sha256)


def check_key(db: Session, key: str) -> Shop:
    """The shop, for holders of the key; for others there is no feed."""
    shop = _shop(db)
    if not shop.feed_key_sha256 or not hmac.compare_digest(shop.feed_key_sha256, _digest(key)):
        raise NotFound("feed", "with this key")
    return shop


def _shop(db: Session) -> Shop:
    return db.scalars(select(Shop)).one()


def _digest(key: str) -> str:
    return hashlib.sha256(key.encode()).hexdigest()


def products(db: Session, shelf: Shelf, shop: Shop, root: str) -> Iterator[Product]:
    """The products in stock, by maker and line.

    Parameters
    ----------
    db : the session the caller ends.
    shelf : the shelf as this process knows it.
    shop : whose they are.
    root : where others reach the shop, with a slash at the end.
    """
    shelf.catch_up(db)
    ids = chosen(db, ShelfQuery(stock=IN_STOCK))
    addresses, written = on_at(db), reviews(db)
    numbers = dict(db.execute(select(KnifeModel.id, KnifeModel.gtin)).all())
    for at in range(0, len(ids), _AT_ONCE):
        for knife in shelf.knives(db, ids[at : at + _AT_ONCE]):
            key = knife.piece.id
            review = written.get(key)
            link = f"{root}p/{review.address}" if review else ""
            pictures = pictures_of(db, review.draft_id) if review else []
            images = [f"{link}/photographs/{version}/1600.jpeg" for version in pictures]
            if not link and key in addresses:
                link = f"{root}k/{addresses[key]}"
            yield _product(knife, shop, numbers.get(knife.model_id, ""), link, images)


def _product(knife: ShelfKnife, shop: Shop, gtin: str, link: str, images: list[str]) -> Product:
    piece = knife.piece
    figures = [
        FigureDoc.of(QUANTITIES[key], knife.figures[key], knife.blade.grind)
        for key in _ATTRIBUTES
        if key in knife.figures
    ]
    return Product(
        id=piece.tag,
        group=knife.model,
        title=knife.model,
        brand=piece.maker,
        type=KNIFE_TYPES[piece.knife_type].label,
        condition=piece.condition,
        gtin=gtin,
        price=piece.price,
        currency=(currency_code(shop.currency) or shop.currency) if piece.price else "",
        availability="reserved" if piece.stock is Stock.RESERVED else "in_stock",
        link=link,
        images=images,
        steel=piece.steel or "",
        construction=piece.construction,
        attributes=[
            Attribute(name=f.label, value=f.value, u=f.u, unit=UNIT_TEXT.get(f.unit, f.unit))
            for f in figures
        ],
    )


HEADINGS = (
    *("id", "group", "title", "brand", "type", "condition", "gtin", "price", "currency"),
    *("availability", "link", "image_link", "additional_image_links", "steel", "construction"),
    *_ATTRIBUTES,
)


def as_csv(rows: Iterator[Product]) -> Iterator[str]:
    """The products as CSV; figures in the unit of their quantity, further pictures by spaces."""
    labels = {key: QUANTITIES[key].label for key in _ATTRIBUTES}

    def cells(row: Product) -> list[str | float | None]:
        figures = {a.name: a.value for a in row.attributes}
        return [
            *(row.id, row.group, row.title, row.brand, row.type, row.condition, row.gtin),
            *(row.price, row.currency, row.availability, row.link),
            *(next(iter(row.images), ""), " ".join(row.images[1:]), row.steel, row.construction),
            *(figures.get(labels[key]) for key in _ATTRIBUTES),
        ]

    return csv_lines(HEADINGS, map(cells, rows))

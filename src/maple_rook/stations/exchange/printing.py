"""A knife on paper and as files: spec card, shelf labels, JSON-LD, DXF."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.errors import InvalidValue
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
from maple_rook.documents.knife_document import knife_document
from maple_rook.documents.short_codes import Of, short_code
from maple_rook.formats.card_words import CARD_WORDS, CardWords
from maple_rook.formats.drawings import Shape
from maple_rook.formats.dxf import dxf
from maple_rook.formats.json_ld import product
from maple_rook.formats.shelf_label import LabelStock, shelf_labels
from maple_rook.formats.spec_card import Card, CardLine, spec_card
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.publications import standing_at, standing_of
from maple_rook.store.tables import Shop

_ON_LABEL = ("edge_length", "weight", "hardness", "edge_angle")
_NOT_MEASURED_SHOWN = 8


def _shop(db: Session) -> Shop:
    return db.scalars(select(Shop)).one()


def card_pdf(db: Session, shelf: Shelf, piece_id: int, base_url: str) -> bytes:
    """The spec card of a knife."""
    knife = shelf.knives(db, [piece_id])[0]
    return spec_card(_card(knife, standing_of(db, piece_id), _shop(db), base_url))


def labels_pdf(
    db: Session,
    shelf: Shelf,
    piece_ids: list[int],
    base_url: str,
    stock: LabelStock,
    first: int,
) -> bytes:
    """A shelf label for each of the knives, on what it is printed on from its first free place."""
    if first > stock.places:
        raise InvalidValue("first", str(first), f"1 to {stock.places}, the places of a sheet")
    shop, knives = _shop(db), shelf.knives(db, piece_ids)
    standing = standing_at(db, piece_ids)
    cards = [
        _card(knife, standing.get(knife.piece.id), shop, base_url, label=True) for knife in knives
    ]
    return shelf_labels(cards, stock, first)


def piece_json_ld(db: Session, shelf: Shelf, piece_id: int, base_url: str) -> dict[str, object]:
    """The Product of a knife, with the address of its page where it has one."""
    knife = shelf.knives(db, [piece_id])[0]
    shop = _shop(db)
    currency, base_url = shop.currency, shop_base(shop, base_url)
    standing = standing_of(db, piece_id)
    url = f"{base_url}k/{standing.address}" if standing and standing.on else None
    return product(
        knife_document(knife, currency).model_dump(),
        url=url,
        image=f"{url}/card.png" if url else None,
        currency_code=currency_code(currency),
    )


def outline_dxf(shelf_knife: ShelfKnife) -> str:
    """Outline, edge and section of a knife, each on a layer, in mm."""
    return dxf([*outline_shapes(shelf_knife), *_section(shelf_knife, aside=True)])


def _section(knife: ShelfKnife, *, aside: bool = False) -> list[Shape]:
    if knife.section is None:
        return []
    left = -knife.outline.overall_length_mm if aside else 0.0
    return [Shape([(x + left, y) for x, y in knife.section], part="section")]


def _card(
    knife: ShelfKnife,
    standing: Publication | None,
    shop: Shop,
    base_url: str,
    *,
    label: bool = False,
) -> Card:
    doc = knife_document(knife, shop.currency)
    base_url, words = shop_base(shop, base_url), CARD_WORDS[shop.language]
    public = standing is not None and standing.on
    figures = doc.figures
    if label:
        by_key = {figure.key: figure for figure in figures}
        figures = [by_key[key] for key in _ON_LABEL if key in by_key]
    return Card(
        name=doc.name,
        about=f"{doc.tag} · {doc.type} · {doc.condition} · {doc.grind}",
        shop=", ".join(filter(None, (shop.name, shop.place))),
        price=price_text(doc),
        outline=outline_shapes(knife),
        section=_section(knife),
        figures=[CardLine(figure_label(f), *figure_texts(f, shop.units)) for f in figures],
        estimates=[CardLine(name, said, grade) for name, said, grade in estimates_of(doc)],
        making=[CardLine(name, said) for name, said in making_of(doc)],
        claims=[
            (f"{c.label} {c.printed}: {c.found}", c.verdict_code is ClaimVerdict.CONTRADICTED)
            for c in doc.claims
        ],
        not_measured=", ".join(doc.not_measured[:_NOT_MEASURED_SHOWN]),
        cautions=" ".join(cautions(knife.blade, Place.COUNTER)),
        code=f"{base_url}k/{standing.address}" if standing and public else doc.tag,
        code_says=_code_says(words, doc.tag, base_url, knife.piece.id, public=public, label=label),
        words=words,
        opening=shop.opening_words,
        logo=shop.logo,
        paper=shop.paper,
    )


def _code_says(
    words: CardWords, tag: str, base_url: str, piece_id: int, *, public: bool, label: bool
) -> str:
    """Where the code of a card leads; a whole card says too where it is told how it was measured.

    Parameters
    ----------
    words : the fixed texts.
    tag, piece_id : of the piece.
    base_url : where others reach the shop.
    public : whether the piece has a page.
    label : whether it is a label, which has room for no more.
    """
    if not public:
        return f"{words.tag} {tag}"
    if label:
        return words.its_page
    how = f"{base_url}m/{short_code(Of.KNIFE, piece_id)}"
    return f"{words.its_page}; {words.how_measured}: {how}"

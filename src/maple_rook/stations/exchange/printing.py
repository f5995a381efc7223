"""A knife on paper and as files: spec card, shelf labels, JSON-LD, DXF."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.core.upkeep.cautions import Place, cautions
from maple_rook.formats.card_words import CARD_WORDS
from maple_rook.formats.drawings import Shape
from maple_rook.formats.dxf import dxf
from maple_rook.formats.json_ld import product
from maple_rook.formats.spec_card import Card, CardLine, shelf_labels, spec_card
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.exchange.knife_document import FigureDoc, KnifeDocument, knife_document
from maple_rook.stations.exchange.publishing import standing_at, standing_of
from maple_rook.store.exchange_tables import Publication
from maple_rook.store.tables import Shop

_SIGN = {
    "mm": "mm",
    "in": "in",
    "g": "g",
    "oz": "oz",
    "dps": "°/side",
    "incl": "° incl.",
    "deg": "°",
    "HRC": "HRC",
    "HRB": "HRB",
    "N": "N",
    "lbf": "lbf",
    "%": "% right",
    "of 10": "of 10",
}
METRIC = "metric"
_IMPERIAL = ("in", "oz", "lbf")
_ON_LABEL = ("edge_length", "weight", "hardness", "edge_angle")
_NOT_MEASURED_SHOWN = 8


def shop_base(shop: Shop, base_url: str) -> str:
    """Where others reach the shop: the address it names, or the one it was asked by."""
    return f"{shop.public_address.rstrip('/')}/" if shop.public_address else base_url


def _shop(db: Session) -> Shop:
    return db.scalars(select(Shop)).one()


def card_pdf(db: Session, shelf: Shelf, piece_id: int, base_url: str) -> bytes:
    """The spec card of a knife."""
    knife = shelf.knives(db, [piece_id])[0]
    return spec_card(_card(knife, standing_of(db, piece_id), _shop(db), base_url))


def labels_pdf(db: Session, shelf: Shelf, piece_ids: list[int], base_url: str) -> bytes:
    """A shelf label for each of the knives."""
    shop, knives = _shop(db), shelf.knives(db, piece_ids)
    standing = standing_at(db, piece_ids)
    return shelf_labels(
        [_card(knife, standing.get(knife.piece.id), shop, base_url, label=True) for knife in knives]
    )


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


def currency_code(currency: str) -> str | None:
    """The shop's currency where it is written as a code of three letters."""
    return currency if len(currency) == 3 and currency.isalpha() and currency.isupper() else None


def outline_dxf(shelf_knife: ShelfKnife) -> str:
    """Outline, edge and section of a knife, each on a layer, in mm."""
    return dxf([*outline_shapes(shelf_knife), *_section(shelf_knife, aside=True)])


def outline_shapes(knife: ShelfKnife) -> list[Shape]:
    """Handle and blade, the edge at the bottom."""
    drawn = knife.outline
    return [
        Shape([(x, y) for x, y in points], part=part)
        for part, points in (("handle", drawn.handle), ("blade", drawn.blade))
        if points
    ]


def _section(knife: ShelfKnife, *, aside: bool = False) -> list[Shape]:
    if knife.section is None:
        return []
    left = -knife.outline.overall_length_mm if aside else 0.0
    return [Shape([(x + left, y) for x, y in knife.section], part="section")]


def figure_label(figure: FigureDoc) -> str:
    """What it is, and where nobody measured it, that."""
    measured = figure.kind is FigureKind.MEASURED
    return figure.label if measured else f"{figure.label}, {figure.kind.label}"


def figure_texts(figure: FigureDoc, units: str = METRIC) -> tuple[str, str]:
    """A figure in words, in the system shown first with U and in the other."""
    value, other = _texts(figure)
    if units != METRIC and figure.other_unit in _IMPERIAL:
        value, other = _imperial_first(figure)
    return (value if figure.kind is FigureKind.MEASURED else f"≈ {value}"), other


def _texts(figure: FigureDoc) -> tuple[str, str]:
    if figure.unit == "dps" and figure.other_unit is None:
        return f"{figure.value:.1f} ± {figure.u:.1f}°", ""
    if figure.unit == "dps":  # said together, per side and inclusive have to agree
        side = round(figure.value, 1)
        return f"{side:.1f} ± {figure.u:.1f}{_SIGN['dps']}", f"{2 * side:.1f}{_SIGN['incl']}"
    decimals = decimals_for(2 * figure.u)
    mean, u = rounded_text(figure.value, decimals), rounded_text(figure.u, decimals)
    value = f"{mean} ± {u} {_SIGN[figure.unit]}".replace("-", "−").replace(" °", "°")
    if figure.other_value is None or figure.other_unit is None or figure.other_u is None:
        return value, ""
    other = rounded_text(figure.other_value, decimals_for(2 * figure.other_u))
    return value, f"{other} {_SIGN[figure.other_unit]}".replace("-", "−")


def _imperial_first(figure: FigureDoc) -> tuple[str, str]:
    assert figure.other_unit is not None
    assert figure.other_value is not None
    assert figure.other_u is not None
    decimals = decimals_for(2 * figure.other_u)
    mean, u = (rounded_text(v, decimals) for v in (figure.other_value, figure.other_u))
    own = rounded_text(figure.value, decimals_for(2 * figure.u))
    value = f"{mean} ± {u} {_SIGN[figure.other_unit]}".replace("-", "−")
    return value, f"{own} {_SIGN[figure.unit]}".replace("-", "−")


def making_of(doc: KnifeDocument) -> list[tuple[str, str]]:
    """What the knife is made of, in words, without what is not known or not shown."""
    rows = (
        ("grind", doc.grind),
        ("construction", doc.construction),
        ("steel", doc.steel),
        ("finish", doc.finish),
        ("handle", doc.handle),
    )
    return [(label, text) for label, text in rows if text]


def estimates_of(doc: KnifeDocument) -> list[tuple[str, str, str]]:
    """Estimates in words: what, between which limits, and how well founded."""
    return [(e.label, e.text, f"grade {e.grade}") for e in doc.estimates]


def price_text(doc: KnifeDocument) -> str:
    return f"{doc.price:,.2f} {doc.currency}".strip() if doc.price is not None else ""


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
        code_says=words.its_page if public else f"{words.tag} {doc.tag}",
        words=words,
        opening=shop.opening_words,
        logo=shop.logo,
        paper=shop.paper,
    )

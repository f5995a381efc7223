"""A range: all knives of a maker, type or search in a table that readers can put in order."""

from __future__ import annotations

import datetime as dt
from collections.abc import Mapping

from sqlalchemy.orm import Session

from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.wording import interval_text, listed, lower_first
from maple_rook.core.prediction.model_cards import card
from maple_rook.core.routine.stock import IN_STOCK
from maple_rook.core.upkeep.cautions import Place, general
from maple_rook.core.writing.fields import LiveFigure
from maple_rook.documents.figure_text import money_text
from maple_rook.documents.knife_document import knife_document
from maple_rook.formats.json_ld import collection
from maple_rook.formats.page.blocks import Block, Cell, PageDocument, TableBlock
from maple_rook.http.problems import Conflict
from maple_rook.shelf.knife import ShelfKnife
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ON_SHELF, ShelfQuery, chosen
from maple_rook.stations.pages.building import (
    day_text,
    glossary,
    introduction,
    shop_line,
    shown,
    summary_of,
)
from maple_rook.stations.pages.facts import measured_figure
from maple_rook.stations.pages.schemas import RangeContent
from maple_rook.store.tables import Shop

MOST = 200
"""Knives on one page at most."""


def in_range(db: Session, shelf: Shelf, content: RangeContent) -> list[ShelfKnife]:
    """The knives in stock that the search leaves, by maker and line."""
    shelf.catch_up(db)
    query = ShelfQuery(content.search, knife_types=tuple(content.knife_types), stock=IN_STOCK)
    return shelf.knives(db, chosen(db, query, limit=MOST))


def usual_title(content: RangeContent) -> str:
    """
    >>> usual_title(RangeContent(knife_types=["gyuto"], search="Kesterby"))
    'Kesterby: gyuto'
    >>> usual_title(RangeContent())
    'All our knives, measured'
    """
    types = (
        listed([KNIFE_TYPES[key].label for key in content.knife_types])
        if (content.knife_types)
        else ""
    )
    return ": ".join(filter(None, (content.search, types))) or "All our knives, measured"


def range_page(
    db: Session,
    shelf: Shelf,
    content: RangeContent,
    title: str,
    shop: Shop,
    addresses: Mapping[int, str],
    day: dt.date | None,
) -> PageDocument:
    """The range as it reads now.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    content : what was chosen.
    title : of the page.
    shop : whose it is.
    addresses : of published pages about a piece.
    day : of publishing; None for a draft.
    """
    knives = in_range(db, shelf, content)
    if not knives:
        raise Conflict("No knife in stock is left by this search; change it first.")
    blocks: list[Block] = introduction(content)
    blocks.append(_table(knives, content, shop, addresses))
    if content.glossary:
        blocks += glossary()
    shown_of = {*content.columns, "making", *(("price",) if content.price else ())}
    count = "1 knife" if len(knives) == 1 else f"{len(knives)} knives"
    summary = summary_of([f"{title}: {count}, each measured."])
    return PageDocument(
        kind=content.kind,
        title=title,
        summary=summary,
        by=content.by,
        shop=shop_line(shop),
        published_on=day_text(day),
        blocks=blocks,
        cautions=general(Place.COUNTER),
        figures=[
            figure
            for knife in knives
            for figure in shown(knife.piece.id, _figures(knife, content, shop))
        ],
        json_ld=dict(
            collection(
                title,
                summary,
                shop.name,
                day_text(day),
                [knife_document(k, shop.currency, shown_of).model_dump() for k in knives],
            )
        ),
    )


def _figures(knife: ShelfKnife, content: RangeContent, shop: Shop) -> list[LiveFigure]:
    """The figures of a row, those it has."""
    found = [
        measured_figure(knife, key, shop.units) for key in content.columns if key in knife.figures
    ]
    if content.predictions:
        for key in ON_SHELF:
            if key in knife.predicted:
                w, model = knife.predicted[key], card(key)
                text = interval_text(w.central, w.low, w.high, model.unit)
                label = lower_first(model.name)
                found.append(
                    LiveFigure(
                        key, label, text, model.grade.value, model.unit, w.central, w.high - w.low
                    )
                )
    if content.price and knife.piece.price is not None:
        text = money_text(knife.piece.price, shop.currency)
        found.append(LiveFigure("price", "price", text, "", shop.currency, knife.piece.price))
    return found


def _table(
    knives: list[ShelfKnife], content: RangeContent, shop: Shop, addresses: Mapping[int, str]
) -> TableBlock:
    keys = [
        *content.columns,
        *(ON_SHELF if content.predictions else ()),
        *(("price",) if content.price else ()),
    ]
    names = {
        **{key: QUANTITIES[key].label for key in content.columns},
        **{key: lower_first(card(key).name) for key in ON_SHELF},
        "price": "price",
    }
    rows = []
    for knife in knives:
        figures = {f.key: f for f in _figures(knife, content, shop)}
        rows.append(
            [
                Cell(text=knife.piece.name, href=addresses.get(knife.piece.id, "")),
                Cell(text=KNIFE_TYPES[knife.piece.knife_type].label),
                *(
                    Cell(text=f.text, value=f.central, grade=f.grade)
                    if (f := figures.get(key))
                    else Cell(text="")
                    for key in keys
                ),
            ]
        )
    return TableBlock(
        key="range",
        caption="Measured figures with U (k = 2), predictions with limits of 90 %.",
        head=["knife", "type", *(names[key] for key in keys)],
        rows=rows,
        numbers=list(range(2, 2 + len(keys))),
        sortable=True,
    )

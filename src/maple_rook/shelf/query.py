"""The shelf searched, narrowed and sorted: by the database, from the rows that are kept of it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Any

from fastapi import Depends, Query
from sqlalchemy import (
    ColumnElement,
    Double,
    Float,
    Select,
    cast,
    exists,
    func,
    literal_column,
    select,
)
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.wording import lower_first
from maple_rook.core.prediction.evaluate import EASES
from maple_rook.core.prediction.model_cards import card, keys
from maple_rook.core.routine.stock import IN_STOCK, Stock
from maple_rook.store.shelf_tables import SORTED_BY, QuarantinedPiece, ShelfRow
from maple_rook.store.tables import KnifeModel, Maker, Piece

_RANGED = (
    "edge_length",
    "weight",
    "height_heel",
    "hardness",
    "edge_angle",
    "thickness_behind_edge",
)
ON_SHELF = keys("on_shelf")
RANGE_KEYS: dict[str, tuple[str, str]] = {
    **{
        key: (q.label, "°/side" if q.unit == "dps" else q.unit)
        for key, q in ((key, QUANTITIES[key]) for key in _RANGED)
    },
    **{
        key: (lower_first(c.name), "" if c.unit in c.name.lower() else c.unit)
        for key, c in ((key, card(key)) for key in ON_SHELF)
    },
    "price": ("price", ""),
}
"""What the Rack's filters are drawn for: label and unit."""


@dataclass(frozen=True)
class ShelfQuery:
    """Search words, types, ranges by figure, order and page; cutting ease is for a food mix.

    ``stock`` is where the pieces are; empty, wherever they are. ``tags`` and ``makers`` are whole,
    a maker in whatever case.
    """

    search: str = ""
    sort: str = "name"
    descending: bool = False
    knife_types: tuple[str, ...] = ()
    ranges: dict[str, tuple[float, float]] = field(default_factory=dict)
    offset: int = 0
    limit: int = 48
    food_mix: FoodMix = FoodMix.ALL_ROUND
    stock: tuple[Stock, ...] = ()
    tags: tuple[str, ...] = ()
    makers: tuple[str, ...] = ()

    @property
    def narrowed(self) -> bool:
        """Whether it asks for anything else than all that is in stock."""
        asked = self.search.strip() or self.knife_types or self.ranges
        return bool(asked or self.stock != IN_STOCK)


FIGURE_KEYS = (*RANGE_KEYS, *(key for key in QUANTITIES if key not in RANGE_KEYS))
"""All that a range or a sort may ask for."""
_NAMED_SORTS = {"name": ShelfRow.name, "type": ShelfRow.type_label}
SORTS: dict[str, str] = {
    "name": "maker and line",
    "type": "type",
    **{key: label for key, (label, _) in RANGE_KEYS.items()},
}
"""The orders that a person is offered, with their labels."""
SORT_KEYS = (*_NAMED_SORTS, *FIGURE_KEYS)
EASE_KEYS = tuple(EASES.values())
"""What takes the place of the cutting ease where a food mix is chosen."""
FORMERLY = {"ease": "cutting_ease"}
"""Names of figures in links and scripts of before."""


def range_of(text: str) -> tuple[str, tuple[float, float]]:
    """A range as it is asked for: key:low:high."""
    named, _, limits = text.partition(":")
    key = FORMERLY.get(named, named)
    low, _, high = limits.partition(":")
    try:
        bounds = float(low), float(high)
    except ValueError:
        raise InvalidValue("within", text, "key:low:high, such as weight:100:200") from None
    if key not in FIGURE_KEYS:
        raise InvalidValue("within", text, ", ".join(FIGURE_KEYS))
    return key, bounds


def shelf_query(
    search: Annotated[str, Query(max_length=200)] = "",
    sort: Annotated[str, Query(max_length=40, description=", ".join(SORT_KEYS))] = "name",
    descending: bool = False,
    knife_type: Annotated[list[str] | None, Query(max_length=40)] = None,
    within: Annotated[
        list[str] | None, Query(max_length=20, description="key:low:high, such as weight:100:200")
    ] = None,
    offset: Annotated[int, Query(ge=0, le=1_000_000)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 48,
    food_mix: FoodMix = FoodMix.ALL_ROUND,
    stock: Annotated[list[Stock] | None, Query(max_length=len(Stock))] = None,
) -> ShelfQuery:
    """The query string as the shelf understands it.

    Parameters
    ----------
    search : words looked for.
    sort : key of the order.
    descending : whether it falls.
    knife_type : types wanted.
    within : ranges, key:low:high each.
    offset : how many are passed over.
    limit : how many at most.
    food_mix : what is cut, wherever the cutting ease is asked for.
    stock : where the pieces are; where it is not said, in stock.
    """
    ranges = dict(range_of(text) for text in within or [])
    return ShelfQuery(
        search,
        FORMERLY.get(sort, sort),
        descending,
        tuple(knife_type or ()),
        ranges,
        offset,
        limit,
        food_mix,
        tuple(s for s in Stock if s in stock) if stock else IN_STOCK,
    )


AskedQuery = Annotated[ShelfQuery, Depends(shelf_query)]


def of_mix(key: str, food_mix: FoodMix) -> str:
    """The key under which the shelf keeps a figure where a food mix is chosen."""
    return EASES.get(food_mix, key) if key == "cutting_ease" else key


def figure(key: str) -> ColumnElement[float | None]:
    """Most figures are not worth an index of their own."""
    if key in SORTED_BY:
        column: ColumnElement[float | None] = getattr(ShelfRow, key)
        return column
    if key in ON_SHELF or key in EASE_KEYS:
        # spelt as its index is, the key in the statement itself
        of_key = ShelfRow.predicted.op("->")(literal_column(f"'{key}'"))
        return cast(of_key.op("->>")(literal_column("0")), Double)
    return cast(ShelfRow.figures[key].astext, Float)


def _kept(query: ShelfQuery) -> list[ColumnElement[bool]]:
    """What search, types and ranges ask of a piece."""
    asked: list[ColumnElement[bool]] = [
        ShelfRow.words.contains(word, autoescape=True) for word in query.search.lower().split()
    ]
    if query.stock:
        asked.append(ShelfRow.stock.in_(query.stock))
    if query.knife_types:
        asked.append(ShelfRow.knife_type.in_(query.knife_types))
    if query.tags:
        asked.append(ShelfRow.tag.in_(query.tags))
    if query.makers:
        asked.append(ShelfRow.model_id.in_(_models_of(query.makers)))
    asked += [
        figure(of_mix(key, query.food_mix)).between(low, high)
        for key, (low, high) in query.ranges.items()
    ]
    return asked


def _models_of(makers: tuple[str, ...]) -> Select[int]:
    by_maker = func.lower(Maker.name).in_([maker.lower() for maker in makers])
    return select(KnifeModel.id).join(Maker, Maker.id == KnifeModel.maker_id).where(by_maker)


def _order(query: ShelfQuery) -> tuple[ColumnElement[Any], ...]:
    """In the order asked; knives without the figure come last either way."""
    if query.sort not in SORT_KEYS:
        raise InvalidValue("sort", query.sort, ", ".join(SORT_KEYS))
    by: ColumnElement[Any] = _NAMED_SORTS.get(query.sort) or figure(
        of_mix(query.sort, query.food_mix)
    )  # type: ignore[assignment]
    return (by.desc() if query.descending else by.asc()).nulls_last(), ShelfRow.piece_id.asc()


def count(db: Session, query: ShelfQuery) -> int:
    """How many knives search, types, ranges and stock leave."""
    return left(db, query)[0]


def left(db: Session, query: ShelfQuery) -> tuple[int, float]:
    """How many, and how long the longest drawing of them is."""
    n, longest = db.execute(
        select(func.count(), func.max(ShelfRow.drawn_mm)).where(*_kept(query))
    ).one()
    return n, longest or 0.0


def page(db: Session, query: ShelfQuery) -> list[str]:
    """Rows of a page as the Rack shows them, each as JSON."""
    wanted = select(ShelfRow.row).where(*_kept(query)).order_by(*_order(query))
    return list(db.scalars(wanted.offset(query.offset).limit(query.limit)))


def chosen(
    db: Session, query: ShelfQuery, *, offset: int = 0, limit: int | None = None
) -> list[int]:
    """Ids of the knives that search, types and ranges leave, in the order asked."""
    wanted = select(ShelfRow.piece_id).where(*_kept(query)).order_by(*_order(query))
    return list(db.scalars(wanted.offset(offset).limit(limit)))


def unlisted(db: Session, query: ShelfQuery) -> list[int]:
    """Ids of knives of the record that the shelf has no row of yet, by their tags.

    Figures of them are not known before they are calculated, so a range leaves none; what could
    not be calculated is left out too.
    """
    if query.ranges:
        return []
    words = func.lower(
        func.concat_ws(" ", Piece.tag, Maker.name, KnifeModel.line, KnifeModel.knife_type)
    )
    asked: list[ColumnElement[bool]] = [
        words.contains(word, autoescape=True) for word in query.search.lower().split()
    ]
    if query.stock:
        asked.append(Piece.stock.in_(query.stock))
    if query.knife_types:
        asked.append(KnifeModel.knife_type.in_(query.knife_types))
    if query.tags:
        asked.append(Piece.tag.in_(query.tags))
    if query.makers:
        asked.append(KnifeModel.id.in_(_models_of(query.makers)))
    listed = exists().where(ShelfRow.piece_id == Piece.id)
    failed = exists().where(QuarantinedPiece.piece_id == Piece.id)
    wanted = (
        select(Piece.id)
        .join(KnifeModel, KnifeModel.id == Piece.model_id)
        .join(Maker, Maker.id == KnifeModel.maker_id)
        .where(~listed, ~failed, *asked)
        .order_by(Piece.tag)
    )
    return list(db.scalars(wanted))

"""The shelf as a table: one row a piece, every figure with U and in both unit systems."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, defer

from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.quantities import QUANTITIES, other_unit
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import OTHER_SYSTEM, from_base
from maple_rook.core.measurement.wording import lower_first
from maple_rook.core.prediction.model_cards import card
from maple_rook.formats.csv_table import Cell, csv_lines
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ON_SHELF, ShelfQuery, chosen
from maple_rook.store import records
from maple_rook.store.shelf_tables import ShelfRow
from maple_rook.store.tables import Shop

_UNIT_WORDS = {
    "dps": "degrees per side",
    "deg": "degrees",
    "incl": "degrees inclusive",
    "%": "% right-hand face",
}
_OF_PIECE = (
    "tag",
    "maker",
    "line",
    "type",
    "nominal [mm]",
    "condition",
    "grind",
    "construction",
    "steel",
)
_TOGETHER = 500


def shelf_csv(db: Session, shelf: Shelf, query: ShelfQuery) -> Iterator[str]:
    """Every piece that the search and the ranges leave, in their order; a line at a time."""
    shelf.catch_up(db)
    currency = db.scalars(select(Shop)).one().currency
    return csv_lines(shelf_headings(currency), shelf_rows(db, chosen(db, query)))


def shelf_rows(db: Session, ids: Sequence[int]) -> Iterator[list[Cell]]:
    """These pieces one after the other as cells under :func:`shelf_headings`."""
    for start in range(0, len(ids), _TOGETHER):
        part = ids[start : start + _TOGETHER]
        rows = {
            row.piece_id: row
            for row in db.scalars(
                select(ShelfRow)
                .options(defer(ShelfRow.decides), defer(ShelfRow.central))
                .where(ShelfRow.piece_id.in_(part))
            )
        }
        figures = records.figures(db, part)
        db.expunge_all()
        for key in part:
            yield _cells(rows[key], figures[key])


def shelf_headings(currency: str) -> list[str]:
    """What stands over each column, with its unit."""
    heading = [*_OF_PIECE, f"price [{currency}]" if currency else "price"]
    for q in QUANTITIES.values():
        heading += _headings(q)
    for name in (lower_first(card(key).name) for key in ON_SHELF):
        heading += [f"{name}, likely", f"{name}, 5 %", f"{name}, 95 %"]
    return [*heading, "estimated or told", "flags"]


def _unit(unit: str) -> str:
    return _UNIT_WORDS.get(unit, unit)


def _headings(q: Quantity) -> list[str]:
    named = f"{q.label} [{_unit(q.unit)}]" if q.unit else q.label
    other = OTHER_SYSTEM.get(q.unit)
    return [named, f"U of {named}", *([f"{q.label} [{_unit(other)}]"] if other else [])]


def _cells(row: ShelfRow, figures: records.Figures) -> list[Cell]:
    shown = json.loads(row.row)
    piece = shown["piece"]
    cells: list[Cell] = [
        piece["tag"],
        piece["maker"],
        piece["line"],
        row.type_label,
        piece["nominal_mm"],
        row.condition,
        GRINDS[Grind(piece["grind"])].label,
        piece["construction"],
        piece["steel"] or "",
        row.price,
    ]
    for q in QUANTITIES.values():
        cells += _figure(q, figures.get(q.key), Grind(piece["grind"]))
    for key in ON_SHELF:
        cells += [round(v, 3) for v in row.predicted.get(key, ())] or [None] * 3
    unmeasured = [
        f"{q.label} ({figures[q.key].kind.label})"
        for q in QUANTITIES.values()
        if q.key in figures and figures[q.key].kind is not FigureKind.MEASURED
    ]
    flags = "; ".join(flag["label"] for flag in shown["flags"])
    return [*cells, "; ".join(unmeasured), flags]


def _figure(q: Quantity, figure: Figure | None, grind: Grind) -> list[Cell]:
    has_other = q.unit in OTHER_SYSTEM
    if figure is None:
        return [None, None, *([None] if has_other else [])]
    mean = round(figure.mean, 4)
    other = other_unit(q, grind)
    converted = round(from_base(figure.mean, other), 4) if other else None
    in_other = [converted] if has_other else []
    return [mean, round(figure.expanded, 4), *in_other]

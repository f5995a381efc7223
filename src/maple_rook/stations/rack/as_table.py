"""The shelf as a table: one row a piece, every figure with U and in both unit systems."""

from __future__ import annotations

from collections.abc import Iterator

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.knife_types import GRIND_LABELS, KNIFE_TYPES, Grind
from maple_rook.core.quantities import QUANTITIES, Quantity, of_one_face
from maple_rook.core.uncertainty import Figure
from maple_rook.core.units import OTHER_SYSTEM, from_base
from maple_rook.formats.csv_table import Cell, csv_lines
from maple_rook.stations.rack.work import RackQuery, chosen
from maple_rook.stations.shelf import Shelf, ShelfKnife, Whisker
from maple_rook.store.tables import Shop

_UNIT_WORDS = {"dps": "degrees per side", "incl": "degrees inclusive", "%": "% right-hand face"}
_OF_PIECE = ("tag", "maker", "line", "type", "nominal [mm]", "condition", "grind", "construction",
             "steel")  # fmt: skip
_PREDICTED = ("cutting ease index", "months to the stone")


def shelf_csv(db: Session, shelf: Shelf, query: RackQuery) -> Iterator[str]:
    """Every piece that the search and the ranges leave, in their order; a line at a time."""
    currency = db.scalars(select(Shop)).one().currency
    knives = chosen(db, shelf, query)
    return csv_lines(shelf_headings(currency), (shelf_row(knife) for knife in knives))


def shelf_headings(currency: str) -> list[str]:
    """What stands over each column, with its unit."""
    heading = [*_OF_PIECE, f"price [{currency}]" if currency else "price"]
    for q in QUANTITIES.values():
        heading += _headings(q)
    for name in _PREDICTED:
        heading += [f"{name}, likely", f"{name}, 5 %", f"{name}, 95 %"]
    return [*heading, "flags"]


def _unit(unit: str) -> str:
    return _UNIT_WORDS.get(unit, unit)


def _headings(q: Quantity) -> list[str]:
    named = f"{q.label} [{_unit(q.unit)}]" if q.unit else q.label
    other = OTHER_SYSTEM.get(q.unit)
    return [named, f"U of {named}", *([f"{q.label} [{_unit(other)}]"] if other else [])]


def shelf_row(knife: ShelfKnife) -> list[Cell]:
    """One piece as cells under :func:`shelf_headings`."""
    piece = knife.piece
    cells: list[Cell] = [
        piece.tag, piece.maker, piece.line, KNIFE_TYPES[piece.knife_type].label, piece.nominal_mm,
        piece.condition, GRIND_LABELS[Grind(piece.grind)], piece.construction, piece.steel or "",
        piece.price,
    ]  # fmt: skip
    for q in QUANTITIES.values():
        one_face = of_one_face(q, single_bevel=knife.blade.single_bevel)
        cells += _figure(q, knife.figures.get(q.key), one_face=one_face)
    for whisker in (knife.ease, knife.months_to_stone):
        cells += _interval(whisker)
    return [*cells, "; ".join(knife.flags)]


def _figure(q: Quantity, figure: Figure | None, *, one_face: bool) -> list[Cell]:
    other = OTHER_SYSTEM.get(q.unit)
    if figure is None:
        return [None, None, *([None] if other else [])]
    mean = round(figure.mean, 4)
    converted = round(from_base(figure.mean, other), 4) if other and not one_face else None
    in_other = [converted] if other else []
    return [mean, round(figure.expanded, 4), *in_other]


def _interval(whisker: Whisker | None) -> list[Cell]:
    if whisker is None:
        return [None, None, None]
    return [round(v, 3) for v in (whisker.central, whisker.low, whisker.high)]

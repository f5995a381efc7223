"""The record taken out: each table as CSV, all of them as one JSON document or one workbook."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from sqlalchemy.orm import Session

from maple_rook.core.measurement.units import UNITS
from maple_rook.formats.csv_table import Cell
from maple_rook.formats.incoming.fields import RECORD_KINDS, Kind
from maple_rook.formats.record_tables import RECORD_TABLES, cells, record_csv, shop_json
from maple_rook.formats.workbook import BookSheet, write_workbook
from maple_rook.shelf.as_table import shelf_headings, shelf_rows
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import ShelfQuery, chosen
from maple_rook.store import outgoing, travelling
from maple_rook.store.picture_store import PictureStore
from maple_rook.store.travelling import BASICS, REST

ROWS: dict[Kind, Callable[[Session, outgoing.Part], outgoing.Rows]] = {
    Kind.MODELS: outgoing.models,
    Kind.CLAIMS: outgoing.claims,
    Kind.PIECES: outgoing.pieces,
    Kind.READINGS: outgoing.readings,
    Kind.PROFILES: outgoing.profiles,
    Kind.TRIALS: outgoing.trials,
}
SHELF_SHEET, ABOUT_SHEET = "Shelf (computed)", "About"


def table_rows(db: Session, kind: Kind, part: outgoing.Part = outgoing.EVERYTHING) -> outgoing.Rows:
    """Rows of one table, or a part of them, with exactly the columns of the record's tables."""
    names = [column.name for column in RECORD_TABLES[kind]]
    return ({name: row[name] for name in names} for row in ROWS[kind](db, part))


def table_csv(db: Session, kind: Kind) -> Iterator[str]:
    return record_csv(kind, table_rows(db, kind))


def whole_json(db: Session, bucket: PictureStore | None = None) -> Iterator[str]:
    of_kinds = ((kind, table_rows(db, kind)) for kind in RECORD_KINDS)
    basics, rest = _travelling(db, BASICS), _travelling(db, REST, bucket)
    tables = ((Kind.BASICS, basics), *of_kinds, (Kind.REST, rest))
    return shop_json(outgoing.shop_row(db), tables)


def _travelling(
    db: Session, tables: tuple[str, ...], bucket: PictureStore | None = None
) -> Iterator[dict[str, Any]]:
    return ({"table": table, "row": row} for table, row in travelling.rows(db, tables, bucket))


def workbook(db: Session, shelf: Shelf, path: Path) -> None:
    """The shelf with U and both unit systems, then the record's tables, then what they mean."""
    shelf.catch_up(db)
    currency, ids = outgoing.shop_row(db)["currency"], chosen(db, ShelfQuery())
    write_workbook(
        path,
        [
            BookSheet(SHELF_SHEET, shelf_headings(currency), shelf_rows(db, ids)),
            *(_record_sheet(db, kind) for kind in RECORD_KINDS),
            BookSheet(ABOUT_SHEET, ["table", "column heading", "meaning"], _about()),
        ],
    )


def _record_sheet(db: Session, kind: Kind) -> BookSheet:
    headings = [column.name for column in RECORD_TABLES[kind]]
    return BookSheet(kind.value, headings, (cells(kind, row) for row in table_rows(db, kind)))


def _about() -> Iterator[list[Cell]]:
    yield [SHELF_SHEET, "U of …", "expanded uncertainty, k = 2, in the unit of the figure"]
    yield [SHELF_SHEET, "likely, 5 %, 95 %", "a prediction: its central value and 90 % limits"]
    for unit in UNITS.values():
        yield ["units", unit.symbol, f"{unit.factor:g} of the base unit of {unit.dimension.value}"]
    for kind, columns in RECORD_TABLES.items():
        for column in columns:
            yield [kind.value, column.name, column.about]

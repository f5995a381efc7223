"""A comparison as a table: a row for each quantity, value and U of each knife."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from maple_rook.comparing.laid import LETTERS
from maple_rook.comparing.schemas import BoardOut
from maple_rook.formats.csv_table import Cell

VERDICTS = {
    "noticeable": "differs noticeably",
    "real": "differs",
    "not_measurable": "same within measurement",
}


def headings(board: BoardOut) -> list[str]:
    """Each knife is named in the headings of its columns."""
    names = [f"{LETTERS[i]} {knife.piece.name}" for i, knife in enumerate(board.knives)]
    figures = [heading for name in names for heading in (name, f"{name}, U (k = 2)")]
    return ["quantity", "unit", "grade", *figures, "verdict", "largest difference"]


def rows(board: BoardOut) -> Iterator[Sequence[Cell]]:
    """What differs most first, as on the Board."""
    order = {key: n for n, key in enumerate(board.verdict.order)}
    for row in sorted(board.differences, key=lambda r: order.get(r.key, len(order))):
        figures: list[Cell] = []
        for figure in row.values:
            figures += [None, None] if figure is None else [figure.mean, figure.expanded]
        unit = "degrees per side" if row.unit == "dps" else row.unit
        yield [row.label, unit, row.grade, *figures, VERDICTS[row.verdict.value], row.largest]

"""A table of a file: headings, and rows of text that can be read again from the start."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from itertools import islice

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.headings import guess, unit_of

MOST_BYTES = 64_000_000
MOST_ROWS = 100_000
MOST_COLUMNS = 400
MOST_CELL = 200_000
_HEADING_WITHIN = 15


@dataclass(frozen=True)
class TableRow:
    """A row as it stands in the file; ``notes`` say by column what was read in an unusual way.

    ``wrong`` says why the row cannot be read at all; it is empty for a readable one.
    """

    line: int
    cells: list[str]
    notes: dict[int, str] = field(default_factory=dict)
    wrong: str = ""

    @property
    def empty(self) -> bool:
        return not self.wrong and not any(self.cells)


@dataclass(frozen=True)
class Table:
    """One table of a file; ``rows`` opens it anew and gives the rows below the headings.

    ``said`` is what was noticed of the file as a whole, such as its encoding.
    """

    name: str
    headings: list[str]
    rows: Callable[[], Iterator[TableRow]]
    said: list[str] = field(default_factory=list)

    def first(self, number: int) -> list[TableRow]:
        return list(islice(self.rows(), number))


def with_headings(
    name: str, every: Callable[[], Iterator[TableRow]], said: list[str]
) -> Table | None:
    """The table below the row that reads most like headings; None where nothing stands in it.

    A row of units right below the headings belongs to them.
    """
    top = list(islice((row for row in every() if not row.empty), _HEADING_WITHIN))
    if not top:
        return None
    best = max(top, key=lambda row: (_recognised(row), -row.line))
    heading = best if _recognised(best) else top[0]
    if heading.wrong:
        raise InvalidValue(
            "file", f"line {heading.line}", f"headings that can be read: {heading.wrong}"
        )
    headings, last = list(heading.cells), heading.line
    below = next((row for row in top if row.line > heading.line), None)
    if below is not None and (units := _units_below(headings, below.cells)) is not None:
        headings, last = units, below.line
    while headings and not headings[-1]:
        headings.pop()

    def rows() -> Iterator[TableRow]:
        return limited(row for row in every() if row.line > last and not row.empty)

    return Table(name, headings, rows, said)


def limited(rows: Iterable[TableRow]) -> Iterator[TableRow]:
    """The rows, until there are too many of them."""
    for count, row in enumerate(rows, 1):
        if count > MOST_ROWS:
            raise InvalidValue(
                "file", f"over {MOST_ROWS} rows", f"at most {MOST_ROWS} rows a table"
            )
        yield row


def _recognised(row: TableRow) -> int:
    """Headings that mean something to the record; a number is none."""
    return sum(bool(cell) and guess(cell) is not None for cell in row.cells[:MOST_COLUMNS])


def _units_below(headings: list[str], cells: list[str]) -> list[str] | None:
    """Headings with their units from the row below, or None where that is no row of units."""
    filled = [cell for cell in cells if cell]
    if not filled or any(unit_of(cell) is None for cell in filled):
        return None
    width = max(len(headings), len(cells))
    padded = [*cells, *[""] * (width - len(cells))]
    named = [*headings, *[""] * (width - len(headings))]
    return [f"{h} [{unit}]" if unit else h for h, unit in zip(named, padded, strict=True)]

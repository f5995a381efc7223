"""A table of a file: headings, and rows of text that can be read again from the start."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from itertools import islice

from maple_rook.core.errors import InvalidValue

MOST_BYTES = 64_000_000
MOST_ROWS = 100_000
MOST_COLUMNS = 400
MOST_CELL = 200_000
SAMPLE = 300
"""Rows by which a table is understood before all of it is read."""


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
    """One table of a file; ``rows`` opens it again and gives the rows below the headings.

    ``said`` is what was noticed of it, such as the file's encoding. One that its file hides is left
    out until a person chooses it.
    """

    name: str
    headings: list[str]
    rows: Callable[[], Iterator[TableRow]]
    said: list[str] = field(default_factory=list)
    sample: list[TableRow] | None = None
    """The first :data:`SAMPLE` rows, where they are known; a shorter one is all of them."""
    hidden: bool = False

    def first(self, number: int) -> list[TableRow]:
        if self.sample is not None and number <= SAMPLE:
            return self.sample[:number]
        return list(islice(self.rows(), number))


def limited(rows: Iterable[TableRow]) -> Iterator[TableRow]:
    """The rows, until there are too many of them."""
    for count, row in enumerate(rows, 1):
        if count > MOST_ROWS:
            raise InvalidValue(
                "file", f"over {MOST_ROWS} rows", f"at most {MOST_ROWS} rows a table"
            )
        yield row

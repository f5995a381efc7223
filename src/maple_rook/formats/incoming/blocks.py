"""The tables of one sheet: where each begins and ends, and what stands above its headings.

A sheet may hold several tables, one below or beside another. Every line that is not empty belongs
to one of them, as a row, as headings, or as a line that is said not to be read.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice, pairwise

from openpyxl.utils import get_column_letter

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.incoming.headings import (
    are_alike,
    guess,
    guess_columns,
    guess_kind,
    is_known,
    missing,
    printed_or_measured,
    unit_in_brackets,
    unit_of,
)
from maple_rook.formats.incoming.table import MOST_COLUMNS, SAMPLE, Table, TableRow, limited

MOST_BLOCKS = 60
Lines = Callable[[], Iterator[TableRow]]
_HEADING_WITHIN = 15
_LEAST_KNOWN = 2
_MOST_IN_A_TITLE = 2
_SHOWN, _MOST_LINES_SHOWN = 40, 3
_A_NUMBER = re.compile(r"[-+~<>]?\d[\d.,/]*\s*[^\W\d]{0,4}\.?")


@dataclass
class _Block:
    """A table as its lines were gone through: what stands above it, headings, and where it ends."""

    titles: list[TableRow]
    heading: TableRow
    units: TableRow | None = None
    last: int | None = None
    repeated: list[int] = field(default_factory=list)

    @property
    def first(self) -> int:
        return self.units.line if self.units else self.heading.line


def tables_of(name: str, lines: Lines, said: list[str], *, hidden: bool = False) -> list[Table]:
    """The tables of a sheet, in their order; none where nothing stands in it.

    Parameters
    ----------
    name : of the sheet.
    lines : gives every line again, empty ones too.
    said : what was noticed of the sheet as a whole.
    hidden : whether its file hides the sheet.
    """
    found = []
    for number, block in enumerate(_blocks(lines)):
        below = number > 0
        title = f"{name}, from line {block.heading.line}" if below else name
        table = _table(title, lines, block, [] if below else said)
        found += [replace(part, hidden=hidden) for part in _beside(table)]
    if len(found) > MOST_BLOCKS:
        raise InvalidValue("sheet", f"{len(found)} tables", f"at most {MOST_BLOCKS} on a sheet")
    return found


def _blocks(lines: Lines) -> list[_Block]:
    first = _first_heading(lines)
    if first is None:
        return []
    blocks: list[_Block] = []
    above: list[TableRow] = []
    after_gap = True
    for row in lines():
        if row.empty:
            above, after_gap = (above if not blocks else []), True
        elif blocks and are_alike(row.cells, blocks[-1].heading.cells):
            blocks[-1].repeated.append(row.line)
        elif row.line == first.line or (row.line > first.line and _heads(row)):
            _begin(blocks, row, above)
            above, after_gap = [], False
        elif blocks and blocks[-1].first == row.line - 1 and _are_units(row.cells):
            blocks[-1].units = row
        elif after_gap or not blocks:
            above.append(row)
            after_gap = _is_title(row) or not blocks
        else:
            above = [row] if _is_title(row) else []
    for block, following in pairwise(blocks):
        top = following.titles[0] if following.titles else following.heading
        block.last = top.line - 1
    return blocks


def _begin(blocks: list[_Block], row: TableRow, above: list[TableRow]) -> None:
    """Another table begins, unless these headings stand right below a poorer line of them."""
    last = blocks[-1] if blocks else None
    if last and last.first == row.line - 1 and _known(row) >= _known(last.heading):
        blocks[-1] = _Block([*last.titles, last.heading], row)
    elif not last or last.first < row.line - 1:
        titles = above if not blocks else [r for r in above if _is_title(r)]
        blocks.append(_Block(titles, row))


def _first_heading(lines: Lines) -> TableRow | None:
    """The row of the first ones that reads most like headings; it may be misspelt."""
    top = list(islice((row for row in lines() if not row.empty), _HEADING_WITHIN))
    if not top:
        return None
    best = _richest(top)
    heading = best if _recognised(best) else top[0]
    if heading.wrong:
        accepted = f"headings that can be read: {heading.wrong}"
        raise InvalidValue("file", f"line {heading.line}", accepted)
    return heading


def _richest(top: Sequence[TableRow]) -> TableRow:
    """The first of the rows that reads most like headings, before a richer table below it."""
    heads = [row for row in top if _heads(row)]
    if not heads:
        return max(top, key=lambda row: (_recognised(row), -row.line))
    below = next((row for row in heads if row.line == heads[0].line + 1), None)
    return below if below and _known(below) > _known(heads[0]) else heads[0]


def _table(name: str, lines: Lines, block: _Block, said: list[str]) -> Table:
    banner, unread = _banner(block)
    headings = list(block.heading.cells)
    if block.units:
        headings = _with_units(headings, block.units.cells)
    said = [*said, *_above(unread)]
    if banner is not None:
        told = "”, “".join(dict.fromkeys(cell for cell in banner.cells if cell))
        headings = _under(banner.cells, headings)
        said.append(f"line {banner.line} stands above the headings and is read with them: “{told}”")
    if block.repeated:
        said.append(f"headings again on line {_numbers(block.repeated)}")
    while headings and not headings[-1]:
        headings.pop()
    again = frozenset(block.repeated)

    def rows() -> Iterator[TableRow]:
        return limited(
            row
            for row in _between(lines(), block.first, block.last)
            if not row.empty and row.line not in again
        )

    return Table(name, headings, rows, said)


def _between(lines: Iterator[TableRow], after: int, last: int | None) -> Iterator[TableRow]:
    for row in lines:
        if last is not None and row.line > last:
            return
        if row.line > after:
            yield row


def _banner(block: _Block) -> tuple[TableRow | None, list[TableRow]]:
    """The line right above the headings where it tells of them, and the lines that do not."""
    if block.titles:
        *others, nearest = block.titles
        above_it = nearest.line == block.heading.line - 1
        if above_it and _under(nearest.cells, block.heading.cells) != block.heading.cells:
            return nearest, others
    return None, block.titles


def _above(unread: Sequence[TableRow]) -> list[str]:
    if not unread:
        return []
    shown = (" ".join(dict.fromkeys(c for c in row.cells if c))[:_SHOWN] for row in unread)
    told = "”, “".join(islice(shown, _MOST_LINES_SHOWN))
    numbers = _numbers([row.line for row in unread])
    return [f"not read, above the headings: line {numbers}, “{told}”"]


def _numbers(lines: Sequence[int]) -> str:
    shown = ", ".join(str(line) for line in lines[:8])
    return shown if len(lines) <= 8 else f"{shown} and {len(lines) - 8} more"


def _under(banner: Sequence[str], headings: Sequence[str]) -> list[str]:
    """Headings with what a line above them adds: a unit, claimed or measured, or half the name."""
    width = max(len(headings), len(banner))
    names = [*headings, *[""] * (width - len(headings))]
    spread = _spread([*banner, *[""] * (width - len(banner))])
    several = len({cell for cell in spread if cell}) > 1 or not spread[:1] or not spread[0]
    own = [*banner, *[""] * (width - len(banner))]
    found = [
        (name or own[i]) if not spread[i] or not name else _joined(spread[i], name, several)
        for i, name in enumerate(names)
    ]
    return found if any(cell for cell in found[len(headings) :]) else found[: len(headings)]


def _spread(cells: Sequence[str]) -> list[str]:
    """A banner goes on to the right until the next one."""
    found: list[str] = []
    for cell in cells:
        found.append(cell or (found[-1] if found else ""))
    return found


def _joined(banner: str, name: str, several: bool) -> str:
    if several and banner != name:
        together = guess(f"{banner} {name}")
        if together is not None and together.sure:
            return f"{banner} {name}"
    alone = guess(name)
    unit = unit_in_brackets(banner)
    if alone is not None and unit and not alone.unit:
        named = f"{name} [{unit}]"
        with_unit = guess(named)
        name = named if with_unit is not None and with_unit.unit else name
    said = printed_or_measured(banner) if several else ""
    return f"{said} {name}" if said else name


def _beside(table: Table) -> list[Table]:
    """Tables that stand beside each other, an empty column between; or the one there is."""
    sample = table.first(SAMPLE)
    width = max([len(table.headings), *(len(row.cells) for row in sample)])
    headings = [*table.headings, *[""] * (width - len(table.headings))]
    used = [
        bool(h) or any(i < len(r.cells) and r.cells[i] for r in sample)
        for i, h in enumerate(headings)
    ]
    runs: list[list[int]] = []
    for i, there in enumerate(used):
        if there and i and used[i - 1] and runs:
            runs[-1].append(i)
        elif there:
            runs.append([i])
    parts = [[headings[i] for i in run] for run in runs]
    fields = [{c.field for c in guess_columns(part) if c.field} for part in parts]
    kinds = [guess_kind(guess_columns(part)) for part in parts]
    if len(runs) < 2 or None in kinds or not set.intersection(*fields):
        return [table]
    return [_columns(table, run, part) for run, part in zip(runs, parts, strict=True)]


def _columns(table: Table, run: Sequence[int], headings: list[str]) -> Table:
    left, right = run[0], run[-1]

    def rows() -> Iterator[TableRow]:
        for row in table.rows():
            notes = {i - left: note for i, note in row.notes.items() if left <= i <= right}
            part = TableRow(row.line, row.cells[left : right + 1], notes, row.wrong)
            if not part.empty:
                yield part

    letters = f"{get_column_letter(left + 1)} to {get_column_letter(right + 1)}"
    return Table(f"{table.name}, columns {letters}", headings, rows, table.said)


def _heads(row: TableRow) -> bool:
    """Whether a row is headings for sure: known names of columns, by which its rows are known."""
    filled = [cell for cell in row.cells[:MOST_COLUMNS] if cell]
    if len(filled) < _LEAST_KNOWN or any(_A_NUMBER.fullmatch(cell) for cell in filled):
        return False
    known = _known(row)
    if known < _LEAST_KNOWN or 2 * known <= len(filled):
        return False
    columns = guess_columns(row.cells[:MOST_COLUMNS])
    kind = guess_kind(columns)
    return kind is not None and not missing(columns, kind)


def _known(row: TableRow) -> int:
    """Different known names of columns in a row."""
    return len({found for cell in row.cells[:MOST_COLUMNS] if cell and (found := is_known(cell))})


def _recognised(row: TableRow) -> int:
    """Headings that mean something to the record, well spelt or not; a number is none."""
    return sum(bool(cell) and guess(cell) is not None for cell in row.cells[:MOST_COLUMNS])


def _is_title(row: TableRow) -> bool:
    """Whether a row looks like a line above a table: a few words, and no figures."""
    filled = list(dict.fromkeys(cell for cell in row.cells if cell))
    return len(filled) <= _MOST_IN_A_TITLE and not any(_A_NUMBER.fullmatch(c) for c in filled)


def _are_units(cells: Sequence[str]) -> bool:
    filled = [cell for cell in cells if cell]
    return bool(filled) and all(unit_of(cell) is not None for cell in filled)


def _with_units(headings: list[str], cells: list[str]) -> list[str]:
    """Headings with their units from the row below."""
    width = max(len(headings), len(cells))
    padded = [*cells, *[""] * (width - len(cells))]
    named = [*headings, *[""] * (width - len(headings))]
    return [f"{h} [{unit}]" if unit else h for h, unit in zip(named, padded, strict=True)]

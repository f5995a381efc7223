"""``./rook bench``: figures and ratios, row by row as they come."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Annotated

import typer
from rich.console import Console

from benchmarks import (
    board,
    cutting,
    failover,
    feel,
    moving,
    page,
    photo,
    readers,
    shelf,
    soak,
    trying,
    writing,
)
from benchmarks.rows import SLOWER, Row, going_on, read, write

PARTS: dict[str, Callable[[], Iterator[Row]]] = {
    "board": board.rows,
    "cutting": cutting.rows,
    "trying": trying.rows,
    "page": page.rows,
    "feel": feel.rows,
    "readers": readers.rows,
    "shelf": shelf.rows,
    "writing": writing.rows,
    "moving": moving.rows,
    "photo": photo.rows,
}
LONG: dict[str, Callable[[], Iterator[Row]]] = {"soak": soak.rows, "failover": failover.rows}
"""Run only where they are named."""
WIDE, VALUE_WIDE = 72, 16


def main(
    parts: Annotated[
        list[str] | None,
        typer.Argument(
            help=f"Of {', '.join(PARTS)}; all if none is named. Apart: {', '.join(LONG)}."
        ),
    ] = None,
    json: Annotated[Path | None, typer.Option(help="Keep the figures in this file.")] = None,
    against: Annotated[
        Path | None, typer.Option(help="Compare with figures kept before.", exists=True)
    ] = None,
) -> None:
    """Run the benchmarks: medians, and ratios to something plain in the same run."""
    known = PARTS | LONG
    unknown = set(parts or ()) - known.keys()
    if unknown:
        raise typer.BadParameter(f"no part {', '.join(unknown)}; there are {', '.join(known)}")
    before = read(against) if against else {}
    out = Console(width=max(110, Console().width), highlight=False)
    rows: list[Row] = []
    out.print(_line("figure", "value", "ratio or rate", "against" if before else ""), style="bold")
    for part in parts or PARTS:
        out.print(part, style="bold")
        for row in going_on(part, known[part]):
            rows.append(row)
            then = before.get(row.figure)
            times = row.against(then) if then else None
            said = "" if times is None else f"{times:.2f}{'  slower' if times > SLOWER else ''}"
            worse = bool(row.failed) or (times or 0) > SLOWER
            line = _line(row.figure, row.value_text, row.ratio_text, said)
            out.print(line, style="red" if worse else None, markup=False)
            if json:
                write(json, rows)
    gone = [figure for figure in before if figure not in {row.figure for row in rows}]
    if before and not parts and gone:
        out.print(f"No longer measured: {'; '.join(gone)}", markup=False)
    failed = sum(bool(row.failed) for row in rows)
    if failed:
        out.print(f"{failed} of {len(rows)} rows failed", style="red")
        raise typer.Exit(1)


def _line(figure: str, value: str, ratio: str, against: str) -> str:
    return f"{figure:<{WIDE}} {value:>{VALUE_WIDE}}  {ratio:<20} {against}".rstrip()


if __name__ == "__main__":
    typer.run(main)

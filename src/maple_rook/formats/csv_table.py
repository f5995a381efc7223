"""Tables as CSV (RFC 4180): comma, quotes doubled, CRLF, UTF-8; written row by row.

References
----------
.. [1] Shafranovich, Y. (2005), RFC 4180, Common Format and MIME Type for CSV Files.
"""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Iterator, Sequence

CSV_TYPE = "text/csv; charset=utf-8; header=present"
Cell = str | float | None
_RUNS_AS_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def harmless(text: str) -> str:
    """Text that no spreadsheet takes for a formula: an apostrophe goes before what looks like one.

    >>> harmless("=1+1"), harmless("62±2")
    ("'=1+1", '62±2')
    """
    return f"'{text}" if text.startswith(_RUNS_AS_FORMULA) else text


def csv_lines(heading: Sequence[str], rows: Iterable[Sequence[Cell]]) -> Iterator[str]:
    """The heading and every row, each with its line end; numbers as numbers, None as nothing."""
    held = io.StringIO()
    writer = csv.writer(held, lineterminator="\r\n")

    def line(cells: Sequence[Cell]) -> str:
        held.seek(0)
        held.truncate()
        writer.writerow([harmless(c) if isinstance(c, str) else _number(c) for c in cells])
        return held.getvalue()

    yield line(heading)
    for row in rows:
        yield line(row)


def _number(value: float | None) -> str:
    """A decimal to the sixth place without exponent, idle zeros or a minus before zero."""
    if value is None or not math.isfinite(value):
        return ""
    text = f"{round(value, 6) + 0.0:.6f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text

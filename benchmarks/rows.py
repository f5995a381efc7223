"""A row of the table: a figure with its value, its ratio to something plain in the same run."""

from __future__ import annotations

import json
import traceback
from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict, dataclass
from pathlib import Path

SLOWER = 1.25
"""A row that grew by so much is pointed at."""
_DIGITS = {"ms": 1, "s": 2, "µs": 2}


@dataclass(frozen=True)
class Row:
    """``value`` in ``unit`` (more is worse, but for those a second); ``failed`` says why there is
    none."""

    figure: str
    value: float | None = None
    unit: str = ""
    ratio: float | None = None
    note: str = ""
    failed: str = ""

    @property
    def value_text(self) -> str:
        if self.failed:
            return f"failed: {self.failed}"
        if self.value is None:
            return ""
        return f"{self.value:,.{_DIGITS.get(self.unit, 0)}f} {self.unit}".strip()

    @property
    def ratio_text(self) -> str:
        ratio = "" if self.ratio is None else f"{self.ratio:.2f}"
        return ", ".join(part for part in (ratio, self.note) if part)

    def against(self, before: Row) -> float | None:
        """How many times what it was: the ratio where there is one, which hangs on no machine."""
        if self.ratio is not None and before.ratio:
            return self.ratio / before.ratio
        if not self.value or not before.value:
            return None
        more_is_worse = not self.unit.endswith("/s")
        return self.value / before.value if more_is_worse else before.value / self.value


def going_on(figure: str, measure: Callable[[], Iterable[Row]]) -> Iterator[Row]:
    """The rows of one measurement; where it fails a row says so, and the others go on."""
    try:
        yield from measure()
    except Exception as error:
        traceback.print_exc()
        reason = " ".join(str(error).split())[:160]
        yield Row(figure, failed=f"{type(error).__name__}: {reason}")


def write(path: Path, rows: list[Row]) -> None:
    path.write_text(json.dumps([asdict(row) for row in rows], indent=1, ensure_ascii=False))


def read(path: Path) -> dict[str, Row]:
    return {row["figure"]: Row(**row) for row in json.loads(path.read_text())}

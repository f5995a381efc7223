"""When a knife needs rod, stone, thinning and file in its kitchen, and what is overdue.

Intervals come from the predictions; how they are laid out in days is a practice rule. A day is
one on which the knife is used.
"""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.labelled import Labelled
from maple_rook.core.upkeep.sharpening_tools import Rule
from maple_rook.core.upkeep.wear import LifeCounts

HORIZON_DAYS = 365


class EdgeCare(Labelled):
    """What is done to an edge."""

    ROD = "rod"
    STROP = "strop"
    STONE = "stone"
    THIN = "thinning"
    FILE_BOLSTER = "file_bolster", "bolster filed"
    REPAIR = "repair"


RAISES_THE_EDGE = (EdgeCare.STONE, EdgeCare.THIN, EdgeCare.REPAIR)
"""What counts as a sharpening in the log."""


class DueState(Labelled):
    """Where a date stands against today."""

    RESTS = "rests"
    DUE = "due"
    OVERDUE = "overdue"


@dataclass(frozen=True)
class Interval:
    """Days until something is due: likely, and 90 % limits."""

    likely: float
    low: float
    high: float

    @classmethod
    def of_months(cls, likely: float, low: float, high: float) -> Interval:
        return cls(*(DAYS_IN_MONTH * months for months in (likely, low, high)))


@dataclass(frozen=True)
class Entry:
    """A date of the plan: likely day, earliest and latest; ``every_days`` where it comes again."""

    care: EdgeCare
    on: dt.date
    earliest: dt.date
    latest: dt.date
    every_days: int | None
    words: str


def state(entry: Entry, today: dt.date) -> DueState:
    """Not due before the earliest day, overdue after the latest.

    >>> day = dt.date(2026, 3, 1)
    >>> state(Entry(EdgeCare.STONE, day, day, day, None, ""), dt.date(2026, 3, 2)).value
    'overdue'
    """
    if today < entry.earliest:
        return DueState.RESTS
    return DueState.OVERDUE if today > entry.latest else DueState.DUE


def plan(
    since: dt.date,
    stone: Interval | None,
    rod: Interval | None,
    rod_rule: Rule | None,
    counts: LifeCounts | None,
    *,
    strop_instead: bool = False,
    days: int = HORIZON_DAYS,
) -> list[Entry]:
    """The dates from the last stone on, in order, for so many days.

    Where ``rod_rule`` is None no rod is planned, whatever the interval; a strop takes its place if
    ``strop_instead``. Each stone that makes the edge thick enough is a thinning too, and each that
    leaves the bolster proud has it filed.

    Parameters
    ----------
    since : day of the last sharpening.
    stone : days to the stone with 90 % limits.
    rod : days to the rod with 90 % limits, or None.
    rod_rule : which rod, and how; None where none is to touch the edge.
    counts : sharpenings until thinning, filing and the end of life.
    strop_instead : whether it is stropped where no rod is.
    days : how far to look.
    """
    found: list[Entry] = []
    if rod is not None and (rod_rule is not None or strop_instead):
        care = EdgeCare.ROD if rod_rule is not None else EdgeCare.STROP
        every = max(1, round(rod.likely))
        with_what = f"{rod_rule.tool.label}, {rod_rule.leave.label}" if rod_rule else "strop"
        said = with_what.removesuffix(", yes")
        found.append(Entry(care, *_dates(since, rod, 1), every, said))
    if stone is None:
        return found
    for n in range(1, max(1, int(days / max(stone.likely, 1.0))) + 1):
        found += [_stone(since, stone, n, care) for care in _at_stone(n, counts)]
    return sorted(found, key=lambda e: (e.on, list(EdgeCare).index(e.care)))


def _at_stone(n: int, counts: LifeCounts | None) -> list[EdgeCare]:
    if counts is None:
        return [EdgeCare.STONE]
    also = ((EdgeCare.THIN, counts.thinning), (EdgeCare.FILE_BOLSTER, counts.bolster))
    return [EdgeCare.STONE, *(care for care, c in also if c and n == max(1, round(c.central)))]


def _stone(since: dt.date, stone: Interval, n: int, care: EdgeCare) -> Entry:
    words = {
        EdgeCare.STONE: "a new edge on the stone",
        EdgeCare.THIN: "thin it behind the edge first",
        EdgeCare.FILE_BOLSTER: "file the bolster back below the edge line",
    }[care]
    return Entry(care, *_dates(since, stone, n), None, words)


def _dates(since: dt.date, interval: Interval, n: int) -> tuple[dt.date, dt.date, dt.date]:
    """Likely, earliest and latest day of the n-th, by whole days; a day apart at least."""
    likely, low, high = (
        since + dt.timedelta(days=round(n * max(days, 1.0)))
        for days in (interval.likely, interval.low, interval.high)
    )
    return likely, low, high


def last_stone(log: Sequence[tuple[dt.date, EdgeCare]], begun: dt.date) -> dt.date:
    """The day the edge was last new: the newest stone of the log, else the day it began."""
    return max((on for on, care in log if care in RAISES_THE_EDGE and on >= begun), default=begun)

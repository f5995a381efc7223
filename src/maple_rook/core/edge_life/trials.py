"""Edge trials: what each kind records, what makes it repeatable, and what it found.

A trial that breaks its protocol is marked with the reasons and teaches the models nothing.

References
----------
.. [1] ISO 8442-5, Specification for sharpness and edge retention test of cutlery (from memory):
   50 N, 40 mm stroke, 50 mm/s, card with 5 % silica, sixty cycles; ICP is the depth cut in the
   first three, TCC the total over sixty, mm.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import brentq

from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.edge_life.decline import LEAST_POINTS, Decline, declines
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.uncertainty import Z_90, Array

CYCLES, FIRST_CYCLES = 60, 3
MAY_LACK = 3
"""Cycles that may be filled in from their neighbours (assumption)."""
CARD_MEDIUM = "5 % silica card"
CARD_RELATIVE_U = 0.03
"""Relative standard uncertainty of one run of the card test (assumption)."""
ONE_INTERVAL_RELATIVE_U = 0.3
"""Relative standard uncertainty of an interval that was seen once in a kitchen (assumption)."""
TOUCHED_UP = 1.5
"""Times a mean of five cycles may exceed the five before, before the edge was surely touched up."""


class TrialKind(Labelled):
    CARD = "card", "card test"
    LINE = "line", "line-cut series"
    COUNT = "count", "cuts to failure"
    KITCHEN = "kitchen", "kitchen log"


class Event(Labelled):
    """What happened to the edge on a day of a kitchen log."""

    START = "start"
    ROD = "rod"
    STONE = "stone"
    END = "end"


@dataclass(frozen=True)
class KindFacts:
    """What the points of a kind are: x, value, and their units."""

    x: str
    value: str
    unit: str
    method: str


KINDS: dict[TrialKind, KindFacts] = {
    TrialKind.CARD: KindFacts(
        "cycle",
        "cut depth",
        "mm",
        "Clamp the edge up, run sixty cycles without touching it, note the depth of each.",
    ),
    TrialKind.LINE: KindFacts(
        "cuts before",
        "force on the line",
        "gf",
        "Part the tester's line, cut rope or card, part it again at the same place of the edge.",
    ),
    TrialKind.COUNT: KindFacts(
        "run",
        "cuts",
        "cuts",
        "Sharpen the same way each run; count the cuts until it fails the same check.",
    ),
    TrialKind.KITCHEN: KindFacts(
        "day",
        "",
        "",
        "Note the day the edge was used first, and each day it wanted the rod or the stone.",
    ),
}


@dataclass(frozen=True)
class Protocol:
    """What another shop would need to do the trial again; angles per side in degrees."""

    edge_preparation: str = ""
    angle_per_side_deg: float | None = None
    grit: str = ""
    medium: str = ""
    load_n: float | None = None
    stroke_mm: float | None = None
    speed_mm_s: float | None = None
    kitchen: Kitchen | None = None


@dataclass(frozen=True)
class Point:
    """A cycle, a cut or a day, and what was read or done there."""

    x: float
    value: float | None = None
    event: Event | None = None


@dataclass(frozen=True)
class Trial:
    """One trial of one knife."""

    kind: TrialKind
    protocol: Protocol
    points: tuple[Point, ...]
    simulated: bool = False
    single_bevel: bool = False

    @cached_property
    def series(self) -> tuple[Array, Array]:
        """x and value of the points that were read, by x."""
        read = sorted((p.x, p.value) for p in self.points if p.value is not None)
        x, y = np.array(read, dtype=float).reshape(-1, 2).T
        return x, y


@dataclass(frozen=True)
class Found:
    """A figure a trial gave: likely, its 90 % interval, and relative standard uncertainty."""

    key: str
    label: str
    unit: str
    value: float
    relative_u: float
    note: str = ""

    @property
    def interval(self) -> tuple[float, float]:
        wide = math.exp(Z_90 * self.relative_u)
        return self.value / wide, self.value * wide


def breaks(trial: Trial) -> list[str]:
    """In what a trial breaks its protocol, or is not described well enough to be repeated."""
    found = [f"not stated: {', '.join(lacking)}"] if (lacking := list(_unstated(trial))) else []
    match trial.kind:
        case TrialKind.CARD:
            found += _card_breaks(trial)
        case TrialKind.LINE:
            found += _line_breaks(trial)
        case TrialKind.COUNT:
            if trial.series[0].size < 2:
                found.append("one run only: count two or more")
        case TrialKind.KITCHEN:
            found += _kitchen_breaks(trial)
    if trial.simulated:
        found.append("run on a simulated tester")
    return found


def _unstated(trial: Trial) -> Iterator[str]:
    p = trial.protocol
    if not p.edge_preparation.strip():
        yield "how the edge was prepared"
    if p.angle_per_side_deg is None:
        yield "the angle"
    if trial.kind is TrialKind.KITCHEN:
        if p.kitchen is None:
            yield "the kitchen"
        return
    if not p.grit.strip():
        yield "the grit"
    if not p.medium.strip():
        yield "what was cut"
    if trial.kind is TrialKind.CARD:
        for name, given in (
            ("the load", p.load_n),
            ("the stroke", p.stroke_mm),
            ("the speed", p.speed_mm_s),
        ):
            if given is None:
                yield name


def _card_breaks(trial: Trial) -> Iterator[str]:
    p = trial.protocol
    for name, given, unit, right, within in (
        ("load", p.load_n, "N", 50.0, 2.0),
        ("stroke", p.stroke_mm, "mm", 40.0, 1.0),
        ("speed", p.speed_mm_s, "mm/s", 50.0, 5.0),
    ):
        if given is not None and abs(given - right) > within:
            yield f"{name} {given:g} {unit}, where {right:g} ± {within:g} {unit} is asked"
    if p.medium.strip() and p.medium != CARD_MEDIUM:
        yield f"cut {p.medium}, where {CARD_MEDIUM} is asked"
    cycles, cut = _in_cycles(trial)
    if cycles.size < CYCLES - MAY_LACK:
        yield f"{cycles.size} of {CYCLES} cycles"
    elif not set(cycles[:FIRST_CYCLES]) >= {1, 2, 3}:
        yield "a cycle of the first three is missing"
    if cut.size and (cut <= 0).any():
        yield f"cycle {cycles[int(np.argmax(cut <= 0))]:g} cut nothing"
    for at in range(5, cut.size - 4, 5):
        if cut[at : at + 5].mean() > TOUCHED_UP * cut[at - 5 : at].mean():
            yield f"from cycle {cycles[at]:g} it cuts deeper than before: was it touched up?"
            return


def _in_cycles(trial: Trial) -> tuple[Array, Array]:
    x, y = trial.series
    kept = (x >= 1) & (x <= CYCLES)
    return x[kept], y[kept]


def _line_breaks(trial: Trial) -> Iterator[str]:
    x, y = trial.series
    if x.size < LEAST_POINTS:
        yield f"{x.size} forces: {LEAST_POINTS} or more show a decline"
    if x.size and x[0] > 0:
        yield "no force of the fresh edge"
    if y.size and (y <= 0).any():
        yield "a force of nothing"


def _kitchen_breaks(trial: Trial) -> Iterator[str]:
    kitchen = trial.protocol.kitchen
    rods, stones = intervals(trial, Event.ROD), intervals(trial, Event.STONE)
    if not rods and not stones:
        yield "neither rod nor stone yet"
    if rods and trial.single_bevel:
        yield "a rod on a single-bevel blade"
    if rods and kitchen is not None and not kitchen.honed:
        yield "a rod in a kitchen that is said to use none"
    if stones and not rods and kitchen is not None and kitchen.honed:
        yield "no rod in a kitchen that is said to use one"


def intervals(trial: Trial, event: Event) -> list[float]:
    """Days an edge went until it wanted the rod or the stone, in order.

    A rod interval begins at the start, at a rod or at a stone; a stone interval at the start or at
    a stone.
    """
    begins = (Event.START, Event.STONE, *((Event.ROD,) if event is Event.ROD else ()))
    since, found = 0.0, []
    for point in sorted((p for p in trial.points if p.event), key=lambda p: p.x):
        if point.event is event and point.x > since:
            found.append(point.x - since)
        if point.event in begins:
            since = point.x
    return found


def results(trial: Trial) -> list[Found]:
    """What the trial found, as far as it went."""
    match trial.kind:
        case TrialKind.CARD:
            return _card_results(trial)
        case TrialKind.COUNT:
            return _count_results(trial)
        case TrialKind.KITCHEN:
            return [
                _mean_interval(key, label, unit, [d / divisor for d in days])
                for key, label, unit, divisor, days in (
                    ("days_to_rod", "days to the rod", "days", 1.0, intervals(trial, Event.ROD)),
                    (
                        "months_to_stone",
                        "months to the stone",
                        "months",
                        DAYS_IN_MONTH,
                        intervals(trial, Event.STONE),
                    ),
                )
                if days
            ]
        case _:
            return []


def _count_results(trial: Trial) -> list[Found]:
    runs = trial.series[1]
    runs = np.log(runs[runs > 0])
    if not runs.size:
        return []
    spread = float(runs.std(ddof=1)) if runs.size > 1 else ONE_INTERVAL_RELATIVE_U
    u = max(spread, 0.02) / math.sqrt(runs.size)
    mean = float(np.exp(runs.mean()))
    return [Found("cuts_to_failure", "cuts to failure", "cuts", mean, u, f"{runs.size} runs")]


def _card_results(trial: Trial) -> list[Found]:
    cycles, cut = _in_cycles(trial)
    if cycles.size < CYCLES - MAY_LACK:
        return []
    every = np.arange(1, CYCLES + 1)
    whole = np.interp(every, cycles, cut)
    lacking = CYCLES - cycles.size
    note = f"{lacking} cycles filled in from their neighbours" if lacking else ""
    icp, tcc = float(whole[:FIRST_CYCLES].sum()), float(whole.sum())
    filled = lacking / CYCLES / 2
    return (
        [
            Found("initial_cut", "ICP, first three cycles", "mm", icp, CARD_RELATIVE_U),
            Found(
                "card_test",
                "TCC, sixty cycles",
                "mm",
                tcc,
                math.hypot(CARD_RELATIVE_U, filled),
                note,
            ),
        ]
        if tcc > 0 and icp > 0
        else []
    )


def _mean_interval(key: str, label: str, unit: str, seen: Sequence[float]) -> Found:
    mean = float(np.mean(seen))
    spread = float(np.std(seen, ddof=1)) / mean if len(seen) > 1 else ONE_INTERVAL_RELATIVE_U
    u = max(spread, 0.05) / math.sqrt(len(seen))
    return Found(key, label, unit, mean, u, f"{len(seen)} seen")


def decline_of(trial: Trial) -> tuple[Decline, Decline] | None:
    """The fitted declines of sharpness, the better first; None where there is no series yet.

    Cut depth a cycle is sharpness itself; of a force on the line it is the reciprocal, so that
    half the sharpness is twice the force.
    """
    if trial.kind not in (TrialKind.CARD, TrialKind.LINE):
        return None
    x, y = trial.series
    kept = y > 0
    x, y = x[kept], y[kept]
    if x.size < LEAST_POINTS or np.ptp(x) == 0:
        return None
    return declines(x, y if trial.kind is TrialKind.CARD else y[0] / y)


def cuts_of_cycles(icp_mm: float, tcc_mm: float) -> Array:
    """Cut depth in each of sixty cycles whose first three and whose total are these, mm.

    A power law c n^-p: p is the root of the share of the first three.

    >>> cuts = cuts_of_cycles(45.0, 342.0)
    >>> round(float(cuts[:3].sum()), 3), round(float(cuts.sum()), 3)
    (45.0, 342.0)
    """
    n = np.arange(1.0, CYCLES + 1)
    share = float(np.clip(icp_mm / tcc_mm, FIRST_CYCLES / CYCLES, 0.999))

    def off(p: float) -> float:
        falling = n**-p
        return float(falling[:FIRST_CYCLES].sum() / falling.sum() - share)

    p = float(brentq(off, 0.0, 8.0)) if off(0.0) < 0 else 0.0
    falling = n**-p
    return np.asarray(tcc_mm * falling / falling.sum())

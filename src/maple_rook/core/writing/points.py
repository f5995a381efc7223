"""Points for and against a knife, from real differences against others like it and its record.

A difference counts only where it is larger than both uncertainties allow for, and a point is made
only where it holds against most of the others.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from maple_rook.core.choosing.comparing import ClaimVerdict, Verdict, pair_verdict
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.thresholds import (
    NOTICEABLE_EDGE_LIFE,
    NOTICEABLE_FORCE,
    Threshold,
)
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.wording import decimals_for, listed, rounded_text

PRICE = "price"
FEWEST = 3
"""Others that a point needs to be made against (assumption)."""
MOST_OF = 0.6
"""Share of the others it has to hold against (assumption)."""


@dataclass(frozen=True)
class Measure:
    """What knives are set against each other by, and how a lead or a lag in it is said."""

    key: str
    more_is_better: bool
    threshold: Threshold
    ahead: str
    behind: str
    unit: str = ""
    noun: str = ""


MEASURES = (
    Measure(
        "cutting_ease",
        True,
        NOTICEABLE_FORCE,
        "Cuts more easily",
        "Cuts less easily",
        noun="cutting ease",
    ),
    Measure(
        "months_to_stone",
        True,
        NOTICEABLE_EDGE_LIFE,
        "Holds its edge longer",
        "Needs the stone sooner",
        "months",
        "months to the stone",
    ),
    Measure(
        "sharpness_score",
        True,
        Threshold(1.0),
        "Came sharper out of the box",
        "Came duller out of the box",
        "of 10",
        "sharpness",
    ),
    Measure(PRICE, False, Threshold(0.1, True), "Costs less", "Costs more", noun="price"),
)


@dataclass(frozen=True)
class Point:
    """A point for (``good``) or against; ``evidence`` are the figures and tags it rests on."""

    key: str
    good: bool
    text: str
    evidence: tuple[str, ...] = ()


@dataclass(frozen=True)
class Beside:
    """A knife as points are drawn from it: its tag, and figures by the keys of the measures."""

    tag: str
    figures: Mapping[str, Figure]


def against_others(
    knife: Beside,
    others: Sequence[Beside],
    kind: str,
    c: Coefficients = PUBLISHED,
    currency: str = "",
) -> list[Point]:
    """Points from figures that differ really, and noticeably, from most of ``others``.

    Parameters
    ----------
    knife : the one written about.
    others : knives of the same kind, without it.
    kind : what they are called, such as "gyuto".
    c : the shop's coefficients, which say what is noticeable.
    currency : of the prices.
    """
    found = []
    for measure in MEASURES:
        own = knife.figures.get(measure.key)
        known = [o for o in others if measure.key in o.figures]
        if own is None or len(known) < FEWEST:
            continue
        ahead, behind = _parted(measure, own, known, c)
        larger = ahead if len(ahead) >= len(behind) else behind
        if len(larger) < MOST_OF * len(known):
            continue
        good = larger is ahead
        typical = median(o.figures[measure.key].mean for o in known)
        count = f"{len(larger)} of {len(known)} other {kind}s on the shelf"
        unit = f" {measure.unit}".rstrip() if measure.key != PRICE else f" {currency}".rstrip()
        text = (
            f"{measure.ahead if good else measure.behind} than {count}: {measure.noun or 'it'} "
            f"{_short(own, own.mean)}{unit}, their median {_short(own, typical)}{unit}."
        )
        found.append(Point(measure.key, good, text, (measure.key, *larger)))
    return found


def _parted(
    measure: Measure, own: Figure, known: Sequence[Beside], c: Coefficients
) -> tuple[list[str], list[str]]:
    """The tags it is noticeably better than, and those it is noticeably worse than."""
    ahead: list[str] = []
    behind: list[str] = []
    for other in known:
        figure = other.figures[measure.key]
        if pair_verdict(own, figure, measure.threshold.by(c)) is not Verdict.NOTICEABLE:
            continue
        better = (own.mean > figure.mean) is measure.more_is_better
        (ahead if better else behind).append(other.tag)
    return ahead, behind


def _short(own: Figure, value: float) -> str:
    """With the digits the knife's own uncertainty supports."""
    return rounded_text(value, decimals_for(2 * own.expanded) if own.expanded else 2)


@dataclass(frozen=True)
class ToldClaim:
    """A claim on the box: what is printed, and what became of it."""

    key: str
    label: str
    printed: str
    verdict: ClaimVerdict
    measured: str
    statement: str


@dataclass(frozen=True)
class Record:
    """What else the record says: claims, faults of the finish by how grave, whether it reacts."""

    claims: Sequence[ToldClaim] = ()
    fine: Sequence[str] = ()
    minor: Sequence[str] = ()
    to_mend: Sequence[str] = ()
    not_hardened: bool = False
    reacts: bool = False


def from_the_record(record: Record) -> list[Point]:
    """Points that need no other knife.

    >>> [p.text for p in from_the_record(Record(to_mend=["rivets"], reacts=True))]
    ['Needs work: rivets.', 'The steel reacts: it rusts and can colour food unless wiped dry.']
    """
    found = []
    if record.not_hardened:
        found.append(Point("hardness", False, "The blade was not hardened.", ("hardness",)))
    wrong = [c for c in record.claims if c.verdict is ClaimVerdict.CONTRADICTED]
    held = [c for c in record.claims if c.verdict is ClaimVerdict.CONFIRMED]
    found += [
        Point(
            f"claim.{c.key}",
            False,
            f"The box says {c.label} {c.printed}; it measures {c.measured}, {c.statement}.",
            (c.key,),
        )
        for c in wrong
    ]
    if held and not wrong:
        names = listed([c.label for c in held])
        told = {1: "the one claim", 2: "both claims"}.get(len(held), f"all {len(held)} claims")
        text = f"Measures as printed: {names}, {told} we could check."
        found.append(Point("claims", True, text, tuple(c.key for c in held)))
    if record.to_mend:
        found.append(Point("finish", False, f"Needs work: {listed(list(record.to_mend))}."))
    elif record.minor:
        found.append(
            Point("finish", False, f"Small faults of finish: {listed(list(record.minor))}.")
        )
    elif len(record.fine) >= FEWEST:
        found.append(
            Point("finish", True, f"Finished cleanly: {listed(list(record.fine))} without a fault.")
        )
    if record.reacts:
        found.append(
            Point(
                "reactivity",
                False,
                "The steel reacts: it rusts and can colour food unless wiped dry.",
            )
        )
    return found

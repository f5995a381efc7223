"""A short list for one customer: what is offered, why, what it gives up, and how sure that is."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from maple_rook.core.deciding import (
    CRITERIA,
    Candidate,
    Criterion,
    CustomerJob,
    desirabilities,
    other_answers,
    scores,
)
from maple_rook.core.desirability import FLOOR
from maple_rook.core.ranking import Ranking, pareto_front, ranking
from maple_rook.core.uncertainty import Array

FINALISTS, LEAST_OFFERED, MOST_OFFERED = 12, 3, 5
TELLING = 0.12
"""A criterion is named where it lies so far from the other finalists' (assumption)."""
UNLIKELY = 0.02
"""Beyond the third, a knife with less chance of being best is not offered."""

Drawn = Callable[[Sequence[int], CustomerJob], Mapping[str, Array]]
"""Draws of :data:`deciding.FIGURES` for some of the candidates, (n, draws)."""


@dataclass(frozen=True)
class Offer:
    """One knife of the short list; ``at`` is its place among the candidates."""

    at: int
    score: float
    first: float
    tied: bool
    why: tuple[Criterion, ...]
    gives_up: tuple[Criterion, ...]
    desirability: Mapping[Criterion, float]
    on_front: bool


@dataclass(frozen=True)
class Change:
    """Another answer of the customer's, and the candidate that would then come first."""

    answer: str
    at: int


@dataclass(frozen=True)
class Advice:
    """The short list, best first; what decides between the first two; what would change it."""

    offers: tuple[Offer, ...]
    deciding: Criterion | None
    changes: tuple[Change, ...]


def advise(
    job: CustomerJob, knives: Sequence[Candidate], central: Mapping[str, Array], drawn: Drawn
) -> Advice:
    """Rank every candidate at its central figures, and the best of them by their draws.

    ``central`` are :data:`deciding.FIGURES` for the kitchen of the job, (n,). Other answers are
    ranked at the central figures of this kitchen.
    """
    if not knives:
        return Advice((), None, ())
    every = scores(job, desirabilities(job, knives, central))
    finalists = np.argsort(-every, kind="stable")[:FINALISTS].tolist()
    some = [knives[i] for i in finalists]
    desirable = desirabilities(job, some, drawn(finalists, job))
    scored = scores(job, desirable)
    ranked, middle = ranking(scored), np.median(scored, axis=1)
    likely = np.median(desirable, axis=1)
    offered = _offered(ranked)
    front = pareto_front([_price(k) for k in some], middle)
    tied = set(ranked.tied_with_best())
    offers = tuple(
        Offer(
            finalists[i], float(middle[i]), float(ranked.first[i]),
            i in tied or (i == ranked.order[0] and bool(tied)),
            _telling(job, likely, i, offered, best=True),
            _telling(job, likely, i, offered, best=False),
            dict(zip(CRITERIA, likely[i].tolist(), strict=True)), bool(front[i]),
        )
        for i in offered
    )  # fmt: skip
    return Advice(offers, _deciding(job, likely, ranked), _changes(job, knives, central, every))


def _price(knife: Candidate) -> float:
    return np.nan if knife.price is None else knife.price


def _offered(ranked: Ranking) -> list[int]:
    """Three at least where there are as many, five at most."""
    kept = [
        i for n, i in enumerate(ranked.order) if n < LEAST_OFFERED or ranked.first[i] > UNLIKELY
    ]
    return kept[:MOST_OFFERED]


def _telling(
    job: CustomerJob, likely: Array, i: int, offered: Sequence[int], *, best: bool
) -> tuple[Criterion, ...]:
    """The criteria that speak most for a knife, or most against it, beside the others offered."""
    others = [j for j in offered if j != i] or [i]
    gap = likely[i] - likely[others].mean(axis=0)
    pull = gap * job.weights * (1 if best else -1)
    order = np.argsort(-pull)
    told = [CRITERIA[c] for c in order if (gap[c] if best else -gap[c]) > TELLING]
    return tuple(told[:2])


def _deciding(job: CustomerJob, likely: Array, ranked: Ranking) -> Criterion | None:
    """The criterion that parts the first two most: the largest w ln(d1 / d2)."""
    if len(ranked.order) < 2:
        return None
    first, second = ranked.order[:2]
    logs = np.log(np.maximum(likely[[first, second]], FLOOR))
    return CRITERIA[int(np.argmax(job.weights * (logs[0] - logs[1])))]


def _changes(
    job: CustomerJob, knives: Sequence[Candidate], central: Mapping[str, Array], every: Array
) -> tuple[Change, ...]:
    """Answers that would bring another knife to the top."""
    best = int(np.argmax(every))
    found = []
    for answer, other in other_answers(job):
        then = int(np.argmax(scores(other, desirabilities(other, knives, central))))
        if then != best:
            found.append(Change(answer, then))
    return tuple(found)

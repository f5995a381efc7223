"""A short list for one customer: what is offered, why, what it gives up, and how sure that is."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.choosing.candidates import Candidate, Traits
from maple_rook.core.choosing.customer import CRITERIA, Criterion, CustomerProfile, other_answers
from maple_rook.core.choosing.deciding import as_kept, desirabilities, scores
from maple_rook.core.choosing.judging import Drawn, Judgement, judge
from maple_rook.core.choosing.ruling import UNFIT, Bools, commonest, ruled_by
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.uncertainty import Array

FINALISTS, LEAST_OFFERED, MOST_OFFERED = 12, 3, 5
TELLING = 0.12
"""A criterion is named where it lies so far from the other finalists' (assumption)."""
UNLIKELY = 0.04
"""Beyond the third, a knife with less chance of being best is not offered."""

Ints = NDArray[np.int64]


@dataclass(frozen=True)
class OnShelf:
    """Every knife of a shelf in columns, in the order in which pieces of a model are offered.

    ``models`` number the model of each; ``knives`` gives some of them, ``central`` the central
    figures of all, :data:`deciding.FIGURES`, in the kitchen of a profile.
    """

    traits: Traits
    models: Ints
    knives: Callable[[Sequence[int]], list[Candidate]]
    central: Callable[[CustomerProfile], Mapping[str, Array]]
    coefficients: Coefficients = PUBLISHED

    def best(self, profile: CustomerProfile, most: int) -> Ints:
        """The best of those no stop rules out, one a model, at their central figures."""
        free = np.flatnonzero(~ruled_by(profile, self.traits).any(axis=1))
        _, firsts = np.unique(self.models[free], return_index=True)
        at = free[firsts]
        of = self.traits.some(at)
        figures = {key: values[at] for key, values in self.central(profile).items()}
        kept = as_kept(profile, of, figures, self.coefficients)
        score = scores(profile, desirabilities(profile, of, kept, self.coefficients))
        return np.asarray(at[np.argsort(-score, kind="stable")[:most]])


@dataclass(frozen=True)
class Offer:
    """One knife of the short list; ``at`` is its place on the shelf, ``score`` with its limits."""

    at: int
    score: tuple[float, ...]
    first: float
    tied: bool
    why: tuple[Criterion, ...]
    gives_up: tuple[Criterion, ...]
    desirability: Mapping[Criterion, float]
    on_front: bool


@dataclass(frozen=True)
class Change:
    """Another answer of the customer's, and the knife that would then come first."""

    answer: str
    at: int


@dataclass(frozen=True)
class Advice:
    """The short list, best first; what decides between the first two; what would change it.

    ``ruled_out`` are places on the shelf, those with the fewest stops first and those that can be
    advised to nobody last; ``ruled_by`` the stops of every knife, :func:`ruling.ruled_by`.
    """

    offers: tuple[Offer, ...]
    finalists: tuple[int, ...]
    judgement: Judgement | None
    changes: tuple[Change, ...]
    ruled_out: tuple[int, ...]
    ruled_by: Bools
    nothing: str

    @property
    def deciding(self) -> Criterion | None:
        return None if self.judgement is None else self.judgement.deciding


def advise(profile: CustomerProfile, shelf: OnShelf, drawn: Drawn) -> Advice:
    """Rank the whole shelf at its central figures, and judge the best of it by their draws."""
    if not len(shelf.models):
        return Advice((), (), None, (), (), np.zeros((0, 0), dtype=bool), "The shelf is empty.")
    by = ruled_by(profile, shelf.traits)
    unfit = by[:, : len(UNFIT)].any(axis=1)
    far = by.sum(axis=1) + by.shape[1] * unfit
    out = np.flatnonzero(far)
    nearest = tuple(out[np.argsort(far[out], kind="stable")].tolist())
    finalists = tuple(shelf.best(profile, FINALISTS).tolist())
    if not finalists:
        at, stop = commonest(by)
        reason = stop.reason(profile, shelf.knives([at])[0])
        return Advice(
            (),
            (),
            None,
            _changes(profile, shelf, None, None),
            nearest,
            by,
            f"Nothing on the shelf suits. Most often: {reason}",
        )
    found = judge(profile, shelf.knives(finalists), drawn, shelf.coefficients)
    offered = _offered(found)
    offers = tuple(_offer(found, finalists, offered, i) for i in offered)
    changes = _changes(profile, shelf, finalists[0], offers[0].at)
    return Advice(offers, finalists, found, changes, nearest, by, "")


def _offer(found: Judgement, finalists: Sequence[int], offered: Sequence[int], i: int) -> Offer:
    return Offer(
        at=finalists[i],
        score=tuple(found.score[i].tolist()),
        first=float(found.ranked.first[i]),
        tied=i in found.level,
        why=_telling(found, i, offered, best=True),
        gives_up=_telling(found, i, offered, best=False),
        desirability=dict(zip(CRITERIA, found.desirable[i].tolist(), strict=True)),
        on_front=found.on_front[i],
    )


def _offered(found: Judgement) -> list[int]:
    """Three at least where there are as many, five at most."""
    ranked = found.ranked
    kept = [
        i for n, i in enumerate(ranked.order) if n < LEAST_OFFERED or ranked.first[i] > UNLIKELY
    ]
    return kept[:MOST_OFFERED]


def _telling(
    found: Judgement, i: int, offered: Sequence[int], *, best: bool
) -> tuple[Criterion, ...]:
    """The criteria that speak most for a knife, or most against it, beside the others offered.

    Something speaks for every knife that is offered: at the least what speaks for it most.
    """
    others = [j for j in offered if j != i] or [i]
    gap = found.desirable[i] - found.desirable[others].mean(axis=0)
    pull = gap * found.profile.weights * (1 if best else -1)
    order = np.argsort(-pull)
    told = [CRITERIA[c] for c in order if (gap[c] if best else -gap[c]) > TELLING]
    if best and not told:
        told = [CRITERIA[order[0]]]
    return tuple(told[:2])


def _changes(
    profile: CustomerProfile, shelf: OnShelf, best: int | None, offered: int | None
) -> tuple[Change, ...]:
    """Answers that would bring another knife to the top, at the central figures."""
    found = []
    for answer, other in other_answers(profile):
        then = shelf.best(other, 1)
        if len(then) and then[0] not in (best, offered):
            found.append(Change(answer, int(then[0])))
    return tuple(found)

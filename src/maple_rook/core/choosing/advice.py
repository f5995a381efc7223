"""A short list for one customer: what is offered, why, what it gives up, and how sure that is."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.choosing.candidates import Candidate, Traits
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import CustomerProfile, other_answers, without_each
from maple_rook.core.choosing.deciding import as_kept, desirabilities, scores
from maple_rook.core.choosing.judging import TELLING, Drawn, Judgement, judge
from maple_rook.core.choosing.owning import USUAL, Terms
from maple_rook.core.choosing.pairs import (
    ENOUGH,
    PARTS,
    Part,
    added,
    as_part,
    covered_by_owned,
    covers,
    done_by_owned,
)
from maple_rook.core.choosing.ruling import UNFIT, Bools, commonest, ruled_by
from maple_rook.core.measurement.uncertainty import Array

FINALISTS, LEAST_OFFERED, MOST_OFFERED = 12, 3, 5
CLOSE = 0.03
"""Second knives that add about as much of the work (assumption)."""
FITS = 0.25
"""Below this board fit a knife is not made for the work, and is offered only as the best of all."""
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
    terms: Terms = USUAL

    def best(self, profile: CustomerProfile, most: int) -> Ints:
        """The best of those no stop rules out, one a model, at their central figures."""
        free = np.flatnonzero(~ruled_by(profile, self.traits).any(axis=1))
        _, firsts = np.unique(self.models[free], return_index=True)
        at = free[firsts]
        score = self._scores(profile, at)
        return np.asarray(at[np.argsort(-score, kind="stable")[:most]])

    def _scores(self, profile: CustomerProfile, at: Ints) -> Array:
        """Scores of some knives at their central figures."""
        of = self.traits.some(at)
        figures = {key: values[at] for key, values in self.central(profile).items()}
        kept = as_kept(profile, of, figures, self.terms)
        return scores(profile, desirabilities(profile, of, kept, self.terms))

    def second(self, profile: CustomerProfile, first: int) -> Second | None:
        """The knife that adds most to the first and to what the customer has, if any is worth it.

        Of those that add about as much, the one that scores best at the part it is for.
        """
        owned = covered_by_owned(profile)
        there = np.concatenate([owned, covers(profile, self.traits.some([first]))])
        fit = np.flatnonzero(~ruled_by(profile, self.traits)[:, : len(UNFIT)].any(axis=1))
        at = fit[np.unique(self.models[fit], return_index=True)[1]]
        adds, parts = added(profile, there, self.traits.some(at))
        if adds.max() < ENOUGH:
            return None
        close = np.flatnonzero(adds >= adds.max() - CLOSE)
        part = PARTS[int(parts[int(np.argmax(adds))])]
        best = int(np.argmax(self._scores(as_part(profile, part), at[close])))
        return Second(int(at[close[best]]), part, float(adds[close[best]]))


@dataclass(frozen=True)
class Second:
    """A knife beside the first: the part of the work it is for, and the share of work it adds."""

    at: int
    part: Part
    adds: float


@dataclass(frozen=True)
class Told:
    """What an answer of the customer's changed: in words, and who would be first without it."""

    effect: str
    instead: int | None


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
    told: tuple[Told, ...] = ()
    second: Second | None = None

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
            _told(profile, shelf, None),
        )
    found = judge(profile, shelf.knives(finalists), drawn, shelf.terms)
    offered = _offered(found)
    offers = tuple(_offer(found, finalists, offered, i) for i in offered)
    first = offers[0].at
    changes = _changes(profile, shelf, finalists[0], first)
    told, second = _told(profile, shelf, finalists[0]), shelf.second(profile, first)
    return Advice(offers, finalists, found, changes, nearest, by, "", told, second)


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
    """Three at least where as many are made for the work, five at most."""
    ranked, board = found.ranked, CRITERIA.index(Criterion.BOARD)
    kept = [
        i
        for n, i in enumerate(ranked.order)
        if n == 0
        or (found.desirable[i, board] >= FITS and (n < LEAST_OFFERED or ranked.first[i] > UNLIKELY))
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


def _told(profile: CustomerProfile, shelf: OnShelf, best: int | None) -> tuple[Told, ...]:
    """What each further answer changed, at the central figures."""
    found = [Told(words, None) for words in done_by_owned(profile)]
    for effect, without in without_each(profile):
        then = shelf.best(without, 1)
        instead = int(then[0]) if len(then) and then[0] != best else None
        found.append(Told(effect.words, instead))
    return tuple(found)


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

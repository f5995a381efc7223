"""Which of some knives suits a customer best, how sure that is, and what would change it.

References
----------
.. [1] Lahdelma, R., Hokkanen, J. and Salminen, P. (1998), SMAA - stochastic multiobjective
   acceptability analysis, European J. of Operational Research 106, 137 (from memory): weights
   that are not known are drawn.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from maple_rook.core.choosing.candidates import Candidate, Traits, read_by, traits
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import CustomerProfile, other_schools
from maple_rook.core.choosing.deciding import as_kept, desirabilities
from maple_rook.core.choosing.desirability import FLOOR, overall
from maple_rook.core.choosing.owning import USUAL, Terms
from maple_rook.core.choosing.ranking import Ranking, pareto_front, ranking
from maple_rook.core.choosing.ruling import Bools, stops
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.core.measurement.thresholds import NOTICEABLE_EDGE_LIFE, NOTICEABLE_FORCE, Threshold
from maple_rook.core.measurement.uncertainty import Array, interval

MOST_WEIGHING = 3.0
"""A weight that had to change by more than so many times is not called a change of mind."""

APART = 0.975
"""One is really ahead of another where it is in so many of the draws: |D| > U_D."""
TELLING = 0.12
"""A difference in desirability that is mentioned (assumption)."""
NOTICED: dict[Criterion, tuple[str, Threshold]] = {
    Criterion.EASE: ("cutting_ease", NOTICEABLE_FORCE),
    Criterion.LIFE: ("months_to_stone", NOTICEABLE_EDGE_LIFE),
}
"""Criteria that are one predicted figure, and by how much it has to differ to be noticed."""

Drawn = Callable[[Sequence[Candidate], CustomerProfile], Mapping[str, Array]]
"""Draws of :data:`deciding.FIGURES` for some knives in the kitchen of a profile, (n, draws)."""


@dataclass(frozen=True)
class Weighing:
    """Were this criterion to count so many times as much, ``at`` would draw level."""

    criterion: Criterion
    times: float
    at: int


@dataclass(frozen=True)
class Elsewise:
    """By another school, in words, ``at`` comes first; it is the same knife where not changed."""

    school: str
    at: int
    changed: bool


@dataclass(frozen=True)
class Judgement:
    """What is found of n knives, m of which no stop rules out: those stand.

    ``reasons`` are of all n. ``standing`` are the places of the m among the n; ``ranked``,
    ``desirable`` (m, criteria; medians), ``apart`` (m, m, criteria), ``score`` (m, 3; median and
    90 % limits) and ``on_front`` are of the m. ``apart[i, j]`` says by which criteria i is ahead of
    j by a difference that is real and can be noticed. Everything else gives places among the n.
    """

    profile: CustomerProfile
    reasons: tuple[tuple[str, ...], ...]
    standing: tuple[int, ...]
    ranked: Ranking
    desirable: Array
    apart: Bools
    score: Array
    on_front: tuple[bool, ...]
    schools: tuple[Elsewise, ...]

    @cached_property
    def order(self) -> list[int]:
        """Knives that stand, best first, by their places among all."""
        return [self.standing[i] for i in self.ranked.order]

    @cached_property
    def tied(self) -> frozenset[int]:
        """Knives the first is not surely ahead of, by their places among all."""
        if not self.order:
            return frozenset()
        return frozenset(self.standing[i] for i in self.ranked.tied_with_best())

    @cached_property
    def level(self) -> list[int]:
        """The first and those tied with it, best first; nobody where the first is clear."""
        best = self.order[:1]
        return [i for i in self.order if i in self.tied or i in best] if self.tied else []

    def leads(self, i: int, j: int) -> Array:
        """w ln(d_i / d_j) by criterion for two that stand: what puts i ahead of j."""
        logs = np.log(np.maximum(self.desirable[[i, j]], FLOOR))
        return np.asarray(self.profile.weights * (logs[0] - logs[1]))

    @property
    def deciding(self) -> Criterion | None:
        """What puts the first ahead of the second; None where they are level, or nothing does."""
        if len(self.order) < 2 or self.level:
            return None
        return self.decides(*self.ranked.order[:2])

    def decides(self, i: int, j: int) -> Criterion | None:
        """What puts one that stands ahead of another most, of what is real and can be noticed."""
        leads = np.where(self.apart[i, j], self.leads(i, j), 0.0)
        return CRITERIA[int(np.argmax(leads))] if leads.max() > 0 else None

    @property
    def weighings(self) -> tuple[Weighing, ...]:
        r"""How far a weight has to move for another knife to come level with the first.

        ln(score) is linear in the weights: with leads l_c over the other, w_c times
        1 - sum(l) / l_c makes them level. The least change of each criterion is given.
        """
        found: dict[Criterion, Weighing] = {}
        first, *rest = self.ranked.order or [0]
        for other in rest:
            leads = self.leads(first, other)
            total = leads.sum()
            for criterion, lead in zip(CRITERIA, leads.tolist(), strict=True):
                times = 1 - total / lead if lead else np.inf
                if not 1 / MOST_WEIGHING <= times <= MOST_WEIGHING:
                    continue
                known = found.get(criterion)
                if known is None or abs(np.log(times)) < abs(np.log(known.times)):
                    found[criterion] = Weighing(criterion, float(times), self.standing[other])
        return tuple(sorted(found.values(), key=lambda w: abs(np.log(w.times))))


def judge(
    profile: CustomerProfile, knives: Sequence[Candidate], drawn: Drawn, terms: Terms = USUAL
) -> Judgement:
    """Judge some knives for a profile: stops first, then scores over the draws [1]_.

    In each draw the figures vary by their uncertainty and the weights by how well they are known;
    the weights vary alike for every knife. What is said of a knife does not depend on the others
    or on the order.
    """
    reasons = tuple(tuple(stops(profile, knife)) for knife in knives)
    standing = tuple(i for i, said in enumerate(reasons) if not said)
    fit = read_by(profile, [knives[i] for i in standing])
    if not fit:
        nobody = Ranking([], np.zeros(0), np.zeros((0, 0)))
        return Judgement(
            profile,
            reasons,
            (),
            nobody,
            np.zeros((0, len(CRITERIA))),
            np.zeros((0, 0, len(CRITERIA)), dtype=bool),
            np.zeros((0, 3)),
            (),
            (),
        )
    of, predicted = traits(fit), drawn(fit, profile)
    figures = as_kept(profile, of, predicted, terms)
    desirable = desirabilities(profile, of, figures, terms)
    scored = _scored(profile, desirable)
    ranked = ranking(scored)
    middle = np.median(scored, axis=1)
    low, high = interval(scored)
    best = standing[ranked.order[0]]
    return Judgement(
        profile,
        reasons,
        standing,
        ranked,
        np.median(desirable, axis=1),
        _apart(desirable, figures, terms.coefficients),
        np.stack([middle, low, high], axis=1),
        tuple(pareto_front(of.price, middle).tolist()),
        tuple(_by_schools(profile, knives, standing, predicted, of, drawn, terms, best)),
    )


def _apart(desirable: Array, figures: Mapping[str, Array], c: Coefficients) -> Bools:
    """By which criteria each is ahead of each other, really and noticeably, (m, m, criteria).

    Really: in :data:`APART` of the draws. Noticeably: a predicted figure by its threshold, any
    other criterion by :data:`TELLING`.
    """
    ahead = (desirable[:, None] > desirable[None]).mean(axis=2) >= APART
    middle = np.median(desirable, axis=1)
    found = ahead & (middle[:, None] - middle[None] >= TELLING)
    for criterion, (key, threshold) in NOTICED.items():
        values = np.median(figures[key], axis=1)
        enough = values[:, None] >= (1 + threshold.by(c).amount) * values[None]
        at = CRITERIA.index(criterion)
        found[..., at] = ahead[..., at] & enough
    return np.asarray(found)


def _scored(profile: CustomerProfile, desirable: Array) -> Array:
    """Scores over the draws, (n, draws), with the weights drawn too."""
    return overall(desirable, profile.weight_draws(desirable.shape[1]))


def _by_schools(
    profile: CustomerProfile,
    knives: Sequence[Candidate],
    standing: Sequence[int],
    predicted: Mapping[str, Array],
    of: Traits,
    drawn: Drawn,
    terms: Terms,
    best: int,
) -> list[Elsewise]:
    """Which of the standing knives comes first by each other school."""
    found = []
    fit = read_by(profile, [knives[i] for i in standing])
    for words, other in other_schools(profile):
        figures = predicted
        if other.ratio is not profile.ratio:
            read = read_by(other, [knives[i] for i in standing])
            turned = [
                k
                for k, (now, then) in enumerate(zip(fit, read, strict=True))
                if now.blade.school is not then.blade.school
            ]
            if not turned:
                continue
            figures = _with(predicted, turned, drawn([read[k] for k in turned], other))
        scored = _scored(
            other, desirabilities(other, of, as_kept(other, of, figures, terms), terms)
        )
        at = standing[ranking(scored).order[0]]
        found.append(Elsewise(words, at, at != best))
    return found


def _with(
    figures: Mapping[str, Array], at: Sequence[int], those: Mapping[str, Array]
) -> dict[str, Array]:
    """Draws in which those of some knives take the place of what was there."""
    found = {key: figures[key].copy() for key in those if key in figures}
    for key, values in found.items():
        values[list(at)] = those[key]
    return found

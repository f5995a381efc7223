"""What a shop's cut trials say of its foods: toughness, stiffness and stickiness fitted to them.

The downward force is linear in the three (R, k and tau), so that four curves of the model give it
for any of them. They are fitted in logarithms by least squares with priors [1]_: what no trial
tells stays as assumed.

References
----------
.. [1] A Gaussian prior is one more row of the least-squares problem: Gelman and others 2013,
   *Bayesian Data Analysis*, 3rd ed., section 14.8 (from memory).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

from maple_rook.core.cutting.cut_record import LEAST_FORCE_N, CutRecord
from maple_rook.core.cutting.foods import FOOD_SCATTER, Food, Stroke
from maple_rook.core.cutting.force import curves_n
from maple_rook.core.geometry.section import Section
from maple_rook.core.measurement.uncertainty import Array

FITTED = ("toughness_j_m2", "stiffness_n_mm3", "adhesion_kpa")
"""The parameters of a food that cut trials fit; the others stay as they are."""
PRIOR_SD = (0.4, 0.5, 0.5)
"""How far, in ln, a shop's food may lie from what is assumed of it (assumption)."""
LOT_SD = 0.15
"""How far, in ln, one lot of a food lies from the next (assumption)."""
KNIFE_SD = 0.10
"""How far, in ln, one knife cuts from its section: its edge and its measuring (assumption)."""
CUT_SD, CUT_SD_WORTH = 0.12, 10.0
"""Scatter in ln of a cut, and how many cuts that assumption is worth."""
FACTS_OF_A_CURVE = 3
"""The points of a curve say no more than so many cuts would: the bite, the middle, the board."""
POINTS_FITTED = 24
"""Points of a curve that are fitted, evenly spread; more would only take longer."""


Places = NDArray[np.intp]


class Terms(NamedTuple):
    """A cut's force at each of its depths: fixed part, and the parts that go with R, k and tau."""

    fixed: Array
    parts: Array

    def force_n(self, factors: Array) -> Array:
        """The force with R, k and tau so many times what is assumed, N."""
        return np.asarray(self.fixed + factors @ self.parts)


@dataclass(frozen=True)
class Cut:
    """A cut that counts: whose knife, which lot of which food, what was read, the model's terms."""

    knife: int
    food: str
    lot: str
    record: CutRecord
    terms: Terms


def terms_of(
    sections: Section, food: Food, stroke: Stroke, radius_um: float, edge_mm: float, depth_mm: Array
) -> Terms:
    """The model's terms for a cut, at the food as assumed, N.

    Parameters
    ----------
    sections : of the blade where a cut is taken, on the last axis.
    food, stroke : what was cut, and how.
    radius_um : radius of the edge, micrometres.
    edge_mm : length of the edge, mm.
    depth_mm : depths reached, (n,), mm.
    """
    foods = [food.resisting(*only) for only in np.vstack([np.zeros(3), np.eye(3)]).tolist()]
    depths = np.broadcast_to(depth_mm, (len(foods), len(depth_mm)))
    found = curves_n(sections, foods, [stroke], radius_um, edge_mm, depths)[:, 0]
    return Terms(found[0], found[1:] - found[0])


@dataclass(frozen=True)
class FoodFit:
    """A food as the trials have it: each of :data:`FITTED` over what is assumed, and its sd in ln.

    The food's own spread is that of a force in a lot still to come.
    """

    food: Food
    factors: Array
    sds: tuple[float, float, float]


@dataclass(frozen=True)
class FoodCalibration:
    """What all cut trials of a shop say: foods by key, offsets of their lots in ln."""

    fits: Mapping[str, FoodFit]
    lots: Mapping[tuple[str, str], float]
    scatter: float

    def foods(self, assumed: Sequence[Food]) -> tuple[Food, ...]:
        """The foods, those that were tried as the trials have them."""
        return tuple(self.fits[f.key].food if f.key in self.fits else f for f in assumed)


UNTRIED = FoodCalibration({}, {}, CUT_SD)


def calibrated(
    foods: Sequence[Food], cuts: Sequence[Cut], scatter: float | None = None
) -> FoodCalibration:
    r"""Fit the foods that were cut.

    ln F = ln F(R, k, tau) + lot + knife + e; ln R, ln k and ln tau ~ N(ln assumed, PRIOR_SD), lots
    and knives ~ N(0, their sd). The scatter of e is pooled with what is assumed of it. A parameter
    that is 0 stays 0.

    Parameters
    ----------
    foods : as assumed; cuts of other foods are passed over.
    cuts : those that count.
    scatter : of a cut in ln, where it is known already.
    """
    by_key = {f.key: f for f in foods}
    cuts = [cut for cut in cuts if cut.food in by_key and _told(cut).size]
    if not cuts:
        return UNTRIED
    problem = _Problem(by_key, cuts)
    x, jacobian, residuals = problem.solved(CUT_SD if scatter is None else scatter)
    for _ in range(2 if scatter is None else 0):
        x, jacobian, residuals = problem.solved(problem.scatter(residuals))
    covariance = np.linalg.inv(jacobian.T @ jacobian).astype(float)
    return problem.found(x, covariance, problem.scatter(residuals) if scatter is None else scatter)


def _told(cut: Cut) -> Places:
    """Which points of a cut are fitted: forces over the noise of the load cell, evenly spread."""
    told = np.flatnonzero(cut.record.force_n >= LEAST_FORCE_N)
    spread = np.linspace(0, told.size - 1, min(told.size, POINTS_FITTED)).round().astype(int)
    return np.asarray(told[spread])


class _Problem:
    """The least-squares problem: unknown are ln factors by food, then lots, then knives."""

    def __init__(self, foods: Mapping[str, Food], cuts: Sequence[Cut]) -> None:
        self._foods, self._cuts = foods, cuts
        self.tried = list(dict.fromkeys(cut.food for cut in cuts))
        self.lots = list(dict.fromkeys((cut.food, cut.lot) for cut in cuts))
        self.knives = list(dict.fromkeys(cut.knife for cut in cuts))
        width = len(FITTED)
        self._of_food = {key: slice(width * i, width * (i + 1)) for i, key in enumerate(self.tried)}
        at = width * len(self.tried)
        self._of_lot = {key: at + i for i, key in enumerate(self.lots)}
        at += len(self.lots)
        self._of_knife = {key: at + i for i, key in enumerate(self.knives)}
        self.prior = np.array(
            [
                *PRIOR_SD * len(self.tried),
                *[LOT_SD] * len(self.lots),
                *[KNIFE_SD] * len(self.knives),
            ]
        )
        self.facts = sum(min(_told(c).size, FACTS_OF_A_CURVE) for c in cuts)

    def scatter(self, residuals: Array) -> float:
        """Scatter of a cut in ln by these residuals, pooled with what is assumed of it."""
        loss = CUT_SD_WORTH * CUT_SD**2 + float(residuals @ residuals)
        return float(np.sqrt(loss / (CUT_SD_WORTH + self.facts)))

    def solved(self, scatter: float) -> tuple[Array, Array, Array]:
        """Unknowns, the Jacobian there with the priors' rows, and residuals of the cuts alone."""
        priors = np.diag(1 / self.prior)

        def residuals(x: Array) -> Array:
            return np.concatenate([self._misses(x)[0] / scatter, x / self.prior])

        def jacobian(x: Array) -> Array:
            return np.concatenate([self._misses(x)[1] / scatter, priors])

        found = least_squares(residuals, np.zeros(self.prior.size), jac=jacobian, method="lm")
        return found.x, jacobian(found.x), self._misses(found.x)[0]

    def _misses(self, x: Array) -> tuple[Array, Array]:
        """ln observed - ln predicted, weighted by what a point is worth, and its derivatives."""
        rows, slopes = [], []
        for cut in self._cuts:
            told = _told(cut)
            weight = np.sqrt(min(1.0, FACTS_OF_A_CURVE / told.size))
            factors = np.exp(x[self._of_food[cut.food]])
            force = cut.terms.force_n(factors)[told]
            lot, knife = self._of_lot[cut.food, cut.lot], self._of_knife[cut.knife]
            miss = np.log(cut.record.force_n[told] / force) - x[lot] - x[knife]
            slope = np.zeros((force.size, x.size))
            parts = factors * cut.terms.parts[:, told].T
            slope[:, self._of_food[cut.food]] = -parts / force[:, None]
            slope[:, [lot, knife]] = -1
            rows.append(weight * miss)
            slopes.append(weight * slope)
        return np.concatenate(rows), np.concatenate(slopes)

    def found(self, x: Array, covariance: Array, scatter: float) -> FoodCalibration:
        fits = {}
        for key in self.tried:
            place = self._of_food[key]
            knives = len({cut.knife for cut in self._cuts if cut.food == key})
            factors, known = np.exp(x[place]), covariance[place, place]
            first, second, third = np.sqrt(np.diag(known)).tolist()
            food = self._foods[key].resisting(*factors.tolist())
            food = replace(food, spread=self._spread(key, factors, known), knives_tried=knives)
            fits[key] = FoodFit(food, factors, (first, second, third))
        lots = {key: float(x[at]) for key, at in self._of_lot.items()}
        return FoodCalibration(fits, lots, scatter)

    def _spread(self, key: str, factors: Array, known: Array) -> float:
        """Standard deviation in ln of a force through the food, of a lot still to come."""
        variances = []
        for cut in self._cuts:
            if cut.food != key:
                continue
            parts = factors * cut.terms.parts[:, -1]
            share = parts / cut.terms.force_n(factors)[-1]
            variances.append(share @ known @ share)
        return min(FOOD_SCATTER, float(np.sqrt(np.mean(variances) + LOT_SD**2)))


class LeftOut(NamedTuple):
    """ln observed - ln predicted of the peaks, by cut: as assumed, and fitted without the knife.

    Both in the order of the cuts they were found for.
    """

    assumed: Array
    fitted: Array

    @property
    def errors(self) -> tuple[float, float]:
        """Root mean squares in ln, as assumed and with each knife left out in turn."""
        before, after = (float(np.sqrt(np.mean(v * v))) for v in self)
        return before, after


def leave_one_out(foods: Sequence[Food], cuts: Sequence[Cut], scatter: float) -> LeftOut | None:
    """Predict each knife's peaks from the other knives' cuts; None for fewer than two knives.

    Parameters
    ----------
    foods : as assumed; every cut is of one of them.
    cuts : those that count.
    scatter : of a cut in ln, as all of them have it.
    """
    knives = list(dict.fromkeys(cut.knife for cut in cuts))
    if len(knives) < 2:
        return None
    assumed, fitted = np.empty(len(cuts)), np.empty(len(cuts))
    for knife in knives:
        others = calibrated(foods, [cut for cut in cuts if cut.knife != knife], scatter)
        for i, cut in enumerate(cuts):
            if cut.knife == knife:
                at = int(np.argmax(cut.record.force_n))
                observed = np.log(cut.record.force_n[at])
                assumed[i] = observed - np.log(expected_n(UNTRIED, cut)[at])
                fitted[i] = observed - np.log(expected_n(others, cut)[at])
    return LeftOut(assumed, fitted)


def expected_n(found: FoodCalibration, cut: Cut) -> Array:
    """Force of a cut by what trials say of its food and lot, without the knife's own offset, N."""
    fit = found.fits.get(cut.food)
    factors = np.ones(len(FITTED)) if fit is None else fit.factors
    lot = found.lots.get((cut.food, cut.lot), 0.0)
    return np.asarray(cut.terms.force_n(factors) * np.exp(lot))

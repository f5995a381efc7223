r"""What a shop's own trials say about the edge-life models: a conjugate Bayesian update.

For piece i of grade class k, ln(observed / predicted) = shop + class_k + e_i with e_i ~ N(0,
sigma^2 / w_i) and, before any trial, shop, class_k | sigma^2 ~ N(0, sigma^2 v), sigma^2 ~
InverseGamma(a, b): the normal-inverse-gamma model, whose posterior is of the same form [1]_.

Half-widths are those of the posterior's Student distribution at 90 %, written as the standard
deviation of the normal that has the same, so that everything downstream draws normals.

References
----------
.. [1] Gelman, Carlin, Stern, Dunson, Vehtari, Rubin (2013), Bayesian Data Analysis, 3rd ed.,
   chapter 14 (conjugate regression; from memory).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy.special import stdtrit

from maple_rook.core.edge_life.steels import GradeClass
from maple_rook.core.measurement.uncertainty import Z_90, Array

PRIOR_WORTH = 8.0
"""Pieces the assumed scatter is worth before any trial: degrees of freedom (assumption)."""
CLASSES = tuple(GradeClass)
_TERMS = 1 + len(CLASSES)


@dataclass(frozen=True, eq=False)
class Posterior:
    """Shop offset and class offsets (terms,), their scaled covariance (terms, terms), a and b."""

    mean: Array
    covariance: Array
    a: float
    b: float
    pieces: int = 0

    @cached_property
    def scale(self) -> float:
        """sqrt(b / a), widened to the normal with the same 90 % interval."""
        dof = 2 * self.a
        return math.sqrt(self.b / self.a) * float(stdtrit(dof, 0.95)) / Z_90

    @property
    def scatter(self) -> float:
        """Standard deviation between knives, of ln(observed / predicted)."""
        return self.scale

    def offset(self, grade_class: GradeClass) -> tuple[float, float]:
        """Shop and class offset together for a class: mean and standard deviation."""
        x = _row(grade_class)
        return float(x @ self.mean), self.scale * math.sqrt(float(x @ self.covariance @ x))

    @cached_property
    def shared_sd(self) -> float:
        """The part of every class's offset that all classes share: the shop's, its tester's.

        The least covariance between the offsets of two classes.
        """
        totals = _ROWS @ self.covariance @ _ROWS.T
        least = float(totals[~np.eye(len(CLASSES), dtype=bool)].min())
        return self.scale * math.sqrt(max(0.0, least))

    def own_sd(self, grade_class: GradeClass) -> float:
        """The part of a class's offset that is its own."""
        total = self.offset(grade_class)[1]
        return math.sqrt(max(0.0, total**2 - self.shared_sd**2))

    def class_mean(self, grade_class: GradeClass) -> float:
        """The offset of the class without the shop's."""
        return float(self.mean[1 + CLASSES.index(grade_class)])

    def after_one_more(self, grade_class: GradeClass) -> float:
        """Standard deviation of a class's offset if one more piece of it were tried.

        The scatter is taken as it is now: v - v^2 / (v + 1) = v / (v + 1), v the scaled variance.
        """
        variance = (self.offset(grade_class)[1] / self.scale) ** 2
        return self.scale * math.sqrt(variance / (variance + 1))


def _row(grade_class: GradeClass) -> Array:
    row = np.zeros(_TERMS)
    row[0] = row[1 + CLASSES.index(grade_class)] = 1.0
    return row


_ROWS = np.array([_row(c) for c in CLASSES])


def prior(scatter: float, offset_sd: float) -> Posterior:
    """What is believed before any trial: offsets nil, their sum within ``offset_sd`` (1 sd).

    Shop and class take half of its variance each; ``scatter`` is worth eight pieces.

    >>> round(prior(0.12, 0.25).offset(GradeClass.UNKNOWN)[1], 6)
    0.25
    """
    a = PRIOR_WORTH / 2
    b = a * (scatter * Z_90 / float(stdtrit(PRIOR_WORTH, 0.95))) ** 2
    each = (offset_sd / scatter) ** 2 / 2
    return Posterior(np.zeros(_TERMS), each * np.eye(_TERMS), a, b)


def update(
    before: Posterior, classes: ArrayLike, ln_ratio: ArrayLike, weights: ArrayLike = 1.0
) -> Posterior:
    r"""The posterior after pieces of these classes, each with its ln(observed / predicted).

    P_n = P_0 + X^T W X, m_n = P_n^-1 (P_0 m_0 + X^T W y), a_n = a_0 + n/2,
    b_n = b_0 + (y^T W y + m_0^T P_0 m_0 - m_n^T P_n m_n) / 2 with P the inverse of the scaled
    covariance. ``classes`` are places in :data:`CLASSES`, (n,); weights are sigma^2 over the
    variance of each, (n,) or one for all. With no pieces nothing changes.

    >>> after = update(prior(0.12, 0.25), [0] * 1000, np.full(1000, 0.3))
    >>> round(after.offset(CLASSES[0])[0], 3)
    0.3
    """
    k = np.asarray(classes, dtype=int)
    y = np.asarray(ln_ratio, dtype=float)
    w = np.broadcast_to(np.asarray(weights, dtype=float), y.shape)
    if not y.size:
        return before
    by_class, of_ratio = (
        np.bincount(k, weights=each, minlength=len(CLASSES)) for each in (w, w * y)
    )
    precision_0 = np.linalg.inv(before.covariance)
    gram = np.zeros((_TERMS, _TERMS))  # X^T W X has but these entries
    gram[0, 0] = by_class.sum()
    gram[0, 1:] = gram[1:, 0] = by_class
    gram[1:, 1:] = np.diag(by_class)
    precision = precision_0 + gram
    covariance = np.linalg.inv(precision)
    pulled = precision_0 @ before.mean
    moments = np.concatenate([[of_ratio.sum()], of_ratio])
    mean = np.asarray(covariance @ (pulled + moments), dtype=np.float64)
    squares = float((w * y) @ y + before.mean @ pulled - mean @ precision @ mean)
    return Posterior(
        mean,
        np.asarray(covariance, dtype=np.float64),
        before.a + y.size / 2,
        before.b + max(0.0, squares) / 2,
        before.pieces + y.size,
    )


@dataclass(frozen=True)
class LeftOut:
    """Each piece as the others predict it: mean and standard deviation of its ln ratio, (n,)."""

    mean: Array
    sd: Array
    covered: NDArray[np.bool_]
    rms: float
    rms_published: float


def leave_one_out(
    before: Posterior, classes: ArrayLike, ln_ratio: ArrayLike, weights: ArrayLike
) -> LeftOut:
    """How well the trials of all other pieces predict each, and which fall inside 90 %.

    In closed form, from the one posterior of all: the residual over 1 - h with h = w x V x^T.
    ``rms`` is the root mean square error of ln(observed / predicted) so predicted,
    ``rms_published`` that of the published model.
    """
    k, y = np.asarray(classes, dtype=int), np.asarray(ln_ratio, dtype=float)
    w = np.broadcast_to(np.asarray(weights, dtype=float), y.shape)
    if not y.size:
        return LeftOut(y, y, np.zeros(0, dtype=bool), math.nan, math.nan)
    found = update(before, k, y, w)
    x = _ROWS[k]
    variance = np.einsum("ij,jk,ik->i", x, found.covariance, x)
    left = 1 - w * variance  # of one, what a piece does not explain of itself
    residual = y - x @ found.mean
    off = residual / left
    dof = 2 * found.a - 1
    b = found.b - w * residual**2 / left / 2
    widened = float(stdtrit(dof, 0.95)) / Z_90
    sd = widened * np.sqrt(b / (dof / 2) * (variance / left + 1 / w))
    return LeftOut(
        y - off,
        sd,
        np.abs(off) <= Z_90 * sd,
        float(np.sqrt((off**2).mean())),
        float(np.sqrt((y**2).mean())),
    )

"""A model as a blade: not one of its pieces, but the next one to come.

References
----------
.. [1] ISO 16269-8, Determination of prediction intervals; any text on Student's t.
.. [2] Gelman, A. et al., Bayesian Data Analysis, ch. 2: a scaled inverse chi-squared prior of a
   variance counts as so many observations with that variance (from memory).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtrit

from maple_rook.core.measurement.uncertainty import COVERAGE_FACTOR, Figure
from maple_rook.core.prediction.blade import Blade

USUAL_SPREAD = {
    "edge_length": 1.2,
    "blade_length": 1.2,
    "overall_length": 2.0,
    "handle_length": 1.0,
    "height_heel": 0.6,
    "height_mid": 0.6,
    "height_front": 0.6,
    "spine_heel": 0.10,
    "spine_mid": 0.09,
    "spine_tip": 0.07,
    "thickness_behind_edge": 0.04,
    "edge_angle": 0.8,
    "asymmetry": 4.0,
    "hardness": 0.6,
    "balance_point": 3.0,
}
"""Standard deviation from piece to piece in the unit of the figure (assumption)."""
USUAL_RELATIVE_SPREAD = 0.03
"""Of what is not listed, such as the weight (assumption)."""
USUAL_COUNTS_AS = 3
"""The usual spread weighs as much as so many pieces' (assumption)."""
CONFIDENCE = 0.95


@dataclass(frozen=True)
class Spread:
    """A figure over n pieces: standard deviation from piece to piece, the usual one in it."""

    n: int
    deviation: float
    freedom: int


def spread(key: str, values: Sequence[float]) -> Spread:
    r"""Spread from piece to piece, the usual one and what was seen together [2]_.

    s^2 = (m s_0^2 + (n - 1) s_n^2) / (m + n - 1) with the usual s_0 counting as m pieces.

    >>> spread("edge_angle", [15.0]).deviation
    0.8
    >>> round(spread("edge_angle", [15.0, 15.0, 15.0]).deviation, 2)
    0.62
    """
    n = len(values)
    usual = USUAL_SPREAD.get(key, USUAL_RELATIVE_SPREAD * abs(float(np.mean(values))))
    seen = float(np.var(values, ddof=1)) if n > 1 else 0.0
    freedom = USUAL_COUNTS_AS + n - 1
    return Spread(n, math.sqrt((USUAL_COUNTS_AS * usual**2 + (n - 1) * seen) / freedom), freedom)


def next_piece(key: str, figures: Sequence[Figure]) -> Figure:
    r"""The figure of the next piece of a model: U is half its 95 % prediction interval [1]_.

    Mean of the pieces; U = t s sqrt(1 + 1/n), with what one piece was measured to in quadrature.

    >>> found = next_piece("edge_angle", [Figure(15.0, 0.2), Figure(14.0, 0.2)])
    >>> found.mean, round(found.expanded, 1)
    (14.5, 2.7)
    """
    means = [f.mean for f in figures]
    of = spread(key, means)
    t = float(stdtrit(of.freedom, (1 + CONFIDENCE) / 2))
    between = t * of.deviation * math.sqrt(1 + 1 / of.n) / COVERAGE_FACTOR
    measured = math.sqrt(sum(f.standard_uncertainty**2 for f in figures)) / of.n
    return Figure(float(np.mean(means)), math.hypot(between, measured), of.n)


def model_blade(pieces: Sequence[Blade]) -> Blade:
    """The next piece of the model these are pieces of, as the predictions see it.

    Construction and shape are the first piece's; every figure is that of the next piece. A single
    bevel ground for one hand stays so.

    Raises
    ------
    ValueError
        Where there is no piece.
    """
    if not pieces:
        raise ValueError("A model has at least one piece.")
    first = pieces[0]
    keys = dict.fromkeys(key for blade in pieces for key in blade.figures)
    figures = {
        key: next_piece(key, [b.figures[key] for b in pieces if key in b.figures]) for key in keys
    }
    if first.single_bevel and "asymmetry" in first.figures:
        figures["asymmetry"] = first.figures["asymmetry"]
    return replace(first, figures=figures)

r"""How a series declines: power law and exponential, with the half-life.

Both are straight lines of ln y: exponential ln y = ln a - k t, power law ln y = ln a - p ln(1 + t),
t counted from the first point. Fitted by least squares (`scipy.stats.linregress`), as suits
readings that scatter in proportion to their size; intervals are Student's at 90 % and exact for
normal scatter of the logarithm.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from scipy.special import stdtrit

from maple_rook.core.errors import InvalidValue
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.uncertainty import Array

LEAST_POINTS = 4


class Form(Labelled):
    POWER = "power", "power law"
    EXPONENTIAL = "exponential"


@dataclass(frozen=True)
class Decline:
    """A fitted decline; ``rate`` is p or k a unit of t, each (likely, low, high) at 90 %.

    A half-life is None where the interval of the rate reaches 0: no such end is seen. ``misfit``
    is the residual standard deviation of ln y, by which forms are compared.
    """

    form: Form
    start: float
    rate: tuple[float, float, float]
    half_life: tuple[float | None, float | None, float | None]
    misfit: float
    points: int

    def at(self, t: ArrayLike) -> Array:
        """The fitted value t after the first point."""
        return self.start * _falls(self.form, np.asarray(t, dtype=float), self.rate[0])


def _falls(form: Form, t: Array, rate: float) -> Array:
    return np.asarray(np.exp(-rate * t) if form is Form.EXPONENTIAL else (1 + t) ** -rate)


def half_life(form: Form, rate: float) -> float | None:
    """When half is left: ln 2 / k, or 2^(1/p) - 1; None where nothing declines.

    >>> half_life(Form.POWER, 0.5), round(half_life(Form.EXPONENTIAL, 0.1), 3)
    (3.0, 6.931)
    """
    if rate <= 0:
        return None
    if form is Form.EXPONENTIAL:
        return math.log(2) / rate
    return None if rate < 1e-3 else 2 ** (1 / rate) - 1


def fit(t: ArrayLike, y: ArrayLike, form: Form) -> Decline:
    """Fit one form to points (t, y), y > 0; at least four.

    >>> found = fit([0, 1, 3, 7], [8.0, 4.0, 2.0, 1.0], Form.POWER)
    >>> [round(r, 6) for r in found.rate]
    [1.0, 1.0, 1.0]
    """
    x, values = np.asarray(t, dtype=float), np.asarray(y, dtype=float)
    if x.size < LEAST_POINTS:
        raise InvalidValue("points", f"{x.size} points", f"{LEAST_POINTS} or more for a fit")
    if not (values > 0).all():
        raise InvalidValue("points", f"{values.min():g}", "values above 0")
    elapsed = x - x[0]
    across = elapsed if form is Form.EXPONENTIAL else np.log1p(elapsed)
    from scipy.stats import linregress  # noqa: PLC0415 - half a second at every start

    line = linregress(across, np.log(values))
    rate = 0.0 - float(line.slope)
    stderr = float(np.nan_to_num(line.stderr))  # of points that do not scatter at all
    wide = float(stdtrit(x.size - 2, 0.95)) * stderr
    residual = np.log(values) - (line.intercept + line.slope * across)
    return Decline(
        form,
        float(np.exp(line.intercept)),
        (rate, rate - wide, rate + wide),
        (half_life(form, rate), half_life(form, rate + wide), half_life(form, rate - wide)),
        float(np.sqrt((residual**2).sum() / (x.size - 2))),
        x.size,
    )


def declines(t: ArrayLike, y: ArrayLike) -> tuple[Decline, Decline]:
    """Both forms, the better fitting first."""
    power, exponential = (fit(t, y, form) for form in Form)
    return (power, exponential) if power.misfit <= exponential.misfit else (exponential, power)

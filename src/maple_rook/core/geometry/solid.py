"""The blade as a solid: the section swept from heel to tip, and what follows from it.

References
----------
.. [1] Euler-Bernoulli beam: deflection of a cantilever under an end load F is the integral of
   F (L - x)^2 / (E I(x)) dx.
.. [2] Fritsch, F. N. and Butland, J. (1984), as in scipy's PchipInterpolator.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.geometry.section import Section
from maple_rook.core.measurement.uncertainty import Array

STATIONS = 10
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(STATIONS)
STATION_SHARES = (1 + _NODES) / 2
"""Where the blade is cut, as shares of the edge length from the heel."""
_SHARE_WEIGHTS = _WEIGHTS / 2
TIP_STATION_MM = 10.0
PINCH_MM = 15.0
"""The pinch point lies this far ahead of the heel (common practice)."""
YOUNG_MPA = 205_000.0
SIDE_LOAD_N = 10.0
GRAVITY = 9.80665
HANDLE_SIDE_G = (25.0, 160.0)
"""What is plausible for the handle side: handle, tang and bolster (common practice)."""
LEAST_HANDLE_SIDE_G = 10.0
"""No handle, tang and bolster weigh less; of a very light knife half of it (assumption)."""


def thickness_along_mm(
    share: ArrayLike, length_mm: ArrayLike, heel_mm: ArrayLike, mid_mm: ArrayLike, tip_mm: ArrayLike
) -> Array:
    """Spine thickness at shares of the edge length: monotone through heel, middle and tip [2]_.

    The spine near the tip is taken 10 mm behind it; from there on the last piece goes on.
    Arguments broadcast, mm.

    Parameters
    ----------
    share : places along the edge, 0 at the heel to 1 at the tip.
    length_mm : edge length, mm.
    heel_mm : spine at the heel, mm.
    mid_mm : spine at the middle, mm.
    tip_mm : spine near the tip, mm.

    >>> [round(float(t), 2) for t in thickness_along_mm([0, 0.5, 0.95], 200, 2.4, 2.0, 0.8)]
    [2.4, 2.0, 0.8]
    """
    length, heel, mid, tip = (
        np.asarray(a, dtype=float) for a in (length_mm, heel_mm, mid_mm, tip_mm)
    )
    rear = length / 2
    front = length / 2 - TIP_STATION_MM
    slope_rear, slope_front = (mid - heel) / rear, (tip - mid) / front
    together = slope_rear * slope_front > 0
    product = np.where(together, slope_rear * slope_front, 0.0)
    mixed = (2 * front + rear) * slope_front + (front + 2 * rear) * slope_rear
    at_mid = np.divide(
        3 * (rear + front) * product, mixed, out=np.zeros_like(product * mixed), where=together
    )
    at_heel = _end_slope(rear, front, slope_rear, slope_front)
    at_tip = _end_slope(front, rear, slope_front, slope_rear)
    at = np.asarray(share, dtype=float)
    behind = at <= 0.5  # the middle is half of any length
    u = np.where(behind, 2 * at, (at - 0.5) * (length / front))
    c0, c1, c2, c3 = (
        np.where(behind, of_rear, of_front)
        for of_rear, of_front in zip(
            _cubic(heel, mid, at_heel * rear, at_mid * rear),
            _cubic(mid, tip, at_mid * front, at_tip * front),
            strict=True,
        )
    )
    inside = c0 + u * (c1 + u * (c2 + u * c3))
    return np.asarray(np.where(u <= 1, inside, tip + at_tip * front * (u - 1)))


def _cubic(low: Array, high: Array, d_low: Array, d_high: Array) -> tuple[Array, ...]:
    """Coefficients of the cubic on 0 to 1 with these ends and end slopes, constant first."""
    rise = high - low
    return low, d_low, 3 * rise - 2 * d_low - d_high, d_low + d_high - 2 * rise


def _end_slope(near: Array, far: Array, slope: Array, next_slope: Array) -> Array:
    """One-sided end slope that keeps the shape [2]_."""
    end = ((2 * near + far) * slope - near * next_slope) / (near + far)
    end = np.where(end * slope <= 0, 0.0, end)
    turns = slope * next_slope <= 0
    return np.asarray(np.where(turns & (np.abs(end) > 3 * np.abs(slope)), 3 * slope, end))


def tip_deflection_mm(
    share: Array,
    weight: Array,
    second_moment_mm4: Array,
    length_mm: ArrayLike,
    load_n: float = SIDE_LOAD_N,
) -> Array:
    """Sideways deflection of the tip, clamped at the heel [1]_, mm; stations on the last axis.

    Parameters
    ----------
    share : places along the edge, 0 at the heel to 1 at the tip.
    weight : integration weights of the places.
    second_moment_mm4 : about the weak axis, mm4.
    length_mm : edge length, mm.
    load_n : sideways load at the tip, N.

    >>> x, w = STATION_SHARES, np.asarray(_SHARE_WEIGHTS)
    >>> round(float(tip_deflection_mm(x, w, np.full(10, 7.5), 200.0)), 2)
    17.34
    """
    length = np.asarray(length_mm, dtype=float)
    bent = (weight * (1 - share) ** 2 / second_moment_mm4).sum(axis=-1)
    return np.asarray(load_n * length**3 / YOUNG_MPA * bent)


@dataclass(frozen=True)
class Solid:
    """Sections at :data:`STATION_SHARES` on the last axis; ``density`` in g/cm3, lengths mm."""

    section: Section
    length_mm: Array
    density: Array | float

    @property
    def _line_mass(self) -> Array:
        """Mass of the stretch each station stands for, g."""
        volume = self.section.area_mm2 * _SHARE_WEIGHTS * self.length_mm[..., None] / 1000
        return np.asarray(volume * np.asarray(self.density)[..., None])

    def mass_and_balance(self) -> tuple[Array, Array, Array]:
        """Mass (g), centre of mass from the heel (mm) and mean square distance from it (mm2)."""
        mass = self._line_mass
        x = STATION_SHARES * self.length_mm[..., None]
        total = mass.sum(axis=-1)
        centre = (mass * x).sum(axis=-1) / total
        height = np.broadcast_to(self.section.height_mm, mass.shape)
        spread = (mass * ((x - centre[..., None]) ** 2 + height**2 / 12)).sum(axis=-1) / total
        return total, centre, spread

    @property
    def side_area_cm2(self) -> Array:
        """Area of one side of the blade, cm2."""
        height = self.section.height_mm
        return np.asarray((height * _SHARE_WEIGHTS).sum(axis=-1) * self.length_mm / 100)

    @property
    def tip_deflection_mm(self) -> Array:
        """:func:`tip_deflection_mm` of this blade under :data:`SIDE_LOAD_N`."""
        return tip_deflection_mm(
            STATION_SHARES, _SHARE_WEIGHTS, self.section.second_moment_mm4, self.length_mm
        )


@dataclass(frozen=True)
class Hand:
    """Whole knife about the pinch point, and the blade by itself."""

    blade_g: Array
    handle_side_g: Array
    balance_mm: Array
    static_moment_n_mm: Array
    swing_kg_cm2: Array


def in_the_hand(
    solid: Solid, weight_g: ArrayLike, balance_mm: ArrayLike, handle_length_mm: ArrayLike
) -> Hand:
    """Handle side, balance, static moment and moment of inertia about the pinch point.

    Handle side = weight - blade, and at least :data:`LEAST_HANDLE_SIDE_G`: a blade that comes out
    heavier than that leaves is bounded by the weight. M = m g (x_balance - x_pinch),
    + blade-forward, N mm. The handle is a rod of its length whose middle follows from the measured
    balance; where balance is NaN it lies behind the heel and the balance is derived from it.
    Inertia by the parallel-axis theorem.
    """
    weight, handle = np.asarray(weight_g, dtype=float), np.asarray(handle_length_mm, dtype=float)
    blade, centre, spread = solid.mass_and_balance()
    blade = np.fmin(blade, np.maximum(weight - LEAST_HANDLE_SIDE_G, weight / 2))
    rest = weight - blade
    carried = np.maximum(rest, 5.0)
    usual = -(handle / 2 + 4.0)
    given = np.asarray(balance_mm, dtype=float)
    middle = np.where(np.isnan(given), usual, (weight * given - blade * centre) / carried)
    middle = np.clip(middle, -handle, 0.0)
    balance = np.where(
        np.isnan(given), (blade * centre + carried * middle) / (blade + carried), given
    )
    swing = blade * (spread + (centre - PINCH_MM) ** 2)
    swing = swing + carried * (handle**2 / 12 + (middle - PINCH_MM) ** 2)
    moment = weight / 1000 * GRAVITY * (balance - PINCH_MM)
    return Hand(
        blade, np.asarray(rest), np.asarray(balance), np.asarray(moment), np.asarray(swing / 1e5)
    )

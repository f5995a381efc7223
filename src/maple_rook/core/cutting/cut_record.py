"""One recorded cut: force against depth, or its peak alone, and what is wrong with it.

A load cell under the board, or a scale that holds its peak, reads the downward force.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike, NDArray

from maple_rook.core.cutting.foods import Food
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import Array

Flags = NDArray[np.bool_]
MOST_POINTS = 5_000
MOST_FORCE_N = 2_000.0
LEAST_FORCE_N = 0.5
"""Under it a load cell under a board tells its own noise (assumption)."""
_LIFTED_MM = 0.5
_LEVEL_POINTS = 4
_WIDE_GAP = 0.25
_DEEP_ENOUGH = 0.5
_BEYOND = 1.1


@dataclass(frozen=True)
class CutRecord:
    """Force against depth of one cut, as far as it can be used.

    Parameters
    ----------
    depth_mm, force_n : what was read, (n,); a peak alone stands at the height of the food.
    notes : what is odd and was left out, or has to be known.
    left_out : why none of it counts; empty where it does.
    """

    depth_mm: Array
    force_n: Array
    notes: tuple[str, ...] = ()
    left_out: str = ""

    @property
    def peak_n(self) -> float:
        """The largest force read, N."""
        return float(self.force_n.max())


@dataclass
class _Channel:
    depth: Array
    force: Array
    notes: list[str] = field(default_factory=list)

    def keep(self, which: Flags, note: str) -> None:
        """Leave out what is not in ``which``, and say so; nothing to say where all of it is."""
        out = int((~which).sum())
        if out:
            self.depth, self.force = self.depth[which], self.force[which]
            self.notes.append(f"{out} {'point' if out == 1 else 'points'} left out: {note}")


def peak_record(food: Food, peak_n: float) -> CutRecord:
    """The record of a cut of which only the peak was read, N.

    Raises
    ------
    InvalidValue
        A force that no hand on a knife makes.
    """
    if not 0 < peak_n <= MOST_FORCE_N:
        raise InvalidValue("peak force", f"{peak_n:g} N", f"above 0 and up to {MOST_FORCE_N:g} N")
    return CutRecord(np.array([food.height_mm]), np.array([float(peak_n)]))


def curve_record(food: Food, depth_mm: ArrayLike, force_n: ArrayLike) -> CutRecord:
    """The record of a cut followed by depth, with what cannot be used left out and said.

    Left out are points above the food or below the board, those after the deepest point (the
    blade is lifted), and those at which the load cell is saturated. A cut that ends above half the
    food does not count.

    Parameters
    ----------
    food : what was cut, as tall as it lay there.
    depth_mm, force_n : the two channels, (n,).

    Raises
    ------
    InvalidValue
        Channels that are swapped, of different length, empty, or not numbers.

    >>> from maple_rook.core.cutting.foods import FOODS
    >>> found = curve_record(FOODS["carrot"], [0, 7, 14, 21, 28, 20], [0.2, 20, 24, 27, 30, 4])
    >>> found.peak_n, found.notes
    (30.0, ('1 point left out: the blade was being lifted',))
    """
    depth, force = (np.asarray(v, dtype=float) for v in (depth_mm, force_n))
    _channels(food, depth, force)
    of = _Channel(depth, force)
    deepest = np.arange(depth.size) <= int(np.argmax(depth))
    of.keep(deepest, "the blade was being lifted")
    rising = of.depth >= np.maximum.accumulate(of.depth) - _LIFTED_MM
    of.keep(rising, "the depth goes back")
    inside = (of.depth >= 0) & (of.depth <= _BEYOND * food.height_mm)
    of.keep(inside, f"not between the top of the {food.label} and the board")
    of.keep(of.force <= MOST_FORCE_N, f"more than {MOST_FORCE_N:g} N")
    of.keep(~_saturated(of.force), "the load cell was saturated")
    if not of.force.size or of.force.max() < LEAST_FORCE_N:
        raise InvalidValue(
            "force", f"{force.max():g} N at most", f"a peak of {LEAST_FORCE_N:g} N or more"
        )
    saturated = any("saturated" in note for note in of.notes)
    order = np.argsort(of.depth, kind="stable")
    of.depth, of.force = of.depth[order], of.force[order]
    _gaps(of, food)
    left_out = ""
    if of.depth[-1] < _DEEP_ENOUGH * food.height_mm and not saturated:
        left_out = f"it ends at {of.depth[-1]:.0f} of {food.height_mm:g} mm"
    return CutRecord(of.depth, of.force, tuple(of.notes), left_out)


def _channels(food: Food, depth: Array, force: Array) -> None:
    if depth.shape != force.shape or depth.ndim != 1 or not 1 <= depth.size <= MOST_POINTS:
        raise InvalidValue(
            "cut", f"{depth.size} depths and {force.size} forces", f"1 to {MOST_POINTS} of each"
        )
    if not (np.isfinite(depth).all() and np.isfinite(force).all()):
        raise InvalidValue("cut", "a value that is no number", "numbers")
    falls = bool((np.diff(depth) < -_LIFTED_MM).any())
    if falls and _grows(force) and force.max() <= _BEYOND * food.height_mm:
        raise InvalidValue(
            "channels",
            "a depth that goes back while the force only grows",
            "depth that grows through the food",
            hint="Depth and force look swapped.",
        )


def _grows(channel: Array) -> bool:
    return bool((np.diff(channel) >= 0).all())


def _saturated(force: Array) -> Flags:
    """Where the force stands still at its maximum, as a load cell at the end of its range does."""
    top = force == force.max(initial=0.0)
    return top if top.sum() >= _LEVEL_POINTS else np.zeros(force.shape, dtype=np.bool_)


def _gaps(of: _Channel, food: Food) -> None:
    steps = np.diff(of.depth)
    if steps.size and steps.max() > _WIDE_GAP * food.height_mm:
        at = int(np.argmax(steps))
        of.notes.append(f"nothing read from {of.depth[at]:.0f} to {of.depth[at + 1]:.0f} mm")

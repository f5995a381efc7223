"""How sharpness falls over the days, and what rod and stone bring back.

Practice rules, calibrated on common practice. Two states: wear grows with the square root of time
and only the stone resets it; roll grows toward a plateau and the rod takes most of it back. The rod
day is where roll alone leaves 75 %, the stone day where wear alone leaves 50 % of a fresh edge. An
edge that slices paper today says nothing about either.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.uncertainty import Array

DAYS_IN_MONTH = 30.4
ROD_LEAVES, STONE_LEAVES = 0.75, 0.50
"""What is left of a fresh edge on the rod day by roll, and on the stone day by wear."""
ROLL_PLATEAU = 0.50
"""Roll settles here when no rod is used (assumption)."""
ROD_MISSES = 0.15
"""Share of the roll that a rod leaves (assumption)."""


class Routine(Labelled):
    """What the kitchen does about the edge."""

    AS_NEEDED = "as_needed", "rod and stone when due"
    STONE_ONLY = "stone_only", "stone when due, no rod"
    NOTHING = "neither"


@dataclass(frozen=True)
class EdgeLife:
    """Sharpness index by day, 100 fresh; events are days; leading axes broadcast."""

    day: Array
    sharpness: Array
    rod_every: Array
    stone_every: Array


def wear(days: ArrayLike, stone_day: ArrayLike) -> Array:
    """Share of the edge worn away after so many days, 0.5 sqrt(t / t_stone), at most 1.

    >>> float(wear(90, 90)), float(wear(22.5, 90))
    (0.5, 0.25)
    """
    share = np.asarray(days, dtype=float) / np.asarray(stone_day, dtype=float)
    return np.asarray(np.minimum((1 - STONE_LEAVES) * np.sqrt(share), 1.0))


def roll(days: ArrayLike, rod_day: ArrayLike, start: ArrayLike = 0.0) -> Array:
    """Share of the edge rolled over after so many days from a start, P - (P - R0) 2^(-t/t_rod).

    P is the plateau; from nothing it reaches a quarter on the rod day.

    >>> float(roll(5, 5)), round(float(roll(500, 5)), 3)
    (0.25, 0.5)
    """
    half_lives = np.asarray(days, dtype=float) / np.asarray(rod_day, dtype=float)
    left = ROLL_PLATEAU - np.asarray(start, dtype=float)
    half = np.log(ROLL_PLATEAU / (ROLL_PLATEAU - (1 - ROD_LEAVES)))
    return np.asarray(ROLL_PLATEAU - left * np.exp(-half * half_lives))


def edge_life(
    days: ArrayLike, rod_day: ArrayLike, stone_day: ArrayLike, routine: Routine = Routine.AS_NEEDED
) -> EdgeLife:
    """Sharpness over the days under a routine: 100 (1 - wear) (1 - roll).

    ``rod_day`` and ``stone_day`` broadcast against ``days`` with a new last axis. A rod is used
    every rod day, a stone every stone day, which makes the edge fresh. After n rods the roll
    starts from R (1 - q^n), the sum of what the rods missed; q = ROD_MISSES / 2.

    >>> found = edge_life([0, 4.99, 5.01], 5.0, 90.0)
    >>> [round(float(s)) for s in found.sharpness]
    [100, 66, 85]
    """
    day = np.asarray(days, dtype=float)
    rod, stone = (np.asarray(a, dtype=float)[..., None] for a in (rod_day, stone_day))
    shape = np.broadcast_shapes(day.shape, rod.shape, stone.shape)
    since_stone = np.broadcast_to(day, shape)
    if routine is not Routine.NOTHING:
        since_stone = np.mod(day, stone)
    start, since_rod = np.zeros(()), since_stone
    if routine is Routine.AS_NEEDED:
        rods = np.floor(since_stone / rod)
        since_rod = since_stone - rods * rod
        kept = ROD_MISSES * (1 - (1 - ROD_LEAVES) / ROLL_PLATEAU)
        settled = ROD_MISSES * (1 - ROD_LEAVES) / (1 - kept)
        start = settled * (1 - kept**rods)
    sharp = 100 * (1 - wear(since_stone, stone)) * (1 - roll(since_rod, rod, start))
    return EdgeLife(day, np.asarray(sharp), rod[..., 0], stone[..., 0])

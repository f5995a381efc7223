"""Setting a knife to its tool: spine height, lean, spacers, strokes.

Lifts are geometry. The shares of strokes and what is said about holding are common practice,
without a published source.

References
----------
.. [1] JCGM 100:2008, law of propagation of uncertainty.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.geometry.section import Section
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade

MOST_SPACERS = 6
"""No stack higher than this is offered: it would not stand."""
NEAR_MM = 0.5
"""A stack further off than this is not offered: on most blades over half a degree."""
STROKES_IN_A_ROUND = 12


def lift_mm(height_mm: ArrayLike, spine_mm: ArrayLike, angle_per_side_deg: ArrayLike) -> Array:
    r"""Height of the under face of the spine over the stone, h sin th - (t/2) cos th, mm.

    ``height_mm`` from the edge to the spine, ``spine_mm`` thickness of the spine, th the angle
    between the stone and the plane through edge and middle of the spine, degrees. Negative where
    the spine would touch the stone first. The same distance stands between spine and rod.

    >>> round(float(lift_mm(45, 2.0, 15)), 2)
    10.68
    """
    height, spine = np.asarray(height_mm, dtype=float), np.asarray(spine_mm, dtype=float)
    theta = np.radians(np.asarray(angle_per_side_deg, dtype=float))
    return np.asarray(height * np.sin(theta) - spine / 2 * np.cos(theta))


def angle_of_lift_deg(height_mm: ArrayLike, spine_mm: ArrayLike, lift: ArrayLike) -> Array:
    r"""Angle per side that a lift gives, th = asin(lift / c) + atan(t / 2 h), degrees.

    c is the distance from the edge to the spine's under edge, sqrt(h^2 + (t/2)^2); the inverse of
    :func:`lift_mm`. NaN where the lift is higher than c.

    >>> round(float(angle_of_lift_deg(45, 2.0, 10.68)), 1)
    15.0
    """
    height, half = np.asarray(height_mm, dtype=float), np.asarray(spine_mm, dtype=float) / 2
    ratio = np.asarray(lift, dtype=float) / np.hypot(height, half)
    inside = np.where(np.abs(ratio) <= 1, ratio, np.nan)
    return np.asarray(np.degrees(np.arcsin(inside) + np.arctan(half / height)))


def face_lift_mm(section: Section, angle_deg: float, face: str) -> float:
    """Lift of one face of a section, mm: its own half of the spine counts, not the middle's.

    An uneven edge has its apex off the middle, so its two faces want two lifts.
    """
    half = float((section.right if face == "right" else section.left).spine_mm)
    return float(lift_mm(section.height_mm, 2 * half, angle_deg))


def lift_u_mm(blade: Blade, height_mm: float, angle_deg: float, share: float) -> float:
    r"""Standard uncertainty of a lift, mm: sin th u(h) and cos th u(t)/2 in quadrature [1]_.

    ``share`` of the edge length from the heel; off the heel the height's own scatter counts too.
    """
    theta = math.radians(angle_deg)
    heights = blade.inputs["heights"].figure.standard_uncertainty * height_mm if share else 0.0
    u_height = math.hypot(blade.inputs["height_heel"].figure.standard_uncertainty, heights)
    key = "spine_heel" if share == 0 else "spine_mid" if share <= 0.5 else "spine_tip"
    u_spine = blade.inputs[key].figure.standard_uncertainty
    return math.hypot(math.sin(theta) * u_height, math.cos(theta) * u_spine / 2)


@dataclass(frozen=True)
class Spacer:
    """A piece of known thickness of the shop's: a shim, a coin."""

    name: str
    thickness_mm: float


@dataclass(frozen=True)
class Stack:
    """Spacers laid on each other, the names with how many of each."""

    of: tuple[tuple[str, int], ...]
    height_mm: float

    @property
    def words(self) -> str:
        return " + ".join(f"{count} × {name}" if count > 1 else name for name, count in self.of)


def stacked(lift: float, spacers: Sequence[Spacer]) -> Stack | None:
    """The stack that comes nearest to a lift, to 0.1 mm; of equals the one of fewest pieces.

    None without spacers, or where no stack comes within :data:`NEAR_MM`.

    >>> stacked(10.7, [Spacer("shim", 2.0), Spacer("token", 1.75)]).words
    'shim + 5 × token'
    """
    usable = [s for s in spacers if s.thickness_mm > 0]
    if not usable:
        return None
    every = itertools.chain.from_iterable(
        itertools.combinations_with_replacement(usable, pieces)
        for pieces in range(1, MOST_SPACERS + 1)
    )
    best = min(every, key=lambda s: (round(abs(_height(s) - lift), 1), len(s)))
    if abs(_height(best) - lift) > NEAR_MM:
        return None
    return Stack(
        tuple((s.name, best.count(s)) for s in dict.fromkeys(best)), round(_height(best), 3)
    )


def _height(stack: Sequence[Spacer]) -> float:
    return sum(s.thickness_mm for s in stack)


def strokes(share_right: float) -> tuple[int, int]:
    """Strokes on the right and the left face of one round that keep the ratio.

    A stroke takes steel in proportion to the bevel it meets: for n:m read as bevel widths the
    strokes stand n:m. At most :data:`STROKES_IN_A_ROUND` a round; the nearest whole numbers.

    >>> strokes(0.7), strokes(0.5), strokes(0.85)
    ((7, 3), (1, 1), (6, 1))
    """
    share = min(max(share_right, 0.0), 1.0)
    if share < 0.5:
        right, left = strokes(1 - share)
        return left, right
    if share == 1.0:
        return 1, 0
    found = Fraction(share).limit_denominator(STROKES_IN_A_ROUND)
    if found == 1:
        return STROKES_IN_A_ROUND - 1, 1
    return found.numerator, found.denominator - found.numerator


def stroke_share(section: Section) -> float:
    """Share of the right-hand face of the steel that a sharpening takes, b_R / (b_R + b_L).

    b is each shoulder's distance from the apex plane: raising the edge by dh takes b dh of it.
    """
    right, left = (
        float(b) for b in (section.bevels.shoulder_right_mm, section.bevels.shoulder_left_mm)
    )
    return right / (right + left)


def least_angle_deg(height_mm: float, half_spine_mm: float) -> float:
    """The angle at which the spine lies on the stone, atan(x / h), degrees: none lower is held.

    >>> round(least_angle_deg(45, 1.0), 2)
    1.27
    """
    return math.degrees(math.atan2(half_spine_mm, height_mm))

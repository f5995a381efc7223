"""The sharpened edge: angles, bevels, thickness behind the edge, asymmetry.

A face is *right* or *left* as the knife is held, seen from the heel. With per-face angle th and
bevel width w, the shoulder lies b = w sin th from the apex plane at height z = w cos th; thickness
behind the edge is T = b_R + b_L. All lengths mm, all angles degrees.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import Array, Figure

UNEVEN_PERCENT = 10.0
"""From 50 on, this far off an edge is called uneven (practice rule)."""


class AsymmetrySchool(StrEnum):
    """How n:m is read: as bevel widths at equal angles, or as a division of the angle."""

    WIDTH = "width"
    ANGLE = "angle"

    @property
    def words(self) -> str:
        """How the ratio is read, for people."""
        return "bevel widths" if self is AsymmetrySchool.WIDTH else "a division of the angle"


@dataclass(frozen=True)
class Bevels:
    """Both bevels of an edge; every field broadcasts."""

    angle_right_deg: Array
    angle_left_deg: Array
    width_right_mm: Array
    width_left_mm: Array
    shoulder_right_mm: Array
    shoulder_left_mm: Array

    @property
    def shoulder_height_right_mm(self) -> Array:
        return np.asarray(self.width_right_mm * np.cos(np.radians(self.angle_right_deg)))

    @property
    def shoulder_height_left_mm(self) -> Array:
        return np.asarray(self.width_left_mm * np.cos(np.radians(self.angle_left_deg)))

    @property
    def apex_offset_mm(self) -> Array:
        """Apex from the middle of the shoulder, (b_L - b_R)/2; negative: apex to the left."""
        return np.asarray((self.shoulder_left_mm - self.shoulder_right_mm) / 2)


def bevels(
    thickness_behind_edge_mm: ArrayLike,
    angle_per_side_deg: ArrayLike,
    share_right: ArrayLike = 0.5,
    school: AsymmetrySchool = AsymmetrySchool.WIDTH,
    angle_difference_deg: ArrayLike = 0.0,
) -> Bevels:
    r"""Both bevels from thickness behind the edge T, mean angle per side and asymmetry n:m.

    Width school: w_R = n k, w_L = m k, k = T / (n sin th_R + m sin th_L); the angles are equal
    unless a measured difference, right less left, is given.
    Angle school: th_R = inclusive n / (n + m), both bevels equally tall.
    ``share_right`` is n / (n + m), 0 to 1. Range: T > 0, 3 to 45 degrees per side.

    Parameters
    ----------
    thickness_behind_edge_mm : at the shoulder of the bevel, mm.
    angle_per_side_deg : edge angle per side, degrees; of a single bevel that of its face.
    share_right : n / (n + m) of the asymmetry, 0 to 1.
    school : how the asymmetry is read.
    angle_difference_deg : right less left, degrees.

    >>> b = bevels(0.30, 15, 0.70)
    >>> [round(float(w), 3) for w in (b.width_right_mm, b.width_left_mm)]
    [0.811, 0.348]
    """
    thickness = np.asarray(thickness_behind_edge_mm, dtype=float)
    angle = np.asarray(angle_per_side_deg, dtype=float)
    right = np.asarray(share_right, dtype=float)
    left = 1 - right
    if school is AsymmetrySchool.WIDTH:
        half = np.asarray(angle_difference_deg, dtype=float) / 2
        angle_r, angle_l = angle + half, angle - half
        sine_r, sine_l = np.sin(np.radians(angle_r)), np.sin(np.radians(angle_l))
        k = thickness / (right * sine_r + left * sine_l)
        width_r, width_l = right * k, left * k
        return Bevels(angle_r, angle_l, width_r, width_l, width_r * sine_r, width_l * sine_l)
    angle_r, angle_l = 2 * angle * right, 2 * angle * left
    tan_r, tan_l = np.tan(np.radians(angle_r)), np.tan(np.radians(angle_l))
    height = thickness / (tan_r + tan_l)
    return Bevels(
        angle_r,
        angle_l,
        height / np.cos(np.radians(angle_r)),
        height / np.cos(np.radians(angle_l)),
        height * tan_r,
        height * tan_l,
    )


def angle_from_bevel_deg(shoulder_mm: ArrayLike, bevel_width_mm: ArrayLike) -> Array:
    """Angle of a face from its shoulder half-thickness and bevel width, th = asin(b / w).

    >>> round(float(angle_from_bevel_deg(0.15, 0.5796)), 1)
    15.0
    """
    ratio = np.asarray(shoulder_mm, dtype=float) / np.asarray(bevel_width_mm, dtype=float)
    if bool(np.any((ratio <= 0) | (ratio >= 1))):
        raise InvalidValue("bevel width", bevel_width_mm, "wider than its share of the thickness")
    return np.asarray(np.degrees(np.arcsin(ratio)))


def bevel_thickness_mm(
    width_right_mm: Figure, width_left_mm: Figure, angle_right_deg: Figure, angle_left_deg: Figure
) -> Figure:
    r"""Thickness behind the edge that the bevels make, T = w_R sin th_R + w_L sin th_L, mm.

    The standard uncertainty follows the law of propagation (JCGM 100:2008, 5.1.2); where both
    angles are one figure their uncertainties are fully correlated and add.

    >>> w, a = Figure(0.58, 0.0), Figure(15.0, 0.0)
    >>> round(bevel_thickness_mm(w, w, a, a).mean, 2)
    0.3
    """
    sides = ((width_right_mm, angle_right_deg), (width_left_mm, angle_left_deg))
    from_widths = [w.standard_uncertainty * np.sin(np.radians(a.mean)) for w, a in sides]
    from_angles = [
        w.mean * np.cos(np.radians(a.mean)) * np.radians(a.standard_uncertainty) for w, a in sides
    ]
    together = angle_right_deg is angle_left_deg
    angles = sum(from_angles) if together else np.hypot(*from_angles)
    mean = sum(w.mean * np.sin(np.radians(a.mean)) for w, a in sides)
    return Figure(float(mean), float(np.sqrt(np.square(from_widths).sum() + angles**2)))


def steering(apex_offset_mm: float, thickness_behind_edge_mm: float) -> str:
    """In words, which way an uneven edge steers and for which hand it is ground.

    The wider bevel pushes the blade away from itself. Under 5 % of the thickness behind the edge
    it is called even (practice rule).

    >>> steering(-0.06, 0.30)
    'steers left; ground for the right hand'
    """
    if abs(apex_offset_mm) < 0.05 * thickness_behind_edge_mm:
        return "even, does not steer"
    wider_right = apex_offset_mm < 0
    return (
        f"steers {'left' if wider_right else 'right'}; "
        f"ground for the {'right' if wider_right else 'left'} hand"
    )


def third_figure(figures: Mapping[str, Figure]) -> tuple[str, Figure] | None:
    """Thickness behind the edge or edge angle from the other and both bevel widths.

    None where both or neither is known, or where no angle would do.

    >>> widths = {k: Figure(0.58, 0.0) for k in ("bevel_width_right", "bevel_width_left")}
    >>> key, found = third_figure({**widths, "edge_angle": Figure(15.0, 0.0)})
    >>> key, round(found.mean, 2)
    ('thickness_behind_edge', 0.3)
    """
    right, left = figures.get("bevel_width_right"), figures.get("bevel_width_left")
    if right is None or left is None:
        return None
    thickness, angle = figures.get("thickness_behind_edge"), figures.get("edge_angle")
    if thickness is None and angle is not None:
        return "thickness_behind_edge", bevel_thickness_mm(right, left, angle, angle)
    if thickness is None or angle is not None:
        return None
    width = right.mean + left.mean
    ratio = thickness.mean / width
    if ratio >= 1:
        return None
    of_width = np.hypot(right.standard_uncertainty, left.standard_uncertainty) * ratio
    spread = np.hypot(thickness.standard_uncertainty, of_width) / width / np.sqrt(1 - ratio**2)
    return "edge_angle", Figure(float(np.degrees(np.arcsin(ratio))), float(np.degrees(spread)))

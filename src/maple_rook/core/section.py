"""The flat-ground section, seen from the heel: apex at the origin, z up toward the spine.

Each face runs straight along its bevel to the shoulder and straight on to the spine. The spine
stands over the middle of the shoulder, so an uneven edge has its apex off the middle.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.edge import AsymmetrySchool, Bevels, bevels
from maple_rook.core.errors import InvalidValue
from maple_rook.core.uncertainty import Array


@dataclass(frozen=True)
class Face:
    """One face: half-thickness from the apex plane at shoulder and spine, and the slopes.

    Lengths mm; every field broadcasts.
    """

    shoulder_mm: Array
    shoulder_height_mm: Array
    spine_mm: Array
    height_mm: Array

    @cached_property
    def slope(self) -> Array:
        """dx/dz of the primary face."""
        return np.asarray(
            (self.spine_mm - self.shoulder_mm) / (self.height_mm - self.shoulder_height_mm)
        )

    @cached_property
    def slope_cosine(self) -> Array:
        """cos a of the primary face."""
        return np.asarray(1 / np.sqrt(1 + self.slope**2))

    @cached_property
    def bevel_slope(self) -> Array:
        """dx/dz of the bevel; 0 where there is none."""
        return np.asarray(self.shoulder_mm / np.maximum(self.shoulder_height_mm, 1e-12))

    @cached_property
    def bevel_cosine(self) -> Array:
        """cos a of the bevel."""
        return np.asarray(1 / np.sqrt(1 + self.bevel_slope**2))

    def half_thickness_mm(self, z_mm: ArrayLike) -> Array:
        """Distance of the face from the apex plane at height z, mm."""
        z = np.asarray(z_mm, dtype=float)
        below = self.bevel_slope * z
        above = self.shoulder_mm + self.slope * (z - self.shoulder_height_mm)
        return np.asarray(np.where(z < self.shoulder_height_mm, below, above))


@dataclass(frozen=True)
class FlatSection:
    right: Face
    left: Face
    bevels: Bevels

    def thickness_mm(self, z_mm: ArrayLike) -> Array:
        """Blade thickness at height z above the apex, mm."""
        return np.asarray(self.right.half_thickness_mm(z_mm) + self.left.half_thickness_mm(z_mm))

    @property
    def primary_angle_deg(self) -> Array:
        """Inclusive angle of the two primary faces, degrees."""
        return np.asarray(
            np.degrees(np.arctan(self.right.slope) + np.arctan(self.left.slope)), dtype=float
        )


def flat_section(
    spine_mm: ArrayLike,
    height_mm: ArrayLike,
    thickness_behind_edge_mm: ArrayLike,
    angle_per_side_deg: ArrayLike,
    share_right: ArrayLike = 0.5,
    school: AsymmetrySchool = AsymmetrySchool.WIDTH,
) -> FlatSection:
    """The section of a flat-ground blade; arguments broadcast, mm and degrees.

    >>> s = flat_section(2.2, 45, 0.30, 15)
    >>> round(float(s.thickness_mm(45)), 3), round(float(s.primary_angle_deg), 2)
    (2.2, 2.45)
    """
    spine = np.asarray(spine_mm, dtype=float)
    height = np.asarray(height_mm, dtype=float)
    edge = bevels(thickness_behind_edge_mm, angle_per_side_deg, share_right, school)
    lean = (edge.shoulder_right_mm - edge.shoulder_left_mm) / 2
    right = Face(edge.shoulder_right_mm, edge.shoulder_height_right_mm, spine / 2 + lean, height)
    left = Face(edge.shoulder_left_mm, edge.shoulder_height_left_mm, spine / 2 - lean, height)
    return FlatSection(right, left, edge)


def check_section(
    spine_mm: float, height_mm: float, thickness_behind_edge_mm: float, angle_per_side_deg: float
) -> None:
    """Refuse measurements that contradict each other, naming the two figures."""
    if thickness_behind_edge_mm > spine_mm:
        raise InvalidValue(
            "thickness behind the edge",
            f"{thickness_behind_edge_mm:g} mm",
            f"at most the spine, {spine_mm:g} mm",
            hint="Thickness behind the edge and spine contradict each other; repeat both.",
        )
    bevel_height = thickness_behind_edge_mm / 2 / float(np.tan(np.radians(angle_per_side_deg)))
    if bevel_height > 0.5 * height_mm:
        raise InvalidValue(
            "edge angle",
            f"{angle_per_side_deg:g} degrees per side",
            f"bevels lower than half the height, {height_mm / 2:g} mm",
            hint="Angle and thickness behind the edge contradict each other; repeat both.",
        )


def polygon(section: FlatSection) -> list[tuple[float, float]]:
    """Corners (x, z) in mm of one section, apex first, up the right face and down the left."""
    right, left = section.right, section.left
    corners = [
        (0.0, 0.0),
        (float(right.shoulder_mm), float(right.shoulder_height_mm)),
        (float(right.spine_mm), float(right.height_mm)),
        (-float(left.spine_mm), float(left.height_mm)),
        (-float(left.shoulder_mm), float(left.shoulder_height_mm)),
    ]
    return [c for i, c in enumerate(corners) if i == 0 or c != corners[0]]

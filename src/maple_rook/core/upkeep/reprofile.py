"""Grinding an edge to another angle or ratio: what is cut away, and what edge is left.

The section is a ring of corners seen from the heel, x to the right of the plane through the apex
as it was found, z from there to the spine. A new bevel is a plane through the new apex (x0, z0);
what lies outside it goes. Geometry only: no source but that.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.optimize import brentq

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.face import Face
from maple_rook.core.geometry.section import Section
from maple_rook.core.measurement.uncertainty import Array

Ring = list[tuple[float, float]]
"""Corners (x, z), mm, the last joined to the first."""
ANGLE_RANGE_DEG = (5.0, 35.0)
SHARE_RANGE = (0.05, 0.95)
_TINY = 1e-9


def area_mm2(ring: Ring) -> float:
    """Area of a ring by the shoelace rule, mm2, never negative.

    >>> area_mm2([(0, 0), (1, 0), (1, 2)])
    1.0
    """
    if len(ring) < 3:
        return 0.0
    x, z = np.array(ring, dtype=float).T
    return float(abs(np.dot(x, np.roll(z, -1)) - np.dot(z, np.roll(x, -1))) / 2)


def clipped(ring: Ring, a: float, b: float, c: float) -> Ring:
    """The part of a ring where a x + b z + c >= 0 (Sutherland and Hodgman 1974).

    >>> area_mm2(clipped([(0, 0), (2, 0), (2, 2), (0, 2)], 1, 0, -1))
    2.0
    """
    kept: Ring = []
    for (x0, z0), (x1, z1) in zip(ring, ring[1:] + ring[:1], strict=True):
        d0, d1 = a * x0 + b * z0 + c, a * x1 + b * z1 + c
        if d0 >= 0:
            kept.append((x0, z0))
        if (d0 < 0) != (d1 < 0):
            t = d0 / (d0 - d1)
            kept.append((x0 + t * (x1 - x0), z0 + t * (z1 - z0)))
    return kept


@dataclass(frozen=True)
class Faces:
    """Right and left face as corners from the apex to the spine, (n, 2) of distance and height.

    Distances are counted outward from the apex plane of the knife as found, so that both faces
    begin at the apex with x0 and -x0. ``shoulders`` are the indices of the bevels' upper ends;
    ``back`` names the face of a single bevel that is never ground, else it is empty.
    """

    right: Array
    left: Array
    shoulders: tuple[int, int]
    back: str = ""

    @property
    def apex(self) -> tuple[float, float]:
        return float(self.right[0, 0]), float(self.right[0, 1])

    @cached_property
    def ring(self) -> Ring:
        up = [(float(x), float(z)) for x, z in self.right]
        return up + [(-float(x), float(z)) for x, z in self.left[:0:-1]]

    @property
    def tops(self) -> tuple[Array, Array]:
        """The shoulders of the right and the left bevel, distance and height."""
        return self.right[self.shoulders[0]], self.left[self.shoulders[1]]

    @property
    def bevel_widths_mm(self) -> tuple[float, float]:
        """Widths of the right and the left bevel, apex to shoulder."""
        right, left = self.tops
        return float(np.hypot(*(right - self.right[0]))), float(np.hypot(*(left - self.left[0])))

    @property
    def behind_edge_mm(self) -> float:
        """Thickness behind the edge: both shoulders' distances from the apex plane."""
        right, left = self.tops
        return float(right[0] + left[0])

    def thickness_mm(self, lifted_mm: float) -> float:
        """Thickness behind the edge once the apex stands so much higher, at the same angles, mm.

        The bevel's plane goes up with the apex and meets the face further up; at most the spine's.
        """
        sides = zip((self.right, self.left), self.shoulders, strict=True)
        return sum(_shoulder_mm(face, at, lifted_mm) for face, at in sides)


def _shoulder_mm(face: Array, at: int, lifted_mm: float) -> float:
    """How far from the apex plane the shoulder of a face comes to stand; mm."""
    if at == 0:
        return 0.0
    out, up = face[at] - face[0]
    try:
        left, _ = _ground(face, at, float(face[0, 0]), float(face[0, 1]) + lifted_mm, out / up)
    except InvalidValue:
        return float(face[-1, 0])
    return float(left[1, 0])


def faces_of(section: Section, *, single_bevel: bool = False) -> Faces:
    """The faces of a section of single blades; curves as short chords.

    On a single bevel the shoulder is the top of what is sharpened: of the edge's own bevel where
    there is one, else the shinogi line.
    """
    right, left = (_corners(face) for face in (section.right, section.left))
    if not single_bevel:
        ends = (section.bevels.shoulder_height_right_mm, section.bevels.shoulder_height_left_mm)
        tops = (_nearest(right, float(ends[0])), _nearest(left, float(ends[1])))
        return Faces(right, left, tops)
    if section.bevels.width_right_mm > section.bevels.width_left_mm:
        return Faces(right, left, (1, len(section.left.pieces) - 1), "left")
    return Faces(right, left, (len(section.right.pieces) - 1, 1), "right")


def _nearest(face: Array, height_mm: float) -> int:
    return int(np.argmin(np.abs(face[:, 1] - height_mm)))


def _corners(face: Face) -> Array:
    return np.array([(0.0, 0.0), *face.corners()])


@dataclass(frozen=True)
class Wanted:
    """The edge asked for: angle per side, degrees, and the share of the right-hand face.

    ``share_right`` None leaves the apex over the place where it is, and the right face steeper
    than the left by ``difference_deg``. ``micro_mm`` makes a steeper bevel only so wide; None lets
    it replace the old one altogether.
    """

    angle_per_side_deg: float
    share_right: float | None = None
    school: AsymmetrySchool = AsymmetrySchool.WIDTH
    micro_mm: float | None = None
    difference_deg: float = 0.0

    @property
    def angles_deg(self) -> tuple[float, float]:
        """Right and left angle; the angle school divides the inclusive one by the shares."""
        angle, share = self.angle_per_side_deg, self.share_right
        if share is None:
            return angle + self.difference_deg / 2, angle - self.difference_deg / 2
        if self.school is AsymmetrySchool.WIDTH:
            return angle, angle
        return 2 * angle * share, 2 * angle * (1 - share)


@dataclass(frozen=True)
class Reground:
    """A reground edge: the faces left, and what was cut away of each."""

    faces: Faces
    removed_right: Ring
    removed_left: Ring
    height_lost_mm: float

    @property
    def areas_mm2(self) -> tuple[float, float]:
        """Cut away of the right and the left face."""
        return area_mm2(self.removed_right), area_mm2(self.removed_left)


def reground(faces: Faces, wanted: Wanted) -> Reground:
    """The faces after a grind, with the least steel removed that makes the wanted edge.

    A lower angle keeps the apex where it is; a steeper one or another ratio lifts it until the old
    bevels are gone. A single bevel's back is not touched. Raises :class:`InvalidValue` outside 5
    to 35 degrees and 5:95, and where the spine would touch the stone first.
    """
    for angle in wanted.angles_deg:
        if not ANGLE_RANGE_DEG[0] <= angle <= ANGLE_RANGE_DEG[1]:
            raise InvalidValue("angle", f"{angle:.3g}° per side", "5 to 35° per side")
    share = wanted.share_right
    if share is not None and not SHARE_RANGE[0] <= share <= SHARE_RANGE[1]:
        raise InvalidValue("ratio", f"{100 * share:.0f}:{100 - 100 * share:.0f}", "5:95 to 95:5")
    if faces.back:
        if share is not None:
            raise InvalidValue(
                "ratio", "another ratio on a single bevel", "none: no angle is put on its back"
            )
        return _with_apex(faces, wanted, faces.apex[0], _lift(faces, wanted, faces.apex[0]))
    across = faces.apex[0] if share is None else _across(faces, wanted)
    return _with_apex(faces, wanted, across, _lift(faces, wanted, across))


def _across(faces: Faces, wanted: Wanted) -> float:
    """Where the apex has to stand for the wanted ratio."""
    assert wanted.share_right is not None
    by_width = wanted.school is AsymmetrySchool.WIDTH
    target = wanted.share_right if by_width else 0.5

    def off(across: float) -> float:
        made = _with_apex(faces, wanted, across, _lift(faces, wanted, across)).faces
        sizes = made.bevel_widths_mm if by_width else _heights(made)
        return sizes[0] / (sizes[0] + sizes[1]) - target

    right, left = (float(top[0]) for top in faces.tops)
    low, high = -0.98 * left, 0.98 * right
    return float(brentq(off, low, high, xtol=1e-9))


def _heights(faces: Faces) -> tuple[float, float]:
    right, left = (float(top[1]) - faces.apex[1] for top in faces.tops)
    return right, left


def _sides(faces: Faces, wanted: Wanted, across: float) -> list[tuple[Array, int, float, float]]:
    """Of each face that is ground: corners, shoulder, tangent of its angle, the apex outward."""
    tangents = [math.tan(math.radians(a)) for a in wanted.angles_deg]
    both = [
        ("right", faces.right, faces.shoulders[0], tangents[0], across),
        ("left", faces.left, faces.shoulders[1], tangents[1], -across),
    ]
    return [(f, at, tangent, x0) for side, f, at, tangent, x0 in both if side != faces.back]


def _lift(faces: Faces, wanted: Wanted, across: float) -> float:
    """Height of the new apex: the lowest at which nothing of the old bevels is left standing out.

    A micro-bevel is lifted only as far as its width asks.
    """
    lowest = faces.apex[1]
    for face, at, tangent, x0 in _sides(faces, wanted, across):
        within = (
            float(np.interp(x0, face[: at + 1, 0], face[: at + 1, 1])) if x0 > face[0, 0] else 0
        )
        gone = (face[1 : at + 1, 1] - (face[1 : at + 1, 0] - x0) / tangent).max(initial=0.0)
        lowest = max(lowest, within, float(gone))
    if wanted.micro_mm is None or lowest - faces.apex[1] < _TINY:
        return lowest

    width = wanted.micro_mm

    def off(lift: float) -> float:
        """How much wider than asked; a bevel that never leaves the steel is too wide."""
        try:
            made = _with_apex(faces, wanted, across, lift).faces
        except InvalidValue:
            return math.inf
        return max(made.bevel_widths_mm if not faces.back else (_front(made),)) - width

    high = lowest
    while not math.isfinite(off(high)):
        high = (faces.apex[1] + high) / 2
    if off(high) <= 0:
        return high
    return float(brentq(off, faces.apex[1] + _TINY, high, xtol=1e-9))


def _front(faces: Faces) -> float:
    return faces.bevel_widths_mm[0 if faces.back == "left" else 1]


def _with_apex(faces: Faces, wanted: Wanted, x0: float, z0: float) -> Reground:
    tangents = dict(
        zip(("right", "left"), (math.tan(math.radians(a)) for a in wanted.angles_deg), strict=True)
    )
    made, shoulders, removed = {}, {}, {}
    for side, face, at, out in (
        ("right", faces.right, faces.shoulders[0], x0),
        ("left", faces.left, faces.shoulders[1], -x0),
    ):
        ground = side != faces.back
        tangent = tangents[side] if ground else None
        made[side], shoulders[side] = _ground(face, at, out, z0, tangent)
        removed[side] = _removed(faces.ring, side, x0, z0, tangent)
    left_over = Faces(
        made["right"], made["left"], (shoulders["right"], shoulders["left"]), faces.back
    )
    return Reground(left_over, removed["right"], removed["left"], z0 - faces.apex[1])


def _ground(face: Array, at: int, x0: float, z0: float, tangent: float | None) -> tuple[Array, int]:
    """One face from the new apex on: its new bevel, and what is left of the old face above."""
    if tangent is None:
        gone = int(np.count_nonzero(face[:, 1] <= z0 + _TINY))
        foot = (float(np.interp(z0, face[:, 1], face[:, 0])), z0)
        return np.vstack([foot, face[gone:]]), max(0, at + 1 - gone)
    off = face[:, 0] - x0 - (face[:, 1] - z0) * tangent
    inside = np.flatnonzero((off < -_TINY) & (face[:, 1] > z0))
    if not inside.size:
        least = math.degrees(math.atan2(face[-1, 0] - x0, face[-1, 1] - z0))
        asked = math.degrees(math.atan(tangent))
        raise InvalidValue(
            "angle",
            f"{asked:.3g}° per side",
            f"over {least:.1f}°, where the spine touches the stone",
        )
    first = int(inside[0])
    share = off[first - 1] / (off[first - 1] - off[first]) if off[first - 1] > 0 else 0.0
    shoulder = face[first - 1] + share * (face[first] - face[first - 1])
    return np.vstack([(x0, z0), shoulder, face[first:]]), 1


def _removed(ring: Ring, side: str, x0: float, z0: float, tangent: float | None) -> Ring:
    """What lies outside the new bevel of a face; an untouched back loses what is under the apex."""
    sign = 1.0 if side == "right" else -1.0
    half = clipped(ring, sign, 0.0, -sign * x0)
    if tangent is None:
        return clipped(half, 0.0, -1.0, z0)
    return clipped(half, sign, -tangent, tangent * z0 - sign * x0)

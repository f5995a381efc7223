"""The section of a blade of any grind, seen from the heel: apex at the origin, z toward the spine.

Every family is built from the same parts: a bevel to the shoulder, a lower face from the shoulder
to the grind line, an upper face from there to the spine, each face on its own. The spine stands
over the middle of the shoulder, so an uneven edge has its apex off the middle; a single bevel has
its flat back in the apex plane. Families and their usual shapes are common practice.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool, Bevels, bevels
from maple_rook.core.geometry.face import Face, Piece, curvature_per_mm, straight
from maple_rook.core.measurement.grinds import GRINDS, Grind, GrindShape
from maple_rook.core.measurement.uncertainty import Array, Figure

LEAST_HALF_ANGLE = np.radians(0.5)
"""No apex is keener, rad: a deep hollow behind a narrow face would make it negative."""
MICRO_WIDTH_MM = 0.15
"""Width of a micro-bevel, "the last tenths" (assumption)."""
ADDED_BEVEL_DEG = Figure(2.0, 0.7)
"""An added bevel is this much steeper than the single-bevel face, 1 to 3 degrees."""


@dataclass(frozen=True)
class Section:
    """Right and left face about the apex plane; every field broadcasts.

    ``lower_faces`` are the right and left face between shoulder and grind line.
    """

    right: Face
    left: Face
    bevels: Bevels
    lower_faces: tuple[Piece, Piece]

    def thickness_mm(self, z_mm: ArrayLike) -> Array:
        """Blade thickness at height z above the apex, mm."""
        return np.asarray(self.right.half_thickness_mm(z_mm) + self.left.half_thickness_mm(z_mm))

    @property
    def height_mm(self) -> Array:
        return self.right.height_mm

    def at(self, station: int) -> Section:
        """One of the stations that are on the last axis."""
        right, left = self.right.at(station), self.left.at(station)
        lower = tuple(piece.at(station) for piece in self.lower_faces)
        return Section(right, left, self.bevels, (lower[0], lower[1]))

    @property
    def primary_angle_deg(self) -> Array:
        """Inclusive angle of the chords of the two lower faces, degrees."""
        right, left = (np.arctan(piece.slope) for piece in self.lower_faces)
        return np.asarray(np.degrees(right + left))

    @property
    def apex_tangent(self) -> Array:
        """Tangent of half the inclusive angle at the apex; of a single bevel half its face's."""
        foot = np.zeros(())
        leans = (np.arctan(face.pieces[0].lean(foot)) for face in (self.right, self.left))
        return np.asarray(np.tan(np.maximum(sum(leans) / 2, LEAST_HALF_ANGLE)))

    @cached_property
    def _moments(self) -> tuple[tuple[Array, Array, Array], tuple[Array, Array, Array]]:
        return self.right.moments(), self.left.moments()

    @property
    def area_mm2(self) -> Array:
        right, left = self._moments
        return np.asarray(right[0] + left[0])

    @property
    def second_moment_mm4(self) -> Array:
        """Second moment of area about the upright axis through the centroid (the weak axis)."""
        right, left = self._moments
        first = (right[1] - left[1]) / 2
        return np.asarray((right[2] + left[2]) / 3 - first**2 / self.area_mm2)


def section(
    grind: Grind,
    spine_mm: ArrayLike,
    height_mm: ArrayLike,
    thickness_behind_edge_mm: ArrayLike,
    angle_per_side_deg: ArrayLike,
    share_right: ArrayLike = 0.5,
    *,
    school: AsymmetrySchool = AsymmetrySchool.WIDTH,
    angle_difference_deg: ArrayLike = 0.0,
    bulge: ArrayLike | None = None,
    grind_line: ArrayLike | None = None,
    steeper_deg: ArrayLike | None = None,
    hollow_depth_mm: ArrayLike = 0.0,
    shinogi: ArrayLike = 1.0,
    shaped: str = "both",
) -> Section:
    """The section of a blade of this family; arguments broadcast, mm and degrees.

    Parameters
    ----------
    grind : the family.
    spine_mm : thickness of the spine, mm.
    height_mm : height of the blade, mm.
    thickness_behind_edge_mm : at the shoulder of the bevel, mm; of single bevels only those with an
        added bevel have one.
    angle_per_side_deg : edge angle per side, degrees; of a single bevel that of its face, on the
        right where ``share_right`` is 0.5 or more.
    share_right : n / (n + m) of the asymmetry, 0 to 1.
    school : how the asymmetry is read.
    angle_difference_deg : right less left, degrees.
    bulge : sagitta of the lower face over its mean half-thickness; the family's where None, where
        a straight one has none.
    grind_line : height of the grind line over the blade's; the family's where None.
    steeper_deg : angle of a micro-bevel, or of the bevel added to a single-bevel face, degrees.
    hollow_depth_mm : of a single bevel's back, mm.
    shinogi : of a single bevel: thickness at the shinogi line over the spine's.
    shaped : the face that carries the curve: "both", "right" or "left".

    >>> s = section(Grind.FULL_FLAT, 2.2, 45, 0.30, 15)
    >>> round(float(s.thickness_mm(45)), 3), round(float(s.primary_angle_deg), 2)
    (2.2, 2.45)
    """
    spine, height, behind, angle, share = (
        np.asarray(a, dtype=float)
        for a in (spine_mm, height_mm, thickness_behind_edge_mm, angle_per_side_deg, share_right)
    )
    steeper = None if steeper_deg is None else np.asarray(steeper_deg, dtype=float)
    family = GRINDS[grind]
    if family.single_bevel:
        added = steeper if family.added_bevel else None
        if family.added_bevel and added is None:
            added = np.asarray(angle + ADDED_BEVEL_DEG.mean)
        micro = None if added is not None else steeper
        back = np.asarray(hollow_depth_mm, dtype=float)
        ridge = np.asarray(shinogi, dtype=float)
        return _single_bevel(spine, height, behind, angle, share, added, micro, back, ridge)
    edge = bevels(behind, angle, share, school, angle_difference_deg)
    curve = _given(None, family.shape.bulge) if bulge is None else np.asarray(bulge, dtype=float)
    line = _given(grind_line, family.shape.grind_line)
    return _double_bevel(family.shape, edge, spine, height, steeper, curve, line, shaped)


def _double_bevel(
    shape: GrindShape,
    edge: Bevels,
    spine: Array,
    height: Array,
    steeper: Array | None,
    curve: Array | None,
    line: Array | None,
    shaped: str,
) -> Section:
    """Two faces over an edge of two bevels, each as its family shapes it."""
    lean = (edge.shoulder_right_mm - edge.shoulder_left_mm) / 2
    sides = (
        ("right", edge.shoulder_right_mm, edge.angle_right_deg, spine / 2 + lean),
        ("left", edge.shoulder_left_mm, edge.angle_left_deg, spine / 2 - lean),
    )
    faces, lower = [], []
    for side, shoulder, side_angle, top in sides:
        feet = _bevel_nodes(shoulder, side_angle, steeper)
        bent = curve if shaped in ("both", side) else None
        upper = _upper(shape, feet[-1], height, top, bent, line)
        faces.append(Face((*straight(feet).pieces, *upper)))
        lower.append(upper[0])
    return Section(faces[0], faces[1], edge, (lower[0], lower[1]))


def flat_section(
    spine_mm: ArrayLike,
    height_mm: ArrayLike,
    thickness_behind_edge_mm: ArrayLike,
    angle_per_side_deg: ArrayLike,
    share_right: ArrayLike = 0.5,
    school: AsymmetrySchool = AsymmetrySchool.WIDTH,
) -> Section:
    """:func:`section` of a full flat grind.

    Parameters
    ----------
    spine_mm : thickness of the spine, mm.
    height_mm : height of the blade, mm.
    thickness_behind_edge_mm : at the shoulder of the bevel, mm.
    angle_per_side_deg : edge angle per side, degrees; of a single bevel that of its face.
    share_right : n / (n + m) of the asymmetry, 0 to 1.
    school : how the asymmetry is read.

    >>> float(flat_section(2.0, 45, 0.30, 15).thickness_mm(45))
    2.0
    """
    return section(
        Grind.FULL_FLAT,
        spine_mm,
        height_mm,
        thickness_behind_edge_mm,
        angle_per_side_deg,
        share_right,
        school=school,
    )


def _given(value: ArrayLike | None, usual: Figure | None) -> Array | None:
    if usual is None:
        return None
    return np.asarray(usual.mean if value is None else value, dtype=float)


def _bevel_nodes(
    shoulder: Array, angle_deg: Array, micro_deg: Array | None
) -> list[tuple[Array, Array]]:
    """(z, x) of apex, micro-bevel where there is one, and shoulder."""
    zero = np.zeros(())
    if micro_deg is None:
        return [(zero, zero), (shoulder / np.tan(np.radians(angle_deg)), shoulder)]
    steep = np.radians(micro_deg)
    half = np.minimum(MICRO_WIDTH_MM * np.sin(steep), 0.5 * shoulder)
    low = half / np.tan(steep)
    high = low + (shoulder - half) / np.tan(np.radians(angle_deg))
    return [(zero, zero), (low, half), (high, shoulder)]


def _upper(
    shape: GrindShape,
    foot: tuple[Array, Array],
    height: Array,
    top: Array,
    bulge: Array | None,
    grind_line: Array | None,
) -> tuple[Piece, ...]:
    """Lower and upper face from the shoulder to the spine."""
    z0, x0 = foot
    if grind_line is None:
        return (_bent(Piece(z0, x0, height, top), bulge),)
    line = np.clip(grind_line * height, z0 + 0.05 * (height - z0), height)
    share = (line - z0) / (height - z0)
    knee = top if shape.flats else x0 + (top - x0) * share
    lower, upper = Piece(z0, x0, line, knee), Piece(line, knee, height, top)
    above = None if bulge is None or not shape.upper_bulge else shape.upper_bulge * bulge
    return _bent(lower, bulge), _bent(upper, above)


def _bent(piece: Piece, bulge: Array | None) -> Piece:
    """The piece with its curve; a hollow stops short of the middle plane.

    The chord from a to b meets it at the sagitta (sqrt(a) + sqrt(b))^2 / 4; nine tenths of that
    is the deepest.
    """
    if bulge is None:
        return piece
    feet = np.sqrt(np.maximum(piece.x0, 0)), np.sqrt(np.maximum(piece.x1, 0))
    deepest = 0.9 * (feet[0] + feet[1]) ** 2 / 4
    sagitta = np.maximum(bulge * (piece.x0 + piece.x1) / 2, -deepest)
    return replace(piece, curvature=curvature_per_mm(sagitta, piece.length))


def _single_bevel(
    spine: Array,
    height: Array,
    behind: Array,
    angle: Array,
    share: Array,
    added: Array | None,
    micro: Array | None,
    hollow: Array,
    shinogi: Array,
) -> Section:
    """Face to the shinogi line and up to the spine, flat or hollow back in the apex plane."""
    zero, tangent = np.zeros(()), np.tan(np.radians(angle))
    on_face = np.maximum(share, 1 - share)
    front = back = [(zero, zero)]
    back_half = zero
    if added is not None:
        steep = np.tan(np.radians(np.maximum(added, angle + 0.1)))
        back_half = behind * (1 - on_face)
        front = [*front, (behind * on_face / steep, behind * on_face)]
        back = [*back, (back_half / steep, back_half)]
    elif micro is not None:
        half = np.minimum(MICRO_WIDTH_MM * np.sin(np.radians(micro)), 0.25 * spine)
        front = [*front, (half / np.tan(np.radians(micro)), half)]
    z0, x0 = front[-1]
    ridge = np.minimum(shinogi * spine - back_half, x0 + 0.95 * (height - z0) * tangent)
    ridge_mm = z0 + (ridge - x0) / tangent
    face = straight([*front, (ridge_mm, ridge), (height, spine - back_half)])
    flat = Piece(*back[-1], height, back_half)
    depth = np.minimum(hollow, np.minimum(deepest_hollow_mm(flat.length, angle), 0.8 * ridge))
    flat = replace(flat, curvature=curvature_per_mm(-depth, flat.length))
    behind_it = Face((*straight(back).pieces, flat))
    lower = face.pieces[-2]
    width = np.hypot(lower.length, lower.x1 - lower.x0)
    if _left_handed(share):
        edge = Bevels(zero, angle, zero, width, zero, ridge)
        return Section(behind_it, face, edge, (flat, lower))
    return Section(face, behind_it, Bevels(angle, zero, width, zero, ridge, zero), (lower, flat))


def deepest_hollow_mm(back_mm: ArrayLike, face_angle_deg: ArrayLike) -> Array:
    """The deepest hollow that leaves steel behind the apex, 0.2 c tan th, mm.

    At the apex the arc of depth d leans by 4 d / c; four fifths of the face's own slope are kept
    as the limit.

    >>> round(float(deepest_hollow_mm(33.0, 11.0)), 2)
    1.28
    """
    slope = np.tan(np.radians(np.asarray(face_angle_deg, dtype=float)))
    return np.asarray(0.2 * np.asarray(back_mm, dtype=float) * slope)


def _left_handed(share: Array) -> bool:
    left = np.asarray(share < 0.5)
    if left.any() and not left.all():
        raise InvalidValue("asymmetry", "faces on both sides", "single bevels of one hand a call")
    return bool(left.all())


def polygon(section: Section) -> list[tuple[float, float]]:
    """Corners (x, z) in mm of one section, apex first, up the right face and down the left."""
    up = section.right.corners()
    down = [(-x, z) for x, z in reversed(section.left.corners())]
    ring = [(0.0, 0.0), *up, *down]
    return [
        (round(x, 6) + 0.0, round(z, 6))
        for i, (x, z) in enumerate(ring)
        if i == 0
        or (abs(x - ring[i - 1][0]) + abs(z - ring[i - 1][1]) > 1e-9 and (x, z) != ring[0])
    ]


def check_section(figures: Mapping[str, float], grind: Grind = Grind.FULL_FLAT) -> None:
    """Refuse measurements that contradict each other, naming the two figures.

    ``figures`` by quantity key, mm and degrees per side; what is not there is not looked at.

    >>> check_section({"spine_heel": 2.2, "thickness_behind_edge": 0.3})
    """
    spine, height, behind, angle, steeper, hollow, line = (
        figures.get(key)
        for key in (
            "spine_heel",
            "height_heel",
            "thickness_behind_edge",
            "edge_angle",
            "micro_bevel",
            "hollow_depth",
            "grind_line",
        )
    )
    single = GRINDS[grind].single_bevel
    if behind is not None and spine is not None and behind > spine:
        raise _contradiction(
            "thickness behind the edge",
            f"{behind:g} mm",
            f"at most the spine, {spine:g} mm",
            "spine",
        )
    if steeper is not None and angle is not None and steeper <= angle:
        steep = f"steeper than the edge angle, {angle:g} degrees"
        raise _contradiction("micro-bevel angle", f"{steeper:g} degrees", steep, "edge angle")
    if line is not None and height is not None and line > height:
        raise _contradiction(
            "grind line", f"{line:g} mm", f"at most the height, {height:g} mm", "height"
        )
    if angle is None or height is None:
        return
    tangent = float(np.tan(np.radians(angle)))
    if single and spine is not None and spine / tangent > 0.98 * height:
        raise _contradiction(
            "face angle",
            f"{angle:g} degrees",
            f"a shinogi line below the spine: at {spine:g} mm thick it would lie "
            f"{spine / tangent:.3g} mm up a blade {height:g} mm high",
            "spine at heel",
        )
    if single and hollow is not None and hollow > (most := float(deepest_hollow_mm(height, angle))):
        raise _contradiction(
            "hollow of the back",
            f"{hollow:g} mm",
            f"at most {most:.2g} mm behind a face of {angle:g} degrees",
            "face angle",
        )
    if not single and behind is not None and behind / 2 / tangent > 0.5 * height:
        raise _contradiction(
            "edge angle",
            f"{angle:g} degrees per side",
            f"bevels lower than half the height, {height / 2:g} mm",
            "thickness behind the edge",
        )


def _contradiction(name: str, value: str, accepted: str, other: str) -> InvalidValue:
    both = f"{name} and {other} contradict each other; repeat both."
    return InvalidValue(name, value, accepted, hint=both[0].upper() + both[1:])

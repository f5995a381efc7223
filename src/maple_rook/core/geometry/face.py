"""One face of a blade as pieces from the apex up, each straight or a circular arc.

z runs from the apex toward the spine, x(z) is the distance of the face from the apex plane; both
mm. The integrals of straight pieces are exact, those of arcs by Gauss-Legendre quadrature.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.measurement.uncertainty import Array

_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(5)
NODES = tuple(zip((1 + _NODES) / 2, _WEIGHTS / 2, strict=True))
"""Gauss-Legendre nodes and weights on 0 to 1."""
_ARC_POINTS = 32


def sagitta_mm(radius_mm: ArrayLike, chord_mm: ArrayLike) -> Array:
    r"""Depth of a circular hollow of wheel radius R on a chord c, R - sqrt(R^2 - c^2/4), mm.

    Range c <= 2 R.

    >>> round(float(sagitta_mm(500.0, 40.0)), 3)
    0.4
    """
    radius, chord = np.asarray(radius_mm, dtype=float), np.asarray(chord_mm, dtype=float)
    return np.asarray(chord**2 / 4 / (radius + np.sqrt(radius**2 - chord**2 / 4)))


def curvature_per_mm(sagitta: ArrayLike, chord_mm: ArrayLike) -> Array:
    r"""Curvature of the arc with sagitta s on chord c, 2 s / (c^2/4 + s^2), 1/mm.

    The inverse of :func:`sagitta_mm`; the sign of the sagitta is kept, + bulges outward.

    >>> round(1 / float(curvature_per_mm(0.4003, 40.0)))
    500
    """
    s, chord = np.asarray(sagitta, dtype=float), np.asarray(chord_mm, dtype=float)
    return np.asarray(2 * s / np.maximum(chord**2 / 4 + s**2, 1e-12))


def _at(values: Array, station: int) -> Array:
    """A station of the last axis; what is the same at all of them has none or one."""
    if not values.ndim:
        return values
    return np.asarray(values[..., min(station, values.shape[-1] - 1)])


@dataclass(frozen=True)
class Piece:
    """From (z0, x0) up to (z1, x1); ``curvature`` None is straight, + bulges outward, 1/mm.

    The arc stands square to the apex plane on its chord, which leans by a few degrees only.
    """

    z0: Array
    x0: Array
    z1: Array
    x1: Array
    curvature: Array | None = None

    @cached_property
    def length(self) -> Array:
        return np.asarray(self.z1 - self.z0)

    @cached_property
    def slope(self) -> Array:
        """dx/dz of the chord; 0 for a piece of no length."""
        return np.asarray((self.x1 - self.x0) / np.maximum(self.length, 1e-12))

    def at(self, station: int) -> Piece:
        """The piece at one of the stations that are on the last axis."""
        z0, x0, z1, x1 = (_at(v, station) for v in (self.z0, self.x0, self.z1, self.x1))
        curvature = None if self.curvature is None else _at(self.curvature, station)
        return Piece(z0, x0, z1, x1, curvature)

    def x_mm(self, u: Array) -> Array:
        """Distance from the apex plane at u mm above the foot of the piece."""
        chord = self.x0 + self.slope * u
        if self.curvature is None:
            return np.asarray(chord)
        return np.asarray(chord + self._bent(u, self.length, self._end_root)[0])

    @cached_property
    def _end_root(self) -> Array:
        """sqrt(1 - (k c / 2)^2), the cosine of the arc's lean at its ends."""
        assert self.curvature is not None
        return np.asarray(np.sqrt(1 - (self.curvature * self.length / 2) ** 2))

    def _bent(self, u: Array, length: Array, end_root: Array) -> tuple[Array, Array]:
        """How far the arc stands off its chord at u, and how much its slope differs."""
        assert self.curvature is not None
        lever = self.curvature * (u - length / 2)
        root = np.sqrt(1 - lever * lever)
        return self.curvature * u * (length - u) / (root + end_root), lever / root

    def area_mm2(self, up_to: Array) -> Array:
        """Integral of x dz up to a height above the foot, mm2."""
        straight = up_to * (self.x0 + 0.5 * self.slope * up_to)
        if self.curvature is None:
            return np.asarray(straight)
        bent = np.zeros(())
        length, end_root = self.length, self._end_root
        for node, weight in NODES:
            bent = bent + weight * self._bent(up_to * node, length, end_root)[0]
        return np.asarray(straight + up_to * bent)

    def lean(self, u: Array) -> Array:
        """dx/dz of the face itself at u mm above the foot."""
        if self.curvature is None:
            return self.slope
        return np.asarray(self.slope - self._bent(u, self.length, self._end_root)[1])

    def moments(self) -> tuple[Array, Array, Array]:
        """Integrals of x, x^2 and x^3 dz over the piece, mm2, mm3, mm4."""
        a, b, c = self.x0, self.x1, self.length
        if self.curvature is None:
            return (
                np.asarray(c * (a + b) / 2),
                np.asarray(c * (a * a + a * b + b * b) / 3),
                np.asarray(c * (a + b) * (a * a + b * b) / 4),
            )
        first = second = third = np.zeros(())
        for node, weight in zip(_NODES, _WEIGHTS, strict=True):
            x = self.x_mm(c * (0.5 + 0.5 * node))
            w = weight * c / 2
            first, second, third = first + w * x, second + w * x * x, third + w * x * x * x
        return first, second, third


@dataclass(frozen=True)
class Face:
    """The pieces of one face in order, the first from the apex, the last to the spine."""

    pieces: tuple[Piece, ...]

    def at(self, station: int) -> Face:
        """The face at one of the stations that are on the last axis."""
        return Face(tuple(piece.at(station) for piece in self.pieces))

    @property
    def height_mm(self) -> Array:
        return self.pieces[-1].z1

    @property
    def spine_mm(self) -> Array:
        """Distance of the face from the apex plane at the spine."""
        return self.pieces[-1].x1

    def half_thickness_mm(self, z_mm: ArrayLike) -> Array:
        """Distance of the face from the apex plane at height z, mm."""
        z = np.asarray(z_mm, dtype=float)
        found = self.pieces[0].x_mm(z)
        for piece in self.pieces[1:]:
            inside = np.clip(z - piece.z0, 0, piece.length)
            found = np.where(z > piece.z0, piece.x_mm(inside), found)
        return np.asarray(found)

    def area_mm2(self, depth_mm: ArrayLike) -> Array:
        """Integral of the half-thickness from the apex to a depth, mm2; none above the spine."""
        depth = np.asarray(depth_mm, dtype=float)
        area = np.zeros(())
        for piece in self.pieces:
            area = area + piece.area_mm2(np.clip(depth - piece.z0, 0, piece.length))
        return area

    def moments(self) -> tuple[Array, Array, Array]:
        """Integrals of x, x^2 and x^3 dz over the face, mm2, mm3, mm4."""
        of_pieces = [piece.moments() for piece in self.pieces]
        first, second, third = (sum(m[i] for m in of_pieces) for i in range(3))
        return np.asarray(first), np.asarray(second), np.asarray(third)

    def corners(self) -> list[tuple[float, float]]:
        """(x, z) of one face from above the apex to the spine, arcs as short chords."""
        points: list[tuple[float, float]] = []
        for piece in self.pieces:
            length = float(piece.length)
            if length <= 0:
                continue
            steps = 1 if piece.curvature is None else _ARC_POINTS
            up = np.linspace(0, length, steps + 1)[1:]
            xs = np.broadcast_to(piece.x_mm(up), up.shape)
            points += [(float(x), float(piece.z0) + float(u)) for x, u in zip(xs, up, strict=True)]
        return points


def straight(nodes: Sequence[tuple[Array, Array]]) -> Face:
    """The face through (z, x) nodes from the apex up, straight between them."""
    return Face(tuple(Piece(*low, *high) for low, high in itertools.pairwise(nodes)))

"""What food presses on the two faces of a blade: crushed beside the edge, spread by its body.

z runs up from the apex, a(z) is the local angle of a face, t(z) the whole thickness. The food
crushed beside the edge presses with p_e = min(s_c, E tan a / sqrt(1 + xi^2)) exp(-z / lam), each
face by its own angle; the bulk with p_b = k t s / (1 + s), the same on both: the two sides are
springs in series, and the blade settles where they balance.
"""

from __future__ import annotations

from functools import cached_property
from typing import NamedTuple

import numpy as np

from maple_rook.core.geometry.face import NODES, Face, Piece
from maple_rook.core.geometry.section import Section
from maple_rook.core.measurement.uncertainty import Array


class Lobe(NamedTuple):
    """A stretch of a face with one slope: integral of exp(-z / lam) dz over it, mm, and slope."""

    weight_mm: Array
    tangent: Array
    cosine: Array
    steepest: float


class Crushed(NamedTuple):
    """Integrals of p_e sin a and p_e cos a over one face or both, N/mm."""

    sine: Array
    cosine: Array


class _Stretch:
    """A piece of one face, and what of it is asked again and again."""

    def __init__(self, piece: Piece, other: Face) -> None:
        self.piece, self._other = piece, other
        self.lowest, self.highest = float(np.min(piece.z0)), float(np.max(piece.z1))

    @cached_property
    def lobe_shape(self) -> tuple[Array, Array, float]:
        """Slope, cosine and the steepest slope of a straight piece."""
        tangent = self.piece.slope
        return tangent, 1 / np.sqrt(1 + tangent * tangent), float(np.max(tangent))

    @cached_property
    def _whole(self) -> tuple[Array, Array]:
        return self._bulk(self.piece.z1)

    @cached_property
    def _under(self) -> Array:
        return self._other.area_mm2(self.piece.z0)

    def bulk(self, depth: Array, deepest: float, shallowest: float) -> tuple[Array, Array] | None:
        """Integrals of t sin a and t cos a over the piece to a depth, mm2; None where none."""
        if self.highest <= shallowest:
            return self._whole
        if self.lowest >= deepest:
            return None
        return self._bulk(np.clip(depth, self.piece.z0, self.piece.z1))

    def _bulk(self, top: Array) -> tuple[Array, Array]:
        piece, up_to = self.piece, top - self.piece.z0
        if piece.curvature is None:
            tangent, cosine, _ = self.lobe_shape
            area = piece.area_mm2(up_to) + self._other.area_mm2(top) - self._under
            along = area * cosine
            return along * tangent, along
        sine = cosine = np.zeros(())
        for node, weight in NODES:
            u = up_to * node
            lean = piece.lean(u)
            thick = piece.x_mm(u) + self._other.half_thickness_mm(piece.z0 + u)
            along = weight * up_to * thick / np.sqrt(1 + lean * lean)
            sine, cosine = sine + lean * along, cosine + along
        return sine, cosine


class Pressing:
    """A section, or sections, in a food: the integrals that every food and depth shares."""

    def __init__(self, section: Section) -> None:
        right, left = section.right, section.left
        self.section = section
        self._faces = (
            [_Stretch(piece, left) for piece in right.pieces],
            [_Stretch(piece, right) for piece in left.pieces],
        )

    def bulk_mm2(self, depth_mm: Array) -> tuple[Array, Array]:
        """Integrals of t sin a and t cos a over both faces to a depth, mm2."""
        deepest, shallowest = float(np.max(depth_mm)), float(np.min(depth_mm))
        sine = cosine = np.zeros(())
        for stretch in (*self._faces[0], *self._faces[1]):
            found = stretch.bulk(depth_mm, deepest, shallowest)
            if found is not None:
                sine, cosine = sine + found[0], cosine + found[1]
        return sine, cosine

    def lobes(self, depth_mm: Array, crush_mm: float) -> tuple[list[Lobe], list[Lobe]]:
        """The stretches of the right and left face by which the food beside the edge is crushed.

        A straight piece is one, exact; an arc is taken at the nodes of a quadrature in
        1 - exp(-z / lam), so that they lie where the food presses.
        """
        found: tuple[list[Lobe], list[Lobe]] = ([], [])
        shallowest = float(np.min(depth_mm))
        for lobes, stretches in zip(found, self._faces, strict=True):
            below = np.ones(())
            for stretch in stretches:
                piece = stretch.piece
                whole = stretch.highest <= shallowest
                top = piece.z1 if whole else np.clip(depth_mm, piece.z0, piece.z1)
                above = np.exp(top / -crush_mm)
                faded = below - above
                if piece.curvature is None:
                    lobes.append(Lobe(crush_mm * faded, *stretch.lobe_shape))
                else:
                    share = faded / below
                    for node, weight in NODES:
                        lean = piece.lean(-crush_mm * np.log1p(-node * share))
                        cosine = 1 / np.sqrt(1 + lean * lean)
                        steepest = float(np.max(lean))
                        lobes.append(Lobe(weight * crush_mm * faded, lean, cosine, steepest))
                below = above
        return found


def crushed_n_mm(lobes: list[Lobe], modulus_mpa: float, crush_mpa: float, spread: Array) -> Crushed:
    """Integrals of p_e sin a and p_e cos a over faces; ``spread`` is sqrt(1 + xi^2)."""
    sine = cosine = np.zeros(())
    for weight, tangent, cos, _ in lobes:
        pressed = np.clip(modulus_mpa * tangent / spread, 0, crush_mpa) * weight * cos
        sine, cosine = sine + pressed * tangent, cosine + pressed
    return Crushed(sine, cosine)


class EdgeZone:
    """The food beside the edge at one depth, for any stroke."""

    def __init__(self, lobes: list[Lobe], modulus_mpa: float, crush_mpa: float) -> None:
        self._lobes, self._modulus, self._crush = lobes, modulus_mpa, crush_mpa
        self._straight = crushed_n_mm(lobes, modulus_mpa, crush_mpa, np.ones(()))
        # Where nothing gives, a slicing stroke presses less in the same proportion everywhere.
        self._gives = any(modulus_mpa * lobe.steepest > crush_mpa for lobe in lobes)

    def crushed(self, spread: Array) -> Crushed:
        """Integrals of p_e sin a and p_e cos a at sqrt(1 + xi^2), N/mm."""
        if self._gives:
            return crushed_n_mm(self._lobes, self._modulus, self._crush, spread)
        sine, cosine = self._straight
        return Crushed(np.asarray(sine / spread), np.asarray(cosine / spread))

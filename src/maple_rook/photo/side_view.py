"""A photo from the side: the whole way from pixels to figures of the blade."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

import numpy as np

from maple_rook.core.geometry.photo_blade import (
    BladeLines,
    Measured,
    PhotoFigure,
    budget,
    even_line,
    laid_out,
    side_figures,
)
from maple_rook.core.geometry.scale_card import PrintSize
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.camera import Camera
from maple_rook.photo.landmarks import Frame

Pixel = tuple[float, float]
Bends = tuple[Pixel | None, ...]
PICK_U_MM = {"heel": 0.12, "tip": 0.22, "joint": 0.5, "butt": 0.5}
"""Standard uncertainty of placing a point on what it stands for (practice rule, tried on photos of
known knives)."""
PICK_U_PX, TRACE_U_PX = 0.7, 0.25
FLAT_OWN_U_MM, GAP_OWN_U_MM, TIP_OWN_U_MM = 1.5, 0.10, 0.10
AT_TIP = 0.3
"""Thickness of the spine at the very tip, over that 10 mm behind it (practice rule)."""
BENDS = 7
"""Points along each line that a person can move."""


@dataclass(frozen=True)
class Lying:
    """How the knife lies: its middle plane above the card, and its thickness at the spine, mm."""

    stand_off_mm: float = 0.0
    stand_off_u_mm: float = 0.5
    spine_heel_mm: float = 2.2
    spine_tip_mm: float = 1.2
    spine_relative_u: float = 0.3
    handle_up_mm: float = 0.0

    @property
    def middle_mm(self) -> float:
        return self.stand_off_mm + self.spine_heel_mm / 2


@dataclass(frozen=True)
class Points:
    """What a person may move, in pixels; ``edge`` and ``spine`` bend the traced lines where given.

    A bend that is None leaves its place as it was traced.
    """

    heel: Pixel
    tip: Pixel
    joint: Pixel | None = None
    butt: Pixel | None = None
    edge: Bends = ()
    spine: Bends = ()


@dataclass(frozen=True)
class SideView:
    """A traced photo: outline in pixels, the camera, and the frame heel and tip were found in."""

    camera: Camera
    outline_px: Array
    frame: Frame
    proposed: Points
    print_size: PrintSize | None

    def lines_px(self, points: Points) -> tuple[Array, Array]:
        """The outline between heel and tip as edge and spine, pixels, heel first.

        Heel and tip part the outline; what joins them on the edge's side is the edge.
        """
        ring = self.outline_px
        ends = [
            int(np.linalg.norm(ring - np.asarray(p), axis=1).argmin())
            for p in (points.heel, points.tip)
        ]
        forward = _between(ring, ends[0], ends[1])
        backward = _between(ring, ends[1], ends[0])[::-1]
        up = [
            float(np.mean(self.frame.of(self.camera.to_mm(line))[:, 1]))
            for line in (forward, backward)
        ]
        return (forward, backward) if up[0] < up[1] else (backward, forward)

    def handles_px(self, points: Points) -> tuple[list[Pixel], list[Pixel]]:
        """Places along edge and spine to be dragged: where they were put, else evenly along."""
        found: list[list[Pixel]] = []
        for line, given in zip(self.bent(points), (points.edge, points.spine), strict=True):
            rows = np.round(np.linspace(0, len(line) - 1, BENDS + 2)[1:-1]).astype(int)
            even = [(float(x), float(y)) for x, y in line[rows]]
            found.append([own or there for own, there in zip_longest(given, even)][:BENDS])
        return found[0], found[1]

    def _traced(self, points: Points) -> tuple[Array, Array]:
        """Edge and spine between heel and tip as traced; the spine from above the heel."""
        edge, spine = self.lines_px(points)
        flat = self.frame.of(self.camera.to_mm(spine))
        heel, tip = self.frame.of(self.camera.to_mm([points.heel, points.tip]))
        inside = (flat[:, 0] > heel[0] - 1.0) & (flat[:, 0] < tip[0] + 1.0)
        high = flat[:, 1] > heel[1] + 0.35 * float(np.max(flat[inside, 1], initial=0) - heel[1])
        near_tip = flat[:, 0] > tip[0] - 25
        kept = spine[inside & (high | near_tip)]
        return edge, kept if len(kept) > 1 else spine

    def bent(self, points: Points) -> tuple[Array, Array]:
        """Edge and spine with what a person moved: a moved point takes its neighbourhood along."""
        edge, spine = self._traced(points)
        return _bend(edge, points.edge), _bend(spine, points.spine)

    def blade(self, points: Points, lying: Lying) -> BladeLines:
        return self._laid(self.bent(points), points, lying, np.zeros(len(self._sources)))[0]

    def figures(self, points: Points, lying: Lying) -> dict[str, PhotoFigure]:
        """Every figure with its uncertainty and where it comes from."""
        lines = self.bent(points)

        def measure(step: Array) -> Measured:
            laid, joint, butt = self._laid(lines, points, lying, step)
            return side_figures(laid, joint, butt)

        own = {"flat_length": FLAT_OWN_U_MM, "edge_gap": GAP_OWN_U_MM, "tip_height": TIP_OWN_U_MM}
        return budget(measure, self._sources, own)

    @property
    def _sources(self) -> list[str]:
        """One name a step: eight of the camera, print, plane, thickness, points, and waves."""
        return [*["card"] * 8, "print", "plane", "thickness", *["pixels"] * 12]

    def _laid(
        self, lines_px: tuple[Array, Array], points: Points, lying: Lying, step: Array
    ) -> tuple[BladeLines, Array | None, Array | None]:
        """Both lines on the board after a step in standard uncertainties."""
        camera = self.camera.moved(step[:8] @ self.camera.doubts)
        printed = self.print_size or PrintSize(1.0, 0.0)
        size = printed.factor * (1 + step[8] * printed.relative_u)
        thick = 1 + step[10] * lying.spine_relative_u
        middle = lying.stand_off_mm + thick * lying.spine_heel_mm / 2
        middle = (middle + step[9] * lying.stand_off_u_mm) / size
        picks, waves, softness = step[11:19], step[19:22], step[22]

        def placed(pixels: Array | Sequence[Pixel], height: Array | float) -> Array:
            return self.frame.of(size * camera.to_mm(np.asarray(pixels), height))

        heel, tip = placed([points.heel, points.tip], middle)
        per_mm = self.camera.px_per_mm((float(self.frame.origin[0]), float(self.frame.origin[1])))
        pick = {k: float(np.hypot(u, PICK_U_PX / per_mm)) for k, u in PICK_U_MM.items()}
        heel = heel + np.array([pick["heel"] * picks[0], TRACE_U_PX / per_mm * picks[1]])
        tip = tip + np.array([pick["tip"] * picks[2], pick["tip"] * 0.7 * picks[3]])
        soft = TRACE_U_PX / per_mm
        edge = even_line(placed(lines_px[0], middle), heel, tip)
        spine = self._spine(lines_px[1], lying, camera, size, thick, middle)
        share = np.linspace(0, 1, len(edge))
        for k, a in enumerate(waves, 2):
            edge[1:-1, 1] += (soft * a * np.polynomial.legendre.Legendre.basis(k)(2 * share - 1))[
                1:-1
            ]
        edge[:, 1] -= soft * softness
        spine[:, 1] += soft * softness
        laid = laid_out(edge, spine)
        joint = butt = None
        if points.joint is not None:
            joint = laid.turned(placed([points.joint], middle))[0]
            joint = joint + np.array([pick["joint"] * picks[4], 0.0])
        if points.butt is not None:
            up = (lying.handle_up_mm + middle) / size
            butt = laid.turned(placed([points.butt], up))[0]
            butt = butt + np.array([pick["butt"] * picks[5], 0.0])
        return laid, joint, butt

    def _spine(
        self, line_px: Array, lying: Lying, camera: Camera, size: float, thick: float, middle: float
    ) -> Array:
        """The spine's own line, of its near and far corner the one the photo shows."""
        line = own_line(camera, self.frame, line_px, lying, size, thick, middle)
        return np.asarray(line[np.argsort(line[:, 0])])


def own_line(
    camera: Camera,
    frame: Frame,
    line_px: Array,
    lying: Lying,
    size: float = 1.0,
    thick: float = 1.0,
    middle: float | None = None,
) -> Array:
    """Where the spine is whose outline shows at these pixels, in the frame, mm.

    The outline is the outer one of the spine's two corners, the near and the far; so of the places
    it may have on their two planes it is the one less far out.

    Parameters
    ----------
    camera : the camera as it stood.
    frame : the frame of the blade.
    line_px : the line, px.
    lying : how the knife lies over the card.
    size : scale of the card.
    thick : half-thickness along it, mm.
    middle : where the middle plane lies, mm.
    """
    at = lying.middle_mm if middle is None else middle
    x = frame.of(camera.to_mm(line_px))[:, 0]
    end = float(x.max())
    half = (
        thick
        * np.interp(
            x,
            [float(x.min()), end - 10, end],
            [lying.spine_heel_mm, lying.spine_tip_mm, AT_TIP * lying.spine_tip_mm],
        )
        / 2
    )
    near, far = (
        frame.of(size * camera.to_mm(line_px, at + sign * half / size)) for sign in (1, -1)
    )
    return np.where((near[:, 1] <= far[:, 1])[:, None], near, far)


def _between(ring: Array, start: int, end: int) -> Array:
    if start <= end:
        return ring[start : end + 1]
    return np.vstack([ring[start:], ring[: end + 1]])


def _bend(line: Array, given: Bends) -> Array:
    """The line drawn through the points given, each taking its neighbourhood along.

    A point moves the part of the line nearest to it, and less and less of what lies beside it, as
    far as the next place a point may be given for.
    """
    reach = len(line) / (BENDS + 1)
    at = np.arange(len(line))
    moved = np.array(line, dtype=float)
    for point in given:
        if point is not None:
            apart = np.asarray(point) - line
            nearest = int(np.linalg.norm(apart, axis=1).argmin())
            share = np.maximum(1 - np.abs(at - nearest) / reach, 0.0)
            moved += share[:, None] * apart[nearest]
    return moved

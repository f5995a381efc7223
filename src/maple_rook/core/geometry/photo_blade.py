"""What the two lines of a blade, edge and spine, say of it; and how sure a photo can be of it.

Lines run from heel to tip in mm, y up; they are laid on the board as a traced edge is.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from maple_rook.core.geometry.profile import EdgeCurve, from_points, on_board
from maple_rook.core.measurement.uncertainty import COVERAGE_FACTOR, Array

STEP_MM = 0.5
SMOOTHED_MM = 10.0
_CUT_CORNER_MM = 0.6
FRONT_SHARE, MIDDLE_SHARE = 0.8, 0.5
Measured = dict[str, float]


@dataclass(frozen=True)
class BladeLines:
    """Edge and spine on the board: x from the heel, y above the board at rest, mm."""

    edge: EdgeCurve
    spine: Array
    turned: Callable[[Array], Array]

    def height_mm(self, x_mm: float) -> float:
        """Edge to spine, square to the board, at a place along the edge."""
        above = float(np.interp(x_mm, self.spine[:, 0], self.spine[:, 1]))
        return above - float(self.edge.rise_mm(x_mm))


def even_line(points: Array, start: Array, end: Array) -> Array:
    """A traced line from start to end at even steps of x, waves under 10 mm smoothed away.

    The ends stand as they are; what the outline does within 0.6 mm of them is left out.
    """
    inside = points[
        (points[:, 0] > start[0] + _CUT_CORNER_MM) & (points[:, 0] < end[0] - _CUT_CORNER_MM)
    ]
    line = np.vstack([start, inside[np.argsort(inside[:, 0])], end])
    count = max(int((end[0] - start[0]) / STEP_MM), 8)
    x = np.linspace(start[0], end[0], count + 1)
    y = np.interp(x, line[:, 0], line[:, 1])
    window = min(int(SMOOTHED_MM / STEP_MM) | 1, (count // 2) * 2 - 1)
    from scipy.signal import savgol_filter  # noqa: PLC0415 - half a second at every start

    smooth = savgol_filter(y, window, 3) if window > 4 else y
    smooth[0], smooth[-1] = start[1], end[1]
    return np.column_stack([x, smooth])


def laid_out(edge: Array, spine: Array) -> BladeLines:
    """Lay the edge on the board, and the spine with it."""
    curve = from_points([(float(x), float(y)) for x, y in edge])
    was = edge[-1] - edge[0]
    now = np.array([curve.x_mm[-1] - curve.x_mm[0], curve.y_mm[-1] - curve.y_mm[0]])
    turn = np.arctan2(now[1], now[0]) - np.arctan2(was[1], was[0])
    c, s = np.cos(turn), np.sin(turn)
    rotation = np.array([[c, s], [-s, c]])
    start = np.array([curve.x_mm[0], curve.y_mm[0]])

    def turned(points: Array) -> Array:
        return np.asarray((points - edge[0]) @ rotation + start)

    placed = turned(spine)
    return BladeLines(curve, placed[np.argsort(placed[:, 0])], turned)


def side_figures(lines: BladeLines, joint: Array | None, butt: Array | None) -> Measured:
    """Quantities of the sheet from both lines, mm; ``joint`` and ``butt`` on the board too.

    Edge length is straight from tip to heel, as a rule laid along it would read; blade length goes
    on from there to the joint. The gap under the edge is 0 where the edge has no hollow.
    """
    profile = on_board(lines.edge, STEP_MM)
    length = lines.edge.length_mm
    tip = np.array([length, float(lines.edge.y_mm[-1])])
    heel = np.array([0.0, float(lines.edge.y_mm[0])])
    found = {
        "edge_length": float(np.linalg.norm(tip - heel)),
        "height_heel": lines.height_mm(0.0),
        "height_mid": lines.height_mm(MIDDLE_SHARE * length),
        "height_front": lines.height_mm(FRONT_SHARE * length),
        "flat_length": profile.flat_length_mm,
        "tip_height": profile.tip_height_mm,
        "edge_gap": profile.hollow.gap_mm if profile.hollow else 0.0,
    }
    if joint is not None:
        found["blade_length"] = found["edge_length"] - float(joint[0])
    if butt is not None:
        found["overall_length"] = float(abs(tip[0] - butt[0]))
        if joint is not None:
            found["handle_length"] = float(abs(joint[0] - butt[0]))
    return found


@dataclass(frozen=True)
class PhotoFigure:
    """A quantity from a photo with its standard uncertainty and where that comes from."""

    value: float
    standard_uncertainty: float
    shares: Mapping[str, float]

    @property
    def expanded(self) -> float:
        return COVERAGE_FACTOR * self.standard_uncertainty


def budget(
    measure: Callable[[Array], Measured], sources: Sequence[str], own: Mapping[str, float]
) -> dict[str, PhotoFigure]:
    r"""Figures with their uncertainty by the law of propagation (JCGM 100:2008, 5.1.2).

    ``measure`` takes a step in standard uncertainties along each of ``sources``, all independent;
    the effect of one is half the difference between a step forward and back,
    u_i = |f(+1) - f(-1)|/2, and u = sqrt(sum u_i^2 + own^2). ``own`` is what a quantity carries by
    its own definition, such as where a flat edge begins to curve. ``shares`` are those of the
    variance.
    """
    centre = np.zeros(len(sources))
    at = measure(centre)
    variance: dict[str, dict[str, float]] = {key: {} for key in at}
    for i, source in enumerate(sources):
        ends = []
        for sign in (1.0, -1.0):
            step = centre.copy()
            step[i] = sign
            ends.append(measure(step))
        for key, of in variance.items():
            effect = (ends[0].get(key, at[key]) - ends[1].get(key, at[key])) / 2
            of[source] = of.get(source, 0.0) + effect**2
    found = {}
    for key, of in variance.items():
        of["definition"] = own.get(key, 0.0) ** 2
        total = sum(of.values())
        shares = {s: v / total for s, v in of.items() if total > 0 and v / total >= 0.005}
        found[key] = PhotoFigure(at[key], float(np.sqrt(total)), shares)
    return found

"""The knives that the simulated camera sees: made from a blade of the core, true to its figures."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from maple_rook.core.geometry.outline import Outline, Point
from maple_rook.core.geometry.section import polygon
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import Built
from maple_rook.photo.stand_in import HeelEnd, Knife

_POINTS, _DEPTHS = 400, 12
BLACKED_SHARE = 0.58
"""How far up the heel is blackened, over its height: to where the handle begins."""


def lying(blade: Blade, drawn: Outline, bolster: bool) -> Knife:
    """The knife on its side. Its edge is as long as it is measured: straight from tip to heel."""
    lines = blade.lines()
    share = np.linspace(0.0, 1.0, _POINTS)
    low, high = lines.edge(share), lines.spine(share)
    along = np.sqrt(max(lines.edge_mm**2 - float(low[-1] - low[0]) ** 2, 1.0))
    tall, back = float(high[0] - low[0]), -4.0 if bolster else -2.5
    rear = [(-0.6, 0.06 * tall), (back, 0.62 * tall), (back, tall)]
    heel, tip = (blade.figures.get(key) for key in ("spine_heel", "spine_tip"))
    at_heel = heel.mean if heel else 2.2
    return Knife(
        _points(share * along, low),
        _points(share * along, high),
        rear,
        drawn.handle,
        at_heel,
        tip.mean if tip else 0.5 * at_heel,
    )


def _points(x: np.ndarray, y: np.ndarray) -> Sequence[Point]:
    return [(float(a), float(b)) for a, b in zip(x, y, strict=True)]


def from_the_heel(made: Built) -> HeelEnd:
    """The knife from its heel, blackened, with the rest of the blade behind."""
    length = float(made.x["edge_length"].item())
    depths = np.linspace(0.0, 0.95, _DEPTHS)
    sections = [
        (share * length, polygon(made.heel if share == 0 else made.section_at(share)))
        for share in depths.tolist()
    ]
    return HeelEnd(sections, BLACKED_SHARE * float(made.heel.height_mm))

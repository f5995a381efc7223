"""Food release: a practice index of how readily cut food lets go of the blade.

Every rule here is common practice, without a published source: convex and hollow faces, dimples,
rough or layered finish and steep upper faces let go; tall mirror faces stick most.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.measurement.uncertainty import Array

RELEASE_WEIGHTS: dict[str, float] = {
    "shape of the faces": 30.0,
    "steepness of the upper face": 15.0,
    "finish and dimples": 35.0,
    "height": 20.0,
}
"""What each part may add to the index; together 100."""
RELEASE_SCATTER = 8.0
"""Standard deviation between cooks and foods, points."""
_FINISH = {
    "polished": 0.0,
    "satin": 0.15,
    "brushed": 0.2,
    "layered": 0.4,
    "forge_black": 0.4,
    "pear_skin": 0.5,
    "hammered": 0.6,
}
_DIMPLES = {"right": 0.25, "left": 0.25, "both": 0.5}


@dataclass(frozen=True)
class ReleasePart:
    """One part of the index: points won of the points it may add."""

    label: str
    points: float
    of: float


def surface_part(seen: Iterable[str]) -> float:
    """How much finish and dimples help, 0 to 1, from choices like "hammered", "dimples.both".

    >>> surface_part(["polished"]), surface_part(["hammered", "dimples.both"])
    (0.0, 1.0)
    """
    words = list(seen)
    finish = max((_FINISH.get(word, 0.2) for word in words if "." not in word), default=0.2)
    dimples = max((_DIMPLES.get(w.partition(".")[2], 0.0) for w in words if "." in w), default=0.0)
    return min(finish + dimples, 1.0)


def release_points(
    bulge: ArrayLike, top_angle_deg: ArrayLike, surface: ArrayLike, height_mm: ArrayLike
) -> tuple[Array, Array, Array, Array]:
    """Points by part, in the order of :data:`RELEASE_WEIGHTS`; arguments broadcast.

    ``bulge`` is the sagitta of the faces over their mean half-thickness (full points from 0.5,
    a hollow counts half), ``top_angle_deg`` the inclusive angle of the faces (full from 6),
    ``surface`` 0 to 1, height full at 25 mm and none at 85 mm.

    >>> [round(float(p)) for p in release_points(0.0, 2.4, 0.0, 45.0)]
    [0, 6, 0, 13]
    """
    shape, steep, finish, low = RELEASE_WEIGHTS.values()
    curve = np.asarray(bulge, dtype=float)
    helps = np.clip(np.where(curve < 0, -0.5 * curve, curve) / 0.5, 0, 1)
    return (
        np.asarray(shape * helps),
        np.asarray(steep * np.clip(np.asarray(top_angle_deg, dtype=float) / 6, 0, 1)),
        np.asarray(finish * np.clip(np.asarray(surface, dtype=float), 0, 1)),
        np.asarray(low * np.clip((85 - np.asarray(height_mm, dtype=float)) / 60, 0, 1)),
    )

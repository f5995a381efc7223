"""One blade built at its central figures, for drawings, cuts and checks."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from maple_rook.core.cutting.food_release import RELEASE_WEIGHTS, ReleasePart, release_points
from maple_rook.core.cutting.foods import CUT_SHARES
from maple_rook.core.geometry.outline import heights_mm
from maple_rook.core.geometry.section import Section
from maple_rook.core.geometry.solid import Solid, thickness_along_mm
from maple_rook.core.measurement.hardness_session import Spot
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evaluate import Group, groups, solid_of
from maple_rook.core.prediction.inputs import INDEX, height_shares, input_arrays, unavailable


@dataclass(frozen=True)
class Built:
    """A blade's section at the heel, its solid and its sections along the edge."""

    blade: Blade
    group: Group
    x: dict[str, Array]

    @cached_property
    def heel(self) -> Section:
        return self.group.section(self.x, self.x["spine_heel"], self.x["height_heel"])

    @cached_property
    def solid(self) -> Solid:
        return solid_of(self.group, self.x, [self.blade], height_shares([self.blade]))

    @property
    def mass_g(self) -> float:
        return float(self.solid.mass_and_balance()[0].item())

    def spine_mm(self, shares: Sequence[float] | Array) -> Array:
        """Spine thickness at shares of the edge length, mm."""
        keys = ("edge_length", "spine_heel", "spine_mid", "spine_tip")
        return thickness_along_mm(np.asarray(shares), *(self.x[key].item() for key in keys))

    @cached_property
    def cuts(self) -> Section:
        """The sections where a cut is taken, on the last axis."""
        shares = np.array(CUT_SHARES)
        height = height_shares([self.blade], shares)[0]
        tall = self.x["height_heel"] * height
        lowest = 1.05 * self.x["thickness_behind_edge"]
        least = 1.2 * lowest / np.tan(np.radians(self.x["edge_angle"])) + 1
        spine = np.maximum(self.spine_mm(shares), lowest)
        return self.group.section(self.x, spine, np.maximum(tall, least))

    def section_at(self, share: float) -> Section:
        """The section at a share of the edge length from the heel."""
        lines = self.blade.lines()
        height = float(heights_mm(lines, np.array([share]))[0])
        behind = self.x["thickness_behind_edge"].item()
        spine = max(float(self.spine_mm([share])[0]), 1.05 * behind)
        return self.group.section(self.x, np.asarray(spine), np.asarray(max(height, 4.0)))

    def thickness_at_mm(self, above_edge_mm: float, along_mm: float | None) -> float | None:
        """Thickness at a spot on the flat, mm; None above the spine.

        Without a place along the edge, a fifth of it from the heel.
        """
        length = self.x["edge_length"].item()
        share = 0.2 if along_mm is None else min(max(along_mm / length, 0.0), 1.0)
        there = self.section_at(share)
        if above_edge_mm > float(there.height_mm):
            return None
        return float(there.thickness_mm(above_edge_mm))

    def release(self) -> list[ReleasePart]:
        """The parts of the release index."""
        points = release_points(
            self.x["bulge"], self.heel.primary_angle_deg, self.x["surface"], self.x["height_heel"]
        )
        return [
            ReleasePart(label, round(float(won), 1), of)
            for (label, of), won in zip(RELEASE_WEIGHTS.items(), points, strict=True)
        ]


def spots(blade: Blade) -> Spot:
    """Thickness at spots of a blade by its sections, built when the first spot is asked for."""
    made: list[Built | None] = []

    def thickness(above_edge_mm: float, along_mm: float | None) -> float | None:
        if not made:
            made.append(built(blade))
        return None if made[0] is None else made[0].thickness_at_mm(above_edge_mm, along_mm)

    return thickness


def built(blade: Blade) -> Built | None:
    """The blade at its central figures, or None where nothing of it can be predicted."""
    if unavailable(blade, "cutting_force"):
        return None
    means, _ = input_arrays([blade])
    return Built(
        blade, next(groups([blade])), {k: np.asarray(means[0, i]) for k, i in INDEX.items()}
    )

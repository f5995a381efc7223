"""Force to pass a blade through food: parting, opening, wedging, friction, sticking.

References
----------
.. [1] Atkins, A. G., Xu, X. and Jeronimidis, G. (2004), Cutting, by 'pressing and slicing', of
   thin floppy slices of materials illustrated by experiments on cheddar cheese and salami,
   J. Materials Science 39, 2761.
.. [2] McCarthy, C. T., Hussey, M. and Gilchrist, M. D. (2007), On the sharpness of straight edge
   blades in cutting soft solids, Engineering Fracture Mechanics 74, and part II of 2010 (from
   memory, direction only: the edge radius counts most, the wedge angle next).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import NamedTuple

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.cutting.foods import THROUGH, Food, Stroke
from maple_rook.core.cutting.pressing import EdgeZone, Pressing, crushed_n_mm
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.geometry.face import NODES
from maple_rook.core.geometry.section import Section, flat_section
from maple_rook.core.measurement.uncertainty import Array, Figure

ONE_HAND_LIMIT_N, BOTH_HANDS_LIMIT_N = 125.0, 155.0
"""Force people can press with one hand on a flat blade, and with both (common practice)."""
BITE_MM = 3.0
"""How deep the bite is: what every stroke begins with, pressed straight."""
APEX_UM = 5.0
"""Length over which an apex is as wide as its radius and its angle make it (assumption)."""
EDGE_RADII_UM: dict[EdgeState, Figure] = {
    EdgeState.FRESH: Figure(0.75, 0.15),
    EdgeState.USED: Figure(3.0, 1.0),
    EdgeState.DULL: Figure(7.5, 1.5),
}
"""Edge radius by state: fresh 0.5 to 1 um, kitchen-dull 5 to 10 um (from memory); used between."""
IN_HAND_MM = (90.0, 25.0)
"""Length of edge and height of blade that are not in the way of work in the hand (assumption)."""
HALF_WORN_UM = EDGE_RADII_UM[EdgeState.USED].mean
"""Edge radius half way to the stone."""


def bite_depth_mm(food: Food) -> float:
    """Depth of the bite in a food: 3 mm, or through a thinner one."""
    return min(BITE_MM, food.height_mm)


def reference_section() -> Section:
    """The reference blade at its heel: flat, 2.2 mm spine, 45 mm high, 0.30 mm, 15 per side."""
    return flat_section(2.2, 45.0, 0.30, 15.0)


def slicing_factors(slice_push_ratio: ArrayLike) -> tuple[Array, Array]:
    r"""Downward and along-edge share of the fracture force R w for ratio xi [1]_.

    Down 1/(1 + xi^2), along xi/(1 + xi^2). Range xi >= 0.

    >>> [float(f) for f in slicing_factors(2.0)]
    [0.2, 0.4]
    """
    xi = np.asarray(slice_push_ratio, dtype=float)
    return np.asarray(1 / (1 + xi**2)), np.asarray(xi / (1 + xi**2))


def apex_factor(edge_radius_um: ArrayLike, apex_tangent: ArrayLike, food: Food) -> Array:
    r"""Growth of the parting force with edge radius and angle, 1 + (r + l tan th_a) / r_f [2]_.

    l is :data:`APEX_UM`, th_a half the inclusive angle at the apex; the form is an assumption.
    """
    width = np.asarray(edge_radius_um, dtype=float) + APEX_UM * np.asarray(apex_tangent)
    return np.asarray(1 + width / food.blunting_um)


class Parts(NamedTuple):
    """The parts of a downward force, N."""

    parting: Array
    opening: Array
    wedging: Array
    friction: Array
    sticking: Array

    @property
    def total(self) -> Array:
        return np.asarray(
            self.parting + self.opening + self.wedging + self.friction + self.sticking
        )


def parts_n(
    section: Section,
    food: Food,
    edge_radius_um: ArrayLike,
    slice_push_ratio: ArrayLike = 0.0,
    depth_mm: ArrayLike | None = None,
    *,
    side_stiffness: float = THROUGH,
) -> Parts:
    r"""The downward force at a depth (default: through the food, where it peaks) by its parts, N.

    F = R w [1 + (r + l tan th_a)/r_f] / (1 + xi^2)
      + w sum over faces of integral (p_e + p_b) [sin a + mu' cos a] dz
      + 2 w tau min(d, h) / sqrt(1 + xi^2), with mu' = mu / sqrt(1 + xi^2).

    Parameters
    ----------
    section : the blade's section.
    food : what is cut.
    edge_radius_um : radius of the edge, micrometres.
    slice_push_ratio : horizontal over downward speed xi.
    depth_mm : depth reached, mm.
    side_stiffness : s, of the slice over the block; 1 through the middle.

    >>> from maple_rook.core.cutting.foods import FOODS
    >>> round(float(parts_n(reference_section(), FOODS["carrot"], 0.75).total), 1)
    30.3
    """
    depth = np.asarray(food.height_mm if depth_mm is None else depth_mm, dtype=float)
    xi = np.asarray(slice_push_ratio, dtype=float)
    pressing = Pressing(section)
    apex = apex_factor(edge_radius_um, section.apex_tangent, food)
    at = _At.of(pressing, food, depth)
    return at.parts(food, np.sqrt(1 + xi * xi), apex, side_stiffness)


class _At(NamedTuple):
    """A food at one depth of a blade: what all strokes share."""

    zone: EdgeZone
    bulk: tuple[Array, Array]
    wet_mm: Array

    @classmethod
    def of(
        cls, pressing: Pressing, food: Food, depth: Array, bulk: tuple[Array, Array] | None = None
    ) -> _At:
        right, left = pressing.lobes(depth, food.crush_mm)
        return cls(
            EdgeZone([*right, *left], food.modulus_mpa, food.crush_mpa),
            pressing.bulk_mm2(depth) if bulk is None else bulk,
            np.minimum(depth, pressing.section.height_mm),
        )

    def parts(self, food: Food, spread: Array, apex: Array, side_stiffness: float) -> Parts:
        """The parts of the force; ``spread`` is sqrt(1 + xi^2), ``apex`` the apex factor."""
        edge = self.zone.crushed(spread)
        body = food.stiffness_n_mm3 * side_stiffness / (1 + side_stiffness)
        width, drag = food.width_mm, food.friction / spread
        return Parts(
            parting_n(food, spread, apex),
            width * edge.sine,
            (width * body) * self.bulk[0],
            width * drag * (edge.cosine + body * self.bulk[1]),
            (2e-3 * width * food.adhesion_kpa) * self.wet_mm / spread,
        )

    def rest_n(self, food: Food, spread: Array, side_stiffness: ArrayLike) -> Array:
        """The force without its parting: the same however sharp the edge is."""
        edge = self.zone.crushed(spread)
        s = np.asarray(side_stiffness, dtype=float)
        body = food.stiffness_n_mm3 * s / (1 + s)
        drag = food.friction / spread
        sticking = (2e-3 * food.adhesion_kpa) * self.wet_mm / spread
        spread_by = body * (self.bulk[0] + drag * self.bulk[1])
        return np.asarray(food.width_mm * (edge.sine + drag * edge.cosine + spread_by + sticking))


def parting_n(food: Food, spread: Array, apex: Array) -> Array:
    """R w apex factor / (1 + xi^2), N; ``spread`` is sqrt(1 + xi^2)."""
    return np.asarray((food.toughness_j_m2 * food.width_mm / 1000) * apex / spread**2)


class Forces(NamedTuple):
    """Downward forces along the edge, by food and stroke, N; ``passes`` a tall food takes.

    A tall food is cut where the blade is tallest: H / h passes there, 1 where it is tall enough. Of
    small work in the hand it is what a long and tall blade adds: sqrt(L / 90 mm x h / 25 mm), each
    1 up to there.
    """

    through: Array
    bite: Array
    passes: Array

    @property
    def effort(self) -> Array:
        """sqrt(bite x force through) times the passes, N."""
        return np.asarray(np.sqrt(self.bite * self.through) * self.passes)


def forces_n(
    section: Section,
    foods: Sequence[Food],
    strokes: Sequence[Stroke],
    edge_radii_um: Sequence[ArrayLike],
    edge_mm: ArrayLike,
) -> list[Forces]:
    """Forces of every food and stroke over the stations of the edge, N, for each edge radius.

    The sections' last axis are the stations; food and stroke are leading axes of what is found,
    (foods, strokes, ...). The integrals are taken once for each food and shared by the strokes and
    by the states of the edge, which only part the food otherwise.

    Parameters
    ----------
    section : of the stations, on the last axis.
    foods, strokes : what is cut, and how.
    edge_radii_um : radius of the edge in each state asked for, micrometres.
    edge_mm : length of the edge, mm, which sets a long draw.
    """
    radii = [np.asarray(r, dtype=float)[..., None] for r in edge_radii_um]
    edge = np.asarray(edge_mm, dtype=float)[..., None]
    pressing = Pressing(section)
    depths = {depth for food in foods for depth in (food.height_mm, bite_depth_mm(food))}
    bulks = {depth: pressing.bulk_mm2(np.asarray(depth)) for depth in depths}
    tangent, height = section.apex_tangent, section.height_mm
    shapes = (r.shape for r in radii)
    shape = np.broadcast_shapes(edge.shape, tangent.shape, height.shape, *shapes)[:-1]
    found = [np.empty((3, len(foods), len(strokes), *shape)) for _ in radii]
    tallest, straight = height.max(axis=-1), np.ones(())
    length_in_hand, height_in_hand = IN_HAND_MM
    reach = np.sqrt(
        np.maximum(1.0, edge[..., 0] / length_in_hand) * np.maximum(1.0, tallest / height_in_hand)
    )
    for i, food in enumerate(foods):
        deep = _At.of(pressing, food, np.asarray(food.height_mm), bulks[food.height_mm])
        start = bite_depth_mm(food)
        first = _At.of(pressing, food, np.asarray(start), bulks[start])
        apexes = [apex_factor(r, tangent, food) for r in radii]
        opened = first.rest_n(food, straight, THROUGH)
        bites = [opened + parting_n(food, straight, apex) for apex in apexes]
        passes = np.maximum(1.0, food.height_mm / tallest)
        for j, stroke in enumerate(strokes):
            xi, weights = stroke.slice_push_ratio(food, edge), np.array(stroke.weights)
            spread = np.sqrt(1 + xi * xi)
            if stroke.in_hand:  # no deeper than the bite
                rest, harder = opened, reach
            else:
                rest = deep.rest_n(food, spread, stroke.side_stiffness(food))
                harder = passes if stroke.in_passes else straight
            for into, apex, bite in zip(found, apexes, bites, strict=True):
                through = rest + parting_n(food, spread, apex)
                into[0, i, j] = (through * weights).sum(axis=-1)
                into[1, i, j] = (bite * weights).sum(axis=-1)
                into[2, i, j] = harder
    return [Forces(*of) for of in found]


def curves_n(
    section: Section,
    foods: Sequence[Food],
    strokes: Sequence[Stroke],
    edge_radius_um: float,
    edge_mm: float,
    depths_mm: Array,
) -> Array:
    """Downward force along the edge against depth, N; it ends at the peak.

    Shape (foods, strokes, depths).

    Parameters
    ----------
    section : of the stations, on the last axis.
    foods, strokes : what is cut, and how.
    edge_radius_um : radius of the edge, micrometres.
    edge_mm : length of the edge, mm.
    depths_mm : depths reached in each food, (foods, depths), mm.
    """
    pressing = Pressing(section)
    sines, cosines = pressing.bulk_mm2(depths_mm[:, :, None])
    weights = np.array([stroke.weights for stroke in strokes])[:, None]
    found = np.empty((len(foods), len(strokes), depths_mm.shape[1]))
    for i, food in enumerate(foods):
        at = _At.of(pressing, food, depths_mm[i][:, None], (sines[i], cosines[i]))
        apex = apex_factor(edge_radius_um, section.apex_tangent, food)
        xi = np.array([stroke.slice_push_ratio(food, edge_mm) for stroke in strokes])
        sides = np.array([stroke.side_stiffness(food) for stroke in strokes])
        spread = np.sqrt(1 + xi * xi)[:, None, None]
        total = at.rest_n(food, spread, sides[:, None, None]) + parting_n(food, spread, apex)
        found[i] = (total * weights).sum(axis=-1)
    return found


def passes_words(food: Food, height_mm: float) -> str:
    """What a pressed food taller than the blade takes, in words; empty where it is not taller.

    >>> from maple_rook.core.cutting.foods import FOODS
    >>> passes_words(FOODS["tomato"], 45.0)
    'tomato is 50 mm tall, the blade 45: halve it, or cut it in 2 passes'
    """
    if food.height_mm <= height_mm:
        return ""
    passes = int(np.ceil(food.height_mm / height_mm))
    return (
        f"{food.label} is {food.height_mm:g} mm tall, the blade {height_mm:.0f}: halve it, or cut "
        f"it in {passes} passes"
    )


def side_force_n(section: Section, food: Food) -> Array:
    r"""Sideways force on a blade held straight in a food, + toward the left as held, N.

    S = w sum (right - left) of integral p_e (cos a - mu sin a) dz, xi = 0: only the zone beside
    the edge pushes sideways, the bulk balances.
    """
    pushed = []
    for lobes in Pressing(section).lobes(np.asarray(food.height_mm), food.crush_mm):
        sine, cosine = crushed_n_mm(lobes, food.modulus_mpa, food.crush_mpa, np.ones(()))
        pushed.append(cosine - food.friction * sine)
    return np.asarray(food.width_mm * (pushed[0] - pushed[1]))


def work_j(section: Section, food: Food, edge_radius_um: ArrayLike) -> Array:
    """Work of a straight push through the middle of a food, J, by quadrature over the depth."""
    pressing, straight = Pressing(section), np.ones(())
    total = parting_n(food, straight, apex_factor(edge_radius_um, section.apex_tangent, food))
    for share, weight in NODES:
        at = _At.of(pressing, food, np.asarray(share * food.height_mm))
        total = total + weight * at.rest_n(food, straight, THROUGH)
    return np.asarray(total * food.height_mm / 1000)


@dataclass(frozen=True)
class Cut:
    """One cut through a food: the parts of the downward force against depth, N and mm.

    ``along_n`` is the force along the edge, ``side_n`` the sideways force, + to the left.
    """

    depth_mm: Array
    parts: Parts
    side_n: Array
    along_n: Array

    @property
    def total_n(self) -> Array:
        return self.parts.total

    @property
    def peak_n(self) -> Array:
        """Largest downward force on the way, N."""
        return np.asarray(self.total_n.max(axis=-1))

    @property
    def bite_n(self) -> Array:
        """Downward force at the depth of the bite, N."""
        return np.asarray(np.interp(BITE_MM, self.depth_mm, self.total_n))

    @property
    def work_j(self) -> Array:
        """Work of the downward force through the food, J."""
        return np.asarray(np.trapezoid(self.total_n, self.depth_mm, axis=-1) / 1000)


def cut(
    section: Section,
    food: Food,
    edge_radius_um: ArrayLike,
    slice_push_ratio: float,
    *,
    side_stiffness: float = THROUGH,
    weights: Sequence[float] | None = None,
    points: int = 41,
) -> Cut:
    """Follow a cut from the first touch to the board.

    Parameters
    ----------
    section : the blade's section, or those of its stations on the last axis.
    food : what is cut.
    edge_radius_um : radius of the edge, micrometres.
    slice_push_ratio : horizontal over downward speed.
    side_stiffness : s, of the slice over the block; 1 through the middle.
    weights : of the stations, where there are some.
    points : places along the depth.

    >>> from maple_rook.core.cutting.foods import FOODS
    >>> through = cut(reference_section(), FOODS["onion"], 0.75, 0.0)
    >>> round(float(through.peak_n), 1), round(float(through.bite_n), 1)
    (25.5, 21.2)
    """
    depth = np.union1d(np.linspace(0, food.height_mm, points), [bite_depth_mm(food)])
    at = depth if weights is None else depth[:, None]
    parts = parts_n(
        section, food, edge_radius_um, slice_push_ratio, at, side_stiffness=side_stiffness
    )
    side = side_force_n(section, food)
    if weights is not None:
        whole = [np.broadcast_to(part, (depth.size, len(weights))) for part in parts]
        parts = Parts(*(part @ np.array(weights) for part in whole))
        side = side @ np.array(weights)
    parts = Parts(*(np.broadcast_to(part, depth.shape) for part in parts))
    _, along = slicing_factors(slice_push_ratio)
    pressed = parts.parting * (1 + slice_push_ratio**2)
    return Cut(depth, parts, np.full(depth.shape, side), pressed * along)


def ease_index(
    efforts_n: ArrayLike, reference_n: ArrayLike, weights: ArrayLike | None = None
) -> Array:
    """Ease: 100 x geometric mean over the first axis of reference effort / effort.

    ``weights`` are the shares of the foods in a food mix; alike where none are given.

    >>> float(ease_index([10.0, 20.0], [10.0, 20.0]))
    100.0
    """
    ratio = np.log(np.asarray(reference_n, dtype=float) / np.asarray(efforts_n, dtype=float))
    if weights is None:
        return np.asarray(100 * np.exp(ratio.mean(axis=0)))
    return np.asarray(100 * np.exp(np.tensordot(np.asarray(weights, dtype=float), ratio, axes=1)))

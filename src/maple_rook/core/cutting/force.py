"""Force to pass a blade through food: fracture with slicing, and wedging.

References
----------
.. [1] Atkins, A. G., Xu, X. and Jeronimidis, G. (2004), Cutting, by 'pressing and slicing', of
   thin floppy slices of materials illustrated by experiments on cheddar cheese and salami,
   J. Materials Science 39, 2761.
.. [2] McCarthy, C. T., Hussey, M. and Gilchrist, M. D. (2007), On the sharpness of straight edge
   blades in cutting soft solids, Engineering Fracture Mechanics 74 (background to the blunting
   factor, which is an assumption).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.edge_life.retention import EdgeState, FoodMix
from maple_rook.core.geometry.section import Section, flat_section
from maple_rook.core.measurement.uncertainty import Array, Figure

ONE_HAND_LIMIT_N = 125.0
"""Force people can press with one hand on a flat blade (common practice)."""


@dataclass(frozen=True)
class Food:
    """A food on the board; all values order of magnitude, from memory.

    Fracture toughness R in J/m2, blunting length r_f in um, side stiffness k in N/mm3, friction
    mu, height and width in mm.
    """

    key: str
    label: str
    toughness_j_m2: float
    blunting_um: float
    stiffness_n_mm3: float
    friction: float
    height_mm: float
    width_mm: float


FOODS: dict[str, Food] = {
    food.key: food
    for food in (
        Food("tomato", "tomato", 500, 3, 0.002, 0.15, 60, 50),
        Food("onion", "onion", 250, 8, 0.006, 0.20, 60, 60),
        Food("carrot", "carrot", 400, 15, 0.05, 0.25, 30, 28),
        Food("squash", "squash or swede", 600, 15, 0.06, 0.30, 90, 90),
        Food("fish", "boneless fish", 300, 5, 0.0015, 0.20, 40, 60),
        Food("cheese", "firm cheese", 20, 10, 0.008, 0.50, 40, 60),
    )
}


@dataclass(frozen=True)
class Stroke:
    """A cutting motion by its slice-to-push ratio xi, horizontal over downward speed."""

    key: str
    label: str
    slice_push_ratio: float


STROKES: dict[str, Stroke] = {
    s.key: s
    for s in (
        Stroke("push", "straight push", 0.0),
        Stroke("glide", "gliding push", 1.0),
        Stroke("draw", "long draw", 2.0),
    )
}

REFERENCE_EDGE_RADIUS_UM = 1.0


FOOD_MIX_SHARES: dict[FoodMix, dict[str, float]] = {
    FoodMix.ALL_ROUND: {},
    FoodMix.VEGETABLES: {"onion": 4, "carrot": 3, "tomato": 2, "squash": 1},
    FoodMix.ROOTS: {"carrot": 5, "squash": 5},
    FoodMix.SLICING: {"fish": 6, "tomato": 2, "cheese": 2},
}
"""Parts of each food in a food mix; every food alike where none is named (assumption)."""

EDGE_RADII_UM: dict[EdgeState, Figure] = {
    EdgeState.FRESH: Figure(0.75, 0.15),
    EdgeState.USED: Figure(3.0, 1.0),
    EdgeState.DULL: Figure(7.5, 1.5),
}
"""Edge radius by state: fresh 0.5 to 1 um, kitchen-dull 5 to 10 um (from memory); used between."""


def food_mix_weights(
    food_mix: FoodMix, foods: Sequence[Food], shares: Sequence[tuple[str, float]] = ()
) -> Array:
    """Weights of these foods in a food mix, adding up to 1; alike where the mix knows none of them.

    ``shares`` by key of the food, where there are any, take the place of the mix's own.

    >>> [round(float(w), 2) for w in food_mix_weights(FoodMix.ROOTS, list(FOODS.values()))]
    [0.0, 0.0, 0.5, 0.5, 0.0, 0.0]
    """
    parts = dict(shares) or FOOD_MIX_SHARES[food_mix]
    found = np.array([parts.get(food.key, 0.0) for food in foods])
    if found.sum() == 0:
        found = np.ones(len(foods))
    return np.asarray(found / found.sum())


def reference_section() -> Section:
    """The reference blade: flat, 2.2 mm spine, 45 mm high, 0.30 mm behind the edge, 15 per side."""
    return flat_section(2.2, 45.0, 0.30, 15.0)


def slicing_factors(slice_push_ratio: ArrayLike) -> tuple[Array, Array]:
    r"""Downward and along-edge share of the fracture force R w for ratio xi [1]_.

    Down 1/(1 + xi^2), along xi/(1 + xi^2). Range xi >= 0.

    >>> [float(f) for f in slicing_factors(2.0)]
    [0.2, 0.4]
    """
    xi = np.asarray(slice_push_ratio, dtype=float)
    return np.asarray(1 / (1 + xi**2)), np.asarray(xi / (1 + xi**2))


def blunting_factor(edge_radius_um: ArrayLike, blunting_um: ArrayLike) -> Array:
    r"""Growth of the fracture force with edge radius, 1 + r/r_f (assumption; background [2]_).

    >>> float(blunting_factor(1.0, 8.0))
    1.125
    """
    radius, length = np.asarray(edge_radius_um, dtype=float), np.asarray(blunting_um, dtype=float)
    return np.asarray(1 + radius / length)


def fracture_force_n(food: Food, edge_radius_um: ArrayLike, slice_push_ratio: ArrayLike) -> Array:
    """Downward force to part the food, R w (1 + r/r_f) / (1 + xi^2), N."""
    down, _ = slicing_factors(slice_push_ratio)
    width_m = food.width_mm / 1000
    blunting = blunting_factor(edge_radius_um, food.blunting_um)
    return np.asarray(food.toughness_j_m2 * width_m * down * blunting)


def wedge_force_n(
    section: Section, food: Food, depth_mm: ArrayLike, slice_push_ratio: ArrayLike
) -> Array:
    r"""Downward force from side pressure p = k x on both faces at a depth, N.

    F = w k sum over faces of integral x (sin a + mu / sqrt(1 + xi^2) cos a) dz (Winkler pressure).
    """
    xi = np.asarray(slice_push_ratio, dtype=float)
    friction = food.friction / np.sqrt(1 + xi**2)
    sines, cosines = section_integrals_mm2(section, depth_mm)
    return np.asarray(food.width_mm * food.stiffness_n_mm3 * (sines + friction * cosines))


def cutting_force_n(
    section: Section,
    food: Food,
    edge_radius_um: ArrayLike,
    slice_push_ratio: ArrayLike = 0.0,
    depth_mm: ArrayLike | None = None,
) -> Array:
    """Total downward force at a depth (default: through the food, where it peaks), N.

    Parameters
    ----------
    section : the blade's section.
    food : what is cut.
    edge_radius_um : radius of the edge, micrometres.
    slice_push_ratio : horizontal over downward speed.
    depth_mm : depth reached, mm.

    >>> round(float(cutting_force_n(reference_section(), FOODS["onion"], 1.0)), 1)
    21.3
    """
    depth = food.height_mm if depth_mm is None else depth_mm
    wedge = wedge_force_n(section, food, depth, slice_push_ratio)
    return fracture_force_n(food, edge_radius_um, slice_push_ratio) + wedge


def section_integrals_mm2(section: Section, depth_mm: ArrayLike) -> tuple[Array, Array]:
    """:meth:`Face.pressed_mm2` of both faces together, mm2."""
    sine_r, cosine_r = section.right.pressed_mm2(depth_mm)
    sine_l, cosine_l = section.left.pressed_mm2(depth_mm)
    return np.asarray(sine_r + sine_l), np.asarray(cosine_r + cosine_l)


def stroke_forces_n(
    integrals_mm2: tuple[Array, Array],
    food: Food,
    strokes: Sequence[Stroke],
    edge_radius_um: ArrayLike,
) -> list[Array]:
    """Downward force for each stroke from the section's integrals at a depth, N."""
    pressure = food.width_mm * food.stiffness_n_mm3
    sine, cosine = (pressure * integral for integral in integrals_mm2)
    pressed = fracture_force_n(food, edge_radius_um, 0.0)
    forces = []
    for stroke in strokes:
        down, _ = slicing_factors(stroke.slice_push_ratio)
        drag = food.friction * np.sqrt(down)
        forces.append(np.asarray(down * pressed + sine + drag * cosine))
    return forces


def peak_forces_n(
    section: Section, foods: Sequence[Food], strokes: Sequence[Stroke], edge_radius_um: ArrayLike
) -> Array:
    """Peak downward force for every food and stroke, N; food and stroke are leading axes.

    Shape (foods, strokes, ...). The face integrals are taken once per food height and shared by
    the strokes.
    """
    radius = np.asarray(edge_radius_um, dtype=float)
    integrals = {h: section_integrals_mm2(section, h) for h in {f.height_mm for f in foods}}
    shape = np.broadcast_shapes(*(i.shape for of in integrals.values() for i in of), radius.shape)
    out = np.empty((len(foods), len(strokes), *shape))
    for i, food in enumerate(foods):
        for j, force in enumerate(
            stroke_forces_n(integrals[food.height_mm], food, strokes, radius)
        ):
            out[i, j] = force
    return out


def side_force_n(
    section: Section, food: Food, depth_mm: ArrayLike, slice_push_ratio: ArrayLike
) -> Array:
    r"""Sideways force on the blade at a depth, + toward the left as held, N.

    The pressure p = k x on the right face pushes left, that on the left face right:
    w k [C_R - C_L - mu / sqrt(1 + xi^2) (S_R - S_L)], with S, C the integrals of x sin a and
    x cos a of each face.
    """
    xi = np.asarray(slice_push_ratio, dtype=float)
    sine_r, cosine_r = section.right.pressed_mm2(depth_mm)
    sine_l, cosine_l = section.left.pressed_mm2(depth_mm)
    friction = food.friction / np.sqrt(1 + xi**2)
    lateral = cosine_r - cosine_l - friction * (sine_r - sine_l)
    return np.asarray(food.width_mm * food.stiffness_n_mm3 * lateral)


@dataclass(frozen=True)
class Cut:
    """One cut through a food: the parts of the downward force against depth, N and mm.

    ``along_n`` is the force along the edge, ``side_n`` the sideways force, + to the left.
    """

    depth_mm: Array
    fracture_n: Array
    wedge_n: Array
    friction_n: Array
    side_n: Array
    along_n: Array

    @property
    def total_n(self) -> Array:
        return np.asarray(self.fracture_n + self.wedge_n + self.friction_n)

    @property
    def peak_n(self) -> Array:
        """Largest downward force on the way, N."""
        return np.asarray(self.total_n.max(axis=-1))

    @property
    def work_j(self) -> Array:
        """Work of the downward force through the food, J."""
        return np.asarray(np.trapezoid(self.total_n, self.depth_mm, axis=-1) / 1000)


def cut(
    section: Section,
    food: Food,
    edge_radius_um: ArrayLike,
    slice_push_ratio: float,
    points: int = 41,
) -> Cut:
    """Follow a cut from the first touch to the board; a leading axis of the section is kept.

    Parameters
    ----------
    section : the blade's section.
    food : what is cut.
    edge_radius_um : radius of the edge, micrometres.
    slice_push_ratio : horizontal over downward speed.
    points : places along the depth.

    >>> through = cut(reference_section(), FOODS["onion"], 1.0, 0.0)
    >>> round(float(through.peak_n), 1), round(float(through.work_j), 2)
    (21.3, 1.15)
    """
    depth = np.linspace(0, food.height_mm, points)
    sine, cosine = section_integrals_mm2(section, depth)
    pressure = food.width_mm * food.stiffness_n_mm3
    friction = food.friction / np.sqrt(1 + slice_push_ratio**2)
    down, along = slicing_factors(slice_push_ratio)
    pressed = fracture_force_n(food, edge_radius_um, 0.0)
    flat = np.ones_like(pressure * cosine)
    return Cut(
        depth,
        np.asarray(pressed * down * flat),
        np.asarray(pressure * sine),
        np.asarray(pressure * friction * cosine),
        side_force_n(section, food, depth, slice_push_ratio) * flat,
        np.asarray(pressed * along * flat),
    )


def ease_index(
    forces_n: ArrayLike, reference_n: ArrayLike, weights: ArrayLike | None = None
) -> Array:
    """Cutting ease: 100 x geometric mean over the first axis of reference force / force.

    ``weights`` are the shares of the foods in a food mix; alike where none are given.

    >>> float(ease_index([10.0, 20.0], [10.0, 20.0]))
    100.0
    """
    ratio = np.log(np.asarray(reference_n, dtype=float) / np.asarray(forces_n, dtype=float))
    if weights is None:
        return np.asarray(100 * np.exp(ratio.mean(axis=0)))
    return np.asarray(100 * np.exp(np.tensordot(np.asarray(weights, dtype=float), ratio, axes=1)))

r"""Readings with what every shop has: a laser pointer, a caliper, a kitchen scale.

Each method says what is to be done, what is read, and how well the figure is known then. Methods
and set-ups are common practice without a published source; the uncertainties of what is read are
assumptions, propagated by the GUM's law [1]_.

References
----------
.. [1] JCGM 100:2008, Guide to the expression of uncertainty in measurement, 5.1.2.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import N_PER_GRAM_FORCE

EDGE_SCATTER_DEG = 0.5
"""How far the angle of an edge varies along it, as one spot shows it (assumption)."""
SCALE_SHARE, SCALE_G = 0.05, 5.0
"""A kitchen scale shows a peak late: 5 % of it and 5 g (assumption)."""


@dataclass(frozen=True)
class Given:
    """Something that is read for a method: label, unit, accepted range and standard uncertainty."""

    key: str
    label: str
    unit: str
    low: float
    high: float
    u: float


@dataclass(frozen=True)
class PlainMethod:
    """How a quantity is read without its instrument.

    ``steps`` are done in order; ``caution`` is said before them. ``figure`` gives the quantity in
    its base unit from the values of ``needs``. It is offered where ``offered_at`` is asked; a
    quantity that only methods read is asked nowhere itself.
    """

    key: str
    quantity: str
    label: str
    needs: tuple[Given, ...]
    steps: tuple[str, ...]
    caution: str
    figure: Callable[[Mapping[str, float]], Figure]
    offered_at: str = ""

    @property
    def asked(self) -> str:
        """The quantity at which it is offered."""
        return self.offered_at or self.quantity


def laser_angle(distance_mm: float, apart_mm: float, u_mm: float = 2.0) -> Figure:
    r"""Angle per side from the two spots that a beam throws off both bevels.

    th = atan(s / 2 D) / 2: a beam along the middle plane is turned by twice the angle of a bevel.
    A blade tilted in the beam moves both spots alike, which cancels. Range: D 100 to 3000 mm.

    Parameters
    ----------
    distance_mm : from the edge to the wall, D.
    apart_mm : between the two spots, s.
    u_mm : standard uncertainty of either.

    >>> round(laser_angle(300, 346.4).mean, 2)
    15.0
    """
    ratio = apart_mm / (2 * distance_mm)
    angle = math.degrees(math.atan(ratio)) / 2
    steep = math.degrees(1 / (2 * (1 + ratio**2)))
    by_spots = steep * u_mm / (2 * distance_mm)
    by_distance = steep * ratio * u_mm / distance_mm
    return Figure(angle, math.hypot(by_spots, by_distance, EDGE_SCATTER_DEG))


def bevel_angle(
    behind_edge_mm: float,
    right_mm: float,
    left_mm: float,
    u_behind_mm: float = 0.02,
    u_width_mm: float = 0.1,
) -> Figure:
    r"""Angle per side of an edge with equal angles, from its bevels and the thickness at their top.

    th = asin(T / (w_R + w_L)). Raises :class:`InvalidValue` where the bevels are narrower than the
    edge is thick.

    Parameters
    ----------
    behind_edge_mm : thickness at the shoulder, T.
    right_mm, left_mm : widths of both bevels.
    u_behind_mm, u_width_mm : their standard uncertainties.

    >>> round(bevel_angle(0.30, 0.58, 0.58).mean, 1)
    15.0
    """
    both = right_mm + left_mm
    if behind_edge_mm >= both:
        raise InvalidValue("bevel width", f"{both:g} mm", "wider than the edge is thick behind it")
    angle = math.asin(behind_edge_mm / both)
    by_thickness = u_behind_mm / (both * math.cos(angle))
    by_width = math.tan(angle) * math.sqrt(2) * u_width_mm / both
    u = math.degrees(math.hypot(by_thickness, by_width))
    return Figure(math.degrees(angle), math.hypot(u, EDGE_SCATTER_DEG))


def force_on_scale(peak_g: float) -> Figure:
    """Force from the highest mass that a scale showed, N.

    >>> round(force_on_scale(250).mean, 3)
    2.452
    """
    u_g = math.hypot(SCALE_SHARE * peak_g, SCALE_G)
    return Figure(N_PER_GRAM_FORCE * peak_g, N_PER_GRAM_FORCE * u_g)


_HELD = "Clamp or lay the knife so that it cannot move, edge away from you; keep fingers behind it."
_PRESSED = "Press straight down, a cut-resistant glove on the free hand; never draw the edge."
PLAIN_METHODS: dict[str, PlainMethod] = {
    method.key: method
    for method in (
        PlainMethod(
            "laser",
            "edge_angle",
            "laser pointer and a wall",
            (
                Given("distance", "from the edge to the wall", "mm", 100, 3000, 2.0),
                Given("apart", "between the two spots", "mm", 5, 6000, 2.0),
            ),
            (
                "Point the laser square at a wall and leave it there.",
                "Hold the blade in the beam, its edge towards the laser and its sides along the"
                " beam: the beam is split over both bevels.",
                "Two spots show on the wall, one either side. Measure from the middle of one to the"
                " middle of the other, and from the edge to the wall.",
                "Streaks instead of spots: the bevels are convex; take the brightest part.",
            ),
            "Never look into the beam or its reflections; use a pointer of class 2, under 1 mW.",
            lambda v: laser_angle(v["distance"], v["apart"]),
        ),
        PlainMethod(
            "bevels",
            "edge_angle",
            "bevel widths and thickness behind the edge",
            (
                Given("behind_edge", "thickness behind the edge", "mm", 0.05, 3, 0.02),
                Given("right", "bevel width, right face", "mm", 0.1, 40, 0.1),
                Given("left", "bevel width, left face", "mm", 0.1, 40, 0.1),
            ),
            (
                "Measure the thickness where the bevels begin, at mid-blade.",
                "Measure both bevels at the same place, with a loupe or a caliper.",
            ),
            _HELD,
            lambda v: bevel_angle(v["behind_edge"], v["right"], v["left"]),
        ),
        PlainMethod(
            "line_on_scale",
            "sharpness_force",
            "a line on a kitchen scale",
            (Given("peak", "highest weight shown", "g", 5, 3000, SCALE_G),),
            (
                "Stretch the line over two supports that stand on the scale, and set it to zero.",
                "Press the middle of the edge straight down on the line until it parts.",
                "Note the highest weight; film the display if it is quick. Three cuts, fresh line.",
                "Always the same line: figures of different lines cannot be compared.",
            ),
            _PRESSED,
            lambda v: force_on_scale(v["peak"]),
        ),
        PlainMethod(
            "paper_on_scale",
            "paper_cut_force",
            "paper on a kitchen scale",
            (Given("peak", "highest weight shown", "g", 5, 5000, SCALE_G),),
            (
                "Stand a folded strip of plain 80 g/m² paper upright in a holder on the scale; set"
                " it to zero.",
                "Press the middle of the edge straight down on the fold until it cuts in.",
                "Note the highest weight. Three cuts, a fresh strip each.",
            ),
            _PRESSED,
            lambda v: force_on_scale(v["peak"]),
            "sharpness_force",
        ),
    )
}
BY_METHOD_ALONE = frozenset(m.quantity for m in PLAIN_METHODS.values() if m.offered_at)
"""Quantities that no question asks for."""


def by_plain_method(key: str, given: Mapping[str, float]) -> Figure:
    """The figure of a method in its quantity's base unit; raises where a value is out of range."""
    method = PLAIN_METHODS[key]
    for need in method.needs:
        value = given.get(need.key)
        if value is None or not need.low <= value <= need.high:
            said = "nothing" if value is None else f"{value:g}"
            accepted = f"{need.low:g} to {need.high:g} {need.unit}"
            raise InvalidValue(need.label, said, accepted)
    found = method.figure(given)
    q = QUANTITIES[method.quantity]
    if not q.hard_low <= found.mean <= q.hard_high:
        raise InvalidValue(q.label, f"{found.mean:.3g} {q.unit}", q.accepted)
    return found

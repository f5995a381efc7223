"""Will the edge roll or chip: the last hundredths of a millimetre as a bent wedge.

References
----------
.. [1] Beam theory: a wedge of inclusive angle 2 th under a side load q per length at its apex
   yields down to the depth z_y = 1.5 q / (sigma_y tan^2 th).
.. [2] Tabor, D. (1951): sigma_y = H / 3.
.. [3] Fracture mechanics: a surface flaw of depth a breaks at a stress K / (1.12 sqrt(pi a)). That
   toughness falls with hardness is common knowledge of the field; sizes are from memory.

The loads of the strokes, the depth of bend that is felt and the size of the flaw are practice rules
(assumptions).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.edge_life.retention import Technique
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.hardness import yield_strength_mpa
from maple_rook.core.measurement.uncertainty import Z_90, Array, Figure

FELT_DEPTH_MM = 0.02
"""A bend this deep is felt as a rolled edge."""
TOUGHNESS_60 = {"high": 22.0, "medium": 16.0, "low": 12.0}
"""Fracture toughness at 60 HRC by toughness class, MPa sqrt(m)."""
TOUGHNESS_PER_HRC = 0.07
FLAW_M = 10e-6
"""Depth of the flaw an edge has from its grinding."""
ENOUGH_MARGIN, LEAST_SHARE, _CORNER = 1.5, 0.2, 8
STABILITY_SCATTER = 0.25
"""Relative spread of a margin between strokes of one style."""
ANGLE_STEP_DEG, HARDNESS_STEP_HRC = 3.0, 2.0


class StrokeStyle(Labelled):
    CAREFUL = "careful", "careful push"
    NORMAL = "normal", "normal work"
    TWIST = "twist", "rock with a twist"
    BONE = "bone", "on bone"


SIDE_LOAD_N_MM: dict[StrokeStyle, float] = {
    StrokeStyle.CAREFUL: 0.25,
    StrokeStyle.NORMAL: 0.7,
    StrokeStyle.TWIST: 1.8,
    StrokeStyle.BONE: 4.5,
}
"""Side load on the edge per length, N/mm (assumption)."""


def yield_depth_mm(load_n_mm: ArrayLike, hrc: ArrayLike, angle_per_side_deg: ArrayLike) -> Array:
    """Depth to which the apex yields, 1.5 q / (sigma_y tan^2 th) [1]_, mm.

    >>> round(float(yield_depth_mm(1.0, 60, 15)), 4)
    0.0092
    """
    tangent = np.tan(np.radians(np.asarray(angle_per_side_deg, dtype=float)))
    strength = yield_strength_mpa(hrc, clip=True)
    return np.asarray(1.5 * np.asarray(load_n_mm, dtype=float) / (strength * tangent**2))


def roll_load_n_mm(hrc: ArrayLike, angle_per_side_deg: ArrayLike) -> Array:
    """Side load that rolls the edge by :data:`FELT_DEPTH_MM`, N/mm."""
    return np.asarray(FELT_DEPTH_MM / yield_depth_mm(1.0, hrc, angle_per_side_deg))


def chip_over_roll(hrc: ArrayLike, toughness_60: ArrayLike) -> Array:
    """Load that chips an edge over the load that rolls it: K / (1.12 sqrt(pi a) sigma_y) [3]_.

    K = K60 exp(-0.07 (HRC - 60)), K60 the steel's toughness at 60 HRC, MPa sqrt(m). Under 1 the
    edge chips first.

    >>> chip_over_roll(60, list(TOUGHNESS_60.values())).round(2).tolist()
    [1.54, 1.12, 0.84]
    """
    hardness = np.asarray(hrc, dtype=float)
    tough = np.asarray(toughness_60, dtype=float) * np.exp(-TOUGHNESS_PER_HRC * (hardness - 60))
    breaking = tough / (1.12 * np.sqrt(np.pi * FLAW_M))
    return np.asarray(breaking / yield_strength_mpa(hardness, clip=True))


def borne_n_mm(hrc: ArrayLike, angle_per_side_deg: ArrayLike, toughness_60: ArrayLike) -> Array:
    """Side load at which the edge rolls or chips, whichever comes first, N/mm.

    ``toughness_60`` NaN is a steel of unknown toughness, which is taken to roll.

    >>> round(float(borne_n_mm(60, 15, 22.0)), 2), round(float(borne_n_mm(66, 15, 12.0)), 2)
    (2.18, 1.2)
    """
    rolls = roll_load_n_mm(hrc, angle_per_side_deg)
    return np.asarray(rolls * np.fmin(1.0, chip_over_roll(hrc, toughness_60)))


USUAL_STROKE: dict[Technique, StrokeStyle] = {
    Technique.CAREFUL: StrokeStyle.CAREFUL,
    Technique.NORMAL: StrokeStyle.NORMAL,
    Technique.ROUGH: StrokeStyle.TWIST,
}
"""The stroke an edge has to bear in a kitchen, by its technique."""


def usual_margin(borne: ArrayLike, technique: Technique) -> Array:
    """Side load an edge bears, N/mm, over that of the usual stroke of a technique."""
    return np.asarray(np.asarray(borne) / SIDE_LOAD_N_MM[USUAL_STROKE[technique]])


def lasting_share(margin: ArrayLike) -> Array:
    """Share of its wear life that an edge has which bears so many times its usual load.

    min(1, M / 1.5), rounded at the corner, at least 0.2 (assumption): an edge thinner than its
    steel bears gives before it wears.

    >>> [round(float(lasting_share(m)), 2) for m in (0.1, 0.75, 1.5, 3.0)]
    [0.2, 0.5, 0.92, 1.0]
    """
    short = np.maximum(np.asarray(margin, dtype=float), 1e-6) / ENOUGH_MARGIN
    rounded = (1 + short**-_CORNER) ** (-1 / _CORNER)
    return np.asarray(np.maximum(LEAST_SHARE, rounded))


@dataclass(frozen=True)
class Margin:
    """Load the edge bears over the load of a stroke: below 1 the edge gives way; 90 % interval."""

    style: StrokeStyle
    roll: tuple[float, float, float]
    chip: tuple[float, float, float] | None

    @property
    def words(self) -> str:
        """What to expect of this stroke, by the lower of the two likely margins."""
        chips = self.chip is not None and self.chip[0] < self.roll[0]
        way = "chips" if chips else "rolls"
        if self.least < 1:
            return f"the edge {way}"
        return f"close: the edge may give ({way} first)" if self.least < 2 else "holds"

    @property
    def least(self) -> float:
        """The lower of the two likely margins."""
        return min(self.roll[0], self.chip[0]) if self.chip else self.roll[0]


@dataclass(frozen=True)
class Stability:
    """Margins by stroke style, and which lever would raise them most."""

    margins: tuple[Margin, ...]
    levers: tuple[tuple[str, float], ...]
    lesson: str


def stability(hardness: Figure, angle: Figure, toughness: str | None) -> Stability:
    """Roll and chip margins of an edge, with its levers [1]_, [2]_.

    ``angle`` is half the inclusive angle at the apex, degrees. Without a toughness class there is
    no chip margin.

    >>> s = stability(Figure(60.0, 0.5), Figure(15.0, 0.5), "medium")
    >>> s.levers[0][0]
    'angle 3° per side steeper'
    """
    load = float(roll_load_n_mm(hardness.mean, angle.mean))
    spread = _relative_u(hardness, angle)
    k60 = TOUGHNESS_60.get(toughness or "")
    factor = None if k60 is None else float(chip_over_roll(hardness.mean, k60))
    margins = tuple(
        Margin(
            style,
            _interval(load / q, spread),
            None if factor is None else _interval(factor * load / q, spread),
        )
        for style, q in SIDE_LOAD_N_MM.items()
    )
    levers = sorted(_levers(hardness.mean, angle.mean, toughness), key=lambda lever: -lever[1])
    best, gain = levers[0]
    lesson = f"For this edge {best} counts most: {100 * gain:.0f} % more load before it gives."
    return Stability(margins, tuple(levers), lesson)


def _relative_u(hardness: Figure, angle: Figure) -> float:
    """Relative standard uncertainty of a margin: hardness, angle and the stroke's own spread."""
    step = 0.5
    softer, harder = (
        float(yield_strength_mpa(hardness.mean + s, clip=True)) for s in (-step, step)
    )
    of_hardness = (np.log(harder) - np.log(softer)) * hardness.standard_uncertainty
    theta = np.radians(angle.mean)
    of_angle = 2 * np.radians(angle.standard_uncertainty) / (np.sin(theta) * np.cos(theta))
    return float(np.sqrt(of_hardness**2 + of_angle**2 + STABILITY_SCATTER**2))


def _interval(central: float, relative_u: float) -> tuple[float, float, float]:
    wide = float(np.exp(Z_90 * relative_u))
    return central, central / wide, central * wide


def _levers(hrc: float, angle: float, toughness: str | None) -> list[tuple[str, float]]:
    classes = list(TOUGHNESS_60)

    def bears(hardness: float, per_side: float, tough: str | None) -> float:
        """The load at which the edge rolls or chips, whichever comes first."""
        return float(borne_n_mm(hardness, per_side, TOUGHNESS_60.get(tough or "", np.nan)))

    tried = {
        f"angle {ANGLE_STEP_DEG:g}° per side steeper": (hrc, angle + ANGLE_STEP_DEG, toughness),
        f"{HARDNESS_STEP_HRC:g} HRC harder": (hrc + HARDNESS_STEP_HRC, angle, toughness),
        f"{HARDNESS_STEP_HRC:g} HRC softer": (hrc - HARDNESS_STEP_HRC, angle, toughness),
    }
    if toughness in classes[1:]:
        tougher = classes[classes.index(toughness) - 1]
        tried[f"a steel of {tougher} toughness"] = (hrc, angle, tougher)
    now = bears(hrc, angle, toughness)
    gains = [(label, bears(*edge) / now - 1) for label, edge in tried.items()]
    return [(label, gain) for label, gain in gains if gain > 0]

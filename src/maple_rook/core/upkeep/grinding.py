"""How long a grind takes: stones, their rates, the layers that finer stones have to take.

Rates and depths are assumptions until the shop sets its own: nobody publishes them for hand work.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from maple_rook.core.edge_life.steels import SHARPENS
from maple_rook.core.errors import InvalidValue

TIME_FACTOR = 1.6
"""A time is right within this factor either way (assumption)."""
SETTING_UP_MINUTES = 4.0
"""Stone flat and wet, knife set to its angle, burr off, edge tried (assumption)."""
THINNED_BAND_MM = 10.0
"""How far up the faces a thinning reaches (common practice)."""
_MEDIUM = SHARPENS["medium"]


@dataclass(frozen=True)
class Stone:
    """A stone of the shop's: grit, steel it takes, mm3 a minute, and depth of its scratches, um.

    The rate is that on a steel of medium ease of sharpening, by hand.
    """

    grit: int
    rate_mm3_min: float
    scratch_um: float


STONES = (
    Stone(220, 3.0, 10.0),
    Stone(1000, 0.8, 3.0),
    Stone(3000, 0.25, 1.0),
    Stone(6000, 0.1, 0.5),
)
"""Taken until the shop sets its own (assumption)."""


@dataclass(frozen=True)
class Step:
    """A stone, what it takes off, mm3, and how long that lasts, minutes."""

    stone: Stone
    volume_mm3: float
    minutes: float


def pace(sharpening: str | None) -> float:
    """How much faster or slower a steel gives way than one of medium ease (practice rule).

    >>> pace("medium"), pace("very hard")
    (1.0, 0.5)
    """
    return SHARPENS.get(sharpening or "medium", 0.7) / _MEDIUM


def steps(
    volume_mm3: float, bevels_mm2: float, stones: Sequence[Stone], pace_of_steel: float = 1.0
) -> list[Step]:
    r"""Stones in order for a volume on bevels of an area, coarse to fine.

    Every stone but the first takes a layer as deep as the scratches of the one before,
    V_i = A d_(i-1); the first takes the rest. A coarse stone that would have less left to take
    than its own scratches is left out. The volumes add up to the one asked for.

    >>> [(s.stone.grit, round(s.volume_mm3, 1)) for s in steps(12.6, 400.0, STONES)]
    [(220, 7.0), (1000, 4.0), (3000, 1.2), (6000, 0.4)]
    """
    if volume_mm3 < 0 or bevels_mm2 <= 0 or pace_of_steel <= 0:
        raise InvalidValue("steel to remove", volume_mm3, "nothing or more, on a bevel")
    order = sorted(stones, key=lambda s: s.grit)
    if not order:
        raise InvalidValue("stones", "none", "at least one stone")
    used, layers = order, [bevels_mm2 * stone.scratch_um / 1000 for stone in order]
    while len(used) > 1 and volume_mm3 - sum(layers[:-1]) < layers[0]:
        used, layers = used[1:], layers[1:]
    volumes = [volume_mm3 - sum(layers[:-1]), *layers[:-1]]
    return [
        Step(stone, v, v / (stone.rate_mm3_min * pace_of_steel))
        for stone, v in zip(used, volumes, strict=True)
    ]


def minutes(taken: Sequence[Step]) -> tuple[float, float, float]:
    """Time for the steps with setting up: likely, least and most, minutes.

    >>> minutes([Step(STONES[0], 3.0, 1.0)])
    (5.0, 3.125, 8.0)
    """
    likely = SETTING_UP_MINUTES + sum(step.minutes for step in taken)
    return likely, likely / TIME_FACTOR, likely * TIME_FACTOR


def sharpening_mm3(behind_edge_mm: float, edge_length_mm: float, lowered_mm: float) -> float:
    """Steel one sharpening takes, T dh L, mm3: the edge rises by dh under the whole bevel.

    >>> round(sharpening_mm3(0.30, 200, 0.05), 1)
    3.0
    """
    return behind_edge_mm * lowered_mm * edge_length_mm


def thinning_mm3(thicker_mm: float, edge_length_mm: float) -> float:
    """Steel a thinning takes, mm3: wedges T/2 at the shoulder, nothing 10 mm up, on both faces.

    >>> round(thinning_mm3(0.10, 200), 1)
    100.0
    """
    return max(thicker_mm, 0.0) * THINNED_BAND_MM / 2 * edge_length_mm

"""How long an edge lasts: card-test prediction and kitchen intervals.

References
----------
.. [1] Thomas, L. (2020), regression of abrasive-card tests on 48 knife steels (from memory).
.. [2] ISO 8442-5, Specification for sharpness and edge retention test of cutlery (from memory).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from numpy.typing import ArrayLike, NDArray

from maple_rook.core.hardness import HOLDS_AN_EDGE_HRC, vickers
from maple_rook.core.uncertainty import Array

TCC_HRC_RANGE = (56.0, 70.0)
TCC_INCLUSIVE_RANGE_DEG = (20.0, 50.0)
TCC_SCATTER = 0.12
"""Residual scatter of the regression inside its range, relative (assumption)."""
OUT_OF_RANGE_WIDENING = 2.0
"""How much the scatter is widened outside the range (assumption)."""
KITCHEN_FACTOR = 1.6
"""The 90 % interval of a kitchen interval is this factor either way (common practice)."""

CARBIDE_COEFFICIENTS: dict[str, float] = {
    "CrC": 11.2,
    "CrVC": 14.6,
    "MC": 26.2,
    "M6C": 9.5,
    "MN": 20.9,
    "CrN": 19.4,
}


def tcc_linear_mm(hrc: ArrayLike, inclusive_deg: ArrayLike, carbide_term: ArrayLike) -> Array:
    r"""The published linear predictor L, mm [1]_.

    L = -157 + 15.8 HRC - 17.8 A + carbide term; A inclusive angle, degrees. The carbide term is
    sum(coefficient x volume %), see :func:`carbide_term`.

    >>> round(float(tcc_linear_mm(58, 30, carbide_term({"CrC": 5}))), 1)
    281.4
    """
    hardness, angle = np.asarray(hrc, dtype=float), np.asarray(inclusive_deg, dtype=float)
    carbides = np.asarray(carbide_term, dtype=float)
    return np.asarray(-157 + 15.8 * hardness - 17.8 * angle + carbides)


def carbide_term(volume_percent: dict[str, float]) -> float:
    """Carbides and nitrides in the predictor: sum of coefficient x volume %, mm [1]_."""
    return sum(CARBIDE_COEFFICIENTS[name] * volume for name, volume in volume_percent.items())


def tcc_mm(linear_mm: ArrayLike) -> Array:
    r"""Total card cut in sixty cycles, TCC = s ln(1 + exp(L/s)), s = 60 mm [2]_, never negative.

    >>> round(float(tcc_mm(56.0)))
    76
    """
    return 60 * np.logaddexp(0, np.asarray(linear_mm, dtype=float) / 60)


class Use(StrEnum):
    HOME = "home"
    KEEN = "keen"
    PROFESSIONAL = "professional"


class BoardMaterial(StrEnum):
    SOFT = "soft wood or rubber"
    WOOD = "wood or plastic"
    BAMBOO = "bamboo"
    GLASS = "glass or stone"


class Technique(StrEnum):
    CAREFUL = "careful"
    NORMAL = "normal"
    ROUGH = "twists and scrapes"


class Job(StrEnum):
    """What the knife is asked to cut."""

    ALL_ROUND = "all foods alike"
    VEGETABLES = "vegetables"
    ROOTS = "dense roots"
    SLICING = "fish and thin slices"


class EdgeState(StrEnum):
    FRESH = "fresh from the stone"
    USED = "some weeks old"
    DULL = "kitchen-dull"


_USE = {Use.HOME: 1.0, Use.KEEN: 1.5, Use.PROFESSIONAL: 3.0}
_BOARD = {
    BoardMaterial.SOFT: 0.8,
    BoardMaterial.WOOD: 1.0,
    BoardMaterial.BAMBOO: 1.3,
    BoardMaterial.GLASS: 6.0,
}
_TECHNIQUE = {Technique.CAREFUL: 0.8, Technique.NORMAL: 1.0, Technique.ROUGH: 1.8}


@dataclass(frozen=True)
class Kitchen:
    """Where and how the knife is used, and on what; a day is 30 minutes of board work."""

    use: Use = Use.HOME
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    honed: bool = True
    job: Job = Job.ALL_ROUND
    edge: EdgeState = EdgeState.FRESH

    @property
    def harshness(self) -> float:
        """u b t: use, board and technique multiplied."""
        return _USE[self.use] * _BOARD[self.board] * _TECHNIQUE[self.technique]


def days_to_rod(
    hrc: ArrayLike,
    angle_per_side_deg: ArrayLike,
    kitchen: Kitchen,
    *,
    heavy: ArrayLike = False,
    even_machine_edge: ArrayLike = False,
) -> Array:
    r"""Days until the edge wants a rod (practice rule).

    8.0 (HV/HV59)^8 (tan th / tan 15) e / (u b t w); e 1.2 for an even machine edge, w 1.4 for a
    heavy chopping pattern.

    >>> round(float(days_to_rod(55, 17, Kitchen())), 1)
    3.4
    """
    strength = (vickers(hrc, clip=True) / vickers(59)) ** 8
    lean = np.tan(np.radians(np.asarray(angle_per_side_deg, dtype=float))) / np.tan(np.radians(15))
    harsh = kitchen.harshness * np.where(heavy, 1.4, 1.0)
    return np.asarray(8.0 * strength * lean * np.where(even_machine_edge, 1.2, 1.0) / harsh)


def months_to_stone(
    tcc: ArrayLike,
    kitchen: Kitchen,
    *,
    heavy: ArrayLike = False,
    even_machine_edge: ArrayLike = False,
) -> Array:
    r"""Months until the edge wants a stone (practice rule).

    3.45 (TCC/340)^0.6 e (1 if honed else 0.55) / (u b t w), TCC in mm.

    >>> round(float(months_to_stone(342, Kitchen())), 1)
    3.5
    """
    harsh = kitchen.harshness * np.where(heavy, 1.4, 1.0)
    wear = (np.asarray(tcc, dtype=float) / 340) ** 0.6
    honing = 1.0 if kitchen.honed else 0.55
    return np.asarray(3.45 * wear * honing * np.where(even_machine_edge, 1.2, 1.0) / harsh)


def holds_an_edge(hrc: ArrayLike) -> NDArray[np.bool_]:
    """Whether any interval may be promised at all: 50 HRC and up (common practice)."""
    return np.asarray(np.asarray(hrc, dtype=float) >= HOLDS_AN_EDGE_HRC)


def tcc_range_notes(hrc: float, inclusive_deg: float) -> list[str]:
    """Which inputs lie outside the regression's range, in words.

    >>> tcc_range_notes(54, 30)
    ['hardness 54 HRC is outside the published range 56 to 70']
    """
    notes = []
    for name, value, unit, (low, high) in (
        ("hardness", hrc, " HRC", TCC_HRC_RANGE),
        ("inclusive angle", inclusive_deg, "°", TCC_INCLUSIVE_RANGE_DEG),
    ):
        if not low <= round(value, 6) <= high:
            notes.append(
                f"{name} {value:.3g}{unit} is outside the published range {low:g} to {high:g}"
            )
    return notes


def tcc_scatter(hrc: ArrayLike, inclusive_deg: ArrayLike) -> Array:
    """Relative scatter of a TCC prediction: 12 %, doubled outside the range (assumptions)."""
    hardness, angle = np.asarray(hrc, dtype=float), np.asarray(inclusive_deg, dtype=float)
    inside = (hardness >= TCC_HRC_RANGE[0]) & (hardness <= TCC_HRC_RANGE[1])
    inside &= (angle >= TCC_INCLUSIVE_RANGE_DEG[0]) & (angle <= TCC_INCLUSIVE_RANGE_DEG[1])
    return np.asarray(np.where(inside, TCC_SCATTER, TCC_SCATTER * OUT_OF_RANGE_WIDENING))

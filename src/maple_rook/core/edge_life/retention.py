"""How long an edge lasts: card-test prediction and kitchen intervals.

References
----------
.. [1] Thomas, L. (2020), regression of abrasive-card tests on 48 knife steels (from memory).
.. [2] ISO 8442-5, Specification for sharpness and edge retention test of cutlery (from memory).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.hardness import MINIMUM_HARDENED_HRC, vickers
from maple_rook.core.measurement.uncertainty import Z_90, Array

TCC_HRC_RANGE = (56.0, 70.0)
TCC_INCLUSIVE_RANGE_DEG = (20.0, 50.0)
SOFTNESS_MM = 60.0
"""Below some 60 mm the linear predictor is bent so that no cut becomes negative."""
WEARING_MM, MICRO_BEVEL_MM = 0.4, 0.05
CURVE_FROM_DEG = 30.0
"""Inclusive angle from which the card cut follows a curve, since its line runs into nothing."""
MOST_DOUBT = float(np.log(2))
FADES_OVER = (6.0, 15.0)
"""HRC and degrees outside the regression's range over which its scatter grows (assumption)."""
CARBIDE_COEFFICIENTS = PUBLISHED.carbides


def tcc_linear_mm(
    hrc: ArrayLike, inclusive_deg: ArrayLike, carbide_term: ArrayLike, c: Coefficients = PUBLISHED
) -> Array:
    r"""The published linear predictor L, mm [1]_.

    L = -157 + 15.8 HRC - 17.8 A + carbide term; A inclusive angle, degrees. The carbide term is
    sum(coefficient x volume %), see :func:`carbide_term`.

    >>> round(float(tcc_linear_mm(58, 30, carbide_term({"CrC": 5}))), 1)
    281.4
    """
    hardness, angle = np.asarray(hrc, dtype=float), np.asarray(inclusive_deg, dtype=float)
    carbides = np.asarray(carbide_term, dtype=float)
    return np.asarray(
        c.tcc_constant_mm + c.tcc_per_hrc_mm * hardness + c.tcc_per_degree_mm * angle + carbides
    )


def carbide_term(volume_percent: Mapping[str, float], c: Coefficients = PUBLISHED) -> float:
    """Carbides and nitrides in the predictor: sum of coefficient x volume %, mm [1]_."""
    each = c.carbides
    return sum(each[name] * volume for name, volume in volume_percent.items())


def tcc_mm(linear_mm: ArrayLike) -> Array:
    r"""Total card cut in sixty cycles, TCC = s ln(1 + exp(L/s)), s = 60 mm [2]_, never negative.

    >>> round(float(tcc_mm(56.0)))
    76
    """
    return SOFTNESS_MM * np.logaddexp(0, np.asarray(linear_mm, dtype=float) / SOFTNESS_MM)


def card_cut_mm(
    hrc: ArrayLike, inclusive_deg: ArrayLike, carbide_term: ArrayLike, c: Coefficients = PUBLISHED
) -> Array:
    r"""Total card cut TCC by hardness, inclusive angle A and carbides, mm: a curve in the angle.

    As published up to A = 30; over it, where the straight line runs into nothing,
    TCC = TCC_30 (30/A)^p with p = 30 b logistic(L_30/s) / TCC_30, b the millimetres a degree costs:
    same value and slope at 30 (construction).

    >>> [round(float(card_cut_mm(60, a, carbide_term({"CrC": 8})))) for a in (30, 40, 50, 60)]
    [347, 223, 158, 120]
    """
    angle = np.asarray(inclusive_deg, dtype=float)
    published = tcc_mm(tcc_linear_mm(hrc, np.minimum(angle, CURVE_FROM_DEG), carbide_term, c))
    at_30 = tcc_linear_mm(hrc, CURVE_FROM_DEG, carbide_term, c)
    whole = tcc_mm(at_30)
    slope = -c.tcc_per_degree_mm / (1 + np.exp(-at_30 / SOFTNESS_MM))
    beyond = (CURVE_FROM_DEG / np.maximum(angle, CURVE_FROM_DEG)) ** (
        CURVE_FROM_DEG * slope / whole
    )
    return np.asarray(published * beyond)


def curve_doubt(
    hrc: ArrayLike, inclusive_deg: ArrayLike, carbide_term: ArrayLike, c: Coefficients = PUBLISHED
) -> Array:
    """Uncertainty of the model, standard deviation in ln: line and curve are as far apart as 90 %.

    At most a factor of two: where the line has run into nothing it tells no more (assumption).

    >>> float(curve_doubt(60, 30, 90.0)), round(float(curve_doubt(60, 40, 90.0)), 2)
    (0.0, 0.16)
    """
    line = tcc_mm(tcc_linear_mm(hrc, inclusive_deg, carbide_term, c))
    apart = np.abs(np.log(card_cut_mm(hrc, inclusive_deg, carbide_term, c) / line))
    return np.asarray(np.minimum(apart, MOST_DOUBT) / Z_90)


def initial_cut_mm(inclusive_deg: ArrayLike, tcc: ArrayLike, c: Coefficients = PUBLISHED) -> Array:
    r"""Initial card cut in the first three cycles (ICP), mm: a trend, not the regression.

    ICP = 45 (30/A), A the inclusive angle in degrees, at most nine tenths of TCC. Practice rule,
    size from memory: early on a thin edge cuts deep whatever the steel; the steel shows later.

    >>> float(initial_cut_mm(30, 340)), float(initial_cut_mm(20, 340))
    (45.0, 67.5)
    """
    angle = np.maximum(np.asarray(inclusive_deg, dtype=float), 1.0)
    return np.asarray(np.minimum(c.initial_cut_mm * 30 / angle, 0.9 * np.asarray(tcc)))


class Use(Labelled):
    HOME = "home"
    KEEN = "keen"
    PROFESSIONAL = "professional"


class BoardMaterial(Labelled):
    SOFT = "soft", "soft wood or rubber"
    WOOD = "wood", "wood or plastic"
    BAMBOO = "bamboo"
    GLASS = "glass", "glass or stone"


class Technique(Labelled):
    CAREFUL = "careful"
    NORMAL = "normal"
    ROUGH = "rough", "twists and scrapes"


HARD_HRC = 62.0
"""From here on no twisting, no scraping, no bone, and by one school no rod (common practice)."""


class RodSchool(Labelled):
    """What a hard edge, from 62 HRC, is honed with."""

    NONE = "none", "no rod from 62 HRC"
    LIGHT = "light", "ceramic, very lightly"


class FoodMix(Labelled):
    """What the knife is asked to cut."""

    ALL_ROUND = "all_round", "all foods alike"
    VEGETABLES = "vegetables"
    ROOTS = "roots", "dense roots"
    SLICING = "slicing", "fish and thin slices"
    SMALL = "small", "small work in the hand"


class EdgeState(Labelled):
    FRESH = "fresh", "fresh from the stone"
    USED = "used", "some weeks old"
    DULL = "dull", "kitchen-dull"


@dataclass(frozen=True)
class Kitchen:
    """Where and how the knife is used, and on what; a day is 30 minutes of board work.

    ``shares`` are parts of each food by its key; where there are any they go before ``food_mix``.
    ``stroke`` is the key of the motion of the hand; empty where it is that of the food mix.
    ``rods`` is the school of rods that is followed.
    """

    use: Use = Use.HOME
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    honed: bool = True
    food_mix: FoodMix = FoodMix.ALL_ROUND
    edge: EdgeState = EdgeState.FRESH
    shares: tuple[tuple[str, float], ...] = ()
    stroke: str = ""
    rods: RodSchool = RodSchool.NONE

    def harshness(self, c: Coefficients = PUBLISHED) -> float:
        """u b t: use, board and technique multiplied.

        >>> Kitchen(use=Use.PROFESSIONAL, board=BoardMaterial.SOFT).harshness()
        2.4000000000000004
        """
        use = {Use.HOME: 1.0, Use.KEEN: c.use_keen, Use.PROFESSIONAL: c.use_professional}
        board = {
            BoardMaterial.SOFT: c.board_soft,
            BoardMaterial.WOOD: 1.0,
            BoardMaterial.BAMBOO: c.board_bamboo,
            BoardMaterial.GLASS: c.board_glass,
        }
        technique = {
            Technique.CAREFUL: c.technique_careful,
            Technique.NORMAL: 1.0,
            Technique.ROUGH: c.technique_rough,
        }
        return use[self.use] * board[self.board] * technique[self.technique]


def days_to_rod(
    hrc: ArrayLike,
    angle_per_side_deg: ArrayLike,
    kitchen: Kitchen,
    *,
    heavy: ArrayLike = False,
    even_machine_edge: ArrayLike = False,
    c: Coefficients = PUBLISHED,
) -> Array:
    r"""Days until the edge needs a rod (practice rule).

    6.6 (HV/HV59)^6 (tan th / tan 15) e / (u b t w); e 1.2 for an even machine edge, w 1.4 for a
    heavy chopping pattern.

    Parameters
    ----------
    hrc : hardness, HRC.
    angle_per_side_deg : half the inclusive angle at the apex, degrees.
    kitchen : whose kitchen it is for.
    heavy : whether the type is a heavy chopping pattern.
    even_machine_edge : whether the edge was ground even by a machine.
    c : coefficients of the edge-life models.

    >>> round(float(days_to_rod(55, 17, Kitchen())), 1)
    3.6
    """
    strength = (vickers(hrc, clip=True) / vickers(59)) ** c.rod_strength_exponent
    lean = np.tan(np.radians(np.asarray(angle_per_side_deg, dtype=float))) / np.tan(np.radians(15))
    harsh = kitchen.harshness(c) * np.where(heavy, c.heavy_pattern, 1.0)
    even = np.where(even_machine_edge, c.even_edge, 1.0)
    return np.asarray(c.rod_days * strength * lean * even / harsh)


def months_to_stone(
    tcc: ArrayLike,
    kitchen: Kitchen,
    *,
    heavy: ArrayLike = False,
    even_machine_edge: ArrayLike = False,
    lasting: ArrayLike = 1.0,
    c: Coefficients = PUBLISHED,
) -> Array:
    r"""Months until the edge needs a stone (practice rule).

    3.45 (TCC/340)^0.6 e g (1 if honed else 0.55) / (u b t w), TCC in mm.

    Parameters
    ----------
    tcc : total card cut, mm.
    kitchen : whose kitchen it is for.
    heavy : whether the type is a heavy chopping pattern.
    even_machine_edge : whether the edge was ground even by a machine.
    lasting : g, the share of its wear life that an edge has which hardly bears its work.
    c : coefficients of the edge-life models.

    >>> round(float(months_to_stone(342, Kitchen())), 1)
    3.5
    """
    harsh = kitchen.harshness(c) * np.where(heavy, c.heavy_pattern, 1.0)
    wear = (np.asarray(tcc, dtype=float) / 340) ** c.stone_wear_exponent
    honing = 1.0 if kitchen.honed else c.stone_never_honed
    even = np.where(even_machine_edge, c.even_edge, 1.0)
    return np.asarray(c.stone_months * wear * honing * even * np.asarray(lasting) / harsh)


def wearing_deg(edge_deg: ArrayLike, micro_bevel_deg: ArrayLike) -> Array:
    """The angle per side that wears: the mean over the first 0.4 mm of the face from the apex.

    A micro-bevel of 0.05 mm counts by its share of that: nearly the edge's own angle for wear, and
    its own for what the edge bears (assumption).

    >>> float(wearing_deg(12, 20))
    13.0
    """
    share = MICRO_BEVEL_MM / WEARING_MM
    edge = np.asarray(edge_deg, dtype=float)
    return np.asarray(edge + share * (np.asarray(micro_bevel_deg, dtype=float) - edge))


def holds_an_edge(hrc: ArrayLike) -> NDArray[np.bool_]:
    """Whether any interval may be promised at all: from 52 HRC, a hardened edge (ISO 8442-1)."""
    return np.asarray(np.asarray(hrc, dtype=float) >= MINIMUM_HARDENED_HRC)


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


def widening(hrc: ArrayLike, inclusive_deg: ArrayLike, c: Coefficients = PUBLISHED) -> Array:
    """Times the scatter of the regression grows here: 1 inside its range, more the further outside.

    It grows evenly to the full widening at 6 HRC or 15 degrees outside, and stays (assumption).

    >>> float(widening(60, 30)), float(widening(53, 30)), float(widening(40, 30))
    (1.0, 1.5, 2.0)
    """
    outside = sum(
        np.maximum(np.maximum(low - value, value - high), 0) / over
        for value, (low, high), over in (
            (np.asarray(hrc, dtype=float), TCC_HRC_RANGE, FADES_OVER[0]),
            (np.asarray(inclusive_deg, dtype=float), TCC_INCLUSIVE_RANGE_DEG, FADES_OVER[1]),
        )
    )
    return np.asarray(1 + (c.out_of_range_widening - 1) * np.minimum(outside, 1))

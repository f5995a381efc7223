"""The coefficients of the models that a shop may set: as published or from practice.

Every function of the models takes a set of coefficients; a prediction is made again exactly from
its inputs, the version of its models and the set it was made with.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import NamedTuple

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import Z_90


@dataclass(frozen=True)
class Coefficients:
    """One set; the defaults are the published regression and the practice rules as shipped."""

    tcc_constant_mm: float = -157.0
    tcc_per_hrc_mm: float = 15.8
    tcc_per_degree_mm: float = -17.8
    tcc_crc_mm: float = 11.2
    tcc_crvc_mm: float = 14.6
    tcc_mc_mm: float = 26.2
    tcc_m6c_mm: float = 9.5
    tcc_mn_mm: float = 20.9
    tcc_crn_mm: float = 19.4
    tcc_scatter: float = 0.12
    out_of_range_widening: float = 2.0
    initial_cut_mm: float = 45.0
    initial_scatter: float = 0.25
    rod_days: float = 6.6
    rod_strength_exponent: float = 6.0
    stone_months: float = 3.45
    stone_wear_exponent: float = 0.6
    stone_never_honed: float = 0.55
    even_edge: float = 1.2
    heavy_pattern: float = 1.4
    use_keen: float = 1.5
    use_professional: float = 3.0
    board_soft: float = 0.8
    board_bamboo: float = 1.3
    board_glass: float = 6.0
    technique_careful: float = 0.8
    technique_rough: float = 1.8
    kitchen_factor: float = 1.6
    offset_sd: float = 0.25
    notice_weight_share: float = 0.10
    notice_height_mm: float = 2.0
    notice_length_mm: float = 5.0
    notice_hardness_hrc: float = 1.0
    notice_angle_deg: float = 2.0
    notice_behind_edge_mm: float = 0.1
    notice_force_share: float = 0.20
    notice_edge_life_share: float = 0.30

    @property
    def carbides(self) -> dict[str, float]:
        """Millimetres of card a volume per cent of each carbide or nitride adds."""
        return {
            "CrC": self.tcc_crc_mm,
            "CrVC": self.tcc_crvc_mm,
            "MC": self.tcc_mc_mm,
            "M6C": self.tcc_m6c_mm,
            "MN": self.tcc_mn_mm,
            "CrN": self.tcc_crn_mm,
        }


PUBLISHED = Coefficients()


class About(NamedTuple):
    """What a coefficient is: label, unit, accepted range, and the model card it belongs to."""

    label: str
    unit: str
    low: float
    high: float
    card: str


_CARD, _ROD, _STONE, _FELT = "card_test", "days_to_rod", "months_to_stone", "suits"
ABOUT: dict[str, About] = {
    "tcc_constant_mm": About("constant of the regression", "mm", -2000, 2000, _CARD),
    "tcc_per_hrc_mm": About("a point of hardness", "mm/HRC", 0, 100, _CARD),
    "tcc_per_degree_mm": About("a degree of inclusive angle", "mm/°", -100, 0, _CARD),
    "tcc_crc_mm": About("chromium carbide", "mm/vol %", 0, 200, _CARD),
    "tcc_crvc_mm": About("chromium-vanadium carbide", "mm/vol %", 0, 200, _CARD),
    "tcc_mc_mm": About("MC carbide", "mm/vol %", 0, 200, _CARD),
    "tcc_m6c_mm": About("M6C carbide", "mm/vol %", 0, 200, _CARD),
    "tcc_mn_mm": About("MN nitride", "mm/vol %", 0, 200, _CARD),
    "tcc_crn_mm": About("chromium nitride", "mm/vol %", 0, 200, _CARD),
    "tcc_scatter": About("scatter between knives", "of 1", 0.01, 1, _CARD),
    "out_of_range_widening": About("widening outside the range", "times", 1, 10, _CARD),
    "initial_cut_mm": About("first three cycles at 30° inclusive", "mm", 1, 500, "initial_cut"),
    "initial_scatter": About("scatter between knives", "of 1", 0.01, 1, "initial_cut"),
    "rod_days": About("days at 59 HRC and 15° per side", "days", 0.1, 200, _ROD),
    "rod_strength_exponent": About("exponent of strength", "", 0, 20, _ROD),
    "stone_months": About("months at a TCC of 340 mm", "months", 0.1, 60, _STONE),
    "stone_wear_exponent": About("exponent of TCC", "", 0, 3, _STONE),
    "stone_never_honed": About("never honed", "times", 0.05, 1, _STONE),
    "even_edge": About("even machine edge", "times", 1, 3, _ROD),
    "heavy_pattern": About("heavy chopping pattern, divides", "times", 1, 10, _ROD),
    "use_keen": About("keen use, divides", "times", 1, 20, _ROD),
    "use_professional": About("professional use, divides", "times", 1, 50, _ROD),
    "board_soft": About("soft wood or rubber, divides", "times", 0.1, 1, _ROD),
    "board_bamboo": About("bamboo, divides", "times", 1, 10, _ROD),
    "board_glass": About("glass or stone, divides", "times", 1, 50, _ROD),
    "technique_careful": About("careful technique, divides", "times", 0.1, 1, _ROD),
    "technique_rough": About("twists and scrapes, divides", "times", 1, 10, _ROD),
    "kitchen_factor": About("90 % interval, either way", "times", 1.3, 5, _ROD),
    "offset_sd": About("offset before any trial, standard deviation", "of 1", 0.01, 0.4, _CARD),
    "notice_weight_share": About("noticed: weight, of the lighter", "of 1", 0.01, 1, _FELT),
    "notice_height_mm": About("noticed: height", "mm", 0.1, 50, _FELT),
    "notice_length_mm": About("noticed: length", "mm", 0.1, 100, _FELT),
    "notice_hardness_hrc": About("noticed: hardness", "HRC", 0.1, 10, _FELT),
    "notice_angle_deg": About("noticed: edge angle", "° per side", 0.1, 20, _FELT),
    "notice_behind_edge_mm": About("noticed: thickness behind the edge", "mm", 0.01, 2, _FELT),
    "notice_force_share": About("noticed: force and ease, of the smaller", "of 1", 0.01, 2, _FELT),
    "notice_edge_life_share": About("noticed: edge life, of the shorter", "of 1", 0.01, 2, _FELT),
}


def coefficients(values: Mapping[str, float]) -> Coefficients:
    """The published set with these changed; refuses an unknown name or a value out of range.

    >>> coefficients({"rod_days": 9.0}).rod_days
    9.0
    """
    for name, value in values.items():
        if name not in ABOUT:
            raise InvalidValue("coefficient", name, ", ".join(ABOUT))
        low, high = ABOUT[name].low, ABOUT[name].high
        if not low <= value <= high:
            raise InvalidValue(ABOUT[name].label, f"{value:g}", f"{low:g} to {high:g}")
    found = Coefficients(**{**asdict(PUBLISHED), **values})
    if spread(found.kitchen_factor) <= found.offset_sd:
        raise InvalidValue(
            "offset before any trial",
            f"{found.offset_sd:g}",
            f"less than {spread(found.kitchen_factor):.3g}, which is what a factor of "
            f"{found.kitchen_factor:g} leaves for shop and kitchen together",
        )
    return found


def spread(factor: float) -> float:
    """Standard deviation of the logarithm whose 90 % interval is this factor either way.

    >>> round(spread(1.6), 4)
    0.2857
    """
    return math.log(factor) / Z_90

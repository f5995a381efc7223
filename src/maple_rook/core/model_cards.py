"""What each computed number is: equation, source, grade, range and assumptions.

The API, the panel that explains a number and docs/models are all made from these cards.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Grade(StrEnum):
    """Evidence grade of a number."""

    MEASURED = "M"
    DERIVED = "G"
    REGRESSION = "R"
    PRACTICE = "P"


GRADE_LABELS: dict[Grade, str] = {
    Grade.MEASURED: "measured",
    Grade.DERIVED: "geometry or mechanics derived from measurements",
    Grade.REGRESSION: "published regression",
    Grade.PRACTICE: "practice rule, calibrated on common practice",
}


@dataclass(frozen=True)
class ModelCard:
    key: str
    name: str
    grade: Grade
    unit: str
    equation: str
    source: str
    valid: str
    assumptions: tuple[str, ...]
    version: str = "1"


MODEL_CARDS: dict[str, ModelCard] = {
    card.key: card
    for card in (
        ModelCard(
            "cutting_force",
            "Cutting force",
            Grade.DERIVED,
            "N",
            "F = R w (1 + r/r_f) / (1 + xi^2) "
            "+ w sum over faces of integral k x(z) [sin a + mu / sqrt(1 + xi^2) cos a] dz, "
            "over the depth of the food",
            "Fracture with slicing: Atkins, Xu and Jeronimidis 2004, J. Materials Science 39, "
            "2761. Blunting after McCarthy, Hussey and Gilchrist 2007 (background). Wedging: "
            "side pressure in proportion to thickness (Winkler).",
            "Flat-ground double-bevel sections. Single bevels are not covered; other grinds are "
            "taken as flat and their interval is widened. Above 125 N it is not a kitchen cut.",
            (
                "Food values are order of magnitude, from memory: compare knives with them, do "
                "not read them as a force gauge.",
                "Food varies by 8 % (standard deviation), the same for every knife compared.",
                "The edge is fresh from the stone, radius 0.75 um with 0.15 um uncertainty, "
                "unless given.",
                "A grind that is not flat adds 15 % scatter.",
            ),
        ),
        ModelCard(
            "cutting_ease",
            "Cutting ease index",
            Grade.DERIVED,
            "",
            "100 x geometric mean over the foods of force(reference blade) / force(this blade), "
            "straight push",
            "Ratio of two cutting forces; see the cutting force card.",
            "As for the cutting force.",
            (
                "Reference blade: flat, 2.2 mm spine, 45 mm high, 0.30 mm behind the edge, "
                "15 degrees per side, edge radius 1 um. 100 cuts like it, more is easier.",
            ),
        ),
        ModelCard(
            "card_test",
            "Edge retention on the card test (TCC)",
            Grade.REGRESSION,
            "mm",
            "L = -157 + 15.8 HRC - 17.8 A + 11.2 CrC + 14.6 CrVC + 26.2 MC + 9.5 M6C + 20.9 MN "
            "+ 19.4 CrN; TCC = 60 ln(1 + exp(L / 60))",
            "Thomas 2020, regression on 48 steels (from memory); test after ISO 8442-5 (from "
            "memory). A is the inclusive angle in degrees, carbides in volume %.",
            "56 to 70 HRC, 20 to 50 degrees inclusive; outside, the interval is doubled.",
            (
                "Residual scatter 12 % until calibrated by trials.",
                "Carbide volumes are estimates with 25 % relative uncertainty.",
            ),
        ),
        ModelCard(
            "days_to_rod",
            "Days to the rod",
            Grade.PRACTICE,
            "days",
            "8.0 (HV / HV59)^8 (tan th / tan 15) e / (u b t w)",
            "Practice rule, calibrated on common practice; HRC to HV by ASTM E140 (from memory).",
            "50 HRC and up. A day is 30 minutes of board work.",
            ("The 90 % interval is a factor of 1.6 either way, before measuring uncertainty.",),
        ),
        ModelCard(
            "months_to_stone",
            "Months to the stone",
            Grade.PRACTICE,
            "months",
            "3.45 (TCC / 340)^0.6 e (1 if honed else 0.55) / (u b t w)",
            "Practice rule, calibrated on common practice; TCC from the card-test regression.",
            "50 HRC and up. Below it no months are promised.",
            ("The 90 % interval is a factor of 1.6 either way, before measuring uncertainty.",),
        ),
        ModelCard(
            "yield_strength",
            "Yield strength of the edge",
            Grade.REGRESSION,
            "MPa",
            "sigma_y = 9.81 HV / 3",
            "Tabor 1951; HRC to HV by ASTM E140 table 1 (from memory).",
            "20 to 68 HRC.",
            ("The edge is as hard as the spot that was tested.",),
        ),
        ModelCard(
            "distal_taper",
            "Distal taper",
            Grade.DERIVED,
            "mm/100 mm",
            "(spine at heel - spine near tip) / (edge length - 10 mm) x 100",
            "Geometry.",
            "Spine near the tip taken 10 mm behind it.",
            (),
        ),
        ModelCard(
            "primary_angle",
            "Angle between the faces",
            Grade.DERIVED,
            "°",
            "atan((x_spine - b) / (h - z_shoulder)), right plus left",
            "Geometry of the flat-ground section.",
            "Full flat grind; others are taken as flat.",
            (),
        ),
        ModelCard(
            "apex_offset",
            "Apex offset",
            Grade.DERIVED,
            "mm",
            "(b_L - b_R) / 2",
            "Geometry; asymmetry read as the ratio of bevel widths at equal angles.",
            "Double-bevel edges.",
            ("Minus: the apex lies left of the middle, ground for the right hand.",),
        ),
    )
}


def card(key: str) -> ModelCard:
    return MODEL_CARDS[key]

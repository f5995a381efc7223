"""What a model card is, and the grades of evidence."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from maple_rook.core.measurement.thresholds import Threshold


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


class Better(StrEnum):
    """Which way a prediction is better, where it is."""

    HIGHER = "higher"
    LOWER = "lower"
    NEITHER = "neither"


class SheetPart(StrEnum):
    """Where the Sheet shows a prediction."""

    CUTS = "cuts"
    MEANING = "meaning"
    HAND = "hand"
    SHAPE = "shape"


@dataclass(frozen=True)
class Predicted:
    """What is to be known of a prediction beside its model, all in one place.

    Parameters
    ----------
    needs : inputs that must be measured, or follow from what is, before there is a prediction.
    scale : ends of the axis it is drawn on, in the card's unit.
    part : where the Sheet shows it.
    may_infer : inputs it takes from type and grind where they are not measured.
    better : which way is better.
    noticeable : the difference felt at the board; None where nobody says.
    compared : whether it is a row of what differs between knives.
    short : its name where there is little room, empty where it needs none.
    on_shelf : whether it is kept of every piece: sorted and filtered by, a column of tables.
    on_board : the heading it has on the Board, empty where it is not drawn there.
    in_what_if : whether another angle or thickness is judged by it.
    after_reprofile : whether a re-profile is judged by it.
    of_any_blade : whether it holds for blades whose edge is not predicted, such as serrated ones.
    of_the_solid : whether it needs the section swept along the edge.
    of_foods : whether it is an index over the foods that are cut.
    of_the_kitchen : whether it is an interval promised to a kitchen.
    by_regression : whether it stands on the card-test regression and its range.
    with_coefficients : whether it is computed with coefficients that a shop may set.
    turns_on_asymmetry : whether an asymmetry that was not measured is worth a note.
    """

    needs: tuple[str, ...]
    scale: tuple[float, float]
    part: SheetPart
    may_infer: tuple[str, ...] = ()
    better: Better = Better.NEITHER
    noticeable: Threshold | None = None
    compared: bool = False
    short: str = ""
    on_shelf: bool = False
    on_board: str = ""
    in_what_if: bool = False
    after_reprofile: bool = False
    of_any_blade: bool = False
    of_the_solid: bool = False
    of_foods: bool = False
    of_the_kitchen: bool = False
    by_regression: bool = False
    with_coefficients: bool = False
    turns_on_asymmetry: bool = False


@dataclass(frozen=True)
class ModelCard:
    """What a computed number is; ``predicted`` where it is one prediction of a blade.

    What is shown as a course, a table or a judgement has none.
    """

    key: str
    name: str
    grade: Grade
    unit: str
    equation: str
    source: str
    valid: str
    assumptions: tuple[str, ...]
    version: str = "2"
    predicted: Predicted | None = None

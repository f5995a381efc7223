"""What a model card is, and the grades of evidence."""

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

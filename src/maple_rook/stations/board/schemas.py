from __future__ import annotations

from pydantic import BaseModel

from maple_rook.core.comparing import Verdict
from maple_rook.stations.life import EdgeLifeOut
from maple_rook.stations.schemas import FigureOut, OutlineOut, PieceOut, Points, PredictionOut
from maple_rook.stations.shape import ProfileOut


class BoardKnife(BaseModel):
    piece: PieceOut
    outline: OutlineOut
    section: Points | None
    profile: ProfileOut
    predictions: list[PredictionOut]
    edge_life: EdgeLifeOut


class Difference(BaseModel):
    """One quantity across the knives: values in order of the knives, and whether they differ."""

    key: str
    label: str
    unit: str
    grade: str
    values: list[FigureOut | None]
    verdict: Verdict
    weight: float
    largest: str


class ForceCurve(BaseModel):
    """Central downward force against depth, one list per knife; null where not predicted."""

    food: str
    stroke: str
    depth_mm: list[float]
    force_n: list[list[float] | None]


class Sentence(BaseModel):
    """A plain statement and the predictions or quantities it stands on."""

    text: str
    evidence: list[str]


class BoardOut(BaseModel):
    knives: list[BoardKnife]
    differences: list[Difference]
    curves: list[ForceCurve]
    verdict: list[Sentence]

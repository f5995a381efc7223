from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, Field

from maple_rook.answers.customer import CriterionOut, CustomerProfileIn
from maple_rook.answers.edge_life import EdgeLifeOut, MarginOut
from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut, Points, PredictionOut
from maple_rook.answers.shape import ProfileOut
from maple_rook.core.choosing.comparing import Verdict
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.choosing.customer import CustomerProfile
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import Strict

PieceIds = Annotated[
    list[Annotated[int, Field(ge=1, le=MAX_ID)]], Field(min_length=2, max_length=6)
]


class BoardKnife(BaseModel):
    """A knife on the Board, or its model: ``pieces`` are the tags the model's figures rest on."""

    piece: PieceOut
    pieces: list[str]
    outline: OutlineOut
    section: Points | None
    profile: ProfileOut
    predictions: list[PredictionOut]
    edge_life: EdgeLifeOut


class Difference(BaseModel):
    """One quantity across the knives: values in order of the knives, and whether they differ.

    ``verdict`` is of the pair that differs most, ``pairs`` of every pair: A with B, A with C and so
    on, then B with C; null where either is not known.
    """

    key: str
    label: str
    unit: str
    grade: str
    values: list[FigureOut | None]
    verdict: Verdict
    pairs: list[Verdict | None] = []
    weight: float
    largest: str


class SeenRow(BaseModel):
    """What was seen of one item, or of one side or part of it, across the knives; null: nothing."""

    item: str
    label: str
    texts: list[str | None]


class ForceCurve(BaseModel):
    """Central downward force against depth, one list per knife; null where not predicted."""

    food: str
    stroke: str
    depth_mm: list[float]
    force_n: list[list[float] | None]


class LaidIn(Strict):
    """What is laid on the Board, for whom, and how edge life is computed."""

    pieces: PieceIds
    models: bool = False
    profile: CustomerProfileIn = CustomerProfileIn()
    edge: EdgeState = EdgeState.FRESH
    basis: Basis = Basis.CALIBRATED

    def core(self) -> CustomerProfile:
        """The customer's profile with the edge in the state asked for."""
        profile = self.profile.core()
        return profile.in_kitchen(replace(profile.kitchen, edge=self.edge))


class SentenceOut(BaseModel):
    """A plain statement and the keys of the evidence it stands on."""

    text: str
    evidence: list[str]


class JudgedKnife(BaseModel):
    """A knife judged for a customer, or why it is ruled out; ``score`` with 90 % limits."""

    piece_id: int
    reasons: list[str]
    score: list[float] | None
    first: float | None
    tied: bool
    on_front: bool
    price: float | None
    criteria: list[CriterionOut]
    margins: list[MarginOut]


class SchoolOut(BaseModel):
    """By another school, in words, which piece comes first."""

    school: str
    piece_id: int
    changed: bool


class WeighingOut(BaseModel):
    """Were this criterion to count so many times as much, the piece would draw level."""

    criterion: Criterion
    times: float
    piece_id: int


class WeightOut(BaseModel):
    """Share of the weights a criterion has in the profile."""

    criterion: Criterion
    share: float


class VerdictOut(BaseModel):
    """The judgement for a profile; ``order`` are the rows that differ, what matters most first."""

    sentences: list[SentenceOut]
    knives: list[JudgedKnife]
    best_first: list[int]
    weights: list[WeightOut]
    deciding: Criterion | None
    schools: list[SchoolOut]
    weighings: list[WeighingOut]
    order: list[str]


class BoardOut(BaseModel):
    """What differs and what is predicted, and the verdict on it for the customer."""

    knives: list[BoardKnife]
    differences: list[Difference]
    curves: list[ForceCurve]
    verdict: VerdictOut

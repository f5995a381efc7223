from __future__ import annotations

import datetime as dt
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from maple_rook.answers.customer import CriterionOut, CustomerProfileIn, Label
from maple_rook.answers.figures import OutlineOut, PieceOut
from maple_rook.core.choosing.customer import Criterion
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import Choice, Strict


class QuestionOut(BaseModel):
    """A question of the conversation: the field of the profile it answers, and the answers."""

    key: str
    asked: str
    answers: list[Choice]


class CustomerOut(BaseModel):
    """A customer kept under a label, with the profile and nothing else of the person."""

    id: int
    profile: CustomerProfileIn
    recorded_at: dt.datetime
    etag: str


class CustomerIn(Strict):
    """A profile to keep; its label is all that is kept of the person."""

    label: Annotated[Label, StringConstraints(min_length=1)]
    profile: CustomerProfileIn


class CounterOut(BaseModel):
    """What the conversation asks, and where it may start from."""

    questions: list[QuestionOut]
    schools: list[QuestionOut]
    presets: list[CustomerProfileIn]
    customers: list[CustomerOut]
    foods: list[Choice]
    currency: str


class OfferOut(BaseModel):
    """One knife of the short list; ``score`` with 90 % limits, 0 to 1."""

    piece: PieceOut
    outline: OutlineOut
    score: list[float]
    first: float
    tied: bool
    on_front: bool
    price_per_month: float | None
    months: list[float]
    why: list[Criterion]
    gives_up: list[Criterion]
    warnings: list[str]
    criteria: list[CriterionOut]


class RuledOut(BaseModel):
    """A knife that must not be offered, and why."""

    piece_id: int
    tag: str
    name: str
    reasons: list[str]


class ChangeOut(BaseModel):
    """Another answer, and the knife that would then come first."""

    answer: str
    piece_id: int
    name: str


class DrawsLevelOut(BaseModel):
    """Were this criterion to count so much, in words, the knife would draw level."""

    criterion: Criterion
    counting: str
    name: str


class PricedOut(BaseModel):
    """A finalist in price and score; ``on_front`` where none is both cheaper and as good."""

    piece_id: int
    name: str
    place: int | None
    price: float
    score: list[float]
    on_front: bool


class AdviceOut(BaseModel):
    offers: list[OfferOut]
    nothing: str
    deciding: Criterion | None
    changes: list[ChangeOut]
    weighings: list[DrawsLevelOut]
    priced: list[PricedOut]
    considered: int
    behind: int
    ruled_out_total: int
    ruled_out: list[RuledOut]
    cautions: list[str]


class TakeHomeIn(Strict):
    """The knife that goes home, and the profile it was chosen for."""

    piece_id: Annotated[int, Field(ge=1, le=MAX_ID)]
    profile: CustomerProfileIn


class TakeHomeOut(BaseModel):
    """One page to take home."""

    shop: str
    place: str
    currency: str
    customer: str
    piece: PieceOut
    outline: OutlineOut
    figures: list[str]
    why: list[str]
    gives_up: list[str]
    warnings: list[str]
    care: list[str]
    cautions: list[str]

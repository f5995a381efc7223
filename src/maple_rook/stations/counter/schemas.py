from __future__ import annotations

import datetime as dt
from typing import Annotated, Self

from pydantic import BaseModel, Field, StringConstraints

from maple_rook.answers.customer import CriterionOut, CustomerProfileIn, Label
from maple_rook.answers.figures import OutlineOut, PieceOut
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.choosing.pairs import Part
from maple_rook.core.choosing.wishes import Specification
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import Choice, Strict


class QuestionOut(BaseModel):
    """A question of the conversation: the field of the profile it answers, and the answers.

    Of ``several`` any number may be chosen.
    """

    key: str
    asked: str
    answers: list[Choice]
    several: bool


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
    circumstances: list[QuestionOut]
    schools: list[QuestionOut]
    presets: list[CustomerProfileIn]
    customers: list[CustomerOut]
    foods: list[Choice]
    currency: str


class YearlyCostOut(BaseModel):
    """Cost of owning for a year: the price over ``years`` and the sharpenings at the charge."""

    total: float
    knife: float
    sharpenings: float
    charge: float
    years: float


class OfferOut(BaseModel):
    """One knife of the short list; ``score`` with 90 % limits, 0 to 1.

    ``what_for`` and ``not_for`` say in a sentence what it is for and whom it does not suit.
    """

    piece: PieceOut
    outline: OutlineOut
    score: list[float]
    first: float
    tied: bool
    on_front: bool
    a_year: YearlyCostOut | None
    what_for: str
    not_for: str
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


class ToldOut(BaseModel):
    """What an answer changed, in words; the knife that would be first without it, if another."""

    effect: str
    piece_id: int | None
    name: str


class SecondOut(BaseModel):
    """A knife beside the first: the part of the work it is for, and the share of work it adds."""

    piece_id: int
    name: str
    part: Part
    adds: float
    warnings: list[str]


class RangeOut(BaseModel):
    """A range of a wish; null where an end is open."""

    label: str
    unit: str
    low: float | None
    high: float | None


class SpecificationOut(BaseModel):
    """What would suit a customer: ranges, and the rest in words."""

    ranges: list[RangeOut]
    words: list[str]

    @classmethod
    def of(cls, wanted: Specification, currency: str) -> Self:
        return cls(
            ranges=[
                RangeOut(label=label, unit=unit, low=low, high=high)
                for key, (low, high) in wanted.ranges.items()
                for label, unit in (_named(key, currency),)
            ],
            words=wanted.words,
        )


def _named(key: str, currency: str) -> tuple[str, str]:
    return (QUANTITIES[key].label, QUANTITIES[key].unit) if key in QUANTITIES else (key, currency)


class MatchOut(BaseModel):
    """A knife in stock that answers a wish."""

    piece_id: int
    tag: str
    name: str


class WishOut(BaseModel):
    """What would suit a customer kept under a label, and the knives in stock that do."""

    id: int
    profile: CustomerProfileIn
    recorded_at: dt.datetime
    wanted: SpecificationOut
    matches: list[MatchOut]


class PairIn(Strict):
    """Two knives, and the customer they are weighed for."""

    pieces: Annotated[
        list[Annotated[int, Field(ge=1, le=MAX_ID)]], Field(min_length=2, max_length=2)
    ]
    profile: CustomerProfileIn = CustomerProfileIn()


class PairOut(BaseModel):
    """Which to take, in words; shares of the customer's work that each alone and both cover."""

    take: list[int]
    alone: list[float]
    both: float
    words: str


class AdviceOut(BaseModel):
    """The short list; ``wanted`` is what would suit, asked for where nothing on the shelf does."""

    offers: list[OfferOut]
    nothing: str
    told: list[ToldOut]
    second: SecondOut | None
    wanted: SpecificationOut
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

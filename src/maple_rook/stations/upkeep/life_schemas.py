"""Life plans, the log, dates and the care card as they travel."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut
from maple_rook.answers.kitchen import KitchenOfTrial
from maple_rook.core.edge_life.retention import RodSchool
from maple_rook.core.upkeep.plan import DueState, EdgeCare
from maple_rook.http.schemas import NoteText, Strict, storable

PlanLabel = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=60),
    AfterValidator(storable),
]
FIRST_DAY, LAST_DAY = dt.date(1950, 1, 1), dt.date(2200, 1, 1)
Day = Annotated[dt.date, Field(ge=FIRST_DAY, le=LAST_DAY)]


class CountOut(BaseModel):
    """Sharpenings until something is due, with 90 % limits, and the years they take here."""

    central: float
    low: float
    high: float
    years: list[float]


class DueOut(BaseModel):
    """A date of a plan: likely, earliest and latest day, and where today stands."""

    care: EdgeCare
    on: dt.date
    earliest: dt.date
    latest: dt.date
    every_days: int | None
    words: str
    state: DueState


class PlanOut(BaseModel):
    """A knife in a kitchen: what is next, and the dates of a year."""

    id: int
    piece_id: int
    tag: str
    knife: str
    label: str
    kitchen: KitchenOfTrial
    rods: RodSchool
    begun_on: dt.date
    since: dt.date
    person: str
    state: DueState
    next_due: DueOut | None
    dates: list[DueOut]
    why_no_rod: str


class PlanIn(Strict):
    """A knife given into a kitchen."""

    client_id: uuid.UUID
    label: PlanLabel
    kitchen: KitchenOfTrial = KitchenOfTrial()
    rods: RodSchool = RodSchool.NONE
    begun_on: Day


class EndIn(Strict):
    ended: bool


class DoneIn(Strict):
    """What was done on a day, and what was measured after it; mm, degrees, minutes."""

    client_id: uuid.UUID
    care: EdgeCare
    done_on: Day
    angle_deg: Annotated[float, Field(ge=5, le=35)] | None = None
    grit: Annotated[int, Field(ge=24, le=60_000)] | None = None
    height_mm: Annotated[float, Field(ge=5, le=200)] | None = None
    behind_edge_mm: Annotated[float, Field(ge=0.02, le=10)] | None = None
    minutes: Annotated[float, Field(ge=0, le=1440)] | None = None
    note: NoteText = ""


class VoidDoneIn(Strict):
    reason: Annotated[
        str,
        StringConstraints(strip_whitespace=True, min_length=1, max_length=200),
        AfterValidator(storable),
    ]


class DoneOut(BaseModel):
    id: int
    care: EdgeCare
    done_on: dt.date
    angle_deg: float | None
    grit: int | None
    height_mm: float | None
    behind_edge_mm: float | None
    minutes: float | None
    note: str
    person: str
    voided: str | None


class CurvePoint(BaseModel):
    """Height and thickness behind the edge after so many more sharpenings, mm."""

    sharpenings: int
    height_mm: float
    behind_edge_mm: float


class LifeOut(BaseModel):
    """What sharpening does to this knife; ``unavailable`` says why there is no plan."""

    piece: PieceOut
    outline: OutlineOut
    unavailable: str
    rate: FigureOut | None
    rate_words: str
    growth_mm: float
    height_now_mm: float
    height_new_mm: float
    behind_now_mm: float
    behind_due_mm: float
    full_bolster: bool
    months_to_stone: list[float]
    thinning: CountOut | None
    bolster: CountOut | None
    end: CountOut | None
    sharpening_minutes: float
    thinning_minutes: float
    curve: list[CurvePoint]
    log: list[DoneOut]
    plans: list[PlanOut]
    cautions: list[str]


class CareOut(BaseModel):
    """One page: how this knife is kept in this kitchen."""

    shop: str
    place: str
    piece: PieceOut
    outline: OutlineOut
    figures: list[str]
    every_day: list[str]
    edge: list[str]
    handle: list[str]
    never: list[str]
    cautions: list[str]

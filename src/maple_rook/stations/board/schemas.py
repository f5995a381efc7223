from __future__ import annotations

import datetime as dt

from pydantic import BaseModel

from maple_rook.answers.figures import FigureOut
from maple_rook.comparing.schemas import LaidIn, SentenceOut
from maple_rook.http.schemas import ShortText, Strict


class SaveIn(LaidIn):
    """A Board to keep under a name."""

    name: ShortText


class ComparisonOut(BaseModel):
    """A saved comparison by name."""

    id: int
    name: str
    recorded_at: dt.datetime
    person: str
    knives: list[str]
    customer: str
    away: bool


class ThenAndNow(BaseModel):
    """A row of figures: of the day it was kept, and of today; ``moved`` by more than both U."""

    key: str
    label: str
    unit: str
    grade: str
    then: list[FigureOut | None]
    today: list[FigureOut | None]
    moved: bool


class SavedComparisonOut(BaseModel):
    """A saved comparison with the numbers of its day beside today's."""

    comparison: ComparisonOut
    asked: LaidIn
    rows: list[ThenAndNow]
    verdict_then: list[SentenceOut]
    verdict_today: list[SentenceOut]


class AwayIn(Strict):
    away: bool

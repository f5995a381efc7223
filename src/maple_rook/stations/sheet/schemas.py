from __future__ import annotations

import datetime as dt

from pydantic import BaseModel

from maple_rook.answers.claims import ClaimOut
from maple_rook.answers.customer import Label
from maple_rook.answers.edge_life import EdgeLifeOut, StabilityOut
from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut, Points, PredictionOut
from maple_rook.answers.history import ObservationOut, ReadingOut
from maple_rook.answers.shape import ProfileOut, ShapeOut
from maple_rook.answers.trials import TrialOut
from maple_rook.core.measurement.hardness_session import Hardened
from maple_rook.core.routine.stock import Stock
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.http.schemas import Strict


class SheetOfPiece(BaseModel):
    """A sheet of the piece; ``set_aside`` says why it counts for nothing, where it does not."""

    id: int
    started_at: dt.datetime
    finished_at: dt.datetime | None
    person: str
    readings: int
    set_aside: str | None


class TraceOut(BaseModel):
    """Who traced the edge, when and how."""

    source: str
    person: str
    taken_at: dt.datetime
    points: int


class CutOut(BaseModel):
    """One cut through a food: the parts of the force against depth, N and mm, and the work, J.

    ``passes`` say in words what a food taller than the blade takes; empty where it is not.
    """

    food: str
    slice_push_ratio: float
    depth_mm: list[float]
    parting_n: list[float]
    opening_n: list[float]
    wedging_n: list[float]
    friction_n: list[float]
    sticking_n: list[float]
    side_n: list[float]
    along_n: list[float]
    bite_n: float
    peak_n: float
    work_j: float
    passes: str
    side_words: str
    food_words: str


class StockOut(BaseModel):
    """Where a piece is, since when, and the label of the customer it is for; with its version."""

    state: Stock
    on: dt.date | None
    customer: str
    etag: str


class StockIn(Strict):
    """Where a piece goes; of the customer no more than a label, and that only if wanted."""

    state: Stock
    on: dt.date | None = None
    customer: Label = ""


class KnifeSheetOut(BaseModel):
    """Everything about one knife; ``wished_for`` are customers whose wish it answers."""

    piece: PieceOut
    model_id: int
    stock: StockOut
    wished_for: list[str]
    shelf: Shelf
    outline: OutlineOut
    shape: ShapeOut
    profile: ProfileOut
    traced: TraceOut | None
    figures: dict[str, FigureOut]
    hardened: Hardened | None
    hardened_why: str
    predictions: list[PredictionOut]
    edge_life: EdgeLifeOut
    stability: StabilityOut | None
    trials: list[TrialOut]
    claims: list[ClaimOut]
    checks: list[str]
    cautions: list[str]
    sheets: list[SheetOfPiece]
    seen: list[ObservationOut]
    history: list[ReadingOut]


class FoodEaseOut(BaseModel):
    """Indices of one food, 100 the reference blade; ``part`` of the job in per cent."""

    key: str
    label: str
    part: float
    fresh: float
    worn: float
    bite: float


class SweepLine(BaseModel):
    """What another edge angle does to a prediction, per cent of it as measured."""

    key: str
    label: str
    percent: list[float]


class EaseOut(BaseModel):
    """Cutting ease food by food, and by the edge angle; central values.

    The section at the heel is drawn over that of the reference blade.
    """

    stroke: str
    section: Points | None
    reference: Points
    foods: list[FoodEaseOut]
    food_words: str
    angles_deg: list[float]
    by_angle: list[SweepLine]

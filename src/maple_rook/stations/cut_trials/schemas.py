"""Cut trials as they travel."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.core.cutting.cut_record import MOST_POINTS
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.formats.cut_file import MOST_CHARACTERS, MOST_CUTS
from maple_rook.http.schemas import NoteText, Strict, storable

Key = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
StrokeKey = Literal["push", "rock", "glide", "draw"]
LotText = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=80), AfterValidator(storable)
]
FileText = Annotated[str, StringConstraints(max_length=MOST_CHARACTERS), AfterValidator(storable)]
Millimetres = Annotated[float, Field(ge=2, le=300)]
Channel = Annotated[list[Annotated[float, Field(ge=-1e5, le=1e5)]], Field(max_length=MOST_POINTS)]


class CutFileIn(Strict):
    text: FileText


class OfferedCut(BaseModel):
    """A cut of a file: what it was understood as, what is odd, and why it would not count."""

    line: int
    knife: str
    piece_id: int | None
    food: str
    food_key: str | None
    stroke: StrokeKey
    lot: str
    height_mm: float | None
    width_mm: float | None
    depth_mm: list[float]
    force_n: list[float]
    peak_n: float
    notes: list[str]
    wrong: str


class BadLine(BaseModel):
    line: int
    text: str
    why: str


class CutFileOut(BaseModel):
    cuts: list[OfferedCut]
    bad: list[BadLine]


class CutIn(Strict):
    """One cut; without depths the one force is its peak."""

    client_id: uuid.UUID
    piece_id: Annotated[int, Field(ge=1, lt=2**31)]
    food: Key
    stroke: StrokeKey = "push"
    lot: LotText = ""
    height_mm: Millimetres | None = None
    width_mm: Millimetres | None = None
    depth_mm: Channel = Field(default_factory=list)
    force_n: Annotated[Channel, Field(min_length=1)]


class CutsIn(Strict):
    cuts: Annotated[list[CutIn], Field(min_length=1, max_length=MOST_CUTS)]


class CutSessionIn(Strict):
    """A session, with the cuts it comes with; sent twice it is kept once."""

    client_id: uuid.UUID
    source: Literal["typed", "file", "scale"] = "typed"
    edge: EdgeState = EdgeState.FRESH
    note: NoteText = ""
    given: FileText = ""
    started_at: dt.datetime | None = None
    cuts: Annotated[list[CutIn], Field(max_length=MOST_CUTS)] = Field(default_factory=list)


class PeakIn(Strict):
    """A cut of which the scale under the board holds the peak."""

    piece_id: Annotated[int, Field(ge=1, lt=2**31)]
    food: Key
    stroke: StrokeKey = "push"
    lot: LotText = ""


class SetAsideIn(Strict):
    reason: Annotated[
        str, StringConstraints(strip_whitespace=True, max_length=200), AfterValidator(storable)
    ] = ""


class CutSessionOut(BaseModel):
    """A session in a list."""

    id: int
    started_at: dt.datetime
    person: str
    source: str
    edge: EdgeState
    note: str
    knives: list[str]
    foods: list[str]
    cuts: int


class CutSessions(BaseModel):
    """The newest sessions, and the scale that is on the line, if one is."""

    sessions: list[CutSessionOut]
    scale: str


class TriedCut(BaseModel):
    """A cut beside the model: with the foods as assumed, and as the trials have them.

    The curves are at the depths of ``depth_mm``. Forces that the model has none of are empty.
    """

    id: int
    piece_id: int
    tag: str
    knife: str
    food: str
    food_label: str
    stroke: str
    lot: str
    height_mm: float | None
    width_mm: float | None
    depth_mm: list[float]
    force_n: list[float]
    peak_n: float | None
    assumed_n: list[float]
    calibrated_n: list[float]
    notes: list[str]
    left_out: str
    set_aside: str


class WholeCutSession(CutSessionOut):
    tried: list[TriedCut]


class FittedParameter(BaseModel):
    """A parameter of a food before and after the trials; ``sd`` in ln."""

    key: str
    label: str
    unit: str
    before: float
    after: float
    sd_before: float
    sd_after: float


class FittedFood(BaseModel):
    key: str
    label: str
    knives: int
    cuts: int
    parameters: list[FittedParameter]
    spread_before: float
    spread_after: float


class CutRow(BaseModel):
    """A peak observed beside what is predicted: as assumed, and from the other knives' cuts."""

    id: int
    session_id: int
    piece_id: int
    tag: str
    food: str
    food_label: str
    observed_n: float
    assumed_n: float
    expected_n: float


class CutLeftOut(BaseModel):
    id: int
    session_id: int
    tag: str
    food_label: str
    why: str


class CutCalibrationOut(BaseModel):
    """What cut trials say of the foods. Errors are root mean squares in ln, peaks only."""

    foods: list[FittedFood]
    rows: list[CutRow]
    error_assumed: float | None
    error_left_out: float | None
    scatter: float
    left_out: list[CutLeftOut]

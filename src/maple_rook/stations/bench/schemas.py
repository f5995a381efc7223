from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, StringConstraints, model_validator

from maple_rook.answers.claims import ClaimOut
from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut, Points
from maple_rook.answers.history import ObservationOut, ReadingOut
from maple_rook.answers.keys import KnifeTypeKey, QuantityKey
from maple_rook.core.measurement.grinds import Grind
from maple_rook.http.schemas import ShortText, Strict, TypedText
from maple_rook.intake.schemas import Note, RowNumber


class ClaimIn(Strict):
    quantity: QuantityKey
    printed: TypedText


class ModelIn(Strict):
    maker: ShortText
    line: ShortText
    knife_type: KnifeTypeKey
    nominal: TypedText
    grind: Grind = Grind.NOT_SEEN
    construction: ShortText = "one steel"
    finish: Note = ""
    handle: Note = ""
    steel: ShortText | None = None
    price: Annotated[float, Field(gt=0, lt=1e7)] | None = None
    even_machine_edge: bool = False
    claims: Annotated[list[ClaimIn], Field(max_length=20)] = Field(default_factory=list)


class NewPieceIn(Strict):
    """A piece of a known model, or of a model entered with it."""

    tag: Annotated[ShortText, StringConstraints(max_length=40)]
    condition: Literal["new", "used"] = "new"
    model_id: RowNumber | None = None
    model: ModelIn | None = None

    @model_validator(mode="after")
    def one_model(self) -> Self:
        if (self.model_id is None) == (self.model is None):
            raise ValueError("either model_id or model")
        return self


class AskedOut(BaseModel):
    key: str
    stop: str
    label: str
    observed: bool
    required: bool


class CheckOut(BaseModel):
    """Something that looks wrong; ``stands`` once a person decided to keep it as it is.

    ``decision`` is the newest decision on it, which a new one replaces.
    """

    key: str
    quantities: list[str]
    wrong: str
    why: str
    mend: str
    quantity: str
    typed: str
    stands: bool
    decided_by: str
    decision: uuid.UUID | None


class HardnessOut(BaseModel):
    """The hardness session of a sheet."""

    block: FigureOut | None
    block_name: str
    certified_hrc: float | None
    error_hrc: float | None
    raw: FigureOut | None
    result: FigureOut | None
    range_hrc: float
    warnings: list[str]
    verdict: str
    why: str
    claim: ClaimOut | None


class UsualOut(BaseModel):
    """What the newest other piece of the model showed of an item, in words too."""

    value: str
    text: str
    tag: str


class BenchSheetOut(BaseModel):
    """A measuring sheet as the Bench shows it; ``usual`` is never an answer until it is taken."""

    id: int
    piece: PieceOut
    model_id: int
    started_at: dt.datetime
    finished_at: dt.datetime | None
    person: str
    readings: list[ReadingOut]
    figures: dict[str, FigureOut]
    questions: list[AskedOut]
    observations: list[ObservationOut]
    stops: dict[str, str]
    required: list[str]
    checks: list[CheckOut]
    hints: dict[str, str]
    derived: dict[str, float]
    hardness: HardnessOut
    claims: list[ClaimOut]
    expected: dict[str, float]
    usual: dict[str, UsualOut]
    worked_s: float
    earlier_sheets: list[int]
    outline: OutlineOut
    section: Points | None
    edge_traced: bool


class OpenSheetOut(BaseModel):
    id: int
    piece_id: int
    name: str
    person: str
    started_at: dt.datetime
    readings: int


class LabelOut(BaseModel):
    """The piece of a label, and the sheet of it that is open."""

    piece_id: int
    tag: str
    name: str
    sheet_id: int | None


class ModelChoice(BaseModel):
    id: int
    name: str
    knife_type: str
    grind: str
    steel: str | None


class SteelChoice(BaseModel):
    """A grade with the other names it may be typed by."""

    designation: str
    names: list[str]


class BenchStartOut(BaseModel):
    open_sheets: list[OpenSheetOut]
    models: list[ModelChoice]
    makers: list[str]
    steels: list[SteelChoice]
    median_s: float | None
    timed_sheets: int


class RepeatRow(BaseModel):
    """One quantity on two sheets of the same piece."""

    key: str
    label: str
    unit: str
    earlier: FigureOut
    later: FigureOut
    difference: float
    expanded: float
    verdict: str


class RepeatOut(BaseModel):
    """Two sheets of one piece against each other."""

    earlier_id: int
    later_id: int
    earlier_person: str
    later_person: str
    earlier_at: dt.datetime
    later_at: dt.datetime
    rows: list[RepeatRow]
    words: str


class ModelRow(BaseModel):
    """One quantity over the pieces of a model; half-widths at 95 %."""

    key: str
    label: str
    unit: str
    n: int
    mean: float
    deviation: float | None
    mean_half_width: float | None
    next_half_width: float | None
    wanted: float
    needed: int | None


class ModelStatisticsOut(BaseModel):
    model_id: int
    name: str
    pieces: int
    rows: list[ModelRow]

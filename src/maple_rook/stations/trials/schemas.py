"""Edge trials and calibration as they travel."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.answers.kitchen import KitchenOfTrial
from maple_rook.answers.trials import TrialOut
from maple_rook.core.edge_life.decline import Decline, Form
from maple_rook.core.edge_life.trials import Event, Point, Protocol, TrialKind
from maple_rook.http.schemas import NoteText, Strict, storable

Told = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=80), AfterValidator(storable)
]
GivenText = Annotated[str, StringConstraints(max_length=200_000), AfterValidator(storable)]


class ProtocolIn(Strict):
    """What another shop would need to do the trial again; what is not stated breaks it."""

    edge_preparation: Told = ""
    angle_per_side_deg: Annotated[float, Field(ge=3, le=40)] | None = None
    grit: Told = ""
    medium: Told = ""
    load_n: Annotated[float, Field(gt=0, le=500)] | None = None
    stroke_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    speed_mm_s: Annotated[float, Field(gt=0, le=2000)] | None = None
    kitchen: KitchenOfTrial | None = None

    def core(self) -> Protocol:
        return Protocol(
            self.edge_preparation,
            self.angle_per_side_deg,
            self.grit,
            self.medium,
            self.load_n,
            self.stroke_mm,
            self.speed_mm_s,
            self.kitchen.core() if self.kitchen else None,
        )

    @classmethod
    def of(cls, protocol: Protocol) -> ProtocolIn:
        kitchen = KitchenOfTrial.of(protocol.kitchen) if protocol.kitchen else None
        return cls.model_construct(
            edge_preparation=protocol.edge_preparation,
            angle_per_side_deg=protocol.angle_per_side_deg,
            grit=protocol.grit,
            medium=protocol.medium,
            load_n=protocol.load_n,
            stroke_mm=protocol.stroke_mm,
            speed_mm_s=protocol.speed_mm_s,
            kitchen=kitchen,
        )


class PointIn(Strict):
    """A cycle, cut or day; ``client_id`` is made where it was read, so that it is kept once.

    Neither value nor event withdraws what stood at x.
    """

    client_id: uuid.UUID
    x: Annotated[float, Field(ge=0, le=100_000)]
    value: Annotated[float, Field(ge=0, le=100_000)] | None = None
    event: Event | None = None


class PointsIn(Strict):
    points: Annotated[list[PointIn], Field(min_length=1, max_length=2_000)]


class TrialIn(Strict):
    """A trial begun: of which knife, which kind, how; points may come with it or later."""

    client_id: uuid.UUID
    piece_id: Annotated[int, Field(ge=1, le=2**31 - 1)]
    kind: TrialKind
    protocol: ProtocolIn = ProtocolIn()
    source: Literal["typed", "file", "tester"] = "typed"
    given: GivenText = ""
    note: NoteText = ""
    started_at: dt.datetime | None = None
    points: Annotated[list[PointIn], Field(max_length=2_000, default_factory=list)]


class AsideIn(Strict):
    """A trial set aside, and why; nothing makes it count again."""

    reason: Annotated[
        str, StringConstraints(strip_whitespace=True, max_length=200), AfterValidator(storable)
    ] = ""


class ReadIn(Strict):
    """A file's text, to be looked at before anything is kept."""

    kind: TrialKind
    text: GivenText


class PointOut(BaseModel):
    x: float
    value: float | None
    event: str

    @classmethod
    def of(cls, point: Point) -> Self:
        return cls(x=point.x, value=point.value, event=point.event or "")


class BadRowOut(BaseModel):
    """A line of a file that was left out, and why."""

    line: int
    text: str
    why: str


class ReadOut(BaseModel):
    points: list[PointOut]
    bad: list[BadRowOut]


class FoundOut(BaseModel):
    """A figure of a trial with its 90 % interval, and what the model says of it (published)."""

    key: str
    label: str
    unit: str
    value: float
    low: float
    high: float
    note: str
    predicted: float | None
    predicted_low: float | None
    predicted_high: float | None


class RateOut(BaseModel):
    """A fitted decline; a half-life is null where none is seen."""

    form: Form
    start: float
    rate: list[float]
    half_life: list[float | None]
    misfit: float
    curve: list[list[float]]

    @classmethod
    def of(cls, decline: Decline, curve: list[list[float]]) -> Self:
        return cls(
            form=decline.form,
            start=decline.start,
            rate=list(decline.rate),
            half_life=list(decline.half_life),
            misfit=decline.misfit,
            curve=curve,
        )


class WholeTrial(TrialOut):
    """One trial with its points, fits and comparison."""

    protocol: ProtocolIn
    note: str
    series: list[PointOut]
    found: list[FoundOut]
    fits: list[RateOut]
    x_label: str
    value_label: str
    method: str
    etag: str


class ListOfTrials(BaseModel):
    """The newest trials of one kind, and how many there are of each."""

    trials: list[TrialOut]
    counts: dict[TrialKind, int]
    tester: str
    """What stands ready to run a card test, in words; empty where nothing does."""


class EvidenceOut(BaseModel):
    """A piece's observed figure beside the published one; ``expected`` from all other pieces."""

    piece_id: int
    tag: str
    trial_ids: list[int]
    grade_class: str
    observed: float
    predicted: float
    expected: float
    expected_low: float
    expected_high: float
    inside: bool


class ClassOut(BaseModel):
    """Offset of a class, per cent with U (k = 2), before and after the trials."""

    grade_class: str
    pieces: int
    before: list[float]
    after: list[float]


class TargetOut(BaseModel):
    """One calibrated prediction."""

    key: str
    label: str
    unit: str
    rows: list[EvidenceOut]
    classes: list[ClassOut]
    scatter_before: float
    scatter_after: float
    error_published: float | None
    error_left_out: float | None
    inside: int


class TryNextOut(BaseModel):
    """A class whose trial would narrow most, and the knives of it on the shelf."""

    grade_class: str
    gain: float
    knives: list[str]


class CalibrationOut(BaseModel):
    targets: list[TargetOut]
    left_out: list[TrialOut]
    left_out_total: int
    coefficients_version: int | None
    try_next: list[TryNextOut]


class StoredPredictionIn(Strict):
    """Keep the predictions of a knife as they are now."""

    kitchen: KitchenOfTrial = KitchenOfTrial()
    basis: Literal["published", "calibrated"] = "calibrated"
    note: Told = ""


class StoredNumber(BaseModel):
    key: str
    label: str
    unit: str
    numbers: list[float]


class StoredPredictionOut(BaseModel):
    """Predictions as they were kept, the version of models and coefficients with them."""

    id: int
    piece_id: int
    recorded_at: dt.datetime
    person: str
    basis: str
    note: str
    trial_id: int | None
    coefficients_version: int | None
    models: dict[str, str]
    numbers: list[StoredNumber]


class AgainOut(BaseModel):
    """A stored prediction made again from what was kept with it."""

    prediction: StoredPredictionOut
    same: bool
    differing: list[str]
    models_changed: list[str]

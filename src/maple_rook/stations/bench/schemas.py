from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal, Self

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints, model_validator

from maple_rook.core.knife_types import KNIFE_TYPES, Grind
from maple_rook.core.quantities import QUANTITIES
from maple_rook.stations.access import MAX_ID
from maple_rook.stations.history import ReadingOut
from maple_rook.stations.schemas import (
    FigureOut,
    OutlineOut,
    PieceOut,
    Points,
    ShortText,
    Strict,
    TypedText,
)

KnifeTypeKey = Annotated[
    str, StringConstraints(max_length=40), Field(json_schema_extra={"enum": list(KNIFE_TYPES)})
]
QuantityKey = Annotated[
    str, StringConstraints(max_length=40), Field(json_schema_extra={"enum": list(QUANTITIES)})
]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)]


class ClaimIn(Strict):
    quantity: QuantityKey
    printed: TypedText


class ModelIn(Strict):
    maker: ShortText
    line: ShortText
    knife_type: KnifeTypeKey
    nominal: TypedText
    grind: Grind = Grind.FULL_FLAT
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
    model_id: Annotated[int, Field(ge=1, le=MAX_ID)] | None = None
    model: ModelIn | None = None

    @model_validator(mode="after")
    def one_model(self) -> Self:
        if (self.model_id is None) == (self.model is None):
            raise ValueError("either model_id or model")
        return self


class ReadingIn(Strict):
    """A reading as typed. ``client_id`` makes sending it twice harmless."""

    client_id: uuid.UUID
    quantity: QuantityKey
    typed: TypedText
    default_unit: Annotated[str, StringConstraints(max_length=8)] | None = None
    confirmed: bool = False
    taken_at: AwareDatetime | None = None


class VoidIn(Strict):
    reason: Annotated[ShortText, StringConstraints(max_length=200)] = "repeated"


class BenchSheetOut(BaseModel):
    """A measuring sheet as the Bench shows it."""

    id: int
    piece: PieceOut
    started_at: dt.datetime
    finished_at: dt.datetime | None
    person: str
    readings: list[ReadingOut]
    figures: dict[str, FigureOut]
    stops: dict[str, str]
    required: list[str]
    checks: list[str]
    outline: OutlineOut
    section: Points | None


class OpenSheetOut(BaseModel):
    id: int
    piece_id: int
    name: str
    person: str
    started_at: dt.datetime
    readings: int


class ModelChoice(BaseModel):
    id: int
    name: str
    knife_type: str
    grind: str
    steel: str | None


class BenchStartOut(BaseModel):
    open_sheets: list[OpenSheetOut]
    models: list[ModelChoice]
    makers: list[str]
    steels: list[str]

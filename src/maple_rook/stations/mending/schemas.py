from __future__ import annotations

import datetime as dt
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from maple_rook.answers.keys import KnifeTypeKey, QuantityKey
from maple_rook.core.measurement.grinds import Grind
from maple_rook.http.schemas import ShortText, StorableText, Strict, TypedText
from maple_rook.intake.schemas import RowNumber
from maple_rook.store.amendments import Act, Subject

Note = Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=120)]
Reason = Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=200)]


class ClaimChange(Strict):
    """What is printed of a model, in any unit."""

    quantity: QuantityKey
    printed: TypedText


class ModelChange(Strict):
    """What shall be other of a model; what is not named stays. ``claims`` are all of them."""

    maker: ShortText | None = None
    line: ShortText | None = None
    knife_type: KnifeTypeKey | None = None
    nominal: TypedText | None = None
    grind: Grind | None = None
    construction: ShortText | None = None
    finish: Note | None = None
    handle: Note | None = None
    steel: ShortText | None = None
    price: Annotated[Decimal, Field(gt=0, lt=10_000_000, decimal_places=2)] | None = None
    gtin: Annotated[StorableText, StringConstraints(max_length=30)] | None = None
    even_machine_edge: bool | None = None
    retired: bool | None = None
    claims: Annotated[list[ClaimChange], Field(max_length=30)] | None = None
    reason: Reason = ""


class PieceChange(Strict):
    """What shall be other of a piece; what is not named stays."""

    tag: Annotated[ShortText, StringConstraints(max_length=40)] | None = None
    condition: Literal["new", "used"] | None = None
    note: Annotated[StorableText, StringConstraints(max_length=2000)] | None = None
    model_id: RowNumber | None = None
    reason: Reason = ""


class MakerChange(Strict):
    name: ShortText
    reason: Reason = ""


class MergeIn(Strict):
    """Which row of the same kind takes everything over."""

    into: RowNumber
    reason: Reason = ""


class SetAsideIn(Strict):
    """Why a sheet counts for nothing; empty puts it back."""

    reason: Reason


class MendedOut(BaseModel):
    """The amendment that was written down; none where nothing was other."""

    amendment_id: int | None


class MendableMaker(BaseModel):
    id: int
    name: str
    models: int
    etag: str


class MendableModel(BaseModel):
    id: int
    name: str
    maker_id: int
    knife_type: str
    pieces: int
    retired: bool


class MendableOut(BaseModel):
    """Makers and models with how much hangs on each."""

    makers: list[MendableMaker]
    models: list[MendableModel]


class ClaimOfModel(BaseModel):
    quantity: str
    label: str
    printed: str


class MendedModel(BaseModel):
    """A model as it stands, with the pieces of it."""

    id: int
    maker: str
    line: str
    knife_type: str
    nominal_mm: float
    grind: Grind
    construction: str
    finish: str
    handle: str
    steel: str | None
    price: float | None
    gtin: str
    even_machine_edge: bool
    retired: bool
    claims: list[ClaimOfModel]
    tags: list[str]
    etag: str


class MendedPiece(BaseModel):
    """A piece as it stands; ``merged_into`` where its sheets moved to another."""

    id: int
    tag: str
    condition: str
    note: str
    model_id: int
    merged_into: int | None
    etag: str


class ChangeOut(BaseModel):
    """One thing that became another, in words."""

    what: str
    before: str
    after: str


class AmendmentOut(BaseModel):
    """Something that was corrected; ``undone`` where it no longer stands."""

    id: int
    act: Act
    about: Subject
    about_id: int
    named: str
    reason: str
    person: str
    recorded_at: dt.datetime
    changes: list[ChangeOut]
    moved: int
    undone: bool


class AmendmentsOut(BaseModel):
    total: int
    amendments: list[AmendmentOut]

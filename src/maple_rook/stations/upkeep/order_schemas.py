"""Work orders as they travel."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Self

from pydantic import BaseModel, Field, StringConstraints, model_validator

from maple_rook.answers.figures import OutlineOut, PieceOut
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import NoteText, Strict
from maple_rook.store.work_orders import EventKind, RepairState

ItemKey = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,47}$")]
AspectKey = Annotated[str, StringConstraints(pattern=r"^[a-z]{0,12}$")]


class FaultKey(Strict):
    item: ItemKey
    aspect: AspectKey = ""


class MethodOut(BaseModel):
    """How a fault is repaired; one that goes back to the maker has no minutes."""

    what: str
    grits: list[int]
    materials: list[str]
    minutes: float
    caution: str
    recheck: str
    returns: bool


class FaultSaid(BaseModel):
    """A fault in words, and how it is repaired."""

    item: str
    aspect: str
    label: str
    severity: str
    note: str
    method: MethodOut


class FaultOut(FaultSaid):
    """A fault that stands; ``ordered`` where a repair for it is open."""

    ordered: bool


class EventOut(BaseModel):
    kind: EventKind
    minutes: float | None
    value: str
    note: str
    photo_id: int | None
    person: str
    at: dt.datetime


class RepairOut(FaultSaid):
    """A repair as it was ordered, and what happened to it."""

    id: int
    state: RepairState
    minutes_taken: float | None
    events: list[EventOut]


class OrderOut(BaseModel):
    """A work order; minutes of the repairs still open, and what they cost."""

    id: int
    ordered_at: dt.datetime
    person: str
    repairs: list[RepairOut]
    open_minutes: float


class WorkOut(BaseModel):
    """The work on one piece."""

    piece: PieceOut
    outline: OutlineOut
    shelf: Shelf
    verdict: str | None
    faults: list[FaultOut]
    orders: list[OrderOut]
    hourly_rate: float
    currency: str
    cautions: list[str]


class OrderIn(Strict):
    """Faults to be repaired, by item and side; none named means all open ones."""

    client_id: uuid.UUID
    faults: Annotated[list[FaultKey], Field(max_length=60)] = []  # noqa: RUF012 - copied by Pydantic


class EventIn(Strict):
    """What happened to a repair; a re-check says how it looks now, by the Bench's own words."""

    client_id: uuid.UUID
    kind: EventKind
    minutes: Annotated[float, Field(ge=0, le=1440)] | None = None
    value: Annotated[str, StringConstraints(pattern="^(fine|minor|mend|reject)?$")] = ""
    note: NoteText = ""
    photo_id: Annotated[int, Field(ge=1, le=MAX_ID)] | None = None

    @model_validator(mode="after")
    def says_what_it_must(self) -> Self:
        if self.kind is EventKind.RECHECK and not self.value:
            raise ValueError("a re-check says how it looks: fine, minor, mend or reject")
        if self.kind in (EventKind.BEFORE, EventKind.AFTER) and self.photo_id is None:
            raise ValueError("a picture before or after needs its photo")
        if self.kind is EventKind.DROPPED and not self.note:
            raise ValueError("say why the repair is dropped")
        return self


class DeliveryRow(BaseModel):
    """A piece with work on it."""

    piece_id: int
    tag: str
    name: str
    shelf: Shelf
    taken_in: dt.date
    faults: int
    open_repairs: int
    open_minutes: float
    taken_minutes: float
    cost: float
    grits: list[int]
    materials: list[str]
    returns: bool


class DeliveryOut(BaseModel):
    """Every piece that needs work, with hours, cost and what it takes."""

    rows: list[DeliveryRow]
    hourly_rate: float
    currency: str

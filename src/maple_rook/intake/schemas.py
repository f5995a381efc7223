"""Readings, observations and traced edges as they come in, and what became of them."""

from __future__ import annotations

import uuid
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, Field, StringConstraints

from maple_rook.answers.keys import Aspect, QuantityKey
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import ShortText, StorableText, Strict, TypedText

Note = Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=120)]


LongNote = Annotated[StorableText, StringConstraints(strip_whitespace=True, max_length=400)]


SmallKey = Annotated[str, StringConstraints(pattern=r"^[a-z0-9_.]{1,48}$")]


RowNumber = Annotated[int, Field(ge=1, le=MAX_ID)]


Millimetres = Annotated[float, Field(ge=0, le=1000)]


class ReadingIn(Strict):
    """A reading as typed or sent. ``client_id`` makes sending it twice harmless.

    ``above_edge_mm`` and ``along_mm`` say where a hardness indent stands, ``reference_id`` the
    block the tester was read on. ``typed`` may be an estimate (``~58``, ``58-60``) or what was
    told (``told 58``).
    """

    client_id: uuid.UUID
    quantity: QuantityKey
    typed: TypedText
    default_unit: Annotated[str, StringConstraints(max_length=8)] | None = None
    confirmed: bool = False
    taken_at: AwareDatetime | None = None
    instrument_id: RowNumber | None = None
    method: Literal["manual", "instrument"] = "manual"
    reference_id: RowNumber | None = None
    above_edge_mm: Millimetres | None = None
    along_mm: Millimetres | None = None
    note: LongNote = ""
    photo_id: RowNumber | None = None


class MethodIn(Strict):
    """What was read for a method without the usual instrument, by name."""

    given: Annotated[dict[SmallKey, float], Field(max_length=8)]


class MethodReadingIn(MethodIn):
    client_id: uuid.UUID
    confirmed: bool = False


class MethodFigureOut(BaseModel):
    """What a method says, with U (k = 2), in the unit of a bare number at the bench."""

    value: float
    expanded: float
    unit: str


class ObservationIn(Strict):
    """What was seen. ``replaces`` is the observation that stood when the writer looked."""

    client_id: uuid.UUID
    item: SmallKey
    aspect: Aspect = ""
    value: Annotated[str, StringConstraints(pattern=r"^[a-z0-9_,]{0,200}$")] = ""
    note: LongNote = ""
    replaces: uuid.UUID | None = None
    photo_id: RowNumber | None = None
    taken_at: AwareDatetime | None = None


class StationIn(Strict):
    """A gap under the straight edge at a distance from the heel, as typed."""

    at: TypedText
    gap: TypedText


class EdgeIn(Strict):
    """The edge on the board: gaps by station with the tip's height, or pasted coordinates.

    ``to_length`` stretches a trace in unknown units to the measured edge length.
    """

    source: Literal["stations", "columns", "svg"]
    text: Annotated[StorableText, StringConstraints(max_length=200_000)] = ""
    stations: Annotated[tuple[StationIn, ...], Field(max_length=200)] = ()
    tip_height: TypedText | None = None
    to_length: bool = False


class TraceIn(EdgeIn):
    client_id: uuid.UUID
    taken_at: AwareDatetime | None = None


class StoredOut(BaseModel):
    """What is in the record now; sent again, the same answer."""

    id: int
    client_id: uuid.UUID
    sheet_id: int
    replicate: int = 1


class VoidIn(Strict):
    reason: Annotated[ShortText, StringConstraints(max_length=200)] = "repeated"

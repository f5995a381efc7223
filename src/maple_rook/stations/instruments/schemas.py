from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from maple_rook.answers.keys import QuantityKey
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.http.schemas import ShortText, StorableText, Strict

Address = Annotated[
    str,
    StringConstraints(
        strip_whitespace=True,
        max_length=200,
        pattern=r"^(|([0-9A-Za-z.-]{1,190}|\[[0-9A-Fa-f:]{2,45}\]):[0-9]{1,5})$",
    ),
]


class InstrumentIn(Strict):
    """An instrument or a reference. Resolution and MPE in the base unit of its kind."""

    name: ShortText
    kind: InstrumentKind
    resolution: Annotated[float, Field(ge=0, le=100)]
    mpe: Annotated[float, Field(ge=0, le=100)]
    serial: Annotated[StorableText, StringConstraints(max_length=40)] = ""
    calibration_due: dt.date | None = None
    address: Address = ""
    certified: Annotated[float, Field(ge=20, le=70)] | None = None
    retired: bool = False


class InstrumentOut(BaseModel):
    """``overdue_days`` is positive once calibration is overdue; ``state`` is of its line."""

    id: int
    name: str
    kind: str
    measures: list[str]
    resolution: float
    mpe: float
    unit: str
    serial: str
    calibration_due: dt.date | None
    overdue_days: int | None
    address: str
    certified: float | None
    stand_in: bool
    retired: bool
    state: str
    words: str
    etag: str


class TakeIn(Strict):
    quantity: QuantityKey
    about: float | None = None


class TakenOut(BaseModel):
    """A reading an instrument gave, as it would be typed; nothing is stored by taking it."""

    instrument_id: int
    name: str
    typed: str
    client_id: uuid.UUID


class BenchEvent(BaseModel):
    """Something a Bench should know at once: an instrument, or a sheet that was written to."""

    what: Literal["instrument", "reading", "sheet"]
    instrument_id: int | None = None
    name: str = ""
    kind: str = ""
    state: str = ""
    words: str = ""
    typed: str = ""
    client_id: uuid.UUID | None = None
    sheet_id: int | None = None

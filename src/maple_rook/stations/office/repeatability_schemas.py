from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Self

from pydantic import BaseModel, Field, model_validator

from maple_rook.answers.keys import QuantityKey
from maple_rook.core.measurement.repeat_study import (
    LEAST_PEOPLE,
    LEAST_PIECES,
    LEAST_READINGS,
    VarianceParts,
)
from maple_rook.http.schemas import ShortText, Strict, TypedText
from maple_rook.intake.schemas import RowNumber


class ScatterOut(BaseModel):
    """Standard deviation of one reading, on so many degrees of freedom."""

    deviation: float
    freedom: int


class AdoptedOut(ScatterOut):
    """What was adopted: by whom, when, and whether from a repeat study."""

    between_people: float
    from_study: bool
    person: str
    recorded_at: dt.datetime


class RepeatabilityOut(BaseModel):
    """A quantity read with an instrument; deviations in ``unit``.

    ``usual`` is the assumption, ``own`` what the record's repeats show, ``used`` what uncertainties
    are counted with.
    """

    quantity: QuantityKey
    label: str
    unit: str
    instrument_id: int
    instrument: str
    usual: float
    own: ScatterOut | None
    adopted: AdoptedOut | None
    used: float
    worth_adopting: bool


class InstrumentChoice(BaseModel):
    """What a repeat study may be of."""

    id: int
    name: str
    quantities: list[QuantityKey]


class RepeatabilitiesOut(BaseModel):
    rows: list[RepeatabilityOut]
    instruments: list[InstrumentChoice]
    people: list[str]


class AdoptIn(Strict):
    """Count with the record's own repeats from now on, or with the usual assumption again."""

    client_id: uuid.UUID
    quantity: QuantityKey
    instrument_id: RowNumber
    own: bool


class StudyIn(Strict):
    """A repeat study: ``readings`` as typed, by person, piece and repeat."""

    client_id: uuid.UUID
    quantity: QuantityKey
    instrument_id: RowNumber
    people: Annotated[list[ShortText], Field(min_length=LEAST_PEOPLE, max_length=5)]
    pieces: Annotated[list[ShortText], Field(min_length=LEAST_PIECES, max_length=10)]
    readings: list[list[list[TypedText]]]

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        repeats = {len(of) for person in self.readings for of in person}
        whole = (
            len(self.readings) == len(self.people)
            and all(len(person) == len(self.pieces) for person in self.readings)
            and len(repeats) == 1
            and LEAST_READINGS <= min(repeats) <= 10
        )
        if not whole:
            raise ValueError("every person reads every piece as often: twice to ten times")
        return self


class StudyOut(BaseModel):
    """What a study found; standard deviations in ``unit``, shares of the whole variance."""

    unit: str
    repeatability: float
    between_people: float
    between_pieces: float
    freedom: int
    used: float
    shares: dict[str, float]

    @classmethod
    def of(cls, parts: VarianceParts, unit: str, used: float) -> Self:
        return cls(
            unit=unit,
            repeatability=parts.repeatability,
            between_people=parts.between_people,
            between_pieces=parts.between_pieces,
            freedom=parts.freedom,
            used=used,
            shares=parts.shares,
        )

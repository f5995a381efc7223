from __future__ import annotations

import datetime as dt
from typing import Annotated

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.http.schemas import Strict, storable


class CoefficientOut(BaseModel):
    """A coefficient as it stands and as published."""

    key: str
    label: str
    unit: str
    card: str
    card_name: str
    low: float
    high: float
    value: float
    published: float


class SetOut(BaseModel):
    """A version: what differs from the published values, who set it, when and why."""

    version: int
    recorded_at: dt.datetime
    person: str
    note: str
    changes: dict[str, float]


class CoefficientsOut(BaseModel):
    version: int | None
    coefficients: list[CoefficientOut]
    history: list[SetOut]
    etag: str


class CoefficientsIn(Strict):
    """What shall differ from the published values, and why."""

    changes: Annotated[dict[str, float], Field(max_length=60)]
    note: Annotated[
        str,
        StringConstraints(strip_whitespace=True, min_length=1, max_length=200),
        AfterValidator(storable),
    ]

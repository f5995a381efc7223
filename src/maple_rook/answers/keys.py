"""Keys of closed lists, as the API types what it takes and gives."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.quantities import QUANTITIES

KnifeTypeKey = Annotated[
    str, StringConstraints(max_length=40), Field(json_schema_extra={"enum": list(KNIFE_TYPES)})
]
QuantityKey = Annotated[
    str, StringConstraints(max_length=40), Field(json_schema_extra={"enum": list(QUANTITIES)})
]
Aspect = Literal["", "right", "left", "both", "push", "glide", "draw", "heel", "middle", "front"]

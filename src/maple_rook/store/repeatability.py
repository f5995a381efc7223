"""What the record says of the shop's scatter: repeats on its sheets, and what was adopted."""

from __future__ import annotations

import math
from collections import defaultdict
from typing import NamedTuple

from sqlalchemy import ColumnElement, Select, Subquery, case, func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.quantities import TAKEN
from maple_rook.core.measurement.repeat_study import Scatter, pooled
from maple_rook.store.tables import Instrument, Reading, ReadingVoid, Repeatability, Sheet

Key = tuple[str, int]
"""Quantity and instrument."""


def _newest() -> Select[Repeatability]:
    return (
        select(Repeatability)
        .ext(distinct_on(Repeatability.quantity, Repeatability.instrument_id))
        .order_by(Repeatability.quantity, Repeatability.instrument_id, Repeatability.id.desc())
    )


def adopted() -> Subquery:
    """The newest row of every quantity and instrument, to join readings with."""
    return _newest().subquery("adopted")


def of_reading(adopted: Subquery) -> ColumnElement[bool]:
    """What joins a reading with the row of its quantity and instrument."""
    return (adopted.c.quantity == Reading.quantity) & (
        adopted.c.instrument_id == Reading.instrument_id
    )


class Terms(NamedTuple):
    """What the uncertainty of a reading is made of, as columns of a query."""

    resolution: ColumnElement[float]
    mpe: ColumnElement[float]
    deviation: ColumnElement[float | None]
    between_people: ColumnElement[float | None]


def uncertainty_terms(adopted: Subquery) -> Terms:
    """Of its instrument and the shop's scatter, or of the reading's own uncertainty alone."""
    own = Reading.standard_uncertainty
    return Terms(
        case((own.is_(None), func.greatest(Instrument.resolution, Reading.typed_step)), else_=0.0),
        func.coalesce(own * math.sqrt(3), Instrument.mpe),
        case((own.is_not(None), 0.0), else_=adopted.c.deviation),
        case((own.is_(None), adopted.c.between_people)),
    )


def in_use(db: Session) -> dict[Key, Repeatability]:
    """What counts now, by quantity and instrument."""
    return {(row.quantity, row.instrument_id): row for row in db.scalars(_newest())}


def used(
    quantity: str, deviation: float | None, between_people: float | None
) -> tuple[float, float]:
    """Repeatability s_0 and deviation between people, as adopted or else as benches usually have.

    >>> used("weight", None, None)
    (0.3, 0.0)
    """
    usual = TAKEN[quantity].repeatability
    return (usual if deviation is None else deviation, between_people or 0.0)


def own_repeats(db: Session) -> dict[Key, Scatter]:
    """Scatter within the repeats of each sheet, place and person, by quantity and instrument."""
    repeats = (
        select(
            Reading.quantity,
            Reading.instrument_id,
            func.count(),
            func.stddev_samp(Reading.si_value),
        )
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
        .where(
            ReadingVoid.reading_id.is_(None),
            Sheet.set_aside.is_(None),
            Reading.kind == FigureKind.MEASURED,
            Reading.standard_uncertainty.is_(None),
            Reading.instrument_id.is_not(None),
        )
        .group_by(
            Reading.sheet_id,
            Reading.quantity,
            Reading.instrument_id,
            Reading.station,
            Reading.person_id,
        )
        .having(func.count() > 1)
    )
    groups: dict[Key, list[tuple[int, float]]] = defaultdict(list)
    for quantity, instrument_id, n, deviation in db.execute(repeats):
        groups[quantity, instrument_id].append((n, deviation))
    return {key: pooled(of) for key, of in groups.items()}

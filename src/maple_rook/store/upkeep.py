"""The workshop, upkeep plans and the log of what was done, in the core's terms."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.uncertainty import Figure, figure_from_statistics
from maple_rook.core.upkeep.grinding import Stone
from maple_rook.core.upkeep.plan import RAISES_THE_EDGE, EdgeCare
from maple_rook.core.upkeep.setup import Spacer
from maple_rook.core.upkeep.wear import Limits, Lowered
from maple_rook.core.upkeep.workshop import Workshop
from maple_rook.store import repeatability
from maple_rook.store.tables import Instrument, Reading, ReadingVoid, Sheet
from maple_rook.store.upkeep_tables import DoneRow, DoneVoid, PlanMark, PlanRow, WorkshopSet

LOGGED_U_MM = 0.05
"""Standard uncertainty of a height or thickness written into the log (assumption)."""


def newest_workshop(db: Session) -> WorkshopSet | None:
    return db.scalars(select(WorkshopSet).order_by(WorkshopSet.id.desc()).limit(1)).first()


def workshop(db: Session) -> Workshop:
    """The workshop as it stands; what every shop starts from where nothing was set."""
    row = newest_workshop(db)
    return Workshop() if row is None else _workshop(row.workshop)


def stored_workshop(found: Workshop) -> dict[str, Any]:
    """A workshop as it is stored; :func:`workshop` reads it back."""
    return asdict(found)


def _workshop(stored: Mapping[str, Any]) -> Workshop:
    return Workshop(
        tuple(Spacer(**s) for s in stored["spacers"]),
        tuple(Stone(**s) for s in stored["stones"]),
        float(stored["hourly_rate"]),
        Limits(**stored["limits"]),
        float(stored.get("sharpening_charge", 0.0)),
    )


def plans(db: Session, piece_id: int | None = None) -> list[PlanRow]:
    """Plans that run, oldest first; of one piece where it is named."""
    newest = (
        select(PlanMark.plan_id, PlanMark.ended)
        .ext(distinct_on(PlanMark.plan_id))
        .order_by(PlanMark.plan_id, PlanMark.id.desc())
        .subquery()
    )
    query = (
        select(PlanRow)
        .outerjoin(newest, newest.c.plan_id == PlanRow.id)
        .where(func.coalesce(newest.c.ended, False).is_(False))
        .options(joinedload(PlanRow.person))
        .order_by(PlanRow.id)
    )
    if piece_id is not None:
        query = query.where(PlanRow.piece_id == piece_id)
    return list(db.scalars(query))


@dataclass(frozen=True)
class Logged:
    """An entry of the log, and why it no longer counts where it was struck out."""

    row: DoneRow
    voided: str | None

    @property
    def care(self) -> EdgeCare:
        return EdgeCare(self.row.care)


def log(db: Session, piece_ids: Iterable[int] | None = None) -> dict[int, list[Logged]]:
    """Entries of the log by piece, the oldest day first."""
    query = (
        select(DoneRow, DoneVoid.reason)
        .outerjoin(DoneVoid, DoneVoid.done_id == DoneRow.id)
        .options(joinedload(DoneRow.person))
        .order_by(DoneRow.done_on, DoneRow.id)
    )
    if piece_ids is not None:
        query = query.where(DoneRow.piece_id.in_(list(piece_ids)))
    found: dict[int, list[Logged]] = defaultdict(list)
    for row, reason in db.execute(query):
        found[row.piece_id].append(Logged(row, reason))
    return found


@dataclass(frozen=True)
class Measured:
    """A figure of a day, from a sheet or the log."""

    on: dt.date
    figure: Figure


def measured(
    db: Session, piece_ids: Sequence[int], quantity: str, entries: Mapping[int, Sequence[Logged]]
) -> dict[int, list[Measured]]:
    """Every height or thickness of pieces by day: each sheet's own, then what the log wrote."""
    adopted = repeatability.adopted()
    query = (
        select(
            Sheet.piece_id,
            func.min(Reading.taken_at),
            func.avg(Reading.si_value),
            func.count(),
            func.coalesce(func.stddev_samp(Reading.si_value), 0.0),
            func.max(Reading.si_value) - func.min(Reading.si_value),
            *(func.max(term) for term in repeatability.uncertainty_terms(adopted)),
        )
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .outerjoin(Instrument, Instrument.id == Reading.instrument_id)
        .outerjoin(adopted, repeatability.of_reading(adopted))
        .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
        .where(
            Sheet.piece_id.in_(list(piece_ids)),
            Reading.quantity == quantity,
            Reading.kind == FigureKind.MEASURED,
            ReadingVoid.reading_id.is_(None),
            Sheet.set_aside.is_(None),
        )
        .group_by(Sheet.piece_id, Sheet.id)
    )
    found: dict[int, list[Measured]] = {key: [] for key in piece_ids}
    for piece_id, at, *numbers, deviation, people in db.execute(query):
        figure = figure_from_statistics(
            *[*numbers, *repeatability.used(quantity, deviation, people)]
        )
        found[piece_id].append(Measured(at.date(), figure))
    column = {"height_heel": "height_mm", "thickness_behind_edge": "behind_edge_mm"}[quantity]
    for piece_id in piece_ids:
        for entry in entries.get(piece_id, ()):
            value = getattr(entry.row, column)
            if value is not None and entry.voided is None:
                found[piece_id].append(Measured(entry.row.done_on, Figure(value, LOGGED_U_MM)))
        found[piece_id].sort(key=lambda m: m.on)
    return found


def lowered(heights: Sequence[Measured], entries: Sequence[Logged]) -> list[Lowered]:
    """Height lost between two measurements with sharpenings between them, of one piece.

    A height written with a sharpening was taken after it.
    """
    days = [e.row.done_on for e in entries if e.voided is None and e.care in RAISES_THE_EDGE]
    found, start = [], 0
    for at in range(1, len(heights)):
        first, last = heights[start], heights[at]
        count = sum(first.on < day <= last.on for day in days)
        if count:
            lost = first.figure.mean - last.figure.mean
            u = (first.figure.standard_uncertainty**2 + last.figure.standard_uncertainty**2) ** 0.5
            found.append(Lowered(count, Figure(lost, u)))
            start = at
    return found

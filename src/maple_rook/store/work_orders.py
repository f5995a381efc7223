"""Work orders: repairs, what happened to each, and what the Bench saw that asks for them."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from sqlalchemy import and_, or_, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, joinedload, selectinload

from maple_rook.core.labelled import Labelled
from maple_rook.core.upkeep.finish_work import (
    METHODS,
    TELLING,
    Fault,
    FinishState,
    Shelf,
    faults,
)
from maple_rook.store.tables import Observation, Sheet
from maple_rook.store.upkeep_tables import RepairRow, WorkEventRow, WorkOrderRow


class EventKind(Labelled):
    BEFORE = "before"
    AFTER = "after"
    DONE = "done"
    RECHECK = "recheck", "re-check"
    DROPPED = "dropped"


class RepairState(Labelled):
    ORDERED = "ordered"
    DONE = "done", "done, to be re-checked"
    CLOSED = "closed"
    DROPPED = "dropped"


PASSES = "fine"


def state_of(events: Sequence[WorkEventRow]) -> RepairState:
    """Where a repair stands: a re-check that does not pass opens it again."""
    state = RepairState.ORDERED
    for event in events:
        if event.kind == EventKind.DONE:
            state = RepairState.DONE
        elif event.kind == EventKind.RECHECK:
            state = RepairState.CLOSED if event.value == PASSES else RepairState.ORDERED
        elif event.kind == EventKind.DROPPED:
            state = RepairState.DROPPED
    return state


def orders(db: Session, piece_ids: Iterable[int] | None = None) -> list[WorkOrderRow]:
    """Work orders with repairs and events, newest first."""
    query = (
        select(WorkOrderRow)
        .options(
            joinedload(WorkOrderRow.person),
            selectinload(WorkOrderRow.repairs)
            .selectinload(RepairRow.events)
            .joinedload(WorkEventRow.person),
        )
        .order_by(WorkOrderRow.id.desc())
    )
    if piece_ids is not None:
        query = query.where(WorkOrderRow.piece_id.in_(list(piece_ids)))
    return list(db.scalars(query))


class Spotted(NamedTuple):
    """A fault with the observation that says so."""

    fault: Fault
    seen_id: int
    sheet_id: int


@dataclass(frozen=True)
class Finish:
    """What the sheets of a piece say of its finish: faults that stand, and the verdict."""

    spotted: list[Spotted]
    verdict: str | None

    @property
    def shelf(self) -> Shelf:
        return self.state.shelf

    @property
    def state(self) -> FinishState:
        return FinishState.of(self.verdict, [s.fault for s in self.spotted])


_TOLD = (*METHODS, "to_mend", "verdict")


def faulty_pieces(db: Session) -> list[int]:
    """Pieces of which a sheet says that something is to be repaired or returned."""
    query = (
        select(Sheet.piece_id)
        .join(Observation, Observation.sheet_id == Sheet.id)
        .where(
            Observation.item.in_(_TOLD),
            Sheet.set_aside.is_(None),
            or_(
                Observation.value.in_(TELLING),
                and_(Observation.item == "to_mend", Observation.note != ""),
            ),
        )
        .distinct()
        .order_by(Sheet.piece_id)
    )
    return list(db.scalars(query))


def finishes(db: Session, piece_ids: Sequence[int]) -> dict[int, Finish]:
    """The finish of pieces; the newest sheet's word on each item and side stands.

    A fault whose repair was dropped, or passed its re-check, stands no longer until it is
    seen again.
    """
    query = (
        select(
            Sheet.piece_id,
            Sheet.id,
            Observation.id,
            Observation.item,
            Observation.aspect,
            Observation.value,
            Observation.note,
        )
        .join(Sheet, Sheet.id == Observation.sheet_id)
        .where(
            Sheet.piece_id.in_(list(piece_ids)),
            Observation.item.in_(_TOLD),
            Sheet.set_aside.is_(None),
        )
        .ext(distinct_on(Sheet.piece_id, Observation.item, Observation.aspect))
        .order_by(
            Sheet.piece_id,
            Observation.item,
            Observation.aspect,
            Observation.sheet_id.desc(),
            Observation.id.desc(),
        )
    )
    settled: dict[int, set[int]] | None = None
    spotted: dict[int, list[Spotted]] = {key: [] for key in piece_ids}
    verdicts: dict[int, str] = {}
    for piece_id, sheet_id, seen_id, *row in db.execute(query):
        if row[0] == "verdict":
            verdicts[piece_id] = row[2]
        for fault in faults([(row[0], row[1], row[2], row[3])]):
            settled = settled if settled is not None else _settled(db, piece_ids)
            if seen_id not in settled.get(piece_id, ()):
                spotted[piece_id].append(Spotted(fault, seen_id, sheet_id))
    return {key: Finish(spotted[key], verdicts.get(key)) for key in piece_ids}


def _settled(db: Session, piece_ids: Sequence[int]) -> dict[int, set[int]]:
    """Observations that a dropped or closed repair has answered, by piece."""
    found: dict[int, set[int]] = {}
    for order in orders(db, piece_ids):
        for repair in order.repairs:
            over = state_of(repair.events) in (RepairState.DROPPED, RepairState.CLOSED)
            if over and repair.seen_id is not None:
                found.setdefault(order.piece_id, set()).add(repair.seen_id)
    return found

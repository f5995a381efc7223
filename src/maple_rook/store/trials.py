"""The record's trials in the core's terms, and what a shop's coefficients are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from sqlalchemy import Subquery, func, select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session, joinedload

from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    EdgeState,
    FoodMix,
    Kitchen,
    Technique,
    Use,
)
from maple_rook.core.edge_life.trials import Event, Point, Protocol, Trial, TrialKind
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients, coefficients
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evidence import Tried
from maple_rook.store import records
from maple_rook.store.cut_tables import CutMark, CutRow
from maple_rook.store.tables import EdgeTrace, Observation, Reading, ReadingVoid, Shop
from maple_rook.store.trial_tables import (
    CoefficientSet,
    TrialMark,
    TrialPoint,
    TrialProtocol,
    TrialRow,
)


@dataclass(frozen=True)
class Recorded:
    """A trial's row and what stands of it."""

    row: TrialRow
    tried: Tried


def kitchen_from(stored: dict[str, Any]) -> Kitchen:
    """The kitchen of a stored one; :func:`dataclasses.asdict` stores it.

    Files of earlier releases call the food mix a job.
    """
    return Kitchen(
        Use(stored["use"]),
        BoardMaterial(stored["board"]),
        Technique(stored["technique"]),
        bool(stored["honed"]),
        FoodMix(stored.get("food_mix") or stored["job"]),
        EdgeState(stored["edge"]),
        tuple((key, part) for key, part in stored.get("shares", ())),
        stored.get("stroke", ""),
    )


def stored_protocol(protocol: Protocol) -> dict[str, Any]:
    """A protocol as it is stored; :func:`protocol_from` reads it back."""
    return asdict(protocol)


def protocol_from(stored: dict[str, Any]) -> Protocol:
    kitchen = stored.get("kitchen")
    return Protocol(**{**stored, "kitchen": kitchen_from(kitchen) if kitchen else None})


_WITH_NAMES = (joinedload(TrialRow.instrument), joinedload(TrialRow.person))


def recorded(db: Session, ids: Sequence[int] | None = None) -> list[Recorded]:
    """Every trial with what stands of it, newest first, or those asked for in their order."""
    query = select(TrialRow).options(*_WITH_NAMES)
    if ids is None:
        newest = (TrialRow.started_at.desc(), TrialRow.id.desc())
        return _with_what_stands(db, list(db.scalars(query.order_by(*newest))))
    found = {row.id: row for row in db.scalars(query.where(TrialRow.id.in_(ids)))}
    for key in ids:
        if key not in found:
            raise records.NotFound("trial", key)
    return _with_what_stands(db, [found[key] for key in ids])


def of_kind(db: Session, kind: TrialKind, limit: int) -> list[Recorded]:
    """The newest trials of a kind."""
    query = select(TrialRow).options(*_WITH_NAMES).where(TrialRow.kind == kind)
    newest = query.order_by(TrialRow.started_at.desc(), TrialRow.id.desc()).limit(limit)
    return _with_what_stands(db, list(db.scalars(newest)))


def counts(db: Session) -> dict[TrialKind, int]:
    """How many trials of each kind the record has."""
    rows = db.execute(select(TrialRow.kind, func.count()).group_by(TrialRow.kind))
    found = {kind: number for kind, number in rows}  # noqa: C416 - rows are no pairs to mypy
    return {kind: found.get(kind, 0) for kind in TrialKind}


def of_piece(db: Session, piece_id: int, blade: Blade, limit: int = 12) -> list[Recorded]:
    """The newest trials of one piece, whose blade is known."""
    query = select(TrialRow).options(*_WITH_NAMES)
    rows = db.scalars(
        query.where(TrialRow.piece_id == piece_id).order_by(TrialRow.id.desc()).limit(limit)
    )
    return _with_what_stands(db, list(rows), {piece_id: blade})


def _blades_of(db: Session, rows: list[TrialRow]) -> dict[int, Blade]:
    pieces = list(dict.fromkeys(row.piece_id for row in rows))
    made = records.blades(db, records.pieces(db, pieces), records.figures(db, pieces))
    return dict(zip(pieces, made, strict=True))


def _with_what_stands(
    db: Session, rows: list[TrialRow], known: dict[int, Blade] | None = None
) -> list[Recorded]:
    if not rows:
        return []
    ids = [row.id for row in rows]
    blades = known or _blades_of(db, rows)
    points, protocols = _points(db, ids), _protocols(db, ids)
    aside = _set_aside(db, ids)
    demo = bool(db.scalar(select(Shop.demo)))
    found = []
    for row in rows:
        blade = blades[row.piece_id]
        stand_in = row.instrument is not None and row.instrument.stand_in
        trial = Trial(
            TrialKind(row.kind),
            protocols[row.id],
            tuple(points[row.id]),
            simulated=stand_in and not demo,
            single_bevel=blade.single_bevel,
        )
        tried = Tried(row.id, row.piece_id, blade, trial, aside.get(row.id, ""))
        found.append(Recorded(row, tried))
    return found


def _points(db: Session, ids: Iterable[int]) -> dict[int, list[Point]]:
    """The newest point of each x, withdrawn ones left out."""
    query = (
        select(TrialPoint.trial_id, TrialPoint.x, TrialPoint.value, TrialPoint.event)
        .where(TrialPoint.trial_id.in_(list(ids)))
        .ext(distinct_on(TrialPoint.trial_id, TrialPoint.x))
        .order_by(TrialPoint.trial_id, TrialPoint.x, TrialPoint.id.desc())
    )
    found: dict[int, list[Point]] = defaultdict(list)
    for trial, x, value, event in db.execute(query):
        if value is not None or event:
            found[trial].append(Point(x, value, Event(event) if event else None))
    return found


def _protocols(db: Session, ids: Iterable[int]) -> dict[int, Protocol]:
    query = (
        select(TrialProtocol.trial_id, TrialProtocol.protocol)
        .where(TrialProtocol.trial_id.in_(list(ids)))
        .ext(distinct_on(TrialProtocol.trial_id))
        .order_by(TrialProtocol.trial_id, TrialProtocol.id.desc())
    )
    return {trial: protocol_from(stored) for trial, stored in db.execute(query)}


def _set_aside(db: Session, ids: Iterable[int]) -> dict[int, str]:
    query = (
        select(TrialMark.trial_id, TrialMark.reason)
        .where(TrialMark.trial_id.in_(list(ids)))
        .ext(distinct_on(TrialMark.trial_id))
        .order_by(TrialMark.trial_id, TrialMark.id.desc())
    )
    return {trial: reason for trial, reason in db.execute(query) if reason}


@dataclass(frozen=True)
class Standing:
    """What stands of a trial, without the knife: its protocol as stored, points, why set aside."""

    protocol: dict[str, Any]
    points: list[Point]
    set_aside: str


def trials_as_they_stand(db: Session, ids: Sequence[int]) -> dict[int, Standing]:
    """What stands of trials, by trial."""
    points, protocols, aside = _points(db, ids), _protocols(db, ids), _set_aside(db, ids)
    return {
        key: Standing(
            stored_protocol(protocols.get(key, Protocol())), points[key], aside.get(key, "")
        )
        for key in ids
    }


def newest_set(db: Session) -> CoefficientSet | None:
    """The coefficients that stand, or None while they are as published."""
    return db.scalars(select(CoefficientSet).order_by(CoefficientSet.id.desc()).limit(1)).first()


def coefficients_of(row: CoefficientSet | None) -> Coefficients:
    """The core's coefficients of a stored set; the published themselves where nothing differs."""
    return coefficients(row.changes) if row and row.changes else PUBLISHED


def whole_mark(db: Session) -> tuple[object, ...]:
    """Changes with anything a calibration could rest on: one look at the ends of some indexes."""
    newest = [
        select(func.max(column)).scalar_subquery()
        for column in (
            TrialRow.id,
            TrialPoint.id,
            TrialProtocol.id,
            TrialMark.id,
            CutRow.id,
            CutMark.id,
            CoefficientSet.id,
            Reading.id,
            Observation.id,
            EdgeTrace.id,
        )
    ]
    voids = select(func.count()).select_from(ReadingVoid).scalar_subquery()
    return tuple(db.execute(select(*newest, voids)).one())


def trial_marks(db: Session) -> dict[int, tuple[int, object]]:
    """A mark per trial, newest first: its piece, and the newest point, protocol and mark of it."""

    def newest(table: type[TrialPoint | TrialProtocol | TrialMark]) -> Subquery:
        ids = select(table.trial_id, func.max(table.id).label("id")).group_by(table.trial_id)
        return ids.subquery()

    parts = [newest(table) for table in (TrialPoint, TrialProtocol, TrialMark)]
    query = select(TrialRow.id, TrialRow.piece_id, *(part.c.id for part in parts))
    for part in parts:
        query = query.outerjoin(part, part.c.trial_id == TrialRow.id)
    rows = db.execute(query.order_by(TrialRow.started_at.desc(), TrialRow.id.desc()))
    return {key: (piece, tuple(mark)) for key, piece, *mark in rows}

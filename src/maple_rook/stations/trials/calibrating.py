"""Predicted against observed: what the shop's trials say of the models."""

from __future__ import annotations

import math

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.answers.trials import shown
from maple_rook.core.edge_life.calibration import CLASSES, Posterior
from maple_rook.core.edge_life.life_model import TRIED
from maple_rook.core.edge_life.steels import GradeClass
from maple_rook.core.measurement.uncertainty import Z_90
from maple_rook.core.prediction.evidence import Calibration, Evidence
from maple_rook.core.prediction.model_cards import card
from maple_rook.core.prediction.next_step import narrowed
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.trials.schemas import (
    CalibrationOut,
    ClassOut,
    EvidenceOut,
    TargetOut,
    TryNextOut,
)
from maple_rook.store import trials as trial_store
from maple_rook.store.records import piece_names
from maple_rook.store.shelf_tables import ShelfRow

TRY_NEXT, TAGS_SHOWN, LEFT_OUT_SHOWN = 3, 6, 30


def calibration_out(db: Session, shelf: Shelf, found: Calibration) -> CalibrationOut:
    left_out = trial_store.recorded(db, found.not_counted[:LEFT_OUT_SHOWN])
    tried = [row.piece_id for rows in found.rows.values() for row in rows]
    names = piece_names(db, [*tried, *(r.row.piece_id for r in left_out)])
    newest = trial_store.newest_set(db)
    return CalibrationOut(
        targets=[_target(found, key, names) for key in TRIED],
        left_out=[shown(r, names) for r in left_out],
        left_out_total=len(found.not_counted),
        coefficients_version=newest.id if newest else None,
        try_next=_try_next(db, shelf, found),
    )


def _target(found: Calibration, key: str, names: dict[int, tuple[str, str]]) -> TargetOut:
    rows, left_out = found.rows[key], found.left_out[key]
    before, after = found.before.posteriors[key], found.after.posteriors[key]
    told = [
        _row(row, names[row.piece_id][0], float(left_out.mean[i]), float(left_out.sd[i]))
        for i, row in enumerate(rows)
    ]
    model = card(key)
    return TargetOut(
        key=key,
        label=model.name,
        unit=model.unit,
        rows=told,
        classes=[
            ClassOut(
                grade_class=c.value,
                pieces=sum(r.grade_class is c for r in rows),
                before=_offset(before, c),
                after=_offset(after, c),
            )
            for c in CLASSES
        ],
        scatter_before=before.scatter,
        scatter_after=after.scatter,
        error_published=None if math.isnan(left_out.rms_published) else left_out.rms_published,
        error_left_out=None if math.isnan(left_out.rms) else left_out.rms,
        inside=sum(row.inside for row in told),
    )


def _row(row: Evidence, tag: str, mean: float, sd: float) -> EvidenceOut:
    low, high = (row.predicted * math.exp(mean + z * sd) for z in (-Z_90, Z_90))
    return EvidenceOut(
        piece_id=row.piece_id,
        tag=tag,
        trial_ids=list(row.trial_ids),
        grade_class=row.grade_class.value,
        observed=row.observed,
        predicted=row.predicted,
        expected=row.predicted * math.exp(mean),
        expected_low=low,
        expected_high=high,
        inside=low <= row.observed <= high,
    )


def _offset(posterior: Posterior, grade_class: GradeClass) -> list[float]:
    """Per cent over published, and U in per cent points."""
    mean, sd = posterior.offset(grade_class)
    return [100 * math.expm1(mean), 200 * sd]


def _try_next(db: Session, shelf: Shelf, found: Calibration) -> list[TryNextOut]:
    """The classes on the shelf whose card-test interval one more trial narrows most."""
    shelf.catch_up(db)
    known = (ShelfRow.predicted.has_key("months_to_stone"), ShelfRow.grade_class.is_not(None))
    placed = (
        select(
            ShelfRow.grade_class,
            ShelfRow.tag,
            ShelfRow.piece_id,
            func.row_number()
            .over(partition_by=ShelfRow.grade_class, order_by=ShelfRow.tag)
            .label("n"),
        )
        .where(*known)
        .subquery()
    )
    firsts = select(placed).where(placed.c.n <= TAGS_SHOWN).order_by(placed.c.tag)
    by_class: dict[GradeClass, list[str]] = {}
    for row in db.execute(firsts):
        by_class.setdefault(GradeClass(row.grade_class), []).append(row.tag)
    card_test = found.after.posteriors["card_test"]
    steps = []
    for grade_class, tags in by_class.items():
        now, then = card_test.offset(grade_class)[1], card_test.after_one_more(grade_class)
        whole = now**2 + card_test.scatter**2
        gain = narrowed([(now**2 / whole, (then / now) ** 2)])
        steps.append(TryNextOut(grade_class=grade_class.value, gain=gain, knives=tags))
    return sorted(steps, key=lambda step: -step.gain)[:TRY_NEXT]

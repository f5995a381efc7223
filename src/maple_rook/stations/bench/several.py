"""Several sheets together: a repeat against the first, and a model over its pieces."""

from __future__ import annotations

import math

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.figures import FigureOut
from maple_rook.core.choosing.comparing import (
    Verdict,
    difference_uncertainty,
    noticeable_amount,
    pair_verdict,
)
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.piece_statistics import piece_statistics, pieces_needed
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.thresholds import as_set
from maple_rook.core.measurement.wording import listed
from maple_rook.http.problems import Conflict
from maple_rook.stations.bench.schemas import ModelRow, ModelStatisticsOut, RepeatOut, RepeatRow
from maple_rook.store import records
from maple_rook.store.tables import KnifeModel, Piece, Sheet

_WEAR = {"thickness_behind_edge": 1, "height_heel": -1, "height_mid": -1, "weight": -1}
"""Which way sharpening moves a figure: thicker behind the edge, lower, lighter."""


def repeat(db: Session, c: Coefficients, later_id: int, earlier_id: int) -> RepeatOut:
    """Two sheets of one piece, quantity by quantity: what really changed."""
    later = records.get(db, Sheet, "sheet", later_id)
    earlier = records.get(db, Sheet, "sheet", earlier_id)
    if later.piece_id != earlier.piece_id:
        raise Conflict("The two sheets are of different pieces.")
    before, after = records.sheet_figures(db, earlier_id), records.sheet_figures(db, later_id)
    rows = []
    for key, q in QUANTITIES.items():
        if key not in before or key not in after:
            continue
        a, b = before[key], after[key]
        rows.append(
            RepeatRow(
                key=key,
                label=q.label,
                unit=q.unit,
                earlier=FigureOut.of(a),
                later=FigureOut.of(b),
                difference=b.mean - a.mean,
                expanded=difference_uncertainty(a, b),
                verdict=pair_verdict(a, b, as_set(q.noticeable, c)).value,
            )
        )
    return RepeatOut(
        earlier_id=earlier_id,
        later_id=later_id,
        earlier_person=earlier.person.name,
        later_person=later.person.name,
        earlier_at=earlier.started_at,
        later_at=later.started_at,
        rows=rows,
        words=_words(rows, earlier.person.name, later.person.name),
    )


def _words(rows: list[RepeatRow], first: str, second: str) -> str:
    """Whether the two sheets differ by wear, by who measured, or not at all."""
    changed = [r for r in rows if r.verdict != Verdict.NOT_MEASURABLE.value]
    if not rows:
        return "The two sheets have no quantity in common."
    if not changed:
        return f"All {len(rows)} figures agree within measurement: nothing has changed."
    worn = [r for r in changed if _WEAR.get(r.key, 0) * r.difference > 0]
    others = [r for r in changed if r not in worn]
    if worn and not others:
        return f"{_listed(worn)} moved as sharpening moves them: this is wear."
    who = f"{first} and {second}" if first != second else f"{first}, twice,"
    if others and not worn:
        return (
            f"{_listed(others)} differ, and not as wear would: {who} may have measured at another "
            "place or in another way."
        )
    return (
        f"{_listed(worn)} moved as sharpening moves them; {_listed(others)} did not: look at how "
        f"{who} measured."
    )


def _listed(rows: list[RepeatRow]) -> str:
    text = listed([r.label for r in rows])
    return text[0].upper() + text[1:]


def model_statistics(
    db: Session, c: Coefficients, model_id: int, precision: float
) -> ModelStatisticsOut:
    """A model over its pieces; the precision wanted is a share of what is noticeable."""
    model = records.get(db, KnifeModel, "model", model_id)
    ids = list(db.scalars(select(Piece.id).where(Piece.model_id == model_id)))
    figures = records.figures(db, ids)
    rows = []
    for key, q in QUANTITIES.items():
        known = [
            f[key] for f in figures.values() if key in f and f[key].kind is FigureKind.MEASURED
        ]
        threshold = as_set(q.noticeable, c)
        if not known or threshold is None:
            continue
        s = piece_statistics([f.mean for f in known])
        wanted = precision * noticeable_amount(known[0], known[0], threshold)
        rows.append(
            ModelRow(
                key=key,
                label=q.label,
                unit=q.unit,
                n=s.n,
                mean=s.mean,
                deviation=_or_none(s.deviation),
                mean_half_width=_or_none(s.mean_half_width),
                next_half_width=_or_none(s.next_half_width),
                wanted=wanted,
                needed=pieces_needed(s.deviation, wanted),
            )
        )
    return ModelStatisticsOut(
        model_id=model_id, name=records.model_name(model), pieces=len(ids), rows=rows
    )


def _or_none(value: float) -> float | None:
    return None if math.isnan(value) else value

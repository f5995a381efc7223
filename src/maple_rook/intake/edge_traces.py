"""The edge on the board, by stations or traced: understand it, show it, keep it."""

from __future__ import annotations

import datetime as dt

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.answers.shape import ProfileOut, profile_out
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.profile import EdgeCurve, from_points, from_stations
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.units import Dimension
from maple_rook.formats.edge_trace import Point, read_columns, read_svg
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.intake.readings import SIGNED_OFF
from maple_rook.intake.schemas import EdgeIn, StoredOut, TraceIn
from maple_rook.store import records
from maple_rook.store.tables import EdgeTrace, Sheet

LENGTH_SLACK = 0.03
"""A trace this far from the measured edge length, relative, is of another scale or knife."""


def preview(db: Session, sheet_id: int, asked: EdgeIn) -> ProfileOut:
    return profile_out(_understood(db, sheet_id, asked), None, inferred=False)


def keep(db: Session, person: Somebody, sheet_id: int, asked: TraceIn) -> StoredOut:
    known = db.scalar(select(EdgeTrace).where(EdgeTrace.client_id == asked.client_id))
    if known is None:
        if records.get(db, Sheet, "sheet", sheet_id).finished_at is not None:
            raise Conflict(SIGNED_OFF)
        curve = _understood(db, sheet_id, asked)
        row = {
            "client_id": asked.client_id,
            "sheet_id": sheet_id,
            "source": asked.source,
            "given": asked.text or _as_text(asked),
            "points": stored_points(curve),
            "taken_at": asked.taken_at or dt.datetime.now(dt.UTC),
            "person_id": person.id,
        }
        db.execute(insert(EdgeTrace).values(row).on_conflict_do_nothing())
        db.commit()
        known = db.scalars(select(EdgeTrace).where(EdgeTrace.client_id == asked.client_id)).one()
    return StoredOut(id=known.id, client_id=known.client_id, sheet_id=known.sheet_id)


def _as_text(asked: EdgeIn) -> str:
    lines = [f"{s.at}; {s.gap}" for s in asked.stations]
    return "\n".join([*lines, f"tip; {asked.tip_height or 'not given'}"])


def _understood(db: Session, sheet_id: int, asked: EdgeIn) -> EdgeCurve:
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    figures = records.figures(db, [sheet.piece_id])[sheet.piece_id]
    edge = figures.get("edge_length")
    if asked.source == "stations":
        if edge is None:
            raise Conflict("Measure the edge length first: the tip's station lies there.")
        if asked.tip_height is None:
            raise InvalidValue("tip height", "nothing", "a height above the board, such as 14 mm")
        stations = [
            (_mm(s.at, "distance from the heel"), _mm(s.gap, "gap")) for s in asked.stations
        ]
        return from_stations(edge.mean, stations, _mm(asked.tip_height, "tip height"))
    points = read_svg(asked.text) if asked.source == "svg" else read_columns(asked.text)
    if edge is None:
        return from_points(points)
    if asked.to_length:
        return from_points(_stretched(points, edge.mean))
    curve = from_points(points)
    hint = "If it was traced at another scale, choose to stretch it to the measured length."
    check_length(curve, edge.mean, hint)
    return curve


def check_length(curve: EdgeCurve, measured_mm: float, hint: str = "") -> None:
    """Refuse a trace that is of another scale, or of another knife, than was measured."""
    if abs(curve.length_mm - measured_mm) > LENGTH_SLACK * measured_mm:
        raise InvalidValue(
            "traced edge",
            f"{curve.length_mm:.4g} mm long",
            f"within 3 % of the measured edge length, {measured_mm:.4g} mm",
            hint=hint,
        )


def stored_points(curve: EdgeCurve) -> list[list[float]]:
    """The points of an edge as the record keeps them, to a micrometre along it and finer above."""
    return [
        [round(float(x), 3), round(float(y), 4) + 0.0]
        for x, y in zip(curve.x_mm, curve.y_mm, strict=True)
    ]


def _stretched(points: list[Point], length_mm: float) -> list[Point]:
    """Both directions by one factor, so that the trace is as long as the edge measures."""
    span = abs(points[-1][0] - points[0][0])
    if span <= 0:
        raise InvalidValue("traced edge", "no length", "points from heel to tip")
    factor = length_mm / span
    return [(x * factor, y * factor) for x, y in points]


def _mm(text: str, field: str) -> float:
    typed = parse_typed(text, Dimension.LENGTH, field=field)
    if typed.is_band:
        raise InvalidValue(field, text, "one reading, not a band")
    return typed.base_value

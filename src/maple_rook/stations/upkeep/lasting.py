"""What sharpening does to one knife over the years, the log of it, and its care card."""

from __future__ import annotations

import datetime as dt
from typing import Any

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut, blade_outline, card_figures
from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.observations import Seen
from maple_rook.core.upkeep.care import care_card
from maple_rook.core.upkeep.cautions import Place, general
from maple_rook.core.upkeep.finish_work import STONING
from maple_rook.core.upkeep.grinding import minutes, pace, sharpening_mm3, steps, thinning_mm3
from maple_rook.core.upkeep.plan import Interval
from maple_rook.core.upkeep.wear import Count
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.stations.upkeep.counting import Worn, worn
from maple_rook.stations.upkeep.dates import intervals, plans_out
from maple_rook.stations.upkeep.life_schemas import (
    CareOut,
    CountOut,
    CurvePoint,
    Day,
    DoneIn,
    DoneOut,
    LifeOut,
)
from maple_rook.stations.upkeep.rates import rates
from maple_rook.store import records, upkeep
from maple_rook.store.tables import Piece, Shop
from maple_rook.store.today import today
from maple_rook.store.upkeep import Logged
from maple_rook.store.upkeep_tables import DoneRow, DoneVoid

CURVE_POINTS = 40
LEAST_OF_HEIGHT, GROWS_AT_MOST_MM = 0.6, 3.0
"""A height in the log lies between these, of and over the height on the newest sheet."""
_ON_CARD = (
    ("edge_length", "edge", "mm"),
    ("hardness", "hardness", "HRC"),
    ("edge_angle", "edge angle", "° per side"),
)
_FOR_CARE = ("cladding_reactivity", "lacquer", "tang")


def life_of(db: Session, life: LifeModel, piece_id: int, kitchen: Kitchen, today: Day) -> LifeOut:
    """The counts, the curve, the log and the plans of one knife.

    Parameters
    ----------
    db : the session the caller commits.
    life : what the edge life is computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    today : the day.
    """
    piece = records.pieces(db, [piece_id])[0]
    blade = records.blade_of(db, piece_id)
    found = rates(db, [piece_id])[piece_id]
    state = worn(db, [piece], {piece_id: blade}, {piece_id: found}).get(piece_id)
    months = _months(intervals([blade], kitchen, life)[0][1])
    shared: dict[str, Any] = {
        "piece": PieceOut.of(piece),
        "outline": OutlineOut.of(blade_outline(blade)),
        "log": [_done(entry) for entry in found.entries[::-1]],
        "plans": plans_out(db, life, upkeep.plans(db, piece_id), today),
        "cautions": [STONING],
        "rate_words": found.words,
        "months_to_stone": months,
    }
    if state is None:
        why = blade.refused or "Spine, height and hardness have to be measured first."
        return LifeOut(
            unavailable=why,
            rate=None,
            growth_mm=0,
            height_now_mm=0,
            height_new_mm=0,
            behind_now_mm=0,
            behind_due_mm=0,
            full_bolster=False,
            thinning=None,
            bolster=None,
            end=None,
            sharpening_minutes=0,
            thinning_minutes=0,
            curve=[],
            **shared,
        )
    return _known(db, state, months, shared)


def _months(stone: Interval | None) -> list[float]:
    if stone is None:
        return []
    return [days / DAYS_IN_MONTH for days in (stone.likely, stone.low, stone.high)]


def _known(db: Session, state: Worn, months: list[float], shared: dict[str, Any]) -> LifeOut:
    blade, faces, rate = state.shape.blade, state.faces, state.rate.rate
    counts, stones = state.counts, upkeep.workshop(db).stones
    length = blade.inputs["edge_length"].figure.mean
    behind = state.behind_now_mm or faces.behind_edge_mm
    bevels = max(length * sum(faces.bevel_widths_mm), 1.0)
    ease = pace(blade.steel.sharpening if blade.steel else None)
    usual = steps(sharpening_mm3(behind, length, rate.mean), bevels, stones, ease)
    thin = steps(thinning_mm3(state.limits.thicker_mm, length), bevels, stones, ease)
    return LifeOut.model_validate(
        {
            **shared,
            "unavailable": "",
            "rate": FigureOut.of(rate),
            "growth_mm": faces.thickness_mm(rate.mean) - faces.behind_edge_mm,
            "height_now_mm": state.height_now_mm,
            "height_new_mm": state.height_new_mm,
            "behind_now_mm": behind,
            "behind_due_mm": behind - state.thickened_mm + state.limits.thicker_mm,
            "full_bolster": state.full_bolster,
            "thinning": _count(counts.thinning, months),
            "bolster": _count(counts.bolster, months),
            "end": _count(counts.end, months),
            "sharpening_minutes": minutes(usual)[0],
            "thinning_minutes": minutes(thin)[0],
            "curve": _curve(state, counts.end),
        }
    )


def _count(found: Count | None, months: list[float]) -> CountOut | None:
    if found is None:
        return None
    years = [found.central * m / 12 for m in months]
    return CountOut(central=found.central, low=found.low, high=found.high, years=years)


def _curve(state: Worn, until: Count) -> list[CurvePoint]:
    """Height and thickness over the sharpenings to come, as the faces have it."""
    rate = state.rate.rate.mean
    last = max(1, min(round(until.central), 2000))
    every = max(1, round(last / CURVE_POINTS))
    behind = (state.behind_now_mm or state.faces.behind_edge_mm) - state.faces.behind_edge_mm
    return [
        CurvePoint(
            sharpenings=n,
            height_mm=state.height_now_mm - n * rate,
            behind_edge_mm=behind + state.faces.thickness_mm(n * rate),
        )
        for n in range(0, last + 1, every)
    ]


def _done(entry: Logged) -> DoneOut:
    row = entry.row
    return DoneOut(
        id=row.id,
        care=entry.care,
        done_on=row.done_on,
        angle_deg=row.angle_deg,
        grit=row.grit,
        height_mm=row.height_mm,
        behind_edge_mm=row.behind_edge_mm,
        minutes=row.minutes,
        note=row.note,
        person=row.person.name,
        voided=entry.voided,
    )


def write(db: Session, person: Somebody, piece_id: int, asked: DoneIn) -> None:
    """Write into the log what was done; sent twice it is kept once."""
    records.get(db, Piece, "piece", piece_id)
    _plausible(db, piece_id, asked)
    values = {
        **asked.model_dump(),
        "care": asked.care.value,
        "piece_id": piece_id,
        "person_id": person.id,
    }
    db.execute(insert(DoneRow).values(values).on_conflict_do_nothing())
    db.commit()


def _plausible(db: Session, piece_id: int, asked: DoneIn) -> None:
    """Refuse what no sharpening leaves: a blade that grew, a day to come."""
    tomorrow = today(db) + dt.timedelta(days=1)
    if asked.done_on > tomorrow:
        raise InvalidValue("day", asked.done_on.isoformat(), "a day up to today")
    figures = records.figures(db, [piece_id])[piece_id]
    height, spine = figures.get("height_heel"), figures.get("spine_heel")
    if asked.height_mm is not None and height is not None:
        low, high = LEAST_OF_HEIGHT * height.mean, height.mean + GROWS_AT_MOST_MM
        if not low <= asked.height_mm <= high:
            raise InvalidValue(
                "height after",
                f"{asked.height_mm:g} mm",
                f"{low:.1f} to {high:.1f} mm: it was measured {height.mean:.1f} mm high",
            )
    if asked.behind_edge_mm is not None and spine is not None and asked.behind_edge_mm > spine.mean:
        raise InvalidValue(
            "behind the edge after",
            f"{asked.behind_edge_mm:g} mm",
            f"at most the spine, {spine.mean:.2f} mm",
        )


def strike(db: Session, person: Somebody, done_id: int, reason: str) -> int:
    """Strike an entry out, once; it stays in the log. Returns its piece."""
    row = records.get(db, DoneRow, "entry of the log", done_id)
    values = {"done_id": done_id, "reason": reason, "person_id": person.id}
    db.execute(insert(DoneVoid).values(values).on_conflict_do_nothing())
    db.commit()
    return row.piece_id


def care_of(db: Session, life: LifeModel, piece_id: int, kitchen: Kitchen) -> CareOut:
    """The care card of one knife in a kitchen."""
    piece = records.pieces(db, [piece_id])[0]
    blade = records.blade_of(db, piece_id)
    if not blade.figures:
        raise Conflict("Nothing of this knife is measured yet.")
    stone = intervals([blade], kitchen, life)[0][1]
    months = None if stone is None else (stone.low / DAYS_IN_MONTH, stone.high / DAYS_IN_MONTH)
    seen: dict[str, Seen] = records.newest_seen(db, [piece_id], _FOR_CARE)[piece_id]
    card = care_card(blade, piece.model.handle, seen, kitchen, kitchen.rods, months)
    shop = db.scalars(select(Shop)).one()
    return CareOut(
        shop=shop.name,
        place=shop.place,
        piece=PieceOut.of(piece),
        outline=OutlineOut.of(blade_outline(blade)),
        figures=card_figures(blade.figures, _ON_CARD),
        every_day=list(card.every_day),
        edge=list(card.edge),
        handle=list(card.handle),
        never=list(card.never),
        cautions=general(Place.CARD),
    )

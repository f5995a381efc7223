"""Plans and their dates, for one knife or the whole shop, and the calendar file."""

from __future__ import annotations

import datetime as dt
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace

import numpy as np
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.answers.kitchen import KitchenOfTrial
from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import Kitchen, RodSchool
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.predict import predict_arrays
from maple_rook.core.upkeep.plan import DueState, Entry, Interval, last_stone, plan, state
from maple_rook.core.upkeep.sharpening_tools import Tool, rod_for, rules
from maple_rook.formats.calendar_file import CalendarEntry, calendar_file
from maple_rook.http.policy import Somebody
from maple_rook.stations.upkeep.counting import Worn, worn
from maple_rook.stations.upkeep.life_schemas import DueOut, PlanIn, PlanOut
from maple_rook.stations.upkeep.rates import KnifeRate, rates
from maple_rook.store import records, upkeep
from maple_rook.store.records import piece_names
from maple_rook.store.tables import Piece
from maple_rook.store.trials import kitchen_from
from maple_rook.store.upkeep_tables import PlanMark, PlanRow

_DAYS, _MONTHS = "days_to_rod", "months_to_stone"
Intervals = tuple[Interval | None, Interval | None]
"""Until the rod and until the stone; None where nothing is predicted."""


def intervals(blades: Sequence[Blade], kitchen: Kitchen, life: LifeModel) -> list[Intervals]:
    """Days until rod, or the strop in its place, and stone of many blades in one kitchen."""
    arrays = predict_arrays(
        blades,
        replace(kitchen, rods=RodSchool.LIGHT),  # where none may touch the edge it is stropped
        foods=(FOODS["onion"],),
        strokes=(STROKES["push"],),
        shares=False,
        only=(_DAYS, _MONTHS),
        life=life,
    )
    columns = {t.key: j for j, t in enumerate(arrays.targets)}
    found = []
    for i in range(len(blades)):
        days, months = (
            [float(a[i, columns[key]]) for a in (arrays.central, arrays.low, arrays.high)]
            for key in (_DAYS, _MONTHS)
        )
        found.append(
            (
                None if np.isnan(days).any() else Interval(*days),
                None if np.isnan(months).any() else Interval.of_months(*months),
            )
        )
    return found


def plans_out(
    db: Session, life: LifeModel, rows: Sequence[PlanRow], today: dt.date
) -> list[PlanOut]:
    """Plans with their dates; what is furthest overdue comes first."""
    ids = sorted({row.piece_id for row in rows})
    if not ids:
        return []
    pieces = records.pieces(db, ids)
    blades = dict(zip(ids, records.blades(db, pieces, records.figures(db, ids)), strict=True))
    of_rates, names = rates(db, ids), piece_names(db, ids)
    states = worn(db, pieces, blades, of_rates)
    by_kitchen: dict[Kitchen, list[PlanRow]] = defaultdict(list)
    for row in rows:
        by_kitchen[kitchen_from(row.kitchen)].append(row)
    found: list[PlanOut] = []
    for kitchen, mine in by_kitchen.items():
        here = sorted({row.piece_id for row in mine})
        both = dict(zip(here, intervals([blades[k] for k in here], kitchen, life), strict=True))
        found += [
            _out(
                row,
                kitchen,
                blades[row.piece_id],
                both[row.piece_id],
                of_rates[row.piece_id],
                states.get(row.piece_id),
                names,
                today,
            )
            for row in mine
        ]
    order = list(DueState)[::-1]
    return sorted(
        found, key=lambda p: (order.index(p.state), p.next_due.on if p.next_due else dt.date.max)
    )


def _out(
    row: PlanRow,
    kitchen: Kitchen,
    blade: Blade,
    both: Intervals,
    rate: KnifeRate,
    state_of: Worn | None,
    names: Mapping[int, tuple[str, str]],
    today: dt.date,
) -> PlanOut:
    school = RodSchool(row.rods)
    done = [(e.row.done_on, e.care) for e in rate.entries if e.voided is None]
    since = last_stone(done, row.begun_on)
    rod, stone = both
    rule = rod_for(blade, school)
    entries = plan(
        since,
        stone,
        rod if kitchen.honed else None,
        rule,
        state_of.counts if state_of else None,
        strop_instead=not blade.single_bevel,
    )
    standing = [entry for entry in entries if entry.every_days is None]
    now = standing[0].on if standing else None
    dates = [_due(entry, today if entry.on == now else None) for entry in entries]
    first = next((d for d in dates if d.every_days is None), None)
    tag, knife = names[row.piece_id]
    return PlanOut(
        id=row.id,
        piece_id=row.piece_id,
        tag=tag,
        knife=knife,
        label=row.label,
        kitchen=KitchenOfTrial.of(kitchen),
        rods=school,
        begun_on=row.begun_on,
        since=since,
        person=row.person.name,
        state=first.state if first else DueState.RESTS,
        next_due=first,
        dates=dates,
        why_no_rod="" if rule else _why_no_rod(blade, school),
    )


def _why_no_rod(blade: Blade, school: RodSchool) -> str:
    return next(r.why for r in rules(blade, school) if r.tool is Tool.CERAMIC_ROD)


def _due(entry: Entry, today: dt.date | None) -> DueOut:
    """A date against today; what only comes after another (``today`` None) rests until then."""
    stands = DueState.RESTS
    if today is not None and entry.every_days is None:
        stands = state(entry, today)
    return DueOut(**vars(entry), state=stands)


def begin(db: Session, person: Somebody, piece_id: int, asked: PlanIn) -> None:
    """Give a knife into a kitchen; sent twice it is kept once."""
    records.get(db, Piece, "piece", piece_id)
    values = {
        "client_id": asked.client_id,
        "piece_id": piece_id,
        "label": asked.label,
        "kitchen": asdict(asked.kitchen.core()),
        "rods": asked.rods.value,
        "begun_on": asked.begun_on,
        "person_id": person.id,
    }
    db.execute(insert(PlanRow).values(values).on_conflict_do_nothing())
    db.commit()


def end(db: Session, person: Somebody, plan_id: int, *, ended: bool) -> None:
    """End a plan, or take it up again."""
    records.get(db, PlanRow, "plan", plan_id)
    db.add(PlanMark(plan_id=plan_id, ended=ended, person_id=person.id))
    db.commit()


def calendar(
    db: Session, life: LifeModel, plan_id: int | None, today: dt.date, now: dt.datetime
) -> bytes:
    """The dates of one plan, or of all that run, as a calendar file.

    Parameters
    ----------
    db : the session the caller commits.
    life : what the edge life is computed with.
    plan_id : number of one plan, or None for all.
    today : the day.
    now : the moment.
    """
    rows = upkeep.plans(db)
    if plan_id is not None:
        rows = [row for row in rows if row.id == plan_id]
        if not rows:
            raise records.NotFound("running plan", plan_id)
    found = plans_out(db, life, rows, today)
    name = f"Upkeep: {found[0].tag}, {found[0].label}" if plan_id else "Upkeep"
    entries = [e for p in found for e in _calendar_entries(p)]
    return calendar_file(name, entries, now)


def _calendar_entries(found: PlanOut) -> list[CalendarEntry]:
    stones = [d.on for d in found.dates if d.every_days is None]
    counts: dict[str, int] = defaultdict(int)
    entries = []
    for due in found.dates:
        counts[due.care] += 1
        entries.append(
            CalendarEntry(
                uid=f"plan-{found.id}-{due.care.value}-{counts[due.care]}@maple-rook",
                on=due.on,
                summary=f"{due.care.label.capitalize()}: {found.tag} ({found.label})",
                description=_described(found.knife, due),
                every_days=due.every_days,
                until=max(stones, default=None) if due.every_days else None,
                remind=due.every_days is None,
            )
        )
    return entries


def _described(knife: str, due: DueOut) -> str:
    words = f"{knife}. {due.words[0].upper()}{due.words[1:]}"
    if due.every_days is not None:
        often = "every day" if due.every_days == 1 else f"about every {due.every_days} days"
        return f"{words}, {often} of use."
    limits = f"{due.earliest:%d %b %Y} and {due.latest:%d %b %Y}"
    return f"{words}. Between {limits}, 90 % limits: an estimate, look at the edge."

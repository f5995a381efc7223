"""From the edge found to the one wanted: steel, time, what it gives and takes."""

from __future__ import annotations

from sqlalchemy.orm import Session

from maple_rook.answers.calibration import Models
from maple_rook.answers.edge_life import changed_in_words, stability_of
from maple_rook.answers.figures import Points
from maple_rook.answers.what_if import WhatIfRow, row
from maple_rook.core.cutting.foods import STROKES
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.stability import StrokeStyle
from maple_rook.core.errors import InvalidValue
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.model_cards import keys
from maple_rook.core.prediction.predict import predict
from maple_rook.core.upkeep.cautions import HANDLING
from maple_rook.core.upkeep.finish_work import STONING, cost
from maple_rook.core.upkeep.reprofile import Faces, Ring, Wanted
from maple_rook.core.upkeep.reprofile_plan import ReprofilePlan, found_edge, reprofile_plan
from maple_rook.http.problems import Conflict
from maple_rook.stations.upkeep.rates import rates
from maple_rook.stations.upkeep.schemas import BearsOut, EdgeOut, ReprofileOut, StepOut, WantedIn
from maple_rook.store import records
from maple_rook.store.upkeep import workshop

_SHOWN = keys("after_reprofile")
_STYLES = (StrokeStyle.NORMAL, StrokeStyle.TWIST)


def planned(db: Session, piece_id: int, wanted: Wanted) -> tuple[Blade, ReprofilePlan]:
    """The blade as it is, and the plan for another edge; refused where there can be none."""
    blade = records.blade_of(db, piece_id)
    if blade.refused:
        raise Conflict(blade.refused)
    shop = workshop(db)
    rate = rates(db, [piece_id])[piece_id].rate
    return blade, reprofile_plan(blade, wanted, shop.stones, rate.mean)


def reprofile(
    db: Session, models: Models, piece_id: int, kitchen: Kitchen, asked: WantedIn
) -> ReprofileOut:
    """Another edge: the steel and the time it takes, and what it changes.

    Parameters
    ----------
    db : the session the caller commits.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    asked : what was asked, as it came in.


    """
    wanted = asked.core()
    blade, plan = planned(db, piece_id, wanted)
    right, left = plan.made.areas_mm2
    words, rows = _after(models, blade, plan.after, kitchen)
    steeper_only = plan.wanted.micro_mm if plan.made.height_lost_mm > 0 else None
    return ReprofileOut(
        found=_edge(plan.found, plan.found_angles_deg, found_edge(blade)[1]),
        made=_edge(plan.made.faces, plan.wanted.angles_deg, None),
        removed_right=_points(plan.made.removed_right),
        removed_left=_points(plan.made.removed_left),
        area_right_mm2=right,
        area_left_mm2=left,
        volume_right_mm3=plan.volumes_mm3[0],
        volume_left_mm3=plan.volumes_mm3[1],
        height_lost_mm=plan.made.height_lost_mm,
        micro_mm=steeper_only,
        worth_sharpenings=plan.worth,
        steps=[
            StepOut(grit=s.stone.grit, volume_mm3=s.volume_mm3, minutes=s.minutes)
            for s in plan.steps
        ],
        minutes=list(plan.minutes),
        cost=cost(plan.minutes[0], workshop(db).hourly_rate),
        turns_even=plan.turns_even,
        warnings=list(plan.warnings),
        words=words,
        rows=rows,
        bears=list(_bears(blade, plan.after)),
        cautions=[STONING, HANDLING],
    )


def _edge(faces: Faces, angles: tuple[float, float], share: float | None) -> EdgeOut:
    right, left = faces.bevel_widths_mm
    return EdgeOut(
        angle_right_deg=0.0 if faces.back == "right" else angles[0],
        angle_left_deg=0.0 if faces.back == "left" else angles[1],
        bevel_right_mm=right,
        bevel_left_mm=left,
        behind_edge_mm=faces.behind_edge_mm,
        share_right=100 * (right / (right + left) if share is None else share),
        polygon=_points(faces.ring),
    )


def _points(ring: Ring) -> Points:
    return [[round(x, 4), round(z, 4)] for x, z in ring]


def _after(
    models: Models, before: Blade, after: Blade, kitchen: Kitchen
) -> tuple[list[str], list[WhatIfRow]]:
    """What the other edge gives and costs, in words and by prediction."""
    foods = models.foods
    both = predict(
        [before, after],
        kitchen,
        foods=foods,
        strokes=(STROKES["push"],),
        life=models.life,
    )
    old, new = ({p.key: p for p in found} for found in both)
    shown = (*_SHOWN, *(f"force.{f.key}.push" for f in foods))
    words = changed_in_words((before, after), (both[0], both[1]), foods)
    return words, [row(old[key], new[key]) for key in shown]


def _bears(before: Blade, after: Blade) -> list[BearsOut]:
    old, new = stability_of(before), stability_of(after)
    if old is None or new is None:
        return []
    was = {m.style: m for m in old.margins}
    return [
        BearsOut(style=m.style, before=was[m.style].roll[0], after=m.roll[0], words=m.words)
        for m in new.margins
        if m.style in [s.value for s in _STYLES]
    ]


def refused_without_word(plan: ReprofilePlan, *, owner_accepts: bool) -> None:
    """Turning an uneven edge even needs the owner's word for its cost."""
    if plan.turns_even and not owner_accepts:
        raise InvalidValue(
            "owner accepts",
            "no",
            "yes: the owner has asked and accepts the cost",
            hint=plan.warnings[0],
        )

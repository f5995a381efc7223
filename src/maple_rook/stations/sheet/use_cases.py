"""Gather one knife: figures, predictions, claims, cautions, history."""

from __future__ import annotations

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.answers.calibration import Models
from maple_rook.answers.claims import judged_claims, sheet_facts
from maple_rook.answers.edge_life import edge_life_of, stability_of
from maple_rook.answers.figures import (
    FigureOut,
    OutlineOut,
    PieceOut,
    PredictionOut,
    blade_outline,
    section_polygon,
)
from maple_rook.answers.finish import finish_states
from maple_rook.answers.history import observations_of_piece, readings
from maple_rook.answers.shape import profile_of, shape_of
from maple_rook.answers.trials import shown
from maple_rook.answers.wishes import wishes_answered
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.cutting.foods import STROKES, stroke_of
from maple_rook.core.cutting.force import cut, passes_words, reference_section
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import polygon
from maple_rook.core.measurement.hardness_session import hardened
from maple_rook.core.measurement.places import quantity_and_place
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.wording import interval_text
from maple_rook.core.prediction.built import built, spots
from maple_rook.core.prediction.ease import ANGLES_DEG, by_edge_angle, ease_by_food
from maple_rook.core.prediction.explanation import food_words, pushed_to
from maple_rook.core.prediction.inputs import unavailable
from maple_rook.core.prediction.model_cards import card
from maple_rook.core.prediction.predict import predict, sharpened
from maple_rook.core.routine.checks import checks
from maple_rook.core.routine.script import script
from maple_rook.core.routine.stock import Stock
from maple_rook.core.upkeep.cautions import Place, cautions
from maple_rook.http.problems import Conflict
from maple_rook.shelf.knife import RecordedKnife
from maple_rook.stations.sheet import stock
from maple_rook.stations.sheet.schemas import (
    CutOut,
    EaseOut,
    FoodEaseOut,
    KnifeSheetOut,
    SheetOfPiece,
    SweepLine,
    TraceOut,
)
from maple_rook.store import records
from maple_rook.store.tables import Person, Reading, Sheet
from maple_rook.store.trials import of_piece as trials_of_piece


def knife_sheet(db: Session, models: Models, piece_id: int, kitchen: Kitchen) -> KnifeSheetOut:
    """Everything that is known and predicted of a knife.

    Parameters
    ----------
    db : the session the caller commits.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.


    """
    piece = records.pieces(db, [piece_id], claims=True)[0]
    figures = records.figures(db, [piece_id]).get(piece_id, {})
    traced = records.traces(db, [piece_id])
    trace = traced.get(piece_id)
    blade = records.blades(db, [piece], {piece_id: figures}, traced)[0]
    sheets = _sheets(db, piece_id)
    numbers = [s.id for s in sheets]
    standing = records.observations(db, numbers)
    facts = records.knife_facts(piece.model, standing)
    judged = hardened(figures, spots(blade))
    predictions = predict([blade], kitchen, foods=models.foods, life=models.life)[0]
    knife = RecordedKnife(
        piece=PieceOut.of(piece),
        blade=blade,
        claims=judged_claims(piece, figures),
        model_id=piece.model_id,
        finish=finish_states(db, {piece_id: blade})[piece_id],
    )
    trials, name = trials_of_piece(db, piece_id, blade), (piece.tag, records.piece_name(piece))
    return KnifeSheetOut(
        piece=knife.piece,
        model_id=knife.model_id,
        stock=stock.shown(piece),
        wished_for=wishes_answered(db, knife.candidate)
        if knife.piece.stock is Stock.ON_SHELF
        else [],
        shelf=knife.finish.shelf,
        outline=OutlineOut.of(blade_outline(blade)),
        shape=shape_of(blade),
        profile=profile_of(blade),
        traced=None
        if trace is None
        else TraceOut(
            source=trace.source,
            person=trace.person.name,
            taken_at=trace.taken_at,
            points=len(trace.points),
        ),
        figures={
            key: FigureOut.of(f, QUANTITIES[quantity_and_place(key)[0]], blade.grind)
            for key, f in figures.items()
            if quantity_and_place(key)[0] in QUANTITIES
        },
        hardened=judged.verdict if "hardness" in figures else None,
        hardened_why=judged.why,
        predictions=[PredictionOut.of(p) for p in predictions],
        edge_life=edge_life_of(blade, predictions, kitchen, models.life),
        stability=stability_of(blade),
        trials=[shown(t, {piece_id: name}) for t in trials],
        claims=knife.claims,
        checks=[c.text for c in checks(sheet_facts(piece, figures, facts))],
        cautions=cautions(blade, Place.SHEET),
        sheets=sheets,
        seen=observations_of_piece(standing),
        history=readings(db, Reading.sheet_id.in_(numbers)),
    )


def script_text(db: Session, models: Models, piece_id: int, kitchen: Kitchen) -> str:
    """The knife in words to be said aloud: measured, then estimated, then what boxes got wrong.

    Parameters
    ----------
    db : the session the caller commits.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    """
    piece = records.pieces(db, [piece_id], claims=True)[0]
    blade = records.blade_of(db, piece_id)
    predictions = predict([blade], kitchen, foods=models.foods, life=models.life)[0]
    found = {p.key: p for p in predictions}
    spoken_of = {
        "cutting_ease": "cutting ease, an ordinary knife being 100,",
        "months_to_stone": f"between stones, {kitchen.use.label} use,",
    }
    lines = [
        f"{records.piece_name(piece)}, {piece.condition}.",
        *script(blade, piece.model.construction),
    ]
    estimates = [
        f"{words} {interval_text(p.central, p.low, p.high, p.unit)}"
        for key, words in spoken_of.items()
        if (p := found[key]).central is not None and p.low is not None and p.high is not None
    ]
    if estimates:
        lines.append(f"Estimated, not measured: {'; '.join(estimates)}.")
    claims = judged_claims(piece, blade.figures)
    lines += [
        f"The box says {c.label} {c.printed}: {c.statement}."
        for c in claims
        if c.verdict is ClaimVerdict.CONTRADICTED
    ]
    return "\n".join([*lines, "", *cautions(blade, Place.COUNTER)]) + "\n"


def cut_through(
    db: Session, models: Models, piece_id: int, kitchen: Kitchen, food_key: str, ratio: float
) -> CutOut:
    """Force along the edge against depth, at the central figures.

    Parameters
    ----------
    db : the session the caller commits.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    food_key : key of the food.
    ratio : slice-push ratio.
    """
    foods = {f.key: f for f in models.foods}
    if food_key not in foods:
        raise InvalidValue("food", food_key, ", ".join(foods))
    blade = sharpened([records.blade_of(db, piece_id)], kitchen)[0]
    made = built(blade)
    if made is None:
        raise Conflict(unavailable(blade, "cutting_force") or "Not covered.")
    food = foods[food_key]
    weights = STROKES["push"].weights
    found = cut(made.cuts, food, blade.edge_radius_um.mean, ratio, weights=weights)
    side = float(found.side_n[-1])
    rows = {f"{name}_n": np.round(part, 3).tolist() for name, part in found.parts._asdict().items()}
    return CutOut(
        food=food_key,
        slice_push_ratio=ratio,
        depth_mm=np.round(found.depth_mm, 2).tolist(),
        **rows,
        side_n=np.round(found.side_n, 3).tolist(),
        along_n=np.round(found.along_n, 3).tolist(),
        bite_n=float(found.bite_n),
        peak_n=float(found.peak_n),
        work_j=float(found.work_j),
        passes=passes_words(food, float(made.heel.height_mm)),
        side_words=pushed_to(side),
        food_words=food_words([food]),
    )


def ease(db: Session, models: Models, piece_id: int, kitchen: Kitchen) -> EaseOut:
    """Cutting ease food by food for the job of a kitchen, and by the edge angle."""
    blade = sharpened([records.blade_of(db, piece_id)], kitchen)[0]
    return EaseOut(
        stroke=stroke_of(kitchen.food_mix, kitchen.stroke).label,
        section=section_polygon(blade),
        reference=[list(point) for point in polygon(reference_section())],
        foods=[
            FoodEaseOut(
                key=of.food.key,
                label=of.food.label,
                part=round(100 * of.part, 1),
                fresh=of.fresh,
                worn=of.worn,
                bite=of.bite,
            )
            for of in ease_by_food(blade, kitchen, models.foods)
        ],
        food_words=food_words(models.foods),
        angles_deg=list(ANGLES_DEG),
        by_angle=[
            SweepLine(key=key, label=card(key).name, percent=np.round(values, 1).tolist())
            for key, values in by_edge_angle(blade, kitchen, models.foods, models.life).items()
        ],
    )


def _sheets(db: Session, piece_id: int) -> list[SheetOfPiece]:
    rows = db.execute(
        select(Sheet, Person.name, func.count(Reading.id))
        .join(Person, Person.id == Sheet.person_id)
        .outerjoin(Reading, Reading.sheet_id == Sheet.id)
        .where(Sheet.piece_id == piece_id)
        .group_by(Sheet.id, Person.name)
        .order_by(Sheet.started_at, Sheet.id)
    )
    return [
        SheetOfPiece(
            id=sheet.id,
            started_at=sheet.started_at,
            finished_at=sheet.finished_at,
            person=person,
            readings=count,
            set_aside=sheet.set_aside,
        )
        for sheet, person, count in rows
    ]

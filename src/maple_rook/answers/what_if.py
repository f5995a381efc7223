"""The blade with other figures, against itself: nothing is stored."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import BaseModel, Field, model_validator
from sqlalchemy.orm import Session

from maple_rook.answers.calibration import Models
from maple_rook.answers.edge_life import changed_in_words
from maple_rook.answers.figures import Points, section_polygon
from maple_rook.core.cutting.foods import STROKES
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import check_section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.model_card import Better
from maple_rook.core.prediction.model_cards import keys
from maple_rook.core.prediction.predict import predict
from maple_rook.http.schemas import Strict
from maple_rook.store import records

_SHOWN = keys("in_what_if")
TRIED = ("edge_angle", "thickness_behind_edge", "spine_heel")
_ALONG_THE_SPINE = ("spine_mid", "spine_tip")
_UP_THE_FACE = ("thickness_1mm", "thickness_5mm", "thickness_10mm")


class WhatIfIn(Strict):
    """Figures to try, mm and degrees per side; what is left out stays as measured."""

    edge_angle: Annotated[float, Field(ge=3, le=45)] | None = None
    thickness_behind_edge: Annotated[float, Field(ge=0.02, le=4)] | None = None
    spine_heel: Annotated[float, Field(ge=0.3, le=12)] | None = None
    grind: Grind | None = None

    @model_validator(mode="after")
    def something_changed(self) -> WhatIfIn:
        if self == WhatIfIn.model_construct():
            raise ValueError("change at least one of " + ", ".join(type(self).model_fields))
        return self


class Estimate(BaseModel):
    central: float
    low: float
    high: float


class WhatIfRow(BaseModel):
    """One prediction as measured and as tried; null where there is none, ``why`` says why."""

    key: str
    label: str
    unit: str
    grade: str
    measured: Estimate | None
    tried: Estimate | None
    percent: float | None
    better: Better
    why: str


class WhatIfOut(BaseModel):
    words: list[str]
    """What it gives and what it costs, a sentence each."""
    rows: list[WhatIfRow]
    section_measured: Points | None
    section_tried: Points | None
    start: dict[str, float]
    grind: Grind


def what_if(
    db: Session, models: Models, piece_id: int, kitchen: Kitchen, asked: WhatIfIn
) -> WhatIfOut:
    """What is predicted of a knife as measured, and of it with other figures.

    Parameters
    ----------
    db : the session the caller commits.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    asked : what was asked, as it came in.


    """
    blade = records.blade_of(db, piece_id)
    tried = changed(blade, asked)
    foods = models.foods
    push = (STROKES["push"],)
    both = predict([blade, tried], kitchen, foods=foods, strokes=push, life=models.life)
    shown = [*(f"force.{f.key}.push" for f in foods), *_SHOWN]
    before, after = ({p.key: p for p in found} for found in both)
    start = {k: blade.inputs[k].figure.mean for k in TRIED if k in blade.inputs}
    return WhatIfOut(
        words=changed_in_words((blade, tried), (both[0], both[1]), foods),
        rows=[row(before[key], after[key]) for key in shown],
        section_measured=section_polygon(blade),
        section_tried=section_polygon(tried),
        start=start,
        grind=blade.grind,
    )


def changed(blade: Blade, asked: WhatIfIn) -> Blade:
    """The blade with the figures asked for; contradictions raise :class:`InvalidValue`.

    Another spine keeps the taper in proportion. A curve that was measured on the faces stays in
    proportion to them; another grind takes its family's usual one.
    """
    grind = asked.grind or blade.grind
    inputs = blade.inputs
    figures = {k: f for k, f in blade.figures.items() if k not in _UP_THE_FACE}
    for key in TRIED:
        value = getattr(asked, key)
        if value is None:
            continue
        if key not in inputs:
            raise InvalidValue(QUANTITIES[key].label, "not measured", "a measured figure to change")
        figures[key] = Figure(value, inputs[key].figure.standard_uncertainty)
        if key == "spine_heel":
            ratio = value / inputs[key].figure.mean
            for along in _ALONG_THE_SPINE:
                if along in figures:
                    f = figures[along]
                    figures[along] = Figure(f.mean * ratio, f.standard_uncertainty * ratio)
    if grind is not blade.grind:
        figures = {
            k: f
            for k, f in figures.items()
            if k not in ("grind_line", "micro_bevel", "hollow_depth")
        }
    check_section({k: f.mean for k, f in figures.items()}, grind)
    known = inputs.get("bulge") if grind is blade.grind else None
    return replace(blade, figures=figures, grind=grind, known_bulge=known.figure if known else None)


def row(before: Prediction, after: Prediction) -> WhatIfRow:
    percent = None
    if before.central and after.central is not None:
        percent = round(100 * (after.central / before.central - 1), 1)
    return WhatIfRow(
        key=before.key,
        label=before.label,
        unit=before.unit,
        grade=before.card.grade.value,
        measured=_estimate(before),
        tried=_estimate(after),
        percent=percent,
        better=before.card.predicted.better if before.card.predicted else Better.NEITHER,
        why=after.unavailable or before.unavailable or "",
    )


def _estimate(p: Prediction) -> Estimate | None:
    if p.central is None or p.low is None or p.high is None:
        return None
    return Estimate(central=p.central, low=p.low, high=p.high)

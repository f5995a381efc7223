"""Compare knives: what differs, and what is predicted of it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.answers.edge_life import edge_life_of
from maple_rook.answers.figures import FigureOut, PredictionOut
from maple_rook.comparing.before import Before
from maple_rook.comparing.judging import looked_at, verdict_on
from maple_rook.comparing.laid import LETTERS, Laid, laid_out
from maple_rook.comparing.schemas import (
    BoardKnife,
    BoardOut,
    Difference,
    ForceCurve,
    LaidIn,
)
from maple_rook.core.choosing.comparing import (
    Verdict,
    gravest,
    noticeable_gap,
    pair_verdicts,
    percent_difference,
)
from maple_rook.core.cutting.foods import STROKES, Food, Stroke
from maple_rook.core.cutting.force import curves_n
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.thresholds import Threshold, as_set
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.model_cards import PREDICTED, keys
from maple_rook.core.prediction.predict import sharpened
from maple_rook.shelf.projection import Shelf

DEPTH_POINTS = 25


def compare(db: Session, shelf: Shelf, asked: LaidIn) -> BoardOut:
    """The Board as it was laid, for its customer: what differs, and whom which knife suits."""
    knives = laid_out(db, shelf, asked)
    foods, _ = shelf.models(asked.basis)
    found = looked_at(db, knives, shelf, asked)
    return BoardOut(
        knives=[
            BoardKnife(
                piece=of.knife.piece,
                pieces=of.pieces,
                outline=of.knife.outline,
                section=of.knife.section,
                profile=of.knife.profile,
                predictions=[PredictionOut.of(p) for p in explained],
                edge_life=edge_life_of(of.blade, explained, found.profile.kitchen, found.life),
            )
            for of, explained in zip(knives, found.predictions, strict=True)
        ],
        differences=differences(
            [of.blade for of in knives], found.predictions, found.terms.coefficients
        ),
        curves=force_curves(knives, foods, found.profile.kitchen),
        verdict=verdict_on(knives, found, models=asked.models),
    )


def differences(
    blades: list[Blade], predictions: list[list[Prediction]], c: Coefficients
) -> list[Difference]:
    """One row per quantity at least two knives have, what matters most first."""
    rows = [
        _difference(
            key,
            q.label,
            q.unit,
            "M",
            [b.figures.get(key) for b in blades],
            as_set(q.noticeable, c),
        )
        for key, q in QUANTITIES.items()
    ]
    for key in keys("compared"):
        found = [next(p for p in knife if p.key == key) for knife in predictions]
        model = found[0].card
        spreads = [p.own_figure for p in found]
        rows.append(
            _difference(
                key,
                model.name,
                model.unit,
                model.grade.value,
                spreads,
                as_set(PREDICTED[key].noticeable, c),
            )
        )
    order = list(Verdict)
    kept = [row for row in rows if sum(v is not None for v in row.values) > 1]
    return sorted(kept, key=lambda row: (order.index(row.verdict), -row.weight))


def _difference(
    key: str,
    label: str,
    unit: str,
    grade: str,
    values: list[Figure | None],
    threshold: Threshold | None,
) -> Difference:
    known = [(LETTERS[i], f) for i, f in enumerate(values) if f is not None]
    figures = [f for _, f in known]
    pairs = pair_verdicts(values, threshold)
    largest = ""
    if len(known) > 1:
        low = min(known, key=lambda pair: pair[1].mean)
        high = max(known, key=lambda pair: pair[1].mean)
        largest = _largest(key, unit, low, high)
    return Difference(
        key=key,
        label=label,
        unit=unit,
        grade=grade,
        values=[FigureOut.of(f) if f else None for f in values],
        verdict=gravest(pairs),
        pairs=pairs,
        weight=noticeable_gap(figures, threshold),
        largest=largest,
    )


def _largest(key: str, unit: str, low: tuple[str, Figure], high: tuple[str, Figure]) -> str:
    """The widest gap in words; a per cent figure names its base."""
    gap = high[1].mean - low[1].mean
    unit_text = "° per side" if unit == "dps" else f" {unit}" if unit else ""
    text = (
        f"{high[0]} over {low[0]} by {gap:.2g}{unit_text}"
        if gap < 100
        else (f"{high[0]} over {low[0]} by {gap:.0f}{unit_text}")
    )
    if key in ("asymmetry", "balance_point", "hardness") or low[1].mean <= 0:
        return text
    if high[1].mean > 4 * low[1].mean:
        return f"{text} ({high[1].mean / low[1].mean:.0f} times as much as {low[0]})"
    return f"{text} ({percent_difference(high[1].mean, low[1].mean):.0f} % of {low[0]})"


def force_curves(
    knives: Sequence[Laid], foods: tuple[Food, ...], kitchen: Kitchen
) -> list[ForceCurve]:
    """Central force against depth for every food and stroke."""
    strokes = list(STROKES.values())
    depths = np.array([np.linspace(0, food.height_mm, DEPTH_POINTS) for food in foods])

    def worked_out(some: Sequence[Laid]) -> list[Curves | None]:
        blades = sharpened([of.blade for of in some], kitchen)
        return [_forces_at(blade, foods, strokes, depths) for blade in blades]

    by_knife = _before.of(knives, (foods, kitchen.edge), worked_out)
    return [
        ForceCurve.model_construct(
            food=food.key,
            stroke=stroke.key,
            depth_mm=np.round(depths[i], 1).tolist(),
            force_n=[None if forces is None else forces[i][j] for forces in by_knife],
        )
        for i, food in enumerate(foods)
        for j, stroke in enumerate(strokes)
    ]


Curves = list[list[list[float]]]
"""Force by food, stroke and depth, N."""
_before: Before[Curves | None] = Before()


def _forces_at(
    blade: Blade, foods: Sequence[Food], strokes: Sequence[Stroke], depths: Array
) -> Curves | None:
    """Force of one knife by food, stroke and depth, N; None where it is not covered."""
    made = built(blade)
    if made is None:
        return None
    radius, edge = blade.edge_radius_um.mean, blade.inputs["edge_length"].figure.mean
    found: Curves = np.round(curves_n(made.cuts, foods, strokes, radius, edge, depths), 2).tolist()
    return found

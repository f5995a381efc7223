"""Every prediction for any number of blades, with interval, contributions and next measurement.

Central values are the models at the measured figures. Intervals are the central 90 % of Monte
Carlo draws (JCGM 101:2008) in which every input varies by its standard uncertainty.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.cutting.foods import FOODS, STROKES, Food, Stroke
from maple_rook.core.cutting.force import EDGE_RADII_UM
from maple_rook.core.edge_life.calibration import CLASSES
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, LifeModel
from maple_rook.core.edge_life.retention import EdgeState, Kitchen
from maple_rook.core.measurement.uncertainty import (
    Array,
    interval,
    standard_draws,
    variance_shares,
)
from maple_rook.core.prediction.blade import FRESH_EDGE_RADIUS_UM, Blade
from maple_rook.core.prediction.evaluate import OTHERS, Target, evaluate, groups, targets
from maple_rook.core.prediction.explanation import (
    Prediction,
    explained_of,
    explained_prediction,
)
from maple_rook.core.prediction.inputs import (
    INDEX,
    INPUTS,
    SHARED_INPUTS,
    input_arrays,
    unavailable,
)
from maple_rook.core.prediction.model_cards import PREDICTED

_SHARED_SEED = 20_061
DRAWS = 256
"""Draws of every interval that is shown, so that one knife's is the same on every screen."""
BLOCK = 8192
"""Blades times draws that are worked on at a time."""


@dataclass(frozen=True)
class PredictionArrays:
    """Predictions of n blades for m targets: central, low, high (n, m), shares (n, m, inputs)."""

    targets: list[Target]
    central: Array
    low: Array
    high: Array
    shares: Array | None
    draws: dict[str, Array]
    """Of the targets asked for, each (n, draws)."""


def predict_arrays(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = DRAWS,
    shares: bool = True,
    only: Iterable[str] = OTHERS,
    life: LifeModel = PUBLISHED_LIFE,
    efforts: bool = False,
) -> PredictionArrays:
    """Predict many blades in one vectorised call.

    Each blade draws from the stream its ``seed`` names; :data:`SHARED_INPUTS` vary alike for all.
    ``only`` names the targets beside the forces that are wanted; others may be NaN. ``life`` is
    what the edge life is computed with.

    Parameters
    ----------
    blades : the blades, n of them.
    kitchen : whose kitchen it is for.
    foods : the foods forces are wanted for.
    strokes : the strokes forces are wanted for; a job has its own.
    draws : how many draws an interval rests on.
    shares : whether the share of each input is wanted.
    only : keys of the targets wanted beside the forces.
    life : what the edge life is computed with.
    efforts : whether the effort of every food and stroke is wanted beside its force.
    """
    kitchen = kitchen or Kitchen()
    ready = _ready(blades, kitchen, life)
    which = frozenset(only)
    return _arrays(
        ready, kitchen, foods, strokes, draws, which, life, shares=shares, efforts=efforts
    )


def _arrays(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    foods: Sequence[Food],
    strokes: Sequence[Stroke],
    draws: int,
    only: frozenset[str],
    life: LifeModel,
    *,
    shares: bool,
    keep: Sequence[str] = (),
    efforts: bool = False,
) -> PredictionArrays:
    """:func:`predict_arrays` of blades that are ready; the draws of the targets to ``keep``."""
    wanted = targets(foods, strokes, efforts=efforts)
    kept = [[t.key for t in wanted].index(key) for key in keep]
    size = max(1, BLOCK // (draws + (2 * len(INPUTS) if shares else 0)))
    blocks = []
    # Blades built alike come together: a block then takes few steps, each for many of them.
    alike = np.concatenate([group.at for group in groups(blades)]) if len(blades) > size else None
    if alike is not None:
        blades = [blades[i] for i in alike]
    for at in range(0, len(blades), size):
        some = blades[at : at + size]
        moved, outputs = _outputs(
            some, kitchen, foods, strokes, wanted, draws, only, life, shares=shares, efforts=efforts
        )
        blocks.append(_summed_up(moved, outputs, kept))
    columns = [np.concatenate(column) for column in zip(*blocks, strict=True)]
    if alike is not None:
        back = np.argsort(alike)
        columns = [column[back] for column in columns]
    central, low, high, used, drawn_of = columns
    return PredictionArrays(
        wanted,
        central,
        low,
        high,
        used if shares else None,
        dict(zip(keep, drawn_of.swapaxes(0, 1), strict=True)),
    )


def _summed_up(
    moved: NDArray[np.intp], outputs: Array, kept: Sequence[int]
) -> tuple[Array, Array, Array, Array, Array]:
    """Central, low, high, shares and kept draws of so many blades as stay in the caches."""
    first = 1 + 2 * moved.size
    central, drawn_of = outputs[:, :, 0].copy(), outputs[:, :, first:]
    used = np.zeros((*central.shape, len(INPUTS)))
    with np.errstate(invalid="ignore"):
        low, high = interval(drawn_of)
        if moved.size:
            steps = outputs[:, :, 1:first]
            used[:, :, moved] = variance_shares(central, steps[..., ::2], steps[..., 1::2])
    return central, low, high, used, drawn_of[:, kept]


def drawn(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    *,
    foods: Sequence[Food],
    only: Sequence[str],
    draws: int = DRAWS,
    life: LifeModel = PUBLISHED_LIFE,
) -> dict[str, Array]:
    """The draws themselves of some targets, no forces among them, each (n, draws).

    What varies alike for all knives does so in every draw, so that it cannot decide between them.

    Parameters
    ----------
    blades : the blades, n of them.
    kitchen : whose kitchen it is for.
    foods : the foods that are cut.
    draws : how many draws an interval rests on.
    only : keys of the targets wanted.
    life : what the edge life is computed with.
    """
    strokes: Sequence[Stroke] = ()
    wanted = targets(foods, strokes)
    columns = {t.key: j for j, t in enumerate(wanted)}
    _, outputs = _outputs(
        _ready(blades, kitchen, life),
        kitchen,
        foods,
        strokes,
        wanted,
        draws,
        frozenset(only),
        life,
    )
    return {key: outputs[:, columns[key], 1:] for key in only}


def _outputs(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    foods: Sequence[Food],
    strokes: Sequence[Stroke],
    wanted: Sequence[Target],
    draws: int,
    only: frozenset[str],
    life: LifeModel,
    *,
    shares: bool = False,
    efforts: bool = False,
) -> tuple[NDArray[np.intp], Array]:
    """Targets (n, m, 1 + steps + draws): central, then in steps of one input, then drawn.

    The steps are one standard uncertainty up and down for each input that is uncertain, whose
    places among the inputs come first; none without ``shares``.
    """
    means, spreads = input_arrays(blades)
    noise = standard_draws([blade.seed for blade in blades], len(INPUTS), draws)
    shared = standard_draws([_SHARED_SEED], len(SHARED_INPUTS), draws)[0]
    for key, common in zip(SHARED_INPUTS, shared, strict=True):
        noise[:, INDEX[key]] = common
    noise[:, INDEX["class_offset"]] = _by_class(blades, draws)
    moved = np.flatnonzero((spreads > 0).any(axis=0)) if shares else np.zeros(0, dtype=np.intp)
    first = 1 + 2 * moved.size
    values = np.empty((*means.shape, first + draws))
    np.multiply(spreads[:, :, None], noise, out=values[:, :, first:])
    values[:, :, :first] = 0
    values[:, moved, 1 + 2 * np.arange(moved.size)] = spreads[:, moved]
    values[:, moved, 2 + 2 * np.arange(moved.size)] = -spreads[:, moved]
    values += means[:, :, None]
    with np.errstate(invalid="ignore", divide="ignore"):  # what is not known is NaN and stays NaN
        outputs = evaluate(
            values, blades, kitchen, list(foods), list(strokes), only, life, efforts=efforts
        )
        outputs[_refused(blades, wanted, kitchen)] = np.nan
    return moved, outputs


def _by_class(blades: Sequence[Blade], draws: int) -> Array:
    """Draws of the class offset, (n, draws): alike for grades of one class."""
    seeds = [_SHARED_SEED + 1 + CLASSES.index(b.grade_class) for b in blades]
    return standard_draws(seeds, 1, draws)[:, 0]


def _ready(blades: Sequence[Blade], kitchen: Kitchen, life: LifeModel) -> Sequence[Blade]:
    """The blades as they are evaluated: in the edge state asked for, under a life model.

    Their carbides are weighed by the life model's coefficients.
    """
    c = life.coefficients
    return [
        b if b.coefficients == c else replace(b, coefficients=c) for b in sharpened(blades, kitchen)
    ]


def sharpened(blades: Sequence[Blade], kitchen: Kitchen) -> Sequence[Blade]:
    """The blades with the edge radius of the state asked for; a radius of their own is kept."""
    if kitchen.edge is EdgeState.FRESH:
        return blades
    radius = EDGE_RADII_UM[kitchen.edge]
    return [
        replace(b, edge_radius_um=radius) if b.edge_radius_um == FRESH_EDGE_RADIUS_UM else b
        for b in blades
    ]


def _refused(blades: Sequence[Blade], wanted: Sequence[Target], kitchen: Kitchen) -> Array:
    """Which targets of which blades have no prediction, (n, m)."""
    columns = [list(PREDICTED).index(t.card) for t in wanted]
    by_card = np.array(
        [[unavailable(b, key, kitchen.rods) is not None for key in PREDICTED] for b in blades]
    )
    return np.asarray(by_card[:, columns])


def predict(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = DRAWS,
    life: LifeModel = PUBLISHED_LIFE,
) -> list[list[Prediction]]:
    """Every prediction of every blade, explained.

    Parameters
    ----------
    blades : the blades, n of them.
    kitchen : whose kitchen it is for.
    foods : the foods forces are wanted for.
    strokes : the strokes forces are wanted for; a job has its own.
    draws : how many draws an interval rests on.
    life : what the edge life is computed with.
    """
    return predict_and_draw(
        blades, kitchen or Kitchen(), foods=foods, strokes=strokes, draws=draws, life=life, keep=()
    )[0]


def predict_and_draw(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    *,
    foods: Sequence[Food],
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    life: LifeModel,
    keep: Sequence[str],
    draws: int = DRAWS,
) -> tuple[list[list[Prediction]], dict[str, Array]]:
    """Every prediction, explained, and the draws of some targets beside the forces, (n, draws).

    They are the draws that :func:`drawn` gives: what is judged rests on what is shown.

    Parameters
    ----------
    blades, kitchen : what is predicted, and for whom.
    foods, strokes : the forces wanted.
    draws : how many draws the intervals rest on.
    life : what the edge life is computed with.
    keep : keys of the targets whose draws are wanted.
    """
    blades = _ready(blades, kitchen, life)
    arrays = _arrays(
        blades, kitchen, foods, strokes, draws, frozenset(OTHERS), life, shares=True, keep=keep
    )
    assert arrays.shares is not None
    columns = (arrays.central, arrays.low, arrays.high, np.round(arrays.shares, 4))
    numbers = zip(*(column.tolist() for column in columns), strict=True)
    explained = [
        [
            explained_prediction(blade, target, of, *of_target)
            for target, *of_target in zip(arrays.targets, *of_blade, strict=True)
        ]
        for blade, of_blade in zip(blades, numbers, strict=True)
        for of in (explained_of(blade, life, foods, kitchen),)
    ]
    return explained, arrays.draws

"""Every prediction for any number of blades, with interval, contributions and next measurement.

Central values are the models at the measured figures. Intervals are the central 90 % of Monte
Carlo draws (JCGM 101:2008) in which every input varies by its standard uncertainty.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from maple_rook.core.cutting.force import (
    EDGE_RADII_UM,
    FOODS,
    ONE_HAND_LIMIT_N,
    STROKES,
    Food,
    Stroke,
)
from maple_rook.core.edge_life.calibration import CLASSES
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, LifeModel
from maple_rook.core.edge_life.retention import EdgeState, Kitchen, tcc_range_notes
from maple_rook.core.geometry.edge import steering
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.measurement.knife_types import Grind
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import (
    Array,
    Figure,
    interval,
    standard_draws,
    variance_shares,
)
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.core.prediction.blade import FRESH_EDGE_RADIUS_UM, Blade, Input, Origin
from maple_rook.core.prediction.evaluate import OTHERS, Target, evaluate, targets
from maple_rook.core.prediction.inputs import (
    FIGURE_INPUTS,
    INDEX,
    INPUTS,
    INTERVAL_TO_U,
    NEEDS,
    SHARED_INPUTS,
    inferred,
    input_arrays,
    missing,
    unavailable,
)
from maple_rook.core.prediction.model_card import ModelCard
from maple_rook.core.prediction.model_cards import card
from maple_rook.core.prediction.next_step import NextStep, NextSteps

_SHARED_SEED = 20_061
BLOCK = 8192
"""Blades times draws that are worked on at a time."""
EDGE_LIFE_CARDS = frozenset({"card_test", "initial_cut", "days_to_rod", "months_to_stone"})
"""Cards whose coefficients a shop may set."""
_UNEVEN_CARDS = {"cutting_force", "cutting_ease", "steering_force", "apex_offset"}
_RANGED_CARDS = {"card_test", "initial_cut", "months_to_stone"}


@dataclass(frozen=True)
class PredictionArrays:
    """Predictions of n blades for m targets: central, low, high (n, m), shares (n, m, inputs)."""

    targets: list[Target]
    central: Array
    low: Array
    high: Array
    shares: Array | None


@dataclass(frozen=True, slots=True)
class Contribution:
    """An input of a prediction and the share of the variance that goes with it."""

    key: str
    label: str
    share: float
    value: str


@dataclass(frozen=True, slots=True)
class Prediction:
    """A number that explains itself; ``central`` is None where ``unavailable`` says why."""

    key: str
    label: str
    unit: str
    card: ModelCard
    central: float | None
    low: float | None
    high: float | None
    contributions: tuple[Contribution, ...]
    notes: tuple[str, ...]
    measure_next: NextStep | None
    unavailable: str | None

    @property
    def own_figure(self) -> Figure | None:
        """The value with the uncertainty that is this knife's own.

        What varies alike for every knife compared (food, kitchen) is left out, since it cannot
        change which of two knives is ahead.
        """
        if self.central is None or self.low is None or self.high is None:
            return None
        shared = sum(c.share for c in self.contributions if c.key in SHARED_INPUTS)
        total = (self.high - self.low) / INTERVAL_TO_U
        return Figure(self.central, total * math.sqrt(max(0.0, 1 - shared)))


def predict_arrays(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = 1000,
    shares: bool = True,
    only: Iterable[str] = OTHERS,
    life: LifeModel = PUBLISHED_LIFE,
) -> PredictionArrays:
    """Predict many blades in one vectorised call.

    Each blade draws from the stream its ``seed`` names; :data:`SHARED_INPUTS` vary alike for all.
    ``only`` names the targets beside the forces that are wanted; others may be NaN. ``life`` is
    what the edge life is computed with.
    """
    kitchen = kitchen or Kitchen()
    ready = _ready(blades, kitchen, life)
    return _arrays(ready, kitchen, foods, strokes, draws, frozenset(only), life, shares=shares)


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
) -> PredictionArrays:
    """:func:`predict_arrays` of blades that are ready."""
    wanted = targets(foods, strokes)
    size = max(1, BLOCK // draws)
    blocks = [
        _block(
            blades[at : at + size],
            kitchen,
            foods,
            strokes,
            wanted,
            draws,
            only,
            life,
            shares=shares,
        )
        for at in range(0, len(blades), size)
    ]
    central, low, high, used = zip(*blocks, strict=True)
    return PredictionArrays(
        wanted,
        np.concatenate(central),
        np.concatenate(low),
        np.concatenate(high),
        np.concatenate(used) if shares else None,
    )


def _block(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    foods: Sequence[Food],
    strokes: Sequence[Stroke],
    wanted: Sequence[Target],
    draws: int,
    only: frozenset[str],
    life: LifeModel,
    *,
    shares: bool,
) -> tuple[Array, Array, Array, Array]:
    """Central, low, high and shares of so many blades as stay in the processor's caches."""
    noise, outputs = _outputs(blades, kitchen, foods, strokes, wanted, draws, only, life)
    central, outputs = outputs[:, :, 0].copy(), outputs[:, :, 1:]
    with np.errstate(invalid="ignore"):
        low, high = interval(outputs)
        used = variance_shares(noise, outputs) if shares else central
    return central, low, high, used


def drawn(
    blades: Sequence[Blade],
    kitchen: Kitchen,
    *,
    foods: Sequence[Food],
    draws: int,
    only: Sequence[str],
    life: LifeModel = PUBLISHED_LIFE,
) -> dict[str, Array]:
    """The draws themselves of some targets beside the forces, each (n, draws).

    What varies alike for all knives does so in every draw, so that it cannot decide between them.
    """
    strokes = (STROKES["push"],)
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
) -> tuple[Array, Array]:
    """Noise of the inputs (n, inputs, draws); targets (n, m, 1 + draws), the first without it."""
    means, spreads = input_arrays(blades)
    noise = standard_draws([blade.seed for blade in blades], len(INPUTS), draws)
    shared = standard_draws([_SHARED_SEED], len(SHARED_INPUTS), draws)[0]
    for key, common in zip(SHARED_INPUTS, shared, strict=True):
        noise[:, INDEX[key]] = common
    noise[:, INDEX["class_offset"]] = _by_class(blades, draws)
    values = np.empty((*means.shape, draws + 1))
    values[:, :, 0] = means  # the central values are one more draw, without noise
    np.multiply(spreads[:, :, None], noise, out=values[:, :, 1:])
    values[:, :, 1:] += means[:, :, None]
    with np.errstate(invalid="ignore", divide="ignore"):  # what is not known is NaN and stays NaN
        outputs = evaluate(values, blades, kitchen, list(foods), list(strokes), only, life)
        outputs[_refused(blades, wanted)] = np.nan
    return noise, outputs


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


def _refused(blades: Sequence[Blade], wanted: Sequence[Target]) -> Array:
    """Which targets of which blades have no prediction, (n, m)."""
    columns = [list(NEEDS).index(t.card) for t in wanted]
    by_card = np.array([[unavailable(b, key) is not None for key in NEEDS] for b in blades])
    return np.asarray(by_card[:, columns])


def predict(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = 1000,
    life: LifeModel = PUBLISHED_LIFE,
) -> list[list[Prediction]]:
    """Every prediction of every blade, explained."""
    kitchen = kitchen or Kitchen()
    blades = _ready(blades, kitchen, life)
    arrays = _arrays(blades, kitchen, foods, strokes, draws, frozenset(OTHERS), life, shares=True)
    assert arrays.shares is not None
    columns = (arrays.central, arrays.low, arrays.high, np.round(arrays.shares, 4))
    numbers = zip(*(column.tolist() for column in columns), strict=True)
    return [
        [
            _prediction(blade, target, explained, *of_target)
            for target, *of_target in zip(arrays.targets, *of_blade, strict=True)
        ]
        for blade, of_blade in zip(blades, numbers, strict=True)
        for explained in (_explained(blade, life),)
    ]


@dataclass(frozen=True)
class _Explained:
    """What the predictions of one blade share: input texts, refusals by card, next steps."""

    inputs: list[str]
    refusals: dict[str, tuple[str | None, list[str]]]
    life: LifeModel
    steps: NextSteps


def _explained(blade: Blade, life: LifeModel) -> _Explained:
    refusals = {key: (unavailable(blade, key), missing(blade, key)) for key in NEEDS}
    return _Explained(_input_texts(blade, life), refusals, life, NextSteps(blade, life))


def _prediction(
    blade: Blade,
    target: Target,
    explained: _Explained,
    central: float,
    low: float,
    high: float,
    shares: list[float],
) -> Prediction:
    model = card(target.card)
    why_not, lacking = explained.refusals[target.card]
    if why_not:
        return Prediction(
            target.key,
            target.label,
            model.unit,
            model,
            None,
            None,
            None,
            (),
            (),
            NextStep(lacking[0], False, 1.0) if lacking else None,
            why_not,
        )
    guessed = inferred(blade, target.card)
    used = _contributions((*NEEDS[target.card], *guessed), explained.inputs, shares)
    step = explained.steps.best(target.card, ((c.key, c.share) for c in used))
    notes = _notes(blade, target.card, central, guessed)
    return Prediction(
        target.key,
        target.label,
        model.unit,
        model,
        central,
        low,
        high,
        used,
        (*notes, *_calibrated_note(blade, target.card, explained.life)),
        step,
        None,
    )


def _calibrated_note(blade: Blade, card_key: str, life: LifeModel) -> Iterator[str]:
    """What the shop's coefficients and trials did to this prediction, if anything."""
    if card_key in EDGE_LIFE_CARDS and life.coefficients != PUBLISHED:
        yield "Computed with this shop's coefficients, not the published ones in the equation."
    found = life.posteriors.get(card_key)
    if found is None or not found.pieces:
        return
    percent = 100 * math.expm1(found.offset(blade.grade_class)[0])
    moved = (
        "as published"
        if abs(percent) < 0.5
        else (f"{abs(percent):.0f} % {'more' if percent > 0 else 'less'} than published")
    )
    knives = "one knife" if found.pieces == 1 else f"{found.pieces} knives"
    yield f"Calibrated on {knives} of this shop: {moved}."


def _contributions(
    needed: Sequence[str], texts: list[str], shares: list[float]
) -> tuple[Contribution, ...]:
    """Every input that must be named and every one with a share, largest share first."""
    rows = [
        Contribution(key, label, share, text)
        for (key, label), text, share in zip(INPUTS, texts, shares, strict=True)
        if share > 0 or key in needed
    ]
    return tuple(sorted(rows, key=lambda row: -row.share))


_INPUT_UNITS = {
    "edge_radius": "µm",
    "carbides": "mm of card",
    "edge_angle": "° per side",
    "steeper": "° per side",
    "angle_difference": "°",
    "bulge": "of the half-thickness",
    "grind_line": "of the height",
    "shinogi": "of the spine",
    "heights": "relative",
    "surface": "of 1",
}


def _input_texts(blade: Blade, life: LifeModel) -> list[str]:
    """Each input as a person reads it, in the order of :data:`INPUTS`."""
    of_life = _life_texts(blade, life)
    return [
        of_life.get(key)
        or _input_text(key, blade.inputs.get(key) if key in FIGURE_INPUTS else None)
        for key, _ in INPUTS
    ]


def _life_texts(blade: Blade, life: LifeModel) -> dict[str, str]:
    """The offsets and the scatter of the card test, as per cent with U."""
    offsets = life.offsets([blade.grade_class])

    def text(of: tuple[Array, Array]) -> str:
        mean, sd = (float(part[0, 0]) for part in of)
        return f"{100 * math.expm1(mean):+.0f} % ± {200 * sd:.0f} %"

    return {
        "shop_offset": text(offsets.shop),
        "class_offset": f"{text(offsets.steel)}, {blade.grade_class.value}",
        "card_scatter": f"± {200 * offsets.card:.0f} %",
    }


def _input_text(key: str, found: Input | None) -> str:
    if found is None:
        return "assumed"
    unit = _INPUT_UNITS.get(key) or QUANTITIES[key].unit
    decimals = decimals_for(2 * found.figure.expanded)
    mean, expanded = (rounded_text(v, decimals) for v in (found.figure.mean, found.figure.expanded))
    text = f"{mean} ± {expanded} {unit}".replace(" °", "°")
    return text if found.origin is Origin.MEASURED else f"{text}, {found.origin.value}"


def _notes(blade: Blade, card_key: str, central: float, guessed: Sequence[str]) -> tuple[str, ...]:
    notes: list[str] = []
    if card_key in _RANGED_CARDS:
        notes += tcc_range_notes(blade.figures["hardness"].mean, apex_deg(blade))
    if card_key == "cutting_force" and central > ONE_HAND_LIMIT_N:
        notes.append("More than one hand presses (125 N): not a kitchen cut.")
    elif card_key == "cutting_force" and central > ONE_HAND_LIMIT_N / 2:
        notes.append("More than half of what one hand presses (125 N): tiring.")
    if card_key == "apex_offset":
        notes.append(_steering(blade, central))
        if blade.school and "asymmetry" in blade.figures and not blade.single_bevel:
            notes.append(f"Asymmetry read as {blade.school.words}.")
    if card_key == "steering_force":
        notes.append(pushed_to(central))
    assumed_even = blade.inputs["asymmetry"].origin is Origin.ASSUMED and not blade.single_bevel
    if card_key in _UNEVEN_CARDS and assumed_even:
        notes.append("Asymmetry not measured: taken as 50/50 within 5.")
    if card_key == "tip_deflection" and central > blade.inputs["edge_length"].figure.mean / 5:
        notes.append("Beyond small deflections: read it as very flexible.")
    if guessed:
        labels = dict(INPUTS)
        notes.append(f"Inferred from type and grind: {', '.join(labels[k] for k in guessed)}.")
    return tuple(notes)


def apex_deg(blade: Blade) -> float:
    """Central inclusive angle at the apex, degrees."""
    sides = 1 if blade.grind is Grind.SINGLE_BEVEL else 2
    return sides * blade.inputs[blade.apex_key].figure.mean


def _steering(blade: Blade, offset_mm: float) -> str:
    if blade.single_bevel:
        hand = "left" if blade.left_handed else "right"
        away = "right" if blade.left_handed else "left"
        return f"steers {away}; single bevel for the {hand} hand"
    return steering(offset_mm, blade.inputs["thickness_behind_edge"].figure.mean)


def pushed_to(side_force_n: float) -> str:
    """In words, which way the food pushes the blade; under 0.2 N is called neither way.

    >>> pushed_to(1.4)
    'pushed to the left as held; a right-hander sees it turn under the hand'
    """
    if abs(side_force_n) < 0.2:
        return "pushed neither way"
    if side_force_n > 0:
        return "pushed to the left as held; a right-hander sees it turn under the hand"
    return "pushed to the right as held; a left-hander sees it turn under the hand"

"""Every prediction for any number of blades, with interval, contributions and next measurement.

Central values are the models at the measured figures. Intervals are the central 90 % of Monte
Carlo draws (JCGM 101:2008) in which every input varies by its standard uncertainty.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from maple_rook.core.blade import Blade
from maple_rook.core.cutting import (
    FOODS,
    ONE_HAND_LIMIT_N,
    REFERENCE_EDGE_RADIUS_UM,
    STROKES,
    Food,
    Stroke,
    ease_index,
    peak_forces_n,
    reference_section,
)
from maple_rook.core.edge import steering
from maple_rook.core.figures_text import decimals_for, rounded_text
from maple_rook.core.hardness import yield_strength_mpa
from maple_rook.core.knife_types import GRIND_LABELS, SINGLE_BEVELS, Grind
from maple_rook.core.model_cards import ModelCard, card
from maple_rook.core.quantities import QUANTITIES
from maple_rook.core.retention import (
    KITCHEN_FACTOR,
    Kitchen,
    days_to_rod,
    holds_an_edge,
    months_to_stone,
    tcc_linear_mm,
    tcc_mm,
    tcc_range_notes,
    tcc_scatter,
)
from maple_rook.core.section import flat_section
from maple_rook.core.uncertainty import (
    Array,
    Figure,
    interval,
    standard_draws,
    variance_shares,
)

FOOD_SCATTER = 0.08
OTHER_GRIND_SCATTER = 0.15
_SHARED_SEED = 20_061
SHARED_INPUTS = ("food", "kitchen_scatter")
"""Inputs that vary alike for all knives compared: the same food, the same kitchen."""


INPUTS: tuple[tuple[str, str], ...] = (
    ("thickness_behind_edge", "thickness behind the edge"),
    ("edge_angle", "edge angle"),
    ("spine_heel", "spine at heel"),
    ("height_heel", "height at heel"),
    ("asymmetry", "asymmetry"),
    ("hardness", "hardness"),
    ("spine_tip", "spine near tip"),
    ("edge_length", "edge length"),
    ("edge_radius", "edge radius"),
    ("carbides", "carbides of the steel"),
    ("grind", "grind taken as flat"),
    ("food", "the food itself"),
    ("card_scatter", "scatter of the regression"),
    ("kitchen_scatter", "spread between kitchens"),
)
_INDEX = {key: i for i, (key, _) in enumerate(INPUTS)}
_FIGURE_INPUTS = [key for key, _ in INPUTS[: _INDEX["grind"]]]
_LOWEST = {"thickness_behind_edge": 0.01, "edge_angle": 1.0, "edge_radius": 0.05, "asymmetry": 0.0}

_FORCE_NEEDS = ("spine_heel", "height_heel", "thickness_behind_edge", "edge_angle")
_NEEDS: dict[str, tuple[str, ...]] = {
    "cutting_force": _FORCE_NEEDS,
    "cutting_ease": _FORCE_NEEDS,
    "card_test": ("hardness", "edge_angle", "carbides"),
    "days_to_rod": ("hardness", "edge_angle"),
    "months_to_stone": ("hardness", "edge_angle", "carbides"),
    "yield_strength": ("hardness",),
    "distal_taper": ("spine_heel", "spine_tip", "edge_length"),
    "primary_angle": _FORCE_NEEDS,
    "apex_offset": ("thickness_behind_edge", "edge_angle"),
}
_ALWAYS_CARDS = {"yield_strength", "distal_taper"}
_SECTION_CARDS = {"cutting_force", "cutting_ease", "primary_angle", "apex_offset"}
_ASYMMETRY_CARDS = {"cutting_force", "cutting_ease", "apex_offset"}
_KITCHEN_CARDS = {"days_to_rod", "months_to_stone"}


_INTERVAL_TO_U = 2 * 1.6448536269514722


@dataclass(frozen=True)
class Target:
    """One predicted quantity: its key, its label and its model card's key."""

    key: str
    label: str
    card: str


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
    measure_next: str | None
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
        total = (self.high - self.low) / _INTERVAL_TO_U
        return Figure(self.central, total * math.sqrt(max(0.0, 1 - shared)))


def targets(foods: Sequence[Food], strokes: Sequence[Stroke]) -> list[Target]:
    """The predicted quantities for these foods and strokes, in the order of the arrays."""
    forces = [
        Target(f"force.{f.key}.{s.key}", f"{f.label}, {s.label}", "cutting_force")
        for f in foods
        for s in strokes
    ]
    others = ("cutting_ease", "card_test", "days_to_rod", "months_to_stone", "yield_strength",
              "distal_taper", "primary_angle", "apex_offset")  # fmt: skip
    return forces + [Target(key, card(key).name, key) for key in others]


def input_arrays(blades: Sequence[Blade]) -> tuple[Array, Array]:
    """Mean and standard uncertainty of every input, (n, inputs); NaN where not measured."""
    means = np.zeros((len(blades), len(INPUTS)))
    spreads = np.zeros_like(means)
    for i, blade in enumerate(blades):
        for j, key in enumerate(_FIGURE_INPUTS):
            figure = blade.input_figure(key)
            means[i, j] = np.nan if figure is None else figure.mean
            spreads[i, j] = 0.0 if figure is None else figure.standard_uncertainty
        spreads[i, _INDEX["grind"]] = 0.0 if blade.grind is Grind.FULL_FLAT else OTHER_GRIND_SCATTER
        if blade.refused:
            means[i, _INDEX["grind"]] = np.nan
    spreads[:, _INDEX["food"]] = FOOD_SCATTER
    spreads[:, _INDEX["card_scatter"]] = 1.0
    spreads[:, _INDEX["kitchen_scatter"]] = 2 * np.log(KITCHEN_FACTOR) / _INTERVAL_TO_U
    return means, spreads


def predict_arrays(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = 1000,
    shares: bool = True,
) -> PredictionArrays:
    """Predict many blades in one vectorised call.

    Each blade draws from the stream its ``seed`` names; :data:`SHARED_INPUTS` vary alike for all.
    """
    means, spreads = input_arrays(blades)
    chosen = (blades, kitchen or Kitchen(), list(foods), list(strokes))
    noise = standard_draws([blade.seed for blade in blades], len(INPUTS), draws)
    for key, common in zip(SHARED_INPUTS, standard_draws([_SHARED_SEED], 2, draws)[0], strict=True):
        noise[:, _INDEX[key]] = common
    values = np.empty((*means.shape, draws + 1))
    values[:, :, 0] = means  # the central values are one more draw, without noise
    np.multiply(spreads[:, :, None], noise, out=values[:, :, 1:])
    values[:, :, 1:] += means[:, :, None]
    with np.errstate(invalid="ignore"):  # what was not measured is NaN and stays NaN
        outputs = _evaluate(values, *chosen)
        central, outputs = outputs[:, :, 0], outputs[:, :, 1:]
        low, high = interval(outputs)
        used = variance_shares(noise, outputs) if shares else None
    return PredictionArrays(targets(foods, strokes), central, low, high, used)


def _evaluate(
    values: Array, blades: Sequence[Blade], kitchen: Kitchen, foods: list[Food],
    strokes: list[Stroke],
) -> Array:  # fmt: skip
    """Every target for every draw: (n, inputs, draws) to (n, targets, draws)."""
    x = {key: np.maximum(values[:, i], _LOWEST.get(key, -np.inf)) for key, i in _INDEX.items()}
    heavy = np.array([[b.heavy] for b in blades])
    even = np.array([[b.even_machine_edge] for b in blades])
    share_right = np.minimum(x["asymmetry"], 100) / 100
    section = flat_section(
        x["spine_heel"], x["height_heel"], x["thickness_behind_edge"], x["edge_angle"], share_right
    )
    forces = peak_forces_n(section, foods, strokes, x["edge_radius"])
    forces *= np.exp(x["food"] + x["grind"])
    reference = _reference_forces_n(tuple(foods), strokes[0])
    ease = ease_index(forces[:, 0] / np.exp(x["food"]), reference[:, None, None])
    covered = np.where(np.isnan(x["grind"]), np.nan, 1.0)
    inclusive = 2 * x["edge_angle"]
    measured = [b.figures.get(key) for b in blades for key in ("hardness", "edge_angle")]
    hrc, angle = np.reshape([m.mean if m else np.nan for m in measured], (-1, 2)).T[:, :, None]
    scatter = tcc_scatter(hrc, 2 * angle)
    tcc = tcc_mm(tcc_linear_mm(x["hardness"], inclusive, x["carbides"]))
    tcc = tcc * covered * np.exp(scatter * x["card_scatter"])
    kitchen_spread = np.exp(x["kitchen_scatter"])
    promised = np.where(holds_an_edge(hrc), covered, np.nan) * kitchen_spread
    rod = days_to_rod(x["hardness"], x["edge_angle"], kitchen, heavy=heavy, even_machine_edge=even)
    stone = months_to_stone(tcc, kitchen, heavy=heavy, even_machine_edge=even)
    taper = (x["spine_heel"] - x["spine_tip"]) / (x["edge_length"] - 10) * 100
    n, draws = x["spine_heel"].shape
    out = np.empty((n, len(foods) * len(strokes) + 8, draws))
    out[:, :-8] = np.moveaxis(forces, 2, 0).reshape(n, -1, draws)
    derived = (
        ease,
        tcc,
        rod * promised,
        stone * promised,
        yield_strength_mpa(x["hardness"], clip=True),
        taper,
        section.primary_angle_deg * covered,
        section.bevels.apex_offset_mm * covered,
    )
    for j, array in enumerate(derived):
        out[:, j - 8] = array
    return out


@lru_cache(maxsize=64)
def _reference_forces_n(foods: tuple[Food, ...], stroke: Stroke) -> Array:
    """Force of the reference blade for each food, N."""
    section = reference_section()
    return peak_forces_n(section, foods, [stroke], REFERENCE_EDGE_RADIUS_UM)[:, 0]


def predict(
    blades: Sequence[Blade],
    kitchen: Kitchen | None = None,
    *,
    foods: Sequence[Food] = tuple(FOODS.values()),
    strokes: Sequence[Stroke] = tuple(STROKES.values()),
    draws: int = 1000,
) -> list[list[Prediction]]:
    """Every prediction of every blade, explained."""
    arrays = predict_arrays(blades, kitchen, foods=foods, strokes=strokes, draws=draws)
    assert arrays.shares is not None
    columns = (arrays.central, arrays.low, arrays.high, np.round(arrays.shares, 4))
    numbers = zip(*(column.tolist() for column in columns), strict=True)
    return [
        [
            _prediction(blade, target, explained, *of_target)
            for target, *of_target in zip(arrays.targets, *of_blade, strict=True)
        ]
        for blade, of_blade in zip(blades, numbers, strict=True)
        for explained in (_explained(blade),)
    ]


@dataclass(frozen=True)
class _Explained:
    """What the predictions of one blade share: input texts, and refusals by card."""

    inputs: list[str]
    refusals: dict[str, tuple[str | None, list[str]]]


def _explained(blade: Blade) -> _Explained:
    refusals = {key: (_unavailable(blade, key), _missing(blade, key)) for key in _NEEDS}
    return _Explained(_input_texts(blade), refusals)


def _prediction(
    blade: Blade, target: Target, explained: _Explained,
    central: float, low: float, high: float, shares: list[float],
) -> Prediction:  # fmt: skip
    model = card(target.card)
    why_not, missing = explained.refusals[target.card]
    if why_not:
        return Prediction(
            target.key, target.label, model.unit, model, None, None, None, (), (),
            missing[0] if missing else None, why_not,
        )  # fmt: skip
    used = _contributions(target.card, explained.inputs, shares)
    measurable = [c for c in used if c.share > 0 and c.key in QUANTITIES]
    return Prediction(
        target.key, target.label, model.unit, model,
        central, low, high, used,
        _notes(blade, target.card, central), measurable[0].label if measurable else None, None,
    )  # fmt: skip


def _missing(blade: Blade, card_key: str) -> list[str]:
    labels = dict(INPUTS)
    return [labels[key] for key in _NEEDS[card_key] if blade.input_figure(key) is None]


def _unavailable(blade: Blade, card_key: str) -> str | None:
    if card_key == "days_to_rod" and blade.grind in SINGLE_BEVELS:
        return "Never use a rod on a single-bevel blade."
    if card_key not in _ALWAYS_CARDS and blade.refused:
        return blade.refused
    if missing := _missing(blade, card_key):
        return f"Not measured: {', '.join(missing)}."
    if card_key in _KITCHEN_CARDS and not holds_an_edge(blade.figures["hardness"].mean):
        return "Below 50 HRC it will not hold an edge; no interval is promised."
    return None


def _contributions(
    card_key: str, texts: list[str], shares: list[float]
) -> tuple[Contribution, ...]:
    """Every input the model needs and every one with a share, largest share first."""
    needed = _NEEDS[card_key]
    rows = [
        Contribution(key, label, share, text)
        for (key, label), text, share in zip(INPUTS, texts, shares, strict=True)
        if share > 0 or key in needed
    ]
    return tuple(sorted(rows, key=lambda row: -row.share))


_INPUT_UNITS = {"edge_radius": "µm", "carbides": "mm of card", "edge_angle": "° per side"}


def _input_texts(blade: Blade) -> list[str]:
    """Each input as a person reads it, in the order of :data:`INPUTS`."""
    return [
        _input_text(key, blade.input_figure(key) if key in _FIGURE_INPUTS else None)
        for key, _ in INPUTS
    ]


def _input_text(key: str, figure: Figure | None) -> str:
    if figure is None:
        return "assumed"
    unit = _INPUT_UNITS.get(key) or QUANTITIES[key].unit
    decimals = decimals_for(2 * figure.expanded)
    mean, expanded = (rounded_text(v, decimals) for v in (figure.mean, figure.expanded))
    return f"{mean} ± {expanded} {unit}".replace(" °", "°")


def _notes(blade: Blade, card_key: str, central: float) -> tuple[str, ...]:
    notes: list[str] = []
    if card_key in _SECTION_CARDS and blade.grind is not Grind.FULL_FLAT:
        notes.append(f"The {GRIND_LABELS[blade.grind]} grind is taken as flat; interval widened.")
    if card_key in ("card_test", "months_to_stone"):
        angle = blade.figures["edge_angle"].mean
        notes += tcc_range_notes(blade.figures["hardness"].mean, 2 * angle)
    if card_key == "cutting_force" and central > ONE_HAND_LIMIT_N:
        notes.append("More than one hand presses (125 N): not a kitchen cut.")
    elif card_key == "cutting_force" and central > ONE_HAND_LIMIT_N / 2:
        notes.append("More than half of what one hand presses (125 N): tiring.")
    if card_key == "apex_offset":
        notes.append(steering(central, blade.figures["thickness_behind_edge"].mean))
    if card_key in _ASYMMETRY_CARDS and "asymmetry" not in blade.figures:
        notes.append("Asymmetry not measured: taken as 50/50 within 5.")
    return tuple(notes)

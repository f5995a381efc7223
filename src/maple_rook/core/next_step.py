"""What to measure or try next: the one step that narrows a prediction most, and by how much."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from maple_rook.core.blade import Blade, Origin
from maple_rook.core.life_model import LifeModel
from maple_rook.core.quantities import QUANTITIES, Quantity
from maple_rook.core.uncertainty import Figure, type_b

MORE_READINGS = 3
LEAST_GAIN = 0.01
"""A step that narrows an interval by less is not worth naming."""
MEASURED_AS = {"steeper": "micro_bevel", "bulge": "thickness_10mm", "heights": "height_mid",
               "shinogi": "bevel_width_right", "angle_difference": "angle_right"}  # fmt: skip
"""What to measure for an input that is no quantity of its own."""


@dataclass(frozen=True, slots=True)
class NextStep:
    """A measurement or a trial, in words, and the share of the interval's width it takes off."""

    label: str
    trial: bool
    gain: float


def next_step(
    blade: Blade, card_key: str, shares: Mapping[str, float], life: LifeModel
) -> NextStep | None:
    r"""The best step for a prediction whose variance goes with inputs by these shares.

    To first order the width shrinks to sqrt(1 - sum s_i (1 - r_i)), r_i what the step leaves of
    the variance of input i: three more readings of what is measured, a first reading of what is
    inferred or assumed, one more knife tried for the offsets.
    """
    steps = [*_measurements(blade, shares), *_trials(blade, card_key, shares, life)]
    best = max(steps, key=lambda step: step.gain, default=None)
    return best if best and best.gain >= LEAST_GAIN else None


def narrowed(parts: Iterable[tuple[float, float]]) -> float:
    """Share of the width taken off, from (share of the variance, what is left of it).

    >>> round(narrowed([(0.64, 0.0)]), 3)
    0.4
    """
    return 1 - math.sqrt(max(0.0, 1 - sum(s * (1 - r) for s, r in parts)))


def _measurements(blade: Blade, shares: Mapping[str, float]) -> Iterator[NextStep]:
    for key, share in shares.items():
        asked = QUANTITIES.get(MEASURED_AS.get(key, key))
        found = blade.inputs.get(key)
        if share <= 0 or found is None or (asked is None and key != "surface"):
            continue
        now = found.figure.standard_uncertainty
        then = _after(blade, key, asked)
        if now > 0 and then < now:
            label = asked.label if asked else "finish of the faces"
            if found.origin is Origin.MEASURED:
                label = f"{label}, {MORE_READINGS} more readings"
            yield NextStep(label, False, narrowed([(share, (then / now) ** 2)]))


def _after(blade: Blade, key: str, asked: Quantity | None) -> float:
    """Standard uncertainty of an input after the step."""
    if asked is None:
        return replace(blade, surface=()).inputs[key].figure.standard_uncertainty
    figure = blade.figures.get(asked.key)
    instrument = type_b(asked.resolution, asked.mpe)
    if figure is None:
        value = blade.inputs[key].figure.mean if asked.key == key else _likely(blade, asked)
        read = Figure(value, instrument)
    else:
        repeats = figure.type_a * math.sqrt(figure.n / (figure.n + MORE_READINGS))
        u = math.hypot(min(instrument, figure.type_b), repeats)
        read = Figure(figure.mean, min(u, figure.standard_uncertainty))
    then = replace(blade, figures={**blade.figures, asked.key: read})
    return then.inputs[key].figure.standard_uncertainty


def _likely(blade: Blade, asked: Quantity) -> float:
    """A value the reading may have; the uncertainty that follows hardly depends on it."""
    angle, spine, height = (
        found.figure.mean if (found := blade.inputs.get(key)) else fallback
        for key, fallback in (("edge_angle", 15.0), ("spine_heel", 2.2), ("height_heel", 45.0))
    )
    return {"micro_bevel": angle + 3, "thickness_10mm": spine / 3, "height_mid": 0.9 * height,
            "bevel_width_right": spine, "angle_right": angle}[asked.key]  # fmt: skip


def _trials(
    blade: Blade, card_key: str, shares: Mapping[str, float], life: LifeModel
) -> Iterator[NextStep]:
    share = shares.get("shop_offset", 0.0) + shares.get("class_offset", 0.0)
    card = life.posteriors["card_test"]
    if share > 0:
        now = card.offset(blade.grade_class)[1]
        left = (card.after_one_more(blade.grade_class) / now) ** 2
        label = f"a card test of this knife, or another of {blade.grade_class.value}"
        yield NextStep(label, True, narrowed([(share, left)]))
    share = shares.get("kitchen_scatter", 0.0)
    if share > 0 and card_key in life.posteriors:
        kitchen = life.posteriors[card_key]
        now = kitchen.offset(blade.grade_class)[1]
        then = kitchen.after_one_more(blade.grade_class)
        whole = now**2 + kitchen.scatter**2
        left = (then**2 + kitchen.scatter**2) / whole
        yield NextStep("a kitchen log of such a knife", True, narrowed([(share, left)]))

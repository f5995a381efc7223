"""What to measure or try next: the one step that narrows a prediction most, and by how much."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import Figure, type_b
from maple_rook.core.prediction.blade import Blade, Origin

MORE_READINGS = 3
LEAST_GAIN = 0.01
"""A step that narrows an interval by less is not worth naming."""
MEASURED_AS = {
    "steeper": "micro_bevel",
    "bulge": "thickness_10mm",
    "heights": "height_mid",
    "shinogi": "bevel_width_right",
    "angle_difference": "angle_right",
}
"""What to measure for an input that is no quantity of its own."""
_RELATIVE = frozenset({"grind_line"})
"""Inputs that are a share of something, though a reading of their name is not."""


@dataclass(frozen=True, slots=True)
class NextStep:
    """A measurement or a trial, in words, and the share of the interval's width it takes off."""

    label: str
    trial: bool
    gain: float


class NextSteps:
    """The steps that may follow for one blade; what each leaves is calculated once."""

    def __init__(self, blade: Blade, life: LifeModel) -> None:
        self._blade, self._life = blade, life
        self._readings: dict[str, tuple[str, float] | None] = {}

    def best(self, card_key: str, shares: Iterable[tuple[str, float]]) -> NextStep | None:
        r"""The best step for a prediction whose variance goes with inputs by these shares.

        To first order the width shrinks to sqrt(1 - sum s_i (1 - r_i)), r_i what the step leaves
        of the variance of input i: three more readings of what is measured, a first reading of
        what is inferred or assumed, one more knife tried for the offsets.
        """
        found = {key: share for key, share in shares if share > 0}
        steps = [*self._measurements(found), *self._trials(card_key, found)]
        best = max(steps, key=lambda step: step.gain, default=None)
        return best if best and best.gain >= LEAST_GAIN else None

    def _measurements(self, shares: Mapping[str, float]) -> Iterator[NextStep]:
        for key, share in shares.items():
            if key not in self._readings:
                self._readings[key] = _reading(self._blade, key)
            step = self._readings[key]
            if step is not None:
                yield NextStep(step[0], False, narrowed([(share, step[1])]))

    def _trials(self, card_key: str, shares: Mapping[str, float]) -> Iterator[NextStep]:
        for share, step in (
            (shares.get("shop_offset", 0.0) + shares.get("class_offset", 0.0), self._card_test),
            (shares.get("kitchen_scatter", 0.0), self._kitchen_logs.get(card_key)),
            (shares.get("card_scatter", 0.0), self._own_test),
        ):
            if share > 0 and step is not None:
                yield NextStep(step[0], True, narrowed([(share, step[1])]))

    @cached_property
    def _card_test(self) -> tuple[str, float]:
        """A card test, and what share of the variance of the offset one more leaves."""
        card, grade_class = self._life.posteriors["card_test"], self._blade.grade_class
        left = (card.after_one_more(grade_class) / card.offset(grade_class)[1]) ** 2
        return f"a card test of this knife, or another of {grade_class.label}", left

    @cached_property
    def _own_test(self) -> tuple[str, float] | None:
        """One more card test of a knife that has one, and what it leaves."""
        own = self._life.own.get(self._blade.seed, {}).get("card_test")
        if own is None:
            return None
        return "another card test of this knife", (own.sd_after_one_more / own.sd) ** 2

    @cached_property
    def _kitchen_logs(self) -> dict[str, tuple[str, float]]:
        """A kitchen log by model card, and what share of offset and kitchens one more leaves."""
        found = {}
        for key in ("days_to_rod", "months_to_stone"):
            kitchen, grade_class = self._life.posteriors[key], self._blade.grade_class
            now, then = kitchen.offset(grade_class)[1], kitchen.after_one_more(grade_class)
            between = kitchen.scatter**2
            left = (then**2 + between) / (now**2 + between)
            found[key] = ("a kitchen log of such a knife", left)
        return found


def narrowed(parts: Iterable[tuple[float, float]]) -> float:
    """Share of the width taken off, from (share of the variance, what is left of it).

    >>> round(narrowed([(0.64, 0.0)]), 3)
    0.4
    """
    return 1 - math.sqrt(max(0.0, 1 - sum(s * (1 - r) for s, r in parts)))


def _reading(blade: Blade, key: str) -> tuple[str, float] | None:
    """What to read for an input, and what share of its variance is left after; None if nothing."""
    asked = QUANTITIES.get(MEASURED_AS.get(key, key))
    found = blade.inputs.get(key)
    if found is None or (asked is None and key != "surface"):
        return None
    now = found.figure.standard_uncertainty
    then = _after(blade, key, asked)
    if not then < now:
        return None
    label = asked.label if asked else "finish of the faces"
    if found.origin is Origin.MEASURED:
        label = f"{label}, {MORE_READINGS} more readings"
    return label, (then / now) ** 2


def _after(blade: Blade, key: str, asked: Quantity | None) -> float:
    """Standard uncertainty of an input after the step."""
    if asked is None:
        return replace(blade, surface=()).inputs[key].figure.standard_uncertainty
    as_read = asked.key == key and key not in _RELATIVE
    figure = blade.figures.get(asked.key)
    instrument = type_b(asked.resolution, asked.mpe)
    first = math.hypot(instrument, asked.repeatability)
    if figure is None or figure.kind is not FigureKind.MEASURED:
        if as_read:
            return first
        read = Figure(figure.mean if figure else _likely(blade, asked), first)
    else:
        repeats = figure.type_a * math.sqrt(figure.n / (figure.n + MORE_READINGS))
        u = math.hypot(min(instrument, figure.type_b), repeats)
        read = Figure(figure.mean, min(u, figure.standard_uncertainty))
        if as_read:
            return read.standard_uncertainty
    then = replace(blade, figures={**blade.figures, asked.key: read})
    return then.inputs[key].figure.standard_uncertainty


def _likely(blade: Blade, asked: Quantity) -> float:
    """A value the reading may have; the uncertainty that follows hardly depends on it."""
    angle, spine, height = (
        found.figure.mean if (found := blade.inputs.get(key)) else fallback
        for key, fallback in (("edge_angle", 15.0), ("spine_heel", 2.2), ("height_heel", 45.0))
    )
    return {
        "micro_bevel": angle + 3,
        "thickness_10mm": spine / 3,
        "height_mid": 0.9 * height,
        "bevel_width_right": spine,
        "grind_line": 0.6 * height,
        "angle_right": angle,
    }[asked.key]

"""How long one edge lasts and what it bears, as stations show it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Self

import numpy as np
from pydantic import BaseModel

from maple_rook.core.cutting.foods import Food
from maple_rook.core.edge_life.course import DAYS_IN_MONTH, Routine, edge_life
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.stability import Stability, StrokeStyle, stability
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.edge_change import in_words
from maple_rook.core.prediction.evaluate import strop_days
from maple_rook.core.prediction.explanation import Prediction

LIFE_DAYS, LIFE_STEP = 180, 0.5
_DAYS = np.arange(0, LIFE_DAYS + LIFE_STEP / 2, LIFE_STEP)


class EdgeLifeOut(BaseModel):
    """Sharpness index by half days from 0 to 180; empty where ``why`` says why."""

    step_days: float
    sharpness: list[float]
    rod_every_days: float | None
    stone_every_days: float | None
    routine: str
    why: str


class MarginOut(BaseModel):
    """Load borne over the load of a stroke: likely, and the 90 % interval."""

    style: str
    roll: list[float]
    chip: list[float] | None
    words: str


class LeverOut(BaseModel):
    """What one change would add to the load the edge bears, as a share of it."""

    label: str
    gain: float


class StabilityOut(BaseModel):
    margins: list[MarginOut]
    levers: list[LeverOut]
    lesson: str

    @classmethod
    def of(cls, found: Stability) -> Self:
        return cls(
            margins=[
                MarginOut(
                    style=m.style.value,
                    roll=list(m.roll),
                    chip=None if m.chip is None else list(m.chip),
                    words=m.words,
                )
                for m in found.margins
            ],
            levers=[LeverOut(label=label, gain=gain) for label, gain in found.levers],
            lesson=found.lesson,
        )


def edge_life_of(
    blade: Blade, predictions: list[Prediction], kitchen: Kitchen, life: LifeModel
) -> EdgeLifeOut:
    """The saw-tooth of 180 days in this kitchen, at the likely rod and stone days."""
    found = {p.key: p for p in predictions}
    stone, rod = found["months_to_stone"], found["days_to_rod"]
    if stone.central is None:
        return EdgeLifeOut(
            step_days=LIFE_STEP,
            sharpness=[],
            rod_every_days=None,
            stone_every_days=None,
            routine="",
            why=stone.unavailable or "",
        )
    stone_day = stone.central * DAYS_IN_MONTH
    rodded = kitchen.honed and rod.central is not None
    routine = Routine.AS_NEEDED if rodded else Routine.STONE_ONLY
    rod_day = rod.central
    if rod_day is None:
        rod_day = strop_days(blade, kitchen, life) or stone_day
    curve = edge_life(_DAYS, rod_day, stone_day, routine)
    return EdgeLifeOut(
        step_days=LIFE_STEP,
        sharpness=np.round(curve.sharpness, 1).tolist(),
        rod_every_days=rod_day if rodded else None,
        stone_every_days=stone_day,
        routine=routine.value,
        why="" if rodded or not kitchen.honed else (rod.unavailable or ""),
    )


def stability_of(blade: Blade) -> StabilityOut | None:
    """Margins of the edge, or None where hardness or angle is not measured."""
    found = edge_stability(blade)
    return None if found is None else StabilityOut.of(found)


def edge_stability(blade: Blade) -> Stability | None:
    """Margins of the edge as the core has them, or None where there can be none."""
    hardness = blade.hardness
    if hardness is None or blade.refused or "edge_angle" not in blade.known:
        return None
    half = blade.apex_deg / 2
    angle = Figure(half, blade.inputs[blade.apex_key].figure.standard_uncertainty)
    return stability(hardness, angle, blade.steel.toughness if blade.steel else None)


def changed_in_words(
    blades: tuple[Blade, Blade],
    predictions: tuple[Sequence[Prediction], Sequence[Prediction]],
    foods: Sequence[Food],
) -> list[str]:
    """What another edge gives and costs, in normal work, a sentence each."""
    margins = [
        next((m for m in found.margins if m.style is StrokeStyle.NORMAL), None) if found else None
        for found in map(edge_stability, blades)
    ]
    by_key = [{p.key: p for p in found} for found in predictions]
    return in_words(blades, (by_key[0], by_key[1]), (margins[0], margins[1]), foods)

"""The inputs of the predictions as arrays, and which predictions a blade has none of, and why."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from maple_rook.core.cutting.food_release import RELEASE_SCATTER
from maple_rook.core.cutting.foods import FOOD_SCATTER
from maple_rook.core.edge_life.retention import HARD_HRC, RodSchool, holds_an_edge
from maple_rook.core.geometry.outline import heights_mm
from maple_rook.core.geometry.solid import STATION_SHARES
from maple_rook.core.measurement.uncertainty import Z_90, Array
from maple_rook.core.prediction.blade import Blade, Origin
from maple_rook.core.prediction.model_cards import PREDICTED

INTERVAL_TO_U = 2 * Z_90
SHARED_INPUTS = ("food", "kitchen_scatter", "release_scatter", "shop_offset")
"""Inputs that vary alike for all knives compared: the same food, the same kitchen."""

STANDARD_INPUTS = (
    "card_scatter",
    "kitchen_scatter",
    "shop_offset",
    "class_offset",
    "initial_scatter",
)
"""Inputs that are standard normal: the life model says how wide they are for a blade."""

INPUTS: tuple[tuple[str, str], ...] = (
    ("thickness_behind_edge", "thickness behind the edge"),
    ("edge_angle", "edge angle"),
    ("angle_difference", "difference between the faces' angles"),
    ("steeper", "micro-bevel or added bevel"),
    ("asymmetry", "asymmetry"),
    ("spine_heel", "spine at heel"),
    ("spine_mid", "spine at middle"),
    ("spine_tip", "spine near tip"),
    ("height_heel", "height at heel"),
    ("heights", "heights along the blade"),
    ("bulge", "curve of the faces"),
    ("grind_line", "height of the grind line"),
    ("shinogi", "thickness at the shinogi line"),
    ("hollow_depth", "hollow of the back"),
    ("hardness", "hardness"),
    ("edge_length", "edge length"),
    ("edge_radius", "edge radius"),
    ("carbides", "carbides of the steel"),
    ("weight", "weight"),
    ("balance_point", "balance point"),
    ("handle_length", "handle length"),
    ("surface", "finish of the faces"),
    ("food", "the food itself"),
    ("card_scatter", "scatter of the regression"),
    ("kitchen_scatter", "spread between kitchens"),
    ("release_scatter", "spread between cooks and foods"),
    ("shop_offset", "this shop's card tests"),
    ("class_offset", "this class of grades"),
    ("initial_scatter", "scatter of the first cycles"),
)
_LABELS = dict(INPUTS)
INDEX = {key: i for i, (key, _) in enumerate(INPUTS)}
FIGURE_INPUTS = [key for key, _ in INPUTS[: INDEX["food"]]]
LOWEST = {
    "thickness_behind_edge": 0.01,
    "edge_angle": 1.0,
    "steeper": 1.0,
    "edge_radius": 0.05,
    "asymmetry": 0.0,
    "spine_heel": 0.2,
    "spine_mid": 0.15,
    "spine_tip": 0.1,
    "height_heel": 5.0,
    "edge_length": 25.0,
    "grind_line": 0.1,
    "shinogi": 0.3,
    "hollow_depth": 0.0,
    "surface": 0.0,
}
"""What a draw may not fall below."""


def input_arrays(blades: Sequence[Blade]) -> tuple[Array, Array]:
    """Mean and standard uncertainty of every input, (n, inputs); NaN where nothing is known."""
    means = np.zeros((len(blades), len(INPUTS)))
    spreads = np.zeros_like(means)
    for i, blade in enumerate(blades):
        inputs = blade.inputs
        for j, key in enumerate(FIGURE_INPUTS):
            found = inputs.get(key)
            means[i, j] = np.nan if found is None else found.figure.mean
            spreads[i, j] = 0.0 if found is None else found.figure.standard_uncertainty
    spreads[:, INDEX["food"]] = FOOD_SCATTER
    for key in STANDARD_INPUTS:
        spreads[:, INDEX[key]] = 1.0
    spreads[:, INDEX["release_scatter"]] = RELEASE_SCATTER
    return means, spreads


def height_shares(blades: Sequence[Blade], shares: Array = STATION_SHARES) -> Array:
    """Height at shares of the edge length over the height at the heel, (n, stations)."""
    found = np.ones((len(blades), len(shares)))
    for i, blade in enumerate(blades):
        if not blade.refused:
            lines = blade.lines()
            found[i] = heights_mm(lines, shares) / lines.height_mm
    return found


def missing(blade: Blade, card_key: str) -> list[str]:
    """Labels of what must still be measured for a prediction."""
    usable = blade.usable
    return [_LABELS[key] for key in PREDICTED[card_key].needs if key not in usable]


def inferred(blade: Blade, card_key: str) -> list[str]:
    """Keys of the inputs of a model that were inferred for this blade."""
    used = PREDICTED[card_key].may_infer
    if card_key == "static_moment" and "balance_point" in blade.figures:
        return []
    needed = tuple(key for key in PREDICTED[card_key].needs if key in blade.usable - blade.known)
    return [*needed, *(key for key in used if blade.inputs[key].origin is Origin.INFERRED)]


def unavailable(blade: Blade, card_key: str, rods: RodSchool = RodSchool.NONE) -> str | None:
    """Why there is no such prediction for this blade, by the school of rods followed, or None."""
    if card_key == "days_to_rod" and blade.single_bevel:
        return "Never use a rod on a single-bevel blade."
    if not PREDICTED[card_key].of_any_blade and blade.refused:
        return blade.refused
    if lacking := missing(blade, card_key):
        return f"Not measured: {', '.join(lacking)}."
    if PREDICTED[card_key].of_the_kitchen and not holds_an_edge(blade.hrc):
        return "Below 52 HRC it will not hold an edge; no interval is promised."
    if card_key == "days_to_rod" and rods is RodSchool.NONE and _is_hard(blade):
        return f"No rod from {HARD_HRC:g} HRC by the school followed."
    return None


def _is_hard(blade: Blade) -> bool:
    return blade.hrc >= HARD_HRC

"""The usual cautions, chosen by what the blade is. They defer to local law and practice."""

from __future__ import annotations

from maple_rook.core.blade import Blade
from maple_rook.core.steels import Reactivity

HANDLING = (
    "Secure the blade before measuring, edge away from the body, a cut-resistant glove on the "
    "holding hand; never catch a falling knife."
)
PREDICTION = (
    "Predictions are estimates from geometry and steel, never a promise that a cut is safe."
)
LAW = (
    "Rules on sale, age, carriage and shipping of blades differ by place: follow local law and "
    "the shop's policy."
)


def cautions(blade: Blade) -> list[str]:
    """What to say with this blade, most specific first."""
    said = []
    hardness = blade.figures.get("hardness")
    if not blade.heavy:
        said.append(
            "No bone, frozen food, shells or hard cheese rind; no prying or twisting with the edge."
        )
    if hardness is not None and hardness.mean >= 62:
        said.append("Above 62 HRC: no rocking with a twist, no scraping with the edge.")
    if blade.steel is not None and blade.steel.reactivity is not Reactivity.STAINLESS:
        said.append("Reactive steel rusts and can colour food: wipe and dry at once.")
    return [*said, "Hand-wash and dry.", PREDICTION, HANDLING, LAW]

"""The usual cautions, chosen by what the blade is and where they are read.

They are common practice and defer to local law and to licensed practice.
"""

from __future__ import annotations

from enum import StrEnum

from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.prediction.blade import Blade

HANDLING = (
    "Secure the blade before measuring, edge away from the body, a cut-resistant glove on the "
    "holding hand; never catch a falling knife."
)
AT_HOME = (
    "Edge away from the body, tip and edge guarded when not in use; never catch a falling knife; "
    "lay it down to hand it over."
)
PREDICTION = (
    "Predictions are estimates from geometry and steel, never a promise that a cut is safe."
)
LAW = (
    "Rules on sale, age, carriage and shipping of blades differ by place: follow local law and "
    "the shop's policy; so do rules on food contact."
)
ALLERGY = "Some handle woods and plastics may cause allergy."
INJURY = "Injured: follow local first aid and emergency practice, and see a medical professional."
TESTER = "Keep fingers out of the hardness tester while the load is on."
FINISH = (
    "Sanding, filing or grinding: eye protection, dust control, the blade kept cool; wipe grit "
    "away. Food-safe oil and sealant only, cured fully; wash before food use. Industrial grinding "
    "and heat treatment belong to qualified people."
)

_AT_STOP = {"hardness": TESTER, "finish": FINISH, "cuts": AT_HOME}


def at_stop(stop: str) -> str:
    """What is said at a stop of the Bench.

    >>> at_stop("hardness") == TESTER and at_stop("spine") == HANDLING
    True
    """
    return _AT_STOP.get(stop, HANDLING)


class Place(StrEnum):
    """Where cautions are read."""

    SHEET = "sheet"
    COUNTER = "counter"
    CARD = "card"


_GENERAL = {
    Place.SHEET: (PREDICTION, HANDLING, FINISH, INJURY, LAW),
    Place.COUNTER: (PREDICTION, AT_HOME, LAW),
    Place.CARD: (AT_HOME, ALLERGY, INJURY, PREDICTION, LAW),
}


def general(place: Place) -> list[str]:
    """What is said there whatever the blade."""
    return list(_GENERAL[place])


def of_blade(blade: Blade) -> list[str]:
    """What this blade must not be put to."""
    said = []
    hardness = blade.hardness
    if not blade.heavy:
        said.append(
            "No bone, frozen food, shells or hard cheese rind; no prying or twisting with the edge."
        )
    if hardness is not None and hardness.mean >= 62:
        said.append("Above 62 HRC: no rocking with a twist, no scraping with the edge.")
    if blade.steel is not None and blade.steel.reactivity is not Reactivity.STAINLESS:
        said.append("Reactive steel rusts and can colour food: wipe and dry at once.")
    return said


def cautions(blade: Blade, place: Place) -> list[str]:
    """What to say with this blade there, most specific first; a card covers washing elsewhere."""
    wash = [] if place is Place.CARD else ["Hand-wash and dry."]
    return [*of_blade(blade), *wash, *general(place)]

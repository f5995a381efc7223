"""The order of work for one knife: which quantities and items each stop asks of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

from maple_rook.core.measurement.grinds import GRINDS, Grind, GrindFamily
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.observations import ITEMS, NOT_APPLICABLE, WITHDRAWN, Seen
from maple_rook.core.measurement.plain_methods import BY_METHOD_ALONE
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import STOPS


@dataclass(frozen=True)
class KnifeFacts:
    """What decides which questions make sense: type, grind, what was seen, what the maker says.

    ``seen`` maps (item, aspect) to the observation that stands.
    """

    knife_type: str
    grind: Grind = Grind.FULL_FLAT
    construction: str = ""
    handle: str = ""
    seen: Mapping[tuple[str, str], Seen] = field(default_factory=dict)

    def choice(self, item: str) -> str:
        """The single choice made for an item, or an empty string."""
        found = self.seen.get((item, ""))
        return "" if found is None or found.value in (NOT_APPLICABLE, WITHDRAWN) else found.value

    @property
    def clad(self) -> bool:
        """Seen to be clad, or described so by the maker while not yet observed."""
        seen = self.choice("construction")
        return seen.startswith("clad") if seen else "clad" in self.construction

    @property
    def stamped(self) -> bool:
        seen = self.choice("making")
        return seen == "stamped" if seen else "stamped" in self.construction

    @property
    def family(self) -> GrindFamily:
        return GRINDS[self.grind]

    @property
    def single_bevel(self) -> bool:
        return self.family.single_bevel

    @property
    def predicted(self) -> bool:
        return KNIFE_TYPES[self.knife_type].predicted

    @property
    def broad(self) -> bool:
        return KNIFE_TYPES[self.knife_type].shape.square_front

    def not_applicable(self, key: str) -> str:
        """The reason a person gave why a quantity or item does not apply, or an empty string."""
        found = self.seen.get((key, ""))
        return found.note if found is not None and found.value == NOT_APPLICABLE else ""


@dataclass(frozen=True)
class Asked:
    """One question at the bench; ``label`` is what it is called on this knife."""

    key: str
    stop: str
    label: str
    observed: bool
    required: bool


_EDGE_OF_DOUBLE = {
    "thickness_behind_edge",
    "thickness_1mm",
    "bevel_width_left",
    "angle_right",
    "angle_left",
}
_EDGE_OF_ADDED = {"thickness_behind_edge", "thickness_1mm"}
_NEEDS_AN_EDGE = _EDGE_OF_DOUBLE | {
    "thickness_5mm",
    "thickness_10mm",
    "edge_angle",
    "bevel_width_right",
    "asymmetry",
    "micro_bevel",
    "hollow_depth",
    "grind_line",
    "core_exposure",
    "sharpness_force",
    "asymmetry_school",
    "bevel_sides",
    "micro_bevel_face",
}
_OF_SINGLE = {"hollow_depth"}
_OF_CLAD = {"core_exposure", "hardness_cladding", "cladding_reactivity", "cladding_hardness"}
_SINGLE_LABELS = {
    "edge_angle": "face angle",
    "bevel_width_right": "bevel width, face",
    "micro_bevel": "micro-bevel angle, face",
}
_ADDED_LABELS = {
    "thickness_behind_edge": "thickness behind the added bevel",
    "micro_bevel": "added bevel angle",
}


def _left_out(facts: KnifeFacts) -> set[str]:
    out: set[str] = set()
    if facts.single_bevel:
        out |= _EDGE_OF_DOUBLE | {"asymmetry_school", "bevel_sides", "micro_bevel_face"}
        if facts.family.added_bevel:
            out -= _EDGE_OF_ADDED
    else:
        out |= _OF_SINGLE
    if facts.family.shape.grind_line is None:
        out.add("grind_line")
    if facts.family.shape.bulge is None:
        out.add("shaped_faces")
    if not facts.predicted:
        out |= _NEEDS_AN_EDGE
    if not facts.clad:
        out |= _OF_CLAD
    seen = facts.choice("bolster")
    if seen in ("none", "ferrule") or (facts.stamped and not seen):
        out.add("bolster_proud")
    shape = facts.choice("handle_shape")
    if (shape and shape != "riveted") or (
        not shape and facts.handle and "rivet" not in facts.handle
    ):
        out.add("rivets")
    if facts.broad:
        out |= {"rock_rise"}
    return out


def _label(key: str, usual: str, facts: KnifeFacts) -> str:
    if facts.family.added_bevel and key in _ADDED_LABELS:
        return _ADDED_LABELS[key]
    return _SINGLE_LABELS.get(key, usual) if facts.single_bevel else usual


def asked(facts: KnifeFacts) -> list[Asked]:
    """The questions for this knife in the order of work.

    >>> [a.key for a in asked(KnifeFacts("deba", Grind.SINGLE_BEVEL)) if a.key == "hollow_depth"]
    ['hollow_depth']
    """
    out = _left_out(facts)
    found = []
    for stop in STOPS:
        for q in QUANTITIES.values():
            if q.stop == stop and q.key not in out | BY_METHOD_ALONE:
                label = _label(q.key, q.label, facts)
                needed = q.required or (facts.broad and q.key in ("height_mid", "height_front"))
                needed = needed and not facts.not_applicable(q.key)
                found.append(Asked(q.key, stop, label, observed=False, required=needed))
        for item in ITEMS.values():
            if item.stop == stop and item.key not in out:
                needed = item.required and not facts.not_applicable(item.key)
                found.append(Asked(item.key, stop, item.label, observed=True, required=needed))
    return found


@lru_cache
def required_quantities(knife_type: str, grind: Grind) -> tuple[str, ...]:
    """Keys of the readings a complete sheet of such a knife has.

    >>> "thickness_behind_edge" in required_quantities("deba", Grind.SINGLE_BEVEL)
    False
    """
    questions = asked(KnifeFacts(knife_type, grind))
    return tuple(a.key for a in questions if a.required and not a.observed)


def stop_states(
    questions: list[Asked], answered: set[str], doubtful: set[str], facts: KnifeFacts
) -> dict[str, str]:
    """State of each stop: done, doubtful, begun, missing or not applicable.

    A stop with nothing required is done as soon as anything of it is answered.
    """
    states = {}
    for stop in STOPS:
        mine = [q for q in questions if q.stop == stop]
        wanted = [q.key for q in mine if q.required]
        taken = [q.key for q in mine if q.key in answered]
        if any(q.key in doubtful for q in mine):
            states[stop] = "doubtful"
        elif mine and all(facts.not_applicable(q.key) for q in mine):
            states[stop] = "not applicable"
        elif (wanted and all(key in answered for key in wanted)) or (not wanted and taken):
            states[stop] = "done"
        else:
            states[stop] = "begun" if taken else "missing"
    return states

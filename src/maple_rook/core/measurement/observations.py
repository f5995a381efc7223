"""What is seen rather than read off: construction, finish, handle, cuts, the sign-off.

Each item is a closed list, so that two people's sheets can be compared; a note says the rest. All
lists and methods are common practice in the trade, with no published source.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.quantities import QUANTITIES

NOT_APPLICABLE = "not_applicable"
WITHDRAWN = "withdrawn"
STANDS = "stands"
DECISION_PREFIX = "check."
MAX_NOTE = 400

SIDES = {"": "whole knife", "right": "right", "left": "left", "both": "both sides"}
FACES = {"": "both faces", "right": "right face", "left": "left face"}
PARTS = {"": "whole length", "heel": "back third", "middle": "middle", "front": "front third"}
STROKE_ASPECTS = {"": "stroke not noted", "push": "push", "glide": "glide", "draw": "draw"}


@dataclass(frozen=True)
class Item:
    """One thing to look at: its choices by key, and what else may be said of it.

    ``aspects`` are the sides or strokes it may be said of, ``multiple`` allows several choices,
    ``photo`` a picture, ``free`` a note in place of a choice.
    """

    key: str
    label: str
    stop: str
    method: str
    choices: dict[str, str]
    required: bool = False
    multiple: bool = False
    photo: bool = False
    free: bool = False
    aspects: dict[str, str] = field(default_factory=lambda: {"": ""})


_SEVERITY = {
    "fine": "fine",
    "minor": "minor",
    "mend": "mend before sale",
    "reject": "reject, return to maker",
}
_REACTIVITY = {
    "stainless": "stainless",
    "semi_stainless": "semi-stainless",
    "reactive": "reactive",
    "not_known": "not known",
}
_FAULTS = {
    "clean": "clean",
    "wedging": "wedges or cracks",
    "sticking": "food sticks",
    "steering": "steers",
    "tearing": "tears or leaves threads",
}
_SUITS = {
    "home": "home cook",
    "rough_home": "home cook with rough habits",
    "line": "prep line",
    "fish": "fish counter",
    "butcher": "butcher",
    "learner": "learner",
    "left_hand": "left-handed",
    "collector": "collector of fine edges",
}


def _choice(
    stop: str,
    key: str,
    label: str,
    method: str,
    choices: dict[str, str],
    *,
    required: bool = False,
    multiple: bool = False,
    aspects: dict[str, str] | None = None,
) -> Item:
    return Item(key, label, stop, method, choices, required, multiple, aspects=aspects or {"": ""})


def _finish(key: str, label: str, method: str) -> Item:
    return Item(key, label, "finish", method, _SEVERITY, photo=True, aspects=SIDES)


def _cut(key: str, label: str, method: str) -> Item:
    return Item(key, label, "cuts", method, _FAULTS, multiple=True, aspects=STROKE_ASPECTS)


def _free(key: str, label: str, method: str) -> Item:
    return Item(key, label, "sign_off", method, {}, free=True)


_DEFINITIONS = (
    _choice(
        "identify",
        "claims_copied",
        "claims on the box",
        "Copied as the maker printed them.",
        {"copied": "copied", "none_printed": "none printed", "no_box": "no box"},
    ),
    _choice(
        "construction",
        "construction",
        "construction",
        "Look along the spine and the choil.",
        {
            "one_steel": "one steel",
            "clad_three": "core clad on both sides, three layers",
            "clad_many": "core clad, many layers",
            "clad_one_side": "clad on one side",
            "joined": "several steels joined along the height",
        },
        required=True,
    ),
    _choice(
        "construction",
        "making",
        "forming method",
        "Bolster and taper, or sheet all through.",
        {"forged": "forged", "stamped": "stamped from sheet", "not_known": "not known"},
    ),
    _choice(
        "construction",
        "core_reactivity",
        "core steel reacts",
        "Of the steel at the edge.",
        _REACTIVITY,
        required=True,
    ),
    _choice(
        "construction",
        "cladding_reactivity",
        "cladding reacts",
        "Of the steel on the faces.",
        _REACTIVITY,
        required=True,
    ),
    _choice(
        "construction",
        "surface",
        "finish of the faces",
        "All that apply.",
        {
            "brushed": "brushed",
            "polished": "polished",
            "satin": "satin",
            "forge_black": "forge-black",
            "hammered": "hammered",
            "pear_skin": "pear-skin",
            "layered": "layered",
        },
        multiple=True,
        aspects=FACES,
    ),
    _choice(
        "construction",
        "cladding_hardness",
        "cladding is",
        "A needle scratches soft cladding, and skates on hard.",
        {"soft": "soft", "hard": "hard", "not_known": "not known"},
        aspects=FACES,
    ),
    _choice(
        "construction",
        "lacquer",
        "lacquer",
        "A film that a drop of water beads on.",
        {"none": "none", "blade": "on the blade", "over_edge": "over the edge too"},
    ),
    _choice(
        "construction",
        "shaped_faces",
        "curved faces",
        "A straight edge laid up the face.",
        {"both": "both faces", "right": "right face only", "left": "left face only"},
    ),
    _choice(
        "construction",
        "face_form",
        "form of each face",
        "A straight edge laid up the face, one face after the other.",
        {
            "flat": "flat",
            "slightly_convex": "slightly convex",
            "convex": "convex",
            "hollow": "hollow",
        },
        aspects=FACES,
    ),
    _choice(
        "construction",
        "dimples",
        "dimples",
        "Hollows ground into the faces.",
        {"none": "none", "right": "right face", "left": "left face", "both": "both faces"},
    ),
    _choice(
        "edge",
        "bevel_sides",
        "bevels, one against the other",
        "By eye, where no width is read.",
        {
            "even": "even",
            "right_narrower": "narrower on the right",
            "left_narrower": "narrower on the left",
        },
    ),
    _choice(
        "edge",
        "micro_bevel_face",
        "micro-bevel on",
        "Light along the last tenths, each face.",
        {"none": "no face", "both": "both faces", "right": "right face", "left": "left face"},
    ),
    _choice(
        "hardness",
        "hardness_dial",
        "dial on scale C",
        "The dial going round is soft steel: read scale B.",
        {"read": "read", "went_round": "dial went round, off the scale"},
    ),
    _choice(
        "edge",
        "asymmetry_school",
        "asymmetry read as",
        "What the ratio counts.",
        {
            "width": "ratio of the bevel widths",
            "angle": "division of the inclusive angle",
            "strokes": "strokes per side: a note, computes nothing",
        },
    ),
    _choice(
        "balance",
        "tang",
        "tang",
        "Seen at the back and butt of the handle.",
        {
            "full": "full, visible all round",
            "hidden": "hidden",
            "bent_over": "hidden, end bent over",
            "partial": "partial",
            "not_known": "not known",
        },
    ),
    _choice(
        "balance",
        "bolster",
        "bolster",
        "Where blade and handle meet.",
        {"none": "none", "half": "half", "full": "full, down to the heel", "ferrule": "ferrule"},
    ),
    _choice(
        "balance",
        "handle_shape",
        "handle shape",
        "In section.",
        {
            "riveted": "riveted scales",
            "octagonal": "octagonal",
            "oval": "oval",
            "round": "round",
            "d_right": "D, for the right hand",
            "d_left": "D, for the left hand",
            "moulded": "moulded",
        },
    ),
    _choice(
        "balance",
        "handle_material",
        "handle material",
        "As told or as seen.",
        {
            "wood": "plain wood",
            "laminate": "dense resin laminate",
            "acetal": "hard plastic",
            "soft_grip": "rubbery grip",
            "metal": "metal",
            "other": "other, see note",
        },
    ),
    _choice(
        "balance",
        "grip",
        "grip used",
        "The grip the next answer was felt with.",
        {
            "pinch": "pinch at the blade",
            "handle": "whole hand on the handle",
            "finger_spine": "finger along the spine",
        },
        multiple=True,
    ),
    _choice(
        "balance",
        "balance_place",
        "balances",
        "In words, beside the number or without one.",
        {
            "far_forward": "far forward",
            "forward": "forward of the pinch",
            "at_bolster": "just in front of bolster or handle",
            "at_handle": "where blade and handle meet",
            "in_handle": "in the handle",
        },
    ),
    _choice(
        "balance",
        "feel",
        "heavier toward",
        "In that grip.",
        {"blade": "the blade", "even": "neither", "handle": "the handle"},
    ),
    _choice(
        "profile",
        "edge_line",
        "edge on the board",
        "Light between edge and board.",
        {"true": "true", "hollow": "hollow", "hump": "hump"},
        aspects=PARTS,
    ),
    _choice(
        "profile",
        "spine_line",
        "line of the spine",
        "From the side, heel to tip.",
        {
            "straight": "straight",
            "falls": "falls to the tip",
            "curved": "curved all along",
            "raised": "raised behind the tip",
        },
    ),
    _choice(
        "profile",
        "tip_place",
        "height of the tip",
        "Against the middle of the blade's height.",
        {"low": "low", "middle": "in the middle", "high": "high"},
    ),
    _choice(
        "profile",
        "belly",
        "belly",
        "The curved part toward the tip.",
        {"flat": "nearly flat", "gentle": "gentle", "curved": "strongly curved"},
    ),
    _finish("spine_corners", "spine corners", "Finger along the spine where it is pinched."),
    _finish("choil_corners", "heel and choil corners", "Finger behind the heel."),
    _choice(
        "finish",
        "eased",
        "corners eased",
        "All that are rounded or polished.",
        {"none": "none", "spine": "spine", "choil": "choil", "heel": "corner of the heel"},
        multiple=True,
    ),
    _finish("rivets", "rivets", "Fingertip across each: flush, no burr."),
    _finish("handle_joints", "bolster and ferrule joints", "Nail across: no step, no gap."),
    _finish("tang_joint", "tang opening", "Sealed or open to water."),
    _finish("etching", "etching or stamp", "Rough or smooth to the finger."),
    _finish("bolster_proud", "bolster against the edge", "Stands proud of the edge line or not."),
    _finish("straightness", "blade straight", "Look from heel to tip along the edge."),
    _finish("bevel_evenness", "bevels along the length", "Band of even width, heel to tip."),
    _finish("tip", "tip", "True, not bent, not rounded."),
    _finish("packaging", "packaging", "Sheath, guard, box; no sticker on the blade."),
    _choice(
        "cuts",
        "sharpness_parts",
        "sharp along the edge",
        "Paper or nail, part by part.",
        {"keen": "keen", "fair": "fair", "dull": "dull"},
        aspects=PARTS,
    ),
    _cut("cut_onion", "onion", "Down, then across: the horizontal cut shows wedging."),
    _cut("cut_carrot", "carrot", "Slice one side flat first so that it cannot roll."),
    _cut("cut_root", "dense root", "Half a swede or squash; hand flat on the spine."),
    _cut("cut_tomato", "tomato", "Skin side up, no pressure at the start."),
    _cut("cut_protein", "boneless protein", "One long stroke, no sawing."),
    _cut("cut_other", "other food", "Say in the note which."),
    Item(
        "verdict",
        "verdict",
        "sign_off",
        "For the shelf.",
        {
            "sell": "ready for the shelf",
            "after_work": "after the work named below",
            "return": "return to maker",
            "keep": "not for sale",
        },
        required=True,
    ),
    _choice(
        "sign_off",
        "value",
        "value for the price",
        "Against what else the price buys.",
        {"very_good": "very good", "good": "good", "fair": "fair", "poor": "poor"},
    ),
    _choice("sign_off", "suits", "suits", "All that apply.", _SUITS, multiple=True),
    _choice("sign_off", "not_for", "does not suit", "All that apply.", _SUITS, multiple=True),
    _free("to_mend", "to mend before sale", "In order; one line."),
)

SAME_FOR_MODEL = (
    *("construction", "making", "core_reactivity", "cladding_reactivity", "cladding_hardness"),
    *("surface", "lacquer", "shaped_faces", "face_form", "dimples", "asymmetry_school"),
    *("tang", "bolster", "handle_shape", "handle_material", "spine_line", "tip_place"),
)
"""What one piece of a model shows for the others: what varies from piece to piece is not here."""

ITEMS: dict[str, Item] = {item.key: item for item in _DEFINITIONS}


@dataclass(frozen=True)
class Seen:
    """An observation as it stands: the choices made, and the note."""

    value: str
    note: str = ""

    @property
    def choices(self) -> list[str]:
        return self.value.split(",") if self.value else []


def choices_text(key: str, value: str) -> str:
    """Choices of an item in words; one that is not in its list is given by its code.

    >>> choices_text("surface", "brushed,layered")
    'brushed, layered'
    """
    choices = ITEMS[key].choices if key in ITEMS else {}
    return ", ".join(choices.get(c, c.replace("_", " ")) for c in value.split(",") if c)


def checked_value(key: str, aspect: str, value: str, note: str) -> str:
    """Hold an observation to its closed lists; returns the value in the list's own order.

    Any item or quantity may be *not applicable*, with a reason in the note. ``check.<key>`` keeps
    a person's decision on a check.

    >>> checked_value("surface", "", "layered,brushed", "")
    'brushed,layered'
    """
    if len(note) > MAX_NOTE:
        raise InvalidValue("note", note, f"at most {MAX_NOTE} characters")
    if value == WITHDRAWN:
        return value
    if key.startswith(DECISION_PREFIX):
        if value != STANDS:
            raise InvalidValue(key, value, STANDS)
        return value
    if key not in ITEMS and key not in QUANTITIES:
        raise InvalidValue("item", key, ", ".join(ITEMS))
    if value == NOT_APPLICABLE:
        if not note.strip():
            raise InvalidValue(_label(key), "not applicable", "not applicable with a reason")
        return value
    if key in QUANTITIES:
        raise InvalidValue(_label(key), value, f"a reading, or {NOT_APPLICABLE} with a reason")
    return _from_list(ITEMS[key], aspect, value, note)


def _from_list(item: Item, aspect: str, value: str, note: str) -> str:
    if aspect not in item.aspects:
        raise InvalidValue(f"{item.label}, side or stroke", aspect, ", ".join(item.aspects))
    if item.free:
        if value or not note.strip():
            raise InvalidValue(item.label, value or note, "a note in words")
        return ""
    chosen = value.split(",")
    unknown = [c for c in chosen if c not in item.choices]
    if unknown:
        raise InvalidValue(item.label, unknown[0], ", ".join(item.choices))
    if len(set(chosen)) > 1 and not item.multiple:
        raise InvalidValue(item.label, value, "one choice")
    return ",".join(key for key in item.choices if key in chosen)


def _label(key: str) -> str:
    return ITEMS[key].label if key in ITEMS else QUANTITIES[key].label

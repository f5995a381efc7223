"""The quantities measured at the bench, in the order of work.

Hard limits refuse what cannot be (a spine of 76 mm); typical ranges by knife type only ask. Both
are common practice. Resolution and maximum permissible error (MPE) are those of the usual shop
instrument when the reading names none.
"""

from __future__ import annotations

from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.instruments import INSTRUMENT_KINDS, measured_by
from maple_rook.core.measurement.units import BASE_UNIT, OTHER_SYSTEM, Dimension


@dataclass(frozen=True)
class Quantity:
    key: str
    label: str
    dimension: Dimension
    unit: str
    hard_low: float
    hard_high: float
    stop: str
    method: str
    jaws: str
    instrument: str
    resolution: float
    mpe: float
    station: str = ""
    required: bool = True
    typed_in: str = ""

    @property
    def entry_unit(self) -> str:
        """The unit a bare number takes at the bench."""
        return self.typed_in or self.unit

    @property
    def accepted(self) -> str:
        """The hard limits in words, for messages."""
        if self.dimension is Dimension.RATIO:
            return "0 to 100 % on the right-hand face, such as 70/30"
        unit = "degrees per side" if self.unit == "dps" else self.unit
        return f"{self.hard_low:g} to {self.hard_high:g} {unit}"


STOPS: dict[str, str] = {
    "identify": "Identify",
    "construction": "Construction",
    "weigh": "Weight",
    "lengths": "Lengths",
    "spine": "Spine",
    "heights": "Height",
    "edge": "Edge",
    "hardness": "Hardness",
    "balance": "Balance and hand",
    "profile": "On the board",
    "finish": "Finish",
    "cuts": "Cuts",
    "sign_off": "Sign off",
}
"""The order of work: thirteen stops round the knife."""

_L, _M, _A = Dimension.LENGTH, Dimension.MASS, Dimension.ANGLE
_H, _R, _F, _S = Dimension.HARDNESS, Dimension.RATIO, Dimension.FORCE, Dimension.SCORE
_RULE, _CALIPER, _COARSE = ("rule", 0.5, 0.5), ("caliper", 0.01, 0.03), ("caliper", 0.1, 0.1)
_LOUPE, _FEELER, _TESTER = (
    ("loupe", 0.05, 0.1),
    ("feeler gauge", 0.01, 0.02),
    ("hardness tester", 0.5, 1.5),
)
_GAUGE, _EYE, _PROFILE = ("angle gauge", 0.5, 1.0), ("eye", 5, 5), ("rule", 1, 1)
_BALANCE, _TASTER, _LINE = ("rule", 1, 1), ("eye", 0.5, 1), ("edge tester", 0.01, 0.05)


def _q(
    stop: str,
    key: str,
    label: str,
    dimension: Dimension,
    limits: tuple[float, float],
    method: str,
    jaws: str,
    tool: tuple[str, float, float],
    station: str = "",
    *,
    required: bool = True,
    typed_in: str = "",
) -> Quantity:
    unit = BASE_UNIT[dimension]
    low, high = limits
    instrument, resolution, mpe = tool
    return Quantity(
        key,
        label,
        dimension,
        unit,
        low,
        high,
        stop,
        method,
        jaws,
        instrument,
        resolution,
        mpe,
        station,
        required,
        typed_in,
    )


_DEFINITIONS = (
    _q(
        "weigh",
        "weight",
        "weight",
        _M,
        (5, 5000),
        "Whole knife, dry, no guard, on the scale.",
        "knife on the pan",
        ("scale", 1, 1),
    ),
    _q(
        "lengths",
        "edge_length",
        "edge length",
        _L,
        (20, 700),
        "Tip to the end of the edge at the heel, straight.",
        "tip to heel of the edge",
        _RULE,
        "along the edge",
    ),
    _q(
        "lengths",
        "blade_length",
        "blade length",
        _L,
        (20, 720),
        "Tip to bolster or handle.",
        "tip to bolster",
        _RULE,
        "along the blade",
        required=False,
    ),
    _q(
        "lengths",
        "overall_length",
        "overall length",
        _L,
        (50, 1000),
        "Tip to the end of the handle.",
        "tip to butt",
        _RULE,
        "whole knife",
    ),
    _q(
        "lengths",
        "handle_length",
        "handle length",
        _L,
        (40, 320),
        "Front of the handle to its end.",
        "handle, front to butt",
        _RULE,
        "handle",
    ),
    _q(
        "spine",
        "spine_heel",
        "spine at heel",
        _L,
        (0.3, 12),
        "Where the blade leaves the handle or bolster.",
        "across the spine above the heel",
        _CALIPER,
        "heel",
    ),
    _q(
        "spine",
        "spine_mid",
        "spine at middle",
        _L,
        (0.3, 12),
        "Halfway between heel and tip.",
        "across the spine, halfway",
        _CALIPER,
        "middle",
    ),
    _q(
        "spine",
        "spine_tip",
        "spine near tip",
        _L,
        (0.1, 10),
        "10 mm behind the tip.",
        "across the spine, 10 mm from the tip",
        _CALIPER,
        "10 mm from tip",
    ),
    _q(
        "heights",
        "height_heel",
        "height at heel",
        _L,
        (8, 200),
        "Spine to edge, square to the edge, at the heel.",
        "spine to edge at the heel",
        _COARSE,
        "heel",
    ),
    _q(
        "heights",
        "height_mid",
        "height at middle",
        _L,
        (5, 200),
        "Spine to edge halfway along.",
        "spine to edge, halfway",
        _COARSE,
        "middle",
        required=False,
    ),
    _q(
        "heights",
        "height_front",
        "height at front",
        _L,
        (2, 200),
        "Spine to edge a fifth of the edge behind the tip.",
        "spine to edge near the front",
        _COARSE,
        "front",
        required=False,
    ),
    _q(
        "edge",
        "thickness_behind_edge",
        "thickness behind the edge",
        _L,
        (0.02, 4),
        "At the shoulder where the bevel meets the face, mid-blade.",
        "jaw tips at the bevel shoulder",
        _CALIPER,
        "middle",
    ),
    _q(
        "edge",
        "thickness_1mm",
        "thickness 1 mm up",
        _L,
        (0.02, 6),
        "1 mm above the edge, mid-blade.",
        "jaw tips 1 mm above the edge",
        _CALIPER,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "thickness_5mm",
        "thickness 5 mm up",
        _L,
        (0.05, 9),
        "5 mm above the edge, mid-blade.",
        "jaw tips 5 mm above the edge",
        _CALIPER,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "thickness_10mm",
        "thickness 10 mm up",
        _L,
        (0.05, 10),
        "10 mm above the edge, mid-blade.",
        "jaw tips 10 mm above the edge",
        _CALIPER,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "edge_angle",
        "edge angle",
        _A,
        (3, 45),
        "Per side. Write incl after an inclusive angle.",
        "angle gauge on the bevel",
        _GAUGE,
        "middle",
    ),
    _q(
        "edge",
        "angle_right",
        "edge angle, right face",
        _A,
        (3, 45),
        "The right-hand face as held, against the middle plane.",
        "gauge on the right bevel",
        _GAUGE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "angle_left",
        "edge angle, left face",
        _A,
        (3, 45),
        "The left-hand face as held, against the middle plane.",
        "gauge on the left bevel",
        _GAUGE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "bevel_width_right",
        "bevel width, right face",
        _L,
        (0.02, 30),
        "Width of the sharpened band on the right-hand face as held.",
        "loupe on the right bevel",
        _LOUPE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "bevel_width_left",
        "bevel width, left face",
        _L,
        (0.02, 30),
        "Width of the sharpened band on the left-hand face as held.",
        "loupe on the left bevel",
        _LOUPE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "asymmetry",
        "asymmetry",
        _R,
        (0, 100),
        "Bevel widths, right-hand face as held first: 50/50, 70/30.",
        "compare the bevel widths on both faces",
        _EYE,
        "middle",
    ),
    _q(
        "edge",
        "micro_bevel",
        "micro-bevel angle",
        _A,
        (3, 45),
        "Per side, where the last tenths are steeper; skip it where there is none.",
        "gauge on the last tenths",
        _GAUGE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "hollow_depth",
        "hollow of the back",
        _L,
        (0, 2),
        "Straight edge across the back, feeler in the deepest place.",
        "feeler under a straight edge",
        _FEELER,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "grind_line",
        "height of the grind line",
        _L,
        (1, 150),
        "Edge to the line where the faces turn parallel or change curve, mid-blade.",
        "edge to the grind line",
        _RULE,
        "middle",
        required=False,
    ),
    _q(
        "edge",
        "core_exposure",
        "core exposure",
        _L,
        (0.2, 80),
        "Edge to the line where the cladding begins, mid-blade, narrower face.",
        "edge to the cladding line",
        _RULE,
        "middle",
        required=False,
    ),
    _q(
        "hardness",
        "hardness_block",
        "reference block",
        _H,
        (20, 70),
        "Before the blade: a reading on the reference block, repeated.",
        "indenter on the block, clear of old indents",
        _TESTER,
        "reference block",
        required=False,
    ),
    _q(
        "hardness",
        "hardness",
        "hardness",
        _H,
        (20, 70),
        "On a flat, thick enough spot of the core steel, after the reference block.",
        "indenter on the flat, clear of bevel and cladding",
        _TESTER,
        "flat above the edge",
    ),
    _q(
        "hardness",
        "hardness_cladding",
        "hardness of the cladding",
        _H,
        (20, 70),
        "On the cladding, recorded apart: it says nothing about the edge.",
        "indenter on the cladding",
        _TESTER,
        "cladding",
        required=False,
    ),
    _q(
        "balance",
        "balance_point",
        "balance point",
        _L,
        (-200, 300),
        "From the heel; plus toward the tip, minus toward the handle.",
        "heel to the point where it balances on a finger",
        _BALANCE,
        "from heel",
    ),
    _q(
        "balance",
        "handle_height",
        "handle height",
        _L,
        (5, 80),
        "Back to belly of the handle where the hand closes.",
        "handle, back to belly",
        _COARSE,
        "handle",
        required=False,
    ),
    _q(
        "balance",
        "handle_thickness",
        "handle thickness",
        _L,
        (4, 60),
        "Side to side where the hand closes.",
        "handle, side to side",
        _COARSE,
        "handle",
        required=False,
    ),
    _q(
        "profile",
        "flat_length",
        "flat length",
        _L,
        (0, 700),
        "Length of edge that touches a flat board at rest.",
        "paper slid in from both ends",
        _PROFILE,
        "edge on the board",
        required=False,
    ),
    _q(
        "profile",
        "tip_height",
        "tip height",
        _L,
        (0, 120),
        "Board to tip with the edge at rest.",
        "board to tip",
        _PROFILE,
        "tip",
        required=False,
    ),
    _q(
        "profile",
        "rock_rise",
        "rise until the tip digs in",
        _L,
        (0, 400),
        "Lift of the handle's end when the tip starts to dig into the board.",
        "board to the end of the handle, less the rest height",
        _PROFILE,
        "butt",
        required=False,
    ),
    _q(
        "profile",
        "edge_gap",
        "gap under the edge",
        _L,
        (0, 10),
        "Largest gap between board and edge inside the resting contact; 0 where none.",
        "feeler between board and edge",
        _FEELER,
        "edge on the board",
        required=False,
    ),
    _q(
        "profile",
        "knuckle_room",
        "knuckle room",
        _L,
        (0, 150),
        "Board to the underside of the handle with the edge at rest.",
        "board to handle, where the knuckles go",
        _PROFILE,
        "handle",
        required=False,
    ),
    _q(
        "cuts",
        "sharpness_score",
        "sharpness out of the box",
        _S,
        (0, 10),
        "3-4 dull on part of the length, 6 good, 7 very good.",
        "the whole length, heel to tip",
        _TASTER,
        "whole edge",
        required=False,
    ),
    _q(
        "cuts",
        "sharpness_force",
        "line-cut force",
        _F,
        (0.05, 30),
        "Force to part the tester's line, straight down, mid-blade.",
        "edge on the tester's line",
        _LINE,
        "middle",
        required=False,
        typed_in="gf",
    ),
)

STATIONS: dict[str, tuple[float, float]] = {
    "heel": (0.0, 0.0),
    "middle": (0.5, 0.0),
    "front": (0.8, 0.0),
    "10 mm from tip": (1.0, -10.0),
}
"""Where a named station lies from the heel: a share of the edge length, and mm added."""


def station_mm(station: str, edge_length_mm: float | None) -> float | None:
    """Distance of a named station from the heel along the edge, to 0.001 mm; None if not known.

    >>> station_mm("10 mm from tip", 210.0), station_mm("middle", None)
    (200.0, None)
    """
    if edge_length_mm is None or station not in STATIONS:
        return None
    share, added_mm = STATIONS[station]
    return round(added_mm + share * edge_length_mm, 3)


QUANTITIES: dict[str, Quantity] = {q.key: q for q in _DEFINITIONS}
CARD_CUT = _q(
    "trials",
    "card_cut",
    "cut depth of a cycle",
    _L,
    (0, 100),
    "Sixty cycles without touching the edge, the depth of each.",
    "edge up in the clamp",
    ("card tester", 0.01, 0.05),
    "whole edge",
    required=False,
)
"""Read by a tester in a trial, and not round the bench."""
TAKEN: dict[str, Quantity] = {**QUANTITIES, CARD_CUT.key: CARD_CUT}
"""All that some instrument of the shop reads."""


def quantity(key: str) -> Quantity:
    """The quantity of this key, or :class:`InvalidValue` naming the known keys."""
    try:
        return QUANTITIES[key]
    except KeyError:
        known = f"one of {len(QUANTITIES)}, such as {', '.join(list(QUANTITIES)[:6])}"
        raise InvalidValue("quantity", key, known) from None


def of_one_face(q: Quantity, grind: Grind) -> bool:
    """Whether an angle is that of one face alone, of which nothing is inclusive.

    The edge angle of two bevels is that of either, so that twice as much is inclusive; of a single
    bevel, with or without an added one, it is the front face's own.

    >>> of_one_face(QUANTITIES["edge_angle"], Grind.FULL_FLAT)
    False
    >>> of_one_face(QUANTITIES["edge_angle"], Grind.SINGLE_BEVEL_ADDED)
    True
    """
    return q.dimension is Dimension.ANGLE and (q.key != "edge_angle" or GRINDS[grind].single_bevel)


def other_unit(q: Quantity, grind: Grind) -> str | None:
    """Unit of the other system that a figure is said in too, or None.

    >>> other_unit(QUANTITIES["weight"], Grind.SINGLE_BEVEL)
    'oz'
    >>> other_unit(QUANTITIES["edge_angle"], Grind.SINGLE_BEVEL) is None
    True
    """
    return None if of_one_face(q, grind) else OTHER_SYSTEM.get(q.unit)


def kinds_for(q: Quantity) -> tuple[str, ...]:
    """Kinds of instrument that can take a quantity, its usual one first.

    >>> kinds_for(QUANTITIES["thickness_behind_edge"])
    ('caliper',)
    """
    others = (str(kind) for kind in INSTRUMENT_KINDS if q.instrument in measured_by(kind))
    return tuple(dict.fromkeys((q.instrument, *others)))

"""The quantities measured at the bench, in the order of work.

Hard limits refuse what cannot be (a spine of 76 mm); typical ranges by knife type only ask. Both
are common practice. Resolution and maximum permissible error (MPE) are those of the usual shop
instrument when the reading names none.
"""

from __future__ import annotations

from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue
from maple_rook.core.knife_types import KNIFE_TYPES, SINGLE_BEVELS, Grind
from maple_rook.core.typed import TypedValue, parse_typed
from maple_rook.core.units import UNITS, Dimension, from_base


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

    @property
    def accepted(self) -> str:
        """The hard limits in words, for messages."""
        if self.dimension is Dimension.RATIO:
            return "0 to 100 % on the right-hand face, such as 70/30"
        unit = "degrees per side" if self.unit == "dps" else self.unit
        return f"{self.hard_low:g} to {self.hard_high:g} {unit}"


STOPS: dict[str, str] = {
    "weigh": "Weight",
    "lengths": "Lengths",
    "spine": "Spine",
    "heights": "Height",
    "edge": "Edge",
    "hardness": "Hardness",
    "balance": "Balance",
}

_L, _M, _A = Dimension.LENGTH, Dimension.MASS, Dimension.ANGLE

QUANTITIES: dict[str, Quantity] = {
    q.key: q
    for q in (
        Quantity(
            "weight", "weight", _M, "g", 5, 5000, "weigh",
            "Whole knife, dry, no guard, on the scale.", "knife on the pan", "scale", 1, 1,
        ),
        Quantity(
            "edge_length", "edge length", _L, "mm", 20, 700, "lengths",
            "Tip to the end of the edge at the heel, straight.", "tip to heel of the edge",
            "rule", 0.5, 0.5, "along the edge",
        ),
        Quantity(
            "blade_length", "blade length", _L, "mm", 20, 720, "lengths",
            "Tip to bolster or handle.", "tip to bolster", "rule", 0.5, 0.5, "along the blade",
            required=False,
        ),
        Quantity(
            "overall_length", "overall length", _L, "mm", 50, 1000, "lengths",
            "Tip to the end of the handle.", "tip to butt", "rule", 0.5, 0.5, "whole knife",
        ),
        Quantity(
            "handle_length", "handle length", _L, "mm", 40, 320, "lengths",
            "Front of the handle to its end.", "handle, front to butt", "rule", 0.5, 0.5, "handle",
        ),
        Quantity(
            "spine_heel", "spine at heel", _L, "mm", 0.3, 12, "spine",
            "Where the blade leaves the handle or bolster.", "across the spine above the heel",
            "caliper", 0.01, 0.03, "heel",
        ),
        Quantity(
            "spine_mid", "spine at middle", _L, "mm", 0.3, 12, "spine",
            "Halfway between heel and tip.", "across the spine, halfway",
            "caliper", 0.01, 0.03, "middle",
        ),
        Quantity(
            "spine_tip", "spine near tip", _L, "mm", 0.1, 10, "spine",
            "10 mm behind the tip.", "across the spine, 10 mm from the tip",
            "caliper", 0.01, 0.03, "10 mm from tip",
        ),
        Quantity(
            "height_heel", "height at heel", _L, "mm", 8, 200, "heights",
            "Spine to edge, square to the edge, at the heel.", "spine to edge at the heel",
            "caliper", 0.1, 0.1, "heel",
        ),
        Quantity(
            "height_mid", "height at middle", _L, "mm", 5, 200, "heights",
            "Spine to edge halfway along.", "spine to edge, halfway",
            "caliper", 0.1, 0.1, "middle", required=False,
        ),
        Quantity(
            "height_front", "height at front", _L, "mm", 2, 200, "heights",
            "Spine to edge a fifth of the edge behind the tip.", "spine to edge near the front",
            "caliper", 0.1, 0.1, "front", required=False,
        ),
        Quantity(
            "thickness_behind_edge", "thickness behind the edge", _L, "mm", 0.02, 4, "edge",
            "At the shoulder where the bevel meets the face, mid-blade.",
            "jaw tips at the bevel shoulder", "caliper", 0.01, 0.03, "middle",
        ),
        Quantity(
            "edge_angle", "edge angle", _A, "dps", 3, 45, "edge",
            "Per side. Write incl after an inclusive angle.", "angle gauge on the bevel",
            "angle gauge", 0.5, 1.0, "middle",
        ),
        Quantity(
            "asymmetry", "asymmetry", Dimension.RATIO, "%", 0, 100, "edge",
            "Bevel widths, right-hand face as held first: 50/50, 70/30.",
            "compare the bevel widths on both faces", "eye", 5, 5, "middle",
        ),
        Quantity(
            "hardness", "hardness", Dimension.HARDNESS, "HRC", 20, 70, "hardness",
            "On a flat, thick enough spot of the core steel, after the reference block.",
            "indenter on the flat, clear of bevel and cladding", "hardness tester", 0.5, 1.5,
            "flat above the edge",
        ),
        Quantity(
            "balance_point", "balance point", _L, "mm", -200, 300, "balance",
            "From the heel; plus toward the tip, minus toward the handle.",
            "heel to the point where it balances on a finger", "rule", 1, 1, "from heel",
        ),
    )
}  # fmt: skip


def required_quantities(knife_type: str, grind: Grind) -> list[str]:
    """Keys a complete sheet of this knife has.

    A single bevel has no shoulder on both faces to measure between; a serrated edge has no single
    angle.

    >>> "thickness_behind_edge" in required_quantities("deba", Grind.SINGLE_BEVEL)
    False
    """
    left_out: set[str] = set()
    if grind in SINGLE_BEVELS:
        left_out = {"thickness_behind_edge"}
    kind = KNIFE_TYPES.get(knife_type)
    if kind is not None and not kind.predicted:
        left_out = {"thickness_behind_edge", "edge_angle", "asymmetry"}
    return [q.key for q in QUANTITIES.values() if q.required and q.key not in left_out]


def quantity(key: str) -> Quantity:
    """The quantity of this key, or :class:`InvalidValue` naming the known keys."""
    try:
        return QUANTITIES[key]
    except KeyError:
        raise InvalidValue("quantity", key, ", ".join(QUANTITIES)) from None


def parse_reading(key: str, text: str, *, default_unit: str | None = None) -> TypedValue:
    """Understand a reading of this quantity and hold it to its hard limits.

    >>> parse_reading("edge_angle", "30° incl").base_value
    15.0
    """
    q = quantity(key)
    if default_unit is not None and (
        default_unit not in UNITS or UNITS[default_unit].dimension != q.dimension
    ):
        raise InvalidValue("unit", default_unit, f"a unit of {q.dimension.value}")
    typed = parse_typed(text, q.dimension, field=q.label, default_unit=default_unit)
    if typed.is_band:
        raise InvalidValue(q.label, text, "one reading, not a band (a band is a claim)")
    if not q.hard_low <= typed.base_value <= q.hard_high:
        shown = f"{typed.value:g} {typed.unit}"
        raise InvalidValue(q.label, shown, q.accepted, hint=_slip_hint(q, typed))
    return typed


@dataclass(frozen=True)
class Doubt:
    """A reading outside what is typical of the type: what looks odd, and a likely reading."""

    message: str
    typical_low: float
    typical_high: float
    suggestion: str | None = None


def doubt(key: str, typed: TypedValue, knife_type: str) -> Doubt | None:
    """Question a value outside the typical range of the knife's type, or return None.

    If another unit for the same figure lands in the typical range, that reading is offered.

    >>> doubt("weight", parse_reading("weight", "6.9"), "gyuto").suggestion
    '6.9 oz'
    """
    kind = KNIFE_TYPES.get(knife_type)
    limits = kind.typical.get(key) if kind else None
    if kind is None or limits is None or limits[0] <= typed.base_value <= limits[1]:
        return None
    q = quantity(key)
    unit = "°" if q.unit == "dps" else f" {q.unit}"
    side = " per side" if q.unit == "dps" else ""
    message = (
        f"{q.label} {typed.base_value:.4g}{unit}{side} is unusual for a {kind.label} "
        f"(typical {limits[0]:g} to {limits[1]:g}{unit})"
    )
    return Doubt(message, *limits, suggestion=_other_unit(typed, q.dimension, limits))


def _other_unit(typed: TypedValue, dimension: Dimension, limits: tuple[float, float]) -> str | None:
    for unit in UNITS.values():
        if unit.dimension is not dimension or unit.symbol == typed.unit:
            continue
        if limits[0] <= typed.value * unit.factor <= limits[1]:
            return f"{typed.value:g} {unit.symbol}"
    return None


def _slip_hint(q: Quantity, typed: TypedValue) -> str:
    """A reading of the same figure in another unit that the hard limits would admit."""
    other = _other_unit(typed, q.dimension, (q.hard_low, q.hard_high))
    return f"Was {other} meant?" if other else ""


def shown(base_value: float, unit: str) -> str:
    """A base value in ``unit`` with that unit's usual decimals.

    >>> shown(2.3, "in")
    '0.091 in'
    """
    return f"{from_base(base_value, unit):.{UNITS[unit].decimals}f} {unit}"

"""A typed reading held to the limits of its quantity, and what is unusual about it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.parsing import TypedValue, parse_typed
from maple_rook.core.measurement.places import PLACED, placed
from maple_rook.core.measurement.quantities import quantity
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.units import OTHER_SYSTEM, UNITS, Dimension, from_base


def parse_reading(key: str, text: str, *, default_unit: str | None = None) -> TypedValue:
    """Understand a reading of this quantity and hold it to its hard limits.

    >>> parse_reading("edge_angle", "30° incl").base_value
    15.0
    """
    return parse_as(quantity(key), text, default_unit=default_unit)


def parse_figure(q: Quantity, text: str, *, default_unit: str | None = None) -> TypedValue:
    """Understand a reading or an estimate of a quantity; an estimate is as wide as it says.

    Without a range it is 2 HRC wide either way, or 10 % of the figure, and no narrower than the
    usual instrument's permissible error.

    >>> parse_figure(quantity("hardness"), "about 58").half_width
    2.0
    >>> parse_figure(quantity("weight"), "~200").half_width
    20.0
    """
    typed = _within(q, text, default_unit)
    if typed.kind is FigureKind.MEASURED or typed.is_band:
        return typed
    half = max(q.estimate_least, q.estimate_share * abs(typed.base_value))
    return replace(typed, base_low=typed.base_value - half, base_high=typed.base_value + half)


class Entry(NamedTuple):
    """What was entered of a quantity, and the station it names, if it names one."""

    typed: TypedValue
    station: str | None


def parse_entry(q: Quantity, text: str, *, default_unit: str | None = None) -> Entry:
    """Understand what is entered of a quantity: a reading, an estimate, one with its place.

    A reference block is only ever measured.

    >>> parse_entry(quantity("spine_at"), "2.3 at 3 in from the tip").station
    '76.2 mm from tip'
    """
    if q.key == "hardness_block":
        return Entry(parse_as(q, text, default_unit=default_unit), None)
    if q.key not in PLACED:
        return Entry(parse_figure(q, text, default_unit=default_unit), None)
    figure, station = placed(text)
    return Entry(replace(parse_figure(q, figure, default_unit=default_unit), text=text), station)


def parse_as(q: Quantity, text: str, *, default_unit: str | None = None) -> TypedValue:
    """Understand a measured reading of a quantity and hold it to its hard limits.

    >>> from maple_rook.core.measurement.quantities import CARD_CUT
    >>> parse_as(CARD_CUT, "15.2 mm").base_value
    15.2
    """
    typed = _within(q, text, default_unit)
    if typed.kind is not FigureKind.MEASURED:
        raise InvalidValue(q.label, text, "one reading as measured, not an estimate")
    return typed


def _within(q: Quantity, text: str, default_unit: str | None) -> TypedValue:
    if default_unit is not None and (
        default_unit not in UNITS or UNITS[default_unit].dimension != q.dimension
    ):
        raise InvalidValue("unit", default_unit, f"a unit of {q.dimension.value}")
    typed = parse_typed(text, q.dimension, field=q.label, default_unit=default_unit)
    if not q.hard_low <= typed.base_low <= typed.base_high <= q.hard_high:
        shown = text if typed.is_band else f"{typed.value:g} {typed.unit}"
        limits = (q.hard_low, q.hard_high)
        meant = "" if typed.is_band else _other_unit(typed, q.dimension, limits) or ""
        hint = f"Was {meant} meant?" if meant else ""
        if q.dimension is Dimension.HARDNESS and typed.base_low < q.hard_low:
            hint = "Below 20 scale C says nothing: the steel is soft there; read scale B (a ball)."
        raise InvalidValue(q.label, shown, q.accepted, hint=hint, suggestion=meant)
    return typed


def parse_claim(q: Quantity, text: str, *, default_unit: str | None = None) -> TypedValue:
    """Understand what is printed of a quantity, a band or one number, within its hard limits.

    >>> parse_claim(quantity("hardness"), "58-60 HRC").base_high
    60.0
    """
    field = f"claim on {q.label}"
    typed = parse_typed(text, q.dimension, field=field, default_unit=default_unit)
    for value in (typed.base_low, typed.base_high):
        if not q.hard_low <= value <= q.hard_high:
            raise InvalidValue(field, text, q.accepted)
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
    meant = None if typed.is_band else _other_unit(typed, q.dimension, limits)
    return Doubt(message, *limits, suggestion=meant)


def _other_unit(typed: TypedValue, dimension: Dimension, limits: tuple[float, float]) -> str | None:
    """The same figure in another unit that lands inside the limits; the other system first."""
    other = OTHER_SYSTEM.get(typed.unit)
    for unit in sorted(UNITS.values(), key=lambda u: u.symbol != other):
        if unit.dimension is not dimension or unit.symbol == typed.unit:
            continue
        if limits[0] <= typed.value * unit.factor <= limits[1]:
            return f"{typed.value:g} {unit.symbol}"
    return None


def shown(base_value: float, unit: str) -> str:
    """A base value in ``unit`` with that unit's usual decimals.

    >>> shown(2.3, "in")
    '0.091 in'
    """
    return f"{from_base(base_value, unit):.{UNITS[unit].decimals}f} {unit}"

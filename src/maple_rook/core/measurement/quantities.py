"""The quantities measured at the bench, in the order of work.

Hard limits refuse what cannot be (a spine of 76 mm); typical ranges by knife type only ask. Both
are common practice. Resolution and maximum permissible error (MPE) are those of the usual shop
instrument when the reading names none.
"""

from __future__ import annotations

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.body_quantities import BODY_QUANTITIES
from maple_rook.core.measurement.edge_quantities import EDGE_QUANTITIES
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.instruments import InstrumentKind, measured_by
from maple_rook.core.measurement.quantity import L, Quantity, Tool, taken_at
from maple_rook.core.measurement.units import OTHER_SYSTEM, Dimension

QUANTITIES: dict[str, Quantity] = {q.key: q for q in (*BODY_QUANTITIES, *EDGE_QUANTITIES)}
CARD_CUT = taken_at(
    "trials",
    "card_cut",
    "cut depth of a cycle",
    L,
    (0, 100),
    "Sixty cycles without touching the edge, the depth of each.",
    "edge up in the clamp",
    Tool(InstrumentKind.CARD_TESTER, 0.01, 0.05, 0.05),
    "whole edge",
    required=False,
)
"""Read by a tester in a trial, and not round the bench."""
CUT_LOAD = taken_at(
    "trials",
    "cut_load",
    "peak load on the board",
    Dimension.MASS,
    (1, 200_000),
    "The board on the scale, tared with the food on it; one cut, the scale holding its peak.",
    "under the board",
    Tool(InstrumentKind.SCALE, 5.0, 20.0, 50.0),
    "board",
    required=False,
)
"""Read by a scale under the board while a food is cut."""
TAKEN: dict[str, Quantity] = {**QUANTITIES, CARD_CUT.key: CARD_CUT, CUT_LOAD.key: CUT_LOAD}
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


def kinds_for(q: Quantity) -> tuple[InstrumentKind, ...]:
    """Kinds of instrument that can take a quantity, its usual one first.

    >>> kinds_for(QUANTITIES["thickness_behind_edge"])
    (<InstrumentKind.CALIPER: 'caliper'>,)
    """
    others = (kind for kind in InstrumentKind if q.instrument in measured_by(kind))
    return tuple(dict.fromkeys((q.instrument, *others)))

"""One measuring sheet as a whole: which stops are done, and what cannot all be true."""

from __future__ import annotations

import itertools

from maple_rook.core.errors import InvalidValue
from maple_rook.core.quantities import QUANTITIES, STOPS
from maple_rook.core.section import check_section
from maple_rook.core.uncertainty import Figure


def contradictions(figures: dict[str, Figure]) -> list[str]:
    """Figures of one sheet that cannot all be true, in words."""
    found = []
    section = ("spine_heel", "height_heel", "thickness_behind_edge", "edge_angle")
    if all(key in figures for key in section):
        try:
            check_section(*(figures[key].mean for key in section))
        except InvalidValue as contradiction:
            found.append(str(contradiction))
    lengths = ("overall_length", "handle_length", "edge_length")
    if all(key in figures for key in lengths):
        overall, handle, edge = (figures[key].mean for key in lengths)
        gap = overall - handle - edge
        if not 0 <= gap <= 25:
            found.append(
                f"overall {overall:g} - handle {handle:g} - edge {edge:g} leaves {gap:.1f} mm "
                "at heel and bolster; expected 0 to 25 mm: one of the three was misread"
            )
    spines = [figures[k].mean for k in ("spine_heel", "spine_mid", "spine_tip") if k in figures]
    if any(front > rear + 0.1 for rear, front in itertools.pairwise(spines)):
        found.append("the spine grows toward the tip: two spine readings may be swapped")
    return found


def stop_states(figures: dict[str, Figure], required: list[str]) -> dict[str, str]:
    """State of each stop: done, begun or missing, by its required quantities."""
    states = {}
    for stop in STOPS:
        wanted = [key for key in required if QUANTITIES[key].stop == stop]
        taken = sum(key in figures for key in wanted)
        states[stop] = "done" if taken == len(wanted) else "begun" if taken else "missing"
    return states

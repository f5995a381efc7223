"""From readings to figures: the sheet's arithmetic."""

from __future__ import annotations

import itertools
from collections.abc import Iterable
from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue
from maple_rook.core.quantities import QUANTITIES, STOPS
from maple_rook.core.section import check_section
from maple_rook.core.uncertainty import Figure, figure, type_b


@dataclass(frozen=True)
class ReadingValue:
    """One reading that counts: its quantity, value in the base unit and instrument figures."""

    quantity: str
    base_value: float
    resolution: float
    mpe: float


def figures_from_readings(readings: Iterable[ReadingValue]) -> dict[str, Figure]:
    """Mean, repeats and uncertainty for every quantity that was read.

    Repeats with different instruments take the widest instrument uncertainty.

    >>> r = ReadingValue("weight", 195.0, 1.0, 1.0)
    >>> figures_from_readings([r, r])["weight"].n
    2
    """
    grouped: dict[str, list[ReadingValue]] = {}
    for reading in readings:
        grouped.setdefault(reading.quantity, []).append(reading)
    figures = {}
    for key in QUANTITIES:
        if key not in grouped:
            continue
        rows = grouped[key]
        worst = max(rows, key=lambda row: float(type_b(row.resolution, row.mpe)))
        figures[key] = figure([row.base_value for row in rows], worst.resolution, worst.mpe)
    return figures


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


def stop_states(figures: dict[str, Figure]) -> dict[str, str]:
    """State of each stop: done, begun or missing, by its required quantities."""
    states = {}
    for stop in STOPS:
        required = [q.key for q in QUANTITIES.values() if q.stop == stop and q.required]
        taken = sum(key in figures for key in required)
        states[stop] = "done" if taken == len(required) else "begun" if taken else "missing"
    return states

"""Charts of a page as SVG: force against depth of the knives of a comparison."""

from __future__ import annotations

import math
from collections.abc import Sequence

from maple_rook.comparing.schemas import ForceCurve
from maple_rook.formats.line_chart import Axis, Line, line_chart

_STEPS = (0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 25.0, 50.0, 100.0)


def force_chart(curve: ForceCurve, food: str, names: Sequence[str]) -> str | None:
    """Force against depth in one food, a line a knife; None where none is predicted."""
    lines = [
        Line(name, list(zip(curve.depth_mm, forces, strict=True)), place=place)
        for place, (name, forces) in enumerate(zip(names, curve.force_n, strict=True))
        if forces is not None
    ]
    if not lines:
        return None
    highest = max(y for line in lines for _, y in line.points)
    return line_chart(
        f"Force against depth, {food}",
        _axis("depth, mm", curve.depth_mm[-1]),
        _axis("force, N", highest),
        lines,
    )


def _axis(name: str, highest: float) -> Axis:
    """From nothing to the tick at or above the highest value, four to eight ticks."""
    step = next((s for s in _STEPS if highest / s <= 6), 10 ** math.ceil(math.log10(highest)) / 5)
    count = max(1, math.ceil(highest / step))
    return Axis(name, 0.0, count * step, [n * step for n in range(count + 1)])

"""Mass of the blade from its measurements, and what is left for the handle side.

Densities of steel, from memory: stainless 7.75, carbon 7.85 g/cm3. The section between edge and
spine is taken as a flat-ground trapezium; other grinds hold more or less steel, which
:data:`MASS_RELATIVE_U` allows for (practice rule).
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from maple_rook.core.outline import outline
from maple_rook.core.uncertainty import Figure

STAINLESS_G_CM3, CARBON_G_CM3 = 7.75, 7.85
HANDLE_SIDE_G = (25.0, 160.0)
MASS_RELATIVE_U = 0.15
_STEPS = 60


def blade_mass_g(
    figures: Mapping[str, Figure], knife_type: str, nominal_mm: float, density_g_cm3: float = 7.8
) -> float | None:
    r"""Mass of the blade, density x integral of h(x) (t(x) + T)/2 over the edge length, g.

    h is the drawn height, t the spine thickness through its stations, T the thickness behind the
    edge (0.3 mm where it is not measured). None without edge length, height and spine at the heel.

    >>> f = {"edge_length": Figure(200.0, 0), "height_heel": Figure(45.0, 0),
    ...      "spine_heel": Figure(2.0, 0), "spine_tip": Figure(2.0, 0)}
    >>> 55 < blade_mass_g(f, "gyuto", 200) < 85
    True
    """
    if not all(key in figures for key in ("edge_length", "height_heel", "spine_heel")):
        return None
    drawn = outline(figures, knife_type, nominal_mm or figures["edge_length"].mean)
    corners = np.asarray(drawn.blade)
    edge = drawn.edge_length_mm
    x = np.linspace(0, edge, _STEPS)
    nose = int(np.argmax(corners[:, 0]))
    low = np.interp(x, corners[: nose + 1, 0], corners[: nose + 1, 1])
    spine = corners[nose:][::-1]
    high = np.interp(x, spine[:, 0], spine[:, 1])
    stations = (
        drawn.taper if len(drawn.taper) > 1 else [*drawn.taper, (edge, drawn.taper[0][1] / 2)]
    )
    thickness = np.interp(x, [s[0] for s in stations], [s[1] for s in stations])
    behind = figures["thickness_behind_edge"].mean if "thickness_behind_edge" in figures else 0.3
    area = np.maximum(high - low, 0) * (thickness + behind) / 2
    return float(density_g_cm3 * np.trapezoid(area, x) / 1000)

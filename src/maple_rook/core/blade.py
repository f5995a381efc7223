"""A blade as the predictions see it: measured figures plus what the maker built it from."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from maple_rook.core.knife_types import KNIFE_TYPES, SINGLE_BEVELS, Grind
from maple_rook.core.steels import CARBIDE_RELATIVE_U, Steel
from maple_rook.core.uncertainty import Figure

FRESH_EDGE_RADIUS_UM = Figure(0.75, 0.15)
"""Edge radius of a fresh stone edge, 0.5 to 1 um (from memory)."""

EVEN_ASYMMETRY = Figure(50.0, 5.0)
"""Taken for a double bevel nobody compared by eye (assumption)."""

PREDICTED_FROM = (
    "spine_heel",
    "spine_tip",
    "edge_length",
    "height_heel",
    "thickness_behind_edge",
    "edge_angle",
    "asymmetry",
    "hardness",
)


@dataclass(frozen=True)
class Blade:
    """Figures by quantity key (mm, g, degrees per side, HRC, per cent) and the construction."""

    figures: Mapping[str, Figure]
    knife_type: str = "gyuto"
    grind: Grind = Grind.FULL_FLAT
    steel: Steel | None = None
    edge_radius_um: Figure = FRESH_EDGE_RADIUS_UM
    even_machine_edge: bool = False
    seed: int = 0
    assumed: tuple[str, ...] = field(default=())

    @property
    def heavy(self) -> bool:
        kind = KNIFE_TYPES.get(self.knife_type)
        return bool(kind and kind.heavy)

    @property
    def refused(self) -> str:
        """Why edge and section are not predicted for this blade, or an empty string."""
        kind = KNIFE_TYPES.get(self.knife_type)
        if kind is not None and not kind.predicted:
            return f"A {kind.label} is recorded but not predicted."
        if self.grind in SINGLE_BEVELS:
            return "Covered so far: double bevels. This blade has a single bevel."
        return ""

    def input_figure(self, key: str) -> Figure | None:
        """The figure an input is taken from: measured, or the stated assumption."""
        if key == "edge_radius":
            return self.edge_radius_um
        if key == "carbides":
            if self.steel is None:
                return None
            term = self.steel.carbide_term_mm
            return Figure(term, CARBIDE_RELATIVE_U * term)
        if key == "asymmetry":
            return self.figures.get(key, EVEN_ASYMMETRY)
        return self.figures.get(key)

"""What a sheet is checked with, and what a check says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from maple_rook.core.edge_life.steels import Steel
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import Built, built
from maple_rook.core.routine.stops import KnifeFacts

Figures = Mapping[str, Figure]


@dataclass(frozen=True)
class Check:
    """Something that looks wrong: what, why, and the likely mend.

    ``quantity`` and ``typed`` are a correction that one key can make, where there is one.
    """

    key: str
    quantities: tuple[str, ...]
    wrong: str
    why: str
    mend: str
    quantity: str = ""
    typed: str = ""

    @property
    def text(self) -> str:
        return f"{self.wrong}: {self.mend}"


@dataclass(frozen=True)
class SheetFacts:
    """Everything the checks look at; claims are bands (low, high) in base units."""

    figures: Figures
    knife: KnifeFacts
    nominal_mm: float = 0.0
    claims: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    steel: Steel | None = None

    @cached_property
    def made(self) -> Built | None:
        """The blade built from the figures, once for all checks."""
        return self._built(self.figures)

    @cached_property
    def as_ground(self) -> Built | None:
        """The blade as its family alone shapes it, whatever was measured up the face."""
        return self._built({k: f for k, f in self.figures.items() if k not in THICKNESS_AT_MM})

    def _built(self, figures: Figures) -> Built | None:
        kind, grind = self.knife.knife_type, self.knife.grind
        return built(Blade(figures, kind, grind, self.steel, nominal_mm=self.nominal_mm))

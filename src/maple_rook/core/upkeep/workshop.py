"""What a shop sharpens with, what its time costs, and when it calls a blade due."""

from __future__ import annotations

from dataclasses import dataclass, field

from maple_rook.core.upkeep.grinding import STONES, Stone
from maple_rook.core.upkeep.setup import Spacer
from maple_rook.core.upkeep.wear import Limits


@dataclass(frozen=True)
class Workshop:
    """Spacers and stones of the shop, its hourly rate, its limits; assumptions until it is set.

    ``sharpening_charge`` is what a customer pays to have a knife sharpened; 0 where none is set.

    >>> Workshop().stones[0].grit
    220
    """

    spacers: tuple[Spacer, ...] = (Spacer("1 mm shim", 1.0), Spacer("0.5 mm shim", 0.5))
    stones: tuple[Stone, ...] = STONES
    hourly_rate: float = 0.0
    limits: Limits = field(default_factory=Limits)
    sharpening_charge: float = 0.0

"""A reading as it is taken, whoever brings it: Bench, photo, file, another program, the demo."""

from __future__ import annotations

import datetime as dt
import uuid
from dataclasses import dataclass

from maple_rook.core.measurement.parsing import TypedValue
from maple_rook.core.measurement.quantity import Quantity


@dataclass(frozen=True)
class TakenReading:
    """What was read, how, and where on the blade.

    Parameters
    ----------
    key : names the reading; the same one is kept once, however often it is brought.
    quantity, typed : what was measured, and the text with its value in the base unit.
    taken_at : when.
    unusual : whether it lies outside the typical range and was confirmed.
    method : how it was taken.
    station : where along the blade, by name; the quantity's own where nothing else is said.
    along_mm : the same as a distance from the heel, mm; worked out from the station if None.
    above_edge_mm : height above the edge, mm.
    standard_uncertainty : in the base unit, where it comes with the reading, as from a photo.
    """

    key: uuid.UUID
    quantity: Quantity
    typed: TypedValue
    taken_at: dt.datetime
    unusual: bool = False
    method: str = "manual"
    station: str | None = None
    along_mm: float | None = None
    above_edge_mm: float | None = None
    standard_uncertainty: float | None = None

    @property
    def at(self) -> str:
        """The station it was taken at, by name."""
        return self.quantity.station if self.station is None else self.station

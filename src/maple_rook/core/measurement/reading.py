"""A reading as taken, from any source: Bench, photo, file, another program, the demo."""

from __future__ import annotations

import datetime as dt
import math
import uuid
from dataclasses import dataclass

from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.parsing import TypedValue
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import COVERAGE_FACTOR, type_b

MANUAL = "manual"
"""Method of a reading that a person typed."""


UNKNOWN_INSTRUMENT = 3.0
"""How many times the usual standard uncertainty a reading by an unknown instrument is given."""


def unknown_instrument_u(q: Quantity, step: float = 0.0) -> float:
    r"""Standard uncertainty of a reading with an unknown instrument, in the base unit.

    u = 3 sqrt(a^2/12 + MPE^2/3 + s_0^2), with the permissible error MPE and the repeatability s_0
    of the quantity's usual instrument and the larger of its resolution and the step typed as a:
    a practice rule, wide on purpose, that repeats do not narrow.

    >>> from maple_rook.core.measurement.quantities import QUANTITIES
    >>> round(unknown_instrument_u(QUANTITIES["weight"]), 2)
    2.14
    """
    return UNKNOWN_INSTRUMENT * math.hypot(type_b(max(q.resolution, step), q.mpe), q.repeatability)


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
    along_mm : the same as a distance from the heel, mm; calculated from the station if None.
    above_edge_mm : height above the edge, mm.
    standard_uncertainty : in the base unit, where it comes with the reading, as from a photo.
    note : anything worth saying of it.
    photo_id : number of a photo that shows it.
    """

    key: uuid.UUID
    quantity: Quantity
    typed: TypedValue
    taken_at: dt.datetime
    unusual: bool = False
    method: str = MANUAL
    station: str | None = None
    along_mm: float | None = None
    above_edge_mm: float | None = None
    standard_uncertainty: float | None = None
    note: str = ""
    photo_id: int | None = None

    @property
    def measured(self) -> bool:
        return self.typed.kind is FigureKind.MEASURED

    @property
    def own_u(self) -> float | None:
        """Standard uncertainty that comes with it: its own, or an estimate's half-width over k."""
        if self.standard_uncertainty is None and not self.measured:
            return self.typed.half_width / COVERAGE_FACTOR
        return self.standard_uncertainty

    @property
    def typed_step(self) -> float | None:
        """The step in which a person typed it, base unit; None where that says nothing of it."""
        typed_by_hand = self.method == MANUAL and self.own_u is None
        return self.typed.step if typed_by_hand and self.typed.step > 0 else None

    @property
    def at(self) -> str:
        """The station it was taken at, by name."""
        return self.quantity.station if self.station is None else self.station

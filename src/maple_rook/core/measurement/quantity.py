"""What a quantity is, the order of work, and the usual shop instruments."""

from __future__ import annotations

from dataclasses import dataclass
from typing import NamedTuple

from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.thresholds import Threshold
from maple_rook.core.measurement.units import BASE_UNIT, Dimension

ESTIMATED_HRC, ESTIMATED_SHARE = 2.0, 0.10
"""How wide an estimate is without a range, either way: points of hardness, or a share of it."""
_HARDNESSES = (Dimension.HARDNESS, Dimension.HARDNESS_B)


@dataclass(frozen=True)
class Quantity:
    """Something measured at the bench.

    Hard limits, resolution and maximum permissible error (``mpe``) stand in ``unit``; a bare number
    is taken in ``typed_in`` where that is another. ``noticeable`` says what difference is felt at
    the board; makers claim what has a ``claim_tolerance``, the half-width in ``unit`` taken where
    they print none (both practice rules). ``repeatability`` is the standard deviation s_0 of one
    reading as benches usually have it (assumption), taken until the shop has repeats of its own.
    """

    key: str
    label: str
    dimension: Dimension
    unit: str
    hard_low: float
    hard_high: float
    stop: str
    method: str
    jaws: str
    instrument: InstrumentKind
    resolution: float
    mpe: float
    repeatability: float
    station: str = ""
    required: bool = True
    typed_in: str = ""
    noticeable: Threshold | None = None
    claim_tolerance: float | None = None

    @property
    def entry_unit(self) -> str:
        """The unit a bare number takes at the bench."""
        return self.typed_in or self.unit

    @property
    def estimate_share(self) -> float:
        """Half-width of an estimate without a range, as a share of the figure (practice)."""
        return 0.0 if self.dimension in _HARDNESSES else ESTIMATED_SHARE

    @property
    def estimate_least(self) -> float:
        """The least such half-width, in ``unit``."""
        return ESTIMATED_HRC if self.dimension in _HARDNESSES else self.mpe

    @property
    def accepted(self) -> str:
        """The hard limits in words, for messages."""
        if self.dimension is Dimension.RATIO:
            return "0 to 100 % on the right-hand face, such as 70/30"
        unit = {"dps": "degrees per side", "deg": "degrees"}.get(self.unit, self.unit)
        return f"{self.hard_low:g} to {self.hard_high:g} {unit}"


STOPS: dict[str, str] = {
    "identify": "Identify",
    "construction": "Construction",
    "weigh": "Weight",
    "lengths": "Lengths",
    "spine": "Spine",
    "heights": "Height",
    "edge": "Edge",
    "hardness": "Hardness",
    "balance": "Balance and hand",
    "profile": "On the board",
    "finish": "Finish",
    "cuts": "Cuts",
    "sign_off": "Sign off",
}
"""The order of work: thirteen stops round the knife."""

L, M, A = Dimension.LENGTH, Dimension.MASS, Dimension.ANGLE
H, R, F, S = Dimension.HARDNESS, Dimension.RATIO, Dimension.FORCE, Dimension.SCORE
T, B = Dimension.TILT, Dimension.HARDNESS_B


class Tool(NamedTuple):
    """A usual instrument: resolution, MPE and repeatability (assumption), in the base unit."""

    kind: InstrumentKind
    resolution: float
    mpe: float
    repeatability: float


SCALE = Tool(InstrumentKind.SCALE, 1, 1, 0.3)
RULE = Tool(InstrumentKind.RULE, 0.5, 0.5, 0.3)
CALIPER, COARSE = (
    Tool(InstrumentKind.CALIPER, 0.01, 0.03, 0.02),
    Tool(InstrumentKind.CALIPER, 0.1, 0.1, 0.2),
)
LOUPE = Tool(InstrumentKind.LOUPE, 0.05, 0.1, 0.05)
FEELER = Tool(InstrumentKind.FEELER_GAUGE, 0.01, 0.02, 0.01)
TESTER = Tool(InstrumentKind.HARDNESS_TESTER, 0.5, 1.5, 0.5)
GAUGE = Tool(InstrumentKind.ANGLE_GAUGE, 0.5, 1.0, 1.0)
EYE, TASTER = Tool(InstrumentKind.EYE, 5, 5, 2.5), Tool(InstrumentKind.EYE, 0.5, 1, 0.5)
PROFILE = BALANCE = Tool(InstrumentKind.RULE, 1, 1, 0.5)
LINE = Tool(InstrumentKind.EDGE_TESTER, 0.01, 0.05, 0.1)


def taken_at(
    stop: str,
    key: str,
    label: str,
    dimension: Dimension,
    limits: tuple[float, float],
    method: str,
    jaws: str,
    tool: Tool,
    station: str = "",
    *,
    required: bool = True,
    typed_in: str = "",
    noticeable: Threshold | None = None,
    claim_tolerance: float | None = None,
    repeatability: float | None = None,
) -> Quantity:
    """A quantity of a stop in its dimension's base unit.

    Parameters
    ----------
    stop, key, label : where it is asked, its code and its name.
    dimension : what it is measured in; decides the base unit.
    limits : hard limits in the base unit, low and high.
    method, jaws : how it is taken, and where the instrument's jaws stand.
    tool : the usual instrument.
    station : the place along the blade, empty where it is none.
    required : whether a sheet is incomplete without it.
    typed_in : unit of a bare number where it is not the base unit.
    noticeable, claim_tolerance : see :class:`Quantity`.
    repeatability : where it is not the usual one of the instrument.
    """
    unit = BASE_UNIT[dimension]
    low, high = limits
    return Quantity(
        key,
        label,
        dimension,
        unit,
        low,
        high,
        stop,
        method,
        jaws,
        tool.kind,
        tool.resolution,
        tool.mpe,
        tool.repeatability if repeatability is None else repeatability,
        station,
        required,
        typed_in,
        noticeable,
        claim_tolerance,
    )

"""What a quantity is, the order of work, and the usual shop instruments."""

from __future__ import annotations

from dataclasses import dataclass

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
    they print none (both practice rules).
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
RULE, CALIPER, COARSE = ("rule", 0.5, 0.5), ("caliper", 0.01, 0.03), ("caliper", 0.1, 0.1)
LOUPE, FEELER, TESTER = (
    ("loupe", 0.05, 0.1),
    ("feeler_gauge", 0.01, 0.02),
    ("hardness_tester", 0.5, 1.5),
)
GAUGE, EYE, PROFILE = ("angle_gauge", 0.5, 1.0), ("eye", 5, 5), ("rule", 1, 1)
BALANCE, TASTER, LINE = ("rule", 1, 1), ("eye", 0.5, 1), ("edge_tester", 0.01, 0.05)


def taken_at(
    stop: str,
    key: str,
    label: str,
    dimension: Dimension,
    limits: tuple[float, float],
    method: str,
    jaws: str,
    tool: tuple[str, float, float],
    station: str = "",
    *,
    required: bool = True,
    typed_in: str = "",
    noticeable: Threshold | None = None,
    claim_tolerance: float | None = None,
) -> Quantity:
    """A quantity of a stop in its dimension's base unit.

    Parameters
    ----------
    stop, key, label : where it is asked, its code and its name.
    dimension : what it is measured in; decides the base unit.
    limits : hard limits in the base unit, low and high.
    method, jaws : how it is taken, and where the instrument's jaws stand.
    tool : the usual instrument's kind, its resolution and MPE in the base unit.
    station : the place along the blade, empty where it is none.
    required : whether a sheet is incomplete without it.
    typed_in : unit of a bare number where it is not the base unit.
    noticeable, claim_tolerance : see :class:`Quantity`.
    """
    unit = BASE_UNIT[dimension]
    low, high = limits
    instrument, resolution, mpe = tool
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
        InstrumentKind(instrument),
        resolution,
        mpe,
        station,
        required,
        typed_in,
        noticeable,
        claim_tolerance,
    )

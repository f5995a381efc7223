"""A piece against what its maker printed, and what the core's checks look at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from pydantic import BaseModel

from maple_rook.core.choosing.comparing import ClaimVerdict, claim_verdict, readings_to_settle
from maple_rook.core.measurement.hardness_session import inadmissible
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.routine.sheet_facts import SheetFacts
from maple_rook.core.routine.stops import KnifeFacts
from maple_rook.store import records
from maple_rook.store.steels import grade
from maple_rook.store.tables import Piece


class ClaimOut(BaseModel):
    quantity: str
    label: str
    printed: str
    low: float
    high: float
    unit: str
    tolerance: str
    verdict: ClaimVerdict
    statement: str


def judged_claims(piece: Piece, figures: Mapping[str, Figure]) -> list[ClaimOut]:
    """Every claim with its verdict; a bare number takes the default tolerance and says so."""
    judged = []
    for claim in piece.model.claims:
        q = QUANTITIES[claim.quantity]
        low, high, tolerance = claim.low, claim.high, "band as printed"
        if low == high:
            half = q.claim_tolerance if q.claim_tolerance is not None else 0.05 * abs(low)
            low, high = low - half, high + half
            tolerance = f"default tolerance ±{half:g}{_unit(q)}"
        found = figures.get(claim.quantity)
        if found is not None and claim.quantity == "hardness" and (why := inadmissible(figures)):
            found = replace(found, reservation=why)
        verdict = claim_verdict(found, low, high)
        judged.append(
            ClaimOut(
                quantity=claim.quantity,
                label=q.label,
                printed=claim.printed,
                low=low,
                high=high,
                unit=q.unit,
                tolerance=tolerance,
                verdict=verdict,
                statement=_statement(found, verdict, low, high, q),
            )
        )
    return judged


def _statement(
    found: Figure | None, verdict: ClaimVerdict, low: float, high: float, q: Quantity
) -> str:
    """What was measured against the band, as a fact; of an undecided one, what would settle it."""
    if found is None:
        return "not measured yet"
    unit = _unit(q)
    if verdict is ClaimVerdict.CONFIRMED:
        return f"inside {low:g} to {high:g}{unit} by more than U"
    if verdict is ClaimVerdict.CONTRADICTED:
        below = found.mean < low
        off = low - found.mean if below else found.mean - high
        side = f"below {low:g}" if below else f"above {high:g}"
        return f"{_short(off)}{unit} {side}, U {_short(found.expanded)}"
    return _what_settles(found, low, high, unit)


def _what_settles(found: Figure, low: float, high: float, unit: str) -> str:
    if not found.judges:
        return found.reservation or f"{found.kind.label}, not measured: it judges no claim"
    more = readings_to_settle(found, low, high)
    if more is None:
        return (
            f"too near a limit for this instrument: its own U is {_short(2 * found.type_b)}{unit}"
        )
    readings = "one more reading" if more == 1 else f"{more} more readings"
    return f"{readings} like these would settle it"


def _unit(q: Quantity) -> str:
    """The unit as it follows a number."""
    return "° per side" if q.unit == "dps" else f" {q.unit}"


def _short(value: float) -> str:
    """Two figures, no exponent."""
    return f"{value:.0f}" if value >= 10 else f"{value:.2g}"


def sheet_facts(piece: Piece, figures: records.Figures, facts: KnifeFacts) -> SheetFacts:
    """What the core's checks look at, for one piece."""
    return SheetFacts(
        figures,
        facts,
        piece.model.nominal_mm,
        {c.quantity: (c.low, c.high) for c in piece.model.claims},
        grade(piece.model.steel),
    )

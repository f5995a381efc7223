"""A piece against what its maker printed, and what the core's checks look at."""

from __future__ import annotations

from pydantic import BaseModel

from maple_rook.core.checks import SheetFacts
from maple_rook.core.comparing import DEFAULT_TOLERANCE, ClaimVerdict, claim_verdict
from maple_rook.core.quantities import QUANTITIES
from maple_rook.core.stops import KnifeFacts
from maple_rook.store import records
from maple_rook.store.records import Figures
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


def judged_claims(piece: Piece, figures: Figures) -> list[ClaimOut]:
    """Every claim with its verdict; a bare number takes the default tolerance and says so."""
    judged = []
    for claim in piece.model.claims:
        q = QUANTITIES[claim.quantity]
        low, high, tolerance = claim.low, claim.high, "band as printed"
        if low == high:
            half = DEFAULT_TOLERANCE.get(claim.quantity, 0.05 * abs(low))
            low, high = low - half, high + half
            tolerance = f"default tolerance ±{half:g} {q.unit}"
        judged.append(
            ClaimOut(
                quantity=claim.quantity,
                label=q.label,
                printed=claim.printed,
                low=low,
                high=high,
                unit=q.unit,
                tolerance=tolerance,
                verdict=claim_verdict(figures.get(claim.quantity), low, high),
            )
        )
    return judged


def contradicted_claims(piece: Piece, figures: Figures) -> list[str]:
    return [
        c.label for c in judged_claims(piece, figures) if c.verdict is ClaimVerdict.CONTRADICTED
    ]


def sheet_facts(piece: Piece, figures: records.Figures, facts: KnifeFacts) -> SheetFacts:
    """What the core's checks look at, for one piece."""
    return SheetFacts(
        figures,
        facts,
        piece.model.nominal_mm,
        {c.quantity: (c.low, c.high) for c in piece.model.claims},
        records.grade(piece.model.steel),
    )

"""What makers printed against what was measured, over the whole shelf."""

from __future__ import annotations

from collections import Counter, defaultdict

from pydantic import BaseModel
from sqlalchemy.orm import Session

from maple_rook.core.comparing import ClaimVerdict
from maple_rook.stations.claims import ClaimOut
from maple_rook.stations.schemas import FigureOut
from maple_rook.stations.shelf import Shelf, ShelfKnife

_FIRST = (ClaimVerdict.CONTRADICTED, ClaimVerdict.UNDECIDED, ClaimVerdict.CONFIRMED,
          ClaimVerdict.NOT_MEASURED)  # fmt: skip


class ClaimedPiece(BaseModel):
    """One piece against the claim."""

    piece_id: int
    tag: str
    measured: FigureOut | None
    verdict: ClaimVerdict
    statement: str


class ClaimRow(BaseModel):
    """A claim of a model, over the pieces of it on the shelf; ``verdict`` is the gravest."""

    model: str
    quantity: str
    label: str
    printed: str
    tolerance: str
    unit: str
    verdict: ClaimVerdict
    record: str
    pieces: list[ClaimedPiece]


class ClaimList(BaseModel):
    """A page of claims, the gravest first, and how many there are of each verdict."""

    rows: list[ClaimRow]
    shown: int
    counts: dict[ClaimVerdict, int]


def claims(
    db: Session, shelf: Shelf, search: str, verdict: ClaimVerdict | None, limit: int
) -> ClaimList:
    """Claims whose model, maker or quantity holds every word of a search."""
    words = search.lower().split()
    rows = [
        row for row in _rows(shelf.knives(db))
        if all(word in f"{row.model} {row.label}".lower() for word in words)
    ]  # fmt: skip
    counts = Counter(row.verdict for row in rows)
    rows = [row for row in rows if verdict is None or row.verdict is verdict]
    rows.sort(key=lambda row: (_FIRST.index(row.verdict), row.model, row.label))
    return ClaimList(
        rows=rows[:limit], shown=len(rows), counts={v: counts.get(v, 0) for v in _FIRST}
    )


def _rows(knives: list[ShelfKnife]) -> list[ClaimRow]:
    by_claim: dict[tuple[str, str], list[tuple[ShelfKnife, ClaimOut]]] = defaultdict(list)
    for knife in knives:
        for claim in knife.claims:
            by_claim[knife.model, claim.quantity].append((knife, claim))
    return [_row(model, found) for (model, _), found in by_claim.items()]


def _row(model: str, found: list[tuple[ShelfKnife, ClaimOut]]) -> ClaimRow:
    claim = found[0][1]
    verdicts = [c.verdict for _, c in found]
    return ClaimRow(
        model=model,
        quantity=claim.quantity,
        label=claim.label,
        printed=claim.printed,
        tolerance=claim.tolerance,
        unit=claim.unit,
        verdict=min(verdicts, key=_FIRST.index),
        record=_record(verdicts),
        pieces=[
            ClaimedPiece(
                piece_id=k.piece.id,
                tag=k.piece.tag,
                measured=FigureOut.of(k.figures[c.quantity]) if c.quantity in k.figures else None,
                verdict=c.verdict,
                statement=c.statement,
            )
            for k, c in found
        ],
    )


def _record(verdicts: list[ClaimVerdict]) -> str:
    """How the pieces of a model fared, in words."""
    measured = [v for v in verdicts if v is not ClaimVerdict.NOT_MEASURED]
    if not measured:
        return "no piece measured"
    counts = Counter(measured)
    told = [
        f"{counts[v]} {v.value.partition(',')[0]}"
        for v in (ClaimVerdict.CONFIRMED, ClaimVerdict.CONTRADICTED, ClaimVerdict.UNDECIDED)
        if counts[v]
    ]
    pieces = "1 piece" if len(measured) == 1 else f"{len(measured)} pieces"
    return f"{pieces} measured: {', '.join(told)}"

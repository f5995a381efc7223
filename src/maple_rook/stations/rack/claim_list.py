"""What makers printed against what was measured, over the whole shelf."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from pydantic import BaseModel
from sqlalchemy import Select, func, select, tuple_
from sqlalchemy.orm import Session

from maple_rook.answers.claims import ClaimOut
from maple_rook.answers.figures import FigureOut
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.rows import GRAVEST_FIRST
from maple_rook.store.shelf_tables import ShelfClaim


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
    """Claims whose model, maker or quantity holds every word of a search.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    search : words looked for.
    verdict : only claims so judged.
    limit : how many at most.
    """
    shelf.catch_up(db)
    found = _groups(search).subquery()
    by_gravest = select(found.c.gravest, func.count()).group_by(found.c.gravest)
    counts = {row[0]: row[1] for row in db.execute(by_gravest)}
    wanted = select(found).order_by(found.c.gravest, found.c.model, found.c.label).limit(limit)
    if verdict is not None:
        wanted = wanted.where(found.c.gravest == GRAVEST_FIRST.index(verdict))
    keys = [(row.model_id, row.quantity) for row in db.execute(wanted)]
    pieces = _pieces(db, keys)
    by_verdict = {v: counts.get(gravity, 0) for gravity, v in enumerate(GRAVEST_FIRST)}
    shown = sum(by_verdict.values()) if verdict is None else by_verdict[verdict]
    return ClaimList(rows=[_row(pieces[key]) for key in keys], shown=shown, counts=by_verdict)


def _groups(search: str) -> Select[int, str, str, str, int]:
    """One line a claim of a model: its gravest verdict over the pieces of the model."""
    said = func.lower(func.concat(ShelfClaim.model, " ", ShelfClaim.label))
    words = [said.contains(word, autoescape=True) for word in search.lower().split()]
    return (
        select(
            ShelfClaim.model_id,
            ShelfClaim.quantity,
            func.min(ShelfClaim.model).label("model"),
            func.min(ShelfClaim.label).label("label"),
            func.min(ShelfClaim.gravity).label("gravest"),
        )
        .where(*words)
        .group_by(ShelfClaim.model_id, ShelfClaim.quantity)
    )


def _pieces(
    db: Session, keys: Sequence[tuple[int, str]]
) -> dict[tuple[int, str], list[ShelfClaim]]:
    found: dict[tuple[int, str], list[ShelfClaim]] = {key: [] for key in keys}
    of = tuple_(ShelfClaim.model_id, ShelfClaim.quantity)
    for row in db.scalars(
        select(ShelfClaim).where(of.in_(keys)).order_by(ShelfClaim.piece_id, ShelfClaim.number)
    ):
        found[row.model_id, row.quantity].append(row)
    return found


def _row(found: list[ShelfClaim]) -> ClaimRow:
    judged = [(row, ClaimOut.model_validate(row.claim)) for row in found]
    claim = judged[0][1]
    verdicts = [c.verdict for _, c in judged]
    return ClaimRow(
        model=found[0].model,
        quantity=claim.quantity,
        label=claim.label,
        printed=claim.printed,
        tolerance=claim.tolerance,
        unit=claim.unit,
        verdict=min(verdicts, key=GRAVEST_FIRST.index),
        record=_record(verdicts),
        pieces=[
            ClaimedPiece(
                piece_id=row.piece_id,
                tag=row.tag,
                measured=None if row.measured is None else FigureOut.model_validate(row.measured),
                verdict=c.verdict,
                statement=c.statement,
            )
            for row, c in judged
        ],
    )


def _record(verdicts: list[ClaimVerdict]) -> str:
    """How the pieces of a model fared, in words."""
    measured = [v for v in verdicts if v is not ClaimVerdict.NOT_MEASURED]
    if not measured:
        return "no piece measured"
    counts = Counter(measured)
    told = [
        f"{counts[v]} {v.label.partition(',')[0]}"
        for v in (ClaimVerdict.CONFIRMED, ClaimVerdict.CONTRADICTED, ClaimVerdict.UNDECIDED)
        if counts[v]
    ]
    pieces = "1 piece" if len(measured) == 1 else f"{len(measured)} pieces"
    return f"{pieces} measured: {', '.join(told)}"

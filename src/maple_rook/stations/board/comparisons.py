"""Boards kept under a name: the numbers of their day beside today's."""

from __future__ import annotations

import math

from sqlalchemy.orm import Session

from maple_rook.answers.figures import FigureOut
from maple_rook.comparing.compare import differences
from maple_rook.comparing.judging import looked_at, verdict_on
from maple_rook.comparing.laid import LETTERS, laid_out
from maple_rook.comparing.schemas import Difference, LaidIn, SentenceOut
from maple_rook.core.choosing.verdict import customer
from maple_rook.http.policy import Somebody
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.board.schemas import (
    ComparisonOut,
    SavedComparisonOut,
    SaveIn,
    ThenAndNow,
)
from maple_rook.store import choices
from maple_rook.store.choice_tables import ComparisonMark, ComparisonRow

LISTED = 60


def save(db: Session, person: Somebody, shelf: Shelf, asked: SaveIn) -> ComparisonOut:
    """Keep what the Board shows now.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    shelf : the shelf as this process knows it.
    asked : what was asked, as it came in.
    """
    laid = LaidIn.model_validate(asked.model_dump(exclude={"name"}))
    rows, sentences, names = _shown(db, shelf, laid)
    row = ComparisonRow(
        name=asked.name,
        pieces=list(dict.fromkeys(laid.pieces)),
        asked=laid.model_dump(mode="json"),
        answered={
            "rows": [r.model_dump(mode="json") for r in rows],
            "verdict": [s.model_dump(mode="json") for s in sentences],
            "knives": names,
        },
        person_id=person.id,
    )
    db.add(row)
    db.commit()
    return _listed(row, person.name, away=False)


def listed(db: Session, *, away: bool) -> list[ComparisonOut]:
    """Saved comparisons, the newest first."""
    return [
        _listed(row, row.person.name, away=gone)
        for row, gone in choices.comparisons(db, away=away, limit=LISTED)
    ]


def saved(db: Session, shelf: Shelf, comparison_id: int) -> SavedComparisonOut:
    """A saved comparison with the numbers of its day beside today's."""
    row, away = choices.comparison(db, comparison_id)
    laid = LaidIn.model_validate(row.asked)
    today, sentences, _ = _shown(db, shelf, laid)
    then = [Difference.model_validate(r) for r in row.answered["rows"]]
    return SavedComparisonOut(
        comparison=_listed(row, row.person.name, away=away),
        asked=laid,
        rows=_beside(then, today, len(row.pieces)),
        verdict_then=[SentenceOut.model_validate(s) for s in row.answered["verdict"]],
        verdict_today=sentences,
    )


def put_away(db: Session, person: Somebody, comparison_id: int, *, away: bool) -> ComparisonOut:
    """Archive or restore a comparison; nothing is deleted."""
    row, _ = choices.comparison(db, comparison_id)
    db.add(ComparisonMark(comparison_id=row.id, away=away, person_id=person.id))
    db.commit()
    return _listed(row, row.person.name, away=away)


def _shown(
    db: Session, shelf: Shelf, asked: LaidIn
) -> tuple[list[Difference], list[SentenceOut], list[str]]:
    """Rows, verdict and knives by their letters, as they stand now."""
    knives = laid_out(db, shelf, asked)
    look = looked_at(db, knives, shelf, asked)
    judgement = verdict_on(knives, look, models=asked.models)
    rows = differences([of.blade for of in knives], look.predictions, look.terms.coefficients)
    names = [of.knife.model if asked.models else of.knife.piece.name for of in knives]
    place = {key: n for n, key in enumerate(judgement.order)}
    rows.sort(key=lambda row: place.get(row.key, len(place)))
    lettered = [f"{letter} {name}" for letter, name in zip(LETTERS, names, strict=False)]
    return rows, judgement.sentences, lettered


def _beside(then: list[Difference], today: list[Difference], knives: int) -> list[ThenAndNow]:
    """Rows of either day, those that moved first."""
    by_key = {row.key: row for row in then}
    now = {row.key: row for row in today}
    none: list[FigureOut | None] = [None] * knives
    rows = []
    for key, known in {**now, **by_key}.items():
        old = by_key[key].values if key in by_key else none
        new = now[key].values if key in now else none
        rows.append(
            ThenAndNow(
                key=key,
                label=known.label,
                unit=known.unit,
                grade=known.grade,
                then=old,
                today=new,
                moved=any(map(_moved, old, new)),
            )
        )
    return sorted(rows, key=lambda row: not row.moved)


def _moved(then: FigureOut | None, today: FigureOut | None) -> bool:
    """Whether a figure changed by more than both expanded uncertainties together."""
    if then is None or today is None:
        return (then is None) != (today is None)
    return abs(then.mean - today.mean) > math.hypot(then.expanded, today.expanded)


def _listed(row: ComparisonRow, person: str, *, away: bool) -> ComparisonOut:
    asked = LaidIn.model_validate(row.asked)
    return ComparisonOut(
        id=row.id,
        name=row.name,
        recorded_at=row.recorded_at,
        person=person,
        knives=row.answered["knives"],
        customer=customer(asked.profile.core()),
        away=away,
    )

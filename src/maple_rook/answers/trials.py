"""A trial in a list, and what it found in a few words."""

from __future__ import annotations

import datetime as dt

from pydantic import BaseModel

from maple_rook.core.edge_life.trials import TrialKind, decline_of
from maple_rook.core.prediction.evidence import Tried
from maple_rook.store import trials as trial_store


class TrialOut(BaseModel):
    """A trial in a list."""

    id: int
    piece_id: int
    tag: str
    knife: str
    kind: TrialKind
    started_at: dt.datetime
    person: str
    source: str
    simulated: bool
    points: int
    left_out: list[str]
    set_aside: str
    summary: str


def shown(found: trial_store.Recorded, names: dict[int, tuple[str, str]]) -> TrialOut:
    row, tried = found.row, found.tried
    tag, name = names[row.piece_id]
    return TrialOut(
        id=row.id,
        piece_id=row.piece_id,
        tag=tag,
        knife=name,
        kind=tried.trial.kind,
        started_at=row.started_at,
        person=row.person.name,
        source=row.source,
        simulated=row.instrument is not None and row.instrument.stand_in,
        points=len(tried.trial.points),
        left_out=tried.left_out,
        set_aside=tried.set_aside,
        summary=_summary(tried),
    )


_SHORT = {
    "card_test": "TCC",
    "days_to_rod": "rod after",
    "months_to_stone": "stone after",
    "cuts_to_failure": "fails after",
}


def _summary(tried: Tried) -> str:
    """What a trial found in a few words."""
    trial = tried.trial
    said = [f"{_SHORT[f.key]} {_plain(f.value)} {f.unit}" for f in tried.found if f.key in _SHORT]
    fits = decline_of(trial)
    if fits and (half := fits[0].half_life[0]) is not None:
        of_x = "cycles" if trial.kind is TrialKind.CARD else "cuts"
        said.append(
            f"half after {_plain(half)} {of_x}" if half >= 1 else f"half within one {of_x[:-1]}"
        )
    return " · ".join(said) or f"{len(trial.points)} points so far"


def _plain(value: float) -> str:
    """Three figures at most, two behind the point at most, no exponent."""
    return f"{value:.0f}" if value >= 20 else f"{value:.1f}"

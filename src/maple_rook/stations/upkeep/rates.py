"""What a sharpening removes from each knife, by the shop's log."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.upkeep.wear import Lowered, wear_rate
from maple_rook.store import upkeep
from maple_rook.store.upkeep import Logged, Measured


@dataclass(frozen=True)
class KnifeRate:
    """The rate of one knife, and what it rests on: its own sharpenings, the shop's other knives."""

    rate: Figure
    own: tuple[Lowered, ...]
    others: int
    heights: tuple[Measured, ...]
    entries: tuple[Logged, ...]

    @property
    def words(self) -> str:
        """Where the rate comes from."""
        own = sum(row.sharpenings for row in self.own)
        knives = "one other knife" if self.others == 1 else f"{self.others} other knives"
        if own:
            times = "one sharpening" if own == 1 else f"{own} sharpenings"
            return f"From {times} of this knife" + (f" and {knives}." if self.others else ".")
        return (
            f"From the log of {knives}." if self.others else "Assumed: the log has no entries yet."
        )


def rates(db: Session, piece_ids: Sequence[int]) -> dict[int, KnifeRate]:
    """The rate of each piece asked for; each knife's own log counts once, for itself."""
    logs = upkeep.log(db)
    known = sorted({*logs, *piece_ids})
    heights = upkeep.measured(db, known, "height_heel", logs)
    own = {key: upkeep.lowered(heights[key], logs.get(key, ())) for key in known}
    told = {key: rows for key, rows in own.items() if rows}
    return {
        key: KnifeRate(
            wear_rate([rows for other, rows in told.items() if other != key], own[key]),
            tuple(own[key]),
            sum(other != key for other in told),
            tuple(heights[key]),
            tuple(logs.get(key, ())),
        )
        for key in piece_ids
    }

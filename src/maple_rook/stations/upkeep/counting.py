"""How many sharpenings a piece has left, from its faces, its heights and the log."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from sqlalchemy.orm import Session

from maple_rook.core.measurement.observations import Seen
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import Built, built
from maple_rook.core.upkeep.plan import RAISES_THE_EDGE, EdgeCare
from maple_rook.core.upkeep.reprofile import Faces, faces_of
from maple_rook.core.upkeep.wear import LifeCounts, Limits, life_counts
from maple_rook.stations.upkeep.rates import KnifeRate
from maple_rook.store import upkeep
from maple_rook.store.records import newest_seen
from maple_rook.store.tables import Piece
from maple_rook.store.upkeep import Measured

_FULL_BOLSTER = "full bolster"


@dataclass(frozen=True)
class Worn:
    """A blade as the log has left it; mm."""

    shape: Built
    height_new_mm: float
    height_now_mm: float
    behind_now_mm: float | None
    thickened_mm: float
    full_bolster: bool
    since_filed: int
    rate: KnifeRate
    limits: Limits

    @cached_property
    def faces(self) -> Faces:
        return faces_of(self.shape.heel, single_bevel=self.shape.blade.single_bevel)

    @cached_property
    def counts(self) -> LifeCounts:
        return life_counts(
            self.faces,
            self.rate.rate,
            self.limits,
            thickened_mm=self.thickened_mm,
            height_now_mm=self.height_now_mm,
            height_new_mm=self.height_new_mm,
            lowered_since_filed_mm=self.since_filed * self.rate.rate.mean,
            full_bolster=self.full_bolster,
            single_bevel=self.shape.blade.single_bevel,
        )


def worn(
    db: Session, pieces: Sequence[Piece], blades: Mapping[int, Blade], of: Mapping[int, KnifeRate]
) -> dict[int, Worn]:
    """The state of blades by piece; those whose section is not known are left out."""
    ids = [p.id for p in pieces]
    behind = upkeep.measured(
        db, ids, "thickness_behind_edge", {key: of[key].entries for key in ids}
    )
    bolsters = newest_seen(db, ids, ("bolster",))
    limits = upkeep.workshop(db).limits
    shapes = {key: shape for key in ids if (shape := built(blades[key])) is not None}
    full = {p.id: _full_bolster(p, bolsters[p.id].get("bolster")) for p in pieces}
    return {
        key: _worn(shape, behind[key], of[key], limits, full_bolster=full[key])
        for key, shape in shapes.items()
    }


def _worn(
    shape: Built, behind: Sequence[Measured], rate: KnifeRate, limits: Limits, *, full_bolster: bool
) -> Worn:
    entries = [e for e in rate.entries if e.voided is None]
    heights = [m.figure.mean for m in rate.heights] or [shape.x["height_heel"].item()]
    filed = [i for i, e in enumerate(entries) if e.care is EdgeCare.FILE_BOLSTER]
    raised = [i for i, e in enumerate(entries) if e.care in RAISES_THE_EDGE]
    thinned = [e.row.done_on for e in entries if e.care is EdgeCare.THIN]
    since = [m.figure.mean for m in behind if not thinned or m.on >= thinned[-1]]
    return Worn(
        shape,
        height_new_mm=max(heights),
        height_now_mm=heights[-1],
        behind_now_mm=behind[-1].figure.mean if behind else None,
        thickened_mm=max(0.0, since[-1] - since[0]) if since else 0.0,
        full_bolster=full_bolster,
        since_filed=sum(not filed or i > filed[-1] for i in raised),
        rate=rate,
        limits=limits,
    )


def _full_bolster(piece: Piece, seen: Seen | None) -> bool:
    return seen.value == "full" if seen else _FULL_BOLSTER in piece.model.construction

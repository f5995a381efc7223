"""What the shop found of its pieces, from their sheets and their hardness."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from maple_rook.core.measurement.hardness import MINIMUM_HARDENED_HRC
from maple_rook.core.measurement.hardness_session import Hardened, hardened
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import spots
from maple_rook.core.upkeep.finish_work import FinishState
from maple_rook.store.work_orders import finishes

TOO_SOFT = (Hardened.NOT_HARDENED, Hardened.HARDLY)


def hardened_verdict(blade: Blade) -> Hardened | None:
    """Whether a blade was hardened, where its reading alone says that it is too soft."""
    found = blade.figures.get("hardness")
    if found is None or found.mean + found.expanded >= MINIMUM_HARDENED_HRC:
        return None
    return hardened(dict(blade.figures), spots(blade)).verdict


def with_hardness(state: FinishState, blade: Blade) -> FinishState:
    """The finish as its sheets have it; a blade that was not hardened goes back all the same."""
    if hardened_verdict(blade) not in TOO_SOFT:
        return state
    return state.unhardened(blade.figures["hardness"].mean)


def finish_states(db: Session, blades: Mapping[int, Blade]) -> dict[int, FinishState]:
    """The finish of these pieces."""
    found = finishes(db, list(blades))
    return {key: with_hardness(found[key].state, blade) for key, blade in blades.items()}

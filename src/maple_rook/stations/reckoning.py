"""What the edge life is reckoned with at this moment: coefficients and the shop's trials."""

from __future__ import annotations

import threading
from typing import Annotated

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from maple_rook.core.coefficients import PUBLISHED
from maple_rook.core.evidence import Calibration, calibrate
from maple_rook.core.life_model import Basis, LifeModel
from maple_rook.stations.access import Db
from maple_rook.store import records
from maple_rook.store import trials as kept


class Reckoning:
    """The calibration, worked out again only when something it rests on has changed."""

    def __init__(self) -> None:
        self._whole: tuple[object, ...] | None = None
        self._of_pieces: object = None
        self._found = calibrate([], PUBLISHED)
        self._lock = threading.Lock()

    def calibration(self, db: Session) -> Calibration:
        with self._lock:
            whole = kept.whole_mark(db)
            if whole == self._whole:
                return self._found
            pieces = kept.tried_pieces(db)
            of_pieces = (whole[:5], records.marks(db, pieces) if pieces else {})
            if of_pieces != self._of_pieces:
                coefficients = kept.coefficients_of(kept.newest_set(db))
                tried = [r.tried for r in kept.recorded(db)]
                self._found = calibrate(tried, coefficients)
                self._of_pieces = of_pieces
            self._whole = whole
            return self._found

    def life(self, db: Session, basis: Basis) -> LifeModel:
        """The models of a basis, with the shop's coefficients either way."""
        return self.calibration(db).life(basis)

    def last_life(self, basis: Basis) -> LifeModel:
        """The same as it was when the record was last looked at."""
        return self._found.life(basis)


async def reckoning(request: Request) -> Reckoning:
    found: Reckoning = request.app.state.reckoning
    return found


async def chosen_basis(basis: Basis = Basis.CALIBRATED) -> Basis:
    """What the edge life is reckoned with: the published models, or calibrated by trials."""
    return basis


CurrentReckoning = Annotated[Reckoning, Depends(reckoning)]
ChosenBasis = Annotated[Basis, Depends(chosen_basis)]


def chosen_life(db: Db, reckoning: CurrentReckoning, basis: ChosenBasis) -> LifeModel:
    return reckoning.life(db, basis)


ChosenLife = Annotated[LifeModel, Depends(chosen_life)]

"""What predictions are computed with at this moment: coefficients, foods, the shop's trials."""

from __future__ import annotations

import threading
from collections.abc import Sequence
from typing import Annotated, NamedTuple

from fastapi import Depends, Request
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import Food
from maple_rook.core.edge_life.life_model import Basis, LifeModel, uncalibrated
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.prediction.cut_evidence import CutEvidence, cut_evidence
from maple_rook.core.prediction.evidence import Calibration, Tried, calibrate
from maple_rook.http.access import Db
from maple_rook.store import cut_trials, shelf
from maple_rook.store import trials as trial_store
from maple_rook.store.foods import shop_foods


class Models(NamedTuple):
    """What predictions are computed with: foods and edge-life models."""

    foods: tuple[Food, ...]
    life: LifeModel


class CalibrationCache:
    """The calibration, recalculated only when something it rests on has changed.

    A trial is read again only when it or its knife has changed.
    """

    def __init__(self) -> None:
        self._whole: tuple[object, ...] | None = None
        self._rests_on: object = None
        self._tried: dict[int, tuple[object, Tried]] = {}
        self._found = calibrate([], PUBLISHED)
        self._cut_with: object = None
        self._cuts = cut_evidence((), [])
        self._lock = threading.Lock()

    def calibration(self, db: Session) -> Calibration:
        with self._lock:
            whole = trial_store.whole_mark(db)
            if whole != self._whole:
                self._look_again(db)
                self._whole = whole
            return self._found

    def _look_again(self, db: Session) -> None:
        self._look_at_cuts(db, shop_foods(db))
        trials = trial_store.trial_marks(db)
        pieces = sorted({piece for piece, _ in trials.values()})
        knives = shelf.marks(db, pieces) if pieces else {}
        newest = trial_store.newest_set(db)
        rests = {key: (mark, knives[piece]) for key, (piece, mark) in trials.items()}
        rests_on = (newest.id if newest else None, rests)
        if rests_on == self._rests_on:
            return
        stale = [k for k, m in rests.items() if k not in self._tried or self._tried[k][0] != m]
        for recorded in trial_store.recorded(db, stale):
            key = recorded.row.id
            self._tried[key] = (rests[key], recorded.tried)
        self._found = calibrate(
            [self._tried[key][1] for key in rests], trial_store.coefficients_of(newest)
        )
        self._rests_on = rests_on

    def _look_at_cuts(self, db: Session, assumed: Sequence[Food]) -> None:
        last, mark, pieces = cut_trials.cut_mark(db)
        cut_with = (assumed, last, mark, shelf.marks(db, pieces) if pieces else {})
        if cut_with != self._cut_with:
            self._cuts = cut_evidence(assumed, cut_trials.recorded_cuts(db) if pieces else [])
            self._cut_with = cut_with

    def cuts(self, db: Session) -> CutEvidence:
        """Every cut of the shop's trials, and what those that count say of its foods."""
        assumed = shop_foods(db)
        self.calibration(db)
        with self._lock:
            if self._cuts.foods != assumed:  # a food was changed since, and no trial
                self._look_at_cuts(db, assumed)
            return self._cuts

    def models(self, db: Session, basis: Basis) -> Models:
        """Foods and edge-life models of a basis; the published ones rest on no trial."""
        if basis is Basis.PUBLISHED:
            return Models(shop_foods(db), self.life(db, basis))
        cuts = self.cuts(db)
        return Models(cuts.found.foods(cuts.foods), self._found.after)

    def life(self, db: Session, basis: Basis) -> LifeModel:
        """The models of a basis, with the shop's coefficients either way.

        The published ones rest on no trial, so none is looked at.
        """
        if basis is Basis.PUBLISHED:
            return uncalibrated(trial_store.coefficients_of(trial_store.newest_set(db)))
        return self.calibration(db).after

    def last_models(self, basis: Basis) -> Models:
        """The same as they were when the record was last looked at."""
        cuts = self._cuts
        foods = cuts.foods if basis is Basis.PUBLISHED else cuts.found.foods(cuts.foods)
        return Models(foods, self._found.life(basis))


async def calibrations(request: Request) -> CalibrationCache:
    found: CalibrationCache = request.app.state.calibrations
    return found


async def chosen_basis(basis: Basis = Basis.CALIBRATED) -> Basis:
    """What is computed with: published models and foods as assumed, or calibrated by trials."""
    return basis


CurrentCalibration = Annotated[CalibrationCache, Depends(calibrations)]
ChosenBasis = Annotated[Basis, Depends(chosen_basis)]


def chosen_life(db: Db, calibrations: CurrentCalibration, basis: ChosenBasis) -> LifeModel:
    return calibrations.life(db, basis)


ChosenLife = Annotated[LifeModel, Depends(chosen_life)]


def chosen_models(db: Db, calibrations: CurrentCalibration, basis: ChosenBasis) -> Models:
    return calibrations.models(db, basis)


ChosenModels = Annotated[Models, Depends(chosen_models)]

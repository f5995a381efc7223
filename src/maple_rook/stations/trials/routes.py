from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from fastapi.concurrency import run_in_threadpool

from maple_rook.answers.calibration import CurrentCalibration
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.trials import TrialKind
from maple_rook.http.access import CurrentPerson, Db, Instruments, Opener, RowId
from maple_rook.http.preconditions import Seen
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.trials import calibrating, storing, use_cases
from maple_rook.stations.trials.schemas import (
    AgainOut,
    AsideIn,
    CalibrationOut,
    ListOfTrials,
    PointsIn,
    ProtocolIn,
    ReadIn,
    ReadOut,
    StoredPredictionIn,
    StoredPredictionOut,
    TrialIn,
    WholeTrial,
)

router = APIRouter(tags=["trials"])
Cuts = Annotated[float | None, Query(ge=0, le=100_000, description="cuts made before")]


@router.get("/trials")
def trials(
    db: Db,
    _: CurrentPerson,
    hub: Instruments,
    kind: TrialKind = TrialKind.CARD,
    limit: Annotated[int, Query(ge=1, le=500)] = 60,
) -> ListOfTrials:
    """The newest trials of a kind."""
    return use_cases.listed(db, hub, kind, limit)


@router.post("/trials", status_code=201)
def begin(
    db: Db,
    person: CurrentPerson,
    hub: Instruments,
    calibrations: CurrentCalibration,
    asked: TrialIn,
) -> WholeTrial:
    """Begin a trial; what was predicted before it is kept with it."""
    begun = use_cases.begin(db, person, hub, calibrations.models(db, Basis.CALIBRATED), asked)
    return use_cases.whole(db, calibrations.life(db, Basis.PUBLISHED), begun)


@router.post("/trials/read")
def read(_: CurrentPerson, asked: ReadIn) -> ReadOut:
    """Look at a file of points; nothing is stored."""
    return use_cases.read(asked)


@router.get("/trials/calibration")
def calibration(
    request: Request, db: Db, _: CurrentPerson, calibrations: CurrentCalibration
) -> CalibrationOut:
    """Predicted against observed, before and after the shop's trials."""
    shelf: Shelf = request.app.state.shelf
    return calibrating.calibration_out(db, shelf, calibrations.calibration(db))


@router.get("/trials/{trial_id}")
def trial(
    db: Db, _: CurrentPerson, calibrations: CurrentCalibration, trial_id: RowId
) -> WholeTrial:
    """One trial with its fits and the published prediction."""
    return use_cases.whole(db, calibrations.life(db, Basis.PUBLISHED), trial_id)


@router.post("/trials/{trial_id}/points", status_code=201)
def add_points(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    trial_id: RowId,
    asked: PointsIn,
) -> WholeTrial:
    """Add points; the newest of an x stands."""
    use_cases.add_points(db, person, trial_id, asked.points)
    return use_cases.whole(db, calibrations.life(db, Basis.PUBLISHED), trial_id)


@router.post("/trials/{trial_id}/cycle", status_code=201)
async def take_cycle(
    opener: Opener, person: CurrentPerson, hub: Instruments, trial_id: RowId, cuts: Cuts = None
) -> None:
    """Let the tester of a trial run its next cycle, or part the line after so many cuts."""
    wanted = await run_in_threadpool(use_cases.next_reading, opener, trial_id, cuts)
    reading, event = await hub.take(wanted.instrument_id, wanted.quantity, wanted.about)
    await run_in_threadpool(
        use_cases.keep_reading, opener, person, trial_id, wanted, reading, event
    )


@router.post("/trials/{trial_id}/protocol", status_code=201)
def describe(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    seen: Seen,
    trial_id: RowId,
    asked: ProtocolIn,
) -> WholeTrial:
    """State how a trial was done."""
    use_cases.describe(db, person, trial_id, asked, seen)
    return use_cases.whole(db, calibrations.life(db, Basis.PUBLISHED), trial_id)


@router.post("/trials/{trial_id}/aside", status_code=201)
def set_aside(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    seen: Seen,
    trial_id: RowId,
    asked: AsideIn,
) -> WholeTrial:
    """Leave a trial out of calibration, with a reason, or take it up again."""
    use_cases.set_aside(db, person, trial_id, asked.reason, seen)
    return use_cases.whole(db, calibrations.life(db, Basis.PUBLISHED), trial_id)


@router.get("/pieces/{piece_id}/stored-predictions")
def stored_predictions(db: Db, _: CurrentPerson, piece_id: RowId) -> list[StoredPredictionOut]:
    """Predictions of a knife as they were stored, newest first."""
    return storing.of_piece(db, piece_id)


@router.post("/pieces/{piece_id}/stored-predictions", status_code=201)
def store_prediction(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    piece_id: RowId,
    asked: StoredPredictionIn,
) -> StoredPredictionOut:
    """Store the predictions of a knife as they are now."""
    models = calibrations.models(db, Basis(asked.basis))
    return storing.store(db, person, models, piece_id, asked.kitchen.core(), asked.note)


@router.get("/stored-predictions/{prediction_id}/again")
def make_again(db: Db, _: CurrentPerson, prediction_id: RowId) -> AgainOut:
    """A stored prediction made once more, and whether it comes out the same."""
    return storing.made_again(db, prediction_id)

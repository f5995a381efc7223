from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from maple_rook.answers.calibration import CurrentCalibration
from maple_rook.formats.csv_table import CSV_TYPE
from maple_rook.http.access import CurrentPerson, Db, Instruments, Opener, RowId
from maple_rook.http.downloads import written
from maple_rook.stations.cut_trials import use_cases
from maple_rook.stations.cut_trials.schemas import (
    CutCalibrationOut,
    CutFileIn,
    CutFileOut,
    CutSessionIn,
    CutSessions,
    CutsIn,
    PeakIn,
    SetAsideIn,
    WholeCutSession,
)

router = APIRouter(prefix="/cut-trials", tags=["cut_trials"])


@router.get("")
def sessions(
    db: Db, _: CurrentPerson, hub: Instruments, limit: Annotated[int, Query(ge=1, le=500)] = 60
) -> CutSessions:
    """The newest sessions."""
    return use_cases.listed(db, hub, limit)


@router.post("", status_code=201)
def begin(
    db: Db, person: CurrentPerson, calibrations: CurrentCalibration, asked: CutSessionIn
) -> WholeCutSession:
    """Begin a session, with the cuts it comes with."""
    return use_cases.whole(db, calibrations, use_cases.begin(db, person, asked))


@router.post("/read")
def read(db: Db, _: CurrentPerson, asked: CutFileIn) -> CutFileOut:
    """Look at a file of cuts; nothing is stored."""
    return use_cases.read(db, asked.text)


@router.get("/calibration")
def calibration(db: Db, _: CurrentPerson, calibrations: CurrentCalibration) -> CutCalibrationOut:
    """The foods before and after the trials, and observed against predicted."""
    return use_cases.calibration(db, calibrations)


@router.get("/{session_id}")
def session(
    db: Db, _: CurrentPerson, calibrations: CurrentCalibration, session_id: RowId
) -> WholeCutSession:
    """A session, each cut beside what is predicted of it."""
    return use_cases.whole(db, calibrations, session_id)


@router.get("/{session_id}/cuts.csv", response_class=StreamingResponse)
def as_csv(db: Db, _: CurrentPerson, session_id: RowId) -> StreamingResponse:
    """Every reading of a session as CSV, as it can be imported again."""
    return written([use_cases.csv_of(db, session_id)], CSV_TYPE, f"cuts-{session_id}.csv")


@router.post("/{session_id}/cuts", status_code=201)
def add_cuts(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    session_id: RowId,
    asked: CutsIn,
) -> WholeCutSession:
    """Add cuts to a session, each once."""
    use_cases.add_cuts(db, person, session_id, asked.cuts)
    return use_cases.whole(db, calibrations, session_id)


@router.post("/{session_id}/peak", status_code=201)
async def take_peak(
    opener: Opener, person: CurrentPerson, hub: Instruments, session_id: RowId, asked: PeakIn
) -> None:
    """Make a cut on the scale under the board: its peak is kept."""
    wanted = await run_in_threadpool(use_cases.next_peak, opener, hub, session_id, asked)
    reading, event = await hub.take(wanted.instrument_id, wanted.quantity, wanted.about)
    await run_in_threadpool(
        use_cases.keep_peak, opener, person, session_id, asked, wanted, reading, event
    )


@router.post("/cuts/{cut_id}/aside", status_code=201)
def set_aside(
    db: Db,
    person: CurrentPerson,
    calibrations: CurrentCalibration,
    cut_id: RowId,
    asked: SetAsideIn,
) -> WholeCutSession:
    """Leave a cut out of the calibration, with a reason, or take it up again."""
    session_id = use_cases.set_aside(db, person, cut_id, asked.reason)
    return use_cases.whole(db, calibrations, session_id)

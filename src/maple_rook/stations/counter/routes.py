from __future__ import annotations

from fastapi import APIRouter, Request

from maple_rook.stations.access import CurrentPerson, CurrentSettings, Db
from maple_rook.stations.counter import work
from maple_rook.stations.counter.schemas import AdviceOut, CounterOut, JobIn

router = APIRouter(prefix="/counter", tags=["counter"])


@router.get("")
def conversation(db: Db, _: CurrentPerson) -> CounterOut:
    """The questions asked at the counter, and presets to start from."""
    return work.conversation(db)


@router.post("/advice")
def advice(
    request: Request, db: Db, _: CurrentPerson, settings: CurrentSettings, asked: JobIn
) -> AdviceOut:
    """A short list for a customer's job, with reasons; nothing is stored."""
    return work.advice(db, request.app.state.shelf, asked.core(), settings.draws)

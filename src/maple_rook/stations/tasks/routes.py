from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.background.tasks import JobKind, LongJobs
from maple_rook.http.access import CurrentPerson, Db, RowId
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.tasks.schemas import AsideOut, FileOut, LongJobIn, LongJobOut, LongJobsOut
from maple_rook.store import shelf as kept
from maple_rook.store.exchange_tables import ImportFile
from maple_rook.store.photo_tables import PhotoMeasurement
from maple_rook.store.tables import Piece

router = APIRouter(prefix="/jobs", tags=["jobs"])


async def long_jobs(request: Request) -> LongJobs:
    found: LongJobs = request.app.state.jobs
    return found


Jobs = Annotated[LongJobs, Depends(long_jobs)]


@router.get("")
def listed(request: Request, db: Db, _: CurrentPerson, jobs: Jobs) -> LongJobsOut:
    """Long jobs of the shop, the newest first, and files at work."""
    shelf: Shelf = request.app.state.shelf
    files = select(ImportFile).where(ImportFile.state == "running").order_by(ImportFile.recorded_at)
    return LongJobsOut(
        jobs=[LongJobOut.of(row) for row in jobs.listed(db)],
        files=[
            FileOut(id=f.id, file=f.file, done=f.done, for_good=f.for_good)
            for f in db.scalars(files)
        ],
        aside=[AsideOut(piece_id=key, tag=tag, why=why) for key, tag, why in kept.aside(db)],
        behind=kept.behind(db, shelf.reckoned(db)),
        pieces=_count(db, Piece),
        photos=_count(db, PhotoMeasurement),
    )


def _count(db: Session, table: type[Piece | PhotoMeasurement]) -> int:
    return db.scalar(select(func.count()).select_from(table)) or 0


@router.post("", status_code=201)
def ask(db: Db, person: CurrentPerson, jobs: Jobs, asked: LongJobIn) -> LongJobOut:
    """Ask for a job: the whole shelf worked out anew, or every kept photo measured again."""
    if asked.kind is JobKind.SHELF:
        kept.make_all_wait(db)
    return LongJobOut.of(jobs.ask(db, asked.kind, person.id))


@router.post("/{job_id}/stop")
def stop(db: Db, _: CurrentPerson, jobs: Jobs, job_id: RowId) -> LongJobOut:
    """Stop a job; what it did stays, and the next one goes on from there."""
    return LongJobOut.of(jobs.stop(db, job_id))

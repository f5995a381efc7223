"""Long jobs of the shop: asked for by somebody or begun by itself, told of as they go on."""

from __future__ import annotations

import datetime as dt
import threading
import time
from collections.abc import Callable
from enum import StrEnum
from typing import Any

import structlog
from sqlalchemy import func, select, text, update
from sqlalchemy.orm import Session, joinedload, sessionmaker

from maple_rook.background.queue import AGAIN, Interrupted, LongWork
from maple_rook.http.problems import Conflict
from maple_rook.store import records
from maple_rook.store.job_tables import LongJob

AT_WORK = ("waiting", "running")
LISTED = 30
LOST_AFTER = dt.timedelta(seconds=30)
LEFT_ALONE = dt.timedelta(hours=1)
"""What was stopped or failed, the shop does not begin again of its own accord for so long."""
ASKED_AGAIN_S = 2.0
FAILED = "Something went wrong on our side. Ask for it again; if it fails again, see the log."
log = structlog.get_logger()


class JobKind(StrEnum):
    """The kinds of long jobs, files that are brought in apart."""

    SHELF = "shelf"
    PHOTOS = "photos"


class Stopped(Exception):
    """Somebody stopped the job."""


Found = dict[str, Any]
Telling = Callable[[int, int], None]
"""Say how much is done, of how much; raises :class:`Stopped` or :class:`Interrupted`."""


class LongJobs:
    """The long jobs of one process, one of a kind at a time in the whole shop."""

    def __init__(self, opener: sessionmaker[Session], queue: LongWork) -> None:
        self._opener, self._queue = opener, queue
        self._asked_at: dict[JobKind, float] = {}
        self._lock = threading.Lock()

    def add(self, kind: JobKind, work: Callable[[Telling], Found]) -> None:
        """Name what a kind of job does; it may be begun again in the middle."""

        def run(job_id: int) -> None:
            self._run(job_id, work)

        self._queue.add(f"long_{kind}", run)

    def ask(self, db: Session, kind: JobKind, person_id: int | None = None) -> LongJob:
        """Put a job into the queue, or find the one that is there already; commits."""
        db.execute(text("SELECT pg_advisory_xact_lock(84203)"))
        row = self.newest(db, kind)
        if row is None or row.state not in AT_WORK:
            row = LongJob(kind=kind, person_id=person_id)
            db.add(row)
            db.flush()
            lost = True
        else:
            lost = row.state == "waiting" and row.recorded_at < _now() - LOST_AFTER
        db.commit()
        if lost:  # put twice it is done once
            self._queue.put(f"long_{kind}", job_id=row.id)
        return row

    def begin(self, kind: JobKind) -> None:
        """Ask for a job of the shop's own accord, unless somebody stopped one lately."""
        with self._lock:
            if time.monotonic() < self._asked_at.get(kind, -ASKED_AGAIN_S) + ASKED_AGAIN_S:
                return
            self._asked_at[kind] = time.monotonic()
        with self._opener() as db:
            row = self.newest(db, kind)
            ended_ill = row is not None and row.state in ("stopped", "failed")
            stopped = row.ended_at if row is not None and ended_ill else None
            if stopped is None or stopped < _now() - LEFT_ALONE:
                self.ask(db, kind)

    def newest(self, db: Session, kind: JobKind) -> LongJob | None:
        newest = select(LongJob).where(LongJob.kind == kind).order_by(LongJob.id.desc()).limit(1)
        return db.scalars(newest).one_or_none()

    def listed(self, db: Session) -> list[LongJob]:
        """The newest jobs of all kinds."""
        query = select(LongJob).options(joinedload(LongJob.person))
        return list(db.scalars(query.order_by(LongJob.id.desc()).limit(LISTED)))

    def stop(self, db: Session, job_id: int) -> LongJob:
        """Stop a job: at once where it waits, at its next step where it runs; commits."""
        row = records.get(db, LongJob, "job", job_id, lock=True)
        if row.state not in AT_WORK:
            raise Conflict(f"It is {row.state} already.")
        row.cancelled = True
        if row.state == "waiting":
            row.state, row.ended_at = "stopped", _now()
        db.commit()
        return row

    def _run(self, job_id: int, work: Callable[[Telling], Found]) -> None:
        """What the queue does; what was begun by a process that died is begun again."""

        def tell(done: int, total: int) -> None:
            if self._queue.stopping.is_set():
                raise Interrupted
            if not self._told(job_id, state="running", done=done, total=total):
                raise Stopped

        try:
            tell(0, 0)
            found = work(tell)
            self._told(job_id, state="done", found=found, ended_at=func.now())
        except Stopped:
            self._told(job_id, state="stopped", ended_at=func.now())
        except AGAIN:
            raise
        except Exception:
            log.exception("a long job failed", job=job_id)
            self._told(job_id, state="failed", problem=FAILED, ended_at=func.now())

    def _told(self, job_id: int, **values: object) -> bool:
        """Whether it is to go on."""
        with self._opener() as db:
            cancelled = db.scalar(
                update(LongJob)
                .where(LongJob.id == job_id, LongJob.state.in_(AT_WORK))
                .values(**values)
                .returning(LongJob.cancelled)
            )
            db.commit()
        return cancelled is False


def _now() -> dt.datetime:
    return dt.datetime.now(dt.UTC)

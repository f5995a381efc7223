"""Long tasks of the shop: asked for by somebody or begun by itself, told of as they go on."""

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

from maple_rook.background.queue import AGAIN, Interrupted, TaskQueue
from maple_rook.http.problems import Conflict
from maple_rook.store import records
from maple_rook.store.task_tables import Task

AT_WORK = ("waiting", "running")
LISTED = 30
LOST_AFTER = dt.timedelta(seconds=30)
LEFT_ALONE = dt.timedelta(hours=1)
"""What was stopped or failed, the shop does not begin again of its own accord for so long."""
ASKED_AGAIN_S = 2.0
FAILED = "Something went wrong on our side. Start it again; if it fails again, see the log."
log = structlog.get_logger()


class TaskKind(StrEnum):
    """The kinds of long tasks, files that are imported apart."""

    SHELF = "shelf"
    PHOTOS = "photos"


class Stopped(Exception):
    """Somebody stopped the task."""


Found = dict[str, Any]
Telling = Callable[[int, int], None]
"""Say how much is done, of how much; raises :class:`Stopped` or :class:`Interrupted`."""


class Tasks:
    """The long tasks of one process, one of a kind at a time in the whole shop."""

    def __init__(self, opener: sessionmaker[Session], queue: TaskQueue) -> None:
        self._opener, self._queue = opener, queue
        self._asked_at: dict[TaskKind, float] = {}
        self._lock = threading.Lock()

    def add(self, kind: TaskKind, work: Callable[[Telling], Found]) -> None:
        """Name what a kind of task does; it may be begun again in the middle."""

        def run(task_id: int) -> None:
            self._run(task_id, work)

        self._queue.add(f"long_{kind}", run)

    def ask(self, db: Session, kind: TaskKind, person_id: int | None = None) -> Task:
        """Put a task into the queue, or find the one that is there already; commits."""
        db.execute(text("SELECT pg_advisory_xact_lock(84203)"))
        row = self.newest(db, kind)
        if row is None or row.state not in AT_WORK:
            row = Task(kind=kind, person_id=person_id)
            db.add(row)
            db.flush()
            lost = True
        else:
            lost = row.state == "waiting" and row.recorded_at < _now() - LOST_AFTER
        db.commit()
        if lost:  # put twice it is done once
            self._queue.put(f"long_{kind}", task_id=row.id)
        return row

    def begin(self, kind: TaskKind) -> None:
        """Ask for a task of the shop's own accord, unless somebody stopped one lately."""
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

    def newest(self, db: Session, kind: TaskKind) -> Task | None:
        newest = select(Task).where(Task.kind == kind).order_by(Task.id.desc()).limit(1)
        return db.scalars(newest).one_or_none()

    def listed(self, db: Session) -> list[Task]:
        """The newest tasks of all kinds."""
        query = select(Task).options(joinedload(Task.person))
        return list(db.scalars(query.order_by(Task.id.desc()).limit(LISTED)))

    def stop(self, db: Session, task_id: int) -> Task:
        """Stop a task: at once where it waits, at its next step where it runs; commits."""
        row = records.get(db, Task, "task", task_id, lock=True)
        if row.state not in AT_WORK:
            raise Conflict(f"It is {row.state} already.")
        row.cancelled = True
        if row.state == "waiting":
            row.state, row.ended_at = "stopped", _now()
        db.commit()
        return row

    def _run(self, task_id: int, work: Callable[[Telling], Found]) -> None:
        """What the queue does; what was begun by a process that died is begun again."""

        def tell(done: int, total: int) -> None:
            if self._queue.stopping.is_set():
                raise Interrupted
            if not self._told(task_id, state="running", done=done, total=total):
                raise Stopped

        try:
            tell(0, 0)
            found = work(tell)
            self._told(task_id, state="done", found=found, ended_at=func.now())
        except Stopped:
            self._told(task_id, state="stopped", ended_at=func.now())
        except AGAIN:
            raise
        except Exception:
            log.exception("a long task failed", task=task_id)
            self._told(task_id, state="failed", problem=FAILED, ended_at=func.now())

    def _told(self, task_id: int, **values: object) -> bool:
        """Whether it is to go on."""
        with self._opener() as db:
            cancelled = db.scalar(
                update(Task)
                .where(Task.id == task_id, Task.state.in_(AT_WORK))
                .values(**values)
                .returning(Task.cancelled)
            )
            db.commit()
        return cancelled is False


def _now() -> dt.datetime:
    return dt.datetime.now(dt.UTC)

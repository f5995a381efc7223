from __future__ import annotations

import datetime as dt
from typing import Literal, Self

from pydantic import BaseModel

from maple_rook.background.tasks import TaskKind
from maple_rook.http.schemas import Strict
from maple_rook.store.task_tables import Task

State = Literal["waiting", "running", "done", "stopped", "failed"]


class PhotoDiffers(BaseModel):
    """A measurement that did not come out as it was kept: by figure what it was and what it is."""

    tag: str
    sheet_id: int
    photo_id: int
    why: str


class TaskOut(BaseModel):
    """A task, how far it is (``total`` 0 until it is known) and, of photos, what differs."""

    id: int
    kind: TaskKind
    state: State
    done: int
    total: int
    stopping: bool
    problem: str
    differs: list[PhotoDiffers]
    asked_at: dt.datetime
    ended_at: dt.datetime | None
    person: str | None

    @classmethod
    def of(cls, row: Task) -> Self:
        return cls.model_validate(
            {
                "id": row.id,
                "kind": row.kind,
                "state": row.state,
                "done": row.done,
                "total": row.total,
                "stopping": row.cancelled and row.state == "running",
                "problem": row.problem,
                "differs": (row.found or {}).get("differs", []),
                "asked_at": row.recorded_at,
                "ended_at": row.ended_at,
                "person": row.person.name if row.person else None,
            }
        )


class FileOut(BaseModel):
    """A file that is being imported or tried."""

    id: str
    file: str
    done: int
    for_good: bool


class QuarantinedOut(BaseModel):
    """A piece that could not be calculated, and what was wrong."""

    piece_id: int
    tag: str
    why: str


class TasksOut(BaseModel):
    """The newest tasks, files at work, pieces put aside, how many pieces and photos there are."""

    tasks: list[TaskOut]
    files: list[FileOut]
    quarantined: list[QuarantinedOut]
    behind: int
    pieces: int
    photos: int


class TaskIn(Strict):
    kind: TaskKind

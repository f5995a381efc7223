from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Request
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.background.tasks import TaskKind, Tasks
from maple_rook.http.access import CurrentPerson, Db, RowId
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.tasks.schemas import FileOut, QuarantinedOut, TaskIn, TaskOut, TasksOut
from maple_rook.store import people
from maple_rook.store import shelf as shelf_store
from maple_rook.store.exchange_tables import ImportFile
from maple_rook.store.photo_tables import PhotoMeasurement
from maple_rook.store.tables import Piece

router = APIRouter(prefix="/tasks", tags=["tasks"])


async def current_tasks(request: Request) -> Tasks:
    found: Tasks = request.app.state.tasks
    return found


CurrentTasks = Annotated[Tasks, Depends(current_tasks)]


@router.get("")
def listed(request: Request, db: Db, _: CurrentPerson, tasks: CurrentTasks) -> TasksOut:
    """Long tasks of the shop, the newest first, and files at work."""
    shelf: Shelf = request.app.state.shelf
    files = select(ImportFile).where(ImportFile.state == "running").order_by(ImportFile.recorded_at)
    return TasksOut(
        tasks=[TaskOut.of(row) for row in tasks.listed(db)],
        files=[
            FileOut(id=f.id, file=f.file, done=f.done, for_good=f.for_good)
            for f in db.scalars(files)
        ],
        quarantined=[
            QuarantinedOut(piece_id=key, tag=tag, why=why)
            for key, tag, why in shelf_store.quarantined(db)
        ],
        behind=shelf_store.behind(db, shelf.model_version(db)),
        pieces=_count(db, Piece),
        photos=_count(db, PhotoMeasurement),
    )


def _count(db: Session, table: type[Piece | PhotoMeasurement]) -> int:
    return db.scalar(select(func.count()).select_from(table)) or 0


@router.post("", status_code=201)
def ask(db: Db, person: CurrentPerson, tasks: CurrentTasks, asked: TaskIn) -> TaskOut:
    """Ask for a task: the whole shelf recalculated, or every kept photo measured again."""
    if asked.kind is TaskKind.SHELF:
        shelf_store.make_all_wait(db)
    return TaskOut.of(tasks.ask(db, asked.kind, person.id))


@router.post("/{task_id}/stop")
def stop(db: Db, person: CurrentPerson, tasks: CurrentTasks, task_id: RowId) -> TaskOut:
    """Stop a task; its results stay, and the next one continues from there."""
    people.write_down(db, "tasks", "stopped", person.id, f"task {task_id}")
    return TaskOut.of(tasks.stop(db, task_id))

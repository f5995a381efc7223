"""Files that wait to be brought in: opened, tried, brought in or stopped, one at a time."""

from __future__ import annotations

import hashlib
import shutil
import tempfile
import threading
import uuid
from collections.abc import AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

import structlog
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.core.errors import InvalidValue, MapleRookError
from maple_rook.formats.incoming.headings import Column, fitted, plain
from maple_rook.formats.incoming.opening import open_tables
from maple_rook.formats.incoming.table import MOST_BYTES, Table
from maple_rook.stations.exchange.bringing import Cancelled, Mapped, Report, bring
from maple_rook.stations.exchange.keeping import Choices
from maple_rook.stations.exchange.schemas import ChoicesIn, TableOut
from maple_rook.stations.problems import Conflict
from maple_rook.store.exchange_tables import ImportRow
from maple_rook.store.records import NotFound

MOST_WAITING = 5
WRITTEN_MEANWHILE = "Somebody wrote the same rows meanwhile; nothing was kept. Try it again."
State = Literal["waiting", "running", "tried", "brought in", "stopped"]
log = structlog.get_logger()


@dataclass
class Job:
    """One file, and what was done with it so far; ``read_as`` its tables by source."""

    id: str
    path: Path
    file: str
    size: int
    sha256: str
    tables: list[Table]
    source: str = ""
    state: State = "waiting"
    for_good: bool = False
    done: int = 0
    problem: str = ""
    report: Report = field(default_factory=Report)
    cancelled: threading.Event = field(default_factory=threading.Event)
    read_as: dict[tuple[str, int], list[TableOut]] = field(default_factory=dict)


class Imports:
    """The files of this run of the server; only what was brought in outlives it."""

    def __init__(self, changed: Callable[[], None]) -> None:
        self._folder = Path(tempfile.mkdtemp(prefix="maple-rook-import-"))
        self._jobs: dict[str, Job] = {}
        self._worker = ThreadPoolExecutor(1, "import")
        self._changed = changed
        self._lock = threading.Lock()

    def close(self) -> None:
        for job in self._jobs.values():
            job.cancelled.set()
        self._worker.shutdown(wait=True)
        shutil.rmtree(self._folder, ignore_errors=True)

    async def receive(self, chunks: AsyncIterator[bytes]) -> tuple[Path, str]:
        """Write a file as it arrives; its place, and the SHA-256 of it."""
        path = self._folder / uuid.uuid4().hex
        digest, size = hashlib.sha256(), 0
        try:
            with path.open("wb") as file:
                async for chunk in chunks:
                    size += len(chunk)
                    if size > MOST_BYTES:
                        raise InvalidValue(
                            "file", "a larger file", f"at most {MOST_BYTES / 1e6:.0f} MB"
                        )
                    digest.update(chunk)
                    file.write(chunk)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        return path, digest.hexdigest()

    def open(self, path: Path, sha256: str, name: str) -> Job:
        """Find the tables of a file that arrived."""
        try:
            tables = open_tables(path, name)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        job = Job(path.name, path, name, path.stat().st_size, sha256, tables)
        with self._lock:
            self._make_room()
            self._jobs[job.id] = job
        return job

    def _make_room(self) -> None:
        idle = [job for job in self._jobs.values() if job.state != "running"]
        while len(self._jobs) >= MOST_WAITING and idle:
            self._drop(idle.pop(0))

    def _drop(self, job: Job) -> None:
        self._jobs.pop(job.id, None)
        job.path.unlink(missing_ok=True)

    def get(self, key: str) -> Job:
        job = self._jobs.get(key)
        if job is None:
            raise NotFound(
                "file waiting to be brought in; give it again, nothing of it was kept:", key
            )
        return job

    def stop(self, key: str) -> Job:
        """Cancel what runs, keeping nothing of it; a file at rest is forgotten."""
        job = self.get(key)
        job.cancelled.set()
        if job.state != "running":
            self._drop(job)
        return job

    def start(
        self, key: str, opener: sessionmaker[Session], person_id: int, asked: ChoicesIn
    ) -> Job:
        """Try a file, or bring it in for good, behind the request."""
        job = self.get(key)
        mapped = _mapped(job, asked)
        with self._lock:
            if job.state == "running":
                raise Conflict("It is being worked on; wait, or stop it first.")
            if job.state == "brought in":
                raise Conflict("It is brought in already.")
            job.state, job.for_good, job.done, job.problem = "running", asked.for_good, 0, ""
            job.source = asked.source
            job.cancelled.clear()
        self._worker.submit(self._run, job, opener, person_id, mapped, asked)
        return job

    def _run(
        self, job: Job, opener: sessionmaker[Session], person_id: int, mapped: list[Mapped],
        asked: ChoicesIn,
    ) -> None:  # fmt: skip
        def tell(done: int) -> None:
            job.done = done
            if job.cancelled.is_set():
                raise Cancelled("Stopped; nothing of the file was kept.")

        choices = Choices(asked.measured_on, asked.doubtful, asked.changed)
        try:
            with opener() as db:
                report = bring(db, person_id, mapped, choices, tell=tell)
                if asked.for_good:
                    db.add(_past(job, mapped, report, person_id))
                    tell(job.done)
                    db.commit()
                    if report.changed_models:
                        self._changed()
                else:
                    db.rollback()
            job.report = report
            job.state = "brought in" if asked.for_good else "tried"
        except MapleRookError as wrong:
            job.problem, job.state = str(wrong), "stopped"
        except IntegrityError:
            job.problem, job.state = WRITTEN_MEANWHILE, "stopped"
        except Exception:
            log.exception("an import failed", file=job.file)
            job.problem = "Something went wrong on our side; nothing was kept."
            job.state = "stopped"


def _mapped(job: Job, asked: ChoicesIn) -> list[Mapped]:
    """The tables of the file as they were read by a person."""
    if len(asked.tables) != len(job.tables):
        raise InvalidValue(
            "tables", len(asked.tables), f"{len(job.tables)}, as many as the file has"
        )
    found = []
    for table, said in zip(job.tables, asked.tables, strict=True):
        if said.kind is not None and len(said.columns) > len(table.headings):
            raise InvalidValue("columns", len(said.columns), f"at most {len(table.headings)}")
        columns = [column.core() for column in said.columns]
        meant = [c.field for c in columns if c.field]
        twice = next((f for f in meant if meant.count(f) > 1), None)
        if twice:
            raise InvalidValue("columns", f"{twice} twice", "one column for each meaning")
        if said.kind is not None:
            columns = fitted(columns, said.kind)
        found.append(Mapped(table, said.kind, columns, said.decimals))
    return found


def _past(job: Job, mapped: list[Mapped], report: Report, person_id: int) -> ImportRow:
    columns = {
        plain(heading): [column.field, column.unit]
        for m in mapped if m.kind is not None
        for heading, column in zip(m.table.headings, m.columns, strict=False)
    }  # fmt: skip
    return ImportRow(
        source=job.source, file=job.file[:200], sha256=job.sha256, columns=columns,
        counts={verdict.value: n for verdict, n in report.counts.items()},
        added=dict(report.added), person_id=person_id,
    )  # fmt: skip


def remembered(row: ImportRow | None) -> dict[str, Column]:
    """What each heading meant when a file of a source was brought in last."""
    if row is None:
        return {}
    return {heading: Column(field, unit) for heading, (field, unit) in row.columns.items()}

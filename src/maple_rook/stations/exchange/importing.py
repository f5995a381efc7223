"""Files waiting to be imported: stored in the record, processed from the queue one at a time."""

from __future__ import annotations

import gzip
import hashlib
import json
import shutil
import tempfile
import threading
import uuid
from collections import Counter, OrderedDict
from collections.abc import AsyncIterator, Iterator
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path

import structlog
from sqlalchemy import select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.background.apart import Apart
from maple_rook.background.queue import AGAIN, Interrupted, TaskQueue
from maple_rook.core.errors import InvalidValue, MapleRookError
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.formats.incoming.apart import heads, read_rows, write_rows
from maple_rook.formats.incoming.drafts import RowVerdict
from maple_rook.formats.incoming.fields import Kind, Origin
from maple_rook.formats.incoming.headings import Column, are_computed, as_claims, fitted, plain
from maple_rook.formats.incoming.table import MOST_BYTES, Table, TableRow
from maple_rook.http.problems import Conflict
from maple_rook.stations.exchange import temporary
from maple_rook.stations.exchange.model_storage import Choices
from maple_rook.stations.exchange.row_import import (
    Cancelled,
    Mapped,
    Report,
    RowReport,
    import_rows,
)
from maple_rook.stations.exchange.schemas import ChoicesIn, TableIn, TableOut
from maple_rook.store.database import WRITER
from maple_rook.store.exchange_tables import ImportFile, ImportPart, ImportRow
from maple_rook.store.records import NotFound
from maple_rook.store.tables import Shop

MOST_WAITING = 5
PART_BYTES = 1_000_000
TASK = "bring_in"
LOOKED_INTO_WITHIN_S, READ_WITHIN_S = 60.0, 600.0
COMPUTED = (
    "This is an exported shelf: means with their uncertainty, not readings. Import the "
    "readings, or the whole shop."
)
STOPPED = "Stopped; nothing from the file was imported."
WRITTEN_MEANWHILE = (
    "Somebody else wrote the same rows at the same time; nothing was imported. Try again."
)
log = structlog.get_logger()


@dataclass
class Opened:
    """A file looked into by this process; ``read_as`` its tables by source."""

    path: Path
    tables: list[Table]
    read_as: dict[tuple[str, int, str], list[TableOut]] = field(default_factory=dict)


class Imports:
    """The files that wait, in the record; each process keeps those open that it was asked for."""

    def __init__(self, opener: sessionmaker[Session], queue: TaskQueue, apart: Apart) -> None:
        self._opener, self._queue, self._apart = opener, queue, apart
        temporary.sweep()
        self._folder = Path(tempfile.mkdtemp(prefix=temporary.prefix()))
        self._opened: OrderedDict[str, Opened] = OrderedDict()
        self._lock = threading.Lock()
        queue.add(TASK, self._work)

    def close(self) -> None:
        shutil.rmtree(self._folder, ignore_errors=True)

    def _place(self) -> Path:
        """Where a file may be written; what tidies temporary folders may have taken ours."""
        self._folder.mkdir(mode=0o700, exist_ok=True)
        return self._folder / uuid.uuid4().hex

    async def receive(self, chunks: AsyncIterator[bytes]) -> tuple[Path, str]:
        """Write a file as it arrives; its place, and the SHA-256 of it."""
        path = self._place()
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

    def open(self, db: Session, path: Path, sha256: str, name: str, person_id: int) -> ImportFile:
        """Find the tables of a file that arrived, and keep it; commits.

        Parameters
        ----------
        db : the session the caller commits.
        path : the file.
        sha256 : digest of the file.
        name : the file's name.
        person_id : number of who asks.
        """
        try:
            tables = self._tables(path, name)
        except BaseException:
            path.unlink(missing_ok=True)
            raise
        row = ImportFile(
            id=path.name, file=name, size=path.stat().st_size, sha256=sha256, person_id=person_id
        )
        _make_room(db)
        db.add(row)
        db.flush()
        with path.open("rb") as file:
            for number, part in enumerate(iter(lambda: file.read(PART_BYTES), b"")):
                db.add(ImportPart(file_id=row.id, number=number, content=part))
                db.flush()
                db.expunge_all()
        db.commit()
        self._keep_open(row.id, Opened(path, tables))
        return self.get(db, row.id)

    def _keep_open(self, key: str, opened: Opened) -> Opened:
        with self._lock:
            self._opened[key] = opened
            self._opened.move_to_end(key)
            while len(self._opened) > MOST_WAITING:
                _remove(self._opened.popitem(last=False)[1].path)
        return opened

    def _tables(self, path: Path, name: str) -> list[Table]:
        """The tables of a file, opened in a separate process; rows are read when asked for."""
        found = self._apart.run(LOOKED_INTO_WITHIN_S, heads, path, name)
        return [
            Table(
                head.name,
                head.headings,
                partial(self._rows, path, name, number),
                head.said,
                head.first,
                head.hidden,
            )
            for number, head in enumerate(found)
        ]

    def _rows(self, path: Path, name: str, number: int) -> Iterator[TableRow]:
        written = path.with_suffix(f".{number}")
        if not written.exists():
            self._apart.run(READ_WITHIN_S, write_rows, path, name, number, written)
        return read_rows(written)

    def opened(self, db: Session, row: ImportFile) -> Opened:
        """The file looked into, fetched from the record where another process received it."""
        known = self._opened.get(row.id)
        if known is not None and known.path.exists():
            return known
        path = self._place()
        parts = select(ImportPart.content).where(ImportPart.file_id == row.id)
        with path.open("wb") as file:
            for part in db.scalars(
                parts.order_by(ImportPart.number).execution_options(yield_per=4)
            ):
                file.write(part)
        return self._keep_open(row.id, Opened(path, self._tables(path, row.file)))

    def get(self, db: Session, key: str, *, lock: bool = False) -> ImportFile:
        row = db.get(ImportFile, key, with_for_update=lock or None, populate_existing=True)
        if row is None:
            raise NotFound("file waiting for import; nothing was imported, choose it again:", key)
        return row

    def stop(self, db: Session, key: str) -> None:
        """Cancel what runs, keeping nothing of it; a file at rest is forgotten."""
        row = self.get(db, key, lock=True)
        if row.state == "running":
            row.cancelled = True
        else:
            db.delete(row)
            with self._lock:
                opened = self._opened.pop(key, None)
            if opened is not None:
                _remove(opened.path)
        db.commit()

    def start(self, db: Session, key: str, person_id: int, asked: ChoicesIn) -> ImportFile:
        """Try a file, or bring it in for good, from the queue."""
        row = self.get(db, key, lock=True)
        _mapped(self.opened(db, row).tables, asked)
        if row.state == "running":
            raise Conflict("It is being processed; wait, or stop it first.")
        if row.state == "brought in":
            raise Conflict("It has been imported already.")
        row.state, row.for_good, row.done, row.problem = "running", asked.for_good, 0, ""
        row.source, row.cancelled, row.person_id = asked.source, False, person_id
        row.asked, row.report = asked.model_dump(mode="json"), None
        db.flush()
        self._queue.put(TASK, key=key)  # it waits for the row's lock, which ends with the commit
        db.commit()
        return row

    def _work(self, key: str) -> None:
        """What the queue does: all of it and that it is done in one transaction, or nothing."""
        problem = ""
        try:
            with self._opener() as db:
                self._bring(db, key)
        except NotFound:
            return  # it was forgotten
        except AGAIN:
            raise
        except MapleRookError as wrong:
            problem = str(wrong)
        except IntegrityError:
            problem = WRITTEN_MEANWHILE
        except Exception:
            log.exception("an import failed", file=key)
            problem = "Something went wrong on our side; nothing was imported."
        if problem:
            self._tell(key, state="stopped", problem=problem)

    def _bring(self, db: Session, key: str) -> None:
        row = self.get(db, key, lock=True)
        if row.state != "running" or row.asked is None:
            return
        asked, person_id = ChoicesIn.model_validate(row.asked), row.person_id
        mapped = _mapped(self.opened(db, row).tables, asked)
        past = _past(row, mapped, person_id)
        db.rollback()
        for m in mapped:  # while no transaction waits for it
            if m.kind is not None:
                m.table.rows()
        db.info[WRITER] = person_id
        choices = Choices(
            asked.measured_on, asked.doubtful, asked.changed, shop_currency(db), asked.rates
        )
        report = import_rows(
            db, person_id, mapped, choices, tell=lambda done: self._goes_on(key, done)
        )
        state = "brought in" if asked.for_good else "tried"
        if asked.for_good:
            past.counts = {verdict.value: n for verdict, n in report.counts.items()}
            past.added = dict(report.added)
            db.add(past)
            self._goes_on(key, len(report.rows))
        else:
            db.rollback()
        done = db.execute(
            update(ImportFile)
            .where(ImportFile.id == key, ImportFile.state == "running", ~ImportFile.cancelled)
            .values(state=state, done=len(report.rows), report=_packed(report))
        )
        if not done.rowcount:  # type: ignore[attr-defined]
            raise Cancelled(STOPPED)
        db.commit()

    def _goes_on(self, key: str, done: int) -> None:
        """Say how far it is, and hear whether it shall stop."""
        if self._queue.stopping.is_set():
            raise Interrupted
        if self._tell(key, done=done):
            raise Cancelled(STOPPED)

    def _tell(self, key: str, **values: object) -> bool:
        with self._opener() as db:
            cancelled = db.scalar(
                update(ImportFile)
                .where(ImportFile.id == key, ImportFile.state == "running")
                .values(**values)
                .returning(ImportFile.cancelled)
            )
            db.commit()
        return cancelled is not False


def shop_currency(db: Session) -> str:
    """The currency of the shop's prices, a code or a word."""
    return db.scalar(select(Shop.currency)) or ""


def _remove(path: Path) -> None:
    """A file, and the rows that were written down of it."""
    for found in path.parent.glob(f"{path.name}*"):
        found.unlink(missing_ok=True)


def _make_room(db: Session) -> None:
    idle = db.scalars(
        select(ImportFile)
        .where(ImportFile.state != "running")
        .order_by(ImportFile.recorded_at.desc(), ImportFile.id)
        .offset(MOST_WAITING - 1)
    )
    for row in idle:
        db.delete(row)


def _packed(report: Report) -> bytes:
    told = {
        "rows": [(r.table, r.line, r.shown, r.verdict.value, r.said) for r in report.rows],
        "counts": {verdict.value: n for verdict, n in report.counts.items()},
        "added": dict(report.added),
    }
    return gzip.compress(json.dumps(told, ensure_ascii=False).encode(), compresslevel=1)


def report_of(row: ImportFile) -> Report:
    """Row by row what became of a file; empty while nothing did."""
    if row.report is None:
        return Report()
    told = json.loads(gzip.decompress(row.report))
    return Report(
        [
            RowReport(table, line, shown, RowVerdict(verdict), said)
            for table, line, shown, verdict, said in told["rows"]
        ],
        Counter({RowVerdict(verdict): n for verdict, n in told["counts"].items()}),
        Counter(told["added"]),
    )


def _mapped(tables: list[Table], asked: ChoicesIn) -> list[Mapped]:
    """The tables of the file as they were read by a person."""
    if len(asked.tables) != len(tables):
        raise InvalidValue("tables", len(asked.tables), f"{len(tables)}, as many as the file has")
    found = []
    for table, said in zip(tables, asked.tables, strict=True):
        if said.kind is not None and are_computed(table.headings):
            raise InvalidValue("tables", table.name, f"readings. {COMPUTED}")
        if said.kind is not None and len(said.columns) > len(table.headings):
            raise InvalidValue("columns", len(said.columns), f"at most {len(table.headings)}")
        columns = [column.core() for column in said.columns]
        meant = [c.field for c in columns if c.field]
        twice = next((f for f in meant if meant.count(f) > 1), None)
        if twice:
            raise InvalidValue("columns", f"{twice} twice", "one column for each meaning")
        if said.kind is not None:
            columns = fitted(columns, said.kind)
            if said.origin is Origin.PRINTED:
                columns = as_claims(columns, said.kind)
            _check_origin(table, said, columns)
        origin = said.origin or Origin.MEASURED
        found.append(Mapped(table, said.kind, columns, said.decimals, origin))
    return found


def _check_origin(table: Table, said: TableIn, columns: list[Column]) -> None:
    """Only a person knows whether figures were measured, so it has to be stated."""
    readings = said.kind is Kind.READINGS
    if readings and said.origin is Origin.PRINTED:
        raise InvalidValue("origin", f"{table.name}: printed readings", "claims, one a row")
    if said.origin is None and (readings or any(c.field in QUANTITIES for c in columns)):
        accepted = "measured by you (ours, measured) or printed by a maker or dealer (printed)"
        raise InvalidValue("origin", f"{table.name}: not said", accepted)


def _past(row: ImportFile, mapped: list[Mapped], person_id: int) -> ImportRow:
    columns = {
        plain(heading): [column.field, column.unit]
        for m in mapped
        if m.kind is not None
        for heading, column in zip(m.table.headings, m.columns, strict=False)
    }
    return ImportRow(
        source=row.source,
        file=row.file[:200],
        sha256=row.sha256,
        columns=columns,
        counts={},
        added={},
        person_id=person_id,
    )


def remembered(row: ImportRow | None) -> dict[str, Column]:
    """What each heading meant when a file of a source was imported last."""
    if row is None:
        return {}
    return {heading: Column(field, unit) for heading, (field, unit) in row.columns.items()}

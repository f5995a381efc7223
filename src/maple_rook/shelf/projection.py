"""The shelf: every piece as it was last calculated, kept in the record and kept up to date.

What every station lists, sorts and searches stands in the table ``shelf``. A piece is calculated
again once something of it was written: a few at once by whoever asks next, many from the queue.
"""

from __future__ import annotations

import hashlib
import threading
import time
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

import numpy as np
import structlog
from numpy.typing import NDArray
from sqlalchemy import select
from sqlalchemy.exc import OperationalError, SQLAlchemyError
from sqlalchemy.exc import TimeoutError as PoolTimeout
from sqlalchemy.orm import Session, sessionmaker

from maple_rook import __version__
from maple_rook.answers.calibration import CalibrationCache, Models
from maple_rook.background.tasks import Found, Telling
from maple_rook.core.choosing.candidates import NEEDS_WORK, USED, Traits, stacked
from maple_rook.core.cutting.foods import Food
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, TRIED, Basis, LifeModel
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.core.prediction.predict import DRAWS
from maple_rook.core.routine.stock import IN_STOCK
from maple_rook.shelf.helped import helped
from maple_rook.shelf.knife import (
    DECIDES,
    JOB_STROKES,
    RecordedKnife,
    ShelfKnife,
    computed,
    recorded,
)
from maple_rook.shelf.rows import claim_rows, shelf_row
from maple_rook.store import shelf as shelf_store
from maple_rook.store.shelf_tables import ShelfRow

AT_ONCE, WHILE_BEHIND = 120, 12
"""So many pieces are calculated before an answer; where more wait, so many of the newest."""
REMEMBERED = 600
CHUNK = 250
log = structlog.get_logger()


@dataclass(frozen=True)
class ShelfColumns:
    """What decides about every piece in stock, in the order in which they are offered."""

    ids: NDArray[np.int64]
    models: NDArray[np.int64]
    decides: Traits
    central: Array


Knife = TypeVar("Knife", bound=RecordedKnife)


class _Remembered(Generic[Knife]):
    """Knives asked for last, each for as long as nothing more is written of it."""

    def __init__(self) -> None:
        self._kept: OrderedDict[int, tuple[shelf_store.Mark, Knife]] = OrderedDict()

    def of(self, marks: Mapping[int, shelf_store.Mark]) -> dict[int, Knife]:
        found = {}
        for key, mark in marks.items():
            if key in self._kept and self._kept[key][0] == mark:
                found[key] = self._kept[key][1]
                self._kept.move_to_end(key)
        return found

    def keep(self, marks: Mapping[int, shelf_store.Mark], knives: Mapping[int, Knife]) -> None:
        for key, knife in knives.items():
            self._kept[key] = marks[key], knife
        while len(self._kept) > REMEMBERED:
            self._kept.popitem(last=False)

    def clear(self) -> None:
        self._kept.clear()


class Shelf:
    """The shelf as one process knows it: the table, and the knives it was asked for last."""

    def __init__(
        self,
        calibrations: CalibrationCache | None = None,
        opener: sessionmaker[Session] | None = None,
        send_for_help: Callable[[], None] = lambda: None,
    ) -> None:
        self._calibrations = calibrations or CalibrationCache()
        self._opener, self._send_for_help = opener, send_for_help
        self._foods: tuple[Food, ...] = ()
        self._life = PUBLISHED_LIFE
        self._model_version = ""
        self._looked_at: str | None = None
        self._settled: str | None = None
        self._aside = 0
        self._known: _Remembered[ShelfKnife] = _Remembered()
        self._recorded: _Remembered[RecordedKnife] = _Remembered()
        self._columns = _Columns()
        self._lock, self._reading_columns = threading.Lock(), threading.Lock()

    def model_version(self, db: Session) -> str:
        """What pieces are computed with now: a short name of foods, edge-life models, release."""
        return self._model_version_at(db, shelf_store.moment(db))

    def _model_version_at(self, db: Session, moment: str | None) -> str:
        if moment is not None and moment == self._looked_at:
            return self._model_version
        foods, life = self._calibrations.models(db, Basis.CALIBRATED)
        with self._lock:
            if foods != self._foods or life is not self._life or not self._model_version:
                named = _named(foods, life)
                if named != self._model_version:
                    self._known.clear()
                    self._recorded.clear()
                self._foods, self._life, self._model_version = foods, life, named
            self._looked_at = moment
            return self._model_version

    def models(self, basis: Basis) -> Models:
        """Foods and edge-life models as they stood when knives were last asked for."""
        return self._calibrations.last_models(basis)

    def knives(self, db: Session, ids: Sequence[int]) -> list[ShelfKnife]:
        """These pieces as the record has them now, in their order."""
        moment = shelf_store.moment(db)
        self._model_version_at(db, moment)
        marks = shelf_store.marks(db, ids)
        with self._lock:
            found = self._known.of(marks)
            foods, life, model_version = self._foods, self._life, self._model_version
        missing = [key for key in marks if key not in found]
        for start in range(0, len(missing), CHUNK):
            for knife in computed(db, missing[start : start + CHUNK], foods, life):
                found[knife.piece.id] = knife
        self._remember(self._known, moment, model_version, marks, {k: found[k] for k in missing})
        return [found[key] for key in ids]

    def recorded(self, db: Session, ids: Sequence[int]) -> list[RecordedKnife]:
        """These pieces without their predictions, in their order: enough to say what stops them."""
        moment = shelf_store.moment(db)
        self._model_version_at(db, moment)
        marks = shelf_store.marks(db, ids)
        with self._lock:
            found: dict[int, RecordedKnife] = {**self._recorded.of(marks), **self._known.of(marks)}
            model_version = self._model_version
        missing = [key for key in marks if key not in found]
        if missing:
            looked_up = dict(zip(missing, recorded(db, missing), strict=True))
            self._remember(self._recorded, moment, model_version, marks, looked_up)
            found |= looked_up
        return [found[key] for key in ids]

    def _remember(
        self,
        memory: _Remembered[Knife],
        moment: str | None,
        model_version: str,
        marks: Mapping[int, shelf_store.Mark],
        knives: Mapping[int, Knife],
    ) -> None:
        """Keep knives in mind that were made with the models there still are.

        Parameters
        ----------
        memory : where.
        moment : of the database when they were read, as of :func:`shelf_store.moment`.
        model_version : what they were made with.
        marks : what each is another one by.
        knives : by number of the piece.
        """
        # more may come of a piece that waits in a transaction that writes it
        sure = {k: knife for k, knife in knives.items() if moment is not None or not marks[k][1]}
        with self._lock:
            if model_version == self._model_version:
                memory.keep(marks, sure)

    def catch_up(self, db: Session) -> int:
        """Calculate what changed, as far as that is quick; how many pieces ``db`` is still behind.

        Those that cannot be calculated count among them. To be called first: ``db`` may be of a
        replica, so it is written in a session of its own, and a replica has what was calculated
        only a moment later.
        """
        moment = shelf_store.moment(db)
        if moment is not None and moment == self._settled:
            return self._aside
        model_version = self._model_version_at(db, moment)
        aside = shelf_store.quarantined_count(db, model_version)
        if shelf_store.up_to_date(db, model_version):
            self._settled, self._aside = moment, aside
            return aside
        return aside + self._catch_up(db, shelf_store.behind(db, model_version))

    def _catch_up(self, db: Session, behind: int) -> int:
        if self._opener is None:
            return behind - self._quickly(db, behind)
        db.rollback()  # its connection is free for others, and for the next lines
        try:
            if behind > AT_ONCE:
                self._send_for_help()
            with self._opener() as writing:
                done = self._quickly(writing, behind)
                seen_at_once = writing.get_bind().engine.url == db.get_bind().engine.url
                return max(0, behind - done) if seen_at_once else behind
        except (OperationalError, PoolTimeout) as error:  # the shelf is shown as it is
            log.warning("the shelf is not brought up to date", error=str(error))
        except Exception:  # a fault of our own takes no list away
            log.exception("the shelf is not brought up to date")
        return behind

    def _quickly(self, db: Session, behind: int) -> int:
        if behind > AT_ONCE:
            return self.work_out(db, WHILE_BEHIND, newest=True)
        return self.work_out(db, AT_ONCE)

    def work_out(self, db: Session, most: int, *, newest: bool = False) -> int:
        """Calculate up to so many pieces that wait for it, and commit; how many it was.

        Nobody else calculates a piece that is held; what is written of it meanwhile makes it wait
        again. One that cannot be calculated is put aside until it or the models change.
        """
        self.model_version(db)
        with self._lock:
            foods, life, model_version = self._foods, self._life, self._model_version
        # twice as many: another process may hold the first of them
        waiting = shelf_store.waiting(db, model_version, 2 * most, newest=newest)
        ids = shelf_store.hold(db, waiting, most)
        for start in range(0, len(ids), CHUNK):
            chunk = ids[start : start + CHUNK]
            lines = shelf_store.stale_lines(db, chunk)
            rows, claims, why = _worked_out(db, chunk, foods, life, model_version)
            if rows:
                shelf_store.put(db, rows, claims, lines)
            if why:
                shelf_store.quarantine(db, why, lines, model_version)
        db.commit()
        return len(ids)

    def work_all_out(self, tell: Telling) -> Found:
        """Calculate every piece that waits for it: what the queue does."""
        assert self._opener is not None
        with self._opener() as db:
            first = shelf_store.behind(db, self.model_version(db))
            tell(0, first)
            engine = db.get_bind().engine
        with helped(engine, first):
            while True:
                with self._opener() as db:
                    behind = shelf_store.behind(db, self.model_version(db))
                    tell(max(0, first - behind), max(first, behind))
                    if not behind:
                        return {"pieces": first}
                    now = self.work_out(db, CHUNK)
                if not now:  # others hold what is left
                    time.sleep(0.2)

    def columns(self, db: Session) -> ShelfColumns:
        """What decides about every piece on the shelf; only rows written since are read again."""
        self.model_version(db)
        with self._reading_columns:
            return self._columns.as_of(db, len(JOB_STROKES) * len(self._foods) + len(DECIDES))


class _Columns:
    """The columns of the shelf as a process last read them.

    Pieces that are sold or gone back, that are still computed with another number of foods or of
    columns, or put aside, are left out.
    """

    def __init__(self) -> None:
        self._rows: dict[int, Sequence[Any]] = {}
        self._at: dict[int, int] = {}
        self._before = self._wide = 0
        self._made = ShelfColumns(
            np.zeros(0, np.int64), np.zeros(0, np.int64), stacked([]), np.zeros((0, 0))
        )

    def as_of(self, db: Session, wide: int) -> ShelfColumns:
        before = self._before
        self._before, anything = shelf_store.written_since(db, before)
        if not anything and wide == self._wide:
            return self._made
        query = select(
            ShelfRow.piece_id,
            ShelfRow.stock,
            ShelfRow.model_id,
            ShelfRow.decides,
            ShelfRow.central,
        )
        written = db.execute(query.where(ShelfRow.written >= before)).all()
        differing = {key: row for key, *row in written if not _same(self._rows.get(key), row)}
        if differing or wide != self._wide:
            in_place = wide == self._wide and all(
                key in self._at and self._place(row) == self._place(self._rows[key])
                for key, row in differing.items()
            )
            self._rows |= differing
            self._wide = wide
            self._made = self._changed(differing) if in_place else self._stacked()
        return self._made

    def _place(self, row: Sequence[Any]) -> tuple[object, ...]:
        """What a piece's place among the columns hangs on."""
        return (row[1], *_ready_first(row[2])) if self._may_be_offered(row) else ()

    def _changed(self, rows: Mapping[int, Sequence[Any]]) -> ShelfColumns:
        """The columns with some rows in the place of what was there; others read the old ones."""
        made, at = self._made, [self._at[key] for key in rows]
        decides = np.array(made.decides)
        decides[:, at] = np.array([row[2] for row in rows.values()], dtype=float).T
        central = made.central.copy()
        central[at] = [row[3] for row in rows.values()]
        return ShelfColumns(made.ids, made.models, Traits(*decides), central)

    def _may_be_offered(self, row: Sequence[Any]) -> bool:
        stock, _, decides, central = row
        at_hand = stock in IN_STOCK and len(decides) == len(Traits._fields)
        return at_hand and len(central) == self._wide

    def _stacked(self) -> ShelfColumns:
        fit = (key for key, row in self._rows.items() if self._may_be_offered(row))
        offered = sorted(fit, key=lambda key: (*_ready_first(self._rows[key][2]), key))
        self._at = {key: n for n, key in enumerate(offered)}
        rows = [self._rows[key] for key in offered]
        return ShelfColumns(
            np.array(offered, dtype=np.int64),
            np.array([row[1] for row in rows], dtype=np.int64),
            stacked([tuple(row[2]) for row in rows]),
            np.array([row[3] for row in rows]).reshape(len(rows), self._wide),
        )


def _ready_first(decides: Sequence[float]) -> tuple[bool, bool]:
    """A model's ready piece is offered before one that needs work, a new before a used one."""
    return bool(decides[NEEDS_WORK]), bool(decides[USED])


WorkedOut = tuple[list[dict[str, Any]], list[dict[str, Any]], dict[int, str]]


def _worked_out(
    db: Session, ids: Sequence[int], foods: tuple[Food, ...], life: LifeModel, model_version: str
) -> WorkedOut:
    """Rows and claims of these pieces, and why some have none: found by halving."""
    try:
        knives = list(computed(db, ids, foods, life))
        rows = [shelf_row(knife, model_version) for knife in knives]
        return rows, [c for knife in knives for c in claim_rows(knife)], {}
    except SQLAlchemyError:  # of the database, not of a piece
        raise
    except Exception as error:
        if len(ids) == 1:
            log.exception("a piece cannot be worked out", piece=ids[0])
            return [], [], {ids[0]: f"{type(error).__name__}: {error}"[:400]}
        half = len(ids) // 2
        one = _worked_out(db, ids[:half], foods, life, model_version)
        other = _worked_out(db, ids[half:], foods, life, model_version)
        return one[0] + other[0], one[1] + other[1], one[2] | other[2]


def _same(one: object, other: object) -> bool:
    """NaN is as NaN."""
    return one is not None and repr(one) == repr(other)


def _named(foods: tuple[Food, ...], life: LifeModel) -> str:
    """Six digits count: another machine's last ones may differ."""
    posteriors = [
        [np.char.mod("%.6g", part).tolist() for part in (p.mean, p.covariance, p.a, p.b)]
        for p in (life.posteriors[key] for key in TRIED)
    ]
    versions = {key: card.version for key, card in MODEL_CARDS.items()}
    told = repr((foods, life.coefficients, posteriors, versions, __version__, DRAWS))
    return hashlib.sha256(told.encode()).hexdigest()[:16]

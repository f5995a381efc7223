"""The one intake of readings: one at a time as they are taken, or many together.

A person waits between key press and stored reading. The function ``keep_reading`` (revision 0015)
locks the sheet, looks whether the reading is known, numbers the repeat, finds the instrument where
none is named and the place along the edge, and inserts, in one round trip that commits by itself;
it is called on the driver's own cursor. :func:`keep_many` follows the same rules for readings that
come together, by COPY.
"""

from __future__ import annotations

import datetime as dt
import json
import uuid
from collections import Counter, defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import fmean
from typing import Any, LiteralString, NamedTuple

from psycopg import OperationalError
from psycopg_pool import AsyncConnectionPool, PoolTimeout
from sqlalchemy import Engine, select, text
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.places import share_and_offset, station_mm
from maple_rook.core.measurement.quantities import kinds_for
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.store import incoming
from maple_rook.store.database import POOL_TIMEOUT_S, REQUESTS, driver_address
from maple_rook.store.tables import Instrument, Reading

KNOWN_SHEETS = 10_000
MOST_CONNECTIONS = 8
_KEEP: LiteralString = "SELECT told, id, sheet_id, replicate FROM keep_reading(%s::jsonb)"
_AS_READ = tuple(
    column.key
    for column in Reading.__table__.columns
    if column.key not in ("id", "client_id", "replicate", "taken_at", "recorded_at")
)
_TYPE_OF: LiteralString = """
    SELECT m.knife_type FROM sheets s
      JOIN pieces p ON p.id = s.piece_id JOIN knife_models m ON m.id = p.model_id
     WHERE s.id = %s
"""


class Told(StrEnum):
    """What became of a reading."""

    KEPT = "kept"
    KNOWN = "known"
    SIGNED_OFF = "signed off"
    NO_SHEET = "no sheet"
    NO_INSTRUMENT = "no instrument"


class Kept(NamedTuple):
    told: Told
    id: int
    sheet_id: int
    replicate: int


def usual_instrument(db: Session, q: Quantity) -> int | None:
    """The instrument a reading is taken with where none is named; None if the shop has none.

    One that is in use and not simulated, of the quantity's usual kind and resolution where there
    is one, the longest known first. The rule itself is a function of the database, so that
    ``keep_reading`` follows the same.
    """
    query = text("SELECT usual_instrument(:kinds, :resolution)")
    found: int | None = db.scalar(query, {"kinds": list(kinds_for(q)), "resolution": q.resolution})
    return found


def reference_block(db: Session, named: int | None = None) -> Instrument | None:
    """The reference block in use that is named, or the longest known one."""
    query = select(Instrument).where(
        Instrument.kind == InstrumentKind.REFERENCE_BLOCK, ~Instrument.retired
    )
    if named is not None:
        query = query.where(Instrument.id == named)
    return db.scalars(query.order_by(Instrument.id).limit(1)).first()


@dataclass(frozen=True)
class NewReading:
    """A reading for a sheet: who took it, with what, and on which reference block.

    Without an instrument the shop's usual one is taken for what is measured, unless
    ``instrument_unknown``: the reading then brings its own uncertainty. What is estimated or told
    has none. ``recorded_at`` is only given where readings are written as if they had come then.
    """

    sheet_id: int
    taken: TakenReading
    person_id: int
    instrument_id: int | None = None
    reference_id: int | None = None
    instrument_unknown: bool = False
    recorded_at: dt.datetime | None = None

    @property
    def needs_usual(self) -> bool:
        """Whether the shop's usual instrument is booked."""
        none = self.instrument_id is None and not self.instrument_unknown
        return none and self.taken.measured

    def as_json(self) -> str:
        """What the database's ``keep_reading`` takes."""
        taken = self.taken
        q, typed = taken.quantity, taken.typed
        row = {
            "client_id": str(taken.key),
            "sheet_id": self.sheet_id,
            "quantity": q.key,
            "typed": typed.text,
            "value": typed.value,
            "unit": typed.unit,
            "si_value": typed.base_value,
            "si_unit": q.unit,
            "instrument_id": self.instrument_id,
            "kinds": list(kinds_for(q)),
            "resolution": q.resolution,
            "method": taken.method,
            "station": taken.at,
            "station_mm": taken.along_mm,
            "above_edge_mm": taken.above_edge_mm,
            "reference_id": self.reference_id,
            "unusual_confirmed": taken.unusual,
            "standard_uncertainty": taken.own_u,
            "kind": typed.kind,
            "typed_step": taken.typed_step,
            "note": taken.note,
            "photo_id": taken.photo_id,
            "taken_at": taken.taken_at.isoformat(),
            "person_id": self.person_id,
        }
        if (place := share_and_offset(taken.at)) is not None:
            row["share"], row["offset_mm"] = place
        return json.dumps(row)


def keep_in(db: Session, new: NewReading) -> Kept:
    """Keep a reading in a transaction that keeps more, such as a photo's; the caller commits."""
    return _keep_row(db, new.as_json())


def keep_again(db: Session, reading: Reading, key: uuid.UUID) -> Kept:
    """Keep a reading of the record once more, as it was read, under a key; the caller commits."""
    copied = {name: getattr(reading, name) for name in _AS_READ}
    return _keep_row(
        db, json.dumps({**copied, "client_id": str(key), "taken_at": reading.taken_at.isoformat()})
    )


def _keep_row(db: Session, row: str) -> Kept:
    found = db.execute(text(_KEEP.replace("%s", "CAST(:row AS text)")), {"row": row})
    told, *rest = found.one()
    return Kept(Told(told), *rest)


def keep_many(db: Session, new: Sequence[NewReading], lengths: Mapping[int, float] = {}) -> None:
    """Keep readings that the record does not know, together; the caller commits.

    ``lengths`` are the edge lengths of sheets, mm, where they are not to be taken from the
    readings or from what the sheets hold. Refused where the shop has no instrument in use for one.
    """
    usual: dict[str, int | None] = {}
    for reading in new:
        q = reading.taken.quantity
        if reading.needs_usual and q.key not in usual:
            usual[q.key] = usual_instrument(db, q)
            if usual[q.key] is None:
                raise InvalidValue("instrument", q.instrument.label, "an instrument in use")
    sheets = {reading.sheet_id for reading in new}
    numbers = Counter(incoming.replicates(db, sheets))
    edges = _edge_lengths(db, new) | dict(lengths)
    rows = []
    for reading in new:
        taken, q = reading.taken, reading.taken.quantity
        numbers[reading.sheet_id, q.key] += 1
        along = taken.along_mm
        if along is None:
            along = station_mm(taken.at, edges.get(reading.sheet_id))
        rows.append(
            (
                taken.key,
                reading.sheet_id,
                q.key,
                taken.typed.text[:64],
                taken.typed.value,
                taken.typed.unit,
                taken.typed.base_value,
                q.unit,
                usual[q.key] if reading.needs_usual else reading.instrument_id,
                taken.method,
                taken.at,
                along,
                taken.above_edge_mm,
                reading.reference_id,
                numbers[reading.sheet_id, q.key],
                taken.unusual,
                taken.own_u,
                taken.typed.kind.value,
                taken.typed_step,
                taken.note,
                taken.photo_id,
                taken.taken_at,
                reading.person_id,
                *([reading.recorded_at] if reading.recorded_at else []),
            )
        )
    incoming.copy_readings(db, rows)


def _edge_lengths(db: Session, new: Sequence[NewReading]) -> dict[int, float]:
    """Edge length of each sheet, mm: the mean of what comes in, or else of what it holds."""
    coming: dict[int, list[float]] = defaultdict(list)
    for reading in new:
        if reading.taken.quantity.key == "edge_length":
            coming[reading.sheet_id].append(reading.taken.typed.base_value)
    others = {reading.sheet_id for reading in new} - coming.keys()
    means = {sheet: fmean(lengths) for sheet, lengths in coming.items()}
    return incoming.edge_lengths(db, others) | means


class ReadingStore:
    """Stores readings on its own connections within the event loop, without waiting for a thread.

    It remembers of which type the knife of a sheet is: a sheet never changes its piece, nor a model
    its type, so what is remembered stays true.
    """

    def __init__(self, engine: Engine) -> None:
        self._address = driver_address(engine.url)
        self._types: dict[int, str] = {}

    async def open(self) -> None:
        """Make ready in the event loop that runs; connections are made when they are needed."""
        self._pool = AsyncConnectionPool(
            self._address,
            kwargs={"autocommit": True, **REQUESTS.as_options()},
            min_size=0,
            max_size=MOST_CONNECTIONS,
            timeout=POOL_TIMEOUT_S,
            open=False,
        )
        await self._pool.open()

    async def close(self) -> None:
        await self._pool.close()

    async def knife_type(self, sheet_id: int) -> str | None:
        """Type of the knife of a sheet, or None where there is no such sheet."""
        found = self._types.get(sheet_id)
        if found is None:
            row = await self._row(_TYPE_OF, sheet_id)
            if row is not None:
                if len(self._types) >= KNOWN_SHEETS:
                    self._types.clear()
                found = self._types[sheet_id] = row[0]
        return found

    async def keep(self, new: NewReading) -> Kept:
        """Keep a reading, committed; the same key is kept once."""
        told, *rest = await self._row(_KEEP, new.as_json()) or (Told.NO_SHEET, 0, 0, 0)
        return Kept(Told(told), *rest)

    async def _row(self, query: LiteralString, given: object) -> tuple[Any, ...] | None:
        try:
            return await self._ask(query, given)
        except PoolTimeout:
            raise
        except OperationalError:  # a connection that died unseen; asking again is harmless
            await self._pool.check()
            return await self._ask(query, given)

    async def _ask(self, query: LiteralString, given: object) -> tuple[Any, ...] | None:
        async with self._pool.connection() as connection:
            return await (await connection.execute(query, (given,))).fetchone()

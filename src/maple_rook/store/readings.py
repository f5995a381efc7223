"""The one hot path of the record: a reading, kept once, in a single step of the database.

A person waits between key press and stored reading. The function ``keep_reading`` (revision 0015)
locks the sheet, looks whether the reading is known, numbers the repeat, finds the instrument where
none is named and inserts, in one round trip that commits by itself; it is called on the driver's
own cursor.
"""

from __future__ import annotations

import json
from contextlib import closing
from enum import StrEnum
from typing import Any, NamedTuple

from psycopg import OperationalError
from sqlalchemy import Engine, select, text
from sqlalchemy.orm import Session

from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.quantities import kinds_for
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.store.database import connect
from maple_rook.store.tables import Instrument

KNOWN_SHEETS = 10_000
_KEEP = "SELECT told, id, sheet_id, replicate FROM keep_reading(%s::jsonb)"
_TYPE_OF = text("""
    SELECT m.knife_type FROM sheets s
      JOIN pieces p ON p.id = s.piece_id JOIN knife_models m ON m.id = p.model_id
     WHERE s.id = :sheet_id
""")


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


class ReadingStore:
    """Keeps readings on an engine, and remembers of which type the knife of a sheet is.

    A sheet never changes its piece, nor a model its type, so what is remembered stays true.
    """

    def __init__(self, engine: Engine) -> None:
        self._engine = connect(engine.url, autocommit=True)
        self._types: dict[int, str] = {}

    def close(self) -> None:
        self._engine.dispose()

    def knife_type(self, sheet_id: int) -> str | None:
        """Type of the knife of a sheet, or None where there is no such sheet."""
        found = self._types.get(sheet_id)
        if found is None:
            with self._engine.connect() as connection:
                found = connection.scalar(_TYPE_OF, {"sheet_id": sheet_id})
            if found is not None:
                if len(self._types) >= KNOWN_SHEETS:
                    self._types.clear()
                self._types[sheet_id] = found
        return found

    def keep(self, row: dict[str, Any]) -> Kept:
        """Keep a reading given by column names; the same ``client_id`` is kept once.

        Without an ``instrument_id`` the :func:`usual instrument <usual_instrument>` of ``kinds``
        and ``resolution`` is taken. ``share`` and ``offset_mm`` place a station along the edge.
        """
        try:
            return self._keep(row)
        except OperationalError:  # a connection that died unseen; sending again is harmless
            self._engine.dispose()
            return self._keep(row)

    def _keep(self, row: dict[str, Any]) -> Kept:
        with closing(self._engine.raw_connection()) as connection:
            cursor = connection.cursor()
            cursor.execute(_KEEP, (json.dumps(row),))
            told, *rest = cursor.fetchone() or (Told.NO_SHEET, 0, 0, 0)
        return Kept(Told(told), *rest)

"""The one hot path of the record: a reading, kept once, in a single step of the database.

A person waits between key press and stored reading. The function ``keep_reading`` (revision 0002)
locks the sheet, looks whether the reading is known, numbers the repeat and inserts, in one round
trip that commits by itself; it is called on the driver's own cursor.
"""

from __future__ import annotations

import json
from contextlib import closing
from enum import StrEnum
from typing import Any, NamedTuple

from psycopg import OperationalError
from sqlalchemy import Engine, text

from maple_rook.store.database import connect

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


class Kept(NamedTuple):
    told: Told
    id: int
    sheet_id: int
    replicate: int


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

        Without an ``instrument_id`` the shop's usual instrument of ``kind`` is taken, of
        ``resolution`` if there is one. ``share`` and ``offset_mm`` place a station along the edge.
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

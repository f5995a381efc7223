"""Reads of the catalogue from a streaming replica, as long as it answers and is not behind."""

from __future__ import annotations

import threading
import time

import structlog
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

MOST_BEHIND_S = 30.0
LOOKED_AT_EVERY_S = 5.0
_BEHIND = text("""
    SELECT NOT pg_is_in_recovery() OR pg_last_wal_receive_lsn() = pg_last_wal_replay_lsn()
        OR extract(epoch FROM now() - pg_last_xact_replay_timestamp()) <= :most
""")
"""A replica that has replayed all it received is not behind, however long nothing was written."""
log = structlog.get_logger()


class Reads:
    """Opens sessions for reading: on the replica where it is fit for it, else on the primary."""

    def __init__(
        self, primary: sessionmaker[Session], replica: sessionmaker[Session] | None = None
    ) -> None:
        self._primary, self._replica = primary, replica
        self._fit, self._until = False, 0.0
        self._lock = threading.Lock()

    def opener(self) -> sessionmaker[Session]:
        if self._replica is None:
            return self._primary
        return self._replica if self._is_fit(self._replica) else self._primary

    def _is_fit(self, replica: sessionmaker[Session]) -> bool:
        """Whether it answers and is not behind, looked at every :data:`LOOKED_AT_EVERY_S`."""
        with self._lock:
            if time.monotonic() < self._until:
                return self._fit
            was = self._fit
            try:
                with replica() as session:
                    self._fit = bool(session.scalar(_BEHIND, {"most": MOST_BEHIND_S}))
            except DBAPIError:
                self._fit = False
            if was != self._fit:
                log.warning("reads of the catalogue", replica="fit" if self._fit else "passed over")
            self._until = time.monotonic() + LOOKED_AT_EVERY_S
            return self._fit

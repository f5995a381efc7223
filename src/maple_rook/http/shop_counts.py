"""What an operator watches of a shop: its queue, its shelf, its backups, its size."""

from __future__ import annotations

import time
from collections.abc import Iterable
from pathlib import Path

from prometheus_client import CollectorRegistry, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.metrics_core import Metric
from prometheus_client.registry import Collector
from sqlalchemy import text
from sqlalchemy.orm import Session

from maple_rook import backup

_QUEUE = text(
    "SELECT status::text, count(*), coalesce(extract(epoch FROM now() - min(e.at)), 0)"
    " FROM jobs.procrastinate_jobs j LEFT JOIN jobs.procrastinate_events e"
    " ON e.job_id = j.id AND e.type = 'deferred'"
    " WHERE status IN ('todo', 'doing') GROUP BY status"
)
_BEHIND = text("SELECT count(DISTINCT piece_id) FROM shelf_stale")
_SET_ASIDE = text("SELECT count(*) FROM shelf_quarantine")
_BYTES = text("SELECT pg_database_size(current_database())")


class ShopCounts(Collector):
    """The shop's figures as they are when they are asked for; the same from every process."""

    def __init__(self, db: Session, backups: Path) -> None:
        self._db, self._backups = db, backups

    def collect(self) -> Iterable[Metric]:
        waiting = GaugeMetricFamily(
            "maple_rook_tasks", "Tasks of the queue by state.", labels=["state"]
        )
        oldest = GaugeMetricFamily(
            "maple_rook_task_oldest_seconds",
            "Age of the oldest task in a state.",
            labels=["state"],
        )
        found = {status: (count, age) for status, count, age in self._db.execute(_QUEUE)}
        for state, name in (("todo", "waiting"), ("doing", "running")):
            count, age = found.get(state, (0, 0.0))
            waiting.add_metric([name], count)
            oldest.add_metric([name], float(age))
        yield waiting
        yield oldest
        for name, about, query in (
            ("shelf_behind_pieces", "Pieces of the shelf that wait to be calculated.", _BEHIND),
            ("shelf_set_aside_pieces", "Pieces that cannot be calculated.", _SET_ASIDE),
            ("database_bytes", "Size of the shop's database.", _BYTES),
        ):
            value = float(self._db.scalar(query) or 0)
            yield GaugeMetricFamily(f"maple_rook_{name}", about, value=value)
        newest = backup.newest(self._backups)
        if newest is not None:
            age_s = max(0.0, time.time() - backup.written_at(newest).timestamp())
            about = "Age of the newest backup in the home; not there where there is none."
            yield GaugeMetricFamily("maple_rook_backup_age_seconds", about, value=age_s)


def shop_counts(db: Session, backups: Path) -> bytes:
    """The shop's figures in the text format of Prometheus."""
    registry = CollectorRegistry()
    registry.register(ShopCounts(db, backups))
    return generate_latest(registry)

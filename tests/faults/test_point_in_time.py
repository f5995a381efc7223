"""A drill: a wrong import, and back to the minute before it."""

from __future__ import annotations

import datetime as dt
import time
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from maple_rook.cluster import Cluster, temporary_cluster
from maple_rook.point_in_time import NotRecovered, base_backup, recover
from maple_rook.store.database import connect
from shops import given, new_shop, run, shop_api


@pytest.fixture
def cluster() -> Iterator[Cluster]:
    """A cluster that archives its log, and writes as a real one."""
    with temporary_cluster(durable=True, archives_wal=True) as cluster:
        yield cluster


def brought_in(cluster: Cluster, name: str, rows: int, nowhere: Path) -> None:
    """A list of pieces imported into the shop."""
    engine = connect(cluster.url("shop_of_the_drill"))
    lines = (f"{name}-{n},Kesterby,Harbour,gyuto,210,{180 + n}" for n in range(rows))
    with shop_api(engine, nowhere) as api:
        found = given(api, "tag,maker,line,type,size,weight g\n" + "\n".join(lines))
        assert run(api, found)["added"]["pieces"] == rows
    engine.dispose()


def counted(cluster: Cluster) -> tuple[int, int]:
    with psycopg.connect(cluster.address("shop_of_the_drill")) as db:
        row = db.execute("SELECT (SELECT count(*) FROM pieces), (SELECT count(*) FROM readings)")
        pieces, readings = row.fetchone() or (0, 0)
        return pieces, readings


def moment(cluster: Cluster) -> dt.datetime:
    """A moment by the database's clock, with nothing committed shortly before or after."""
    time.sleep(0.2)
    with psycopg.connect(cluster.address()) as db:
        row = db.execute("SELECT clock_timestamp()").fetchone()
    time.sleep(0.2)
    assert row
    found: dt.datetime = row[0]
    return found


def test_back_to_the_minute_before_a_wrong_import(cluster: Cluster, tmp_path: Path) -> None:
    new_shop(cluster, name="shop_of_the_drill")
    bases = cluster.root.parent / "bases"
    base = base_backup(cluster, bases)
    brought_in(cluster, "RIGHT", 3, tmp_path)
    before, then = counted(cluster), moment(cluster)
    brought_in(cluster, "WRONG", 5, tmp_path)
    assert counted(cluster) == (8, 8)
    with pytest.raises(NotRecovered, match="still runs"):
        recover(cluster, base, then)
    cluster.stop()
    aside = recover(cluster, base, then)
    assert counted(cluster) == before == (3, 3)
    assert (aside / "PG_VERSION").exists()
    # the shop goes on from there, is backed up again, and can go back once more
    brought_in(cluster, "LATER", 2, tmp_path)
    again, later = counted(cluster), moment(cluster)
    newer = base_backup(cluster, bases, keep=1)
    assert list(bases.iterdir()) == [newer]
    brought_in(cluster, "WORSE", 1, tmp_path)
    cluster.stop()
    with pytest.raises(NotRecovered, match="take an earlier one"):
        recover(cluster, newer, later)  # it was made after that moment
    now = dt.datetime.now(dt.UTC)
    with pytest.raises(NotRecovered, match="yet to come"):
        recover(cluster, newer, now + dt.timedelta(hours=1))
    for segment in (cluster.wal_archive or tmp_path).iterdir():
        segment.rename(segment.with_suffix(".lost"))
    with pytest.raises(NotRecovered, match="all is as it was"):
        recover(cluster, newer, now)  # nothing leads there any more
    cluster.start()
    assert counted(cluster) == (again[0] + 1, again[1] + 1)


def test_without_an_archive_or_a_base_nothing_is_touched(cluster: Cluster, tmp_path: Path) -> None:
    cluster.stop()
    before = sorted(path.name for path in cluster.data.iterdir())
    with pytest.raises(NotRecovered, match="is no base backup"):
        recover(cluster, tmp_path, dt.datetime.now(dt.UTC))
    with pytest.raises(NotRecovered, match="MAPLE_ROOK_WAL_ARCHIVE"):
        base_backup(Cluster(cluster.root), tmp_path)
    assert sorted(path.name for path in cluster.data.iterdir()) == before

"""A managed cluster whose primary is killed ten times: how long no write is confirmed."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from pathlib import Path
from statistics import median

from managed_cluster import POSTGRESQL_ALONE, WHOLE_MACHINE, kill_primary, managed_cluster
from shop_under_fire import Benches, KeyedShop

from benchmarks.rows import Row

BENCHES = 20
KILLS = (POSTGRESQL_ALONE, WHOLE_MACHINE) * 5


def rows() -> Iterator[Row]:
    """A row a kill; the benches' account is checked at the end, reading by reading."""
    with (
        managed_cluster() as cluster,
        tempfile.TemporaryDirectory(prefix="rook-bench-") as home,
    ):
        shop = KeyedShop(cluster.url(), Path(home))
        shop.start()
        try:
            benches = Benches(shop, BENCHES)
            refused = []
            for number, what in enumerate(KILLS, 1):
                kill = kill_primary(cluster, benches, what)
                refused.append(kill.refused_s)
                yield Row(
                    f"Kill {number}: {kill.what}, no write confirmed",
                    kill.refused_s,
                    "s",
                    note=f"two nodes again after {kill.whole_s:.1f} s",
                )
            benches.stop()
        finally:
            shop.kill()
        benches.check()
        confirmed = len(benches.all_confirmed())
        yield Row(
            f"{confirmed:,} readings confirmed by {BENCHES} benches, none lost or doubled; median",
            median(refused),
            "s",
        )

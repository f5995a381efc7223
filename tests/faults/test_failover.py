"""The primary of a managed cluster killed while benches write: nothing confirmed is lost."""

from __future__ import annotations

from pathlib import Path

from managed_cluster import (
    POSTGRESQL_ALONE,
    WHOLE_MACHINE,
    kill_primary,
    managed_cluster,
)
from shop_under_fire import Benches, KeyedShop

from maple_rook import front_end

BENCHES = 20


def test_another_node_goes_on_with_all_that_was_confirmed(tmp_path: Path) -> None:
    """One kill of each kind; ``./rook bench failover`` has ten, and their seconds."""
    front_end.ensure_built(lambda _: None)
    with managed_cluster() as cluster:
        shop = KeyedShop(cluster.url(), tmp_path)
        shop.start()
        try:
            benches = Benches(shop, BENCHES)
            first = cluster.primary()
            kill_primary(cluster, benches, POSTGRESQL_ALONE)
            assert cluster.primary() is not first
            kill_primary(cluster, benches, WHOLE_MACHINE)
            benches.stop()
        finally:
            shop.kill()
        assert cluster.primary() is first  # the one that was killed first came back and leads again
        benches.check()
        assert len(benches.all_confirmed()) > 10 * BENCHES

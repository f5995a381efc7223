"""Clusters that write to the disk as a shop's own does."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from shop_under_fire import ServedShop

from maple_rook import front_end
from maple_rook.cluster import temporary_cluster


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[ServedShop]:
    front_end.ensure_built(lambda _: None)
    with temporary_cluster(durable=True) as cluster:
        served = ServedShop(cluster, tmp_path)
        yield served
        served.kill()

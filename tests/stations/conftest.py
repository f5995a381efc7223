"""A home and a database of its own for each test that runs the application as a command."""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest

from maple_rook.cluster import Cluster, free_port
from maple_rook.settings import PROJECT_ROOT


@pytest.fixture
def environment(cluster: Cluster, tmp_path: Path) -> dict[str, str]:
    """A home of its own and a database of the tests' cluster."""
    name = f"commands_{time.time_ns()}"
    cluster.ensure_database(name)
    return {
        **os.environ,
        "MAPLE_ROOK_DATABASE_URL": cluster.url(name),
        "MAPLE_ROOK_HOME": str(tmp_path),
        "MAPLE_ROOK_PORT": str(free_port()),
        "PYTHONPATH": str(PROJECT_ROOT / "src"),
    }

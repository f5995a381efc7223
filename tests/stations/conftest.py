"""Homes and databases for commands, and the simulated instruments on their lines."""

from __future__ import annotations

import os
import uuid
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from bench_line import Line, until
from maple_rook.cluster import Cluster, free_port
from maple_rook.settings import PROJECT_ROOT


@pytest.fixture
def environment(cluster: Cluster, tmp_path: Path) -> dict[str, str]:
    """A home of its own and a database of the tests' cluster."""
    name = f"commands_{uuid.uuid4().hex}"
    cluster.ensure_database(name)
    return {
        **os.environ,
        "MAPLE_ROOK_DATABASE_URL": cluster.url(name),
        "MAPLE_ROOK_HOME": str(tmp_path),
        "MAPLE_ROOK_PORT": str(free_port()),
        "PYTHONPATH": str(PROJECT_ROOT / "src"),
    }


@pytest.fixture(scope="module")
def line() -> Iterator[Line]:
    with Line() as listening:
        yield listening


@pytest.fixture(scope="module")
def on_line(api: TestClient, line: Line) -> Iterator[dict[str, int]]:
    """Each kind's instrument entered with its address, and ready; retired afterwards."""
    entered: dict[str, tuple[int, dict[str, object]]] = {}
    for kind, address in line.addresses.items():
        body: dict[str, object] = {
            "name": f"{kind} {uuid.uuid4().hex[:5]}",
            "kind": kind,
            "resolution": 0.01,
            "mpe": 0.03,
            "address": address,
        }
        made = api.post("/api/instruments", json=body)
        assert made.status_code == 201, made.text
        entered[kind] = (made.json()["id"], body)
    numbers = {kind: number for kind, (number, _) in entered.items()}

    def ready() -> bool:
        shown = {i["id"]: i["state"] for i in api.get("/api/instruments").json()}
        return all(shown[number] == "ready" for number in numbers.values())

    until(ready)
    yield numbers
    for number, body in entered.values():
        api.put(f"/api/instruments/{number}", json={**body, "retired": True})

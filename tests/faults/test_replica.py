"""A streaming replica on loopback: it serves the catalogue while the primary takes writes."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text
from sqlalchemy.exc import InternalError

from bench_line import until
from maple_rook.app import create_app
from maple_rook.cluster import Cluster, temporary_cluster
from maple_rook.settings import Settings
from maple_rook.store.database import connect
from shops import new_shop
from signed_in import bearing, key_of


@pytest.fixture(scope="module")
def pair() -> Iterator[tuple[Cluster, Cluster]]:
    """The demo shop on a primary, and its replica."""
    with temporary_cluster() as primary:
        new_shop(primary, demo=True, name="shop")
        replica = primary.replicate(primary.root.parent / "replica")
        yield primary, replica
        replica.stop()


@contextmanager
def api(pair: tuple[Cluster, Cluster], nowhere: Path) -> Iterator[tuple[TestClient, Engine]]:
    primary, replica = pair
    engine = connect(primary.url("shop"))
    settings = Settings(web_root=nowhere, replica_url=replica.url("shop"))
    with TestClient(create_app(settings, engine), raise_server_exceptions=False) as client:
        bearing(client, key_of(engine))
        yield client, engine


def scans(cluster: Cluster) -> int:
    """How often anything was read from the readings there."""
    engine = connect(cluster.url("shop"))
    with engine.connect() as connection:
        connection.execute(text("SELECT pg_stat_clear_snapshot()"))
        query = (
            "SELECT seq_scan + coalesce(idx_scan, 0) FROM pg_stat_user_tables WHERE relname = :t"
        )
        found = int(connection.scalar(text(query), {"t": "readings"}) or 0)
    engine.dispose()
    return found


def test_the_catalogue_comes_from_the_replica_and_writes_go_to_the_primary(
    pair: tuple[Cluster, Cluster], tmp_path: Path
) -> None:
    primary, replica = pair
    with api(pair, tmp_path) as (client, _):
        before = scans(replica)
        until(lambda: client.get("/api/rack").json()["behind"] == 0)
        total = client.get("/api/rack").json()["total"]
        assert total > 0
        until(lambda: scans(replica) > before)  # it was the replica that was read
        tag = f"R-{uuid.uuid4().hex[:6]}"
        made = client.post("/api/bench/pieces", json={"tag": tag, "model_id": 1})
        assert made.status_code == 201
        sheet = made.json()["id"]
        body = {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}
        assert client.post(f"/api/bench/sheets/{sheet}/readings", json=body).status_code == 201
        assert client.get(f"/api/bench/sheets/{sheet}").json()["figures"]["weight"]["n"] == 1
        until(lambda: client.get("/api/rack").json()["total"] == total + 1)
        assert client.get(f"/api/v1/pieces/{tag}").json()["figures"][0]["key"] == "weight"
    engine = connect(replica.url("shop"))
    with engine.connect() as connection, pytest.raises(InternalError, match="read-only"):
        connection.execute(text("UPDATE shop SET name = 'x'"))
    engine.dispose()
    assert primary.running


def test_without_its_replica_the_shop_goes_on(
    pair: tuple[Cluster, Cluster], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("maple_rook.store.replica.LOOKED_AT_EVERY_S", 0.0)
    _, replica = pair
    with api(pair, tmp_path) as (client, _):
        assert client.get("/api/rack").status_code == 200
        replica.stop()
        until(lambda: client.get("/api/rack").status_code == 200)
        assert client.get("/api/rack").status_code == 200
        replica.start()
        before = scans(replica)
        until(lambda: client.get("/api/v1/readings").is_success and scans(replica) > before)

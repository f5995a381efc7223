"""Disk full, no connection free: said clearly, and over as soon as the cause is."""

from __future__ import annotations

import contextlib
import subprocess
import tempfile
import uuid
from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text

from maple_rook.cluster import Cluster
from maple_rook.http import authentication
from maple_rook.server import prepare
from maple_rook.store.database import connect
from shops import shop_api

DISK_MB, ENOUGH = 160, 3_000


@pytest.fixture
def small_disk() -> Iterator[Path]:
    """A disk of its own, of few megabytes; root alone may mount one."""
    root = Path(tempfile.mkdtemp(prefix="maple-rook-disk-"))
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", str(root)],
        check=False,
        capture_output=True,
    )
    if mounted.returncode != 0:
        pytest.skip(f"no disk of its own can be mounted here: {mounted.stderr.decode().strip()}")
    root.chmod(0o755)
    yield root
    subprocess.run(["umount", "--lazy", str(root)], check=False)
    root.rmdir()


@contextlib.contextmanager
def filled(disk: Path) -> Iterator[None]:
    """Not a byte left on it."""
    filler = disk / "filler"
    with filler.open("wb", buffering=0) as file, contextlib.suppress(OSError):
        while True:
            file.write(b"\0" * 4096)
    try:
        yield
    finally:
        filler.unlink()


def reading() -> dict[str, str]:
    return {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186 g"}


def test_a_full_disk_is_said_and_work_goes_on_once_there_is_room(
    small_disk: Path, tmp_path: Path
) -> None:
    cluster = Cluster(small_disk / "cluster")
    cluster.start()
    try:
        cluster.ensure_database("shop")
        engine = connect(cluster.url("shop"))
        prepare(engine, is_demo=False, say=lambda _: None)
        with shop_api(engine, tmp_path) as api:
            model = {"maker": "Test", "line": "One", "knife_type": "gyuto", "nominal": "210"}
            sheet = api.post("/api/bench/pieces", json={"tag": "D", "model": model}).json()["id"]
            path = f"/api/bench/sheets/{sheet}/readings"
            confirmed, refused = [], None
            with filled(small_disk):
                for _ in range(ENOUGH):
                    body = reading()
                    answer = api.post(path, json=body)
                    if answer.status_code != 201:
                        refused = answer
                        break
                    confirmed.append(body["client_id"])
                assert refused is not None, "the disk never filled"
                assert refused.status_code == 503
                assert "disk" in refused.json()["detail"]
                assert "Nothing was stored" in refused.json()["detail"]
                assert api.get(f"/api/bench/sheets/{sheet}").status_code == 200  # reading goes on
            again = api.post(path, json=body)
            assert again.status_code == 201, again.text
            confirmed.append(body["client_id"])
            with engine.connect() as connection:
                found = connection.scalars(text("SELECT client_id::text FROM readings")).all()
            assert sorted(found) == sorted(confirmed)
        engine.dispose()
    finally:
        cluster.stop()


def test_without_a_free_connection_the_shop_waits_and_the_bench_goes_on(
    api: TestClient, engine: Engine, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(authentication, "KNOWN_FOR_S", 600.0)  # however slow the machine is
    sheet = api.post("/api/bench/pieces/1/sheets").json()["id"]
    path = f"/api/bench/sheets/{sheet}/readings"
    assert api.post(path, json=reading()).status_code == 201
    engine = api.app.state.sessions.kw["bind"]  # type: ignore[attr-defined]
    monkeypatch.setattr(engine.pool, "_timeout", 0.3)
    with ExitStack() as taken:
        for _ in range(engine.pool.size() + engine.pool._max_overflow):  # type: ignore[attr-defined]
            taken.enter_context(engine.connect())
        refused = api.get("/api/pieces/1")
        assert refused.status_code == 503
        assert "busy" in refused.json()["detail"]
        assert refused.headers["retry-after"]
        assert api.post(path, json=reading()).status_code == 201  # readings have their own
        assert api.get("/api/health/alive").status_code == 200
        assert api.get("/api/health/ready").status_code == 503
    assert api.get("/api/pieces/1").status_code == 200
    assert api.get("/api/health/ready").status_code == 200

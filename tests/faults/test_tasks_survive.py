"""Two processes serve one shop, and a task outlives the process that was doing it."""

from __future__ import annotations

import contextlib
import time
from collections.abc import Iterator
from pathlib import Path

import httpx2 as httpx
import psutil
import psycopg
import pytest
from shop_under_fire import ServedShop

from maple_rook import front_end
from maple_rook.cluster import temporary_cluster
from maple_rook.store.database import driver_address

ROWS = 20_000


@pytest.fixture
def two(tmp_path: Path) -> Iterator[tuple[ServedShop, ServedShop]]:
    front_end.ensure_built(lambda _: None)
    with temporary_cluster() as cluster:
        first, second = (ServedShop(cluster, tmp_path / str(n)) for n in range(2))
        yield first, second
        for server in (first, second):
            server.kill()


def client(server: ServedShop) -> httpx.Client:
    headers = {"Authorization": f"Bearer {server.key}", "If-Match": "*"}
    return httpx.Client(base_url=f"http://127.0.0.1:{server.port}", headers=headers, timeout=30)


def test_a_job_outlives_the_process_that_did_it(two: tuple[ServedShop, ServedShop]) -> None:
    first, second = two
    lines = (f"J-{n},Kesterby,Harbour,gyuto,210,{180 + n % 20}" for n in range(ROWS))
    text = "tag,maker,line,type,size,weight g\n" + "\n".join(lines)
    with client(first) as one, client(second) as other:
        given = one.post("/api/imports", params={"name": "many.csv"}, content=text).json()
        # what one process received the other knows
        assert other.get(f"/api/imports/{given['id']}").json()["tables"] == given["tables"]
        columns = [{"field": c["field"], "unit": c["unit"]} for c in given["tables"][0]["columns"]]
        asked = {
            "source": "s",
            "measured_on": "2026-11-20",
            "for_good": True,
            "tables": [{"kind": "pieces", "origin": "ours", "columns": columns}],
        }
        assert one.post(f"/api/imports/{given['id']}/run", json=asked).status_code == 202
        working = None
        deadline = time.monotonic() + 60
        while working is None and time.monotonic() < deadline:
            done = other.get(f"/api/imports/{given['id']}").json()["done"]
            if done:
                [[pid]] = first.rows(
                    "SELECT w.id FROM jobs.procrastinate_workers w JOIN jobs.procrastinate_jobs j"
                    " ON j.worker_id = w.id WHERE j.status = 'doing'"
                )
                working = pid
        assert working is not None, "it never began"
        doing, left = whose(two, int(str(working)))
        doing.kill()
        # autovacuum may look at the tables now, where nothing of what was written is left
        with psycopg.connect(driver_address(left.url), autocommit=True) as database:
            database.execute("ANALYZE")
        with client(left) as still:
            deadline = time.monotonic() + 300
            while (now := still.get(f"/api/imports/{given['id']}").json())["state"] == "running":
                assert time.monotonic() < deadline, now
                time.sleep(0.5)
            assert (now["state"], now["added"]["pieces"]) == ("brought in", ROWS)
    counts = "SELECT (SELECT count(*) FROM pieces), (SELECT count(*) FROM readings)"
    assert left.rows(counts) == [(ROWS, ROWS)]


def whose(two: tuple[ServedShop, ServedShop], worker: int) -> tuple[ServedShop, ServedShop]:
    """The server whose worker it is, and the other: workers are numbered as they start."""
    first, second = two
    [[lowest]] = first.rows("SELECT min(id) FROM jobs.procrastinate_workers")
    return (first, second) if worker == lowest else (second, first)


def test_a_bench_at_one_process_hears_what_another_stored(
    two: tuple[ServedShop, ServedShop],
) -> None:
    first, second = two
    model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
    with client(first) as one, client(second) as other:
        sheet = one.post("/api/bench/pieces", json={"tag": "T", "model": model}).json()["id"]
        with other.stream("GET", "/api/instruments/events") as heard:
            lines = heard.iter_lines()
            body = {
                "client_id": "6f0d2f52-5c0e-4a5e-9f62-2c9a8f0b7a12",
                "quantity": "weight",
                "typed": "186 g",
            }
            stored = one.post(f"/api/bench/sheets/{sheet}/readings", json=body)
            assert stored.status_code == 201
            told = next(line for line in lines if line.startswith("data:") and "sheet" in line)
        assert f'"sheet_id":{sheet}' in told.replace(" ", "")
        # and the same reading sent to the other process is known there
        again = other.post(f"/api/bench/sheets/{sheet}/readings", json=body)
        assert again.json()["id"] == stored.json()["id"]


def test_one_address_is_served_by_several_processes_and_one_may_die(tmp_path: Path) -> None:
    front_end.ensure_built(lambda _: None)
    with temporary_cluster() as cluster:
        shop = ServedShop(cluster, tmp_path, workers=2)
        try:
            serving = _serving(shop)
            assert len(serving) == 2
            before = _counted(shop)
            for _ in range(20):
                with client(shop) as asking:  # each on a connection of its own: either may answer
                    assert asking.get("/api/health/ready").status_code == 200
            assert _counted(shop) == before + 20
            serving[0].kill()
            deadline = time.monotonic() + 60
            while len(now := _serving(shop)) < 2 or serving[0] in now:
                assert time.monotonic() < deadline, "it was not started again"
                with client(shop) as asking:
                    assert asking.get("/api/rack").status_code == 200  # the other goes on
                time.sleep(0.5)
        finally:
            shop.kill()


def _counted(shop: ServedShop) -> int:
    """How often all processes together say that they were ready."""
    with client(shop) as asking:
        lines = asking.get("/api/metrics").text
    said = 'maple_rook_requests_total{action="health_ready",status="200"}'
    return int(float(next(x for x in lines.splitlines() if x.startswith(said)).split()[1]))


def _serving(shop: ServedShop) -> list[psutil.Process]:
    return [p for p in psutil.Process(shop.pid).children() if _serves(p)]


def _serves(process: psutil.Process) -> bool:
    with contextlib.suppress(psutil.Error):  # it may have just ended
        return "spawn_main" in " ".join(process.cmdline())
    return False

"""Two processes serve one shop, and a job outlives the process that was doing it."""

from __future__ import annotations

import time
from collections.abc import Iterator
from pathlib import Path

import httpx2 as httpx
import pytest
from shop_under_fire import ServedShop

from maple_rook import front_end
from maple_rook.cluster import temporary_cluster

ROWS = 20_000


@pytest.fixture
def two(tmp_path: Path) -> Iterator[tuple[ServedShop, ServedShop]]:
    front_end.ensure_built(lambda _: None)
    with temporary_cluster() as cluster:
        first, second = (ServedShop(cluster, tmp_path / str(n)) for n in range(2))
        yield first, second
        for server in (first, second):
            server.kill_server()


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
        asked = {"source": "s", "measured_on": "2026-11-20", "for_good": True,
                 "tables": [{"kind": "pieces", "columns": columns}]}  # fmt: skip
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
        doing.kill_server()
        with client(left) as still:
            deadline = time.monotonic() + 120
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

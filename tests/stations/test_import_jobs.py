"""Files that wait: progress while one is worked on, stopping it, a shop that goes on working."""

from __future__ import annotations

import io
import json
import shutil
import threading
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from maple_rook.stations.exchange import importing, row_import
from shops import TODAY, given, run, shop_api, shop_engine

ROWS = 9_000


@pytest.fixture(scope="module")
def shop(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path_factory.mktemp("w")) as client:
        yield client


@pytest.fixture
def held(monkeypatch: pytest.MonkeyPatch) -> Iterator[threading.Semaphore]:
    """Every chunk of rows waits for leave."""
    leave = threading.Semaphore(0)
    keep = row_import._keep

    def waiting(*arguments: object) -> None:
        assert leave.acquire(timeout=120)
        keep(*arguments)  # type: ignore[arg-type]

    monkeypatch.setattr(row_import, "_keep", waiting)
    yield leave
    leave.release(100)


def many(prefix: str, rows: int = ROWS) -> str:
    lines = (f"{prefix}-{i},Kesterby,Harbour,gyuto,210,{180 + i % 20}" for i in range(rows))
    return "tag,maker,line,type,size,weight g\n" + "\n".join(lines)


def begun(api: TestClient, found: dict, *, for_good: bool) -> None:
    columns = [{"field": c["field"], "unit": c["unit"]} for c in found["tables"][0]["columns"]]
    body = {
        "source": "many",
        "measured_on": TODAY,
        "for_good": for_good,
        "tables": [{"kind": "pieces", "origin": "ours", "columns": columns}],
    }
    answer = api.post(f"/api/imports/{found['id']}/run", json=body)
    assert (answer.status_code, answer.json()["state"]) == (202, "running")


def until(api: TestClient, key: str, **expected: object) -> dict:
    for _ in range(600):
        now = api.get(f"/api/imports/{key}").json()
        if all(now[name] == value for name, value in expected.items()):
            return now
        time.sleep(0.02)
    raise AssertionError(f"never {expected}: {now['state']}, {now['done']} done")


def pieces(api: TestClient) -> int:
    return api.get("/api/v1/pieces", params={"limit": 1}).json()["total"]


def test_rows_done_are_counted_while_the_shop_goes_on_and_stopping_keeps_none(
    shop: TestClient, held: threading.Semaphore
) -> None:
    before = pieces(shop)
    found = given(shop, many("S"))
    begun(shop, found, for_good=True)
    held.release()
    until(shop, found["id"], done=row_import.CHUNK)
    held.release()
    until(shop, found["id"], done=2 * row_import.CHUNK, state="running")
    body = {"source": "many", "measured_on": TODAY, "tables": [{"kind": None, "columns": []}]}
    assert shop.post(f"/api/imports/{found['id']}/run", json=body).status_code == 409
    model = {"maker": "Tansley", "line": "Meanwhile", "knife_type": "petty", "nominal": "150"}
    entered = shop.post("/api/bench/pieces", json={"tag": "DURING", "model": model})
    assert entered.status_code == 201
    assert shop.delete(f"/api/imports/{found['id']}").status_code == 204
    held.release(9)
    stopped = until(shop, found["id"], state="stopped")
    assert stopped["problem"] == "Stopped; nothing from the file was imported."
    assert pieces(shop) == before + 1


def test_a_stopped_file_can_be_taken_up_again(shop: TestClient) -> None:
    found = given(shop, many("T", 40))
    assert run(shop, found, for_good=False)["state"] == "tried"
    assert run(shop, found, for_good=False)["counts"]["accepted"] >= 39
    assert run(shop, found)["added"]["pieces"] == 40


def test_files_are_worked_on_one_after_the_other(
    shop: TestClient, held: threading.Semaphore
) -> None:
    first, second = given(shop, many("U", 30)), given(shop, many("V", 30))
    begun(shop, first, for_good=True)
    begun(shop, second, for_good=True)
    time.sleep(0.2)
    assert [shop.get(f"/api/imports/{f['id']}").json()["done"] for f in (first, second)] == [0, 0]
    held.release(2)
    for found in (first, second):
        assert until(shop, found["id"], state="brought in")["added"]["pieces"] == 30


def test_only_a_few_files_wait_and_what_is_forgotten_leaves_no_file(
    cluster: Cluster, tmp_path: Path
) -> None:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as api:
        folder = api.app.state.imports._folder  # type: ignore[attr-defined]
        keys = [given(api, many("W", 1))["id"] for _ in range(importing.MOST_WAITING + 3)]
        assert len(list(folder.iterdir())) == importing.MOST_WAITING
        assert api.get(f"/api/imports/{keys[0]}").status_code == 404
        assert api.get(f"/api/imports/{keys[-1]}").status_code == 200
        api.delete(f"/api/imports/{keys[-1]}")
        assert not (folder / keys[-1]).exists()
        refused = api.post("/api/imports", params={"name": "x"}, content=b"\x00\x01")
        assert refused.status_code == 422
        assert len(list(folder.iterdir())) == importing.MOST_WAITING - 1
    assert not folder.exists()


def test_the_report_is_paged_and_told_by_verdict(shop: TestClient) -> None:
    text = many("X", 250).replace(",185\n", ",none\n").replace(",186\n", ",86 kg\n")
    found = given(shop, text)
    done = run(shop, found, for_good=False)
    address = f"/api/imports/{found['id']}/rows"
    partly = shop.get(address, params={"verdict": "partly", "limit": 5}).json()
    assert partly["total"] == done["counts"]["partly"] == 13
    assert [len(partly["rows"]), partly["rows"][0]["verdict"]] == [5, "partly"]
    later = shop.get(address, params={"verdict": "partly", "offset": 10}).json()["rows"]
    assert len(later) == 3
    assert later[-1]["line"] > partly["rows"][-1]["line"]
    lines = shop.get(f"/api/imports/{found['id']}/report.csv").text.splitlines()
    assert len(lines) == 251


def test_more_rows_than_are_read_at_once_are_streamed_to_the_last(shop: TestClient) -> None:
    run(shop, given(shop, many("Y", 3)))
    lines = "".join(f"Y-{n % 3},spine at heel,{2 + n % 7 / 100:.2f}\n" for n in range(5_200))
    done = run(shop, given(shop, f"tag,quantity,value mm\n{lines}", "readings.csv"))
    assert done["added"] == {"readings": 5_200}
    whole = shop.get("/api/v1/shop.json").json()["readings"]
    text = shop.get("/api/v1/readings.csv").text
    assert text.count("\r\n") == len(whole) + 1
    kept = [row for row in whole if row["quantity"] == "spine_heel" and row["tag"] == "Y-1"]
    assert len(kept) == len(lines.split("Y-1,")) - 1
    assert [row["typed"] for row in kept[:3]] == ["2.01", "2.04", "2.00"]


def test_the_archive_is_sent_whole(shop: TestClient) -> None:
    answer = shop.get("/api/v1/archive.zip")
    assert answer.headers["content-type"] == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.content)) as packed:
        manifest = json.loads(packed.read("manifest.json"))
        lines = packed.read("tables/pieces.jsonl").count(b"\n")
    assert manifest["counts"]["pieces"] == lines == pieces(shop)
    model = {"maker": "Tansley", "line": "Later", "knife_type": "petty", "nominal": "150"}
    entered = shop.post("/api/bench/pieces", json={"tag": "AFTER-ZIP", "model": model})
    assert entered.status_code == 201  # the connection it was read by writes again


def test_a_folder_that_the_system_tidied_away_takes_no_import_along(shop: TestClient) -> None:
    """Debian empties folders under /tmp that were not used for days."""
    folder = shop.app.state.imports._folder  # type: ignore[attr-defined]
    before = given(shop, many("TIDIED", 3))
    shutil.rmtree(folder)
    after = given(shop, many("LATER", 2))
    brought = run(shop, after)
    assert brought["added"]["pieces"] == 2, brought
    assert run(shop, before)["added"]["pieces"] == 3  # fetched from the record again

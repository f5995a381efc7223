"""A whole shop as one JSON: what is beside models and readings travels too, and comes once."""

from __future__ import annotations

import io
import json
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, select

from maple_rook.cluster import Cluster
from maple_rook.store.database import sessions
from maple_rook.store.tables import Photo
from maple_rook.store.travelling import PART
from shops import given, run, shop_api, shop_engine

GRADE = {"designation": "Harbour 7", "composition": {"C": 0.7}, "usual_hrc": [58, 60]}
PICTURE = b"\xff\xd8\xff" + bytes(range(256)) * 1_200  # longer than one row takes


@pytest.fixture
def source(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    """The demo shop with a grade, a food and a photo of its own, a plan and a repair."""
    with shop_engine(cluster, demo=True) as engine, shop_api(engine, tmp_path) as client:
        client.headers["If-Match"] = "*"
        _make_own(client)
        yield client


def _make_own(client: TestClient) -> None:
    assert client.post("/api/steels", json=GRADE).is_success
    sheet = client.post("/api/bench/pieces/1/sheets").json()["id"]
    key = "00000000-0000-4000-8000-00000000a001"
    kept = client.put(f"/api/bench/sheets/{sheet}/photos/{key}", content=PICTURE)
    assert kept.status_code == 201, kept.text
    held = io.BytesIO()
    Image.new("RGB", (1200, 800)).save(held, "JPEG")
    key = "00000000-0000-4000-8000-00000000a002"
    kept = client.put(f"/api/pieces/1/photographs/{key}", content=held.getvalue())
    assert kept.status_code == 201, kept.text


def rows_of(text: str) -> dict[str, list[dict[str, Any]]]:
    """Rows of every list of a shop's JSON, whatever order they stand in."""
    whole = json.loads(text)
    return {
        name: sorted(rows, key=lambda row: json.dumps(row, sort_keys=True))
        for name, rows in whole.items()
        if isinstance(rows, list)
    }


def photo(engine: Engine) -> bytes:
    with sessions(engine)() as db:
        return db.scalars(select(Photo.content).order_by(Photo.id.desc())).first() or b""


def test_every_table_comes_over_equal_and_comes_once(
    source: TestClient, cluster: Cluster, tmp_path: Path
) -> None:
    before = source.get("/api/v1/shop.json").text
    tables = Counter(row["table"] for row in json.loads(before)["rest"])
    assert {
        "observations",
        "photos",
        "photographs",
        "upkeep_plans",
        "repairs",
        "work_events",
    } <= set(tables)
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        done = run(empty, given(empty, before, "shop.json"))
        rows = empty.get(f"/api/imports/{done['id']}/rows", params={"verdict": "refused"}).json()
        assert rows["rows"] == []
        after = rows_of(empty.get("/api/v1/shop.json").text)
        for name, rows in rows_of(before).items():
            lacking = [row for row in rows if row not in after[name]]
            assert lacking == [], name
            assert name == "basics" or len(after[name]) == len(rows)
        assert photo(engine) == PICTURE
        assert len(PICTURE) > PART
        assert run(empty, given(empty, before, "shop.json"))["added"] == {}


WRONG_PHOTOGRAPHS = [
    {"media_type": "text/html"},
    {"crop": "half of it"},
    {"crop": [0, 0, 2, 2]},
    {"crop": [0, 0, "1", 1]},
    {"content": ""},
]


def test_a_picture_that_no_page_could_show_is_refused(
    source: TestClient, cluster: Cluster, tmp_path: Path
) -> None:
    whole = json.loads(source.get("/api/v1/shop.json").text)
    [sent] = [row["row"] for row in whole["rest"] if row["table"] == "photographs"]
    for n, wrong in enumerate(WRONG_PHOTOGRAPHS):
        key = f"00000000-0000-4000-8000-00000000c00{n}"
        whole["rest"].append({"table": "photographs", "row": {**sent, "client_id": key, **wrong}})
    for row in whole["rest"]:
        if row["table"] == "photos" and "content_of" in row["row"]:
            row["row"]["media_type"] = "image/svg+xml"
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        done = run(empty, given(empty, json.dumps(whole), "shop.json"))
        rows = empty.get(f"/api/imports/{done['id']}/rows", params={"verdict": "refused"}).json()
        assert rows["total"] == len(WRONG_PHOTOGRAPHS) + 1, rows
        assert empty.get("/api/v1/archive.zip").status_code == 200
        assert len(empty.get("/api/pieces/1/photographs").json()) == 1


def test_a_row_that_points_nowhere_is_refused_alone(cluster: Cluster, tmp_path: Path) -> None:
    seen = {
        **{"client_id": "00000000-0000-4000-8000-00000000b001", "item": "rivets"},
        **{"aspect": "", "value": "minor", "note": "", "replaces": None, "photo_id": None},
        **{"taken_at": "2026-09-14T08:31:04+00:00", "recorded_at": "2026-09-14T08:31:04+00:00"},
        **{"sheet_id": ["NOBODY", "2026-09-14T08:30:00+00:00"], "person_id": "Ada"},
    }
    rest = [
        {"table": "observations", "row": seen},
        {"table": "passwords", "row": {"person_id": "Ada", "hash": "x"}},
        {"table": "photos", "row": {"client_id": seen["client_id"], "content_part": 1}},
    ]
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        done = run(empty, given(empty, json.dumps({"rest": rest}), "shop.json"))
        rows = empty.get(f"/api/imports/{done['id']}/rows").json()["rows"]
        assert [row["verdict"] for row in rows] == ["refused"] * 3
        assert "NOBODY" in rows[0]["said"]
        assert "passwords" in rows[1]["said"]
        assert "without its beginning" in rows[2]["said"]

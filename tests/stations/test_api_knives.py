"""The versioned API of knives: what a client reads is what the Sheet and the Board say."""

from __future__ import annotations

import datetime as dt
import hashlib
import hmac
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, text

from maple_rook.app import create_app
from maple_rook.cluster import Cluster
from maple_rook.settings import PROJECT_ROOT, Settings
from served import served
from shops import shop_api, shop_engine
from signed_in import key_of

SIGNATURE = "Maple-Rook-Signature"


@pytest.fixture(scope="module")
def shop(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        yield engine


@pytest.fixture(scope="module")
def api(shop: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_api(shop, tmp_path_factory.mktemp("w")) as client:
        yield client


def tags(api: TestClient, **asked: object) -> set[str]:
    answer = api.get("/api/v1/pieces", params={"limit": 200, **asked})
    assert answer.status_code == 200, answer.text
    return {knife["tag"] for knife in answer.json()["items"]}


def test_a_small_client_works_on_a_shop_with_nothing_in_it(
    cluster: Cluster, tmp_path: Path
) -> None:
    example = PROJECT_ROOT / "docs/examples/a_small_client.py"
    code = [x for x in example.read_text().split('"""', 2)[2].splitlines() if x.strip()]
    assert len(code) <= 45
    with (
        shop_engine(cluster) as engine,
        served(create_app(Settings(web_root=tmp_path), engine)) as at,
    ):
        said = subprocess.run(
            [sys.executable, str(example), at],
            env={**os.environ, "MAPLE_ROOK_KEY": key_of(engine)},
            capture_output=True,
            text=True,
            check=True,
        ).stdout
    assert "'readings': 60" in said
    assert "C-1 cutting_ease [" in said
    assert "changed ['C-1', 'C-2']" in said


def test_pieces_are_found_by_tag_and_maker(api: TestClient) -> None:
    assert tags(api, tag=["KH-01", "HS-24", "NOBODY"]) == {"KH-01", "HS-24"}
    every = {k["tag"]: k["maker"] for k in api.get("/api/v1/pieces?limit=200").json()["items"]}
    ours = {tag for tag, maker in every.items() if maker == "Kesterby"}
    assert ours
    assert tags(api, maker="kesterby") == ours
    assert tags(api, maker=["Kesterby", "Dunmarrow"], knife_type="gyuto") <= set(every)
    assert tags(api, maker="Kesterby", tag="HS-24") == set()


def test_predictions_are_those_of_the_sheet(api: TestClient) -> None:
    found = api.get("/api/v1/pieces/KH-01/predictions").json()
    sheet = api.get(f"/api/pieces/{found['id']}").json()
    said = {p["key"]: (p["low"], p["central"], p["high"], p["grade"]) for p in sheet["predictions"]}
    theirs = {
        p["key"]: (p["low"], p["central"], p["high"], p["grade"]) for p in found["predictions"]
    }
    assert theirs == said
    assert len(theirs) > 10
    assert api.get("/api/v1/pieces/NOBODY/predictions").status_code == 404


def test_a_comparison_is_that_of_the_board(api: TestClient) -> None:
    asked = {"tags": ["KH-01", "HS-24", "DG-20"]}
    found = api.post("/api/v1/compare", json=asked).json()
    ids = [piece["id"] for piece in found["pieces"]]
    assert [piece["tag"] for piece in found["pieces"]] == asked["tags"]
    board = api.post("/api/board", json={"pieces": ids}).json()
    assert found["verdict"] == board["verdict"]
    assert found["differences"] == board["differences"]
    unknown = api.post("/api/v1/compare", json={"tags": ["KH-01", "NOBODY"]})
    assert (unknown.status_code, "NOBODY" in unknown.json()["detail"]) == (404, True)
    assert api.post("/api/v1/compare", json={"tags": ["KH-01", "KH-01"]}).status_code == 422
    assert api.post("/api/v1/compare", json={"tags": ["KH-01", "a\0"]}).status_code == 422


def test_a_copy_that_follows_changes_misses_none(api: TestClient, shop: Engine) -> None:
    """A transaction that began first and ends last is where feeds by time or number lose rows."""
    seen: set[str] = set()
    where = "/api/v1/changes?limit=7"
    while where:
        page = api.get(where).json()
        seen |= {piece["tag"] for piece in page["items"]}
        where = page["next"]
    where = page["later"]
    assert seen == tags(api)
    with shop.connect() as slow:
        # holds back what is safe to say, and writes a row of its own only at its end
        slow.execute(text("SELECT pg_current_xact_id()"))
        moved(api, "KH-01")
        page = api.get(where).json()
        assert page["items"] == []
        slow.execute(text("UPDATE pieces SET note = note || ' later' WHERE tag = 'HS-24'"))
        slow.commit()
    told = {piece["tag"] for piece in api.get(page["later"]).json()["items"]}
    assert told == {"KH-01", "HS-24"}


def test_changes_since_a_moment(api: TestClient) -> None:
    def told(since: dt.datetime) -> set[str]:
        page = api.get("/api/v1/changes", params={"since": since.isoformat()})
        assert page.status_code == 200, page.text
        return {piece["tag"] for piece in page.json()["items"]}

    everything = api.get("/api/v1/changes").json()
    before = dt.datetime.now(dt.UTC)
    assert told(before) == set()
    moved(api, "DG-20", "once more")
    assert told(before) == {"DG-20"}
    page = api.get("/api/v1/changes", params={"since": before.isoformat(), "limit": 1}).json()
    assert "since=" in page["next"]
    assert "since=" not in page["later"]  # what is committed late may be from before that moment
    assert told(before - dt.timedelta(days=1)) == {piece["tag"] for piece in everything["items"]}
    assert api.get("/api/v1/changes?since=2026-11-01T00:00:00").status_code == 422  # of which zone?


def moved(api: TestClient, tag: str, key: str = "moved") -> None:
    """Change a piece: its weight is read once more."""
    row = {"tag": tag, "key": f"{tag}-{key}", "quantity": "weight", "typed": "186.2 g"}
    answer = api.post("/api/v1/readings", json={"rows": [row]})
    assert answer.json()["added"]["readings"] == 1, answer.text


def test_changes_are_signed_with_the_key_that_asks(api: TestClient) -> None:
    answer = api.get("/api/v1/changes")
    key = api.headers["Authorization"].removeprefix("Bearer ")
    digest = hmac.new(key.encode(), answer.content, hashlib.sha256).hexdigest()
    assert answer.headers[SIGNATURE] == f"sha256={digest}"
    for after in ("yesterday", f"{2**63}.1"):
        assert api.get("/api/v1/changes", params={"after": after}).status_code == 422

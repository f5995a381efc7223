"""What a knife's log says of it over the years: wear, thinning, the bolster, the dates."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.store.tables import Piece

Json = dict[str, Any]
TODAY = dt.datetime.now(dt.UTC).date()
READINGS = {
    "edge_length": "203 mm",
    "height_heel": "46.0 mm",
    "height_mid": "38 mm",
    "spine_heel": "3.2 mm",
    "spine_mid": "2.6 mm",
    "spine_tip": "1.0 mm",
    "thickness_behind_edge": "0.40 mm",
    "edge_angle": "18 dps",
    "hardness": "57 HRC",
    "asymmetry": "50/50",
}


def once(**more: object) -> Json:
    return {"client_id": str(uuid.uuid4()), **more}


@pytest.fixture
def knife(api: TestClient, db: Session) -> int:
    """A new forged knife with a full bolster, measured forty days ago."""
    like = db.scalars(select(Piece).where(Piece.tag == "DG-20")).one()
    tag = f"W-{uuid.uuid4().hex[:8]}"
    body = {"model_id": like.model_id, "tag": tag, "condition": "new"}
    sheet = api.post("/api/bench/pieces", json=body).json()
    at = dt.datetime.now(dt.UTC) - dt.timedelta(days=40)
    for quantity, typed in READINGS.items():
        reading = once(quantity=quantity, typed=typed, confirmed=True, taken_at=at.isoformat())
        answer = api.post(f"/api/bench/sheets/{sheet['id']}/readings", json=reading)
        assert answer.status_code == 201, answer.text
    piece: int = sheet["piece"]["id"]
    return piece


def life(api: TestClient, knife: int, **kitchen: str) -> Json:
    found: Json = api.get(f"/api/pieces/{knife}/upkeep", params=kitchen).json()
    return found


def write(api: TestClient, knife: int, days_ago: int, care: str = "stone", **after: float) -> Json:
    day = (TODAY - dt.timedelta(days=days_ago)).isoformat()
    answer = api.post(f"/api/pieces/{knife}/upkeep/log", json=once(care=care, done_on=day, **after))
    assert answer.status_code == 201, answer.text
    found: Json = answer.json()
    return found


def test_a_new_knife_rests_on_the_shops_log_or_an_assumption(api: TestClient, knife: int) -> None:
    found = life(api, knife)
    assert found["log"] == []
    assert found["height_now_mm"] == found["height_new_mm"] == pytest.approx(46.0, abs=0.1)
    assert found["behind_due_mm"] == pytest.approx(found["behind_now_mm"] + 0.10)
    assert "other knives" in found["rate_words"] or "silent" in found["rate_words"]
    assert found["full_bolster"]


def test_each_sharpening_brings_thinning_bolster_and_end_nearer(
    api: TestClient, knife: int
) -> None:
    before = life(api, knife)
    write(api, knife, 30, height_mm=45.88)
    after = write(api, knife, 20, height_mm=45.76, behind_edge_mm=0.44)
    for count in ("thinning", "bolster", "end"):
        assert after[count]["central"] < before[count]["central"], count
    assert after["behind_now_mm"] == pytest.approx(0.44)
    assert after["behind_due_mm"] == pytest.approx(before["behind_due_mm"], abs=0.005)


def test_thinning_and_filing_begin_their_counts_again(api: TestClient, knife: int) -> None:
    write(api, knife, 30, height_mm=45.9, behind_edge_mm=0.45)
    worn = write(api, knife, 25, height_mm=45.8, behind_edge_mm=0.48)
    thinned = write(api, knife, 20, "thinning", height_mm=45.75, behind_edge_mm=0.38)
    assert thinned["thinning"]["central"] > worn["thinning"]["central"]
    assert thinned["behind_due_mm"] == pytest.approx(0.48)
    filed = write(api, knife, 10, "file_bolster")
    assert filed["bolster"]["central"] > thinned["bolster"]["central"]
    assert filed["height_now_mm"] == thinned["height_now_mm"]


def test_a_rod_takes_no_height(api: TestClient, knife: int) -> None:
    before = life(api, knife)
    for days_ago in (9, 6, 3):
        after = write(api, knife, days_ago, "rod")
    assert after["rate"]["mean"] == pytest.approx(before["rate"]["mean"])
    assert after["bolster"]["central"] == pytest.approx(before["bolster"]["central"])
    assert len(after["log"]) == 3


def test_the_same_entry_sent_twice_is_written_once(api: TestClient, knife: int) -> None:
    body = once(care="stone", done_on=TODAY.isoformat(), grit=1000, minutes=12)
    for _ in range(2):
        found = api.post(f"/api/pieces/{knife}/upkeep/log", json=body)
        assert found.status_code == 201
    assert len(life(api, knife)["log"]) == 1


def test_a_harder_kitchen_wants_the_stone_sooner(api: TestClient, knife: int) -> None:
    """Common practice: a glass board and a line cook dull an edge first."""
    months = [
        life(api, knife, **kitchen)["months_to_stone"][0]
        for kitchen in (
            {},
            {"use": "professional"},
            {"use": "professional", "board": "glass"},
        )
    ]
    assert months == sorted(months, reverse=True)
    assert months[2] < months[0] / 10
    years = [life(api, knife, **k)["end"]["years"][0] for k in ({}, {"use": "professional"})]
    assert years[0] == pytest.approx(3 * years[1], rel=0.01)


def test_a_plan_says_when_this_knife_is_thinned_and_its_bolster_filed(
    api: TestClient, knife: int
) -> None:
    for n, days_ago in enumerate((35, 30, 25, 20, 15), start=1):
        write(api, knife, days_ago, height_mm=46 - 0.06 * n)
    body = once(
        label="quay",
        begun_on=(TODAY - dt.timedelta(days=36)).isoformat(),
        kitchen={"use": "professional"},
    )
    (plan,) = api.post(f"/api/pieces/{knife}/upkeep/plans", json=body).json()
    assert plan["since"] == (TODAY - dt.timedelta(days=15)).isoformat()
    filed = [d for d in plan["dates"] if d["care"] == "file_bolster"]
    stones = [d for d in plan["dates"] if d["care"] == "stone"]
    assert len(filed) == 1
    assert filed[0]["on"] in [d["on"] for d in stones[:2]]  # 0.30 mm proud already
    api.post(f"/api/upkeep/plans/{plan['id']}/ended", json={"ended": True})


def test_a_reprofile_says_what_a_what_if_of_the_same_edge_says(api: TestClient, knife: int) -> None:
    """Two ways to ask the same: the edge after the grind, and the same figures tried."""
    plan = api.post(f"/api/pieces/{knife}/reprofile", json={"angle_per_side_deg": 15}).json()
    tried = api.post(
        f"/api/pieces/{knife}/what-if",
        json={"edge_angle": 15, "thickness_behind_edge": plan["made"]["behind_edge_mm"]},
    ).json()
    rows = {row["key"]: row for row in tried["rows"]}
    for row in plan["rows"]:
        if row["measured"] and row["key"] in rows:
            assert row["tried"]["central"] == pytest.approx(
                rows[row["key"]]["tried"]["central"], rel=0.01, abs=0.01
            ), row["key"]
    assert plan["words"][0].startswith("Bites ")
    assert plan["words"] == tried["words"]


def test_every_way_into_upkeep_is_described(api: TestClient) -> None:
    paths = api.get("/api/openapi.json").json()["paths"]
    routes = [
        route
        for path in paths.values()
        for route in path.values()
        if route.get("tags") == ["upkeep"]
    ]
    assert len(routes) >= 18
    assert all(len(route["description"]) > 20 for route in routes)

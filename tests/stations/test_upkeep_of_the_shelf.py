"""Upkeep of every knife of the demo shelf, of both hands, by two people at once."""

from __future__ import annotations

import datetime as dt
import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
import vobject
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.demo.stock import LATER, STOCK
from maple_rook.store.tables import Piece

Json = dict[str, Any]
TODAY = dt.datetime.now(dt.UTC).date()
TAGS = [p.tag for m in STOCK for p in m.pieces] + [piece.tag for _, piece in LATER]
NO_EDGE = {"TC-25", "QP-23"}
"""Serrated, and half measured: neither has an edge to set up."""
SINGLE = {"BT-27", "BT-16"}


@pytest.fixture
def ids(db: Session) -> dict[str, int]:
    return {piece.tag: piece.id for piece in db.scalars(select(Piece))}


def once(**more: object) -> Json:
    return {"client_id": str(uuid.uuid4()), **more}


def a_measured_piece(api: TestClient, of: int, **readings: str) -> int:
    """A piece of another's model with readings as typed."""
    model = api.get(f"/api/pieces/{of}").json()["model_id"]
    body = {"model_id": model, "tag": f"M-{uuid.uuid4().hex[:8]}", "condition": "new"}
    sheet = api.post("/api/bench/pieces", json=body).json()
    for quantity, typed in readings.items():
        path = f"/api/bench/sheets/{sheet['id']}/readings"
        body = once(quantity=quantity, typed=typed, confirmed=True)
        answer = api.post(path, json=body)
        assert answer.status_code == 201, answer.text
    piece: int = sheet["piece"]["id"]
    return piece


@pytest.mark.parametrize("tag", TAGS)
def test_every_knife_has_a_set_up_or_a_reason(
    api: TestClient, ids: dict[str, int], tag: str
) -> None:
    answer = api.get(f"/api/pieces/{ids[tag]}/setup")
    if tag in NO_EDGE:
        assert answer.status_code == 409
        assert answer.json()["detail"].endswith(".")
        return
    setup = answer.json()
    assert len(setup["rules"]) == 7
    assert sum(setup["strokes"]) <= 12
    assert setup["least_angle_deg"] < setup["found_angle_deg"]
    for face in setup["faces"]:
        lifts = [place["lift_mm"] for place in face["lifts"]]
        heights = [place["height_mm"] for place in face["lifts"]]
        assert bool(lifts) != bool(face["flat"])
        assert all(lift > 0 for lift in lifts)
        if heights and heights[-1] < 0.8 * heights[0]:
            assert lifts[-1] < lifts[0]  # a blade lower at the tip is lifted less there
    assert (tag in SINGLE) == any(face["flat"] for face in setup["faces"])


@pytest.mark.parametrize("tag", [tag for tag in TAGS if tag not in NO_EDGE])
@pytest.mark.parametrize("degrees", [-2.0, 3.0])
def test_every_knife_can_be_planned_another_edge(
    api: TestClient, ids: dict[str, int], tag: str, degrees: float
) -> None:
    found = api.get(f"/api/pieces/{ids[tag]}/setup").json()["found_angle_deg"]
    answer = api.post(
        f"/api/pieces/{ids[tag]}/reprofile", json={"angle_per_side_deg": found + degrees}
    )
    assert answer.status_code == 200, answer.text
    plan = answer.json()
    volumes = plan["volume_right_mm3"], plan["volume_left_mm3"]
    assert min(volumes) >= 0
    assert sum(volumes) > 0
    assert sum(s["volume_mm3"] for s in plan["steps"]) == pytest.approx(sum(volumes), abs=1e-6)
    assert plan["minutes"][1] < plan["minutes"][0] < plan["minutes"][2]
    if tag not in SINGLE:
        assert plan["made"]["behind_edge_mm"] >= plan["found"]["behind_edge_mm"] - 1e-3
    assert (plan["height_lost_mm"] > 1e-6) == (degrees > 0)
    if tag in SINGLE:
        assert plan["micro_mm"] == (pytest.approx(0.5) if degrees > 0 else None)
        assert any("face only" in warning for warning in plan["warnings"])
    for row in plan["bears"]:
        assert (row["after"] > row["before"]) == (degrees > 0)


@pytest.mark.parametrize("tag", TAGS)
def test_every_knife_has_a_life_or_a_reason(api: TestClient, ids: dict[str, int], tag: str) -> None:
    life = api.get(f"/api/pieces/{ids[tag]}/upkeep").json()
    if life["unavailable"]:
        assert tag in NO_EDGE
        assert life["end"] is None
        return
    assert life["rate"]["mean"] > 0
    end = life["end"]
    assert end["low"] <= end["central"] <= end["high"]
    thick = [p["behind_edge_mm"] for p in life["curve"]]
    assert thick == sorted(thick) or tag in SINGLE
    tall = [p["height_mm"] for p in life["curve"]]
    assert tall == sorted(tall, reverse=True)
    assert (life["bolster"] is not None) == life["full_bolster"] == (tag in ("DG-20", "DG-21"))
    assert tag not in SINGLE or life["thinning"] is None
    card = api.get(f"/api/pieces/{ids[tag]}/care").json()
    assert card["never"]
    assert card["every_day"][0].startswith("Wash by hand")


def test_a_left_handed_single_bevel_is_the_other_way_round(
    api: TestClient, ids: dict[str, int]
) -> None:
    left = a_measured_piece(
        api,
        ids["BT-27"],
        edge_length="268 mm",
        height_heel="33 mm",
        height_mid="28 mm",
        spine_heel="3.9 mm",
        spine_mid="3.2 mm",
        spine_tip="1.4 mm",
        edge_angle="11 dps",
        asymmetry="0/100",
        hardness="63 HRC",
    )
    setup = api.get(f"/api/pieces/{left}/setup").json()
    flat = {face["face"]: face["flat"] for face in setup["faces"]}
    assert "wide bevel" in flat["left"]
    assert "Never an angle here" in flat["right"]
    assert setup["strokes"] == [0, 1]
    assert "left face" in setup["strokes_words"]
    plan = api.post(f"/api/pieces/{left}/reprofile", json={"angle_per_side_deg": 13}).json()
    assert plan["volume_left_mm3"] > 20 * plan["volume_right_mm3"]
    assert plan["made"]["angle_right_deg"] == 0


def test_faces_measured_apart_keep_their_difference(api: TestClient, ids: dict[str, int]) -> None:
    piece = a_measured_piece(
        api,
        ids["KH-01"],
        edge_length="210 mm",
        height_heel="46 mm",
        spine_heel="2.1 mm",
        angle_right="18 dps",
        angle_left="12 dps",
        thickness_behind_edge="0.3 mm",
        hardness="60 HRC",
    )
    setup = api.get(f"/api/pieces/{piece}/setup").json()
    assert [face["angle_deg"] for face in setup["faces"]] == pytest.approx([18, 12])
    right, left = (face["lifts"][0]["lift_mm"] for face in setup["faces"])
    assert right > left + 3
    flatter = api.get(f"/api/pieces/{piece}/setup", params={"angle": 10}).json()
    assert [face["angle_deg"] for face in flatter["faces"]] == pytest.approx([12, 8])
    assert any("another angle takes more steel" in note for note in flatter["notes"])
    plan = api.post(f"/api/pieces/{piece}/reprofile", json={"angle_per_side_deg": 10}).json()
    for edge, angles in (("found", (18, 12)), ("made", (12, 8))):
        sides = plan[edge]["angle_right_deg"], plan[edge]["angle_left_deg"]
        assert sides == pytest.approx(angles)
    assert plan["height_lost_mm"] == pytest.approx(0, abs=1e-9)
    even = {"angle_per_side_deg": 10, "share_right": 50}
    plan = api.post(f"/api/pieces/{piece}/reprofile", json=even).json()
    assert plan["made"]["angle_right_deg"] == plan["made"]["angle_left_deg"] == 10


def test_the_calendar_names_its_days_for_good(api: TestClient, ids: dict[str, int]) -> None:
    """A newer file moves the days of an older one: the same uids, other dates."""
    piece = ids["KH-03"]
    begun = TODAY - dt.timedelta(days=30)
    body = once(label="uids", begun_on=begun.isoformat())
    plan = api.post(f"/api/pieces/{piece}/upkeep/plans", json=body).json()[0]

    def days() -> dict[str, dt.date]:
        text = api.get("/api/upkeep/calendar.ics", params={"plan": plan["id"]}).text
        return {e.uid.value: e.dtstart.value for e in vobject.readOne(text).vevent_list}

    before = days()
    assert days() == before
    api.post(f"/api/pieces/{piece}/upkeep/log", json=once(care="stone", done_on=TODAY.isoformat()))
    after = days()
    assert set(after) & set(before)
    assert all(after[uid] > before[uid] for uid in set(after) & set(before))
    api.post(f"/api/upkeep/plans/{plan['id']}/ended", json={"ended": True})


def test_two_benches_order_the_same_fault_once(api: TestClient, ids: dict[str, int]) -> None:
    piece = a_measured_piece(api, ids["KH-01"])
    sheet = api.get(f"/api/pieces/{piece}").json()["sheets"][0]["id"]
    seen = once(item="rivets", value="mend", note="proud")
    assert api.post(f"/api/bench/sheets/{sheet}/observations", json=seen).status_code == 201
    with ThreadPoolExecutor(4) as benches:
        answers = list(
            benches.map(
                lambda _: api.post(f"/api/pieces/{piece}/work", json=once()).status_code, range(4)
            )
        )
    assert sorted(answers) == [201, 409, 409, 409]
    work = api.get(f"/api/pieces/{piece}/work").json()
    assert [len(order["repairs"]) for order in work["orders"]] == [1]
    assert [fault["ordered"] for fault in work["faults"]] == [True]


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("upkeep/log", {"care": "polish", "done_on": "2026-01-01"}),
        ("upkeep/log", {"care": "stone", "done_on": "soon"}),
        ("upkeep/log", {"care": "stone", "done_on": "2026-01-01", "height_mm": "NaN"}),
        ("upkeep/log", {"care": "stone", "done_on": "2026-01-01", "angle_deg": 60}),
        ("upkeep/plans", {"label": " ", "begun_on": "2026-01-01"}),
        ("upkeep/plans", {"label": "a\x00b", "begun_on": "2026-01-01"}),
        ("upkeep/plans", {"label": "x", "begun_on": "1066-01-01"}),
        ("work", {"faults": [{"item": "rivets; drop table"}]}),
    ],
)
def test_what_makes_no_sense_is_refused_and_says_what_would(
    api: TestClient, ids: dict[str, int], path: str, body: Json
) -> None:
    answer = api.post(f"/api/pieces/{ids['KH-01']}/{path}", json=once(**body))
    assert answer.status_code == 422, answer.text
    (error, *_) = answer.json()["errors"]
    assert error["field"]
    assert error["message"]


@pytest.mark.parametrize(
    "wanted",
    [
        {"angle_per_side_deg": 12, "share_right": 2},
        {"angle_per_side_deg": 50},
        {"angle_per_side_deg": 30, "share_right": 80, "school": "angle"},
        {"angle_per_side_deg": 12, "micro_mm": 9},
        {"angle_per_side_deg": 12, "extra": 1},
    ],
)
def test_an_edge_nobody_could_grind_is_refused(
    api: TestClient, ids: dict[str, int], wanted: Json
) -> None:
    answer = api.post(f"/api/pieces/{ids['KH-01']}/reprofile", json=wanted)
    assert answer.status_code == 422, answer.text

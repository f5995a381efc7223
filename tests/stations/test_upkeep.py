"""Upkeep over the API: set-up, re-profile, plans and log, work orders, care."""

from __future__ import annotations

import datetime as dt
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
import vobject
from fastapi.testclient import TestClient
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.upkeep.setup import lift_mm
from maple_rook.store.tables import Piece

Json = dict[str, Any]
PNG = b"\x89PNG\r\n\x1a\n" + b"\x00" * 64
TODAY = dt.datetime.now(dt.UTC).date()
SHOP: Json = {
    "spacers": [{"name": "plate", "thickness_mm": 2.0}, {"name": "shim", "thickness_mm": 0.5}],
    "stones": [
        {"grit": 400, "rate_mm3_min": 2.0, "scratch_um": 8},
        {"grit": 2000, "rate_mm3_min": 0.5, "scratch_um": 2},
    ],
    "hourly_rate": 30.0,
    "limits": {"thicker_mm": 0.1, "proud_mm": 0.3, "worn_share": 0.2},
}


@pytest.fixture
def ids(db: Session) -> dict[str, int]:
    return {piece.tag: piece.id for piece in db.scalars(select(Piece))}


@pytest.fixture(autouse=True, scope="module")
def workshop(api: TestClient) -> Iterator[None]:
    """A workshop of the tests' own; the one before is set again."""
    before = api.get("/api/upkeep/workshop").json()
    send(api, "/api/upkeep/workshop", SHOP)
    yield
    send(api, "/api/upkeep/workshop", {key: before[key] for key in SHOP})


def send(api: TestClient, path: str, body: Json, status: int = 201) -> Any:
    answer = api.post(path, json=body)
    assert answer.status_code == status, answer.text
    return answer.json()


def once(**more: object) -> Json:
    return {"client_id": str(uuid.uuid4()), **more}


def a_piece_with(api: TestClient, ids: dict[str, int], **faults: str) -> int:
    """A new piece of a demo model, its sheet signed by what was seen of it."""
    model = api.get(f"/api/pieces/{ids['KH-01']}").json()["model_id"]
    tag = f"U-{uuid.uuid4().hex[:8]}"
    sheet = send(api, "/api/bench/pieces", {"model_id": model, "tag": tag, "condition": "new"})
    for item, value in {**faults, "verdict": "after_work"}.items():
        seen = once(item=item, value=value, note="as seen")
        send(api, f"/api/bench/sheets/{sheet['id']}/observations", seen)
    piece: int = sheet["piece"]["id"]
    return piece


def flags(api: TestClient, piece: int) -> list[str]:
    tag = api.get(f"/api/pieces/{piece}").json()["piece"]["tag"]
    (row,) = api.get("/api/rack", params={"search": tag}).json()["rows"]
    return [flag["code"] for flag in row["flags"]]


def test_set_up_for_a_tall_and_a_low_blade(api: TestClient, ids: dict[str, int]) -> None:
    lifts = {}
    for tag in ("OK-21", "TH-08"):
        path = f"/api/pieces/{ids[tag]}/setup"
        found = api.get(path, params={"angle": 15}).json()
        heel = found["faces"][0]["lifts"][0]
        lifts[tag] = heel["lift_mm"]
        expected = float(lift_mm(heel["height_mm"], heel["spine_mm"], 15))
        assert heel["lift_mm"] == pytest.approx(expected, abs=0.02)
        assert heel["expanded"] > 0
        if heel["stack"] is not None:
            assert heel["stack"]["angle_deg"] == pytest.approx(15, abs=1.5)
        assert [place["place"] for place in found["faces"][0]["lifts"]] == [
            "at the heel",
            "in the middle",
            "toward the tip",
        ]
    assert lifts["OK-21"] > 4 * lifts["TH-08"]


def test_a_set_up_says_what_may_not_touch_the_edge(api: TestClient, ids: dict[str, int]) -> None:
    single = api.get(f"/api/pieces/{ids['BT-27']}/setup").json()
    leave = {r["tool"]: r["leave"] for r in single["rules"]}
    assert leave["ceramic_rod"] == leave["pull_through"] == "never"
    back = next(f for f in single["faces"] if f["face"] == "left")
    assert (back["lifts"], back["angle_deg"]) == ([], 0)
    assert "Never an angle here" in back["flat"]
    hard = f"/api/pieces/{ids['HS-24']}/setup"
    ceramic = {
        rods: next(
            r
            for r in api.get(hard, params={"rods": rods}).json()["rules"]
            if r["tool"] == "ceramic_rod"
        )
        for rods in ("none", "light")
    }
    leaves = [(r["leave"], r["by_the_other_school"]) for r in ceramic.values()]
    assert leaves == [("never", "lightly"), ("lightly", "never")]
    serrated = api.get(f"/api/pieces/{ids['TC-25']}/setup")
    assert serrated.status_code == 409


def test_another_edge_costs_steel_and_gives_life(api: TestClient, ids: dict[str, int]) -> None:
    path = f"/api/pieces/{ids['PM-21']}/reprofile"
    lower = send(api, path, {"angle_per_side_deg": 12}, 200)
    assert lower["height_lost_mm"] == pytest.approx(0, abs=1e-9)
    assert not lower["turns_even"]
    rows = {r["key"]: r for r in lower["rows"]}
    assert rows["card_test"]["percent"] > 10
    assert all(b["after"] < b["before"] for b in lower["bears"])
    total = lower["volume_right_mm3"] + lower["volume_left_mm3"]
    assert sum(s["volume_mm3"] for s in lower["steps"]) == pytest.approx(total)
    assert lower["cost"] == pytest.approx(lower["minutes"][0] / 60 * 30)
    assert {s["grit"] for s in lower["steps"]} <= {400, 2000}
    refused = api.post(path, json={"angle_per_side_deg": 3})
    assert refused.status_code == 422


def test_turning_it_even_is_warned_of_and_wants_the_owners_word(
    api: TestClient, ids: dict[str, int]
) -> None:
    piece = ids["PM-22"]
    even = {"angle_per_side_deg": 15, "share_right": 50}
    plan = send(api, f"/api/pieces/{piece}/reprofile", even, 200)
    assert plan["turns_even"]
    assert "cannot be put back" in plan["warnings"][0]
    assert plan["made"]["share_right"] == pytest.approx(50, abs=0.01)
    order = f"/api/pieces/{piece}/reprofile/order"
    answer = api.post(order, json=once(wanted=even))
    assert answer.status_code == 422
    assert "owner accepts" in answer.json()["errors"][0]["field"]
    asked = once(wanted=even, owner_accepts=True)
    twice = [send(api, order, asked)["orders"] for _ in range(2)]
    assert [len(orders) for orders in twice] == [1, 1]
    repair = twice[0][0]["repairs"][0]
    assert "15° per side, 50:50" in repair["method"]["what"]
    assert "owner accepts" in repair["note"]
    steady = api.post(f"/api/pieces/{ids['BT-27']}/reprofile", json=even)
    assert steady.status_code == 422


def test_the_log_teaches_the_rate_and_never_forgets(
    api: TestClient, db: Session, ids: dict[str, int]
) -> None:
    piece = ids["QS-17"]
    path = f"/api/pieces/{piece}/upkeep"
    before = api.get(path).json()
    height = before["height_now_mm"]

    def write(days_ago: int, lost: float, **more: object) -> Json:
        day = (TODAY - dt.timedelta(days=days_ago)).isoformat()
        body = once(care="stone", done_on=day, height_mm=height - lost, **more)
        found: Json = send(api, f"{path}/log", body)
        return found

    for n in range(1, 6):
        after = write(60 - 10 * n, 0.15 * n, grit=1000)
    assert after["height_now_mm"] == pytest.approx(height - 0.75)
    assert "5 sharpenings of this knife" in after["rate_words"]
    assert 0.09 < after["rate"]["mean"] < 0.15
    assert after["rate"]["expanded"] < before["rate"]["expanded"]
    assert after["end"]["central"] < before["end"]["central"]
    struck = send(api, f"/api/upkeep/log/{after['log'][0]['id']}/void", {"reason": "misread"})
    assert struck["log"][0]["voided"] == "misread"
    assert struck["height_now_mm"] == pytest.approx(height - 0.6)
    for bad in ({"height_mm": height + 9}, {"behind_edge_mm": 6}, {"done_on": "2199-01-01"}):
        body = once(**{"care": "stone", "done_on": TODAY.isoformat(), **bad})
        assert api.post(f"{path}/log", json=body).status_code == 422
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text("UPDATE upkeep_log SET height_mm = 40"))
    db.rollback()


def test_a_plan_has_its_dates_and_the_calendar_parses(api: TestClient, ids: dict[str, int]) -> None:
    """Read with vobject; a rod is never planned for a single bevel."""
    home = {"use": "home", "board": "wood", "technique": "normal", "honed": True}
    busy = {**home, "use": "professional"}
    old = (TODAY - dt.timedelta(days=700)).isoformat()
    asked = once(label="fish counter", kitchen=busy, begun_on=old)
    path = f"/api/pieces/{ids['BT-27']}/upkeep/plans"
    send(api, path, asked)
    plan = next(p for p in send(api, path, asked) if p["label"] == "fish counter")
    assert plan["state"] == "overdue"
    assert {d["care"] for d in plan["dates"]} <= {"stone", "thinning"}
    assert "single bevel" in plan["why_no_rod"]
    soft = once(label="quay", kitchen=home, begun_on=TODAY.isoformat())
    mine = send(api, f"/api/pieces/{ids['DG-21']}/upkeep/plans", soft)
    quay = next(p for p in mine if p["label"] == "quay")
    assert quay["state"] == "rests"
    assert [d["words"] for d in quay["dates"] if d["care"] == "rod"] == ["grooved steel rod"]
    assert "file_bolster" in {d["care"] for d in quay["dates"]} or len(quay["dates"]) < 7
    every = api.get("/api/upkeep/plans").json()
    states = [p["state"] for p in every]
    assert states == sorted(states, key=["overdue", "due", "rests"].index)

    one = api.get("/api/upkeep/calendar.ics", params={"plan": quay["id"]})
    assert one.headers["content-type"].startswith("text/calendar")
    events = vobject.readOne(one.text).vevent_list
    assert len(events) == len(quay["dates"])
    assert {e.dtstart.value.isoformat() for e in events} == {d["on"] for d in quay["dates"]}
    assert all("DG-21" in e.summary.value and "quay" in e.summary.value for e in events)
    whole = vobject.readOne(api.get("/api/upkeep/calendar.ics").text)
    uids = [e.uid.value for e in whole.vevent_list]
    assert len(set(uids)) == len(uids) > len(events)

    for p in (plan, quay):
        left = send(api, f"/api/upkeep/plans/{p['id']}/ended", {"ended": True})
        assert p["id"] not in {other["id"] for other in left}
    gone = api.get("/api/upkeep/calendar.ics", params={"plan": quay["id"]})
    assert gone.status_code == 404


def test_a_stone_in_the_log_moves_the_dates(api: TestClient, ids: dict[str, int]) -> None:
    piece = ids["KH-16"]
    begun = TODAY - dt.timedelta(days=200)
    body = once(label="moved", begun_on=begun.isoformat())
    late = send(api, f"/api/pieces/{piece}/upkeep/plans", body)[0]
    assert late["state"] == "overdue"
    done = once(care="stone", done_on=TODAY.isoformat())
    fresh = send(api, f"/api/pieces/{piece}/upkeep/log", done)["plans"][0]
    assert (fresh["since"], fresh["state"]) == (TODAY.isoformat(), "rests")
    send(api, f"/api/upkeep/plans/{late['id']}/ended", {"ended": True})


def test_from_a_failed_checklist_to_the_shelf(api: TestClient, ids: dict[str, int]) -> None:
    piece = a_piece_with(api, ids, spine_corners="mend", rivets="minor")
    work = api.get(f"/api/pieces/{piece}/work").json()
    assert work["shelf"] == "needs_work"
    assert "needs_work" in flags(api, piece)
    assert [f["item"] for f in work["faults"]] == ["rivets", "spine_corners"]
    asked = once()
    ordered = [send(api, f"/api/pieces/{piece}/work", asked) for _ in range(2)][-1]
    repairs = ordered["orders"][0]["repairs"]
    assert [j["method"]["grits"] for j in repairs] == [[400, 800], [600, 1200]]
    assert api.post(f"/api/pieces/{piece}/work", json=once()).status_code == 409

    def happened(repair: Json, status: int = 201, **event: object) -> Json:
        path = f"/api/upkeep/repairs/{repair['id']}/events"
        found: Json = send(api, path, once(**event), status)
        return found

    happened(repairs[0], 409, kind="recheck", value="fine")  # not done yet
    photo = api.put(
        f"/api/upkeep/repairs/{repairs[0]['id']}/photos/{uuid.uuid4()}", content=PNG
    ).json()
    happened(repairs[0], kind="before", photo_id=photo["id"])
    happened(repairs[0], kind="done", minutes=7)
    again = happened(repairs[0], kind="recheck", value="mend")
    assert again["orders"][0]["repairs"][0]["state"] == "ordered"
    happened(repairs[0], kind="done", minutes=4)
    happened(repairs[0], kind="recheck", value="fine")
    rows = api.get("/api/upkeep/work").json()["rows"]
    mine = next(r for r in rows if r["piece_id"] == piece)
    assert (mine["taken_minutes"], mine["open_minutes"]) == (11, 6)
    assert mine["cost"] == pytest.approx(3.0)
    happened(repairs[1], kind="done", minutes=5)
    ready = happened(repairs[1], kind="recheck", value="fine")
    assert (ready["shelf"], ready["faults"]) == ("ready", [])
    assert "needs_work" not in flags(api, piece)
    happened(repairs[1], 409, kind="done")
    assert api.get(f"/api/bench/photos/{photo['id']}").content == PNG


def test_a_dropped_job_is_no_fault_until_it_is_seen_again(
    api: TestClient, ids: dict[str, int]
) -> None:
    piece = a_piece_with(api, ids, etching="minor")
    repair = send(api, f"/api/pieces/{piece}/work", once())["orders"][0]["repairs"][0]
    path = f"/api/upkeep/repairs/{repair['id']}/events"
    assert api.post(path, json=once(kind="dropped")).status_code == 422
    assert send(api, path, once(kind="dropped", note="it is their mark"))["faults"] == []
    sheet = api.get(f"/api/pieces/{piece}").json()["sheets"][-1]["id"]
    now = api.get(f"/api/bench/sheets/{sheet}").json()["observations"]
    newest = next(o["client_id"] for o in now if o["item"] == "etching")
    send(
        api,
        f"/api/bench/sheets/{sheet}/observations",
        once(item="etching", value="reject", note="still rough", replaces=newest),
    )
    again = api.get(f"/api/pieces/{piece}/work").json()
    assert (again["shelf"], len(again["faults"])) == ("return", 1)
    assert again["faults"][0]["method"]["minutes"] == 0


def test_what_is_no_fault_is_not_ordered(api: TestClient, ids: dict[str, int]) -> None:
    path = f"/api/pieces/{ids['KH-01']}/work"
    for faults in ([], [{"item": "rivets"}]):
        assert api.post(path, json=once(faults=faults)).status_code == 409
    assert api.post("/api/pieces/999999/work", json=once()).status_code == 404
    for bad in (b"", b"GIF89a"):
        found = api.put(f"/api/upkeep/repairs/1/photos/{uuid.uuid4()}", content=bad)
        assert found.status_code == 422


def test_a_care_card_knows_steel_handle_and_kitchen(api: TestClient, ids: dict[str, int]) -> None:
    def card(tag: str, **more: str) -> Json:
        found: Json = api.get(f"/api/pieces/{ids[tag]}/care", params=more).json()
        return found

    carbon, stainless = card("HS-24"), card("KH-01", board="glass")
    assert any("darkens" in line for line in carbon["every_day"])
    assert any("iron" in line for line in carbon["every_day"])
    assert any("Oil the wooden handle" in line for line in carbon["handle"])
    assert any(line.startswith("No rod") for line in carbon["edge"])
    assert any("60:40: 3 strokes" in line for line in carbon["edge"])
    assert not any(
        "darkens" in line or "Oil" in line
        for line in (*stainless["every_day"], *stainless["handle"])
    )
    assert any("softer board" in line.lower() for line in stainless["every_day"])
    single = card("BT-27", rods="light")
    assert any("Never a rod on it" in line for line in single["never"])
    assert any("local law" in line for line in single["cautions"])


def test_the_workshop_keeps_its_versions(api: TestClient) -> None:
    seen = {"If-Match": api.get("/api/upkeep/workshop").json()["etag"]}
    assert api.post("/api/upkeep/workshop", json=SHOP, headers=seen).status_code == 201
    assert api.post("/api/upkeep/workshop", json=SHOP, headers=seen).status_code == 412
    twice = {**SHOP, "stones": SHOP["stones"] * 2}
    assert api.post("/api/upkeep/workshop", json=twice).status_code == 422


def test_the_sheet_says_what_the_shelf_says(api: TestClient, ids: dict[str, int]) -> None:
    told = {tag: api.get(f"/api/pieces/{ids[tag]}").json()["shelf"] for tag in ("OK-22", "OM-21")}
    assert told == {"OK-22": "return", "OM-21": "needs_work"}
    unsigned = a_piece_with(api, ids, tip="fine")
    assert api.get(f"/api/pieces/{unsigned}").json()["shelf"] == "ready"


def test_a_delivery_adds_up_piece_by_piece(api: TestClient, ids: dict[str, int]) -> None:
    rows = {r["tag"]: r for r in api.get("/api/upkeep/work").json()["rows"]}
    chopper = rows["OM-21"]
    work = api.get(f"/api/pieces/{ids['OM-21']}/work").json()
    planned = sum(order["open_minutes"] for order in work["orders"])
    assert chopper["open_minutes"] == pytest.approx(planned)
    assert chopper["cost"] == pytest.approx(planned / 60 * 30)
    assert "food-safe epoxy" in chopper["materials"]
    assert chopper["grits"] == [400, 800]
    assert rows["OK-22"]["returns"]
    assert rows["OK-22"]["open_minutes"] == 0

"""Trials, calibration, coefficients and stored predictions over the API."""

from __future__ import annotations

import math
import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.trials import CARD_MEDIUM, cuts_of_cycles
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from stations.test_rack_sheet_board import piece_id

Json = dict[str, Any]
PROTOCOL: Json = {
    "edge_preparation": "whetstones, deburred on a strop",
    "angle_per_side_deg": 13,
    "grit": "1000",
    "medium": CARD_MEDIUM,
    "load_n": 50,
    "stroke_mm": 40,
    "speed_mm_s": 50,
}


def point(x: float, value: float | None = None, event: str | None = None) -> Json:
    return {"client_id": str(uuid.uuid4()), "x": x, "value": value, "event": event}


def card_points(tcc_mm: float) -> list[Json]:
    cuts = cuts_of_cycles(0.15 * tcc_mm, tcc_mm)
    return [point(i, round(float(cut), 3)) for i, cut in enumerate(cuts, 1)]


def begun(api: TestClient, tag: str, **changes: object) -> Json:
    body: Json = {
        "client_id": str(uuid.uuid4()),
        "piece_id": piece_id(api, tag),
        "kind": "card",
        "protocol": PROTOCOL,
        **changes,
    }
    answer = api.post("/api/trials", json=body)
    assert answer.status_code == 201, answer.text
    made: Json = answer.json()
    return made


def predicted(api: TestClient, tag: str, key: str, basis: str = "calibrated") -> Json:
    sheet = api.get(f"/api/pieces/{piece_id(api, tag)}", params={"basis": basis}).json()
    found: Json = next(p for p in sheet["predictions"] if p["key"] == key)
    return found


def width(p: Json) -> float:
    return math.log(p["high"] / p["low"])


def aside(api: TestClient, trial: Json) -> None:
    """Tests share one shop: a trial made for one must not teach the others."""
    api.post(f"/api/trials/{trial['id']}/aside", json={"reason": "of a test"})


def test_the_demo_shop_has_every_kind_and_its_broken_trial_teaches_nothing(api: TestClient) -> None:
    counts = api.get("/api/trials").json()["counts"]
    assert min(counts.values()) > 0
    for kind, count in counts.items():
        newest = api.get("/api/trials", params={"kind": kind, "limit": 500}).json()["trials"]
        assert {t["kind"] for t in newest} == {kind}
        assert len(newest) == count
    listed = api.get("/api/trials", params={"limit": 500}).json()["trials"]
    stopped = next(t for t in listed if t["tag"] == "TT-16")
    assert stopped["left_out"] == ["38 of 60 cycles"]
    calibration = api.get("/api/trials/calibration").json()
    card = calibration["targets"][0]
    assert "TT-16" not in {row["tag"] for row in card["rows"]}
    assert stopped["id"] in {t["id"] for t in calibration["left_out"]}
    assert card["error_left_out"] < card["error_published"]
    assert card["inside"] >= len(card["rows"]) - 2
    for row in card["rows"]:
        assert row["expected_low"] < row["expected"] < row["expected_high"]
    assert calibration["try_next"][0]["gain"] >= calibration["try_next"][-1]["gain"]


def test_a_trial_narrows_what_is_predicted_until_it_is_set_aside(api: TestClient) -> None:
    before = predicted(api, "OK-21", "card_test")
    likely = 1.05 * before["central"]
    trial = begun(
        api, "OK-21", points=card_points(likely), protocol={**PROTOCOL, "angle_per_side_deg": 15.6}
    )
    assert trial["left_out"] == []
    tcc = next(f for f in trial["found"] if f["key"] == "card_test")
    assert tcc["value"] == pytest.approx(likely, rel=1e-3)
    assert tcc["predicted_low"] < tcc["predicted"] < tcc["predicted_high"]
    assert {fit["form"] for fit in trial["fits"]} == {"power", "exponential"}
    after = predicted(api, "OK-21", "card_test")
    assert width(after) < width(before)
    assert predicted(api, "OK-21", "card_test", "published")["central"] != after["central"]
    aside(api, trial)
    again = predicted(api, "OK-21", "card_test")
    assert (again["low"], again["high"]) == pytest.approx((before["low"], before["high"]))


def test_a_trial_nobody_expected_widens_what_is_predicted(api: TestClient) -> None:
    """Knives scatter more than was thought: the interval says so rather than hide it."""
    before, other = (predicted(api, tag, "card_test") for tag in ("OK-21", "KH-02"))
    trial = begun(api, "OK-21", points=card_points(0.3 * before["central"]))
    assert width(predicted(api, "KH-02", "card_test")) > width(other)
    aside(api, trial)


def test_published_is_the_same_whatever_was_tried(api: TestClient) -> None:
    before = predicted(api, "PM-27", "card_test", "published")
    trial = begun(api, "PM-27", points=card_points(900))
    assert predicted(api, "PM-27", "card_test", "published") == before
    aside(api, trial)


def test_a_trial_sent_twice_is_kept_once_and_the_newest_point_stands(api: TestClient) -> None:
    same = {"client_id": str(uuid.uuid4()), "points": card_points(300)[:5]}
    first, second = begun(api, "BF-16", **same), begun(api, "BF-16", **same)
    assert first["id"] == second["id"]
    assert [p["x"] for p in second["series"]] == [1, 2, 3, 4, 5]
    url = f"/api/trials/{first['id']}/points"
    mended = api.post(url, json={"points": [point(2, 9.5), point(3)]}).json()
    assert [(p["x"], p["value"]) for p in mended["series"]][1] == (2, 9.5)
    assert [p["x"] for p in mended["series"]] == [1, 2, 4, 5]


@pytest.mark.parametrize(
    ("kind", "points", "says"),
    [
        ("card", [point(61, 3.0)], "1 to 60"),
        ("card", [point(2.5, 3.0)], "whole number"),
        ("kitchen", [point(3, 2.0)], "no values"),
        ("line", [point(3, event="rod")], "a value"),
    ],
)
def test_what_no_point_is_is_refused(
    api: TestClient, kind: str, points: list[Json], says: str
) -> None:
    body = {
        "client_id": str(uuid.uuid4()),
        "piece_id": piece_id(api, "KH-01"),
        "kind": kind,
        "points": points,
    }
    answer = api.post("/api/trials", json=body)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]


def test_a_file_is_read_row_by_row_and_nothing_is_stored(api: TestClient) -> None:
    many = api.get("/api/trials").json()["counts"]
    text_of = "cycle,cut_mm\n1,15.2\n2,thick\n3,11.9\n3,11.8\n"
    found = api.post("/api/trials/read", json={"kind": "card", "text": text_of}).json()
    assert [(p["x"], p["value"]) for p in found["points"]] == [(1, 15.2), (3, 11.9)]
    assert [row["line"] for row in found["bad"]] == [3, 5]
    assert "it stands on line 4" in found["bad"][1]["why"]
    assert api.get("/api/trials").json()["counts"] == many


def test_what_was_not_stated_is_stated_later_and_then_it_counts(api: TestClient) -> None:
    trial = begun(api, "HS-17", protocol={}, points=card_points(300))
    assert trial["left_out"][0].startswith("not stated: how the edge was prepared, the angle")
    stated = api.post(f"/api/trials/{trial['id']}/protocol", json=PROTOCOL).json()
    assert stated["left_out"] == []
    older = {"If-Match": trial["etag"]}  # what it was before somebody stated it
    for what, body in (("protocol", PROTOCOL), ("aside", {"reason": "late"})):
        late = api.post(f"/api/trials/{trial['id']}/{what}", json=body, headers=older)
        assert late.status_code == 412
    aside(api, trial)


def test_a_tester_runs_cycle_by_cycle(api: TestClient, on_line: dict[str, int]) -> None:
    assert on_line["card_tester"]
    trial = begun(api, "QP-18", source="tester")
    for _ in range(4):
        assert api.post(f"/api/trials/{trial['id']}/cycle").status_code == 201
    shown = api.get(f"/api/trials/{trial['id']}").json()
    cuts = [p["value"] for p in shown["series"]]
    assert [p["x"] for p in shown["series"]] == [1, 2, 3, 4]
    assert cuts[0] > cuts[3] > 0
    assert shown["left_out"] == ["4 of 60 cycles"]
    line = begun(api, "QP-18", kind="line", source="tester")
    for cuts_before in (0, 40):
        url = f"/api/trials/{line['id']}/cycle"
        assert api.post(url, params={"cuts": cuts_before}).status_code == 201
    forces = api.get(f"/api/trials/{line['id']}").json()["series"]
    assert [p["x"] for p in forces] == [0, 40]
    assert 100 < forces[0]["value"] < forces[1]["value"] < 400
    typed = begun(api, "QP-18")
    assert "no tester" in api.post(f"/api/trials/{typed['id']}/cycle").json()["detail"]


def test_a_kept_prediction_comes_out_the_same_after_trials_and_coefficients_changed(
    api: TestClient,
) -> None:
    number = piece_id(api, "BT-27")
    kept = api.post(f"/api/pieces/{number}/stored-predictions", json={"note": "for the box"}).json()
    assert kept["models"]["card_test"] == MODEL_CARDS["card_test"].version
    trial = begun(api, "BT-27", points=card_points(700))
    trial_kept = next(
        k
        for k in api.get(f"/api/pieces/{number}/stored-predictions").json()
        if k["trial_id"] == trial["id"]
    )
    assert trial_kept["note"] == "before the trial"
    changed = set_coefficients(api, {"rod_days": 12.0, "tcc_per_hrc_mm": 14.0})
    try:
        for one in (kept, trial_kept):
            again = api.get(f"/api/stored-predictions/{one['id']}/again").json()
            assert again["same"], again["differing"]
            assert again["models_changed"] == []
        later = api.post(f"/api/pieces/{number}/stored-predictions", json={}).json()
        assert later["coefficients_version"] == changed["version"]
        assert later["numbers"] != kept["numbers"]
    finally:
        aside(api, trial)
        set_coefficients(api, {})


def set_coefficients(api: TestClient, changes: Json) -> Json:
    answer = api.post("/api/coefficients", json={"changes": changes, "note": "tried out"})
    assert answer.status_code == 201, answer.text
    made: Json = answer.json()
    return made


def test_coefficients_are_versions_and_an_older_screen_never_writes_over_a_newer(
    api: TestClient,
) -> None:
    rod = predicted(api, "KH-01", "days_to_rod", "published")["central"]
    first = set_coefficients(api, {"rod_days": 13.2})
    assert first["history"][0]["changes"] == {"rod_days": 13.2}
    doubled = predicted(api, "KH-01", "days_to_rod", "published")["central"]
    assert doubled == pytest.approx(2 * rod)
    set_coefficients(api, {})
    older = {"If-Match": first["etag"]}
    stale = {"changes": {}, "note": "x"}
    assert api.post("/api/coefficients", json=stale, headers=older).status_code == 412
    refused = {**stale, "changes": {"rod_days": -1.0}}
    assert "0.1 to 200" in api.post("/api/coefficients", json=refused).json()["detail"]
    assert predicted(api, "KH-01", "days_to_rod", "published")["central"] == pytest.approx(rod)


@pytest.mark.parametrize(
    "table",
    [
        "trials",
        "trial_points",
        "trial_protocols",
        "trial_marks",
        "coefficient_sets",
        "stored_predictions",
    ],
)
def test_trials_and_versions_cannot_be_changed(db: Session, table: str) -> None:
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text(f"DELETE FROM {table}"))


def test_what_is_not_there_or_cannot_be_is_said(api: TestClient) -> None:
    for path in (
        "/api/trials/999999",
        "/api/stored-predictions/999999/again",
        "/api/pieces/999999/stored-predictions",
    ):
        assert api.get(path).status_code == 404, path
    body = {"client_id": str(uuid.uuid4()), "piece_id": 999_999, "kind": "card"}
    assert api.post("/api/trials", json=body).status_code == 404
    log = {**body, "piece_id": piece_id(api, "KH-01"), "kind": "kitchen", "source": "tester"}
    refused = api.post("/api/trials", json=log)
    assert refused.status_code == 409
    assert "type the points" in refused.json()["detail"]
    too_deep = {"kind": "card", "text": "x" * 200_001}
    assert api.post("/api/trials/read", json=too_deep).status_code == 422
    wrong = {**body, "protocol": {"angle_per_side_deg": 80}}
    assert "angle_per_side_deg" in api.post("/api/trials", json=wrong).json()["errors"][0]["field"]


def test_the_sheet_shows_its_trials_and_what_was_kept_before_each(api: TestClient) -> None:
    number = piece_id(api, "HS-24")
    sheet = api.get(f"/api/pieces/{number}").json()
    assert {t["kind"] for t in sheet["trials"]} == {"card", "line"}
    assert any(t["summary"].startswith("TCC ") for t in sheet["trials"])
    kept = api.get(f"/api/pieces/{number}/stored-predictions").json()
    assert {k["trial_id"] for k in kept} >= {t["id"] for t in sheet["trials"]}
    for one in kept:
        assert one["basis"] == "published"
        low, high = next(n["numbers"][1:] for n in one["numbers"] if n["key"] == "card_test")
        assert low < high


def test_ten_thousand_trials_are_paged(api: TestClient) -> None:
    first = api.get("/api/trials", params={"kind": "card", "limit": 2}).json()
    assert len(first["trials"]) == 2
    assert first["counts"]["card"] > 2
    assert api.get("/api/trials", params={"limit": 501}).status_code == 422
    assert api.get("/api/trials", params={"kind": "paper cut"}).status_code == 422


def test_a_series_that_does_not_scatter_is_told_without_a_number_that_is_none(
    api: TestClient,
) -> None:
    level = [point(i, 5.0) for i in range(1, 61)]
    trial = begun(api, "BF-16", points=level)
    for fit in trial["fits"]:
        assert fit["rate"] == [0, 0, 0]
        assert fit["half_life"] == [None, None, None]
    assert trial["summary"] == "TCC 300 mm"
    aside(api, trial)

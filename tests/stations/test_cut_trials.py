"""Cut trials from file to calibrated foods, over the API of the demo shop."""

from __future__ import annotations

import math
import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS
from maple_rook.demo.cut_trials import RESISTS, TAGS

ASSUMED = "From assumed foods"


def piece(api: TestClient, tag: str) -> int:
    return next(
        row["piece"]["id"]
        for row in api.get("/api/rack", params={"search": tag}).json()["rows"]
        if row["piece"]["tag"] == tag
    )


def predicted(api: TestClient, tag: str, key: str, basis: str) -> dict[str, Any]:
    sheet = api.get(f"/api/pieces/{piece(api, tag)}", params={"basis": basis}).json()
    found: dict[str, Any] = next(p for p in sheet["predictions"] if p["key"] == key)
    return found


def session_of(api: TestClient, **more: Any) -> dict[str, Any]:
    body = {"client_id": str(uuid.uuid4()), "cuts": [], **more}
    answer = api.post("/api/cut-trials", json=body)
    assert answer.status_code == 201, answer.text
    found: dict[str, Any] = answer.json()
    return found


def cut(piece_id: int, food: str = "onion", force: float = 30.0, **more: Any) -> dict[str, Any]:
    return {
        "client_id": str(uuid.uuid4()),
        **{"piece_id": piece_id, "food": food, "force_n": [force], **more},
    }


def test_the_demos_session_finds_the_foods_it_was_made_of(api: TestClient) -> None:
    found = api.get("/api/cut-trials/calibration").json()
    assert {f["key"]: (f["knives"], f["cuts"]) for f in found["foods"]} == {
        key: (len(TAGS), len(TAGS)) for key in RESISTS
    }
    for food in found["foods"]:
        for parameter, times in zip(food["parameters"], RESISTS[food["key"]], strict=True):
            assert parameter["before"] == getattr(FOODS[food["key"]], parameter["key"])
            off = math.log(parameter["after"] / (parameter["before"] * times))
            assert abs(off) < 2 * parameter["sd_after"]
            assert parameter["sd_after"] <= parameter["sd_before"]
    assert found["error_left_out"] < found["error_assumed"]
    assert len(found["rows"]) == len(TAGS) * len(RESISTS)
    assert not {row["id"] for row in found["left_out"]} & {row["id"] for row in found["rows"]}


def test_a_file_comes_back_as_it_went_out(api: TestClient) -> None:
    listed = api.get("/api/cut-trials").json()["sessions"][-1]
    assert (listed["knives"], listed["cuts"]) == (list(TAGS), 12)
    out = api.get(f"/api/cut-trials/{listed['id']}/cuts.csv")
    read = api.post("/api/cut-trials/read", json={"text": out.text}).json()
    assert read["bad"] == []
    assert [c["wrong"] for c in read["cuts"]] == [""] * 12
    shown = api.get(f"/api/cut-trials/{listed['id']}").json()["tried"]
    for again, stored in zip(read["cuts"], shown, strict=True):
        assert (again["piece_id"], again["food_key"]) == (stored["piece_id"], stored["food"])
        assert again["force_n"] == pytest.approx(stored["force_n"])
        assert len(stored["assumed_n"]) == len(stored["calibrated_n"]) == len(stored["depth_mm"])


def test_forces_say_what_their_food_rests_on(api: TestClient) -> None:
    carrot = predicted(api, "PM-21", "force.carrot.push", "calibrated")
    assumed = predicted(api, "PM-21", "force.carrot.push", "published")
    assert any("cut trials of this shop (4 knives)" in note for note in carrot["notes"])
    assert any(note.startswith(ASSUMED) for note in assumed["notes"])
    assert carrot["high"] / carrot["low"] < 0.8 * assumed["high"] / assumed["low"]
    onion = predicted(api, "PM-21", "force.onion.push", "calibrated")
    assert any(note.startswith(ASSUMED) for note in onion["notes"])
    ease = predicted(api, "PM-21", "cutting_ease", "calibrated")
    assert any("the other foods assumed" in note for note in ease["notes"])
    part = api.get(f"/api/pieces/{piece(api, 'PM-21')}/cut", params={"food": "carrot"}).json()
    assert part["food_words"].startswith("Foods from cut trials")


def test_peaks_of_several_knives_move_a_food_and_one_set_aside_moves_it_back(
    api: TestClient,
) -> None:
    before = predicted(api, "PM-21", "force.onion.push", "calibrated")["central"]
    pieces = [piece(api, tag) for tag in TAGS]
    peaks = [cut(p, force=2.0 * before, lot="bag of the tenth") for p in pieces]
    made = session_of(api, note="peaks on the scale", cuts=peaks)
    assert [c["peak_n"] for c in made["tried"]] == [pytest.approx(2 * before)] * 4
    moved = predicted(api, "PM-21", "force.onion.push", "calibrated")["central"]
    assert 1.2 * before < moved < 2 * before
    again = api.post("/api/cut-trials", json={"client_id": str(uuid.uuid4()), "cuts": peaks})
    assert again.json()["cuts"] == 0  # each cut is kept once, in whichever session
    for tried in made["tried"]:
        aside = api.post(
            f"/api/cut-trials/cuts/{tried['id']}/aside", json={"reason": "board not tared"}
        )
        assert aside.status_code == 201
    assert {c["left_out"] for c in aside.json()["tried"]} == {"set aside: board not tared"}
    back = predicted(api, "PM-21", "force.onion.push", "calibrated")["central"]
    assert back == pytest.approx(before)


HEAD = "knife;food;depth mm;force N\n"


@pytest.mark.parametrize(
    ("content", "word"),
    [
        ("", "a heading and a line"),
        ("a;b\n1;2", "columns of knife, food, force"),
        (HEAD, "a line for each reading"),
        ("knife;food;force furlongs\nKH-01;carrot;3", "force in n, g"),
    ],
)
def test_a_file_that_is_none_is_refused_in_words(api: TestClient, content: str, word: str) -> None:
    answer = api.post("/api/cut-trials/read", json={"text": content})
    assert answer.status_code == 422
    assert word in answer.json()["detail"]


def lines(tag: str, food: str, pairs: list[tuple[float, object]]) -> str:
    return HEAD + "".join(f"{tag};{food};{d};{f}\n" for d, f in pairs)


def test_what_is_odd_in_a_file_is_told_by_cut_and_line(api: TestClient) -> None:
    rows = [(d, d + 1) for d in range(2, 29, 2)]
    swapped = [(30 * (d % 7), d) for d in range(2, 29, 2)]

    def only(content: str) -> dict[str, Any]:
        found = api.post("/api/cut-trials/read", json={"text": content}).json()
        return {**found["cuts"][0], "bad": found["bad"]} if found["cuts"] else found

    assert only(lines("kh-01", "Carrot", rows))["wrong"] == ""
    assert "no piece has the tag XX-99" in only(lines("XX-99", "carrot", rows))["wrong"]
    assert "no food of the shop is called mango" in only(lines("KH-01", "mango", rows))["wrong"]
    assert "look swapped" in only(lines("KH-01", "carrot", swapped))["wrong"]
    flat = [(d, min(f, 12)) for d, f in rows]
    assert "saturated" in only(lines("KH-01", "carrot", flat))["notes"][0]
    gap = [row for row in rows if not 8 < row[0] < 22]
    assert only(lines("KH-01", "carrot", gap))["notes"] == ["nothing read from 8 to 22 mm"]
    bad = only(lines("KH-01", "carrot", [*rows, (28, "hard")]))["bad"]
    assert [(row["line"], "a number" in row["why"]) for row in bad] == [(16, True)]


@pytest.mark.parametrize(
    "wrong",
    [
        {"food": "mango"},
        {"piece_id": 999_999},
        {"force_n": [0]},
        {"force_n": [3, 4]},
        {"depth_mm": [1, 2], "force_n": [3]},
        {"stroke": "saw"},
        {"force_n": []},
        {"height_mm": 0},
    ],
)
def test_no_cut_is_kept_that_is_none(api: TestClient, wrong: dict[str, Any]) -> None:
    before = api.get("/api/cut-trials").json()["sessions"]
    body = {"client_id": str(uuid.uuid4()), "cuts": [{**cut(piece(api, "KH-01")), **wrong}]}
    assert api.post("/api/cut-trials", json=body).status_code in (404, 422)
    assert api.get("/api/cut-trials").json()["sessions"] == before


def test_a_knife_that_cannot_be_predicted_is_left_out_with_its_reason(api: TestClient) -> None:
    body = {"tag": f"T-{uuid.uuid4().hex[:6]}", "model_id": 1}
    sheet = api.post("/api/bench/pieces", json=body).json()["id"]
    blank = api.get(f"/api/bench/sheets/{sheet}").json()["piece"]["id"]
    made = session_of(api, cuts=[cut(blank, "carrot")])
    [tried] = made["tried"]
    assert tried["left_out"]
    assert tried["assumed_n"] == []
    calibration = api.get("/api/cut-trials/calibration").json()
    assert tried["id"] in [row["id"] for row in calibration["left_out"]]


def test_without_a_scale_on_the_line_the_peak_is_typed(api: TestClient) -> None:
    made = session_of(api)
    body = {"piece_id": piece(api, "KH-01"), "food": "carrot"}
    answer = api.post(f"/api/cut-trials/{made['id']}/peak", json=body)
    assert answer.status_code == 409
    assert "type the peak" in answer.json()["detail"]
    assert api.post("/api/cut-trials/999999/peak", json=body).status_code == 404


@pytest.mark.parametrize("table", ["cut_sessions", "cuts", "cut_marks"])
def test_cut_trials_cannot_be_changed(db: Session, table: str) -> None:
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text(f"DELETE FROM {table}"))

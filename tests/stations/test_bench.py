"""The Bench over the API: entering a piece, readings once each, and every bad input."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient

Json = dict[str, Any]


def new_piece(api: TestClient, **changes: object) -> Json:
    body = {"tag": f"B-{uuid.uuid4().hex[:8]}", "model_id": 1, **changes}
    answer = api.post("/api/bench/pieces", json=body)
    assert answer.status_code == 201, answer.text
    state: Json = answer.json()
    return state


def reading(quantity: str = "weight", typed: str = "186 g", **more: object) -> Json:
    return {"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed, **more}


@pytest.fixture
def sheet(api: TestClient) -> int:
    return int(new_piece(api)["id"])


def take(api: TestClient, sheet: int, body: Json) -> Json:
    """Store a reading; the sheet as it stands then."""
    answer = api.post(f"/api/bench/sheets/{sheet}/readings", json=body)
    assert answer.status_code == 201, answer.text
    assert answer.json()["client_id"] == body["client_id"]
    return state_of(api, sheet)


def state_of(api: TestClient, sheet: int) -> Json:
    state: Json = api.get(f"/api/bench/sheets/{sheet}").json()
    return state


def refused(api: TestClient, sheet: int, body: object) -> Json:
    """The problem a reading is refused with; nothing is stored."""
    before = api.get(f"/api/bench/sheets/{sheet}").json()["readings"]
    answer = api.post(f"/api/bench/sheets/{sheet}/readings", json=body)
    assert 400 <= answer.status_code < 500, answer.text
    assert answer.headers["content-type"] == "application/problem+json"
    assert "Traceback" not in answer.text
    assert api.get(f"/api/bench/sheets/{sheet}").json()["readings"] == before
    problem: Json = answer.json()
    return problem


def test_a_whole_sheet_with_mixed_units(api: TestClient, sheet: int) -> None:
    for quantity, typed in [
        ("weight", "6.9oz"),
        ("edge_length", "8 1/4 in"),
        ("overall_length", "342 mm"),
        ("handle_length", "126"),
        ("spine_heel", "2,12 mm"),
        ("spine_mid", "1.84"),
        ("spine_tip", "0.72"),
        ("height_heel", "46.2"),
        ("thickness_behind_edge", "0.27"),
        ("edge_angle", "30° incl"),
        ("asymmetry", "60/40"),
        ("hardness", "60.5"),
        ("balance_point", "6"),
    ]:
        state = take(api, sheet, reading(quantity, typed))
    measured = ("weigh", "lengths", "spine", "heights", "edge", "hardness", "balance")
    assert {state["stops"][stop] for stop in measured} == {"done"}
    assert state["checks"] == []
    assert state["section"] is not None
    figures = {key: f["mean"] for key, f in state["figures"].items()}
    assert figures["weight"] == pytest.approx(6.9 * 28.349523125)
    assert figures["edge_length"] == pytest.approx(8.25 * 25.4)
    assert figures["edge_angle"] == pytest.approx(15)
    assert figures["asymmetry"] == 60


def test_a_reading_keeps_what_was_typed_and_who_took_it(api: TestClient, sheet: int) -> None:
    (kept,) = take(api, sheet, reading("spine_mid", "0.072 in"))["readings"]
    assert (kept["typed"], kept["value"], kept["unit"]) == ("0.072 in", 0.072, "in")
    assert kept["si_value"] == pytest.approx(1.8288)
    assert (kept["si_unit"], kept["replicate"], kept["method"]) == ("mm", 1, "manual")
    assert (kept["person"], kept["station"]) == ("Otta in the office", "middle")
    assert "caliper" in kept["instrument"]


def test_the_same_reading_sent_twice_is_kept_once(api: TestClient, sheet: int) -> None:
    body = reading()
    take(api, sheet, body)
    state = take(api, sheet, body)
    assert len(state["readings"]) == 1


def test_repeats_are_numbered_and_averaged(api: TestClient, sheet: int) -> None:
    for typed in ("2.12", "2.14", "2.10"):
        state = take(api, sheet, reading("spine_heel", typed))
    assert [r["replicate"] for r in state["readings"]] == [1, 2, 3]
    assert state["figures"]["spine_heel"]["mean"] == pytest.approx(2.12)
    assert state["figures"]["spine_heel"]["spread"] == pytest.approx(0.04)


def test_a_void_is_taken_back_once_and_its_line_stays(api: TestClient, sheet: int) -> None:
    body = {**reading("hardness", "60.5"), "along_mm": 44}
    taken = body["client_id"]
    take(api, sheet, body)
    restore = f"/api/bench/readings/{taken}/restore"
    assert api.post(restore).json()["client_id"] == taken  # it counts: left as it is
    api.post(f"/api/bench/readings/{taken}/void", json={"reason": "slipped"})
    again = [api.post(restore).json()["client_id"] for _ in range(2)]
    voided, restored = api.get(f"/api/bench/sheets/{sheet}").json()["readings"]
    assert (voided["voided"], restored["voided"]) == ("slipped", None)
    assert again == [restored["client_id"]] * 2
    same = ("typed", "si_value", "along_mm", "instrument", "taken_at", "person")
    assert [restored[key] for key in same] == [voided[key] for key in same]
    assert restored["replicate"] == 2
    api.post(f"/api/bench/readings/{restored['client_id']}/void", json={"reason": "misread"})
    api.post(f"/api/bench/readings/{restored['client_id']}/restore")
    left = api.get(f"/api/bench/sheets/{sheet}").json()
    assert [r["voided"] for r in left["readings"]] == ["slipped", "misread", None]
    api.post(f"/api/bench/sheets/{sheet}/sign-off")
    assert api.post(restore).status_code == 409
    assert api.post(f"/api/bench/readings/{uuid.uuid4()}/restore").status_code == 404


def test_a_voided_reading_stays_in_the_history(api: TestClient, sheet: int) -> None:
    state = take(api, sheet, reading())
    number = state["readings"][0]["client_id"]
    for reason in ("wrong knife", "said twice"):
        answer = api.post(f"/api/bench/readings/{number}/void", json={"reason": reason})
        assert answer.status_code == 200
    state = state_of(api, sheet)
    assert state["figures"] == {}
    assert state["readings"][0]["voided"] == "wrong knife"


def test_an_unusual_value_is_asked_about_then_kept_and_marked(api: TestClient, sheet: int) -> None:
    body = reading("edge_angle", "30")
    problem = refused(api, sheet, body)
    assert problem["type"] == "unusual-value"
    assert problem["suggestion"] == "30 incl"
    assert "typical 9 to 16" in problem["detail"]
    state = take(api, sheet, {**body, "confirmed": True})
    assert state["readings"][0]["unusual_confirmed"]


def test_a_bare_number_takes_the_chosen_unit(api: TestClient, sheet: int) -> None:
    state = take(api, sheet, reading("weight", "6.9", default_unit="oz"))
    assert state["figures"]["weight"]["mean"] == pytest.approx(195.6, abs=0.1)


def test_a_signed_off_sheet_takes_no_more_and_a_new_one_is_begun(
    api: TestClient, sheet: int
) -> None:
    piece = take(api, sheet, reading())["piece"]["id"]
    assert api.post(f"/api/bench/sheets/{sheet}/sign-off").json()["finished_at"]
    assert "signed off" in refused(api, sheet, reading())["detail"]
    again = api.post(f"/api/bench/pieces/{piece}/sheets").json()
    assert again["id"] != sheet
    assert api.post(f"/api/bench/pieces/{piece}/sheets").json()["id"] == again["id"]


def test_an_empty_sheet_cannot_be_signed_off(api: TestClient, sheet: int) -> None:
    answer = api.post(f"/api/bench/sheets/{sheet}/sign-off")
    assert (answer.status_code, answer.json()["type"]) == (409, "conflict")


@pytest.mark.parametrize(
    ("quantity", "typed", "field", "accepted"),
    [
        ("hardness", "75", "hardness", "20 to 70 HRC"),
        ("edge_angle", "60 dps", "edge angle", "3 to 45 degrees per side"),
        ("spine_heel", "3 in", "spine at heel", "0.3 to 12 mm"),
        ("spine_heel", "NaN", "spine at heel", "a number in mm"),
        ("weight", "heavy", "weight", "a number in g"),
        ("weight", "12 stone", "weight", "a number in g"),
        ("weight", "186 mm", "weight", "a number in g"),
        ("sharpness", "6", "quantity", "weight, edge_length"),
        ("weight", "", "typed", "a value; it is required"),
        pytest.param("weight", "9" * 2_000_000, "typed", "64 characters or fewer", id="long"),
        ("weight", "18\u00006", "typed", "not text"),
    ],
)
def test_bad_readings_name_field_value_and_accepted_range(
    api: TestClient, sheet: int, quantity: str, typed: str, field: str, accepted: str
) -> None:
    problem = refused(api, sheet, reading(quantity, typed))
    (error,) = problem["errors"]
    assert error["field"] == field
    assert accepted in error["accepted"]
    assert len(str(problem)) < 1500


@pytest.mark.parametrize(
    "body",
    [
        {},
        [],
        "reading",
        None,
        {"client_id": "not-a-uuid", "quantity": "weight", "typed": "186"},
        {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": 186},
        {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186", "colour": "red"},
        {"client_id": str(uuid.uuid4()), "quantity": "weight", "typed": "186", "default_unit": "x"},
        {
            "client_id": str(uuid.uuid4()),
            "quantity": "weight",
            "typed": "186",
            "taken_at": "yesterday",
        },
    ],
)
def test_malformed_bodies_are_refused_in_words(api: TestClient, sheet: int, body: object) -> None:
    problem = refused(api, sheet, body)
    assert problem["errors"]
    assert all(error["field"] for error in problem["errors"])


def test_nan_in_the_json_itself_is_refused(api: TestClient, sheet: int) -> None:
    text = f'{{"client_id": "{uuid.uuid4()}", "quantity": "weight", "typed": NaN}}'
    answer = api.post(
        f"/api/bench/sheets/{sheet}/readings",
        content=text,
        headers={"content-type": "application/json"},
    )
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "typed"


def test_a_body_beyond_all_measure_is_refused_unread(api: TestClient, sheet: int) -> None:
    answer = api.post(f"/api/bench/sheets/{sheet}/readings", content=b"x" * 5_000_000)
    assert (answer.status_code, answer.json()["type"]) == (413, "too-large")


@pytest.mark.parametrize(
    ("path", "status"),
    [
        ("/api/bench/sheets/999999", 404),
        ("/api/bench/sheets/0", 422),
        ("/api/bench/sheets/99999999999999999999", 422),
        ("/api/bench/sheets/one", 422),
        ("/api/pieces/999999", 404),
        ("/api/board/drawings/outline.svg?piece=1", 422),
        ("/api/board/saved/999999", 404),
        ("/api/rack?sort=colour", 422),
        ("/api/rack?within=weight:a:b", 422),
        ("/api/rack?within=colour:1:2", 422),
        ("/api/rack?limit=100000", 422),
        ("/api/pieces/1?use=spaceship", 422),
        ("/api/nowhere", 404),
    ],
)
def test_bad_addresses_are_problems_too(api: TestClient, path: str, status: int) -> None:
    answer = api.get(path)
    assert answer.status_code == status
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["detail"]


def test_a_piece_tag_is_used_once(api: TestClient) -> None:
    state = new_piece(api)
    answer = api.post("/api/bench/pieces", json={"tag": state["piece"]["tag"], "model_id": 1})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == "tag"


def test_a_new_model_comes_with_its_claims(api: TestClient) -> None:
    model = {
        "maker": "Test Smithy",
        "line": uuid.uuid4().hex[:6],
        "knife_type": "santoku",
        "nominal": "6 1/2 in",
        "steel": "1.4116",
        "grind": "full_flat",
        "price": 79.5,
        "claims": [{"quantity": "hardness", "printed": "58±2"}],
    }
    state = new_piece(api, model_id=None, model=model)
    assert state["piece"]["nominal_mm"] == pytest.approx(165.1)
    assert state["piece"]["reactivity"] == "stainless"
    found = api.get(f"/api/pieces/{state['piece']['id']}").json()
    (claim,) = found["claims"]
    assert (claim["low"], claim["high"], claim["verdict"]) == (56, 60, "not_measured")
    twice = api.post("/api/bench/pieces", json={"tag": uuid.uuid4().hex[:8], "model": model})
    assert "Choose it from the list" in twice.json()["detail"]


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"knife_type": "katana"}, "knife type"),
        ({"steel": "wonder steel"}, "steel"),
        ({"nominal": "a foot"}, "edge length"),
        ({"price": -1}, "model.price"),
        ({"grind": "wavy"}, "model.grind"),
        ({"claims": [{"quantity": "hardness", "printed": "90 HRC"}]}, "claim on hardness"),
        ({"maker": " "}, "model.maker"),
    ],
)
def test_a_bad_model_is_refused_whole(api: TestClient, changes: Json, field: str) -> None:
    model = {"maker": "Test Smithy", "line": "Bad", "knife_type": "gyuto", "nominal": "210"}
    tag = uuid.uuid4().hex[:8]
    answer = api.post("/api/bench/pieces", json={"tag": tag, "model": {**model, **changes}})
    assert answer.status_code == 422
    assert answer.json()["errors"][0]["field"] == field
    assert not any(tag in s["name"] for s in api.get("/api/bench").json()["open_sheets"])


def test_either_a_model_or_its_number_never_both(api: TestClient) -> None:
    answer = api.post("/api/bench/pieces", json={"tag": "X"})
    assert answer.status_code == 422
    assert "either model_id or model" in answer.json()["detail"]

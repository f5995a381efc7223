"""Two people with one thing before their eyes: whoever saw an older one changes nothing."""

from __future__ import annotations

import uuid
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine, func, select, text

from maple_rook.store.database import sessions
from maple_rook.store.people_tables import RequestKey
from maple_rook.store.tables import Piece

FOOD = {
    "toughness_j_m2": 900,
    "blunting_um": 9,
    "modulus_mpa": 2.0,
    "crush_mpa": 1.0,
    "crush_mm": 1.0,
    "stiffness_n_mm3": 1,
    "friction": 0.4,
    "adhesion_kpa": 0.5,
    "height_mm": 4,
    "width_mm": 30,
    "slice_stiffness": 0.2,
}
GAUGE = {"kind": "caliper", "resolution": 0.01, "mpe": 0.03}


def named(rows: list[dict[str, Any]], key: str, value: object) -> dict[str, Any]:
    return next(row for row in rows if row[key] == value)


@pytest.fixture
def editable(api: TestClient) -> list[tuple[str, str, dict[str, Any], str]]:
    """Method, path, body and entity tag of one of everything that is edited."""
    name = f"gauge {uuid.uuid4().hex[:6]}"
    gauge = api.post("/api/instruments", json={**GAUGE, "name": name}).json()
    food = api.get("/api/foods").json()["foods"][0]
    label = f"label {uuid.uuid4().hex[:6]}"
    kept = api.post("/api/counter/customers", json={"label": label, "profile": {}})
    customer = next(c for c in kept.json() if c["profile"]["label"] == label)
    page = api.get("/api/pieces/2/public").json()
    coefficients = api.get("/api/coefficients").json()
    return [
        (
            "PUT",
            f"/api/instruments/{gauge['id']}",
            {**GAUGE, "name": name, "mpe": 0.02},
            gauge["etag"],
        ),
        ("PUT", f"/api/foods/{food['key']}", {**FOOD, "label": food["label"]}, food["etag"]),
        (
            "POST",
            "/api/counter/customers",
            {"label": label, "profile": {"budget": 100}},
            customer["etag"],
        ),
        ("PUT", "/api/pieces/2/public", {"on": False, "shown": ["weight"]}, page["etag"]),
        ("POST", "/api/coefficients", {"changes": {}, "note": "again"}, coefficients["etag"]),
    ]


def test_a_change_says_what_it_saw_and_the_second_one_is_refused(
    api: TestClient, editable: list[tuple[str, str, dict[str, Any], str]]
) -> None:
    try:
        for method, path, body, tag in editable:
            without = api.request(method, path, json=body, headers={"If-Match": ""})
            assert without.status_code == 428, path
            seen = {"If-Match": tag}
            first = api.request(method, path, json=body, headers=seen)
            assert first.status_code in (200, 201), (path, first.text)
            second = api.request(method, path, json=body, headers=seen)
            assert (second.status_code, second.json()["type"]) == (412, "changed-meanwhile"), path
    finally:
        api.post("/api/foods/restore")


def test_a_request_with_a_key_is_done_once_however_often_it_is_sent(
    api: TestClient, engine: Engine
) -> None:
    tag = f"ONCE-{uuid.uuid4().hex[:6]}"
    body, key = {"tag": tag, "model_id": 1}, {"Idempotency-Key": str(uuid.uuid4())}

    def send(_: int) -> tuple[int, Any]:
        answer = api.post("/api/bench/pieces", json=body, headers=key)
        return answer.status_code, answer.json().get("id")

    with ThreadPoolExecutor(8) as crowd:
        answers = set(crowd.map(send, range(8)))
    assert {status for status, _ in answers} <= {201, 409}
    again = api.post("/api/bench/pieces", json=body, headers=key)
    assert (again.status_code, again.headers["idempotency-replayed"]) == (201, "true")
    assert {(201, again.json()["id"])} == {a for a in answers if a[0] == 201}
    other = api.post("/api/bench/pieces", json={**body, "tag": "OTHER"}, headers=key)
    assert other.status_code == 422
    with sessions(engine)() as db:
        assert db.scalar(select(func.count()).where(Piece.tag == tag)) == 1
        db.execute(text("UPDATE request_keys SET status = NULL, answer = NULL"))
        db.commit()
    lost = api.post("/api/bench/pieces", json=body, headers=key)
    assert (lost.status_code, lost.json()["type"]) == (409, "done-already")


def test_what_was_refused_may_be_sent_again_with_its_key(api: TestClient, engine: Engine) -> None:
    key = {"Idempotency-Key": str(uuid.uuid4())}
    tag = f"MEND-{uuid.uuid4().hex[:6]}"
    wrong = api.post("/api/bench/pieces", json={"tag": tag, "model_id": 999_999}, headers=key)
    assert wrong.status_code in (404, 422)
    right = api.post("/api/bench/pieces", json={"tag": tag, "model_id": 1}, headers=key)
    assert right.status_code == 201
    nonsense = api.post("/api/bench/pieces", json={}, headers={"Idempotency-Key": "once"})
    assert nonsense.status_code == 422
    with sessions(engine)() as db:
        assert db.get(RequestKey, (1, uuid.UUID(key["Idempotency-Key"]))) is not None

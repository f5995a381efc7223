"""Readings taken with what every shop has, on a sheet: once, wide, and told by what."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient

LASER = {"distance": 300, "apart": 346.41}


@pytest.fixture(scope="module")
def sheet(api: TestClient) -> int:
    body = {"tag": f"PM-{uuid.uuid4().hex[:6]}", "model_id": 1}
    found: int = api.post("/api/bench/pieces", json=body).json()["id"]
    return found


def taken(api: TestClient, sheet: int, method: str, given: Any, **more: Any) -> Any:
    body = {"client_id": str(uuid.uuid4()), "given": given, **more}
    return api.post(f"/api/bench/sheets/{sheet}/methods/{method}", json=body)


def readings(api: TestClient, sheet: int, quantity: str) -> list[dict[str, Any]]:
    state = api.get(f"/api/bench/sheets/{sheet}").json()
    return [r for r in state["readings"] if r["quantity"] == quantity]


def test_a_laser_reading_says_how_it_was_taken_and_how_wide_it_is(
    api: TestClient, sheet: int
) -> None:
    shown = api.post("/api/bench/methods/laser", json={"given": LASER}).json()
    assert (round(shown["value"], 2), shown["unit"]) == (15.0, "dps")
    assert taken(api, sheet, "laser", LASER).status_code == 201
    [reading] = readings(api, sheet, "edge_angle")
    assert reading["instrument"] == "laser pointer and a wall"
    assert "between the two spots 346.41 mm" in reading["note"]
    figures = api.get(f"/api/bench/sheets/{sheet}").json()["figures"]
    # its own uncertainty counts, and not that of an angle gauge that nobody used
    assert figures["edge_angle"]["expanded"] == pytest.approx(shown["expanded"], rel=1e-3)


def test_a_scale_reads_forces_of_lines_and_of_paper_apart(api: TestClient, sheet: int) -> None:
    for method, quantity in (
        ("line_on_scale", "sharpness_force"),
        ("paper_on_scale", "paper_cut_force"),
    ):
        answer = taken(api, sheet, method, {"peak": 250}, confirmed=True)
        assert answer.status_code == 201, answer.text
        [reading] = readings(api, sheet, quantity)
        assert reading["si_value"] == pytest.approx(0.25 * 9.80665, rel=1e-3)


def test_the_same_reading_is_kept_once(api: TestClient, sheet: int) -> None:
    before = len(readings(api, sheet, "edge_angle"))
    body = {"client_id": str(uuid.uuid4()), "given": LASER}
    address = f"/api/bench/sheets/{sheet}/methods/laser"
    first, again = (api.post(address, json=body).json() for _ in range(2))
    assert first == again
    assert len(readings(api, sheet, "edge_angle")) == before + 1


def test_what_is_unusual_is_asked_and_what_cannot_be_is_refused(
    api: TestClient, sheet: int
) -> None:
    steep = {"distance": 300, "apart": 2000}
    asked = taken(api, sheet, "laser", steep)
    assert (asked.status_code, asked.json()["type"]) == (422, "unusual-value")
    assert "unusual for a gyuto" in asked.json()["detail"]
    assert taken(api, sheet, "laser", {"distance": 300}).status_code == 422
    assert taken(api, sheet, "guess", LASER).status_code == 422

"""How much the shop's instruments scatter: shown, adopted, studied, and what it does to figures."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient

from maple_rook.core.measurement.quantities import QUANTITIES

SPINE = QUANTITIES["spine_heel"]


def expanded(api: TestClient, quantity: str) -> float:
    """U of a quantity of the first piece, as its sheet shows it."""
    figures = api.get("/api/pieces/1").json()["figures"]
    found: float = figures[quantity]["expanded"]
    return found


def row(api: TestClient, quantity: str) -> dict[str, Any]:
    rows = api.get("/api/repeatability").json()["rows"]
    return next(r for r in rows if r["quantity"] == quantity and r["own"])


def study(instrument_id: int, **changes: Any) -> dict[str, Any]:
    return {
        "client_id": str(uuid.uuid4()),
        "quantity": "spine_heel",
        "instrument_id": instrument_id,
        "people": ["Ada", "Ben"],
        "pieces": ["one", "two"],
        "readings": [
            [["2.20", "2.30 mm"], ["1.90", "2.00"]],
            [["2.40", "2.50"], ["2.10", "2.20"]],
        ],
        **changes,
    }


def test_own_repeats_are_shown_beside_what_is_usual(api: TestClient) -> None:
    found = row(api, "spine_heel")
    assert found["usual"] == SPINE.repeatability == found["used"]
    assert found["own"]["freedom"] > 0
    assert found["adopted"] is None
    answer = api.get("/api/repeatability").json()
    reads = next(i for i in answer["instruments"] if i["id"] == found["instrument_id"])
    assert "spine_heel" in reads["quantities"]


def test_a_study_is_stored_once_and_every_figure_follows_until_it_is_taken_back(
    api: TestClient,
) -> None:
    instrument = row(api, "spine_heel")["instrument_id"]
    before = expanded(api, "spine_heel")
    asked = study(instrument)
    seen = api.post("/api/repeatability/studies/preview", json=asked).json()
    assert seen["repeatability"] == pytest.approx(0.1 / 2**0.5)
    assert seen["between_people"] == pytest.approx(0.2 / 2**0.5)
    assert expanded(api, "spine_heel") == before
    for _ in range(2):
        assert api.post("/api/repeatability/studies", json=asked).status_code == 201
    found = row(api, "spine_heel")
    assert found["adopted"]["from_study"]
    assert found["used"] == pytest.approx(seen["used"])
    assert expanded(api, "spine_heel") > before + 2 * 0.1
    assert expanded(api, "weight") == pytest.approx(expanded(api, "weight"))
    back = {
        "client_id": str(uuid.uuid4()),
        "quantity": "spine_heel",
        "instrument_id": instrument,
        "own": False,
    }
    assert api.post("/api/repeatability", json=back).status_code == 201
    assert row(api, "spine_heel")["adopted"] is None
    assert expanded(api, "spine_heel") == pytest.approx(before)


def test_the_records_own_repeats_can_be_adopted(api: TestClient) -> None:
    found = row(api, "spine_heel")
    asked = {
        "client_id": str(uuid.uuid4()),
        "quantity": "spine_heel",
        "instrument_id": found["instrument_id"],
        "own": True,
    }
    assert api.post("/api/repeatability", json=asked).status_code == 201
    now = row(api, "spine_heel")
    low, high = sorted((found["own"]["deviation"], SPINE.repeatability))
    assert low <= now["used"] <= high
    assert not now["adopted"]["from_study"]
    assert now["adopted"]["freedom"] == found["own"]["freedom"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"quantity": "weight"}, "for weight"),
        ({"people": ["Ada"]}, "people"),
        ({"readings": [[["2.2", "2.2"], ["2.0"]], [["2.2", "2.2"], ["2.0", "2.0"]]]}, "as often"),
        ({"readings": [[["76", "2.2"], ["2", "2"]], [["2.2", "2.2"], ["2.0", "2.0"]]]}, "12 mm"),
    ],
)
def test_a_study_that_cannot_be_is_refused_in_words(
    api: TestClient, changes: dict[str, Any], says: str
) -> None:
    instrument = row(api, "spine_heel")["instrument_id"]
    answer = api.post("/api/repeatability/studies", json=study(instrument, **changes))
    assert answer.status_code == 422
    assert says in answer.text

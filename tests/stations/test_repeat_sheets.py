"""A piece measured twice: what the second sheet says against the first. Common practice."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from stations.test_bench import Json, new_piece, reading, take

FIRST = {
    "weight": "186 g",
    "edge_length": "209 mm",
    "spine_heel": "2.12",
    "height_heel": "46.2",
    "thickness_behind_edge": "0.25",
    "edge_angle": "15",
}


def twice(api: TestClient, changes: dict[str, str]) -> Json:
    """The same piece on two sheets, some readings changed on the second, and what is told."""
    begun = new_piece(api)
    first = begun["id"]
    for quantity, typed in 3 * list(FIRST.items()):
        take(api, first, reading(quantity, typed))
    api.post(f"/api/bench/sheets/{first}/sign-off")
    second = api.post(f"/api/bench/pieces/{begun['piece']['id']}/sheets").json()["id"]
    for quantity, typed in 3 * list({**FIRST, **changes}.items()):
        take(api, second, reading(quantity, typed, confirmed=True))
    told: Json = api.get(f"/api/bench/sheets/{second}/against/{first}").json()
    return told


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({}, "All 6 figures agree within measurement: nothing has changed."),
        (
            {"thickness_behind_edge": "0.36", "height_heel": "45.1"},
            "Height at heel and thickness behind the edge moved as sharpening moves them: "
            "this is wear.",
        ),
        ({"thickness_behind_edge": "0.14"}, "Thickness behind the edge differ, and not as wear"),
        ({"edge_length": "214 mm"}, "Edge length differ, and not as wear would"),
        ({"thickness_behind_edge": "0.36", "spine_heel": "2.6"}, "look at how"),
    ],
    ids=["same", "wear", "thinner", "another length", "both"],
)
def test_wear_is_told_from_another_way_of_measuring(
    api: TestClient, changes: dict[str, str], words: str
) -> None:
    assert words in twice(api, changes)["words"]


def test_a_difference_within_its_uncertainty_is_not_one(api: TestClient) -> None:
    rows = {r["key"]: r for r in twice(api, {"spine_heel": "2.14", "weight": "187 g"})["rows"]}
    for key in ("spine_heel", "weight"):
        assert rows[key]["verdict"] == "not_measurable"
        assert abs(rows[key]["difference"]) <= rows[key]["expanded"]


def test_only_what_both_sheets_measured_is_compared(api: TestClient) -> None:
    begun = new_piece(api)
    take(api, begun["id"], reading("weight", "186 g"))
    api.post(f"/api/bench/sheets/{begun['id']}/sign-off")
    later = api.post(f"/api/bench/pieces/{begun['piece']['id']}/sheets").json()
    take(api, later["id"], reading("edge_length", "209 mm"))
    told = api.get(f"/api/bench/sheets/{later['id']}/against/{begun['id']}").json()
    assert told["rows"] == []
    assert told["words"] == "The two sheets have no quantity in common."
    assert later["earlier_sheets"] == [begun["id"]]


def test_the_newer_sheet_expects_what_the_older_found(api: TestClient) -> None:
    begun = new_piece(api)
    take(api, begun["id"], reading("edge_length", "209 mm"))
    api.post(f"/api/bench/sheets/{begun['id']}/sign-off")
    later = api.post(f"/api/bench/pieces/{begun['piece']['id']}/sheets").json()
    assert later["expected"]["edge_length"] == pytest.approx(209)
    assert later["figures"] == {}

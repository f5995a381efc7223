"""The Counter over the API: three customers, three lists, each with its reasons."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from maple_rook.stations.counter.work import RULED_OUT_SHOWN

Json = dict[str, Any]


@pytest.fixture(scope="module")
def presets(api: TestClient) -> dict[str, Json]:
    return {job["label"]: job for job in api.get("/api/counter").json()["presets"]}


def advice(api: TestClient, job: Json, **changes: object) -> Json:
    answer = api.post("/api/counter/advice", json={**job, **changes})
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def names(found: Json) -> list[str]:
    return [offer["piece"]["name"] for offer in found["offers"]]


def test_the_conversation_asks_for_every_part_of_a_job(
    api: TestClient, presets: dict[str, Json]
) -> None:
    asked = {q["key"]: q["answers"] for q in api.get("/api/counter").json()["questions"]}
    for job in presets.values():
        assert set(job) == {*asked, "label", "bone", "budget"}
        assert all(job[key] in answers for key, answers in asked.items())


def test_different_customers_get_different_lists_that_add_up(
    api: TestClient, presets: dict[str, Json]
) -> None:
    lists = {label: advice(api, presets[label])
             for label in ("home cook who hates upkeep", "galley", "fish counter")}  # fmt: skip
    assert len({tuple(names(found)) for found in lists.values()}) == 3
    for found in lists.values():
        assert 3 <= len(found["offers"]) <= 5
        assert sum(offer["first"] for offer in found["offers"]) <= 1 + 1e-9
        likely = [offer["score"] for offer in found["offers"]]
        assert likely == sorted(likely, reverse=True)
        assert len(found["ruled_out"]) == min(found["ruled_out_total"], RULED_OUT_SHOWN)
        offered = {offer["piece"]["id"] for offer in found["offers"]}
        assert not offered & {knife["piece_id"] for knife in found["ruled_out"]}
        assert all(knife["reasons"] for knife in found["ruled_out"])
        assert any("local law" in caution for caution in found["cautions"])


def test_a_left_hander_is_never_offered_a_right_ground_single_bevel(
    api: TestClient, presets: dict[str, Json]
) -> None:
    for preset in presets.values():
        found = advice(api, preset, hand="left", tools="stones", budget=None)
        assert not [o for o in found["offers"] if o["piece"]["grind"].startswith("single_bevel")]
        ruled = {knife["tag"]: " ".join(knife["reasons"]) for knife in found["ruled_out"]}
        assert "Left-handed, and this is ground for the right hand." in ruled["BT-27"]


def test_nothing_suits_is_said_with_the_reason_met_most_often(
    api: TestClient, presets: dict[str, Json]
) -> None:
    found = advice(api, presets["galley"], budget=5)
    assert found["offers"] == []
    assert found["nothing"].startswith("Nothing on the shelf suits. Most often: ")


def test_the_one_bone_chopper_is_offered_alone(api: TestClient, presets: dict[str, Json]) -> None:
    found = advice(api, presets["butcher's boning bench"])
    assert [offer["piece"]["knife_type"] for offer in found["offers"]] == ["bone_chopper"]
    assert found["deciding"] is None


def test_pieces_of_one_model_are_not_each_others_rivals(
    api: TestClient, presets: dict[str, Json]
) -> None:
    found = advice(api, presets["prep line"])
    models = [name.rpartition(" · ")[0] for name in names(found)]
    assert len(set(models)) == len(models)


@pytest.mark.parametrize("preset", ["galley", "fish counter", "left-handed student"])
def test_what_an_offer_costs_a_month_follows_from_the_sheets_own_figures(
    api: TestClient, presets: dict[str, Json], preset: str
) -> None:
    """The shelf's figures turned to a kitchen are those predicted for that kitchen."""
    job = presets[preset]
    kitchen = {"use": job["use"], "board": job["board"], "technique": job["technique"],
               "job": job["cuts"], "honed": job["tools"] in ("a rod", "stones")}  # fmt: skip
    for offer in advice(api, job)["offers"]:
        sheet = api.get(f"/api/pieces/{offer['piece']['id']}", params=kitchen).json()
        central = {p["key"]: p["central"] for p in sheet["predictions"]}
        months, ease = central["months_to_stone"], central["cutting_ease"]
        wanted = offer["piece"]["price"] / (months * ease / 100)
        assert offer["price_per_month"] == pytest.approx(wanted, rel=1e-6)
        assert offer["months"][0] < months < offer["months"][1]


def test_a_job_is_held_to_its_closed_lists(api: TestClient) -> None:
    for wrong in ({"hand": "third"}, {"budget": -1}, {"budget": "much"}, {"age": 40}):
        answer = api.post("/api/counter/advice", json=wrong)
        assert answer.status_code == 422
        assert answer.json()["errors"]


def test_a_budget_is_a_stop_and_never_a_low_score(
    api: TestClient, presets: dict[str, Json]
) -> None:
    free = advice(api, presets["left-handed student"], budget=None)
    dearest = max(o["piece"]["price"] for o in free["offers"])
    bound = advice(api, presets["left-handed student"], budget=dearest - 1)
    assert all(o["piece"]["price"] < dearest for o in bound["offers"])
    reasons = [r for knife in bound["ruled_out"] for r in knife["reasons"] if "over the" in r]
    assert reasons
    assert bound["ruled_out_total"] > free["ruled_out_total"]

"""The Counter over the API: three customers, three lists, each with its reasons."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

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
        assert found["ruled_out_total"] == len(found["ruled_out"])
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

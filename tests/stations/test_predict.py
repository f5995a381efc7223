"""Headless predictions: the API, the command, and their bad input."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient
from typer.testing import CliRunner

from maple_rook.cli import app
from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.prediction.model_cards import PREDICTED

Json = dict[str, Any]

BLADE: Json = {
    "knife_type": "gyuto",
    "steel": "1.4112",
    "spine_heel": 2.2,
    "height_heel": "45 mm",
    "thickness_behind_edge": {"value": 0.30, "u": 0.02},
    "edge_angle": "30° incl",
    "asymmetry": "70/30",
    "hardness": 60,
    "edge_radius_um": 1.0,
}


def ask(api: TestClient, **changes: object) -> Json:
    answer = api.post("/api/predict", json={"blade": {**BLADE, **changes}})
    assert answer.status_code == 200, answer.text
    return {p["key"]: p for p in answer.json()["predictions"]}


def test_every_prediction_comes_with_interval_grade_shares_and_card(api: TestClient) -> None:
    answer = api.post("/api/predict", json={"blade": BLADE}).json()
    assert {p["card"] for p in answer["predictions"]} == set(PREDICTED)
    forces = [p for p in answer["predictions"] if p["card"] == "cutting_force"]
    assert len(forces) == len(FOODS) * len(STROKES)
    for p in answer["predictions"]:
        assert p["card"] in answer["cards"]
        if p["unavailable"] is None:
            assert p["low"] <= p["central"] <= p["high"]
            assert p["contributions"]
    assert "Atkins" in answer["cards"]["cutting_force"]["source"]


def test_worked_examples_through_the_api(api: TestClient) -> None:
    """Worked examples of the models: onion 25.5 N, apex 0.060 mm, TCC of 58 HRC with 5 % CrC.

    The force is that of the heel; along the edge, with the taper, it is a little less.
    """
    found = ask(api)
    assert found["force.onion.push"]["central"] == pytest.approx(25.5, rel=0.02)
    assert found["apex_offset"]["central"] == pytest.approx(-0.060, abs=5e-4)
    soft = ask(api, hardness=58, carbides={"CrC": 5.0}, steel=None)
    assert soft["card_test"]["central"] == pytest.approx(281.9, abs=0.5)


def test_what_is_not_given_is_named_as_not_measured(api: TestClient) -> None:
    found = ask(api, hardness=None, steel=None)
    assert found["card_test"]["unavailable"] == "Not measured: hardness, carbides of the steel."
    assert found["distal_taper"]["unavailable"] == "Not measured: spine near tip, edge length."


@pytest.mark.parametrize(
    ("changes", "accepted"),
    [
        ({"hardness": 75}, "20 to 70 HRC"),
        ({"edge_angle": 60}, "3 to 45 degrees per side"),
        ({"spine_heel": "3 in"}, "0.3 to 12 mm"),
        ({"steel": "wonder steel"}, "1.4116"),
        ({"knife_type": "katana"}, "gyuto"),
        ({"carbides": {"gold": 3}}, "CrC"),
        ({"thickness_behind_edge": 3.0}, "at most the spine"),
        (
            {"spine_heel": {"value": 2.2, "u": -1}},
            "blade.spine_heel.u: -1 is not accepted; accepted: 0 or more",
        ),
        ({"colour": "red"}, "no such field"),
    ],
)
def test_bad_blades_are_refused_in_words(api: TestClient, changes: Json, accepted: str) -> None:
    answer = api.post("/api/predict", json={"blade": {**BLADE, **changes}})
    assert answer.status_code == 422
    assert accepted in json.dumps(answer.json()["errors"])


@pytest.mark.parametrize("body", ["", "{", "[]", "null", '{"blade": {}}', '{"blade": 3}'])
def test_bodies_without_a_blade_are_refused(api: TestClient, body: str) -> None:
    answer = api.post("/api/predict", content=body, headers={"content-type": "application/json"})
    assert answer.status_code == 422
    assert answer.json()["errors"]


def test_the_command_prints_what_the_api_answers(api: TestClient, tmp_path: Path) -> None:
    path = tmp_path / "blade.json"
    path.write_text(json.dumps({"blade": BLADE}), encoding="utf-8")
    printed = CliRunner().invoke(app, ["predict", str(path), "--json"])
    assert printed.exit_code == 0
    assert json.loads(printed.output) == api.post("/api/predict", json={"blade": BLADE}).json()
    table = CliRunner().invoke(app, ["predict", str(path)]).output
    assert "half onion, straight push" in table
    assert "likely" in table
    assert "Thomas 2020" in table


@pytest.mark.parametrize("text", ["", "{", '{"blade": {"hardness": 75}}'])
def test_the_command_refuses_with_one_message_and_code_2(tmp_path: Path, text: str) -> None:
    path = tmp_path / "blade.json"
    path.write_text(text, encoding="utf-8")
    done = CliRunner().invoke(app, ["predict", str(path)])
    assert done.exit_code == 2
    assert "Traceback" not in done.output
    assert CliRunner().invoke(app, ["predict", str(tmp_path / "none.json")]).exit_code == 2

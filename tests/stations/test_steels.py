"""Steels: search, own grades, carbide estimates and the converter through the API."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from maple_rook.store import records
from maple_rook.store.tables import KnifeModel, SteelGrade

Json = dict[str, Any]


def own(**changes: object) -> Json:
    usual: Json = {
        "designation": f"Own {uuid.uuid4().hex[:6]}",
        "aliases": ["Blue Heron 3"],
        "composition": {"C": 0.95, "Cr": 15.0, "V": 2.0},
        "usual_hrc": [59, 62],
        "toughness": "medium",
        "sharpening": "hard",
    }
    return {**usual, **changes}


def test_grades_are_found_with_their_ranges_source_and_pieces(api: TestClient) -> None:
    found = api.get("/api/steels", params={"search": "1.4116"}).json()
    (grade,) = found["grades"]
    assert found["total"] >= 25
    assert grade["ranges"]["Cr"] == [14, 15]
    assert grade["source"] == "EN 10088-3, from memory"
    assert grade["pieces"] >= 3
    assert grade["carbides"]["basis"].endswith("from memory")
    (crc,) = grade["carbides"]["carbides"]
    assert (crc["volume"], crc["expanded"]) == (5.0, 2.5)
    assert crc["card_mm"] == pytest.approx(5 * 11.2)
    assert len(found["conversion"]) == 23


def test_an_own_grade_gets_estimated_carbides_and_widens_what_rests_on_them(
    api: TestClient, db: Session
) -> None:
    body = own()
    estimate = api.post("/api/steels/estimate", json={"composition": body["composition"]}).json()
    made = api.post("/api/steels", json=body)
    assert made.status_code == 201, made.text
    assert made.json()["own"] is True
    assert made.json()["carbides"]["basis"] == estimate["basis"]
    assert made.json()["carbides"]["carbides"] == estimate["carbides"]
    for carbide in estimate["carbides"]:
        assert carbide["expanded"] == pytest.approx(0.7 * carbide["volume"])
    listed = api.get("/api/steels", params={"search": "heron"}).json()["grades"]
    assert body["designation"] in {g["designation"] for g in listed}
    again = api.post("/api/steels", json={**body, "designation": body["designation"].upper()})
    assert again.status_code == 422
    row = db.query(SteelGrade).filter_by(designation=body["designation"]).one()
    model = db.query(KnifeModel).first()
    assert model is not None
    piece = records.pieces(db)[0]
    known, before = records.blade(piece, {}).input_figure("carbides"), piece.model.steel
    piece.model.steel = row
    guessed = records.blade(piece, {}).input_figure("carbides")
    piece.model.steel = before
    db.rollback()
    assert known is not None
    assert guessed is not None
    assert guessed.standard_uncertainty / guessed.mean == pytest.approx(0.35)
    assert known.standard_uncertainty / known.mean == pytest.approx(0.25)


def test_carbides_the_shop_knows_are_kept_as_given(api: TestClient) -> None:
    made = api.post("/api/steels", json=own(carbides={"CrC": 8, "MC": 3})).json()
    assert {c["name"]: c["volume"] for c in made["carbides"]["carbides"]} == {"CrC": 8, "MC": 3}
    assert made["carbides"]["basis"] == "given by the shop"


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"composition": {"Cr": 13}}, "C of a knife steel"),
        ({"composition": {"C": 0.5, "Unobtainium": 3}}, "Unobtainium is none of"),
        ({"composition": {"C": 0.5, "Cr": 55, "Ni": 20}}, "no steel"),
        ({"composition": {"C": "much"}}, "composition"),
        ({"usual_hrc": [62, 59]}, "the lower first"),
        ({"usual_hrc": [59, 90]}, "usual_hrc"),
        ({"carbides": {"Fairy": 2}}, "CrC"),
        ({"designation": ""}, "designation"),
        ({"toughness": "heroic"}, "toughness"),
        ({"secret": 1}, "secret"),
    ],
)
def test_what_is_no_steel_is_refused_in_words(api: TestClient, changes: Json, said: str) -> None:
    body = own(**changes)
    answer = api.post("/api/steels", json=body)
    assert answer.status_code == 422
    assert said in answer.text
    found = api.get("/api/steels", params={"search": body["designation"] or "Own nothing"}).json()
    assert body["designation"] not in {g["designation"] for g in found["grades"]}


def test_hardness_is_converted_both_ways_and_not_beyond_the_table(api: TestClient) -> None:
    """ASTM E140 table 1 (from memory): 60 HRC is 697 HV; Tabor: 2280 MPa."""
    sixty = api.get("/api/steels/hardness", params={"value": 60}).json()
    assert sixty["hv"] == 697
    assert sixty["strength_mpa"] == pytest.approx(2280, abs=2)
    assert sixty["minimum_thickness_mm"] == pytest.approx(0.80)
    back = api.get("/api/steels/hardness", params={"value": 697, "unit": "HV"}).json()
    assert back["hrc"] == 60
    for value, unit in ((75, "HRC"), (5, "HRC"), (2000, "HV"), ("NaN", "HRC"), ("hard", "HRC")):
        answer = api.get("/api/steels/hardness", params={"value": value, "unit": unit})
        assert answer.status_code == 422, value
    assert api.get("/api/steels", params={"search": "Zz>3"}).status_code == 422


def test_the_sheet_carries_the_edges_course_and_what_it_bears(api: TestClient) -> None:
    def sheet(tag: str, **kitchen: object) -> Json:
        row = api.get("/api/rack", params={"search": tag}).json()["rows"][0]
        found: Json = api.get(f"/api/pieces/{row['piece']['id']}", params=kitchen).json()
        return found

    good = sheet("KH-01")
    life = good["edge_life"]
    assert len(life["sharpness"]) == 361
    assert life["sharpness"][0] == 100
    rod = next(p for p in good["predictions"] if p["key"] == "days_to_rod")
    assert life["rod_every_days"] == pytest.approx(rod["central"])
    assert good["stability"]["lesson"].startswith("For this edge angle")
    assert [m["style"] for m in good["stability"]["margins"]][-1] == "bone"
    unhoned = sheet("KH-01", honed=False)["edge_life"]
    assert unhoned["rod_every_days"] is None
    assert unhoned["stone_every_days"] < life["stone_every_days"]
    soft = sheet("TT-16")["edge_life"]
    assert soft["sharpness"] == []
    assert "will not hold an edge" in soft["why"]
    single = sheet("BT-27")["edge_life"]
    assert single["routine"] == "stone_only"
    assert "Never use a rod" in single["why"]

"""Sections, the edge on the board, cuts, what-if, foods and drawings through the API."""

from __future__ import annotations

import re
import uuid
from typing import Any
from xml.etree import ElementTree as ET

import numpy as np
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.cutting.force import Parts, parts_n
from maple_rook.core.prediction.built import built
from maple_rook.demo.stock import STOCK
from maple_rook.store import records
from maple_rook.store.tables import EdgeTrace, Reading

Json = dict[str, Any]


def number(api: TestClient, tag: str) -> int:
    rows = api.get("/api/rack", params={"search": tag}).json()["rows"]
    return next(int(r["piece"]["id"]) for r in rows if r["piece"]["tag"] == tag)


def sheet(api: TestClient, tag: str) -> Json:
    answer: Json = api.get(f"/api/pieces/{number(api, tag)}").json()
    return answer


def predicted(found: Json, key: str) -> Json:
    return next(p for p in found["predictions"] if p["key"] == key)


def test_the_sheet_shows_sections_profile_and_release_of_every_grind(api: TestClient) -> None:
    seen = set()
    for tag in (piece.tag for model in STOCK for piece in model.pieces):
        found = sheet(api, tag)
        covered = found["piece"]["knife_type"] != "serrated"
        if not covered or not {"spine_heel", "height_heel"} <= set(found["figures"]):
            assert found["shape"]["sections"] == []
            continue
        seen.add(found["piece"]["grind"])
        heel, middle, front = found["shape"]["sections"]
        assert heel["at_mm"] < middle["at_mm"] < front["at_mm"]
        assert heel["area_mm2"] > front["area_mm2"]
        assert heel["thickness_mm"]["1"] < heel["thickness_mm"]["10"]
        index = sum(part["points"] for part in found["shape"]["release"])
        assert index == pytest.approx(predicted(found, "release")["central"], abs=0.3)
        assert found["profile"]["rock"][-1][0] == pytest.approx(
            found["profile"]["rock_deg"], abs=0.01
        )
    assert len(seen) == 10


def test_the_hollow_in_the_slicers_edge_is_on_its_sheet(api: TestClient) -> None:
    found = sheet(api, "PM-27")
    assert found["traced"]["source"] == "stations"
    assert found["profile"]["hollow"]["gap_mm"] == pytest.approx(0.34)
    assert found["profile"]["hollow"]["at_mm"] == pytest.approx(60, abs=2)
    assert found["profile"]["kind"] == "slicer"
    assert sheet(api, "KH-02")["profile"]["inferred"] is True


def test_a_cut_by_its_parts_is_the_cores(api: TestClient, db: Session) -> None:
    piece = number(api, "HW-15")
    asked = {"food": "carrot", "ratio": 2.0, "edge": "dull", "basis": "published"}
    found = api.get(f"/api/pieces/{piece}/cut", params=asked).json()
    blade = records.blades(db, records.pieces(db, [piece]), records.figures(db, [piece]))[0]
    made = built(blade)
    assert made is not None
    along = parts_n(made.cuts, FOODS["carrot"], 7.5, 2.0).total
    expected = float(along @ np.array(STROKES["push"].weights))
    assert found["peak_n"] == pytest.approx(expected)
    parts = (found[f"{name}_n"][-1] for name in Parts._fields)
    assert sum(parts) == pytest.approx(expected, abs=0.01)
    assert found["side_words"].startswith("pushed to the left")
    assert api.get(f"/api/pieces/{piece}/cut", params={"food": "brick"}).status_code == 422
    serrated = api.get(f"/api/pieces/{number(api, 'TC-25')}/cut")
    assert serrated.status_code == 409
    assert "not predicted" in serrated.json()["detail"]


def test_what_if_moves_the_numbers_and_stores_nothing(api: TestClient, db: Session) -> None:
    piece = number(api, "KH-01")
    before, readings = sheet(api, "KH-01"), db.scalar(select(func.count()).select_from(Reading))
    tried = {"edge_angle": 12.0, "thickness_behind_edge": 0.15, "spine_heel": 1.8}
    found = api.post(f"/api/pieces/{piece}/what-if", json=tried).json()
    rows = {r["key"]: r for r in found["rows"]}
    assert rows["force.carrot.push"]["percent"] < 0
    assert rows["card_test"]["percent"] > 0
    assert rows["tip_deflection"]["percent"] > 0
    ease = predicted(before, "cutting_ease")["central"]
    assert rows["cutting_ease"]["measured"]["central"] == pytest.approx(ease)
    assert found["section_tried"] != found["section_measured"]
    assert re.fullmatch(r"Bites \d+ to \d+ % easier, most in .+\.", found["words"][0])
    db.rollback()
    assert db.scalar(select(func.count()).select_from(Reading)) == readings
    assert sheet(api, "KH-01")["figures"] == before["figures"]
    back = api.post(
        f"/api/pieces/{piece}/what-if", json={"edge_angle": found["start"]["edge_angle"]}
    )
    assert all(abs(r["percent"] or 0) < 0.2 for r in back.json()["rows"])
    assert back.json()["words"] == [
        "Bites as before.",
        "Cuts through as before, fresh and half way to the stone.",
        "The stone falls due when it did.",
    ]


@pytest.mark.parametrize(
    ("tried", "said"),
    [
        ({}, "change at least one"),
        ({"edge_angle": 60}, "accepted: 45 or less"),
        ({"thickness_behind_edge": 3.5}, "Thickness behind the edge and spine contradict"),
        ({"grind": "single_bevel", "edge_angle": 3, "spine_heel": 3}, "contradict each other"),
        ({"grind": "wavy"}, "full_flat"),
        ({"height_heel": 40}, "height_heel"),
    ],
)
def test_what_cannot_be_tried_is_said(api: TestClient, tried: Json, said: str) -> None:
    answer = api.post(f"/api/pieces/{number(api, 'KH-01')}/what-if", json=tried)
    assert answer.status_code == 422
    assert said in answer.text


@pytest.fixture
def foods(api: TestClient):  # type: ignore[no-untyped-def]
    """The shop's foods, put back afterwards."""
    yield {f["key"]: f for f in api.get("/api/foods").json()["foods"]}
    api.post("/api/foods/restore")


NOT_GIVEN = ("key", "changed", "own", "estimated", "etag")


def resisting(food: Json, **changes: float | str) -> Json:
    return {k: v for k, v in {**food, **changes}.items() if k not in NOT_GIVEN}


def test_a_shops_own_values_move_every_prediction_and_can_be_taken_back(
    api: TestClient, foods: dict[str, Json]
) -> None:
    before = predicted(sheet(api, "KH-01"), "force.onion.push")["central"]
    ease = rack_ease(api, "KH-01")
    changed = api.put("/api/foods/onion", json=resisting(foods["onion"], toughness_j_m2=450))
    assert [f["key"] for f in changed.json()["foods"] if f["changed"]] == ["onion"]
    assert predicted(sheet(api, "KH-01"), "force.onion.push")["central"] > 1.5 * before
    assert rack_ease(api, "KH-01") != ease
    added = api.post("/api/foods", json=resisting(foods["onion"], label="Leek, whole"))
    assert added.status_code == 201
    assert predicted(sheet(api, "KH-01"), "force.leek_whole.push")["central"] is not None
    assert (
        api.post("/api/foods", json=resisting(foods["onion"], label="Leek whole")).status_code
        == 422
    )
    assert api.delete("/api/foods/squash").status_code == 200
    assert not any("squash" in p["key"] for p in sheet(api, "KH-01")["predictions"])
    assert api.post("/api/foods/restore").json()["as_shipped"] is True
    assert predicted(sheet(api, "KH-01"), "force.onion.push")["central"] == before
    assert rack_ease(api, "KH-01") == ease


def rack_ease(api: TestClient, tag: str) -> float:
    row = api.get("/api/rack", params={"search": tag}).json()["rows"][0]
    return float(row["predicted"]["cutting_ease"]["central"])


@pytest.mark.parametrize(
    ("key", "changes"),
    [
        ("carrot", {"toughness_j_m2": -1}),
        ("carrot", {"friction": "slippery"}),
        ("carrot", {"height_mm": 9000}),
        ("carrot", {"label": ""}),
        ("stone", {}),
        ("Bad Key", {}),
    ],
)
def test_no_food_is_like_that(
    api: TestClient, foods: dict[str, Json], key: str, changes: Json
) -> None:
    answer = api.put(f"/api/foods/{key}", json=resisting(foods["carrot"], **changes))
    assert answer.status_code == 422
    assert answer.json()["errors"]
    assert api.get("/api/foods").json()["as_shipped"] is True


def test_the_last_food_cannot_be_taken_off(api: TestClient, foods: dict[str, Json]) -> None:
    for key in list(foods)[1:]:
        assert api.delete(f"/api/foods/{key}").status_code == 200
    assert api.delete(f"/api/foods/{next(iter(foods))}").status_code == 422


def open_sheet(api: TestClient) -> int:
    """A sheet of a new piece with its edge measured at 209 mm."""
    model = api.get("/api/bench").json()["models"][0]
    made = api.post(
        "/api/bench/pieces", json={"tag": f"E-{uuid.uuid4().hex[:6]}", "model_id": model["id"]}
    ).json()
    reading = {"client_id": str(uuid.uuid4()), "quantity": "edge_length", "typed": "209"}
    api.post(f"/api/bench/sheets/{made['id']}/readings", json={**reading, "confirmed": True})
    return int(made["id"])


GAPS = {
    "source": "stations",
    "tip_height": "13.6 mm",
    "stations": [{"at": "60", "gap": "0"}, {"at": "4 3/4 in", "gap": "0.7"}],
}


def test_an_edge_is_shown_then_kept_once_and_the_newest_stands(
    api: TestClient, db: Session
) -> None:
    number = open_sheet(api)
    shown = api.post(f"/api/bench/sheets/{number}/edge/preview", json=GAPS)
    assert shown.status_code == 200, shown.text
    assert shown.json()["tip_height_mm"] == pytest.approx(13.6)
    count = select(func.count()).select_from(EdgeTrace).where(EdgeTrace.sheet_id == number)
    assert db.scalar(count) == 0
    body = {**GAPS, "client_id": str(uuid.uuid4())}
    first = api.post(f"/api/bench/sheets/{number}/edge", json=body)
    again = api.post(f"/api/bench/sheets/{number}/edge", json=body)
    assert (first.status_code, first.json()) == (201, again.json())
    db.rollback()
    assert db.scalar(count) == 1
    piece = api.get(f"/api/bench/sheets/{number}").json()["piece"]["id"]
    assert api.get(f"/api/pieces/{piece}").json()["profile"]["tip_height_mm"] == pytest.approx(13.6)
    path = {"source": "svg", "text": "M0 0 L140 0 L209 -9", "client_id": str(uuid.uuid4())}
    assert api.post(f"/api/bench/sheets/{number}/edge", json=path).status_code == 201
    assert api.get(f"/api/pieces/{piece}").json()["profile"]["tip_height_mm"] == pytest.approx(9.0)
    small = {"source": "columns", "text": "0 0\n70 0\n104.5 6", "to_length": True}
    grown = api.post(f"/api/bench/sheets/{number}/edge/preview", json=small).json()
    assert grown["length_mm"] == pytest.approx(209, abs=1)
    assert api.post(f"/api/bench/sheets/{number}/sign-off").status_code == 200
    late = api.post(
        f"/api/bench/sheets/{number}/edge", json={**path, "client_id": str(uuid.uuid4())}
    )
    assert late.status_code == 409


@pytest.mark.parametrize(
    ("body", "said"),
    [
        ({**GAPS, "tip_height": None}, "tip height"),
        ({**GAPS, "stations": [{"at": "60", "gap": "a hair"}]}, "gap"),
        ({**GAPS, "stations": [{"at": "300", "gap": "1"}]}, "0 to 209 mm"),
        ({"source": "columns", "text": "0 0\n70 0\n104.5 6"}, "stretch it to the measured length"),
        ({"source": "svg", "text": "squiggle"}, "path data"),
        ({"source": "columns", "text": "0 0\n" * 100_000}, "200000"),
        ({"source": "photo"}, "stations"),
    ],
)
def test_what_is_no_edge_is_refused_beside_its_field(
    api: TestClient, db: Session, body: Json, said: str
) -> None:
    number = open_sheet(api)
    answer = api.post(f"/api/bench/sheets/{number}/edge/preview", json=body)
    assert answer.status_code == 422
    assert said in answer.text
    kept = api.post(
        f"/api/bench/sheets/{number}/edge", json={**body, "client_id": str(uuid.uuid4())}
    )
    assert kept.status_code == 422
    assert db.scalar(select(func.count()).where(EdgeTrace.sheet_id == number)) == 0


def extent(path: str) -> tuple[float, float]:
    """Width and height of an SVG path of lines, in its units."""
    x, y = zip(*(map(float, p.split()) for p in re.split("[MLZ]", path) if p), strict=True)
    return max(x) - min(x), max(y) - min(y)


def svg(api: TestClient, address: str, **asked: object) -> ET.Element:
    answer = api.get(address, params=asked)
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"].startswith("image/svg+xml")
    return ET.fromstring(answer.text)


def paths(root: ET.Element, part: str) -> list[ET.Element]:
    return [e for e in root.iter() if e.tag.endswith("}path") and e.get("class") == part]


@pytest.mark.parametrize("view", ["elevation", "section", "plan", "profile"])
def test_a_drawing_is_in_mm_and_measures_right(api: TestClient, view: str) -> None:
    """SVG 1.1: with width in mm and a viewBox of as many units, a unit is a millimetre."""
    found = sheet(api, "KH-01")
    root = svg(api, f"/api/pieces/{found['piece']['id']}/drawings/{view}.svg")
    wide = float(root.get("width", "").removesuffix("mm"))
    across = float(root.get("viewBox", "").split()[2])
    assert wide / across == pytest.approx(5.0 if view == "section" else 1.0, rel=1e-3)
    mean = {key: figure["mean"] for key, figure in found["figures"].items()}
    (drawn,) = paths(root, "edge" if view == "profile" else "blade")
    width, height = extent(drawn.get("d", ""))
    expected = {
        "elevation": (mean["edge_length"] + 2.5, mean["height_heel"]),
        "section": (mean["spine_heel"], mean["height_heel"]),
        "plan": (mean["edge_length"], mean["spine_heel"]),
        "profile": (209.0, 13.6),
    }[view]
    assert (width, height) == pytest.approx(expected, abs=0.15)
    said = " ".join(e.text or "" for e in root.iter() if e.tag.endswith("}text"))
    assert "mm" in said


def test_an_overlay_carries_letters_hues_and_line_patterns(api: TestClient) -> None:
    knives = [number(api, tag) for tag in ("KH-01", "BT-27", "PM-27", "OK-21")]
    for view in ("elevation", "section", "plan", "profile"):
        root = svg(api, f"/api/board/drawings/{view}.svg", piece=knives)
        drawn = paths(root, "edge" if view == "profile" else "blade")
        assert [p.get("data-knife") for p in drawn] == list("ABCD")
        assert len({p.get("stroke") for p in drawn}) == 4
        assert len({p.get("stroke-dasharray") for p in drawn}) == 4
    serrated = number(api, "TC-25")
    assert api.get(f"/api/pieces/{serrated}/drawings/section.svg").status_code == 409
    assert api.get(f"/api/pieces/{serrated}/drawings/elevation.svg").status_code == 200
    assert api.get("/api/pieces/1/drawings/mural.svg").status_code == 422


@pytest.mark.parametrize("food_mix", ["all_round", "roots", "slicing", "small"])
def test_a_jobs_ease_is_the_weighted_geometric_mean_of_its_foods(
    api: TestClient, food_mix: str
) -> None:
    kitchen = {"food_mix": food_mix}
    found = api.get(f"/api/pieces/{number(api, 'PM-21')}/ease", params=kitchen).json()
    shown = api.get(f"/api/pieces/{number(api, 'PM-21')}", params=kitchen).json()
    parts = np.array([f["part"] for f in found["foods"]])
    assert parts.sum() == pytest.approx(100, abs=0.5)
    for state, key in (("fresh", "cutting_ease"), ("worn", "worn_ease"), ("bite", "bite")):
        of_foods = np.array([f[state] for f in found["foods"]])
        job = float(np.exp((parts * np.log(of_foods)).sum() / parts.sum()))
        assert predicted(shown, key)["central"] == pytest.approx(job, rel=2e-3)
    assert all(f["worn"] < f["fresh"] for f in found["foods"])


def test_the_edge_angle_alone_is_swept_about_the_knife_as_measured(api: TestClient) -> None:
    piece = number(api, "PM-21")
    found = api.get(f"/api/pieces/{piece}/ease").json()
    lines = {line["key"]: np.array(line["percent"]) for line in found["by_angle"]}
    assert set(lines) == {"cutting_ease", "worn_ease", "bite", "months_to_stone"}
    angles, measured = found["angles_deg"], sheet(api, "PM-21")["figures"]["edge_angle"]["mean"]
    for key, values in lines.items():
        best = int(np.argmax(values))
        assert np.all(np.diff(values[best:]) < 0)  # every degree costs
        assert np.all(np.diff(values[:best]) > 0)
        assert (best > 0) == (key == "months_to_stone")  # too thin an edge gives before it wears
        assert np.interp(measured, angles, values) == pytest.approx(100, abs=0.5)
    tried = api.post(f"/api/pieces/{piece}/what-if", json={"edge_angle": 11.0}).json()
    bite = next(row for row in tried["rows"] if row["key"] == "bite")
    assert lines["bite"][angles.index(11.0)] == pytest.approx(100 + bite["percent"], abs=0.2)
    serrated = api.get(f"/api/pieces/{number(api, 'TC-25')}/ease").json()
    assert (serrated["foods"], serrated["by_angle"], serrated["section"]) == ([], [], None)

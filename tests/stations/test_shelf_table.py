"""The shelf as a table: what the Rack shows, in both unit systems, with U."""

from __future__ import annotations

import csv
import io

import pytest
from fastapi.testclient import TestClient

Row = dict[str, str]


def table(api: TestClient, **query: object) -> list[Row]:
    answer = api.get("/api/rack.csv", params=query)  # type: ignore[arg-type]
    assert answer.status_code == 200, answer.text
    assert answer.headers["content-type"].startswith("text/csv")
    assert 'filename="shelf.csv"' in answer.headers["content-disposition"]
    return list(csv.DictReader(io.StringIO(answer.text, newline="")))


def test_figures_stand_with_u_in_both_unit_systems(api: TestClient) -> None:
    row = next(r for r in table(api, search="KH-01") if r["tag"] == "KH-01")
    sheet = api.get("/api/rack", params={"search": "KH-01"}).json()["rows"][0]
    for label, key, unit, other, factor in (
        ("weight", "weight", "g", "oz", 28.349523125),
        ("edge length", "edge_length", "mm", "in", 25.4),
        ("edge angle", "edge_angle", "degrees per side", "degrees inclusive", 0.5),
    ):
        figure = sheet["figures"][key]
        mean = float(row[f"{label} [{unit}]"])
        assert mean == pytest.approx(figure["mean"], abs=1e-4)
        assert float(row[f"U of {label} [{unit}]"]) == pytest.approx(figure["expanded"], abs=1e-4)
        assert float(row[f"{label} [{other}]"]) == pytest.approx(mean / factor, rel=1e-3)
    assert float(row["cutting ease index, likely"]) == pytest.approx(
        sheet["predicted"]["cutting_ease"]["central"], abs=1e-3
    )
    assert (row["type"], row["grind"], row["steel"]) == ("gyuto", "full flat", "1.4112")


@pytest.mark.parametrize("tag", ["BT-27", "BT-16"], ids=["single bevel", "added bevel"])
def test_an_angle_of_one_face_is_called_inclusive_nowhere(api: TestClient, tag: str) -> None:
    row = next(r for r in table(api, search=tag) if r["tag"] == tag)
    assert float(row["edge angle [degrees per side]"]) > 5
    assert row["edge angle [degrees inclusive]"] == ""
    piece = next(r["piece"]["id"] for r in api.get(f"/api/rack?search={tag}").json()["rows"])
    assert api.get(f"/api/pieces/{piece}").json()["figures"]["edge_angle"]["other"] is None


def test_the_sheet_says_an_edge_angle_of_two_bevels_inclusive_too(api: TestClient) -> None:
    figure = api.get("/api/pieces/1").json()["figures"]["edge_angle"]
    assert figure["other"] == {
        "mean": pytest.approx(2 * figure["mean"]),
        "expanded": pytest.approx(2 * figure["expanded"]),
        "unit": "incl",
    }


def test_what_is_not_measured_is_empty_and_never_zero(api: TestClient) -> None:
    row = next(r for r in table(api, search="QP-23") if r["tag"] == "QP-23")
    assert row["edge angle [degrees per side]"] == row["overall length [in]"] == ""
    assert (row["hardness [HRC]"], row["U of hardness [HRC]"]) == ("62", "1")
    assert row["estimated or told"] == "hardness (estimated)"
    assert "half measured" in row["flags"]


def test_the_table_is_the_rack_as_it_is_searched_ranged_and_sorted(api: TestClient) -> None:
    query = {"search": "gyuto", "sort": "weight", "descending": True, "within": "weight:150:200"}
    shown = api.get("/api/rack", params={**query, "limit": 200}).json()["rows"]
    assert [r["tag"] for r in table(api, **query)] == [r["piece"]["tag"] for r in shown]
    assert len(shown) > 3
    ranked = {"sort": "cutting_ease", "descending": True, "food_mix": "slicing"}
    shown = api.get("/api/rack", params={**ranked, "limit": 200}).json()["rows"]
    assert [r["tag"] for r in table(api, **ranked)] == [r["piece"]["tag"] for r in shown]
    assert {r["piece"]["tag"] for r in shown[:2]} == {"BT-27", "PM-27"}  # the long slicers
    eases = [r["eases"]["slicing"]["central"] for r in shown if r["eases"]]
    assert eases == sorted(eases, reverse=True)
    assert api.get("/api/rack.csv", params={"sort": "luck"}).status_code == 422

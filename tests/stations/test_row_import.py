"""Tables imported: tried first, written once, told row by row, and nothing half done."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from maple_rook.stations.exchange import importing
from maple_rook.stations.exchange.row_import import Report
from shops import TODAY, given, run, shop_api, shop_engine

UNTIDY = """Winter shelf of the shop;;;;;;;
Nr.;Brand;Model;Type;Size;Weight (oz);Spine @ heel;Rockwell
W-1;Kesterby;Harbour;Gyuto;210;6,6;2,1 mm;60,5
W-2;Kesterby;Harbour;gyutoo;8 1/4 in;187 g;76;61
W-3;;Harbour;gyuto;210;6,6;2,2;60
W-4;Kesterby;Harbour;gyuto;210;34,9;2,2;60
W-1;Kesterby;Harbour;gyuto;210;6,6;2,1;60
"""


@pytest.fixture
def empty(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as client:
        yield client


def verdicts(api: TestClient, found: dict) -> dict[int, tuple[str, str]]:
    rows = api.get(f"/api/imports/{found['id']}/rows").json()["rows"]
    return {row["line"]: (row["verdict"], row["said"]) for row in rows}


def pieces(api: TestClient) -> int:
    return api.get("/api/rack").json()["total"]


def test_readings_brought_in_are_placed_along_the_edge_they_came_with(empty: TestClient) -> None:
    text = "tag,maker,line,type,size,edge length mm,spine mid mm,spine 10 mm from tip mm\n"
    run(empty, given(empty, f"{text}A-1,Kesterby,Harbour,gyuto,210,208,1.9,0.6\n"))
    readings = empty.get("/api/v1/shop.json").json()["readings"]
    along = {r["quantity"]: r.get("along_mm") for r in readings}
    assert along == {"edge_length": None, "spine_mid": 104.0, "spine_tip": 198.0}


def test_a_struck_edge_length_places_nothing(empty: TestClient) -> None:
    header = "tag,quantity,typed,key,round,struck\n"
    at = "2026-11-20T10:00:00+00:00"
    run(empty, given(empty, "tag,maker,line,type,size\nA-1,Kesterby,Harbour,gyuto,210\n"))
    lengths = f"A-1,edge_length,300 mm,k1,{at},misread\nA-1,edge_length,208 mm,k2,{at},\n"
    middle = f"A-1,spine_mid,1.9 mm,k3,{at},\n"
    run(empty, given(empty, f"{header}{lengths}{middle}", "readings.csv"))
    run(empty, given(empty, f"{header}A-1,height_mid,44 mm,k4,{at},\n", "more.csv"))
    readings = empty.get("/api/v1/shop.json").json()["readings"]
    along = {r["quantity"]: r.get("along_mm") for r in readings}
    assert along == {"edge_length": None, "spine_mid": 104.0, "height_mid": 104.0}


def test_an_untidy_list_is_tried_then_brought_in(empty: TestClient) -> None:
    found = given(empty, UNTIDY.encode("cp1252"))
    [table] = found["tables"]
    assert (table["kind"], table["decimals"]) == ("pieces", "comma")
    meant = {c["heading"]: (c["field"], c["unit"]) for c in table["columns"]}
    assert meant["Weight (oz)"] == ("weight", "oz")
    assert meant["Rockwell"] == ("hardness", "")

    tried = run(empty, found, for_good=False)
    assert (tried["state"], pieces(empty)) == ("tried", 0)
    said = verdicts(empty, found)
    assert {line: verdict for line, (verdict, _) in said.items()} == {
        3: "corrected",
        4: "partly",
        5: "refused",
        6: "doubtful",
        7: "refused",
    }
    assert "gyutoo" in said[4][1]
    assert "76" in said[4][1]
    assert "without maker" in said[5][1]
    assert "989" in said[6][1]
    assert "it is on line 3 already" in said[7][1]
    report = list(csv.reader(io.StringIO(empty.get(f"/api/imports/{found['id']}/report.csv").text)))
    assert report[0] == ["table", "line", "row", "verdict", "why"]
    assert len(report) == 6

    done = run(empty, found)
    assert done["state"] == "brought in"
    assert done["added"] == {"models": 2, "pieces": 3, "sheets": 3, "readings": 7}
    shelf = empty.get("/api/rack", params={"search": "W-2"}).json()["rows"][0]
    assert shelf["piece"]["nominal_mm"] == pytest.approx(209.55)
    assert shelf["figures"]["weight"]["mean"] == 187
    assert "spine_heel" not in shelf["figures"]


def test_bringing_it_again_changes_nothing_and_says_so(empty: TestClient) -> None:
    run(empty, given(empty, UNTIDY))
    again = run(empty, given(empty, UNTIDY), measured_on="2026-11-24")
    assert again["added"] == {}
    assert again["counts"]["accepted"] == again["counts"]["corrected"] == 0
    other = UNTIDY.replace("187 g", "193 g")
    changed = given(empty, other)
    run(empty, changed)
    assert (
        "stands as 187 g; the file says 193 g: a reading is never changed"
        in (verdicts(empty, changed)[4][1])
    )


def test_doubtful_figures_come_in_only_when_asked_and_are_marked(empty: TestClient) -> None:
    run(empty, given(empty, UNTIDY), doubtful="bring")
    shelf = {r["piece"]["tag"]: r for r in empty.get("/api/rack").json()["rows"]}
    assert shelf["W-4"]["figures"]["weight"]["mean"] == pytest.approx(989.4, abs=0.1)
    assert "unusual" in [flag["code"] for flag in shelf["W-4"]["flags"]]


def test_a_source_is_remembered_with_what_its_columns_meant(empty: TestClient) -> None:
    text = "Nr,Brand,Model,Type,Size,Foo (oz)\nR-1,Kesterby,Harbour,gyuto,210,6.6\n"
    found = given(empty, text)
    assert found["tables"][0]["columns"][-1]["field"] == ""
    found["tables"][0]["columns"][-1] |= {"field": "weight", "unit": "oz"}
    run(empty, found, source="Kesterby's price list")
    later = given(empty, text.replace("R-1", "R-2").replace("Size", "Size,Knives"))
    assert later["source"] == "Kesterby's price list"
    assert later["tables"][0]["columns"][-1] == {
        "heading": "Foo (oz)",
        "field": "weight",
        "unit": "oz",
        "sure": True,
        "question": "",
        "first": [],
    }
    past = empty.get("/api/imports").json()["past"]
    assert [(p["source"], p["added"]["readings"]) for p in past] == [("Kesterby's price list", 1)]


def test_prices_are_taken_over_only_when_asked(empty: TestClient) -> None:
    prices = "Brand,Model,Type,Size,Price,Weight g\nKesterby,Harbour,gyuto,210,148.00,185\n"
    assert run(empty, given(empty, prices))["added"] == {"models": 1, "claims": 1}
    dearer = prices.replace("148.00", "152.50")
    found = given(empty, dearer)
    assert run(empty, found)["counts"]["doubtful"] == 1
    assert "price stands as 148.00; the file says 152.50: left" in verdicts(empty, found)[2][1]
    found = given(empty, dearer)
    assert run(empty, found, changed="take")["counts"]["corrected"] == 1


def test_a_failure_at_the_end_leaves_nothing_of_the_beginning(
    empty: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: object) -> None:
        raise RuntimeError("the disk is full")

    monkeypatch.setattr(importing, "_packed", fails)
    done = run(empty, given(empty, UNTIDY))
    assert (done["state"], pieces(empty)) == ("stopped", 0)
    assert "nothing was imported" in done["problem"]


def test_stopping_keeps_nothing(empty: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    found, packed = given(empty, UNTIDY), importing._packed

    def as_if_pressed(report: Report) -> bytes:
        assert empty.delete(f"/api/imports/{found['id']}").status_code == 204
        return packed(report)

    monkeypatch.setattr(importing, "_packed", as_if_pressed)
    done = run(empty, found)
    assert done["state"] == "stopped"
    assert done["problem"] == "Stopped; nothing from the file was imported."
    assert pieces(empty) == 0


def test_what_runs_is_not_started_twice_and_a_forgotten_file_is_gone(empty: TestClient) -> None:
    found = given(empty, UNTIDY)
    run(empty, found)
    body = {"source": "x", "measured_on": TODAY, "tables": [{"kind": "pieces", "columns": []}]}
    assert empty.post(f"/api/imports/{found['id']}/run", json=body).status_code == 409
    assert empty.delete(f"/api/imports/{found['id']}").status_code == 204
    assert empty.get(f"/api/imports/{found['id']}").status_code == 404


def test_missing_and_doubled_columns_are_refused_before_anything_is_read(empty: TestClient) -> None:
    found = given(empty, "Quantity,Value\nweight,186\n")
    found["tables"][0]["kind"] = "readings"
    assert "column that means it" in run(empty, found)["problem"]
    found["tables"][0]["columns"][0]["field"] = "value"
    body = {
        "source": "x",
        "measured_on": TODAY,
        "tables": [{"kind": "readings", "columns": [{"field": "value"}, {"field": "value"}]}],
    }
    assert "twice" in empty.post(f"/api/imports/{found['id']}/run", json=body).text


def test_a_file_of_200_mb_is_refused_before_it_is_read(empty: TestClient) -> None:
    answer = empty.post(
        "/api/imports", params={"name": "x"}, content=b"x", headers={"content-length": "200000000"}
    )
    assert answer.status_code == 413
    chunks = (b"x" * 1_000_000 for _ in range(70))
    answer = empty.post("/api/imports", params={"name": "x"}, content=chunks)
    assert answer.status_code == 413
    assert "64000 kB" in answer.json()["detail"]

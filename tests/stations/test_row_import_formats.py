"""Further kinds of tables: readings one a row, claims, traced edges, trials, several sheets."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator

import openpyxl
import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from shops import TODAY, given, run, shop_api, shop_engine

PIECES = """tag,maker,line,type,size,edge length mm
P-1,Kesterby,Harbour,gyuto,210,209
P-2,Kesterby,Harbour,gyuto,240,239
"""


@pytest.fixture(scope="module")
def shelf(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    """A shop with two knives whose edge lengths are known."""
    nowhere = tmp_path_factory.mktemp("no-web")
    with shop_engine(cluster) as engine, shop_api(engine, nowhere) as client:
        run(client, given(client, PIECES))
        yield client


def brought(
    api: TestClient, content: str | bytes, name: str = "list.csv", **choices: object
) -> dict:
    """A file imported as it was guessed, with what was said of each row."""
    found = given(api, content, name)
    done = run(api, found, **choices)
    rows = api.get(f"/api/imports/{found['id']}/rows", params={"limit": 500}).json()["rows"]
    return {
        **done,
        "said": [row["said"] for row in rows],
        "verdicts": [row["verdict"] for row in rows],
    }


def sheet(api: TestClient, tag: str) -> dict:
    found = api.get("/api/rack", params={"search": tag}).json()["rows"]
    return api.get(f"/api/pieces/{found[0]['piece']['id']}").json()


def test_repeats_of_a_day_are_one_figure_with_their_spread(shelf: TestClient) -> None:
    rows = "Tag,What,Result,Units,Date\n" + "".join(
        f"P-1,{what},{value},{unit},2026-09-14\n"
        for what, value, unit in (
            ("Behind the edge", 0.27, "mm"),
            ("Behind the edge", 0.29, "mm"),
            ("BTE", 0.28, "mm"),
            ("hardness", 60.5, "HRC"),
            ("spine @ heel", "3/32", "in"),
            ("angle", 30, "incl"),
        )
    )
    done = brought(shelf, rows)
    assert done["added"] == {"sheets": 1, "readings": 6}
    figures = sheet(shelf, "P-1")["figures"]
    behind = figures["thickness_behind_edge"]
    assert (behind["n"], round(behind["mean"], 4)) == (3, 0.28)
    # .27 .28 .29 have the sample standard deviation .01; a bench usually has .04, as 3 readings
    assert behind["repeats"] == pytest.approx(((2 * 0.01**2 + 3 * 0.04**2) / 5 / 3) ** 0.5)
    assert figures["spine_heel"]["mean"] == pytest.approx(25.4 * 3 / 32)
    assert figures["edge_angle"]["mean"] == 15
    assert brought(shelf, rows)["verdicts"] == ["known"] * 6
    one_more = rows + "P-1,BTE,0.30,mm,2026-09-14\n"
    assert brought(shelf, one_more)["added"] == {"readings": 1}


def test_days_of_one_piece_in_one_list_are_sheets_of_their_own(shelf: TestClient) -> None:
    rows = (
        "tag,maker,line,type,size,weight g,date\n"
        "D-1,Kesterby,Harbour,gyuto,210,186,2026-03-02\n"
        "D-1,Kesterby,Harbour,gyuto,210,181,14.09.2026\n"
        "D-1,Kesterby,Harbour,gyuto,210,180,14.09.2026\n"
        "D-1,Kesterby,Harbour,gyuto,210,180,03/04/2026\n"
    )
    done = brought(shelf, rows)
    assert done["added"] == {"pieces": 1, "sheets": 3, "readings": 3}
    assert done["verdicts"] == ["accepted", "accepted", "refused", "partly"]
    assert "each once" in done["said"][2]
    assert "either month" in done["said"][3]
    assert "the day of the list is taken" in done["said"][3]
    found = sheet(shelf, "D-1")
    days = {s["started_at"][:10] for s in found["sheets"]}
    assert days == {"2026-03-02", "2026-09-14", TODAY}
    assert found["figures"]["weight"]["mean"] == 180
    # what was measured in January comes in last, and the newest measurement still stands
    older = "tag,weight g,date\nD-1,190,2026-01-05\n"
    assert brought(shelf, older)["added"] == {"sheets": 1, "readings": 1}
    assert sheet(shelf, "D-1")["figures"]["weight"]["mean"] == 180


def test_a_reading_for_an_unknown_tag_or_on_a_signed_sheet_is_refused(shelf: TestClient) -> None:
    assert (
        "a piece of the record"
        in brought(shelf, "tag,quantity,value\nNOBODY,weight,186\nP-2,charm,9\n")["said"][0]
    )
    first = (
        "tag,quantity,value,round,signed\nP-2,weight,203,{0}T08:00:00+00:00,{0}T09:00:00+00:00\n"
    )
    assert brought(shelf, first.format("2026-05-02"))["added"] == {"sheets": 1, "readings": 1}
    later = "tag,quantity,value,round\nP-2,hardness,60.5,2026-05-02T08:00:00+00:00\n"
    refused = brought(shelf, later)
    assert refused["verdicts"] == ["refused"]
    assert "signed off" in refused["said"][0]


def test_who_measured_and_with_what_are_kept_where_they_are_known(shelf: TestClient) -> None:
    rows = (
        "tag,quantity,value,unit,taken at,person,instrument,struck out\n"
        "P-2,hardness,60.0,HRC,2026-06-01,Ada of the quay,bench hardness tester 0.5 HRC,\n"
        "P-2,hardness,66.0,HRC,2026-06-01,Ada of the quay,a borrowed tester,read on cladding\n"
    )
    done = brought(shelf, rows)
    assert done["verdicts"] == ["accepted", "corrected"]
    assert "a borrowed tester" in done["said"][1]
    found = sheet(shelf, "P-2")
    assert found["figures"]["hardness"]["mean"] == 60.0
    history = [r for r in found["history"] if r["quantity"] == "hardness"]
    assert {r["person"] for r in history} == {"Ada of the quay"}
    assert [r["voided"] for r in history if r["value"] == 66.0] == ["read on cladding"]


def test_claims_one_a_row_and_beside_models(shelf: TestClient) -> None:
    rows = (
        "maker,line,type,size,what,as printed\nKesterby,Harbour,gyuto,210,hardness,60±1\n"
        "Kesterby,Harbour,gyuto,210,weight,185 g\nKesterby,Harbour,gyuto,210,hardness,99\n"
        "Kesterby,Harbour,gyuto,210,weight,190 g\n"
    )
    done = brought(shelf, rows)
    assert done["verdicts"] == ["accepted", "accepted", "refused", "doubtful"]
    assert "the claim stands as 185 g" in done["said"][3]
    printed = {c["quantity"]: c["printed"] for c in sheet(shelf, "P-1")["claims"]}
    assert printed == {"hardness": "60±1", "weight": "185 g"}


def test_a_traced_edge_comes_in_whole_or_not_at_all(shelf: TestClient) -> None:
    def trace(tag: str, length: float, name: str) -> str:
        points = "".join(
            f"{tag},{name},{length * i / 20:g},{0 if i < 12 else 0.9 * (i - 12) ** 1.5:g}\n"
            for i in range(21)
        )
        return f"tag,key,x mm,y mm\n{points}"

    assert brought(shelf, trace("P-1", 209, "one"))["added"] == {"profiles": 1}
    profile = sheet(shelf, "P-1")
    assert profile["traced"]["points"] >= 21
    assert brought(shelf, trace("P-1", 209, "one"))["verdicts"] == ["known"] * 21
    too_long = brought(shelf, trace("P-2", 270, "two"))
    assert set(too_long["verdicts"]) == {"refused"}
    assert "within 3 %" in too_long["said"][0]
    assert too_long["said"][1] == "goes with line 2"
    assert sheet(shelf, "P-2")["traced"] is None


def test_trials_of_each_kind_and_a_bad_point_among_them(shelf: TestClient) -> None:
    card = "".join(f"P-1,card test,{n},{15 - 0.05 * n:.2f}\n" for n in range(1, 61))
    line = "P-2,line-cut series,0,210\nP-2,line-cut series,40,0.5 N\nP-2,line-cut series,80,lots\n"
    log = "P-2,kitchen log,0,start\nP-2,kitchen log,9,rod\nP-2,kitchen log,60,stone\n"
    table = f"tag,kind of trial,x,value\n{card}{line}"
    done = brought(shelf, table)
    assert done["added"] == {"trials": 2}
    assert done["verdicts"].count("accepted") == 62
    assert "lots" in done["said"][-1]
    assert brought(shelf, f"tag,kind of trial,x,event\n{log}")["added"] == {"trials": 1}
    assert brought(shelf, table)["counts"]["known"] == 63
    found = sheet(shelf, "P-2")["trials"]
    assert {t["kind"] for t in found} == {"line", "kitchen"}
    whole = shelf.get(f"/api/trials/{next(t['id'] for t in found if t['points'] == 2)}").json()
    # half a newton is 51 gram-force: 0.5 / 0.00980665, the standard acceleration of gravity
    assert whole["series"][1]["value"] == pytest.approx(50.986, abs=0.001)


@pytest.mark.parametrize("odd", ["# 3", "third", "3\n4;5", ""])
def test_a_point_whose_place_is_no_number_is_refused_and_never_passed_over(
    shelf: TestClient, odd: str
) -> None:
    key = f"odd {odd!r}"
    rows = [
        {"tag": "P-1", "kind of trial": "count", "key": key, "x": x, "value": 40 + i}
        for i, x in enumerate((1, odd, 2))
    ]
    done = brought(shelf, json.dumps(rows), "trials.json")
    assert done["verdicts"].count("refused") == 1
    assert done["added"] == {"trials": 1}
    kept = [
        r
        for r in shelf.get("/api/v1/trials", params={"limit": 5000}).json()["items"]
        if r["trial_kind"] == "cuts to failure"
    ]
    assert {1.0, 2.0} <= {row["x"] for row in kept}


def test_a_kitchen_log_of_an_earlier_release_comes_in_once_under_its_old_words(
    shelf: TestClient,
) -> None:
    """Then a kind was its words, a food mix a job, and the key of a trial was made of the words."""
    kitchen = {
        "use": "home",
        "board": "wood or plastic",
        "technique": "twists and scrapes",
        "honed": True,
        "job": "dense roots",
        "edge": "fresh from the stone",
        "shares": [],
    }
    protocol = json.dumps({"kitchen": kitchen})
    log = {
        "tag": "P-1",
        "trial_kind": "kitchen log",
        "protocol": protocol,
        "taken_at": "2026-05-02",
    }
    rows = [{**log, "x": 0, "event": "start"}, {**log, "x": 6, "event": "rod"}]
    before = brought(shelf, json.dumps(rows), "log.json")
    coded = [{**row, "trial_kind": "kitchen"} for row in rows]
    again = brought(shelf, json.dumps(coded), "log.json")
    assert (before["added"], again["added"]) == ({"trials": 1}, {})
    assert again["verdicts"] == ["known", "known"]
    rows = shelf.get("/api/v1/trials", params={"limit": 5000}).json()["items"]
    kitchens = [json.loads(row["protocol"])["kitchen"] or {} for row in rows]
    assert "rough" in [kitchen.get("technique") for kitchen in kitchens]


def test_a_trial_with_a_protocol_that_is_none_leaves_nobody_behind(shelf: TestClient) -> None:
    row = {"tag": "P-1", "kind of trial": "count", "x": 1, "value": 9, "key": "who"}
    wrong = {**row, "protocol": "by feel", "person": "A stranger"}
    good = {**row, "key": "who else", "person": "A stranger"}
    done = brought(shelf, json.dumps([wrong, good]), "trials.json")
    assert done["verdicts"] == ["refused", "accepted"]
    assert done["state"] == "brought in"


def test_a_workbook_of_several_sheets_comes_in_models_first(shelf: TestClient) -> None:
    book = openpyxl.Workbook()
    for name, rows in {
        "measured": [["tag", "quantity", "value", "unit"], ["B-1", "weight", 6.9, "oz"]],
        "our knives": [
            ["tag", "maker", "line", "type", "size"],
            ["B-1", "Oxbow & Tern", "Hock", "honesuke", 145],
        ],
        "scribbles": [["call the ferry"], ["about", "knives"]],
    }.items():
        page = book.create_sheet(name)
        for row in rows:
            page.append(row)
    del book["Sheet"]
    held = io.BytesIO()
    book.save(held)
    done = brought(shelf, held.getvalue(), "shop.xlsx")
    assert [t["kind"] for t in done["tables"]] == ["readings", "pieces", None]
    assert done["added"] == {"models": 1, "pieces": 1, "sheets": 1, "readings": 1}
    assert sheet(shelf, "B-1")["figures"]["weight"]["mean"] == pytest.approx(6.9 * 28.349523125)


def test_other_words_for_types_grinds_steels_and_prices(shelf: TestClient) -> None:
    rows = (
        "Brand,Model,Type,Size,Grind,Steel,Price\n"
        "Tansley,Quay,Kochmesser,8 in,flat,X50CrMoV15 (1.4116),89.-\n"
        'Tansley,Quay,utility knife,5 in,hollow ground,mystery steel,"1,249.00 crowns"\n'
        "Tansley,Quay,bread knife,10 in,warped,1.4116,90\n"
        "Tansley,Quay,nakiri,165 mm,flat,1.4116,free\n"
    )
    done = brought(shelf, rows)
    assert done["verdicts"] == ["accepted", "corrected", "partly", "partly"]
    assert "mystery steel" in done["said"][1]
    assert "warped" in done["said"][2]
    models = {
        m["knife_type"]: m
        for m in shelf.get("/api/v1/models").json()["items"]
        if m["maker"] == "Tansley"
    }
    assert models["western_chef"]["nominal_mm"] == pytest.approx(203.2)
    assert (models["western_chef"]["steel"], models["western_chef"]["price"]) == ("1.4116", 89.0)
    assert (models["petty"]["steel"], models["petty"]["price"]) == (None, 1249.0)
    assert models["petty"]["grind"] == "hollow"
    assert models["nakiri"]["price"] is None  # the rest of its row came in
    assert models["serrated"]["grind"] == "not_seen"

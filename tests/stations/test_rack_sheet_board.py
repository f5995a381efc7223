"""Rack, Sheet and Board over the API, against the core."""

from __future__ import annotations

import re
from typing import Any

import pytest
from fastapi.testclient import TestClient
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import Kitchen, Use
from maple_rook.core.prediction.predict import predict
from maple_rook.store import records

Json = dict[str, Any]


def rack(api: TestClient, **query: object) -> Json:
    answer = api.get("/api/rack", params={"limit": 200, **query})  # type: ignore[arg-type]
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def by_tag(api: TestClient, tag: str) -> Json:
    (row,) = (r for r in rack(api)["rows"] if r["piece"]["tag"] == tag)
    found: Json = row
    return found


def piece_id(api: TestClient, tag: str) -> int:
    return int(by_tag(api, tag)["piece"]["id"])


def flags(api: TestClient, tag: str) -> list[str]:
    return [flag["label"] for flag in by_tag(api, tag)["flags"]]


def test_the_shelf_flags_what_a_buyer_should_see(api: TestClient) -> None:
    assert "claim contradicted: hardness" in flags(api, "DG-20")
    assert "not hardened" in flags(api, "TT-16")
    assert "claim contradicted: asymmetry" in flags(api, "PM-21")
    assert "half measured" in flags(api, "QP-23")
    assert "unusual, confirmed" in flags(api, "QP-18")
    assert flags(api, "KH-01") == []


def test_search_looks_at_name_type_steel_and_flags(api: TestClient) -> None:
    assert {r["piece"]["knife_type"] for r in rack(api, search="nakiri")["rows"]} == {"nakiri"}
    assert {r["piece"]["steel"] for r in rack(api, search="HS6-5-2")["rows"]} == {"HS6-5-2"}
    assert rack(api, search="not hardened")["shown"] == 1
    assert rack(api, search="no such knife")["rows"] == []


def test_a_range_filter_keeps_only_knives_measured_inside_it(api: TestClient) -> None:
    rows = rack(api, within=["weight:100:200", "hardness:60:66"])["rows"]
    assert rows
    for row in rows:
        assert 100 <= row["figures"]["weight"]["mean"] <= 200
        assert 60 <= row["figures"]["hardness"]["mean"] <= 66


@pytest.mark.parametrize("key", ["cutting_ease", "weight", "hardness", "months_to_stone", "price"])
@pytest.mark.parametrize("descending", [False, True])
def test_sorting_puts_the_unmeasured_last(api: TestClient, key: str, descending: bool) -> None:
    rows = rack(api, sort=key, descending=descending)["rows"]

    def value(row: Json) -> float | None:
        if key == "price":
            return row["piece"]["price"]  # type: ignore[no-any-return]
        if key in ("cutting_ease", "months_to_stone"):
            return row["predicted"][key]["central"] if key in row["predicted"] else None
        return row["figures"][key]["mean"] if key in row["figures"] else None

    values = [value(row) for row in rows]
    known = [v for v in values if v is not None]
    assert known == sorted(known, reverse=descending)
    assert values[: len(known)] == known


def test_links_that_name_cutting_ease_as_before_still_sort_and_filter(api: TestClient) -> None:
    now, before = (
        rack(api, sort=key, within=[f"{key}:80:200"]) for key in ("cutting_ease", "ease")
    )
    assert now["shown"] > 5
    assert [row["piece"]["id"] for row in now["rows"]] == [
        row["piece"]["id"] for row in before["rows"]
    ]


def test_the_slider_ends_hold_every_knife(api: TestClient) -> None:
    found = rack(api)
    for span in found["ranges"]:
        measured = sum(span["counts"])
        kept = rack(api, within=[f"{span['key']}:{span['low']}:{span['high']}"])
        assert kept["shown"] == measured


def test_pages_of_the_shelf_do_not_overlap(api: TestClient) -> None:
    first = rack(api, limit=5)["rows"]
    second = rack(api, limit=5, offset=5)["rows"]
    assert not {r["piece"]["id"] for r in first} & {r["piece"]["id"] for r in second}


def test_the_strip_leaves_off_knives_that_no_longer_exist(api: TestClient) -> None:
    found = api.get("/api/strip", params={"piece": [3, 999_999, 1]}).json()
    assert [k["id"] for k in found] == [3, 1]
    assert api.get("/api/strip").json() == []


def test_the_sheet_says_what_the_core_computes(api: TestClient, db: Session) -> None:
    number = piece_id(api, "KH-01")
    answer = api.get(
        f"/api/pieces/{number}", params={"use": "professional", "basis": "published"}
    ).json()
    figures = records.figures(db, [number])[number]
    blade = records.blades(db, records.pieces(db, [number]), {number: figures})[0]
    expected = predict([blade], Kitchen(use=Use.PROFESSIONAL))[0]
    assert [p["key"] for p in answer["predictions"]] == [p.key for p in expected]
    for said, computed in zip(answer["predictions"], expected, strict=True):
        assert said["central"] == computed.central
        assert (said["low"], said["high"]) == (computed.low, computed.high)
        assert said["grade"] == computed.card.grade.value


def test_the_sheet_judges_every_claim(api: TestClient) -> None:
    answer = api.get(f"/api/pieces/{piece_id(api, 'DG-20')}").json()
    verdicts = {c["quantity"]: c["verdict"] for c in answer["claims"]}
    assert verdicts["hardness"] == "contradicted"
    assert verdicts["edge_angle"] == "contradicted"
    assert verdicts["weight"] == "confirmed"
    tolerance = next(c["tolerance"] for c in answer["claims"] if c["quantity"] == "weight")
    assert tolerance == "default tolerance ±10 g"


def test_an_unhardened_knife_is_called_so_and_promised_nothing(api: TestClient) -> None:
    answer = api.get(f"/api/pieces/{piece_id(api, 'TT-16')}").json()
    assert answer["hardened"] == "not_hardened"
    stone = next(p for p in answer["predictions"] if p["key"] == "months_to_stone")
    assert stone["central"] is None
    assert "will not hold an edge" in stone["unavailable"]


def test_a_used_knife_shows_its_newest_figures_and_both_sheets(api: TestClient) -> None:
    answer = api.get(f"/api/pieces/{piece_id(api, 'DL-25')}").json()
    assert len(answer["sheets"]) == 2
    assert answer["figures"]["thickness_behind_edge"]["mean"] == pytest.approx(0.39, abs=0.03)
    assert len(answer["history"]) == sum(s["readings"] for s in answer["sheets"])


def test_every_knife_on_the_shelf_has_a_sheet_with_cautions(api: TestClient) -> None:
    for row in rack(api)["rows"]:
        answer = api.get(f"/api/pieces/{row['piece']['id']}")
        assert answer.status_code == 200, row["piece"]["tag"]
        assert any("local law" in caution for caution in answer.json()["cautions"])


def board(api: TestClient, *tags: str) -> Json:
    ids = [piece_id(api, tag) for tag in tags]
    answer = api.post("/api/board", json={"pieces": ids})
    assert answer.status_code == 200, answer.text
    found: Json = answer.json()
    return found


def test_the_board_sorts_differences_by_how_much_they_matter(api: TestClient) -> None:
    found = board(api, "KH-01", "DG-20", "KH-15")
    order = ["noticeable", "real", "not_measurable"]
    ranks = [order.index(d["verdict"]) for d in found["differences"]]
    assert ranks == sorted(ranks)
    weight = next(d for d in found["differences"] if d["key"] == "weight")
    assert weight["verdict"] == "noticeable"
    assert weight["largest"].startswith("B over C by")
    assert "% of C" in weight["largest"]


def test_two_pieces_of_one_model_hardly_differ(api: TestClient) -> None:
    found = board(api, "PK-21", "PK-22")
    hardness = next(d for d in found["differences"] if d["key"] == "hardness")
    assert hardness["verdict"] == "not_measurable"


def test_the_board_says_the_same_whatever_the_order(api: TestClient) -> None:
    one, other = board(api, "KH-01", "DG-20"), board(api, "DG-20", "KH-01")
    for knife, same in zip(one["knives"], reversed(other["knives"]), strict=True):
        assert knife["predictions"] == same["predictions"]
    assert {d["key"]: d["verdict"] for d in one["differences"]} == {
        d["key"]: d["verdict"] for d in other["differences"]
    }


def test_force_curves_end_at_the_predicted_peak(api: TestClient) -> None:
    found = board(api, "KH-01", "BT-27", "PM-27", "TC-25")
    for curve in found["curves"]:
        *forces, absent = curve["force_n"]
        assert absent is None, "a serrated blade has no predicted curve"
        for knife, force in zip(found["knives"], forces, strict=False):
            assert force == sorted(force)
            key = f"force.{curve['food']}.{curve['stroke']}"
            peak = next(p["central"] for p in knife["predictions"] if p["key"] == key)
            assert force[-1] == pytest.approx(peak, abs=0.01)


def test_a_half_measured_knife_can_lie_on_the_board(api: TestClient) -> None:
    found = board(api, "KH-01", "QP-23")
    ease = next(p for p in found["knives"][1]["predictions"] if p["key"] == "cutting_ease")
    assert any("Inferred from type and grind: " in note for note in ease["notes"])


def test_the_catalogue_explains_every_card_and_quantity(api: TestClient) -> None:
    found = api.get("/api/catalogue").json()
    assert found["shop"] == "Saltmarsh Lane Cutlers"
    assert found["demo"] is True
    asked = {q["stop"] for q in (*found["quantities"], *found["items"])}
    assert asked == {s["key"] for s in found["stops"]}
    assert all(card["source"] and card["equation"] for card in found["cards"].values())


def test_the_claims_of_the_shelf_begin_with_those_measurement_contradicts(api: TestClient) -> None:
    listed = api.get("/api/claims", params={"limit": 500}).json()
    order = ["contradicted", "undecided", "confirmed", "not_measured"]
    verdicts = [row["verdict"] for row in listed["rows"]]
    assert verdicts == sorted(verdicts, key=order.index)
    assert listed["counts"] == {v: verdicts.count(v) for v in order}
    galley = next(
        row for row in listed["rows"] if row["quantity"] == "hardness" and "Galley" in row["model"]
    )
    assert galley["record"] == "2 pieces measured: 2 contradicted"
    assert re.fullmatch(
        r"1\.\d HRC below 58, U [01]\.\d+|\d HRC below 58, U \d", galley["pieces"][0]["statement"]
    )
    harbour = [row for row in listed["rows"] if "Harbour gyuto" in row["model"]]
    tags = [{piece["tag"] for piece in row["pieces"]} for row in harbour]
    assert tags
    assert all({"KH-01", "KH-02"} <= found for found in tags)
    undecided = next(
        p for row in listed["rows"] for p in row["pieces"] if p["verdict"].startswith("undecided")
    )
    assert undecided["statement"].endswith(("would settle it", "HRC", "mm", "g", "side"))


def test_claims_are_found_by_words_and_verdict(api: TestClient) -> None:
    asked = {"search": "galley hardness", "verdict": "contradicted"}
    found = api.get("/api/claims", params=asked).json()
    assert [row["label"] for row in found["rows"]] == ["hardness"]
    assert found["shown"] == 1
    none = api.get("/api/claims", params={**asked, "verdict": "confirmed"}).json()
    assert (none["rows"], none["counts"]) == ([], found["counts"])


def test_a_claim_states_facts_and_accuses_nobody(api: TestClient) -> None:
    """Wording: no word that says why a figure differs, or judges the maker."""
    page = api.get("/api/claims", params={"limit": 500}).text.lower()
    for word in ("false", "wrong", "lie", "cheat", "mislead", "fraud", "dishonest"):
        assert word not in page, word

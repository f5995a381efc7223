"""What the record says is repaired with its history kept, and any of it can be undone."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from shops import given, run, shop_api, shop_engine

SHELF = """tag,maker,line,type,size,steel,price,weight g,spine mm
A-1,Kesterby,Harbour,gyuto,210,1.4116,240,186,2.1
A-2,Kesterby,Harbour,gyuto,210,1.4116,240,190,2.2
B-1,Kesterbie,Harbor,gyuto,210,,,188,2.0
"""
Tables = dict[str, list[dict[str, Any]]]


@pytest.fixture
def shop(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as client:
        client.headers["If-Match"] = "*"
        run(client, given(client, SHELF))
        yield client


def record(shop: TestClient) -> Tables:
    """Every table of the record, whatever order its rows stand in."""
    whole = shop.get("/api/v1/shop.json").json()
    return {
        name: sorted(rows, key=lambda row: sorted((k, str(v)) for k, v in row.items()))
        for name, rows in whole.items()
        if isinstance(rows, list)
    }


def piece(shop: TestClient, tag: str) -> int:
    found: int = shop.get("/api/bench/label", params={"code": tag}).json()["piece_id"]
    return found


def model(shop: TestClient, line: str) -> int:
    models = shop.get("/api/mending").json()["models"]
    found: int = next(m["id"] for m in models if f" {line} " in m["name"])
    return found


def maker(shop: TestClient, name: str) -> int:
    makers = shop.get("/api/mending").json()["makers"]
    found: int = next(m["id"] for m in makers if m["name"] == name)
    return found


def sheet_of(shop: TestClient, tag: str) -> dict[str, Any]:
    found: dict[str, Any] = shop.get(f"/api/pieces/{piece(shop, tag)}").json()
    return found


def done(answer: Any) -> int:
    assert answer.is_success, answer.text
    found: int = answer.json()["amendment_id"]
    return found


def edit_piece(shop: TestClient) -> int:
    values = {"tag": "A-9", "condition": "used", "note": "chip at the tip", "reason": "mistyped"}
    return done(shop.patch(f"/api/mending/pieces/{piece(shop, 'A-1')}", json=values))


def move_piece(shop: TestClient) -> int:
    values = {"model_id": model(shop, "Harbour")}
    return done(shop.patch(f"/api/mending/pieces/{piece(shop, 'B-1')}", json=values))


def edit_model(shop: TestClient) -> int:
    values = {
        **{"maker": "Tansley", "line": "Quay", "nominal": "8 1/4 in", "grind": "convex"},
        **{"steel": None, "price": "199.50", "construction": "clad", "retired": True},
        "claims": [{"quantity": "hardness", "printed": "62±2"}],
    }
    return done(shop.patch(f"/api/mending/models/{model(shop, 'Harbour')}", json=values))


def merge_models(shop: TestClient) -> int:
    into = {"into": model(shop, "Harbour")}
    return done(shop.post(f"/api/mending/models/{model(shop, 'Harbor')}/merge", json=into))


def rename_maker(shop: TestClient) -> int:
    name = {"name": "Kesterby & Daughters"}
    return done(shop.patch(f"/api/mending/makers/{maker(shop, 'Kesterby')}", json=name))


def merge_makers(shop: TestClient) -> int:
    into = {"into": maker(shop, "Kesterby")}
    return done(shop.post(f"/api/mending/makers/{maker(shop, 'Kesterbie')}/merge", json=into))


def merge_pieces(shop: TestClient) -> int:
    into = {"into": piece(shop, "A-1")}
    return done(shop.post(f"/api/mending/pieces/{piece(shop, 'B-1')}/merge", json=into))


def set_aside(shop: TestClient) -> int:
    [sheet] = sheet_of(shop, "A-1")["sheets"]
    reason = {"reason": "it was A-2 that lay there"}
    return done(shop.put(f"/api/mending/sheets/{sheet['id']}/set-aside", json=reason))


ALL = (
    *(edit_piece, move_piece, edit_model, merge_models),
    *(rename_maker, merge_makers, merge_pieces, set_aside),
)


@pytest.mark.parametrize("mend", ALL, ids=lambda mend: mend.__name__)
def test_whatever_was_mended_is_told_audited_and_can_be_undone(shop: TestClient, mend: Any) -> None:
    before = record(shop)
    amendment = mend(shop)
    assert record(shop) != before
    told = shop.get("/api/mending/amendments").json()["amendments"][0]
    assert (told["id"], told["undone"]) == (amendment, False)
    assert told["changes"] or told["moved"]
    audit = shop.get("/api/audit", params={"about": "amendments"}).json()
    assert audit["items"][0]["of"] == str(amendment)
    done(shop.post(f"/api/mending/amendments/{amendment}/undo"))
    assert record(shop) == before
    again = shop.post(f"/api/mending/amendments/{amendment}/undo")
    assert again.status_code == 409


def test_a_model_is_mended_on_all_its_pieces(shop: TestClient) -> None:
    edit_model(shop)
    for tag in ("A-1", "A-2"):
        shown = sheet_of(shop, tag)
        assert shown["piece"]["maker"] == "Tansley"
        assert shown["piece"]["price"] == 199.5
    found = shop.get(f"/api/mending/models/{model(shop, 'Quay')}").json()
    assert found["nominal_mm"] == pytest.approx(209.55)  # 8 1/4 in, by the exact inch
    assert [(c["quantity"], c["printed"]) for c in found["claims"]] == [("hardness", "62±2")]
    offered = {m["name"] for m in shop.get("/api/bench").json()["models"]}
    assert not any("Quay" in name for name in offered), "a retired model takes no new pieces"


def test_a_sheet_set_aside_counts_for_nothing_until_it_is_put_back(shop: TestClient) -> None:
    set_aside(shop)
    shown = sheet_of(shop, "A-1")
    assert "weight" not in shown["figures"]
    [sheet] = shown["sheets"]
    assert sheet["set_aside"] == "it was A-2 that lay there"
    assert {r["voided"] for r in shown["history"]} == {"it was A-2 that lay there"}
    body = {"client_id": "00000000-0000-4000-8000-000000000001", "quantity": "weight"}
    late = shop.post(f"/api/bench/sheets/{sheet['id']}/readings", json={**body, "typed": "186"})
    assert late.status_code == 409
    address = f"/api/mending/sheets/{sheet['id']}/set-aside"
    done(shop.put(address, json={"reason": ""}))
    assert sheet_of(shop, "A-1")["figures"]["weight"]["mean"] == 186


def test_a_merged_piece_leads_to_the_other_with_all_its_sheets(shop: TestClient) -> None:
    merge_pieces(shop)
    assert piece(shop, "B-1") == piece(shop, "A-1")
    assert len(sheet_of(shop, "A-1")["sheets"]) == 2
    assert shop.get("/api/rack").json()["total"] == 2  # the empty one is retired


def test_names_that_would_be_two_are_refused_and_merging_is_named(shop: TestClient) -> None:
    taken = shop.patch(f"/api/mending/pieces/{piece(shop, 'A-1')}", json={"tag": "a-2"})
    same = {"maker": "Kesterby", "line": "Harbour"}
    twice = shop.patch(f"/api/mending/models/{model(shop, 'Harbor')}", json=same)
    maker_too = shop.patch(
        f"/api/mending/makers/{maker(shop, 'Kesterbie')}", json={"name": "KESTERBY"}
    )
    for answer in (taken, twice, maker_too):
        assert answer.status_code == 422
        assert "Merge the two" in answer.text


def test_what_was_changed_again_is_not_undone_over_it(shop: TestClient) -> None:
    first = rename_maker(shop)
    name = {"name": "Kesterby Smithy"}
    done(shop.patch(f"/api/mending/makers/{maker(shop, 'Kesterby & Daughters')}", json=name))
    refused = shop.post(f"/api/mending/amendments/{first}/undo")
    assert refused.status_code == 409
    assert "changed again, to Kesterby Smithy" in refused.json()["detail"]


def test_an_edit_says_what_it_saw(shop: TestClient) -> None:
    address = f"/api/mending/models/{model(shop, 'Harbour')}"
    seen = shop.get(address).json()["etag"]
    edit = shop.patch(address, json={"finish": "brushed"}, headers={"If-Match": seen})
    late = shop.patch(address, json={"finish": "polished"}, headers={"If-Match": seen})
    assert (edit.status_code, late.status_code) == (200, 412)
    assert done(shop.patch(address, json={"finish": "brushed"})) is None  # nothing is other

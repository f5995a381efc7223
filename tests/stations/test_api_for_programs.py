"""The versioned API: described, paged, in agreement with itself, and writing in bulk."""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import jsonschema
import pyogrio
import pytest
from fastapi.testclient import TestClient

from bench_line import until
from maple_rook.cluster import Cluster
from maple_rook.documents.knife_document import KnifeDocument
from maple_rook.format_pages import example_knife, pages
from maple_rook.formats.incoming.fields import RECORD_KINDS, Kind
from maple_rook.formats.record_tables import shop_schema
from maple_rook.settings import PROJECT_ROOT
from shops import given, run, shop_api, shop_engine

MODEL = {"maker": "Kesterby", "line": "Harbour", "knife_type": "gyuto", "nominal_mm": 210}


@pytest.fixture(scope="module")
def empty(cluster: Cluster, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path_factory.mktemp("w")) as client:
        yield client


def all_rows(api: TestClient, path: str, limit: int = 300) -> list[dict]:
    rows: list[dict] = []
    following = f"{path}?limit={limit}"
    while following:
        page = api.get(following).json()
        rows += page["items"]
        following = page["next"]
    return rows


def test_every_route_of_the_versioned_path_is_described(api: TestClient) -> None:
    paths = api.get("/api/openapi.json").json()["paths"]
    routes = {path: found for path, found in paths.items() if path.startswith("/api/v1/")}
    assert len(routes) >= 18
    for path, methods in routes.items():
        for method, route in methods.items():
            assert route["description"], f"{method} {path}"
            assert route["responses"]["200"], f"{method} {path}"
    bulk = routes["/api/v1/readings"]["post"]["requestBody"]["content"]["application/json"]
    assert bulk["schema"]["$ref"].endswith("/BulkIn")
    page = routes["/api/v1/readings"]["get"]["responses"]["200"]["content"]["application/json"]
    assert page["schema"]["$ref"].endswith("/ReadingsPage")


@pytest.mark.parametrize("kind", list(RECORD_KINDS))
def test_pages_csv_and_the_one_document_agree(api: TestClient, kind: Kind) -> None:
    path = "/api/v1/pieces/rows" if kind is Kind.PIECES else f"/api/v1/{kind.value}"
    rows = all_rows(api, path)
    whole = api.get("/api/v1/shop.json").json()
    assert rows == whole[kind.value]
    text = api.get(f"/api/v1/{kind.value}.csv").text
    table = list(csv.DictReader(io.StringIO(text, newline="")))
    assert len(table) == len(rows)
    for row, cells in zip(rows, table, strict=True):
        for name, value in row.items():
            if isinstance(value, float):
                assert float(cells[name]) == pytest.approx(value, abs=1e-6)
            elif isinstance(value, str):
                assert cells[name].removeprefix("'") == value.removeprefix("'")
            else:
                assert cells[name] == ("yes" if value is True else "")


def test_csv_is_read_by_another_program(api: TestClient, tmp_path: Path) -> None:
    path = tmp_path / "readings.csv"
    path.write_bytes(api.get("/api/v1/readings.csv").content)
    # read by GDAL, which knows nothing of us
    meta, _, _, fields = pyogrio.raw.read(path, encoding="utf-8")
    assert list(meta["fields"])[:3] == ["tag", "key", "quantity"]
    assert len(fields[0]) == len(all_rows(api, "/api/v1/readings"))


def test_a_range_leaves_exactly_the_knives_inside_it(api: TestClient) -> None:
    def page(**asked: object) -> list[dict]:
        return api.get("/api/v1/pieces", params={"limit": 200, **asked}).json()["items"]

    def value(knife: dict, key: str) -> float | None:
        return next((f["value"] for f in knife["figures"] if f["key"] == key), None)

    every = page()
    for key, low, high in (("weight", 150, 200), ("balance_point", -30, 20), ("spine_mid", 1, 2)):
        inside = {k["tag"] for k in page(where=f"{key}:{low}:{high}")}
        clear = {
            k["tag"]
            for k in every
            if (v := value(k, key)) is not None and low + 0.5 < v < high - 0.5
        }
        touching = {
            k["tag"]
            for k in every
            if (v := value(k, key)) is not None and low - 0.5 < v < high + 0.5
        }
        assert clear <= inside <= touching
    both = {k["tag"] for k in page(where=["weight:150:200", "hardness:60:70"])}
    assert both == {k["tag"] for k in page(where="weight:150:200")} & {
        k["tag"] for k in page(where="hardness:60:70")
    }
    santokus = page(knife_type="santoku", sort="-weight")
    assert {k["knife_type"] for k in santokus} == {"santoku"}
    weighed = [v for k in santokus if (v := value(k, "weight")) is not None]
    assert weighed == sorted(weighed, reverse=True)


def test_an_old_name_is_understood_and_said_to_go(api: TestClient) -> None:
    """RFC 9745: the Deprecation header, a date as seconds since 1970."""
    asked = {"sort": "-cutting_ease", "where": "cutting_ease:80:200"}
    now = api.get("/api/v1/pieces", params=asked)
    before = api.get("/api/v1/pieces", params={"sort": "-ease", "where": "ease:80:200"})
    assert "Deprecation" not in now.headers
    assert re.fullmatch(r"@\d{10}", before.headers["Deprecation"])
    assert before.json()["total"] > 5
    assert [k["tag"] for k in before.json()["items"]] == [k["tag"] for k in now.json()["items"]]
    claims = [c for k in now.json()["items"] for c in k["claims"]]
    assert {c["verdict_code"] for c in claims} >= {"confirmed", "undecided"}
    assert {c["verdict"] for c in claims} >= {"confirmed", "undecided, measure more"}
    rows = api.get("/api/v1/readings?after=5&limit=3")
    assert re.fullmatch(r"@\d{10}", rows.headers["Deprecation"])
    assert rows.json()["rows"] == api.get("/api/v1/readings?offset=5&limit=3").json()["items"]
    assert rows.json()["next"] == 8


def test_every_knife_is_a_valid_document_and_no_figure_lacks_its_u(api: TestClient) -> None:
    schema = KnifeDocument.model_json_schema(mode="serialization")
    for knife in api.get("/api/v1/pieces", params={"limit": 200}).json()["items"]:
        jsonschema.validate(knife, schema)
        for figure in knife["figures"]:
            assert figure["u"] >= 0
            assert figure["unit_text"]
        for estimate in knife["estimates"]:
            assert estimate["low"] <= estimate["central"] <= estimate["high"]
            assert estimate["grade"] in "MGRP"


def test_a_tag_nobody_carries_is_not_found(api: TestClient) -> None:
    answer = api.get("/api/v1/pieces/NOBODY")
    assert answer.status_code == 404
    assert answer.headers["content-type"].startswith("application/problem+json")


def test_bulk_rows_of_each_kind_say_what_became_of_them(empty: TestClient) -> None:
    def sent(kind: str, *rows: dict, **choices: object) -> dict:
        return empty.post(f"/api/v1/{kind}", json={"rows": list(rows), **choices}).json()

    def verdicts(answer: dict) -> list[str]:
        return [row["verdict"] for row in answer["rows"]]

    def counts() -> Counter[str]:
        document = empty.get("/api/v1/shop.json").json()
        return Counter({kind.value: len(document[kind.value]) for kind in RECORD_KINDS})

    before = counts()
    model = {**MODEL, "line": "Bulk"}
    assert verdicts(sent("models", {**model, "grind": "full_flat"}, {"maker": "Kesterby"})) == [
        "accepted",
        "refused",
    ]
    claim = {**model, "quantity": "hardness", "printed": "60±1"}
    assert verdicts(sent("claims", claim, claim)) == ["accepted", "here already"]
    assert verdicts(sent("pieces", {"tag": "Q-1", **model, "weight_oz": 6.6})) == ["accepted"]
    odd = {"tag": "Q-1", "quantity": "weight", "typed": "990", "key": "odd"}
    assert verdicts(sent("readings", odd)) == ["doubtful"]
    assert sent("readings", odd, doubtful="bring")["added"] == {"readings": 1}
    trial = {"tag": "Q-1", "trial_kind": "cuts to failure", "x": 1, "value": 37, "key": "t"}
    assert verdicts(sent("trials", trial, {**trial, "x": 2, "value": 41})) == ["accepted"] * 2
    points = [
        {"tag": "Q-1", "key": "p", "x_mm": x, "y_mm": 0 if x < 150 else (x - 150) / 8}
        for x in range(0, 211, 10)
    ]
    assert set(verdicts(sent("profiles", *points))) == {"accepted"}
    added = dict(counts() - before)
    assert added.pop("profiles") >= len(points)  # where it leaves the board a point is added
    assert added == {"models": 1, "claims": 1, "pieces": 1, "readings": 2, "trials": 2}


@pytest.mark.parametrize("kind", list(RECORD_KINDS))
def test_a_name_that_means_nothing_is_refused_and_nothing_of_the_rows_is_kept(
    empty: TestClient, kind: Kind
) -> None:
    """What stands under it would be lost without a word."""
    before = all_rows(empty, "/api/v1/models")
    about = MODEL if kind in (Kind.MODELS, Kind.PIECES, Kind.CLAIMS) else {"tag": "LOST-1"}
    row = {**about, "wieght": 180}
    answer = empty.post(f"/api/v1/{kind.value}", json={"rows": [row]})
    assert answer.status_code == 422
    assert "wieght" in answer.json()["errors"][0]["value"], answer.text
    assert all_rows(empty, "/api/v1/models") == before


def test_what_is_not_worked_out_yet_is_listed_too(empty: TestClient) -> None:
    tags = [f"MANY-{n}" for n in range(300)]
    until(lambda: empty.get("/api/v1/pieces").json()["behind"] == 0)
    before = empty.get("/api/v1/pieces", params={"search": "MANY"}).json()
    rows = [{**MODEL, "tag": tag} for tag in tags]
    assert empty.post("/api/v1/pieces", json={"rows": rows}).status_code == 200
    seen = empty.get("/api/v1/pieces", params={"search": "MANY"}).json()
    assert before["total"] == 0
    assert seen["total"] == len(tags)
    last = empty.get("/api/v1/pieces", params={"search": "MANY", "offset": 290}).json()["items"]
    assert len(last) == 10  # calculated for the page, wherever the shelf is by now
    until(lambda: empty.get("/api/v1/pieces").json()["behind"] == 0)
    assert empty.get("/api/v1/pieces", params={"search": "MANY"}).json()["total"] == len(tags)


def test_a_parameter_that_an_address_does_not_know_is_refused(api: TestClient) -> None:
    paths = api.get("/api/openapi.json").json()["paths"]
    for path in (p for p in paths if p.startswith("/api/v1/") and "get" in paths[p]):
        placed = path.replace("{tag}", "KH-01")
        refused = api.get(placed, params={"serach": "gyuto"})
        assert refused.status_code == 422, path
        assert refused.json()["errors"][0]["field"] == "serach"
    assert api.get("/api/v1/pieces", params={"search": "gyuto", "limit": 2}).status_code == 200


def test_the_same_rows_sent_by_two_at_once_are_kept_once(empty: TestClient) -> None:
    def sent(_: int) -> int:
        rows = [{"tag": f"TWO-{i}", **MODEL} for i in range(300)]
        return empty.post("/api/v1/pieces", json={"rows": rows}).status_code

    with ThreadPoolExecutor(4) as senders:
        answers = list(senders.map(sent, range(4)))
    assert 200 in answers
    assert set(answers) <= {200, 409}
    kept = [r["tag"] for r in all_rows(empty, "/api/v1/pieces/rows") if r["tag"].startswith("TWO")]
    assert len(kept) == len(set(kept)) == 300


def test_too_many_rows_and_rows_that_are_no_rows_are_refused(empty: TestClient) -> None:
    many = [{"tag": "X"}] * 5_001
    assert empty.post("/api/v1/pieces", json={"rows": many}).status_code == 422
    assert empty.post("/api/v1/pieces", json={"rows": []}).status_code == 422
    assert empty.post("/api/v1/pieces", json={"rows": [{"tag": ["a"]}]}).status_code == 422
    lacking = empty.post("/api/v1/readings", json={"rows": [{"tag": "Q-1"}]})
    assert "a column that means it" in lacking.json()["detail"]


def test_what_the_pages_of_the_formats_show_is_true(empty: TestClient) -> None:
    shown = pages()
    assert json.loads(shown["shop.schema.json"]) == shop_schema()
    jsonschema.validate(
        example_knife().model_dump(mode="json"),
        KnifeDocument.model_json_schema(mode="serialization"),
    )
    tables = dict(re.findall(r"## (\w+)\n[^#]*?\n\n((?:    [^\n]+\n)+)", shown["record.md"]))
    assert set(tables) == {kind.value for kind in RECORD_KINDS}
    for name in ("models", "claims", "pieces", "readings"):
        text = "\n".join(line[4:] for line in tables[name].splitlines())
        done = run(empty, given(empty, text, f"{name}.csv"))
        assert done["state"] == "brought in", done["problem"]
        assert done["counts"]["refused"] == 0


def test_links_between_the_pages_of_the_docs_lead_somewhere() -> None:
    for page in (PROJECT_ROOT / "docs").rglob("*.md"):
        for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
            assert (page.parent / target).exists(), f"{page.name}: {target}"

"""Out, into an empty shop, and out again: the same, byte by byte; an archive: the same shop."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path

import jsonschema
import openpyxl
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import Engine

from maple_rook.cluster import Cluster
from maple_rook.formats.incoming.fields import RECORD_KINDS, Kind
from maple_rook.formats.record_tables import RECORD_TABLES, shop_schema
from maple_rook.stations.exchange.exporting import whole_json
from maple_rook.store import archive
from maple_rook.store.database import sessions
from shops import TODAY, given, run, shop_api, shop_engine


def tables_of(text: str) -> dict:
    """The tables of a shop's JSON that other formats have too."""
    whole = json.loads(text)
    return {kind: whole[kind.value] for kind in RECORD_KINDS}


@pytest.fixture
def demo_alone(cluster: Cluster) -> Iterator[Engine]:
    """The demo shop as loaded, shared with no test that writes."""
    with shop_engine(cluster, demo=True) as made:
        yield made


def test_one_json_of_the_whole_shop_is_valid_and_makes_the_same_shop(
    demo_alone: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    with shop_api(demo_alone, tmp_path) as source:
        before = source.get("/api/v1/shop.json").text
        assert source.get("/api/v1/shop.schema.json").json() == shop_schema()
    # validated by the jsonschema package, an implementation that is not ours
    jsonschema.Draft202012Validator.check_schema(shop_schema())
    jsonschema.validate(json.loads(before), shop_schema())
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        done = run(empty, given(empty, before, "shop.json"))
        # an empty shop has instruments, some of the same names
        assert {v for v, n in done["counts"].items() if n} <= {"accepted", "known"}
        assert tables_of(empty.get("/api/v1/shop.json").text) == tables_of(before)
        again = run(empty, given(empty, before, "shop.json"))
        assert again["added"] == {}


def test_a_csv_of_each_table_makes_the_same_shop(
    demo_alone: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    with shop_api(demo_alone, tmp_path) as source:
        before = {kind: source.get(f"/api/v1/{kind.value}.csv").text for kind in RECORD_KINDS}
    for text in before.values():  # RFC 4180: lines end CRLF, every row as wide as the heading
        rows = list(csv.reader(io.StringIO(text, newline=""), strict=True))
        assert {len(row) for row in rows} == {len(rows[0])}
        assert text.count("\n") == text.count("\r\n")
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        for kind, text in before.items():
            run(empty, given(empty, text, f"{kind.value}.csv"))
        assert {
            kind: empty.get(f"/api/v1/{kind.value}.csv").text for kind in RECORD_KINDS
        } == before


def test_a_workbook_reads_elsewhere_and_makes_the_same_shop(
    demo_alone: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    with shop_api(demo_alone, tmp_path) as source:
        content = source.get("/api/v1/shop.xlsx").content
        before = source.get("/api/v1/shop.json").text
    # read with openpyxl, not the package that wrote it
    book = openpyxl.load_workbook(io.BytesIO(content))
    assert book.sheetnames == ["Shelf (computed)", *(k.value for k in RECORD_KINDS), "About"]
    shelf = [[cell.value for cell in row] for row in book["Shelf (computed)"].iter_rows()]
    row = dict(zip(shelf[0], next(r for r in shelf if r[0] == "KH-01"), strict=True))
    ounces = row["weight [g]"] / 28.349523125  # the avoirdupois ounce is exactly this many grams
    assert row["weight [oz]"] == pytest.approx(ounces, abs=1e-4)
    assert row["U of weight [g]"] > 0
    assert row["edge angle [degrees inclusive]"] == pytest.approx(
        2 * row["edge angle [degrees per side]"], abs=2e-4
    )
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as empty:
        found = given(empty, content, "shop.xlsx")
        left_out = [t["name"] for t in found["tables"] if t["kind"] is None]
        assert left_out == ["Shelf (computed)", "About"]
        run(empty, found)
        assert tables_of(empty.get("/api/v1/shop.json").text) == tables_of(before)


def test_text_that_would_run_in_a_spreadsheet_travels_and_comes_back_as_it_was(
    cluster: Cluster, tmp_path: Path
) -> None:
    rows = [
        {
            "tag": "=1+1",
            "maker": "@Kesterby",
            "line": '=HYPERLINK("x")',
            "type": "gyuto",
            "size": "210",
            "note": "-cheap",
        }
    ]
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as first:
        run(first, given(first, json.dumps(rows), "l.json"))
        text = first.get("/api/v1/pieces.csv").text
        content = first.get("/api/v1/shop.xlsx").content
    body = next(csv.DictReader(io.StringIO(text)))
    assert [body["tag"], body["maker"], body["note"]] == ["'=1+1", "'@Kesterby", "'-cheap"]
    cells = {c.value: c.data_type for c in openpyxl.load_workbook(io.BytesIO(content))["pieces"][2]}
    assert cells["=1+1"] == "s"  # a shared string; a formula would be "f"
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as second:
        run(second, given(second, text, "pieces.csv"))
        assert second.get("/api/v1/pieces.csv").text == text


def test_an_archive_restores_an_identical_shop(
    demo_alone: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    packed = tmp_path / "shop.zip"
    with sessions(demo_alone)() as db:
        manifest = archive.write_archive(db, packed)
        there = archive.counts(db)
    assert manifest["counts"] == there
    with shop_engine(cluster) as engine:
        with sessions(engine)() as db:
            archive.restore_archive(db, packed)
            assert archive.counts(db) == there
            assert "".join(whole_json(db)) == _json_of(demo_alone)
        with shop_api(demo_alone, tmp_path) as old, shop_api(engine, tmp_path) as new:
            assert old.get("/api/catalogue").json() == new.get("/api/catalogue").json()
            for piece in range(1, there["pieces"] + 1, 3):
                was, is_now = (a.get(f"/api/pieces/{piece}").json() for a in (old, new))
                assert is_now == was
            assert rounded(new.get("/api/rack").json()) == rounded(old.get("/api/rack").json())
            sheet = new.post("/api/bench/pieces/1/sheets")
            assert sheet.status_code in (200, 201)  # numbers go on where the old shop's ended
        with sessions(engine)() as db, pytest.raises(archive.NotRestored, match="pieces already"):
            archive.restore_archive(db, packed)


def rounded(answer: object) -> object:
    """Means are summed by the database in any order: their last digit is nobody's."""
    if isinstance(answer, float):
        return float(f"{answer:.11g}")
    if isinstance(answer, dict):
        return {key: rounded(value) for key, value in answer.items()}
    return [rounded(value) for value in answer] if isinstance(answer, list) else answer


def _json_of(engine: Engine) -> str:
    with sessions(engine)() as db:
        return "".join(whole_json(db))


def _changed(packed: Path, target: Path, name: str, content: bytes | None) -> Path:
    with zipfile.ZipFile(packed) as old, zipfile.ZipFile(target, "w") as new:
        for part in old.namelist():
            found = old.read(part) if part != name else content
            if found is not None:
                new.writestr(part, found)
    return target


def test_an_archive_that_was_tampered_with_changes_nothing(
    demo_alone: Engine, cluster: Cluster, tmp_path: Path
) -> None:
    packed = tmp_path / "shop.zip"
    with sessions(demo_alone)() as db:
        archive.write_archive(db, packed)
    claims = zipfile.ZipFile(packed).read("tables/claims.jsonl")
    older = zipfile.ZipFile(packed).read("manifest.json").replace(b'"00', b'"99')
    cases = {
        "not as it was written": ("tables/claims.jsonl", claims.replace(b"60", b"66", 1)),
        "missing or added": ("tables/claims.jsonl", None),
        "restore it with the release": ("manifest.json", older),
        "cannot be read": ("manifest.json", b"{"),
    }
    with shop_engine(cluster) as engine:
        for said, (name, content) in cases.items():
            broken = _changed(packed, tmp_path / "broken.zip", name, content)
            with sessions(engine)() as db, pytest.raises(archive.NotRestored, match=said):
                archive.restore_archive(db, broken)
        (tmp_path / "no.zip").write_bytes(b"PK no zip")
        with sessions(engine)() as db:
            with pytest.raises(archive.NotRestored, match="cannot be read"):
                archive.restore_archive(db, tmp_path / "no.zip")
            assert archive.counts(db)["pieces"] == 0
            assert archive.counts(db)["instruments"] > 0


def test_bulk_rows_go_through_the_same_door(cluster: Cluster, tmp_path: Path) -> None:
    model = {"maker": "Kesterby", "line": "Harbour", "knife_type": "gyuto", "nominal_mm": 210}
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as api:
        first = {"rows": [{"tag": "B-1", **model}, {"tag": "B-2"}]}
        tried = api.post("/api/v1/pieces", json={**first, "dry_run": True}).json()
        assert tried["counts"]["refused"] == 1
        assert api.get("/api/v1/pieces").json()["total"] == 0
        assert api.post("/api/v1/pieces", json=first).json()["added"] == {"models": 1, "pieces": 1}
        reading = {"tag": "B-1", "key": "r-1", "quantity": "weight", "typed": "6.6 oz"}
        for expected in ({"sheets": 1, "readings": 1}, {}):
            sent = api.post("/api/v1/readings", json={"rows": [reading]}).json()
            assert sent["added"] == expected
        [kept] = api.get("/api/v1/readings").json()["items"]
        assert (kept["typed"], kept["unit"]) == ("6.6 oz", "oz")
        assert set(kept) == {c.name for c in RECORD_TABLES[Kind.READINGS]}
        refused = api.post("/api/v1/readings", json={"rows": [{"tag": "B-1"}]})
        assert refused.status_code == 422


def test_pieces_are_paged_sorted_and_narrowed_by_any_figure(api: TestClient) -> None:
    heavy = {"where": "weight:180:400", "sort": "thickness_behind_edge", "limit": 5}
    page = api.get("/api/v1/pieces", params=heavy).json()
    behind = [
        next(f["value"] for f in k["figures"] if f["key"] == "thickness_behind_edge")
        for k in page["items"]
    ]
    assert behind == sorted(behind)
    seen, address = [], "/api/v1/pieces?sort=-weight&limit=7"
    while address:
        page = api.get(address).json()
        seen += [knife["tag"] for knife in page["items"]]
        address = page["next"]
    assert len(seen) == len(set(seen)) == page["total"]
    assert api.get("/api/v1/pieces?sort=charm").status_code == 422
    assert api.get("/api/v1/pieces?where=weight:1").status_code == 422


@pytest.mark.parametrize("name", ["shelf.csv", "prices 2026.csv"])
def test_a_shelf_that_was_taken_out_never_comes_back_as_readings(
    api: TestClient, name: str
) -> None:
    """Means of readings would count as readings, and the uncertainty of every knife shrink."""
    before = api.get("/api/v1/readings.csv").text
    found = given(api, api.get("/api/rack.csv").content, name)
    [table] = found["tables"]
    assert table["kind"] is None
    assert any("not readings" in said for said in table["said"])
    columns = [{"field": c["field"], "unit": c["unit"]} for c in table["columns"]]
    asked = {"source": "s", "measured_on": TODAY, "for_good": True}
    for kind in ("pieces", "readings"):
        tables = [{"kind": kind, "columns": columns}]
        refused = api.post(f"/api/imports/{found['id']}/run", json={**asked, "tables": tables})
        assert refused.status_code == 422
        assert "means with their uncertainty" in refused.json()["detail"]
    assert api.get("/api/v1/readings.csv").text == before

"""One figure, one answer: every screen and file says the same of every knife of the demo."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from fastapi.testclient import TestClient

from maple_rook.core.measurement.wording import interval_text, range_text

SHOWN = ("months_to_stone", "cutting_ease")

Limits = tuple[float, float, float]


def limits(of: dict[str, Any]) -> Limits:
    return of["central"], of["low"], of["high"]


@pytest.fixture(scope="module")
def rack(api: TestClient) -> dict[int, dict[str, Any]]:
    rows = api.get("/api/rack", params={"limit": 200}).json()["rows"]
    found = {row["piece"]["id"]: row for row in rows}
    assert len(found) > 30
    return found


def of_sheet(api: TestClient, piece: int) -> dict[str, dict[str, Any]]:
    predictions = api.get(f"/api/pieces/{piece}").json()["predictions"]
    return {p["key"]: p for p in predictions}


def test_the_rack_says_what_the_sheet_says(
    api: TestClient, rack: dict[int, dict[str, Any]]
) -> None:
    for piece, row in rack.items():
        sheet = of_sheet(api, piece)
        for key in SHOWN:
            if key not in row["predicted"]:
                assert sheet[key]["central"] is None, (piece, key)
                continue
            assert limits(row["predicted"][key]) == pytest.approx(limits(sheet[key]), rel=1e-9)


def test_the_board_says_what_the_sheet_says(
    api: TestClient, rack: dict[int, dict[str, Any]]
) -> None:
    pieces = list(rack)
    for start in range(0, len(pieces), 6):
        some = pieces[start : start + 6]
        board = api.post("/api/board", json={"pieces": some}).json()
        for judged in board["verdict"]["knives"]:
            stability = api.get(f"/api/pieces/{judged['piece_id']}").json()["stability"]
            assert judged["margins"] == (stability["margins"] if stability else [])
        for knife in board["knives"]:
            sheet = of_sheet(api, knife["piece"]["id"])
            for p in knife["predictions"]:
                other = sheet[p["key"]]
                if p["central"] is None:
                    assert other["unavailable"] == p["unavailable"]
                    continue
                assert limits(p) == pytest.approx(limits(other), rel=1e-9), p["key"]
                assert p["notes"] == other["notes"]
                assert [c["value"] for c in p["contributions"]] == [
                    c["value"] for c in other["contributions"]
                ]
                assert sum(c["share"] for c in p["contributions"]) == pytest.approx(1, abs=0.01)


def test_the_counter_and_its_card_say_what_the_sheet_says(api: TestClient) -> None:
    """For the usual customer, whose kitchen is the usual one."""
    offers = api.post("/api/counter/advice", json={}).json()["offers"]
    assert offers
    for offer in offers:
        piece = offer["piece"]["id"]
        stone = of_sheet(api, piece)["months_to_stone"]
        assert offer["months"] == pytest.approx([stone["low"], stone["high"]], rel=1e-9)
        said = f"every {range_text(stone['low'], stone['high'])} months"
        asked = {"profile": {}, "piece_id": piece}
        card = api.post("/api/counter/card", json=asked).json()
        assert any(said in line for line in card["care"]), card["care"]
        care = api.get(f"/api/pieces/{piece}/care").json()
        assert any(said in line for line in care["edge"]), care["edge"]


def test_pages_files_and_the_api_say_what_the_rack_says(
    api: TestClient, rack: dict[int, dict[str, Any]]
) -> None:
    table = csv.DictReader(io.StringIO(api.get("/api/rack.csv").text))
    by_tag = {row["tag"]: row for row in table}
    for row in list(rack.values()):
        months = row["predicted"].get("months_to_stone")
        if months is None:
            continue
        tag = row["piece"]["tag"]
        document = api.get(f"/api/v1/pieces/{tag}").json()
        said = next(e for e in document["estimates"] if e["key"] == "months_to_stone")
        assert said["text"] == interval_text(*limits(months), "months")
        shown = [value for name, value in by_tag[tag].items() if "months to the stone" in name]
        assert [float(v) for v in shown[:3]] == pytest.approx(limits(months), abs=0.001)

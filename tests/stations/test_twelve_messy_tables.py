"""Tables as suppliers and shops have them, invented: no figure comes in wrong or is lost unsaid."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import openpyxl
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import update

from maple_rook.cluster import Cluster
from maple_rook.store.database import sessions
from maple_rook.store.tables import Shop
from shops import given, run, shop_api, shop_engine

ENDS = "Kesterby,Harbour,gyuto,210"


@dataclass(frozen=True)
class Messy:
    """A table with what becomes of it: kinds, verdicts, what is added and what is said."""

    content: str | bytes
    kinds: list[str | None]
    verdicts: list[str]
    added: dict[str, int]
    said: tuple[str, ...] = ()
    name: str = "list.csv"
    readings: dict[str, float] = field(default_factory=dict)
    choices: dict[str, Any] = field(default_factory=dict)


def workbook(*sheets: tuple[str, list[list[object]], dict[str, Any]]) -> bytes:
    book = openpyxl.Workbook()
    del book["Sheet"]
    for title, rows, how in sheets:
        page = book.create_sheet(title)
        for row in rows:
            page.append(row)
        for merged in how.get("merged", ()):
            page.merge_cells(merged)
        for line in how.get("hidden", ()):
            page.row_dimensions[line].hidden = True
        page.sheet_state = how.get("state", "visible")
    held = io.BytesIO()
    book.save(held)
    return held.getvalue()


TABLES = {
    "a supplier's catalogue": Messy(
        "Art.-Nr.;Marke;Modell;Messertyp;Größe;Klingenlänge;Gewicht;Härte;UVP (EUR)\n"
        "K-1;Kesterby;Pier;Gemüsemesser;165;165 mm;~187 g;HRC 61;149,90\n"
        "K-2;Kesterby;Pier;Kochmesser;210;212 mm;190 g;60-62 HRC;169,-\n",
        ["models"],
        ["corrected", "corrected"],
        {"models": 2, "claims": 6},
    ),
    "printed beside the tags of pieces": Messy(
        "tag,maker,line,type,size,weight g,hardness,price,EAN\n"
        f"B-1,{ENDS},186,62,240,4000001000005\n",
        ["pieces"],
        ["corrected"],
        {"models": 1, "pieces": 1, "claims": 2},
        choices={"origin": "printed"},
    ),
    "two tables on one sheet, with a title and a total": Messy(
        f"Winter shelf\n\ntag,maker,line,type,size\nC-1,{ENDS}\nTotal,,,,1\n\nMeasured in May\n"
        "tag,what,result,unit,date\nC-1,Rückenstärke,2.1,mm,2026-05-02\nC-1,weight,186,g,2026-05-02\n",
        ["pieces", "readings"],
        ["corrected", "refused", "accepted", "accepted"],
        {"models": 1, "pieces": 1, "sheets": 1, "readings": 2},
        said=("Winter shelf", "Measured in May"),
        readings={"spine_heel": 2.1, "weight": 186},
    ),
    "banners, hidden rows and a hidden sheet": Messy(
        workbook(
            (
                "Shelf",
                [
                    ["Tag", "Model", None, None, None, "Dimensions (in)", None],
                    [None, "maker", "line", "type", "size", "edge length", "height"],
                    ["D-1", "Kesterby", "Harbour", "gyuto", 210, 8.25, 1.8],
                    ["D-2", "Kesterby", "Harbour", "gyuto", 210, 8.2, 1.75],
                ],
                {"merged": ("A1:A2", "B1:E1", "F1:G1"), "hidden": (4,)},
            ),
            ("Old", [["tag", "weight g"], ["Z-9", 150]], {"state": "hidden"}),
        ),
        ["pieces", None],
        ["corrected", "accepted"],
        {"models": 1, "pieces": 2, "sheets": 2, "readings": 4},
        said=("hidden rows are read too: 4", "the workbook hides this sheet", "Dimensions (in)"),
        name="shelf.xlsx",
        readings={"edge_length": 209.55, "height_heel": 45.72},
    ),
    "prices in three currencies, one with a rate": Messy(
        "maker,line,type,size,price\nKesterby,Quay,petty,150,€ 90\nKesterby,Quay,petty,120,£80\n"
        "Kesterby,Quay,petty,135,$70\n",
        ["models"],
        ["corrected", "corrected", "partly"],
        {"models": 3},
        choices={"rates": {"GBP": "1.15"}},
    ),
    "steels nobody knows and odd words": Messy(
        f"tag,maker,line,type,size,steel,grind,state\nE-1,{ENDS},dragon steel,warped,like new\n",
        ["pieces"],
        ["partly"],
        {"models": 1, "pieces": 1},
    ),
    "odd days": Messy(
        f"tag,maker,line,type,size,weight g,measured on\nF-1,{ENDS},186,03/04/2026\n"
        f"F-2,{ENDS},187,soon\nF-3,{ENDS},188,14.09.2026\n",
        ["pieces"],
        ["partly", "partly", "accepted"],
        {"models": 1, "pieces": 3, "sheets": 3, "readings": 3},
        readings={"weight": 186},
    ),
    "UTF-16 with a mark, in French": Messy(
        "Référence\tFabricant\tGamme\tType de couteau\tTaille\tLongueur de lame\tÉpaisseur\n"
        "G-1\tKesterby\tHarbour\tcouteau de chef\t210\t209,5\t2,4\n".encode("utf-16"),
        ["pieces"],
        ["corrected"],
        {"models": 1, "pieces": 1, "sheets": 1, "readings": 2},
        readings={"blade_length": 209.5, "spine_heel": 2.4},
    ),
    "units before figures, both faces, thou": Messy(
        f"tag,maker,line,type,size,hardness,weight,edge angle,behind the edge\n"
        f"H-1,{ENDS},HRC 61,~187 g,15°/15°,10 thou\nH-2,{ENDS},rc 60,188 g,16/14,11 thou\n",
        ["pieces"],
        ["corrected", "corrected"],
        {"models": 1, "pieces": 2, "sheets": 2, "readings": 9},
        readings={"hardness": 61, "weight": 187, "edge_angle": 15, "thickness_behind_edge": 0.254},
    ),
    "ratios under an angle": Messy(
        f"tag,maker,line,type,size,angle\nI-1,{ENDS},70/30\nI-2,{ENDS},60/40\n",
        ["pieces"],
        ["partly", "partly"],
        {"models": 1, "pieces": 2},
        said=("is a ratio under a heading of an angle",),
    ),
    "nested JSON": Messy(
        json.dumps(
            {
                "data": {
                    "knives": [
                        {
                            "tag": "J-1",
                            **{"maker": "Kesterby", "line": "Harbour"},
                            **{"type": "gyuto", "size": 210},
                            "weight": {"value": 6.6, "unit": "oz"},
                            "spine": {"heel": 2.1, "tip": 0.6},
                        }
                    ]
                }
            }
        ),
        ["pieces"],
        ["corrected"],
        {"models": 1, "pieces": 1, "sheets": 1, "readings": 3},
        name="list.json",
        readings={"weight": 6.6 * 28.349523125, "spine_heel": 2.1, "spine_tip": 0.6},
    ),
    "the Rack's own table under another name": Messy(
        "tag,maker,line,type,size,weight [g],U of weight [g],"
        "spine at heel [mm],U of spine at heel [mm]\n"
        f"K-1,{ENDS},186,2,2.1,0.05\n",
        [None],
        [],
        {},
        said=("not readings",),
        name="from a friend.csv",
    ),
}


@pytest.fixture
def shop(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    """An empty shop whose prices are in euro."""
    with shop_engine(cluster) as engine:
        with sessions(engine)() as db:
            db.execute(update(Shop).values(currency="EUR"))
            db.commit()
        with shop_api(engine, tmp_path) as client:
            yield client


@pytest.mark.parametrize("named", TABLES)
def test_every_line_and_figure_is_accounted_for(shop: TestClient, named: str) -> None:
    messy = TABLES[named]
    found = given(shop, messy.content, messy.name)
    assert [table["kind"] for table in found["tables"]] == messy.kinds
    told = json.dumps(found["tables"], ensure_ascii=False)
    for said in messy.said:
        assert said in told
    if not messy.verdicts:
        return
    done = run(shop, found, **messy.choices)
    rows = shop.get(f"/api/imports/{found['id']}/rows", params={"limit": 500}).json()["rows"]
    assert [row["verdict"] for row in rows] == messy.verdicts, [row["said"] for row in rows]
    assert done["added"] == messy.added
    assert all(row["said"] for row in rows if row["verdict"] != "accepted")
    record = shop.get("/api/v1/shop.json").json()
    first = [r for r in record["readings"] if r["tag"] == record["readings"][0]["tag"]]
    by_quantity = {r["quantity"]: r["si_value"] for r in first}
    assert by_quantity == pytest.approx(messy.readings)


def test_a_ratio_is_asymmetry_once_somebody_says_so(shop: TestClient) -> None:
    found = given(shop, TABLES["ratios under an angle"].content)
    [column] = [c for c in found["tables"][0]["columns"] if c["question"]]
    assert not column["sure"]
    column["field"] = "asymmetry"
    assert run(shop, found)["added"]["readings"] == 2


def test_prices_come_in_at_the_rate_that_was_given_and_the_rest_are_asked_for(
    shop: TestClient,
) -> None:
    messy = TABLES["prices in three currencies, one with a rate"]
    found = given(shop, messy.content)
    assert found["tables"][0]["currencies"] == ["GBP", "$"]
    run(shop, found, **messy.choices)
    models = shop.get("/api/v1/models").json()["items"]
    assert {m["nominal_mm"]: (m["price"], m["currency"]) for m in models} == {
        150: (90, "EUR"),
        120: (92, "EUR"),  # 80 pounds at 1.15
        135: (None, None),
    }

"""Figures of a list are readings where they were measured, and claims where they were printed."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from maple_rook.cluster import Cluster
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.reading import unknown_instrument_u
from shops import given, run, shop_api, shop_engine

CATALOGUE = """SKU;Brand;Series;Type;Size;Blade length mm;Weight g;HRC;RRP
HK-210;Kesterby;Harbour;gyuto;210;212;186;62;240
HK-240;Kesterby;Harbour;gyuto;240;242;204;62;270
"""
OWN_LIST = """tag,maker,line,type,size,weight g,behind the edge mm
O-1,Kesterby,Quay,petty,150,86,0.21
O-2,Kesterby,Quay,petty,150,88,0.23
"""


@pytest.fixture
def shop(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as client:
        yield client


def whole(shop: TestClient) -> dict:
    return shop.get("/api/v1/shop.json").json()


def test_a_catalogue_comes_in_as_models_with_what_is_printed_of_them(shop: TestClient) -> None:
    found = given(shop, CATALOGUE)
    [table] = found["tables"]
    assert (table["kind"], table["origin"]) == ("models", "printed")
    assert run(shop, found)["added"] == {"models": 2, "claims": 6}
    record = whole(shop)
    assert record["readings"] == record["pieces"] == []
    printed = {(c["quantity"], c["printed"]) for c in record["claims"] if c["nominal_mm"] == 210}
    assert printed == {("blade_length", "212 mm"), ("weight", "186 g"), ("hardness", "62 HRC")}


def test_pieces_with_printed_figures_have_no_readings(shop: TestClient) -> None:
    found = given(shop, CATALOGUE.replace("SKU", "Tag"))
    [table] = found["tables"]
    assert (table["kind"], table["origin"]) == ("pieces", "printed")
    done = run(shop, found, origin=table["origin"])
    assert done["added"] == {"models": 2, "pieces": 2, "claims": 6}
    assert whole(shop)["readings"] == []


def test_figures_that_could_be_either_are_asked_about(shop: TestClient) -> None:
    found = given(shop, OWN_LIST)
    [table] = found["tables"]
    assert table["origin"] is None
    columns = [{"field": c["field"], "unit": c["unit"]} for c in table["columns"]]
    asked = {
        "source": "a list",
        "measured_on": "2026-11-20",
        "tables": [{"kind": "pieces", "columns": columns}],
    }
    refused = shop.post(f"/api/imports/{found['id']}/run", json=asked)
    assert refused.status_code == 422
    assert "printed by a maker" in refused.json()["detail"]


WIDE = round(unknown_instrument_u(QUANTITIES["weight"]), 6)


def weights(shop: TestClient) -> dict[str, tuple[str | None, float]]:
    """Instrument and standard uncertainty of each weight, by what was typed."""
    of_weight = (r for r in whole(shop)["readings"] if r["quantity"] == "weight")
    return {r["typed"]: (r["instrument"], r["u"]) for r in of_weight}


def test_without_a_named_instrument_the_instrument_is_unknown(shop: TestClient) -> None:
    found = given(shop, OWN_LIST)
    run(shop, found, origin="measured")
    assert set(weights(shop).values()) == {(None, WIDE)}
    row = shop.get("/api/rack", params={"search": "O-2"}).json()["rows"][0]
    sheet = shop.get(f"/api/pieces/{row['piece']['id']}").json()
    assert {r["instrument"] for r in sheet["history"]} == {"unknown instrument"}
    assert sheet["figures"]["weight"]["expanded"] == pytest.approx(2 * WIDE, rel=1e-4)


def test_of_our_own_readings_only_one_by_a_strange_instrument_is_unknown(shop: TestClient) -> None:
    run(shop, given(shop, OWN_LIST))
    more = (
        "tag,quantity,value,taken at,instrument\n"
        "O-2,weight,89,2026-11-18,\n"
        "O-2,weight,90,2026-11-18,a borrowed scale\n"
    )
    run(shop, given(shop, more))
    found = weights(shop)
    assert {found[typed][0] for typed in ("86", "88", "89")} == {"bench scale 1 g"}
    assert found["86"][1] < WIDE / 3
    assert found["90"] == (None, WIDE)

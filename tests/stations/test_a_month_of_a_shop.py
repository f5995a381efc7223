"""A shop founded, fed, mended and sold from for a month: at its end every figure is accounted for.

Everything is invented; days run from the first to the thirtieth of October.
"""

from __future__ import annotations

import random
import uuid
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from bench_line import until
from maple_rook.cluster import Cluster
from shops import given, run, shop_api, shop_engine

MODELS = [
    (maker, line, kind, size)
    for maker, line in (("Kesterby", "Harbour"), ("Tansley", "Quay"), ("Hollow Mill", "Weir"))
    for kind, size in (("gyuto", 210), ("petty", 150), ("nakiri", 165), ("slicer", 270))
]
PIECES, SOLD, MEASURED = 200, 40, 12
chance = random.Random(27)


class Ledger:
    """What was done, written down beside the shop as a careful owner would."""

    def __init__(self) -> None:
        self.weights: dict[str, float] = {}
        self.model_of: dict[str, tuple[str, str, str, int]] = {}
        self.readings = 0
        self.sold: set[str] = set()


@pytest.fixture
def shop(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as client:
        client.headers["If-Match"] = "*"
        yield client


def ok(answer: Any) -> Any:
    assert answer.is_success, answer.text
    return answer.json() if answer.content else None


def found_it(shop: TestClient) -> None:
    settings = {"name": "Weir & Daughter", "place": "Port Averil", "currency": "EUR"}
    ok(shop.put("/api/shop/settings", json={**settings, "time_zone": "Europe/Lisbon"}))


def feed_it(shop: TestClient, ledger: Ledger) -> None:
    """A catalogue of what is printed, then a list of the pieces with what they weigh."""
    catalogue = "SKU,Maker,Line,Type,Size,Claimed HRC,RRP (EUR)\n" + "".join(
        f"{maker[:2]}-{kind}-{size},{maker},{line},{kind},{size},{59 + i % 5},{90 + 7 * i}\n"
        for i, (maker, line, kind, size) in enumerate(MODELS)
    )
    done = run(shop, given(shop, catalogue, "catalogue.csv"), origin="printed")
    assert done["added"] == {"models": 12, "claims": 12}
    lines = []
    for n in range(PIECES):
        model = MODELS[n % len(MODELS)]
        tag, weight = f"W-{n:03}", 90 + model[3] // 3 + chance.randint(-4, 4)
        ledger.weights[tag], ledger.model_of[tag] = float(weight), model
        lines.append(f"{tag},{','.join(map(str, model))},{weight},2026-10-{1 + n % 9:02}\n")
    text = "tag,maker,line,type,size,weight g,measured on\n" + "".join(lines)
    done = run(shop, given(shop, text, "pieces.csv"))
    assert done["added"]["pieces"] == done["added"]["readings"] == PIECES
    ledger.readings += PIECES


def piece(shop: TestClient, tag: str) -> int:
    found: int = ok(shop.get("/api/bench/label", params={"code": tag}))["piece_id"]
    return found


def measure(shop: TestClient, ledger: Ledger) -> None:
    """Some of them at the Bench, with what the shop has: a caliper and a laser pointer."""
    for tag in chance.sample(sorted(ledger.weights), MEASURED):
        sheet = ok(shop.post(f"/api/bench/pieces/{piece(shop, tag)}/sheets"))["id"]
        for quantity, typed in (("spine_heel", "2.3 mm"), ("height_heel", "44 mm")):
            body = {"client_id": str(uuid.uuid4()), "quantity": quantity, "typed": typed}
            address = f"/api/bench/sheets/{sheet}/readings"
            ok(shop.post(address, json={**body, "confirmed": True}))
        by_laser = {"client_id": str(uuid.uuid4()), "given": {"distance": 400, "apart": 440}}
        address = f"/api/bench/sheets/{sheet}/methods/laser"
        ok(shop.post(address, json={**by_laser, "confirmed": True}))
        ledger.readings += 3


def mend(shop: TestClient, ledger: Ledger) -> None:
    """Three wrong entries: a piece of another model, a sheet of another knife, a maker twice."""
    moved, wrong = "W-005", "W-017"
    models = {m["name"]: m["id"] for m in ok(shop.get("/api/mending"))["models"]}
    gyuto = next(key for name, key in models.items() if name == "Kesterby Harbour gyuto 210")
    ok(shop.patch(f"/api/mending/pieces/{piece(shop, moved)}", json={"model_id": gyuto}))
    ledger.model_of[moved] = MODELS[0]
    sheet = ok(shop.get(f"/api/pieces/{piece(shop, wrong)}"))["sheets"][0]["id"]
    reason = {"reason": "another knife lay on the scale"}
    ok(shop.put(f"/api/mending/sheets/{sheet}/set-aside", json=reason))
    again = "tag,quantity,value,unit,taken at\n" + f"{wrong},weight,131,g,2026-10-12\n"
    run(shop, given(shop, again, "again.csv"))
    ledger.weights[wrong] = 131.0
    ledger.readings += 1
    typed_twice = "tag,maker,line,type,size\nW-200,Kesterbie,Harbour,petty,150\n"
    run(shop, given(shop, typed_twice, "one.csv"))
    ledger.model_of["W-200"] = MODELS[1]
    makers = {m["name"]: m["id"] for m in ok(shop.get("/api/mending"))["makers"]}
    into = {"into": makers["Kesterby"], "reason": "mistyped"}
    ok(shop.post(f"/api/mending/makers/{makers['Kesterbie']}/merge", json=into))


def sell(shop: TestClient, ledger: Ledger) -> None:
    ledger.sold = set(chance.sample(sorted(ledger.weights), SOLD))
    for n, tag in enumerate(sorted(ledger.sold)):
        sale = {"state": "sold", "on": f"2026-10-{10 + n % 20}", "customer": f"no. {n}"}
        ok(shop.put(f"/api/pieces/{piece(shop, tag)}/stock", json=sale))


def account(shop: TestClient, ledger: Ledger) -> None:
    whole = ok(shop.get("/api/v1/shop.json"))
    assert {p["tag"] for p in whole["pieces"]} == set(ledger.model_of)
    of_model = ("maker", "line", "knife_type", "nominal_mm")
    for p in whole["pieces"]:
        assert tuple(p[name] for name in of_model) == ledger.model_of[p["tag"]]
    assert len(whole["models"]) == len(MODELS)
    assert len(whole["readings"]) == ledger.readings
    standing = {
        r["tag"]: r["si_value"]
        for r in whole["readings"]
        if r["quantity"] == "weight" and r["struck"] is None
    }
    assert standing == ledger.weights
    assert [r["struck"] for r in whole["readings"] if r["struck"]] == [
        "another knife lay on the scale"
    ]
    until(lambda: ok(shop.get("/api/rack", params={"limit": 1}))["behind"] == 0)
    rack = {
        state: ok(shop.get("/api/rack", params={"stock": state, "limit": 1}))["shown"]
        for state in ("on_shelf", "sold")
    }
    assert rack == {"on_shelf": PIECES + 1 - SOLD, "sold": SOLD}
    mended = ok(shop.get("/api/mending/amendments"))["amendments"]
    assert Counter(one["act"] for one in mended) == {"edit": 1, "set_aside": 1, "merge": 1}
    told = {e["about"] for e in ok(shop.get("/api/audit", params={"limit": 100}))["items"]}
    assert {"pieces", "amendments"} <= told


def test_every_figure_of_a_month_is_accounted_for(
    shop: TestClient, cluster: Cluster, tmp_path: Path
) -> None:
    ledger = Ledger()
    found_it(shop)
    for a_week in (feed_it, measure, mend, sell, account):
        a_week(shop, ledger)
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as elsewhere:
        run(elsewhere, given(elsewhere, shop.get("/api/v1/shop.json").content, "shop.json"))
        here, there = (ok(s.get("/api/v1/shop.json")) for s in (shop, elsewhere))
        for kind in ("models", "claims", "pieces", "readings"):
            as_rows = [Counter(str(row) for row in whole[kind]) for whole in (here, there)]
            assert as_rows[0] == as_rows[1], kind

"""What a shop settles for itself shows on its cards, its pages and its screens."""

from __future__ import annotations

import datetime as dt
import io
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pypdf
import pytest
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import select

from maple_rook.cluster import Cluster
from maple_rook.store.database import sessions
from maple_rook.store.tables import Shop
from maple_rook.store.today import today
from shops import given, run, shop_api, shop_engine

SETTINGS = {
    **{"name": "Gull & Anvil", "place": "Port Averil", "currency": "EUR", "units": "imperial"},
    **{"paper": "Letter", "language": "en", "public_address": "https://gull.example/knives"},
    **{"opening_words": "Measured on our bench.", "time_zone": "Europe/Lisbon"},
}
SHELF = """tag,maker,line,type,size,price,weight g,edge length mm
A-1,Kesterby,Quay,petty,150,90,85,150
"""


@pytest.fixture
def shop(cluster: Cluster, tmp_path: Path) -> Iterator[TestClient]:
    with shop_engine(cluster) as engine, shop_api(engine, tmp_path) as client:
        client.headers["If-Match"] = "*"
        run(client, given(client, SHELF))
        yield client


def settled(shop: TestClient, **other: Any) -> Any:
    return shop.put("/api/shop/settings", json={**SETTINGS, **other})


def picture(kind: str = "PNG", size: tuple[int, int] = (1600, 400)) -> bytes:
    held = io.BytesIO()
    Image.new("RGB", size, "#1b6662").save(held, kind)
    return held.getvalue()


def test_the_card_is_the_shops(shop: TestClient) -> None:
    assert settled(shop).status_code == 200
    assert shop.put("/api/shop/logo", content=picture()).status_code == 204
    [page] = pypdf.PdfReader(io.BytesIO(shop.get("/api/pieces/1/card.pdf").content)).pages
    # letter paper is 11 by 8 1/2 inches, a point is 1/72 inch
    assert [round(float(side)) for side in page.mediabox[2:]] == [11 * 72, round(8.5 * 72)]
    text = " ".join(page.extract_text().split())
    for said in ("Gull & Anvil, Port Averil", "Measured on our bench.", "90.00 EUR"):
        assert said in text
    assert text.index(" oz") < text.index("85 g")  # the shop's system first
    assert len(page.images) == 1


def test_the_public_page_says_its_address_its_words_and_shows_its_logo(shop: TestClient) -> None:
    settled(shop)
    shop.put("/api/shop/logo", content=picture("JPEG"))
    body = {"on": True, "shown": ["drawing", "weight"]}
    address = shop.put("/api/pieces/1/public", json=body).json()["address"]
    page = shop.get(f"/k/{address}").text
    assert f'href="https://gull.example/knives/k/{address}"' in page
    assert "Measured on our bench." in page
    assert 'alt="Gull &amp; Anvil"' in page
    assert page.index(" oz") < page.index("85 g")


def test_a_logo_is_kept_as_a_modest_png_and_can_be_taken_away(shop: TestClient) -> None:
    shop.put("/api/shop/logo", content=picture("JPEG", (3000, 1500)))
    kept = Image.open(io.BytesIO(shop.get("/api/shop/logo").content))
    assert (kept.format, kept.size) == ("PNG", (800, 400))
    assert shop.get("/api/shop/settings").json()["has_logo"]
    assert shop.delete("/api/shop/logo").status_code == 204
    assert shop.get("/api/shop/logo").status_code == 204


@pytest.mark.parametrize(
    "content", [b"", b"%PDF-1.4", picture(size=(5000, 4000)), b"x" * 2_100_000]
)
def test_what_is_no_modest_picture_is_refused(shop: TestClient, content: bytes) -> None:
    assert shop.put("/api/shop/logo", content=content).status_code == 422


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("time_zone", "Port Averil"),
        ("language", "xx"),
        ("public_address", "javascript:alert(1)"),
        ("public_address", "https://gull.example/?q"),
        ("name", " "),
        ("units", "cubits"),
    ],
)
def test_a_setting_that_means_nothing_is_refused_by_its_name(
    shop: TestClient, field: str, value: str
) -> None:
    refused = settled(shop, **{field: value})
    assert refused.status_code == 422
    assert field in refused.text
    assert shop.get("/api/shop/settings").json()["name"] == "My shop"


def test_a_change_says_what_it_saw(shop: TestClient) -> None:
    seen = shop.get("/api/shop/settings").json()["etag"]
    answers = [
        shop.put("/api/shop/settings", json=SETTINGS, headers={"If-Match": seen}).status_code
        for _ in range(2)
    ]
    assert answers == [200, 412]


def test_the_day_is_the_shops(cluster: Cluster) -> None:
    """Just before midnight in UTC it is the next day east of it, and still today in the west."""
    late = dt.datetime(2026, 11, 20, 23, 30, tzinfo=dt.UTC)
    with shop_engine(cluster) as engine, sessions(engine)() as db:
        shop = db.scalars(select(Shop)).one()
        days = []
        for shop.time_zone in ("UTC", "Asia/Tokyo", "America/Lima"):
            db.flush()
            days.append(today(db, late).day)
        assert days == [20, 21, 20]

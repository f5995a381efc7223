"""Pages for anybody: addresses that stay and belong to one, what was shown when, safe markup."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from html.parser import HTMLParser

import pypdfium2
import pytest
import zxingcpp
from fastapi.testclient import TestClient
from sqlalchemy import Engine, select

from maple_rook.cluster import Cluster
from maple_rook.store.database import sessions
from maple_rook.store.exchange_tables import Publication
from shops import given, run, shop_api, shop_engine

MAKER = "Ōsé </script><b>& Söhne"
LIST = [
    {
        "tag": tag,
        "maker": MAKER,
        "line": "Été",
        "type": "gyuto",
        "size": 210,
        "price": 148,
        "weight_g": 186,
        "edge length mm": 209,
        "hrc": 60.5,
        "note": "bought from a friend",
    }
    for tag in ("A/1", "a 1", "刀")
]


@pytest.fixture(scope="module")
def engine_alone(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster) as engine:
        yield engine


@pytest.fixture(scope="module")
def shop(engine_alone: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_api(engine_alone, tmp_path_factory.mktemp("w")) as client:
        done = run(client, given(client, json.dumps(LIST), "l.json"))
        assert done["added"]["pieces"] == 3
        yield client


def show(api: TestClient, piece: int, *shown: str, on: bool = True, words: str = "") -> dict:
    body = {"on": on, "shown": list(shown), "words": words}
    answer = api.put(f"/api/pieces/{piece}/public", json=body)
    assert answer.status_code == 200, answer.text
    return answer.json()


class _Markup(HTMLParser):
    """Tags, text and the JSON-LD of a page."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.tags: list[str] = []
        self.data: dict[str, str] = {}
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.tags.append(tag)

    def handle_data(self, data: str) -> None:
        if self.tags:
            self.data[self.tags[-1]] = self.data.get(self.tags[-1], "") + data


def test_each_piece_has_an_address_of_its_own_that_stays(shop: TestClient) -> None:
    addresses = [show(shop, piece, "weight")["address"] for piece in (1, 2, 3)]
    assert len(set(addresses)) == 3
    assert all(re.fullmatch(r"[a-z0-9-]{1,80}", address) for address in addresses)
    assert addresses[0].startswith("ose-script-b-sohne-ete-gyuto-210")
    show(shop, 1, on=False)
    assert show(shop, 1, "price")["address"] == addresses[0]
    for piece, address in enumerate(addresses, 1):
        assert shop.get(f"/k/{address}.json").json()["tag"] == LIST[piece - 1]["tag"]


def test_names_with_markup_in_them_stay_names(shop: TestClient) -> None:
    address = show(shop, 1, "weight", words="<img src=x onerror=alert(1)>")["address"]
    text = shop.get(f"/k/{address}").text
    page = _Markup(text)
    assert "img" not in page.tags
    assert "b" not in page.tags
    assert page.tags.count("script") == 1
    assert page.data["h1"].startswith(MAKER)
    product = json.loads(page.data["script"])
    assert product["brand"]["name"] == MAKER
    assert product["url"].endswith(f"/k/{address}")


def test_nothing_can_run_or_be_fetched_from_elsewhere(shop: TestClient) -> None:
    address = show(shop, 1, "drawing", "section")["address"]
    answer = shop.get(f"/k/{address}")
    policy = answer.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'none'" in policy
    links = re.findall(r"(?:src|href)=\"([^\"]+)\"|url\(([^)]+)\)", answer.text)
    assert links
    for found in links:
        link = "".join(found)
        assert link.startswith(("http://testserver/", "../k-fonts/")), link
    font = shop.get("/k-fonts/Vollkorn-Medium.ttf")
    assert font.content[:4] == b"\x00\x01\x00\x00"  # the mark of a TrueType font
    assert shop.get("/k-fonts/README.ttf").status_code == 404


@pytest.mark.parametrize(
    ("shown", "there", "absent"),
    [
        ((), (), ("186", "148", "60.5", "<svg")),
        (("weight",), ("186", "6.56 oz"), ("148", "60.5", "<svg", "209")),
        (("price",), ("148.00",), ("186", "60.5", "209")),
        (("drawing",), ("<svg",), ("148", "HRC")),
        (("making",), ("one steel",), ("186", "148")),
        (("estimates", "claims"), (), ("186", "148", "one steel")),
    ],
)
def test_only_what_is_ticked_is_in_the_page_and_its_data(
    shop: TestClient, shown: tuple[str, ...], there: tuple[str, ...], absent: tuple[str, ...]
) -> None:
    address = show(shop, 2, *shown)["address"]
    style = re.compile(r"<style>.*?</style>", re.DOTALL)
    page = style.sub("", shop.get(f"/k/{address}").text)
    document = shop.get(f"/k/{address}.json").text
    for text in there:
        assert text in page
    for text in (*absent, "bought from a friend"):
        assert text not in page, text
        assert text not in document, text
    assert "follow local law" in page


def test_what_was_shown_when_stays_in_the_record(engine_alone: Engine, shop: TestClient) -> None:
    with sessions(engine_alone)() as db:
        before = len(db.scalars(select(Publication).where(Publication.piece_id == 3)).all())
    show(shop, 3, "weight")
    show(shop, 3, "weight", "price", words="now with its price")
    show(shop, 3, on=False)
    with sessions(engine_alone)() as db:
        rows = db.scalars(
            select(Publication).where(Publication.piece_id == 3).order_by(Publication.id)
        ).all()[before:]
        assert [(row.on, row.shown) for row in rows] == [
            (True, ["weight"]),
            (True, ["weight", "price"]),
            (False, []),
        ]
        assert {row.person.name for row in rows} == {"Owner"}


def test_the_same_link_for_a_preview_a_reader_and_a_printer(shop: TestClient) -> None:
    address = show(shop, 1, "weight", "edge_length")["address"]
    text = shop.get(f"/k/{address}").text
    for name in ("og:title", "og:image", "og:url", "og:description"):
        assert f'property="{name}"' in text
    assert "weight 186 ± 1 g" in text
    assert "@media print" in text
    assert "prefers-color-scheme: dark" in text
    assert shop.get(f"/k/{address}/card.png").headers["content-type"] == "image/png"


def test_links_and_codes_name_the_shop_as_others_reach_it(
    shop: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    address = show(shop, 1, "weight")["address"]
    settings = shop.app.state.settings  # type: ignore[attr-defined]
    monkeypatch.setattr(settings, "public_url", "https://knives.example")
    page = shop.get(f"/k/{address}").text
    assert f'rel="canonical" href="https://knives.example/k/{address}"' in page
    document = pypdfium2.PdfDocument(shop.get("/api/labels.pdf?piece=1").content)
    code = zxingcpp.read_barcode(document[0].render(scale=6).to_pil())
    document.close()
    assert code is not None
    assert code.text == f"https://knives.example/k/{address}"


def test_words_are_kept_to_a_length_and_to_text(shop: TestClient) -> None:
    body = {"on": True, "shown": [], "words": "x" * 601}
    assert shop.put("/api/pieces/1/public", json=body).status_code == 422
    body["words"] = "a\u0000b"
    assert shop.put("/api/pieces/1/public", json=body).status_code == 422
    assert shop.get("/api/pieces/999/public").status_code == 404

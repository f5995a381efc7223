"""Pages from draft to published to withdrawn: whole or not at all, as of their day, for anybody."""

from __future__ import annotations

import csv
import io
import json
import re
import uuid
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

import feedparser
import openpyxl
import pypdf
import pytest
import rdflib
from fastapi.testclient import TestClient
from PIL import Image
from sqlalchemy import Engine, select

from maple_rook.cluster import Cluster
from maple_rook.store.database import sessions
from maple_rook.store.photo_tables import Photograph
from shops import shop_api, shop_engine
from signed_in import key_of

TOLD = {
    "obtained": "stock",
    "paid": False,
    "seen_first": False,
    "links_earn": False,
}
ACCEPTED_SCHEMA = "https://schema.org/"


@pytest.fixture(scope="module")
def shop_of_pages(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        yield engine


@pytest.fixture(scope="module")
def shop(shop_of_pages: Engine, tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    with shop_api(shop_of_pages, tmp_path_factory.mktemp("w")) as client:
        yield client


@pytest.fixture(scope="module")
def anybody(shop: TestClient) -> TestClient:
    return TestClient(shop.app, raise_server_exceptions=False)


def answered(answer: Any, status: int = 200) -> Any:
    assert answer.status_code == status, answer.text
    return answer.json() if status != 204 else None


def begun(shop: TestClient, title: str = "", **content: object) -> dict[str, Any]:
    found: dict[str, Any] = answered(
        shop.post("/api/pages", json={"title": title, "content": content}), 201
    )
    return found


def changed(shop: TestClient, page: dict[str, Any], **content: object) -> dict[str, Any]:
    body = {"title": page["title"], "content": {**page["content"], **content}}
    found: dict[str, Any] = answered(
        shop.put(f"/api/pages/{page['id']}", json=body, headers={"If-Match": page["etag"]})
    )
    return found


def published(shop: TestClient, page: dict[str, Any]) -> dict[str, Any]:
    path = f"/api/pages/{page['id']}/publish"
    found: dict[str, Any] = answered(shop.post(path, headers={"If-Match": page["etag"]}))
    return found


def review(shop: TestClient, piece: int = 1, title: str = "", **more: object) -> dict[str, Any]:
    page = begun(shop, title, kind="review", piece_id=piece, disclosure=TOLD, **more)
    return published(shop, page)


def linked_data(text: str) -> rdflib.Graph:
    """What an RDF reader makes of a page; schema.org's own context is not fetched."""
    found = re.search(r'<script type="application/ld\+json">(.*?)</script>', text, re.DOTALL)
    assert found
    data = json.loads(found[1])
    assert data["@context"] == "https://schema.org"
    data["@context"] = {"@vocab": ACCEPTED_SCHEMA}
    return rdflib.Graph().parse(data=json.dumps(data), format="json-ld")


def test_a_review_goes_from_draft_to_published_to_withdrawn(
    shop: TestClient, anybody: TestClient
) -> None:
    page = begun(shop, kind="review", piece_id=1)
    address = page["address"]
    assert anybody.get(f"/p/{address}").status_code == 404
    refused = shop.post(f"/api/pages/{page['id']}/publish")
    assert refused.status_code == 409
    assert "how the knife was obtained" in refused.json()["detail"]
    assert anybody.get(f"/p/{address}").status_code == 404
    page = published(shop, changed(shop, page, disclosure=TOLD))
    read = anybody.get(f"/p/{address}")
    assert read.status_code == 200
    assert "This knife is from our own stock" in read.text
    assert page["standing"]["on"]
    path = f"/api/pages/{page['id']}"
    down = answered(shop.post(f"{path}/withdraw", json={"reason": "sold out"}))
    assert (down["standing"]["on"], down["standing"]["reason"]) == (False, "sold out")
    for gone in (f"/p/{address}", f"/p/{address}.json", f"/p/{address}/how", f"/m/{page['short']}"):
        assert anybody.get(gone).status_code == 404, gone
    assert shop.post(f"{path}/withdraw", json={}).status_code == 409
    assert shop.delete(path).status_code == 409  # it was read by somebody; it is kept
    acts = [(row["about"], row["act"]) for row in shop.get("/api/audit").json()["items"]]
    assert acts.count(("published_pages", "made")) == 2


def test_every_figure_of_a_review_is_its_sheets(shop: TestClient, anybody: TestClient) -> None:
    page = review(shop, title="Against its sheet")
    sheet = shop.get("/api/pieces/1").json()
    text = anybody.get(f"/p/{page['address']}").text
    said = re.findall(r'<span class="mr-figure mr-measured">([^<]*)</span>', text)
    assert len(said) > 8
    by_text = {f["text"]: f["key"] for f in page["figures"] if f["grade"] == "M"}
    for figure in said:
        mean, u = re.match(r"(−?[\d.]+) ± ([\d.]+)", figure).groups()  # type: ignore[union-attr]
        of_sheet = sheet["figures"][by_text[figure]]
        assert (
            abs(float(mean.replace("−", "-")) - of_sheet["mean"])
            <= 0.5 * 10 ** -(len(mean.partition(".")[2])) * 1.001
        )
        assert float(u) == pytest.approx(of_sheet["expanded"], rel=0.3)
    predicted = {p["key"]: p for p in sheet["predictions"]}
    ease = next(f for f in page["figures"] if f["key"] == "cutting_ease")
    assert ease["text"].endswith(f"likely {predicted['cutting_ease']['central']:.0f}")


def test_what_is_published_stands_though_the_record_goes_on(
    shop: TestClient, anybody: TestClient
) -> None:
    page = review(shop, 2, "As of its day")
    before = anybody.get(f"/p/{page['address']}").text
    sheet = answered(shop.post("/api/bench/pieces/2/sheets"), 201)
    taken = {
        "client_id": str(uuid.uuid4()),
        "quantity": "weight",
        "typed": "251.4 g",
        "confirmed": True,
    }
    answered(shop.post(f"/api/bench/sheets/{sheet['id']}/readings", json=taken), 201)
    assert anybody.get(f"/p/{page['address']}").text == before
    now = shop.get(f"/api/pages/{page['id']}").json()
    assert now["changed"]
    [since] = [s for s in now["since"] if s["key"] == "weight"]
    assert since["moved"]
    assert since["now"].startswith("251")
    again = published(shop, now)
    assert (again["changed"], again["since"]) == (False, [])
    assert "251" in anybody.get(f"/p/{page['address']}").text


def test_own_words_are_told_apart_and_cannot_run(shop: TestClient, anybody: TestClient) -> None:
    page = begun(shop, "Own <words>", kind="review", piece_id=1, disclosure=TOLD)
    parts = [
        {"part": "glance", "shown": True, "text": "It has <b>{weight}</b>\n\n<script>x</script>"},
        {"part": "value", "shown": False, "text": None},
    ]
    page = published(shop, changed(shop, page, parts=parts))
    read = anybody.get(f"/p/{page['address']}")
    assert "<b>" not in read.text.partition("<body>")[2]
    assert "&lt;script&gt;" in read.text
    assert '<p class="mr-own">It has &lt;b&gt;<span class="mr-figure mr-measured">187' in read.text
    assert 'id="value"' not in read.text
    order = re.findall(r'<h2 id="([a-z_]+)">', read.text)
    assert order[0] == "glance"
    assert "edge_life" not in order  # what is not named is not shown
    policy = read.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "script-src" not in policy


@pytest.mark.parametrize(
    ("content", "status", "told"),
    [
        ({"piece_id": 999_999}, 404, "999999"),
        ({"piece_id": 1, "parts": [{"part": "glance", "text": "{wieght}"}]}, 422, "wieght"),
        ({"piece_id": 1, "scores": [{"scale_id": 999, "value": 3}]}, 422, "999"),
        ({"piece_id": 1, "parts": [{"part": "glance"}, {"part": "glance"}]}, 422, "twice"),
        ({"piece_id": 1, "extra": 1}, 422, "extra"),
    ],
)
def test_what_cannot_be_shown_is_refused_by_name(
    shop: TestClient, content: dict[str, object], status: int, told: str
) -> None:
    answer = shop.post("/api/pages", json={"content": {"kind": "review", **content}})
    assert answer.status_code == status
    assert told in answer.text


def test_two_people_at_one_page_do_not_overwrite_each_other(shop: TestClient) -> None:
    page = begun(shop, kind="range")
    newer = changed(shop, page, intro="first")
    stale = {"title": "second", "content": page["content"]}
    answer = shop.put(f"/api/pages/{page['id']}", json=stale, headers={"If-Match": page["etag"]})
    assert answer.status_code == 412
    assert (
        shop.delete(f"/api/pages/{page['id']}", headers={"If-Match": page["etag"]}).status_code
        == 412
    )
    assert shop.get(f"/api/pages/{page['id']}").json()["etag"] == newer["etag"]
    answered(shop.delete(f"/api/pages/{page['id']}", headers={"If-Match": newer["etag"]}), 204)


def test_a_comparison_says_what_the_board_says(shop: TestClient, anybody: TestClient) -> None:
    laid = {"pieces": [1, 4, 5]}
    page = published(shop, begun(shop, "Three gyutos", kind="comparison", laid=laid))
    board = answered(shop.post("/api/board", json=laid))
    read = anybody.get(f"/p/{page['address']}")
    for sentence in board["verdict"]["sentences"]:
        told = sentence["text"].replace("this customer", "the home cook")
        assert told in read.text.replace("&#39;", "'")
    document = anybody.get(f"/p/{page['address']}.json").json()
    [table] = [b for b in document["blocks"] if b.get("key") == "differences" and "rows" in b]
    rows = {row[0]["text"]: row for row in table["rows"]}
    for row in board["differences"]:
        label = row["label"][:1].lower() + row["label"][1:]
        if row["verdict"] != "not_measurable" and label in rows:
            values = [v and v["mean"] for v in row["values"]]
            assert [cell["value"] for cell in rows[label][1:4]] == values
    drawings = [b["key"] for b in document["blocks"] if b["kind"] == "drawing"]
    assert drawings == ["outlines", "sections", "force"]
    how = anybody.get(f"/m/{page['short']}").text
    assert "largest permissible error" in how
    sheet = shop.get("/api/pieces/1").json()
    by = {reading["person"] for reading in sheet["history"]}
    assert by
    assert not any(name in how for name in by)  # nobody's name unless it is chosen
    named = published(shop, changed(shop, page, show_people=True))
    assert all(name in anybody.get(f"/m/{named['short']}").text for name in by)


def test_a_range_is_put_in_order_by_anybody(shop: TestClient, anybody: TestClient) -> None:
    page = published(shop, begun(shop, kind="range", knife_types=["gyuto"], columns=["weight"]))

    def weights(query: str) -> list[float]:
        text = anybody.get(f"/p/{page['address']}{query}").text
        return [float(w) for w in re.findall(r"mr-measured\">([\d.]+) ±", text)]

    up, down = weights("?sort=2"), weights("?sort=2&down=true")
    assert len(up) > 4
    assert up == sorted(up)
    assert down == sorted(up, reverse=True)
    assert anybody.get(f"/p/{page['address']}?sort=900").status_code == 422


def test_nothing_is_published_of_an_empty_range(shop: TestClient) -> None:
    answer = shop.post("/api/pages", json={"content": {"kind": "range", "search": "no such knife"}})
    assert answer.status_code == 409
    assert "No knife in stock" in answer.json()["detail"]


def test_a_page_is_small_and_need_not_be_sent_twice(shop: TestClient, anybody: TestClient) -> None:
    pages = [
        review(shop, title="Small"),
        published(shop, begun(shop, kind="comparison", laid={"pieces": [1, 4, 5, 7, 9, 11]})),
        published(shop, begun(shop, kind="range")),
    ]
    for page in pages:
        first = anybody.get(f"/p/{page['address']}", headers={"Accept-Encoding": "gzip"})
        assert int(first.headers["content-length"]) < 100_000
        assert "public" in first.headers["cache-control"]
        again = anybody.get(
            f"/p/{page['address']}", headers={"If-None-Match": first.headers["etag"]}
        )
        assert (again.status_code, again.content) == (304, b"")
        assert "<script src" not in first.text


def test_a_review_is_linked_data_that_others_read(shop: TestClient, anybody: TestClient) -> None:
    scale = answered(
        shop.post(
            "/api/score-scales",
            json={"name": "Value", "highest": 5, "criteria": "5: nothing better for the price."},
        ),
        201,
    )
    page = review(shop, 1, "With scores", scores=[{"scale_id": scale["id"], "value": 4}])
    graph = linked_data(anybody.get(f"/p/{page['address']}").text)
    schema = rdflib.Namespace(ACCEPTED_SCHEMA)
    [of] = list(graph.subjects(rdflib.RDF.type, schema.Review))
    product = graph.value(of, schema.itemReviewed)
    assert graph.value(product, rdflib.RDF.type) == schema.Product
    rating = graph.value(of, schema.reviewRating)
    scored = [graph.value(rating, schema[key]) for key in ("ratingValue", "bestRating")]
    assert [str(value) for value in scored] == ["4.0", "5"]
    assert graph.value(of, schema.author) is not None
    too_high = {"scale_id": scale["id"], "value": 6}
    content = {"kind": "review", "piece_id": 1, "scores": [too_high]}
    assert shop.post("/api/pages", json={"content": content}).status_code == 422


def test_a_page_is_framed_only_where_that_was_allowed(
    shop: TestClient, anybody: TestClient
) -> None:
    kept = review(shop, title="Not to be framed")
    assert anybody.get(f"/embed/{kept['address']}").status_code == 404
    assert anybody.get(f"/p/{kept['address']}").headers["x-frame-options"] == "DENY"
    page = review(shop, title="To be framed", embed=True)
    framed = anybody.get(f"/embed/{page['address']}")
    assert "frame-ancestors *" in framed.headers["content-security-policy"]
    assert "default-src 'none'" in framed.headers["content-security-policy"]
    assert "x-frame-options" not in framed.headers


def test_drawings_and_previews_are_pictures(shop: TestClient, anybody: TestClient) -> None:
    page = review(shop, title="With drawings")
    base = f"/p/{page['address']}"
    card = anybody.get(f"{base}/card.png")
    assert Image.open(io.BytesIO(card.content)).size == (1200, 630)
    png = anybody.get(f"{base}/drawings/outline.png", params={"width": 480, "scheme": "rook"})
    assert Image.open(io.BytesIO(png.content)).width == 480
    svg = anybody.get(f"{base}/drawings/outline.svg")
    assert svg.headers["content-type"].startswith("image/svg+xml")
    assert anybody.get(f"{base}/drawings/nothing.svg").status_code == 404
    assert anybody.get(f"{base}/drawings/outline.png?width=99999").status_code == 422


def test_the_feed_has_what_stands(shop: TestClient, anybody: TestClient) -> None:
    page = review(shop, title="In the feed")
    gone = review(shop, title="Not in the feed")
    shop.post(f"/api/pages/{gone['id']}/withdraw", json={})
    read = feedparser.parse(anybody.get("/p/feed.atom").content)
    assert not read.bozo
    titles = [entry.title for entry in read.entries]
    assert titles[0] == "In the feed"
    assert "Not in the feed" not in titles
    assert read.entries[0].link.endswith(f"/p/{page['address']}")


def test_a_reader_reads_drafts_and_publishes_nothing(
    shop_of_pages: Engine, shop: TestClient
) -> None:
    page = begun(shop, kind="review", piece_id=1, disclosure=TOLD)
    for role, may in (("reader", set()), ("counter", {"begin"}), ("owner", {"begin", "publish"})):
        bearer = {"Authorization": f"Bearer {key_of(shop_of_pages, role)}"}
        body = {"content": {"kind": "review", "piece_id": 1}}
        assert shop.get(f"/api/pages/{page['id']}", headers=bearer).status_code == 200
        begins = shop.post("/api/pages", json=body, headers=bearer).status_code
        publishes = shop.post(f"/api/pages/{page['id']}/publish", headers=bearer).status_code
        assert (begins == 201) is ("begin" in may), role
        assert (publishes == 200) is ("publish" in may), role


def photograph(shop: TestClient, piece: int = 3) -> list[dict[str, Any]]:
    """A photograph with a place in its notes, as a phone takes it."""
    picture = Image.linear_gradient("L").resize((1800, 1200)).convert("RGB")
    notes = Image.Exif()
    notes[0x8825] = {1: "N", 2: (53.0, 20.0, 0.0), 3: "W", 4: (6.0, 15.0, 0.0)}
    held = io.BytesIO()
    picture.save(held, "JPEG", exif=notes)
    path = f"/api/pieces/{piece}/photographs/{uuid.uuid4()}"
    found: list[dict[str, Any]] = answered(shop.put(path, content=held.getvalue()), 201)
    return found


def test_photographs_are_on_the_page_in_order_and_in_its_sizes(
    shop: TestClient, anybody: TestClient
) -> None:
    first, second = (photograph(shop)[-1] for _ in range(2))
    page = begun(shop, kind="review", piece_id=3, disclosure=TOLD)
    assert page["missing"] == ["what photograph 1 shows", "what photograph 2 shows"]
    assert shop.post(f"/api/pages/{page['id']}/publish").status_code == 409
    crop = {"alt": "The heel", "caption": "Polished", "credit": "Ada", "crop": [0, 0, 0.5, 1]}
    for row, said in ((first, {"alt": "From the side"}), (second, crop)):
        answered(shop.put(f"/api/photographs/{row['id']}", json=said))
    answered(shop.put("/api/pieces/3/photographs", json={"ids": [second["id"], first["id"]]}))
    page = published(shop, page)
    document = anybody.get(f"/p/{page['address']}.json").json()
    shown = [b for b in document["blocks"] if b["kind"] == "photo"]
    assert [(b["alt"], b["width_px"]) for b in shown] == [
        ("The heel", 900),
        ("From the side", 1800),
    ]
    assert document["blocks"][0] == shown[0]
    base = f"/p/{page['address']}/photographs"
    for width, ends in ((480, "webp"), (960, "jpeg"), (1600, "webp")):
        for block in shown:
            sent = anybody.get(f"{base}/{block['version']}/{width}.{ends}")
            picture = Image.open(io.BytesIO(sent.content))
            assert picture.width == min(width, block["width_px"])
            assert not picture.getexif()
    assert anybody.get(f"{base}/{'0' * 16}/480.webp").status_code == 404
    assert anybody.get(f"{base}/{shown[0]['version']}/481.webp").status_code == 422
    assert anybody.get(f"/api/photographs/{first['id']}/480.webp").status_code == 401
    uncropped = shop.get(f"/api/photographs/{second['id']}/1600.jpeg", params={"whole": True})
    assert Image.open(io.BytesIO(uncropped.content)).width == 1600
    # what is cropped or taken away later leaves the page as it is
    answered(shop.put(f"/api/photographs/{second['id']}", json={**crop, "crop": None}))
    answered(shop.delete(f"/api/photographs/{second['id']}"), 204)
    assert shop.delete(f"/api/photographs/{second['id']}").status_code == 404
    assert anybody.get(f"{base}/{shown[0]['version']}/960.webp").status_code == 200
    for ends in ("docx", "pdf"):
        assert len(shop.get(f"/api/pages/{page['id']}/page.{ends}").content) > 50_000
    shop.post(f"/api/pages/{page['id']}/withdraw", json={})
    assert anybody.get(f"{base}/{shown[0]['version']}/960.webp").status_code == 404


def test_what_is_no_photograph_is_refused_and_nothing_is_kept(shop: TestClient) -> None:
    before = shop.get("/api/pieces/4/photographs").json()
    small = io.BytesIO()
    Image.new("RGB", (40, 40)).save(small, "PNG")
    for content in (b"", b"GIF89a", b"<svg onload='x()'/>", small.getvalue()):
        path = f"/api/pieces/4/photographs/{uuid.uuid4()}"
        assert shop.put(path, content=content).status_code == 422, content[:8]
    too_much = shop.put(f"/api/pieces/4/photographs/{uuid.uuid4()}", content=b"x" * 4_100_000)
    assert too_much.status_code == 413
    assert shop.get("/api/pieces/4/photographs").json() == before
    [row] = photograph(shop, 4)
    for crop in ([0, 0, 0.01, 1], [0.5, 0, 0.6, 1], [-0.1, 0, 1, 1]):
        refused = shop.put(f"/api/photographs/{row['id']}", json={"crop": crop})
        assert refused.status_code == 422, crop
    assert shop.put("/api/pieces/4/photographs", json={"ids": [row["id"], 1]}).status_code == 422


def test_a_photograph_sent_twice_is_kept_once_without_where_it_was_taken(
    shop_of_pages: Engine, shop: TestClient
) -> None:
    held = io.BytesIO()
    notes = Image.Exif()
    notes[0x8825] = {1: "N", 2: (53.0, 20.0, 0.0)}
    Image.effect_noise((900, 700), 60).convert("RGB").save(held, "JPEG", exif=notes)
    path = f"/api/pieces/5/photographs/{uuid.uuid4()}"
    for _ in range(2):
        assert len(answered(shop.put(path, content=held.getvalue()), 201)) == 1
    with sessions(shop_of_pages)() as db:
        kept = db.scalars(select(Photograph.content).where(Photograph.piece_id == 5)).one()
    assert 0x8825 not in Image.open(io.BytesIO(kept)).getexif()


def test_a_shops_products_are_for_who_has_the_key(shop: TestClient, anybody: TestClient) -> None:
    model = shop.get("/api/pieces/1").json()["model_id"]
    path = f"/api/mending/models/{model}"
    for wrong in ("4006381333932", "12345", "abcdefgh"):
        answer = shop.patch(path, json={"gtin": wrong})
        assert answer.status_code == 422, wrong
        assert "check digit" in answer.text
    # an example of a GTIN-13 whose check digit is right by modulo 10 (GS1, from memory)
    answered(shop.patch(path, json={"gtin": "4006381 333931"}))
    assert shop.get("/api/shop-feed").json()["is_open"] is False
    page = review(shop, title="For the feed")
    feed = answered(shop.post("/api/shop-feed"), 201)
    rows = answered(anybody.get(feed["json_address"]))
    rack = shop.get("/api/rack", params={"limit": 1}).json()
    assert len(rows) == rack["shown"]
    [mine] = [row for row in rows if row["id"] == "KH-01"]
    sheet = shop.get("/api/pieces/1").json()
    assert (mine["gtin"], mine["price"]) == ("4006381333931", sheet["piece"]["price"])
    assert mine["link"].endswith(f"/p/{page['address']}")
    weight = next(a for a in mine["attributes"] if a["name"] == "weight")
    assert weight["value"] == pytest.approx(sheet["figures"]["weight"]["mean"], abs=0.06)
    table = list(csv.DictReader(io.StringIO(anybody.get(feed["csv"]).text)))
    assert [row["id"] for row in table] == [row["id"] for row in rows]
    answered(shop.put("/api/pieces/1/stock", json={"state": "sold"}))
    assert "KH-01" not in [row["id"] for row in anybody.get(feed["json_address"]).json()]
    other = answered(shop.post("/api/shop-feed"), 201)
    assert anybody.get(feed["csv"]).status_code == 404
    assert anybody.get(other["csv"]).status_code == 200
    answered(shop.delete("/api/shop-feed"), 204)
    assert anybody.get(other["csv"]).status_code == 404


def test_the_board_is_taken_away_as_tables_and_pictures(shop: TestClient) -> None:
    board = answered(shop.post("/api/board", json={"pieces": [1, 4]}))
    by_label = {row["label"]: row for row in board["differences"]}
    query = {"piece": [1, 4]}
    table = list(csv.reader(io.StringIO(shop.get("/api/board/table.csv", params=query).text)))
    assert len(table) == 1 + len(by_label)
    name = f"A {board['knives'][0]['piece']['name']}"
    assert table[0][3:5] == [name, f"{name}, U (k = 2)"]
    for row in table[1:]:
        figure = by_label[row[0]]["values"][0]
        told = [float(cell) if cell else None for cell in row[3:5]]
        known = [figure and figure["mean"], figure and figure["expanded"]]
        assert told == pytest.approx(known, abs=1e-5)
    book = openpyxl.load_workbook(
        io.BytesIO(shop.get("/api/board/table.xlsx", params=query).content)
    )
    assert [str(c.value) for c in book["Board"][1]][:4] == ["quantity", "unit", "grade", name]
    assert book["Board"].max_row == len(table)
    for path in (
        "/api/board/drawings/elevation.png",
        "/api/board/charts/force.png",
        "/api/pieces/1/drawings/section.png",
    ):
        for scheme in ("maple", "rook"):
            sent = shop.get(path, params={**query, "width": 700, "scheme": scheme})
            assert Image.open(io.BytesIO(sent.content)).width == 700, path
    assert shop.get("/api/board/charts/force.svg", params=query).text.startswith("<svg")
    missing = shop.get("/api/board/charts/force.svg", params={**query, "food": "granite"})
    assert missing.status_code == 404


def test_a_knifes_own_page_and_card_lead_to_how_it_was_measured(
    shop: TestClient, anybody: TestClient
) -> None:
    body = {"on": True, "shown": ["weight", "hardness"], "words": ""}
    page = answered(shop.put("/api/pieces/7/public", json=body))
    text = anybody.get(f"/k/{page['address']}").text
    [short] = re.findall(r'href="http://testserver(/m/k[0-9a-z]+)"', text)
    how = anybody.get(short)
    assert re.findall(r'<tr><th scope="row">([a-z ]+)</th>', how.text) == ["weight", "hardness"]
    again = anybody.get(short, headers={"If-None-Match": how.headers["etag"]})
    assert again.status_code == 304
    card = shop.get("/api/pieces/7/card.pdf").content
    printed = pypdf.PdfReader(io.BytesIO(card)).pages[0].extract_text()
    assert f"how it was measured: http://testserver{short}" in " ".join(printed.split())
    answered(shop.put("/api/pieces/7/public", json={**body, "on": False}))
    assert anybody.get(short).status_code == 404
    assert anybody.get("/m/kzzzzzz").status_code == 404


def test_what_a_page_does_not_say_is_not_in_its_data(shop: TestClient, anybody: TestClient) -> None:
    parts = [{"part": "glance", "shown": True, "text": "It weighs {weight}."}]
    page = review(shop, 9, "Only its weight", parts=parts, points=[], drawings=[])
    graph = linked_data(anybody.get(f"/p/{page['address']}").text)
    schema = rdflib.Namespace(ACCEPTED_SCHEMA)
    properties = {str(o) for o in graph.objects(None, schema.propertyID)}
    assert properties == {"weight"}
    assert not list(graph.objects(None, schema.offers))
    data = anybody.get(f"/p/{page['address']}.json").text
    assert "hardness" not in data


@pytest.mark.parametrize("kind", ["review", "comparison"])
def test_every_knife_of_the_shop_can_be_written_about(shop: TestClient, kind: str) -> None:
    """Half-measured, unhardened, single-bevelled and unmeasured ones too."""
    pieces = [
        row["piece"]["id"] for row in shop.get("/api/rack", params={"limit": 60}).json()["rows"]
    ]
    assert len(pieces) > 30
    for one, other in pairwise(pieces):
        about = {"piece_id": one} if kind == "review" else {"laid": {"pieces": [one, other]}}
        page = begun(shop, kind=kind, **about)
        sent = shop.get(f"/api/pages/{page['id']}/page.txt")
        assert sent.status_code == 200, (one, other)
        assert "{" not in sent.text, (one, sent.text)
        assert "nan" not in sent.text.lower().split(), (one, sent.text)

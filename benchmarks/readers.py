"""Published pages as readers fetch them: one, fifty at once, and one already cached."""

from __future__ import annotations

from collections.abc import Iterator

import httpx2 as httpx
from tests.signed_in import key_of

from benchmarks.load import Asked, Borne, bear
from benchmarks.rows import Row
from benchmarks.servers import demo_server
from maple_rook.store.database import connect

READERS = 50
TOLD = {"obtained": "stock", "paid": False, "seen_first": False, "links_earn": False}
PAGES = {
    "review": {"kind": "review", "piece_id": 1, "disclosure": TOLD},
    "comparison of three": {
        "kind": "comparison",
        "laid": {"pieces": [1, 4, 5]},
    },
    "range": {"kind": "range", "search": "Hollinreach"},
}


def rows() -> Iterator[Row]:
    with demo_server() as served:
        engine = connect(served.url)
        for name, content in PAGES.items():
            path, tag = _published(served.address, key_of(engine), content)
            alone = bear(Asked.get(served.address, path, {}), 1)
            yield Row(f"Published {name}, one reader", alone.median, "ms")
            yield _steadily(f"Published {name}, {READERS} readers", alone, path, served.address)
            known = bear(Asked.get(served.address, path, {"if-none-match": tag}), 1)
            ratio = known.median / alone.median
            yield Row(f"Published {name}, unchanged (304)", known.median, "ms", ratio)
        engine.dispose()


def _steadily(figure: str, alone: Borne, path: str, address: str) -> Row:
    """Latency for readers who each fetch a page a second, to that of one reader alone."""
    borne = bear(Asked.get(address, path, {}), READERS, seconds=10, every_s=1.0)
    ratio = borne.median / alone.median
    flat_out = bear(Asked.get(address, path, {}), READERS, seconds=5)
    note = f"95 % {borne.p95:,.0f} ms; at most {flat_out.per_second:,.0f} pages/s"
    return Row(figure, borne.median, "ms", ratio, note)


def _published(address: str, key: str, content: dict[str, object]) -> tuple[str, str]:
    """The path of a page that was just published, and its entity tag."""
    headers = {"Authorization": f"Bearer {key}"}
    with httpx.Client(base_url=address, headers=headers, timeout=30) as shop:
        begun = shop.post("/api/pages", json={"title": "", "content": content}).json()
        at = {"If-Match": begun["etag"]}
        shop.post(f"/api/pages/{begun['id']}/publish", headers=at).raise_for_status()
        path = f"/p/{begun['address']}"
        return path, shop.get(path).headers["etag"]

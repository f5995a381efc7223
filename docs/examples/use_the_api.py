"""Read the shelf, add a knife with a reading, read it back: only Python's own library.

MAPLE_ROOK_KEY=... python docs/examples/use_the_api.py http://127.0.0.1:8420

The key is made under Office, Yourself; whoever has it acts as the person who made it.
"""

import json
import os
import sys
from urllib.parse import urlencode
from urllib.request import Request, urlopen


def signed(address: str, body: bytes | None = None) -> Request:
    key = os.environ["MAPLE_ROOK_KEY"]
    headers = {"Content-Type": "application/json", "Authorization": f"Bearer {key}"}
    return Request(address, body, headers)


def get(address: str) -> dict:
    with urlopen(signed(address)) as answer:
        return json.load(answer)


def post(address: str, rows: list[dict]) -> dict:
    body = json.dumps({"rows": rows}).encode()
    with urlopen(signed(address, body)) as answer:
        return json.load(answer)


def main(shop: str) -> None:
    # Hard knives under 200 g, the thinnest behind the edge first, page by page.
    question = {"where": ["hardness:60:70", "weight:20:200"], "sort": "thickness_behind_edge"}
    path = f"/api/v1/pieces?{urlencode(question, doseq=True)}"
    while path:
        page = get(shop + path)
        for knife in page["items"]:
            figures = {f["key"]: f"{f['value']} ± {f['u']} {f['unit']}" for f in knife["figures"]}
            print(knife["tag"], knife["name"], figures["thickness_behind_edge"], sep="  ")
        path = page["next"]

    # A knife and a reading, in bulk; sent again they change nothing.
    model = {"maker": "Kesterby", "line": "Harbour", "knife_type": "gyuto", "nominal_mm": 210}
    reading = {"tag": "API-1", "key": "api-1-weight", "quantity": "weight", "typed": "6.6 oz"}
    for _ in range(2):
        knives = post(f"{shop}/api/v1/pieces", [{"tag": "API-1", **model}])
        readings = post(f"{shop}/api/v1/readings", [reading])
        print("added", knives["added"] or "nothing", readings["added"] or "nothing")

    [weight] = get(f"{shop}/api/v1/pieces/API-1")["figures"]
    print(f"{weight['value']} {weight['unit']} = {weight['other_value']} {weight['other_unit']}")


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420")

"""Add a model, two pieces and their readings; read predictions and a verdict; follow changes.

MAPLE_ROOK_KEY=... python docs/examples/a_small_client.py http://127.0.0.1:8420
"""

import json
import os
import sys
from urllib.request import Request, urlopen

QUANTITIES = {
    **{"weight": "g", "edge_length": "mm", "height_heel": "mm", "spine_heel": "mm"},
    **{"spine_mid": "mm", "spine_tip": "mm", "thickness_behind_edge": "mm"},
    **{"edge_angle": "dps", "hardness": "HRC", "handle_length": "mm"},
}
TWO = {
    "C-1": (186, 209, 46.5, 2.4, 1.9, 0.8, 0.25, 14, 60.5, 128),
    "C-2": (241, 211, 49.0, 3.4, 2.6, 1.2, 0.45, 15.5, 57.0, 126),
}


def call(path, body=None):
    headers = {"Authorization": f"Bearer {os.environ['MAPLE_ROOK_KEY']}"}
    asked = Request(SHOP + path, json.dumps(body).encode() if body else None, headers)
    asked.add_header("Content-Type", "application/json")
    with urlopen(asked) as answer:
        return json.load(answer)


SHOP = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8420"
model = {"maker": "Kesterby", "line": "Client", "knife_type": "gyuto", "nominal_mm": 210}
call("/api/v1/models", {"rows": [{**model, "grind": "full_flat", "steel": "1.4116"}]})
call("/api/v1/pieces", {"rows": [{"tag": tag, **model} for tag in TWO]})
readings = [
    {"tag": tag, "key": f"{tag}-{key}-{n}", "quantity": key, "typed": f"{value + n / 100} {unit}"}
    for tag, values in TWO.items()
    for (key, unit), value in zip(QUANTITIES.items(), values, strict=True)
    for n in range(3)
]
print("added", call("/api/v1/readings", {"rows": readings})["added"])
for tag in TWO:
    for one in call(f"/api/v1/pieces/{tag}/predictions")["predictions"]:
        print(tag, one["key"], one["unavailable"] or [one["low"], one["central"], one["high"]])
print(call("/api/v1/compare", {"tags": list(TWO)})["verdict"]["sentences"][0]["text"])
print("changed", [piece["tag"] for piece in call("/api/v1/changes")["items"]])

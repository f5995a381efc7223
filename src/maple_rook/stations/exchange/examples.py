"""What the API's description shows for each question, in an order that fills an empty shop."""

from __future__ import annotations

from typing import Any

from maple_rook.formats.incoming.fields import Kind

_HARBOUR = {"maker": "Kesterby", "line": "Harbour", "knife_type": "gyuto", "nominal_mm": 210}
_SKERRY = {"maker": "Hollinreach", "line": "Skerry", "knife_type": "santoku", "nominal_mm": 170}
_READ = {"taken_at": "2026-09-14T08:31:04Z", "person": "Wil"}

ROWS: dict[Kind, list[dict[str, Any]]] = {
    Kind.MODELS: [
        {**_HARBOUR, "grind": "full_flat", "steel": "1.4116", "price": 139},
        {**_SKERRY, "grind": "convex", "steel": "1.4112"},
    ],
    Kind.CLAIMS: [{**_HARBOUR, "quantity": "hardness", "printed": "58-60 HRC"}],
    Kind.PIECES: [
        {**_HARBOUR, "tag": "KH-01", "condition": "new"},
        {**_SKERRY, "tag": "HS-24", "note": "from the window"},
    ],
    Kind.READINGS: [
        {"tag": "KH-01", "key": "kh-01-w1", "quantity": "weight", "typed": "6.6 oz", **_READ},
        {"tag": "KH-01", "key": "kh-01-h1", "quantity": "hardness", "typed": 60.5, "unit": "HRC"},
        {"tag": "HS-24", "key": "hs-24-w1", "quantity": "weight", "typed": 149, "unit": "g"},
    ],
    Kind.PROFILES: [
        {"tag": "KH-01", "key": "kh-01-edge", "x_mm": x, "y_mm": y}
        for x, y in ((0, 0), (70, 0), (140, 2.5), (190, 14), (207, 26))
    ],
    Kind.TRIALS: [
        {"key": "kh-01-card", "tag": "KH-01", "trial_kind": "card", "x": cycle, "value": depth}
        for cycle, depth in ((1, 42), (2, 39), (3, 37))
    ],
}


def bulk(kind: Kind) -> dict[str, Any]:
    """The example of a bulk write, as a part of the route's description."""
    example = {"rows": ROWS[kind], "measured_on": "2026-09-14"}
    content = {"application/json": {"example": example}}
    return {"requestBody": {"content": content}}

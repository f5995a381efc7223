"""Pages of docs/formats that are made from the code."""

from __future__ import annotations

import csv
import io
import json
from typing import Any

from maple_rook.core.measurement.unit_codes import UNIT_CODES, UNIT_TEXT
from maple_rook.core.measurement.units import UNITS
from maple_rook.documents.knife_document import GROUPS, KnifeDocument
from maple_rook.formats.incoming.fields import RECORD_KINDS, Kind
from maple_rook.formats.json_ld import product
from maple_rook.formats.record_tables import (
    FORMAT,
    RECORD_TABLES,
    VERSION,
    RecordColumn,
    shop_schema,
)

_EXAMPLE: dict[str, Any] = {
    "maker": "Kesterby",
    "line": "Harbour",
    "knife_type": "gyuto",
    "nominal_mm": 210,
    "grind": "full_flat",
    "construction": "one steel, stainless",
    "finish": "brushed",
    "handle": "riveted, resin laminate",
    "even_machine_edge": "",
    "steel": "1.4112",
    "price": 148,
    "currency": "EUR",
    "gtin": "4006381333931",
    "quantity": "weight",
    "printed": "185 g",
    "tag": "KH-01",
    "condition": "new",
    "note": "",
    "key": "9f0c2f52-5c0e-5a5e-9f62-2c9a8f0b7a11",
    "typed": "6.6 oz",
    "known_as": "measured",
    "unit": "oz",
    "si_value": 187.106853,
    "si_unit": "g",
    "u": 0.645497,
    "taken_at": "2026-09-14T08:31:04+00:00",
    "round": "2026-09-14T08:30:00+00:00",
    "signed": "2026-09-14T08:34:40+00:00",
    "person": "Wil at the bench",
    "instrument": "bench scale 1 g",
    "block": "",
    "method": "manual",
    "along_mm": "",
    "above_edge_mm": "",
    "place": "",
    "unusual": "",
    "struck": "",
    "x_mm": 120,
    "y_mm": 0.25,
    "trial_kind": "card test",
    "protocol": "{}",
    "set_aside": "",
    "x": 1,
    "value": 14.2,
    "event": "",
}
_SOURCE = {Kind.PROFILES: "stations", Kind.TRIALS: "typed"}


def pages() -> dict[str, str]:
    """Text by file name."""
    return {
        "shop.schema.json": json.dumps(shop_schema(), indent=1, ensure_ascii=False) + "\n",
        "record.md": _record(),
        "knife.md": _knife(),
        "product.md": _product(),
    }


def _record() -> str:
    tables = "\n".join(_table(kind) for kind in RECORD_KINDS)
    return f"""# The record

`GET /api/v1/readings.csv` and its like: CSV by RFC 4180 in UTF-8, numbers with a decimal point,
nothing where there is nothing; text that a spreadsheet would run begins with an apostrophe, which
is taken off again on the way in. `GET /api/v1/shop.json` has the same rows as objects:

    {{"format": "{FORMAT}", "version": {VERSION}, "shop": {{…}}, "models": […], "claims": […], …}}

as [shop.schema.json](shop.schema.json) (JSON Schema 2020-12) says. `GET /api/v1/shop.xlsx` has a
sheet for each table, and before them *Shelf (computed)*: a row a piece, every figure with U and in
the other unit system. All of them can be [imported](import.md); out, in, and out again is the
same. What was seen, pictures, plans, work and stored predictions are in the [archive](archive.md).

{tables}"""


def _table(kind: Kind) -> str:
    columns = RECORD_TABLES[kind]
    rows = "\n".join(f"| `{c.name}` | {_type(c)} | {c.about} |" for c in columns)
    held = io.StringIO()
    example = {**_EXAMPLE, "source": _SOURCE.get(kind, "")}
    csv.writer(held, lineterminator="\n    ").writerows(
        [[c.name for c in columns], [example[c.name] for c in columns]]
    )
    return f"""## {kind.value}

| column | | |
| --- | --- | --- |
{rows}

    {held.getvalue().rstrip()}
"""


def _type(column: RecordColumn) -> str:
    return f"{column.type}, may lack" if column.lacking else column.type


def example_knife() -> KnifeDocument:
    """The example of the API's description."""
    extra: Any = KnifeDocument.model_config["json_schema_extra"]
    return KnifeDocument.model_validate(extra["examples"][0])


def _json(value: object) -> str:
    return json.dumps(value, indent=2, ensure_ascii=False)


def _knife() -> str:
    groups = "\n".join(f"- `{key}`: {label}" for key, label in GROUPS.items())
    return f"""# A knife as a document

`GET /api/v1/pieces/{{tag}}`, a page of them at `GET /api/v1/pieces`, and what a shop shows at
`/k/{{address}}.json`. A figure is a mean with its expanded uncertainty (k = 2), in its base unit
and in the other unit system, with UN/CEFACT codes; an estimate has 90 % limits and its grade. What
is not measured is named in `not_measured`; what is not shown is null or absent.

```json
{_json(example_knife().model_dump())}
```

Beside the measured quantities a page can show:

{groups}
"""


def _product() -> str:
    codes = "\n".join(
        f"| {u.symbol} | {UNIT_CODES.get(u.symbol, 'none')} | {UNIT_TEXT.get(u.symbol, '')} |"
        for u in UNITS.values()
    )
    example = product(
        example_knife().model_dump(), url="https://shop.example/k/kh-01", currency_code="EUR"
    )
    return f"""# Product data

`GET /api/pieces/{{piece}}/product.jsonld`, and inside a knife's page: a schema.org `Product` in
JSON-LD, to be pasted into a product page. Measured figures only, each with its uncertainty in
words; an estimate is no property of the product.

```json
{_json(example)}
```

Units carry their UN/CEFACT code (Recommendation 20) where there is one:

| unit | code | in words |
| --- | --- | --- |
{codes}
"""

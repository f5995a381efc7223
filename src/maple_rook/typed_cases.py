"""What the server makes of typed readings and of intervals, for the tests of the browser's own.

The Bench reads what is typed before it sends it, by the same registry and the same rules. The file
made here holds the registry as it is served, texts, and what the core answers to each.
"""

from __future__ import annotations

import json
from typing import Any

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.plausibility import doubt, parse_entry
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.wording import interval_text
from maple_rook.stations.catalogue.routes import KnifeTypeOut, QuantityOut, UnitOut

KNIFE_TYPE = "gyuto"
NUMBERS = (
    *("0", "1", "7", "15", "30", "58.4", "186", "210", "1860", "-3", "+12", "1e3", "0x10", "00.5"),
    *("12,5", "1,234", "12,345.6", ".5", ",5", "5.", "1/2", "1 7/8", "1-7/8", "8 1/4", "3/0", "½"),
    *("1½", "2 ¾", "1 / 2", "- 4", "−4", "12 3", "1/2/3", "", " ", "?", "heavy", "186 heavy"),
    *("58-60", "58 to 60", "60-58", "58..60", "62±2", "62 +/- 2", "62+-2", "1±0,5", "７"),
    *("999999999", "0.0000001", "123456.7", "1234567.8", "9" * 64, "9" * 65),
)
UNITS_TYPED = {
    "weight": ("g", "gr", "GRAMS", "oz", "oz.", "ounces", "lb", "lbs", "kg", "mm", "stone"),
    "edge_length": ("mm", "cm", "in", "inches", '"', "″", "''", "um", "µm", "g", "ft"),
    "spine_heel": ("mm", "cm", "in", "microns", "thou"),
    "edge_angle": ("°", "dps", "deg", "° incl", "deg total", "incl", "per side", "º", "°/side"),
    "hardness": ("HRC", "rc", "Rockwell C", "HV", "HRB"),
    "asymmetry": ("%", "percent"),
    "sharpness_force": ("N", "newton", "gf", "grams-force", "lbf", "g"),
    "sharpness_score": ("of 10", "/10", "out of 10", " of ten", "points"),
}
AMOUNTS = ("1", "3.5", "12,5", "15", "30", "58.4", "70", "210", "8 1/4", "1234.5")
OTHERS = (
    *(("weight", text) for text in ("4 lb 3 oz", "1lb 2.5oz", "1 pound 2 ounces", "6.9", "3 in")),
    *(("asymmetry", text) for text in ("70/30", "70:30", "85 : 15", "70/31", "60/40.005", "0/100")),
    *(("sharpness_score", text) for text in ("7/10", "7 of ten", "7 out of 10", "11", "7,5 of 10")),
    *(("hardness", text) for text in ("19", "71", "60,5", "60 HRC ", "  60  hrc")),
    ("edge_length", "8 1 4 in"),
    ("edge_length", "x" * 50),
)
INTERVALS = tuple(
    (round(middle * by, 9), round(low * by, 9), round(high * by, 9))
    for middle, low, high in ((2.25, 1.85, 2.65), (4.15, 2.945, 6.625), (23.41, 19.95, 27.25))
    for by in (0.01, 0.1, 1, 10, 100)
)
"""Likely values with limits that lie on halves, to be rounded alike."""
ESTIMATED = ("~58", "≈ 58", "about 58", "approx. 58", "ca. 58", "58 or so", "58ish", "around 58")
ESTIMATES = (
    *(("hardness", text) for text in (*ESTIMATED, "58-60", "58~60", "58±2", "told 58", "65-80")),
    *(("hardness", text) for text in ("printed: 58-60", "told about 60", "about", "~", "about 75")),
    *(("weight", text) for text in ("about 200", "~7 oz", "180-200", "7-8 oz", "told 186 g")),
    *(("edge_angle", text) for text in ("about 15", "12-15", "~30 incl", "30±2 incl", "12 to 15°")),
    *(("sharpness_score", text) for text in ("5-6", "5-6 of 10", "5-6/10", "~7", "about 7 of ten")),
    *(("balance_point", text) for text in ("about -20", "~0", "about 20")),
    *(("hardness_block", text) for text in ("about 62", "61-63", "62.5")),
    *(("hardness_b", text) for text in ("85", "about 85", "110", "85 HRB", "30 HRC")),
    *(("handle_angle", text) for text in ("5", "-4°", "about 3 deg", "40")),
)
PLACES = (
    *("2.3 at 3 in from the tip", "2.1 @ 120", "2.1at120", "about 2 at 50 mm from tip", "2.3"),
    *("2.3 at", "at 120", "0.09 in at 4 in from the heel", "1.9 at 30 behind the tip", "2 at tip"),
    *("2 at 3 oz", "2 at 2000", "40 at 20", "2.3 mm at 7 1/2 in off tip", "1.8-2 at 60"),
)


def _texts() -> list[tuple[str, str, str]]:
    """Quantity, text and the unit of a bare number."""
    of_number = ("weight", "edge_length", "edge_angle", "asymmetry", "sharpness_score")
    found = [(key, text, QUANTITIES[key].entry_unit) for key in of_number for text in NUMBERS]
    for key, units in UNITS_TYPED.items():
        unit = QUANTITIES[key].entry_unit
        found += [(key, f"{amount}{u}", unit) for amount in AMOUNTS for u in units[:2]]
        found += [(key, f"{amount} {u}", unit) for amount in AMOUNTS[2:5] for u in units]
    placed = tuple(("spine_at", text) for text in PLACES)
    found += [
        (key, text, QUANTITIES[key].entry_unit) for key, text in (*OTHERS, *ESTIMATES, *placed)
    ]
    for key, unit in (("weight", "oz"), ("edge_length", "in"), ("edge_angle", "incl")):
        found += [(key, amount, unit) for amount in AMOUNTS]
    found += [
        (key, amount, q.entry_unit) for key, q in QUANTITIES.items() for amount in ("2", "90", "~3")
    ]
    return found


def _answer(key: str, text: str, unit: str) -> dict[str, Any]:
    try:
        typed, station = parse_entry(QUANTITIES[key], text, default_unit=unit)
    except InvalidValue as wrong:
        return {"wrong": str(wrong), "suggestion": wrong.suggestion}
    found: dict[str, Any] = {"value": typed.value, "unit": typed.unit, "base": typed.base_value}
    if typed.kind is not FigureKind.MEASURED:
        found |= {"kind": typed.kind, "half": typed.half_width}
    if station is not None:
        found["station"] = station
    unusual = doubt(key, typed, KNIFE_TYPE)
    if unusual:
        found |= {"doubt": unusual.message, "suggestion": unusual.suggestion or ""}
    return found


def page() -> str:
    """The file, a case a line."""
    registry = {
        "units": [unit.model_dump(mode="json") for unit in UnitOut.all()],
        "quantities": [QuantityOut.of(q).model_dump(mode="json") for q in QUANTITIES.values()],
        "knife_type": KnifeTypeOut.of(KNIFE_TYPES[KNIFE_TYPE]).model_dump(mode="json"),
    }
    head = ",\n".join(f"{json.dumps(k)}: {json.dumps(v)}" for k, v in registry.items())
    cases = ",\n".join(
        json.dumps([key, text, unit, _answer(key, text, unit)]) for key, text, unit in _texts()
    )
    ranges = json.dumps([[*of, interval_text(*of, "")] for of in INTERVALS])
    return f'{{\n{head},\n"ranges": {ranges},\n"cases": [\n{cases}\n]\n}}\n'

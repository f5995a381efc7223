"""Codes of the units for data that other shops' programs read.

References
----------
.. [1] UN/CEFACT, Recommendation No. 20, Codes for Units of Measure Used in International Trade
   (codes from memory).
"""

from __future__ import annotations

UNIT_CODES: dict[str, str] = {
    "mm": "MMT",
    "cm": "CMT",
    "in": "INH",
    "thou": "77",
    "um": "4H",
    "g": "GRM",
    "kg": "KGM",
    "oz": "ONZ",
    "lb": "LBR",
    "N": "NEW",
    "lbf": "C78",
    "dps": "DD",
    "incl": "DD",
    "deg": "DD",
    "%": "P1",
    "months": "MON",
    "J": "JOU",
    "mJ": "C15",
}
"""Code by unit; a hardness scale and a score have none [1]_."""
UNIT_TEXT: dict[str, str] = {
    "dps": "degrees per side",
    "incl": "degrees inclusive",
    "deg": "degrees",
    "HRC": "HRC",
    "HRB": "HRB",
    "of 10": "of 10",
    "%": "% of the edge on the right-hand face",
}
"""Words for units whose code alone would say too little."""

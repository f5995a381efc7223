"""Every reader of text from outside, and the text at its worst."""

from __future__ import annotations

from collections.abc import Callable

from maple_rook.core.edge_life.steels import STEELS, matches
from maple_rook.core.errors import MapleRookError
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.places import placed, share_and_offset
from maple_rook.core.measurement.units import Dimension
from maple_rook.formats.cut_file import read_cuts
from maple_rook.formats.edge_trace import read_columns, read_svg
from maple_rook.formats.incoming.cells import (
    Decimals,
    angles_of_sides,
    as_point,
    clean,
    decimals_of,
    grind_of,
    key_of,
    knife_type_of,
    unguarded,
    unit_last,
    when,
    yes,
)
from maple_rook.formats.incoming.headings import guess, plain, unit_of
from maple_rook.formats.incoming.money import currency_of_heading, price_of
from maple_rook.formats.incoming.table import MOST_CELL
from maple_rook.instruments.protocol import Garbled, parse

RUNS = (
    *("a", "1", " ", "\n", "[", "()", "1,", ".111", ",111", "-", "1/1 ", " 1", "a "),
    *(" at ", "1 @", "1 ;", "told: ", "1ish ", "+-", "1 lb ", "é", "<g>", "M0 0 "),
)
"""What the worst text repeats, after a digit and before what fits nothing."""
READERS: dict[str, Callable[[str], object]] = {
    "a length": lambda text: parse_typed(text, Dimension.LENGTH),
    "a mass": lambda text: parse_typed(text, Dimension.MASS),
    "a ratio": lambda text: parse_typed(text, Dimension.RATIO),
    "a place": placed,
    "a station": share_and_offset,
    "a heading": guess,
    "a unit": unit_of,
    "plain words": plain,
    "decimals": lambda text: decimals_of([text]),
    "a comma": lambda text: as_point(text, Decimals.COMMA),
    "a point": lambda text: as_point(text, Decimals.POINT),
    "a cell": lambda text: clean(text, "note", MOST_CELL),
    "a guarded cell": unguarded,
    "a day": when,
    "yes or no": lambda text: yes(text, "new"),
    "a key": key_of,
    "a type": knife_type_of,
    "a grind": grind_of,
    "angles of both faces": angles_of_sides,
    "a unit first": lambda text: unit_last(text, Dimension.HARDNESS),
    "a currency": currency_of_heading,
    "a price": lambda text: price_of(text, Decimals.POINT),
    "a grade searched for": lambda text: matches(next(iter(STEELS.values())), text),
    "a traced edge": read_columns,
    "a drawn edge": read_svg,
    "cuts": read_cuts,
    "an instrument's line": parse,
}


def read(name: str, text: str) -> bool:
    """Read a text in one way; whether it was understood does not matter."""
    try:
        READERS[name](text)
    except (MapleRookError, Garbled):
        return False
    return True

"""What a heading means: several habits of naming, both unit systems, and what is close to one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from rapidfuzz import fuzz, process

from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.units import UNITS, Dimension
from maple_rook.formats.incoming.fields import CLAIM, FIELDS, MEANINGS, NEEDED, SPELLINGS, Kind

_CLOSE = 88
_SHORTEST_CLOSE = 5
_BRACKETS = re.compile(r"[\[(]([^\])]*)[\])]")
_PRINTED = re.compile(
    r"\b(?:claimed|claim|advertised|stated|listed|printed|on the box|box|maker s|manufacturers?"
    r"|spec|catalogu?e|nominal)\b"
)
_NOT_A_FIGURE = re.compile(r"^(?:u of|uncertainty|std|spread|min|max)\b")
_INCLUSIVE = re.compile(r"\b(?:incl|inclusive|total angle|included)\b")
_LONGEST = 80


@dataclass(frozen=True)
class Column:
    """What a column means: no field leaves it out; ``unit`` is what its bare numbers take."""

    field: str = ""
    unit: str = ""
    sure: bool = True


def plain(text: str) -> str:
    """Small letters without accents, words parted by single blanks.

    >>> plain("Klingenlänge_[mm]")
    'klingenlange mm'
    """
    bare = unicodedata.normalize("NFKD", text.casefold().replace("ß", "ss"))
    kept = "".join(c for c in bare if not unicodedata.combining(c))
    parted = re.sub(r"(?<=[0-9])(?=[a-z])", " ", re.sub(r"[^0-9a-z%°µμ\"]+", " ", kept))
    return " ".join(parted.split())


_UNIT_WORDS: dict[str, str] = {
    **{s: u.symbol for u in UNITS.values() for s in (u.symbol.casefold(), *u.spellings)},
    **{
        "degrees per side": "dps",
        "°/side": "dps",
        "per side": "dps",
        "degrees inclusive": "incl",
        "° incl": "incl",
        **dict.fromkeys(("°", "deg", "degree", "degrees"), "dps"),
        "hrc": "HRC",
        "score": "of 10",
        "ins": "in",
        "in.": "in",
        "μm": "um",
        "% right-hand face": "%",
    },
}
_WORDS: dict[str, str] = {
    **{plain(q.label): q.key for q in QUANTITIES.values()},
    **{plain(key): key for key in FIELDS if not key.startswith(CLAIM)},
    **SPELLINGS,
}


def unit_of(text: str) -> str | None:
    """The unit that a text alone names, or None.

    >>> unit_of("Ounces"), unit_of("steel")
    ('oz', None)
    """
    return _UNIT_WORDS.get(text.strip().casefold()) if len(text) < _LONGEST else None


@lru_cache(maxsize=4096)
def guess(heading: str) -> Column | None:
    """What a heading most likely means, or None.

    >>> guess("Spine @ heel (in)")
    Column(field='spine_heel', unit='in', sure=True)
    >>> guess("Advertised weight, oz").field
    'claim:weight'
    """
    if len(heading) > _LONGEST or _NOT_A_FIGURE.match(plain(heading)):
        return None
    name, unit = _parted(heading)
    bare = _PRINTED.sub(" ", name)
    printed = bare != name and bool(bare.strip())
    for text in (name, " ".join(bare.split())):
        field, sure = _field(text)
        if not field:
            continue
        as_claim = printed and text != name and field in QUANTITIES
        return Column((CLAIM if as_claim else "") + field, _fitting(field, unit, heading), sure)
    return None


def _parted(heading: str) -> tuple[str, str]:
    """The name in plain words, and the unit named in brackets or by the last words."""
    for inside in _BRACKETS.findall(heading):
        if (unit := unit_of(inside)) is not None:
            return plain(_BRACKETS.sub(" ", heading)), unit
    name = plain(_BRACKETS.sub(" ", heading) if heading[:1] not in "[(" else heading)
    if name in _WORDS:
        return name, unit_of(name) or ""
    words = name.split()
    for taken in (2, 1):
        unit = unit_of(" ".join(words[-taken:])) if len(words) > taken else None
        if unit:
            return " ".join(words[:-taken]), unit
    return name, ""


def _field(name: str) -> tuple[str, bool]:
    if name in _WORDS:
        return _WORDS[name], True
    if len(name) < _SHORTEST_CLOSE:
        return "", False
    found = process.extractOne(
        name, list(_WORDS), scorer=fuzz.token_sort_ratio, score_cutoff=_CLOSE
    )
    return (_WORDS[found[0]], False) if found else ("", False)


def _fitting(field: str, unit: str, heading: str) -> str:
    """The unit, where it is one of the field's dimension."""
    dimension = FIELDS[field].dimension
    if dimension is Dimension.ANGLE and _INCLUSIVE.search(plain(heading)):
        return "incl"
    if dimension is Dimension.TILT and unit == "dps":
        return "deg"
    return unit if unit and dimension and UNITS[unit].dimension is dimension else ""


def guess_columns(
    headings: Sequence[str], remembered: Mapping[str, Column] | None = None
) -> list[Column]:
    """What each column most likely means; what was said of the same heading before goes first.

    A second column of the same figure, as in another unit, is left out.
    """
    taken: set[str] = set()
    found = []
    for heading in headings:
        known = (remembered or {}).get(plain(heading))
        column = known or guess(heading) or Column()
        if column.field in taken:
            column = Column()
        elif column.field:
            taken.add(column.field)
        found.append(column)
    return found


_MARKS: tuple[tuple[Kind, tuple[set[str], ...]], ...] = (
    (Kind.TRIALS, ({"trial_kind", "x"},)),
    (Kind.PROFILES, ({"tag", "x", "y"},)),
    (Kind.READINGS, ({"tag", "quantity", "value"},)),
    (Kind.CLAIMS, ({"quantity", "printed"}, {"quantity", "value"})),
    (Kind.PIECES, ({"tag"},)),
    (Kind.MODELS, ({"maker"}, {"line"})),
)
"""Columns by which a kind of table is known; the first that fits counts."""


def guess_kind(columns: Sequence[Column], name: str = "") -> Kind | None:
    """What the rows are, by what the table is called and its columns mean; None where nothing."""
    try:
        return Kind(plain(name))
    except ValueError:
        pass
    fields = {column.field for column in columns}
    return next((kind for kind, marks in _MARKS if any(mark <= fields for mark in marks)), None)


def fitted(columns: Sequence[Column], kind: Kind | None) -> list[Column]:
    """The columns as a table of this kind has them: a maker's list claims, a claim is printed."""
    if kind is None:
        return list(columns)
    meanings = MEANINGS[kind]
    found = []
    for column in columns:
        field = column.field
        if field and field not in meanings:
            other = {"value": "printed", "printed": "value"}.get(field, CLAIM + field)
            field = other if other in meanings else ""
        found.append(Column(field, column.unit if field else "", column.sure))
    return found


def missing(columns: Sequence[Column], kind: Kind) -> list[str]:
    """Labels of the columns that a table of this kind cannot do without and does not have."""
    have = {column.field for column in columns}
    return [FIELDS[key].label for key in NEEDED[kind] if key not in have]

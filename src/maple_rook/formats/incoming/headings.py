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
from maple_rook.formats.incoming.fields import (
    CLAIM,
    FIELDS,
    MEANINGS,
    NEEDED,
    SPELLINGS,
    Kind,
    Origin,
)
from maple_rook.formats.incoming.vocabulary import LANGUAGES, words

_CLOSE = 88
_SHORTEST_CLOSE = 5
_NO_WORD = re.compile(r"[^\w%°\"]+|_+")
_BRACKETS = re.compile(r"[\[(]([^\])]*)[\])]")
_PRINTED = re.compile(
    r"\b(?:claimed|claim|advertised|stated|listed|printed|on the box|box|maker s|manufacturers?"
    r"|spec|catalogu?e|nominal)\b"
)
_NOT_A_FIGURE = re.compile(r"^(?:u of|uncertainty|std|spread|min|max)\b")
_INCLUSIVE = re.compile(r"\b(?:incl|inclusive|total angle|included)\b")
_LONGEST = 80
_FIGURES_WITH_U = 2


@dataclass(frozen=True)
class Column:
    """What a column means: no field leaves it out; ``unit`` is what its bare numbers take."""

    field: str = ""
    unit: str = ""
    sure: bool = True


def plain(text: str) -> str:
    """Small letters of any script without accents, words parted by single blanks.

    >>> plain("Klingenlänge_[mm]")
    'klingenlange mm'
    """
    bare = unicodedata.normalize("NFKD", text.casefold().replace("ß", "ss"))
    kept = "".join(c for c in bare if not unicodedata.combining(c))
    parted = re.sub(r"(?<=[0-9])(?=[a-z])", " ", _NO_WORD.sub(" ", kept))
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
    **{plain(word): key for language in LANGUAGES for word, key in words(language)},
    **SPELLINGS,
}


def are_computed(headings: Sequence[str]) -> bool:
    """Whether a table holds figures with their U, as an exported shelf does, and not readings.

    Its means would be imported as readings with too small an uncertainty.

    >>> are_computed(["tag", "weight [g]", "U of weight [g]", "spine [mm]", "U of spine [mm]"])
    True
    >>> are_computed(["tag", "weight [g]", "U of calliper"])
    False
    """
    plainly = {plain(heading) for heading in headings}
    return sum(f"u of {heading}" in plainly for heading in plainly) >= _FIGURES_WITH_U


_OF_A_CATALOGUE = re.compile(
    r"\b(?:price|rrp|msrp|uvp|sku|ean|gtin|upc|barcode|catalogu?e|article|artikel\w*|art nr"
    r"|item no|in stock|availability|discount|vat|tax|preis|prix|precio|prezzo|prijs)\b"
)
_OF_AN_ARTICLE = re.compile(r"\b(?:sku|article|artikel\w*|art nr|item no|ean|gtin|upc|barcode)\b")
_OF_A_BENCH = frozenset(("taken_at", "person", "instrument", "block", "round", "method"))


def guess_origin(headings: Sequence[str]) -> Origin | None:
    """Whether the figures below these headings look measured or printed; None where both or none.

    Prices and article numbers stand in a catalogue; days, people and instruments in a bench's
    list. A brand alone stands in either.

    >>> guess_origin(["SKU", "Brand", "Weight g", "RRP"])
    <Origin.PRINTED: 'printed'>
    >>> guess_origin(["tag", "Weight g", "measured by"])
    <Origin.MEASURED: 'measured'>
    """
    printed = any(_OF_A_CATALOGUE.search(plain(h)) for h in headings)
    fields = {column.field for h in headings if (column := guess(h))}
    measured = bool(fields & _OF_A_BENCH)
    if printed == measured:
        return None
    return Origin.PRINTED if printed else Origin.MEASURED


def names_articles(heading: str) -> bool:
    """Whether a heading numbers what a catalogue sells, and not a piece in the hand.

    >>> names_articles("Art.-Nr."), names_articles("Tag")
    (True, False)
    """
    return _OF_AN_ARTICLE.search(plain(heading)) is not None


def as_claims(columns: Sequence[Column], kind: Kind) -> list[Column]:
    """The columns of printed figures: what would be readings are claims of the model."""
    return [
        Column(CLAIM + c.field, c.unit, c.sure)
        if c.field in QUANTITIES and CLAIM + c.field in MEANINGS[kind]
        else c
        for c in columns
    ]


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
    bare = " ".join(bare.split())
    for text, read in ((name, _exactly), (bare, _exactly), (bare, _closely), (name, _closely)):
        if field := read(text):
            as_claim = printed and text != name and field in QUANTITIES
            claimed = (CLAIM if as_claim else "") + field
            return Column(claimed, _fitting(field, unit, heading), read is _exactly)
    return None


@lru_cache(maxsize=4096)
def is_known(heading: str) -> str:
    """The field that a heading names exactly, without what is close to it; empty where none.

    >>> is_known("Weight (g)"), is_known("Weigth (g)")
    ('weight', '')
    """
    if len(heading) > _LONGEST:
        return ""
    name, _ = _parted(heading)
    bare = " ".join(_PRINTED.sub(" ", name).split())
    return _WORDS.get(name) or _WORDS.get(bare, "")


def are_alike(one: Sequence[str], other: Sequence[str]) -> bool:
    """Whether two rows hold the same headings, as where a list repeats them on each page."""
    ours, theirs = ([cell for cell in row if cell] for row in (one, other))
    if len(ours) < 2 or len(ours) != len(theirs) or ours[0].casefold() != theirs[0].casefold():
        return False
    return [plain(cell) for cell in ours] == [plain(cell) for cell in theirs]


def unit_in_brackets(text: str) -> str:
    """The unit that a text names in brackets, or alone or last: all dimensions in mm.

    >>> unit_in_brackets("Dimensions (in)"), unit_in_brackets("all in mm")
    ('in', 'mm')
    """
    return _parted(text)[1] or unit_of(text.rsplit(maxsplit=1)[-1] if text.split() else "") or ""


def printed_or_measured(text: str) -> str:
    """The word by which headings below a text are claims; empty where they are measured.

    >>> printed_or_measured("As stated by the maker")
    'claimed'
    """
    return "claimed" if _PRINTED.search(plain(text)) else ""


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
        rest = " ".join(words[:-taken])
        if unit and (
            rest in _WORDS or _PRINTED.sub(" ", rest).strip()
        ):  # of “claimed HRC” the unit is the name
            return rest, unit
    return name, ""


def _exactly(name: str) -> str:
    return _WORDS.get(name, "")


def _closely(name: str) -> str:
    if len(name) < _SHORTEST_CLOSE:
        return ""
    found = process.extractOne(
        name, list(_WORDS), scorer=fuzz.token_sort_ratio, score_cutoff=_CLOSE
    )
    return _WORDS[found[0]] if found else ""


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

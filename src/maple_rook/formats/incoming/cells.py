"""Cells of a table from outside, understood: numbers by the file's habit, days, names."""

from __future__ import annotations

import datetime as dt
import re
import unicodedata
import uuid
from collections.abc import Iterable
from enum import StrEnum

from rapidfuzz import fuzz, process

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.parsing import MAX_TYPED_CHARACTERS
from maple_rook.core.measurement.units import UNITS, Dimension
from maple_rook.formats.incoming.headings import plain, unit_of
from maple_rook.formats.incoming.vocabulary import KNIFE_TYPES as NAMED_TYPES
from maple_rook.formats.incoming.vocabulary import words

KEY_NAMESPACE = uuid.UUID("0b5d6f0e-5f0a-4f3c-8a53-0f6b1c1d7d55")
_CLOSE = 84
_FIRST_DAY = dt.datetime(1950, 1, 1, tzinfo=dt.UTC)


class Decimals(StrEnum):
    """How a file writes decimals."""

    POINT = "point"
    COMMA = "comma"


_COMMA = re.compile(r"^\D{0,2}(?:\d{1,3}(?:\.\d{3})+|\d+),(?:\d{1,2}|\d{4,})(?!\d)|^\D{0,2}0,\d")
_POINT = re.compile(r"^\D{0,2}\d+\.\d{1,2}(?!\d)|^\D{0,2}0\.\d")
_THOUSANDS_POINT = re.compile(r"\d{1,3}(?:\.\d{3})+(?=,\d)")
_THOUSANDS_COMMA = re.compile(r"(?<![\d.,])[1-9]\d{0,2}(?:,\d{3})+(?![\d,])")


def decimals_of(cells: Iterable[str]) -> Decimals:
    """The habit that more of the cells show.

    >>> decimals_of(["46,2", "186 g", "0,27 mm"])
    <Decimals.COMMA: 'comma'>
    """
    comma = point = 0
    for cell in cells:
        comma += _COMMA.match(cell) is not None
        point += _POINT.match(cell) is not None
    return Decimals.COMMA if comma > point else Decimals.POINT


def as_point(text: str, decimals: Decimals) -> str:
    """A number's text as the bench understands it, by the habit of its file.

    >>> as_point("1.234,5 g", Decimals.COMMA), as_point("1,234 g", Decimals.POINT)
    ('1234.5 g', '1234 g')
    """
    if "," not in text or len(text) > MAX_TYPED_CHARACTERS:  # so long a text is no figure
        return text
    if decimals is Decimals.COMMA:
        bare = _THOUSANDS_POINT.sub(lambda m: m[0].replace(".", ""), text)
        return re.sub(r"(?<=\d),(?=\d)", ".", bare)
    return _THOUSANDS_COMMA.sub(lambda m: m[0].replace(",", ""), text)


_UNIT_FIRST = re.compile(r"([^\W\d_][^\d~≈<>+-]{0,14}?)\.?\s*([~≈]?\d.*)")


def unit_last(text: str, dimension: Dimension) -> str:
    """A figure with its unit behind it, as the bench understands it.

    >>> unit_last("HRC 61", Dimension.HARDNESS), unit_last("No 61", Dimension.HARDNESS)
    ('61 HRC', 'No 61')
    """
    found = _UNIT_FIRST.fullmatch(text) if len(text) <= MAX_TYPED_CHARACTERS else None
    unit = unit_of(found[1]) if found else None
    if found is None or unit is None or UNITS[unit].dimension is not dimension:
        return text
    return f"{found[2].strip()} {unit}"


_SIDES = re.compile(
    r"(\d+(?:\.\d+)?)\s*(?:°|deg|dps)?\s*[/|:]\s*(\d+(?:\.\d+)?)\s*(?:°|deg\w*|dps)?",
    re.IGNORECASE,
)
_LEAST_ANGLE = 3.0


def _sides(text: str) -> re.Match[str] | None:
    return _SIDES.fullmatch(text.strip()) if len(text) <= MAX_TYPED_CHARACTERS else None


def angles_of_sides(text: str) -> tuple[float, float] | None:
    """The angles of both faces, right first, where a cell gives the two; None where it is one.

    >>> angles_of_sides("15°/15°"), angles_of_sides("22 1/2")
    ((15.0, 15.0), None)
    """
    found = _sides(text)
    if found is None:
        return None
    right, left = float(found[1]), float(found[2])
    return (right, left) if min(right, left) >= _LEAST_ANGLE else None


def is_ratio(text: str) -> bool:
    """Whether a cell divides a hundred, as an asymmetry does.

    >>> is_ratio("70/30"), is_ratio("15/15")
    (True, False)
    """
    found = _sides(text)
    return found is not None and abs(float(found[1]) + float(found[2]) - 100) < 0.01


def clean(text: str, field: str, most: int) -> str:
    """One line of text without control characters, no longer than the record keeps."""
    kept = "".join(" " if unicodedata.category(c) in ("Cc", "Cs") else c for c in text)
    line = " ".join(kept.split())
    if len(line) > most:
        raise InvalidValue(field, line, f"at most {most} characters")
    return line


def unguarded(text: str) -> str:
    """Text without the apostrophe that was put before what a spreadsheet would run."""
    return text[1:] if len(text) > 1 and text[0] == "'" and text[1] in "=+-@\t\r" else text


def when(text: str, field: str = "date") -> dt.datetime:
    """A day or moment: ISO 8601, or day.month.year; a day alone is its noon, in UTC.

    A day such as 03/04/2026 is refused: it could be either.

    >>> when("14.09.2026").isoformat()
    '2026-09-14T12:00:00+00:00'
    """
    found = _moment(text.strip(), field)
    if not _FIRST_DAY <= found <= dt.datetime.now(dt.UTC) + dt.timedelta(days=1):
        raise InvalidValue(field, text, "a day since 1950 that is not still to come")
    return found


def _moment(text: str, field: str) -> dt.datetime:
    parts = re.fullmatch(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4})", text)
    try:
        if parts:
            first, second, year = int(parts[1]), int(parts[3]), int(parts[4])
            if parts[2] == "/" and max(first, second) <= 12 and first != second:
                raise InvalidValue(field, text, "year-month-day: this could be either month")
            day, month = (second, first) if second > 12 else (first, second)
            return dt.datetime(year, month, day, 12, tzinfo=dt.UTC)
        if re.fullmatch(r"\d{4}[-/]\d{1,2}[-/]\d{1,2}", text):
            year, month, day = (int(n) for n in re.split("[-/]", text))
            return dt.datetime(year, month, day, 12, tzinfo=dt.UTC)
        found = dt.datetime.fromisoformat(text)
    except ValueError:
        raise InvalidValue(field, text, "a day such as 2026-09-14") from None
    return found if found.tzinfo else found.replace(tzinfo=dt.UTC)


_YES = {"yes", "y", "true", "1", "x", "ja", "oui", "wahr", "vrai"}
_NO = {"no", "n", "false", "0", "", "-", "nein", "non", "falsch", "faux"}


def yes(text: str, field: str) -> bool:
    said = text.strip().casefold()
    if said not in _YES | _NO:
        raise InvalidValue(field, text, "yes or no")
    return said in _YES


def key_of(text: str, *parts: object) -> uuid.UUID:
    """A key as it was given, or one that the same text or the same parts always give."""
    if text:
        try:
            return uuid.UUID(text)
        except ValueError:
            return uuid.uuid5(KEY_NAMESPACE, f"key/{text}")
    return uuid.uuid5(KEY_NAMESPACE, "/".join(str(part) for part in parts))


_TYPES: dict[str, str] = {
    **{plain(t.key): t.key for t in KNIFE_TYPES.values()},
    **{plain(t.label): t.key for t in KNIFE_TYPES.values()},
    **{plain(word): key for word, key in words(NAMED_TYPES)},
    "chef": "western_chef",
    "chefs knife": "western_chef",
    "chef s knife": "western_chef",
    "cooks knife": "western_chef",
    "cook s knife": "western_chef",
    "chef s": "western_chef",
    "kochmesser": "western_chef",
    "couteau de chef": "western_chef",
    "utility": "petty",
    "utility knife": "petty",
    "paring knife": "paring",
    "parer": "paring",
    "schalmesser": "paring",
    "office": "paring",
    "sujihiki": "slicer",
    "carving knife": "slicer",
    "slicing knife": "slicer",
    "yanagiba": "single_bevel_slicer",
    "yanagi": "single_bevel_slicer",
    "cleaver": "vegetable_cleaver",
    "chopper": "bone_chopper",
    "boning knife": "honesuke",
    "honesuke": "honesuke",
    "deba": "deba",
    "bread knife": "serrated",
    "bread": "serrated",
    "brotmesser": "serrated",
}
_GRINDS: dict[str, Grind] = {
    **{plain(g.value): g for g in Grind},
    **{plain(w): g for g, family in GRINDS.items() for w in (family.label, *family.spellings)},
}


def knife_type_of(text: str) -> tuple[str, str]:
    """The type that a text names, and what was read into it; empty where it names it plainly."""
    return _named(text, "type", _TYPES, ", ".join(t.label for t in KNIFE_TYPES.values()))


def grind_of(text: str) -> tuple[Grind, str]:
    """The grind that a text names, and what was read into it."""
    found, note = _named(
        text,
        "grind",
        {k: g.value for k, g in _GRINDS.items()},
        ", ".join(family.label for family in GRINDS.values()),
    )
    return Grind(found), note


def _named(text: str, field: str, known: dict[str, str], accepted: str) -> tuple[str, str]:
    said = plain(text)
    if said in known:
        return known[said], ""
    close = process.extractOne(said, list(known), scorer=fuzz.token_sort_ratio, score_cutoff=_CLOSE)
    if close is None:
        raise InvalidValue(field, text, accepted)
    return known[close[0]], f"{field}: “{text}” read as {close[0]}"

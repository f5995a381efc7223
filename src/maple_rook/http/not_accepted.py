"""What is wrong with a request, and what would be accepted, in plain words."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

_CALLED = {"nominal": "nominal size", "knife_type": "type", "model_id": "model"}
"""Fields that people call otherwise."""
A_DOCUMENT = "a JSON document"
_ONE_OF = "one of {expected}"
_ACCEPTED: dict[str, str] = {
    "missing": "a value; it is required",
    "extra_forbidden": "no such field",
    "json_invalid": A_DOCUMENT,
    "finite_number": "a finite number",
    "int": "a whole number",
    "float": "a number",
    "decimal": "a number",
    "bool": "true or false",
    "string": "text",
    "date": "a date as 2026-11-30",
    "datetime": "a moment as 2026-11-30T14:05:00Z",
    "timezone": "a moment with its offset from UTC, as 2026-11-30T14:05:00Z",
    "uuid": "a UUID",
    "list": "a list",
    "tuple": "a list",
    "set": "a list",
    "dict": "an object with named fields",
    "model": "an object with named fields",
    "bytes": "a file",
    "enum": _ONE_OF,
    "literal_error": _ONE_OF,
    "union_tag_invalid": "one of {expected_tags}",
    "union_tag_not_found": "an object that says of which kind it is",
    "greater_than": "more than {gt}",
    "greater_than_equal": "{ge} or more",
    "less_than": "less than {lt}",
    "less_than_equal": "{le} or less",
    "multiple_of": "a multiple of {multiple_of}",
    "string_too_short": "{min_length} characters or more",
    "string_too_long": "{max_length} characters or fewer",
    "string_pattern_mismatch": "text of the form {pattern}",
    "too_short": "{min_length} or more of them",
    "too_long": "{max_length} of them or fewer",
    "int_parsing_size": "a smaller whole number",
}
"""By kind of error of Pydantic, or the part of it before the first underscore."""
_NO_FIELD = re.compile(r"body|query|path|str|int|float|([A-Z][a-z]+){2,}|.*\[.*")
"""Parts of a place that name where the request came in, or one of several types it may be."""


def accepted(error: Mapping[str, Any]) -> str:
    """What would be accepted where Pydantic found an error.

    >>> accepted({"type": "less_than_equal", "ctx": {"le": 200.0}, "msg": ""})
    '200 or less'
    >>> accepted({"type": "int_parsing", "msg": ""})
    'a whole number'
    >>> accepted({"type": "enum", "ctx": {"expected": "'mm' or 'in'"}, "msg": ""})
    'one of mm or in'
    """
    kind = str(error["type"])
    words = _ACCEPTED.get(kind) or _ACCEPTED.get(kind.partition("_")[0])
    if words is None:
        return str(error["msg"]).removeprefix("Value error, ")
    limits = {k: f"{v:g}" if isinstance(v, float) else v for k, v in error.get("ctx", {}).items()}
    return words.format(**limits).replace("'", "")


def in_words(error: Mapping[str, Any]) -> dict[str, str]:
    """A field of a request that is not accepted, from what Pydantic says of it.

    >>> too_much = {"type": "less_than_equal", "ctx": {"le": 40.0}, "input": 99, "msg": ""}
    >>> in_words({**too_much, "loc": ("body", "composition", "Cr")})["field"]
    'composition.Cr'
    >>> in_words({**too_much, "loc": ("body", "spine_heel", "MeasuredIn", "u")})["field"]
    'spine_heel.u'
    """
    place = [str(part) for part in error["loc"] if not _NO_FIELD.fullmatch(str(part))]
    field, kind, given = ".".join(place) or "body", error["type"], error.get("input")
    if kind == "missing" or (kind == "string_too_short" and not str(given).strip()):
        name = _CALLED.get(place[-1], place[-1].replace("_", " ")) if place else "the body"
        message = f"{name[:1].upper()}{name[1:]} is missing."
        return field_error(field, "nothing", _ACCEPTED["missing"], message)
    if kind == "value_error":  # one of our own, which says itself what is wrong
        return field_error(field, given, accepted(error), accepted(error))
    would_be = accepted(error)
    message = f"{field}: {short(given)} is not accepted; accepted: {would_be}"
    return field_error(field, given, would_be, message)


def field_error(field: str, value: object, would_be: str, message: str) -> dict[str, str]:
    return {"field": field, "value": short(value), "accepted": would_be, "message": message}


def short(value: object) -> str:
    """A value as it may stand in a message.

    >>> short("x" * 100)[-16:], short(7)
    ('(100 characters)', '7')
    """
    text = repr(value) if not isinstance(value, str) else value
    text = text.encode("utf-8", "replace").decode()
    return text if len(text) <= 60 else f"{text[:40]}... ({len(text)} characters)"

"""What comes in and goes out over HTTP: text that can be stored, strict bodies, answers."""

from __future__ import annotations

import unicodedata
from typing import Annotated

from fastapi import Response
from pydantic import AfterValidator, BaseModel, ConfigDict, StringConstraints


def storable(text: str) -> str:
    if "\x00" in text or any("\ud800" <= c <= "\udfff" for c in text):
        raise ValueError("contains characters that are not text")
    return text


_UNSEEN = frozenset({"Cc", "Cf", "Zl", "Zp"})


def one_line(text: str) -> str:
    """Text whose every character shows: no line breaks, nothing that turns or hides others."""
    text = unicodedata.normalize("NFC", storable(text))
    if any(unicodedata.category(c) in _UNSEEN for c in text):
        raise ValueError("contains characters that do not show, or a line break")
    return text


StorableText = Annotated[str, AfterValidator(storable)]


ShortText = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=80),
    AfterValidator(one_line),
]


TypedText = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=64),
    AfterValidator(storable),
]


def json_answer(model: BaseModel, status: int = 200) -> Response:
    """An answer written straight to JSON, where it is large or somebody waits; routes name its
    model as ``response_model``.
    """
    return Response(model.model_dump_json(), status, media_type="application/json")


def picture_answer(content: bytes, media_type: str) -> Response:
    """A picture of the record; it never changes, so that a browser may keep it."""
    headers = {
        "Cache-Control": "private, max-age=31536000, immutable",
        "X-Content-Type-Options": "nosniff",
    }
    return Response(content, media_type=media_type, headers=headers)


class Choice(BaseModel):
    """A code of a closed list and what people read for it."""

    key: str
    label: str


class Strict(BaseModel):
    """A request body: unknown fields are refused, NaN and infinity too."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


NoteText = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=400), AfterValidator(storable)
]

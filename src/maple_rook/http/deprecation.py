"""Old names that are still understood, and how an answer says that they will go (RFC 9745)."""

from __future__ import annotations

import datetime as dt

from fastapi import Response

SINCE = dt.datetime(2026, 11, 29, tzinfo=dt.UTC)
"""When the names that are understood for one more release were replaced."""


def say_deprecated(response: Response) -> None:
    """The request used a name of before: it was understood, and will not be by a later release."""
    response.headers["Deprecation"] = f"@{int(SINCE.timestamp())}"
    response.headers["Link"] = '</api/openapi.json>; rel="deprecation"; type="application/json"'

"""Old names that are still understood, and how an answer says that they will go (RFC 9745)."""

from __future__ import annotations

import datetime as dt

from fastapi import Request, Response

SINCE = dt.datetime(2026, 11, 29, tzinfo=dt.UTC)
"""When the names that are understood for one more release were replaced."""


def say_deprecated(request: Request, response: Response) -> None:
    """The request used a name of before: it was understood, and will not be by a later release."""
    response.headers["Deprecation"] = f"@{int(SINCE.timestamp())}"
    described = f"{request.app.state.settings.path}/api/openapi.json"
    response.headers["Link"] = f'<{described}>; rel="deprecation"; type="application/json"'

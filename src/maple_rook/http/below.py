"""Serving below a path of somebody's site, as ``https://example.com/knives``.

A proxy may pass the path on or take it off: both arrive here, and inside there is none.
"""

from __future__ import annotations

from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Receive, Scope, Send


class Below:
    """Takes the path off that the public address has."""

    def __init__(self, app: ASGIApp, path: str) -> None:
        self.app, self._path = app, path

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        path = self._path
        if scope["type"] == "http" and path:
            if scope["path"] == path:
                await RedirectResponse(f"{path}/", 308)(scope, receive, send)
                return
            if scope["path"].startswith(f"{path}/"):
                raw: bytes = (scope.get("raw_path") or b"").removeprefix(path.encode())
                scope = {**scope, "path": scope["path"][len(path) :], "raw_path": raw}
        await self.app(scope, receive, send)

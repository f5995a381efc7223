"""Headers that tell a browser what a page of our own may do, and nothing beyond it."""

from __future__ import annotations

import base64
import hashlib
import re
import secrets
from collections.abc import Mapping

from starlette.types import ASGIApp, Message, Receive, Scope, Send

_ALWAYS = {
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(self), microphone=(), geolocation=(), payment=()",
    "x-frame-options": "DENY",
}
_NOTHING = "default-src 'none'; frame-ancestors 'none'"
NOBODY = "'none'"
_A_YEAR = "max-age=31536000"
FRAMED = "/embed/"
PUBLIC = ("/k/", "/k-fonts/", "/p/", "/m/", "/feeds/", FRAMED)
_STYLE = re.compile(r"<style>(.*?)</style>", re.DOTALL)


def page_policy(nonce: str, *, scripts: bool = True) -> str:
    """The content security policy of a page; ``nonce`` is on the style elements it may have.

    Style attributes are allowed: charts write them. Scripts come from files of our own only.
    """
    return "; ".join(
        (
            "default-src 'none'",
            "script-src 'self'" if scripts else "script-src 'none'",
            f"style-src-elem 'self' 'nonce-{nonce}'",
            "style-src-attr 'unsafe-inline'",
            "img-src 'self' data: blob:",
            "font-src 'self'",
            "connect-src 'self'",
            "frame-src 'self'",
            "manifest-src 'self'",
            "form-action 'self'",
            "base-uri 'none'",
            "frame-ancestors 'none'",
        )
    )


def still_policy(page: str, *, framed_by: str = NOBODY) -> str:
    """The policy of a page that runs nothing: its style elements are named by their hashes.

    So the page and its policy stay the same for as long as the page does, and may be kept.
    ``framed_by`` says whose pages may show it in a frame; "*" are everybody's.
    """
    hashes = [
        f"'sha256-{base64.b64encode(hashlib.sha256(style.encode()).digest()).decode()}'"
        for style in _STYLE.findall(page)
    ]
    return "; ".join(
        (
            "default-src 'none'",
            f"style-src-elem {' '.join(hashes)}" if hashes else "style-src-elem 'none'",
            "style-src-attr 'unsafe-inline'",
            "img-src 'self' data:",
            "font-src 'self'",
            "form-action 'none'",
            "base-uri 'none'",
            f"frame-ancestors {framed_by}",
        )
    )


OWN = "'self'"
ANYBODY = "*"


def new_nonce() -> str:
    return secrets.token_urlsafe(16)


class Guarded:
    """Adds what an answer does not say itself."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        more = self._headers(scope)

        async def guarded(message: Message) -> None:
            if message["type"] == "http.response.start":
                said = {name for name, _ in message["headers"]}
                message["headers"] = [
                    *message["headers"],
                    *((n.encode(), v.encode()) for n, v in more.items() if n.encode() not in said),
                ]
            await send(message)

        await self.app(scope, receive, guarded)

    def _headers(self, scope: Scope) -> Mapping[str, str]:
        path: str = scope["path"]
        elsewhere = "cross-origin" if path.startswith(PUBLIC) else "same-origin"
        found = {
            **_ALWAYS,
            "content-security-policy": _NOTHING,
            "cross-origin-resource-policy": elsewhere,
        }
        if path.startswith(FRAMED):
            del found["x-frame-options"]
        if path.startswith("/api/"):
            found["cache-control"] = "private, no-cache"
        if scope["scheme"] == "https":
            found["strict-transport-security"] = _A_YEAR
        return found

"""Under which names the shop answers.

A page of another site can have its own name point to this machine and then ask us as if it were
ours (DNS rebinding). So names count only where they are known; an address as digits cannot lie.
"""

from __future__ import annotations

import ipaddress
import socket
from urllib.parse import urlsplit

from starlette.types import ASGIApp, Receive, Scope, Send

from maple_rook.http.problems import problem
from maple_rook.settings import Settings, named


def known_hosts(settings: Settings) -> frozenset[str]:
    """Names of this shop: localhost, the machine's, the public one, and those that are set."""
    public = urlsplit(settings.public_url or "").hostname
    machine = socket.gethostname().lower()
    known = {"localhost", settings.host.lower(), machine, f"{machine}.local", public or ""}
    return named(settings.hosts) | (known - {""})


def is_known(host: str, known: frozenset[str]) -> bool:
    """Whether a Host header names this shop.

    >>> [is_known(h, frozenset({"localhost"})) for h in ("localhost:8420", "[::1]:80", "10.0.0.2")]
    [True, True, True]
    >>> is_known("rebound.example", frozenset({"localhost"})), is_known("", frozenset())
    (False, False)
    """
    try:
        name = (urlsplit(f"//{host}").hostname or "").lower().rstrip(".")
    except ValueError:
        return False
    if name in known:
        return True
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


class KnownHosts:
    """Refuses requests that were sent to another name."""

    def __init__(self, app: ASGIApp, known: frozenset[str]) -> None:
        self.app, self._known = app, known

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "http":
            host = dict(scope["headers"]).get(b"host", b"").decode("latin-1")
            if not is_known(host, self._known):
                detail = (
                    "This shop does not answer under this name. Its operator can add it to "
                    "MAPLE_ROOK_HOSTS."
                )
                await problem(421, "unknown-host", "Unknown host", detail)(scope, receive, send)
                return
        await self.app(scope, receive, send)

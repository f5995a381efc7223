"""The routes of the API as it describes them, calculated once for all tests of a process."""

from __future__ import annotations

from functools import cache
from typing import Any

from maple_rook.app import create_app
from maple_rook.settings import Settings


@cache
def described_paths() -> dict[str, dict[str, Any]]:
    """What OpenAPI says of each path, by method."""
    paths: dict[str, dict[str, Any]] = create_app(Settings(), None).openapi()["paths"]
    return paths

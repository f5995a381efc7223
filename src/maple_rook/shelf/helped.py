"""Starting a second process that works the shelf out beside the server's own."""

from __future__ import annotations

import contextlib
import os
import subprocess
import sys
from collections.abc import Iterator

from sqlalchemy import Engine

HELPER = "maple_rook.shelf.helper"
WORTH_IT = 2_000
"""So many pieces wait where a second process, which takes seconds to start, is worth it."""


@contextlib.contextmanager
def helped(engine: Engine, behind: int) -> Iterator[None]:
    """Have a helper while much waits, where there is a processor for it."""
    if behind < WORTH_IT or (os.cpu_count() or 1) < 2:
        yield
        return
    address = engine.url.render_as_string(hide_password=False)
    process = subprocess.Popen(
        [sys.executable, "-m", HELPER],
        env={**os.environ, "MAPLE_ROOK_DATABASE_URL": address},
        stdin=subprocess.DEVNULL,
        stdout=subprocess.DEVNULL,
        start_new_session=True,
    )
    try:
        yield
    finally:
        process.terminate()
        process.wait()

"""Files with secrets, or with a whole shop, readable by their owner only."""

from __future__ import annotations

import os
from pathlib import Path


def write_private(path: Path, text: str = "") -> None:
    """Write a file that only its owner can read at any moment; empty where others fill it."""
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    path.unlink(missing_ok=True)
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
        file.write(text)

"""Files and folders that a process needs for a while, and what was left of killed ones."""

from __future__ import annotations

import os
import shutil
import tempfile
from pathlib import Path

_OURS = "maple-rook-files-"


def prefix() -> str:
    """What temporary names of this process begin with."""
    return f"{_OURS}{os.getpid()}-"


def sweep() -> None:
    """Remove what processes left that are gone; what is another user's stays."""
    for path in Path(tempfile.gettempdir()).glob(f"{_OURS}*"):
        pid = path.name.removeprefix(_OURS).partition("-")[0]
        if pid.isdigit() and Path("/proc", pid).exists():
            continue
        if path.is_dir():
            shutil.rmtree(path, ignore_errors=True)
        else:
            try:
                path.unlink(missing_ok=True)
            except OSError:
                continue

"""Notes of running servers, where ``status`` and ``stop`` look."""

from __future__ import annotations

import contextlib
import json
import os
from collections.abc import Iterator
from pathlib import Path

from maple_rook.settings import Settings


@contextlib.contextmanager
def run_file(settings: Settings, port: int, address: str) -> Iterator[None]:
    """Note a running server where ``status`` and ``stop`` look."""
    folder = settings.home / "run"
    folder.mkdir(parents=True, exist_ok=True)
    note = folder / f"{port}.json"
    note.write_text(json.dumps({"pid": os.getpid(), "address": address}))
    try:
        yield
    finally:
        note.unlink(missing_ok=True)


def running_servers(settings: Settings) -> list[tuple[int, str, Path]]:
    """Process id, address and note of each live server; stale notes are removed."""
    found = []
    for note in sorted((settings.home / "run").glob("*.json")):
        with contextlib.suppress(OSError, ValueError, KeyError):
            entry = json.loads(note.read_text())
            if is_ours(entry["pid"]):
                found.append((entry["pid"], entry["address"], note))
            else:
                note.unlink()
    return found


def is_ours(pid: int) -> bool:
    """Whether a process runs this application."""
    try:
        command = Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        return False
    return b"maple_rook" in command

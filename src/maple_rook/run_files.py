"""Notes of running servers, where ``status`` and ``stop`` look; one for each shop of a home."""

from __future__ import annotations

import contextlib
import datetime as dt
import fcntl
import json
import os
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from maple_rook import __version__
from maple_rook.settings import PROGRAM, Settings


class Running(NamedTuple):
    """A server that lives, and the note of it."""

    pid: int
    address: str
    note: Path
    shop: str = ""
    version: str = ""
    user: str = ""
    since: str = ""
    begun: str = ""
    """When its process began, as the kernel counts it: another one may have its number by now."""

    @property
    def alive(self) -> bool:
        """Whether the process still runs that wrote the note."""
        if self.begun:
            return began(self.pid) == self.begun
        try:  # a note of release 0.1.0, which is served from a clone
            return b"maple_rook" in Path(f"/proc/{self.pid}/cmdline").read_bytes()
        except OSError:
            return False


class ServedAlready(RuntimeError):
    """Another process serves this shop; the message says which."""


@contextlib.contextmanager
def run_file(
    settings: Settings, port: int, address: str, *, shop: str = "", user: str = ""
) -> Iterator[None]:
    """Note a running server where ``status`` and ``stop`` look, and what it serves as whom.

    A later server at the same port writes its own note over it, which then stays.
    """
    folder = settings.home / "run"
    folder.mkdir(parents=True, exist_ok=True)
    note = folder / f"{port}.json"
    mine = json.dumps(
        {
            "pid": os.getpid(),
            "address": address,
            "shop": shop,
            "version": __version__,
            "user": user,
            "begun": began(os.getpid()),
            "since": dt.datetime.now(dt.UTC).isoformat(timespec="seconds"),
        }
    )
    note.write_text(mine)
    try:
        yield
    finally:
        with contextlib.suppress(OSError):
            if note.read_text() == mine:
                note.unlink()


@contextlib.contextmanager
def only_server(settings: Settings, shop: str) -> Iterator[None]:
    """Refuse a second server of a shop in a home; the system frees the lock with the process."""
    folder = settings.home / "run"
    folder.mkdir(parents=True, exist_ok=True)
    with (folder / f"{shop}.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            where = ", ".join(f"{r.address} (process {r.pid})" for r in running_servers(settings))
            raise ServedAlready(
                f"This shop is served already{f', at {where}' if where else ''}. "
                f"{PROGRAM} stop ends that server."
            ) from None
        yield


_TOLD = ("shop", "version", "user", "since", "begun")


def running_servers(settings: Settings) -> list[Running]:
    """Each live server; stale notes are removed."""
    found = []
    for note in sorted((settings.home / "run").glob("*.json")):
        with contextlib.suppress(OSError, ValueError, KeyError):
            entry = json.loads(note.read_text())
            told = {key: entry.get(key, "") for key in _TOLD}
            running = Running(entry["pid"], entry["address"], note, **told)
            if running.alive:
                found.append(running)
            else:
                note.unlink()
    return found


def began(pid: int) -> str:
    """When a process began, in the kernel's ticks; empty for one that ended.

    proc(5), ``stat``: field 3 is its state, Z where only its parent has not noticed yet, 22 this.
    """
    try:
        state, *after = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    except OSError:
        return ""
    return "" if state == "Z" else after[18]


def open_connections(port: int) -> int:
    """Connections to a port of this machine that are open, as the kernel lists them."""
    found = 0
    for table in ("/proc/net/tcp", "/proc/net/tcp6"):
        with contextlib.suppress(OSError, ValueError, IndexError):
            for line in Path(table).read_text().splitlines()[1:]:
                local, _, state = line.split()[1:4]
                found += int(local.rsplit(":", 1)[1], 16) == port and state == _ESTABLISHED
    return found


_ESTABLISHED = "01"

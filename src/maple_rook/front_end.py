"""Building the front end with the Node that comes as a Python wheel; skipped when unchanged."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

from maple_rook.settings import INSTALLED, PROJECT_ROOT

WEB = PROJECT_ROOT / "web"
DIST = WEB / "dist"
_SKIPPED = {"node_modules", "dist", "testing"}
_LOCK = PROJECT_ROOT / ".rook.build.lock"


class FrontEndError(RuntimeError):
    """npm failed; the message holds what it said last."""


def npm(*arguments: str) -> str:
    """Run npm in web/ and return what it printed."""
    tools = Path(sys.executable).parent
    path = f"{tools}{os.pathsep}{os.environ.get('PATH', '')}"
    done = subprocess.run(
        [sys.executable, str(tools / "npm"), *arguments],
        cwd=WEB,
        env={**os.environ, "PATH": path, "NO_COLOR": "1"},
        stdin=subprocess.DEVNULL,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        text=True,
        check=False,
    )
    if done.returncode != 0:
        tail = "\n".join(done.stdout.splitlines()[-40:])
        raise FrontEndError(f"npm {' '.join(arguments)} failed:\n{tail}")
    return done.stdout


@contextlib.contextmanager
def _one_at_a_time() -> Iterator[None]:
    """Other installs and builds are waited for."""
    with _LOCK.open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def ensure_packages(say: Callable[[str], None]) -> None:
    """Install the locked packages unless they are the ones installed."""
    with _one_at_a_time():
        _ensure_packages(say)


def _ensure_packages(say: Callable[[str], None]) -> None:
    stamp = WEB / "node_modules" / ".rook-lock"
    wanted = _digest([WEB / "package-lock.json"])
    if stamp.exists() and stamp.read_text() == wanted:
        return
    say("Installing front-end packages")
    npm("ci", "--no-audit", "--no-fund", "--ignore-scripts", "--loglevel", "error")
    stamp.write_text(wanted)


def ensure_built(say: Callable[[str], None]) -> None:
    """Build web/dist unless its inputs are unchanged; an installed package has it built."""
    if INSTALLED:
        return
    with _one_at_a_time():
        stamp = DIST / ".inputs"
        wanted = _digest(_inputs())
        if stamp.exists() and stamp.read_text() == wanted:
            return
        _ensure_packages(say)
        say("Building the front end")
        npm("run", "build", "--silent")
        stamp.write_text(wanted)


def _inputs() -> Iterator[Path]:
    for folder, folders, files in os.walk(WEB):
        folders[:] = sorted(set(folders) - _SKIPPED)
        built = (name for name in sorted(files) if not name.endswith(".test.ts"))
        yield from (Path(folder) / name for name in built)


def _digest(paths: Iterator[Path] | list[Path]) -> str:
    total = hashlib.sha256()
    for path in paths:
        total.update(f"{path.relative_to(WEB)}\0".encode())
        total.update(path.read_bytes())
    return total.hexdigest()

"""The command ``start`` in a separate process, to be killed and started again at its address."""

from __future__ import annotations

import http.client
import os
import signal
import sys
import time
from multiprocessing.process import BaseProcess
from pathlib import Path

from forks import SOURCES, forks
from maple_rook.cluster import free_port

PATIENCE_S = 60


class ServerProcess:
    """A server on a database; its process is forked from one that has the application loaded.

    A kill hits it and everything it started. That a server comes up from nothing is shown where
    the command itself is tried.
    """

    def __init__(
        self, url: str, home: Path, *, workers: int = 1, settings: dict[str, str] | None = None
    ) -> None:
        self.url, self.workers = url, workers
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self.process: BaseProcess | None = None
        self._environment = {
            "MAPLE_ROOK_DATABASE_URL": url,
            "MAPLE_ROOK_HOME": str(home),
            "MAPLE_ROOK_PORT": str(self.port),
            "MAPLE_ROOK_REQUESTS_PER_MINUTE": "1000000",
            "PYTHONPATH": SOURCES,
            **(settings or {}),
        }

    @property
    def pid(self) -> int:
        assert self.process is not None
        assert self.process.pid is not None
        return self.process.pid

    def start(self) -> None:
        """Start it and wait until it is ready."""
        words = ["start", "--no-browser", "--workers", str(self.workers)]
        self.process = forks().Process(target=_serve, args=(self._environment, words))
        self.process.start()
        deadline = time.monotonic() + PATIENCE_S
        while not self._is_ready():
            assert self.process.is_alive(), "the server ended at once"
            assert time.monotonic() < deadline, "the server did not start"
            time.sleep(0.05)

    def _is_ready(self) -> bool:
        line = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        try:
            line.request("GET", "/api/health/ready")
            return line.getresponse().status == 200
        except (OSError, http.client.HTTPException):
            return False
        finally:
            line.close()

    def kill(self) -> None:
        """End it and all it started, as the end of a machine would."""
        if self.process is None:
            return
        if self.process.is_alive():
            os.killpg(self.pid, signal.SIGKILL)
        self.process.join()


def _serve(environment: dict[str, str], words: list[str]) -> None:
    os.setsid()
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    os.dup2(nowhere, 2)
    os.environ.update(environment)
    if words[-1] != "1":  # several processes are started again each, which a fork cannot do
        os.execv(sys.executable, [sys.executable, "-m", "maple_rook.cli", *words])
    from maple_rook import cli

    cli.app(words)

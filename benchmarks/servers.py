"""The real server on a database of a benchmark's own, and Chromium to look at it."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import httpx2 as httpx

from maple_rook.cluster import free_port, temporary_cluster
from maple_rook.settings import PROJECT_ROOT

START_S = 120


@dataclass(frozen=True)
class Served:
    """Where the server listens, its database and its process."""

    address: str
    url: str
    pid: int

    @property
    def port(self) -> int:
        return int(self.address.rsplit(":", 1)[1])


@contextmanager
def server(url: str) -> Iterator[Served]:
    """The demo shop as ``./rook demo`` serves it."""
    port = free_port()
    address = f"http://127.0.0.1:{port}"
    with tempfile.TemporaryDirectory(prefix="rook-bench-") as home:
        environment = {
            **os.environ,
            "MAPLE_ROOK_DATABASE_URL": url,
            "MAPLE_ROOK_PORT": str(port),
            "MAPLE_ROOK_REQUESTS_PER_MINUTE": "10000000",
            "MAPLE_ROOK_HOME": home,
            "MAPLE_ROOK_RUN_AS": "root",  # in this process, whose memory is looked at
        }
        process = subprocess.Popen(
            [sys.executable, "-m", "maple_rook.cli", "demo", "--no-browser"],
            cwd=PROJECT_ROOT,
            env=environment,
            stdout=subprocess.DEVNULL,
        )
        try:
            answers(f"{address}/api/session", process)
            yield Served(address, url, process.pid)
        finally:
            process.terminate()
            process.wait(timeout=30)


def answers(address: str, process: subprocess.Popen[bytes]) -> None:
    """Wait until something answers there, as long as its process lives."""
    deadline = time.monotonic() + START_S
    while True:
        try:
            httpx.get(address).raise_for_status()
            return
        except httpx.HTTPError:
            if process.poll() is not None:
                raise RuntimeError("the server ended at once") from None
            if time.monotonic() > deadline:
                raise RuntimeError(f"{address} does not answer after {START_S} s") from None
            time.sleep(0.1)


@contextmanager
def demo_server(*, durable: bool = False) -> Iterator[Served]:
    """A separate cluster with the demo shop; a durable one writes to disk."""
    with temporary_cluster(durable=durable) as cluster:
        cluster.ensure_database("bench")
        with server(cluster.url("bench")) as served:
            yield served

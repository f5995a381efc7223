"""Two PostgreSQL nodes that Patroni looks after, and three of etcd, with the files of the docs.

Every machine is a loopback address of its own; the ports are free ones, the same on each.
"""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import tempfile
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from itertools import pairwise
from pathlib import Path
from typing import Any

import httpx2 as httpx
import psutil
import psycopg
import yaml
from psycopg import sql
from shop_under_fire import Benches, kill_family, kill_postgresql

from maple_rook.cluster import SERVICE_USER, Cluster, free_port, server_binaries
from maple_rook.settings import PROJECT_ROOT

FILES = PROJECT_ROOT / "docs" / "failover"
PATIENCE_S = 120
FIRST = "127.0.0.11"
ETCD = {"knives-a": FIRST, "knives-b": "127.0.0.12", "knives-c": "127.0.0.13"}
POSTGRESQL = ("knives-a", "knives-b")
PASSWORD = "of-the-shop"
WHOLE = [
    {("leader", "running"), ("sync_standby", "running")},
    {("leader", "running"), ("sync_standby", "streaming")},  # as later releases say it
]
POSTGRESQL_ALONE, WHOLE_MACHINE = "PostgreSQL alone", "the machine: Patroni and PostgreSQL"
SURELY_GONE_S = 0.5
"""What is confirmed so long after a kill was confirmed by another node."""


@dataclass(frozen=True)
class Ports:
    """Where the programs listen here, by where they listen in the files."""

    etcd: int
    etcd_peer: int
    patroni: int
    postgresql: int

    @classmethod
    def free(cls) -> Ports:
        return cls(*(free_port() for _ in range(4)))

    def here(self, text: str) -> str:
        """A file of the docs with the addresses of this machine."""
        text = text.replace("10.0.0.", "127.0.0.")
        for said, port in (
            (":2379", self.etcd),
            (":2380", self.etcd_peer),
            (":8008", self.patroni),
            (":5432", self.postgresql),
        ):
            text = text.replace(said, f":{port}")
        return text


class Program:
    """One program of one machine, which can be killed with all that it started."""

    def __init__(self, name: str, folder: Path, *command: str, **environment: str) -> None:
        self.name, self.host, self.folder = name, ETCD[name], folder
        self._command, self._environment = command, environment
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def said(self) -> str:
        return (self.folder / "said").read_text()[-4000:]

    def start(self) -> None:
        command = self._command
        if os.geteuid() == 0:
            command = ("runuser", "-u", SERVICE_USER, "--", *command)
        with (self.folder / "said").open("a") as said:
            self._process = subprocess.Popen(
                command,
                cwd="/",
                env={**os.environ, "LC_ALL": "C.UTF-8", **self._environment},
                stdin=subprocess.DEVNULL,
                stdout=said,
                stderr=said,
                start_new_session=True,
            )

    def kill(self) -> None:
        if self._process is not None:
            with contextlib.suppress(psutil.NoSuchProcess):
                kill_family(self._process.pid)
            self._process.wait()


class PostgreSQLNode(Program):
    """Patroni of one machine, and the PostgreSQL it looks after."""

    @property
    def data(self) -> Path:
        return self.folder / "data"

    def kill_postgresql(self) -> None:
        """Kill PostgreSQL alone, as if it had crashed; Patroni sees it."""
        with contextlib.suppress(OSError, ValueError, psutil.NoSuchProcess):
            kill_postgresql(self.data)

    def kill_machine(self) -> None:
        """Kill Patroni first and PostgreSQL with it, as if the machine had lost its power."""
        self.kill()
        self.kill_postgresql()


class ManagedCluster:
    """The nodes together: who is the primary, and whether all is well."""

    def __init__(self, root: Path) -> None:
        self.ports = Ports.free()
        self._etcd = [_etcd(name, _folder(root, f"etcd-{name}"), self.ports) for name in ETCD]
        self.nodes = {
            name: _postgresql(name, _folder(root, name), self.ports) for name in POSTGRESQL
        }

    def start(self) -> None:
        for program in (*self._etcd, *self.nodes.values()):
            program.start()
        self.wait_until_whole()
        self._make_database()

    def stop(self) -> None:
        for node in self.nodes.values():
            node.kill_machine()
        for program in self._etcd:
            program.kill()

    def url(self) -> str:
        """The address that a shop is given: both nodes, of which it wants the one that writes."""
        hosts = "&".join(
            f"host={node.host}:{self.ports.postgresql}" for node in self.nodes.values()
        )
        return f"postgresql://shop:{PASSWORD}@/shop?{hosts}&target_session_attrs=read-write"

    def members(self) -> list[dict[str, Any]]:
        """What Patroni says of every node; none where no Patroni answers."""
        for node in self.nodes.values():
            with contextlib.suppress(httpx.HTTPError, ValueError, KeyError):
                address = f"http://{node.host}:{self.ports.patroni}/cluster"
                found: list[dict[str, Any]] = httpx.get(address, timeout=2).json()["members"]
                return found
        return []

    def primary(self) -> PostgreSQLNode | None:
        """The node that writes; None where there is none."""
        names = [m["name"] for m in self.members() if m["role"] == "leader"]
        return self.nodes[names[0]] if names else None

    def wait_for(self, what: Callable[[], bool]) -> None:
        deadline = time.monotonic() + PATIENCE_S
        while not what():
            said = [str(self.members()), *(node.said for node in self.nodes.values())]
            assert time.monotonic() < deadline, "\n".join(said)
            time.sleep(0.1)

    def wait_until_whole(self) -> None:
        """Wait until there is a primary, and a standby that confirms what the primary writes."""
        self.wait_for(lambda: {(m["role"], m["state"]) for m in self.members()} in WHOLE)

    def _make_database(self) -> None:
        primary = self.primary()
        assert primary is not None
        address = f"host={primary.host} port={self.ports.postgresql} user=postgres"
        known = yaml.safe_load((FILES / "patroni.yml").read_text())["postgresql"]
        password = known["authentication"]["superuser"]["password"]
        with psycopg.connect(f"{address} password={password}", autocommit=True) as connection:
            role = sql.SQL("CREATE ROLE shop LOGIN PASSWORD {}").format(sql.Literal(PASSWORD))
            connection.execute(role)
            connection.execute("CREATE DATABASE shop OWNER shop")


def _folder(root: Path, name: str) -> Path:
    folder = root / name
    folder.mkdir(mode=0o750)
    Cluster(root).give(folder)
    return folder


def _etcd(name: str, folder: Path, ports: Ports) -> Program:
    text = ports.here((FILES / "etcd.conf").read_text())
    lines = [line for line in text.splitlines() if line and not line.startswith("#")]
    said = dict(line.split("=", 1) for line in lines)
    for key, value in said.items():
        if key.endswith("_URLS"):
            said[key] = value.replace(FIRST, ETCD[name])
    said |= {"ETCD_NAME": name, "ETCD_DATA_DIR": str(folder / "data")}
    return Program(name, folder, "etcd", **said)


def _postgresql(name: str, folder: Path, ports: Ports) -> PostgreSQLNode:
    said = yaml.safe_load(ports.here((FILES / "patroni.yml").read_text()))
    said["name"] = name
    for part in ("restapi", "postgresql"):
        for key in ("listen", "connect_address"):
            said[part][key] = said[part][key].replace(FIRST, ETCD[name])
    said["postgresql"] |= {"bin_dir": str(server_binaries()), "data_dir": str(folder / "data")}
    said["postgresql"]["parameters"]["unix_socket_directories"] = str(folder)
    said["postgresql"]["pg_hba"] = [
        line.replace("127.0.0.0/24", "127.0.0.0/8") for line in said["postgresql"]["pg_hba"]
    ]
    written = folder / "patroni.yml"
    written.write_text(yaml.safe_dump(said))
    Cluster(folder).give(written)
    return PostgreSQLNode(name, folder, "patroni", str(written))


@contextmanager
def managed_cluster() -> Iterator[ManagedCluster]:
    root = Path(tempfile.mkdtemp(prefix="maple-rook-managed-"))
    root.chmod(0o755)
    cluster = ManagedCluster(root)
    try:
        cluster.start()
        yield cluster
    finally:
        cluster.stop()
        shutil.rmtree(root, ignore_errors=True)


@dataclass(frozen=True)
class Kill:
    """How a primary ended; ``refused_s`` no write was confirmed, and after ``whole_s`` there was a
    standby again.
    """

    what: str
    refused_s: float
    whole_s: float


def kill_primary(cluster: ManagedCluster, benches: Benches, what: str) -> Kill:
    """Kill the primary of a cluster that is whole, and wait until it is whole again.

    ``what`` is :data:`POSTGRESQL_ALONE` or :data:`WHOLE_MACHINE`.
    """
    time.sleep(1)
    node, at = cluster.primary(), time.monotonic()
    assert node is not None
    if what == POSTGRESQL_ALONE:
        node.kill_postgresql()
    else:
        node.kill_machine()
    cluster.wait_for(lambda: cluster.primary() not in (None, node))
    cluster.wait_for(lambda: benches.moments[-1] > at + SURELY_GONE_S)
    if what == WHOLE_MACHINE:
        node.start()
    cluster.wait_until_whole()
    whole = time.monotonic()
    times = [moment for moment in benches.moments if moment >= at - 1]
    return Kill(what, max(b - a for a, b in pairwise(times)), whole - at)

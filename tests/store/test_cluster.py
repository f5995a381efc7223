"""PostgreSQL of our own: started, found again, kept, stopped; nothing half done."""

from __future__ import annotations

import shutil
import socket
import tempfile
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest

from maple_rook.cluster import Cluster, ClusterError, free_port, server_binaries


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder the database's own user can reach, with a space in its name."""
    made = Path(tempfile.mkdtemp(prefix="maple rook "))
    made.chmod(0o755)
    yield made
    shutil.rmtree(made, ignore_errors=True)


@pytest.fixture
def own(folder: Path) -> Iterator[Cluster]:
    cluster = Cluster(folder / "cluster", durable=False)
    yield cluster
    cluster.stop()


def address(cluster: Cluster, database: str) -> str:
    return cluster.url(database).replace("+psycopg", "")


def test_what_is_stored_outlives_the_server(own: Cluster) -> None:
    assert own.start() is True
    own.ensure_database("shop")
    with psycopg.connect(address(own, "shop")) as connection:
        connection.execute("CREATE TABLE knives AS SELECT 210 AS edge_mm")
    port = own.port
    own.stop()
    assert not own.running
    assert own.start() is True
    assert own.port == port, "it takes its port again where that is free"
    own.ensure_database("shop")
    with psycopg.connect(address(own, "shop")) as connection:
        assert connection.execute("SELECT edge_mm FROM knives").fetchone() == (210,)


def test_a_running_cluster_is_used_not_started_twice(own: Cluster) -> None:
    own.start()
    again = Cluster(own.root, durable=False)
    assert again.start() is False
    assert again.port == own.port


def test_it_listens_on_loopback_only_and_asks_for_the_password(own: Cluster) -> None:
    own.start()
    with psycopg.connect(address(own, "postgres")) as connection:
        assert connection.execute("SHOW listen_addresses").fetchone() == ("127.0.0.1",)
        assert connection.execute("SHOW unix_socket_directories").fetchone() == ("",)
    password = (own.root / "password").read_text()
    assert (own.root / "password").stat().st_mode & 0o077 == 0
    with pytest.raises(psycopg.OperationalError, match="password authentication failed"):
        psycopg.connect(address(own, "postgres").replace(password, "guess"))


def test_an_interrupted_initialisation_is_begun_again(own: Cluster) -> None:
    (own.root / "unfinished").mkdir(parents=True)
    (own.root / "unfinished" / "PG_VERSION").write_text("half")
    assert own.start() is True


def test_a_taken_port_is_left_alone(own: Cluster) -> None:
    own.root.mkdir(parents=True)
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        taken = busy.getsockname()[1]
        (own.root / "port").write_text(str(taken))
        own.start()
        assert own.port != taken


def test_dropping_a_database_ends_its_connections(own: Cluster) -> None:
    own.start()
    own.ensure_database("shop")
    open_connection = psycopg.connect(address(own, "shop"))
    own.drop_database("shop")
    with pytest.raises(psycopg.OperationalError):
        open_connection.execute("SELECT 1")
    open_connection.close()


def test_whether_another_server_still_uses_the_cluster(own: Cluster) -> None:
    own.start()
    assert not own.others_connected("maple-rook")
    with psycopg.connect(address(own, "postgres"), application_name="maple-rook"):
        assert own.others_connected("maple-rook")


def test_a_free_port_is_kept_and_a_taken_one_replaced() -> None:
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", 0))
        busy.listen()
        taken = busy.getsockname()[1]
        assert free_port(taken) != taken
    free = free_port()
    assert free_port(free) == free


def test_the_newest_server_of_debian_is_found(monkeypatch: pytest.MonkeyPatch) -> None:
    assert (server_binaries() / "initdb").exists()
    monkeypatch.setattr(Path, "glob", lambda *_: iter(()))
    with pytest.raises(ClusterError, match="apt-get install postgresql"):
        server_binaries()

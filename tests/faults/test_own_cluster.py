"""A shop with its own PostgreSQL: one server, restarted, never stopped while in use."""

from __future__ import annotations

import os
import pwd
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

import httpx2 as httpx
import psutil
import psycopg
import pytest

from maple_rook import front_end
from maple_rook.cluster import Cluster, free_port, temporary_cluster
from maple_rook.run_files import run_file
from maple_rook.server import OWNER_LETTER
from maple_rook.service_user import run_as
from maple_rook.settings import PROJECT_ROOT, Settings
from shops import new_shop

PATIENCE_S = 60


class Home:
    """A home with its cluster, in a folder the database's own user can reach."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.cluster = Cluster(folder / "postgresql")
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        self._environment = {
            **{k: v for k, v in os.environ.items() if k != "MAPLE_ROOK_DATABASE_URL"},
            "MAPLE_ROOK_HOME": str(folder),
            "MAPLE_ROOK_PORT": str(self.port),
            "PYTHONPATH": str(PROJECT_ROOT / "src"),
        }
        self.started: list[subprocess.Popen[str]] = []

    def begin(self, *words: str) -> subprocess.Popen[str]:
        process = subprocess.Popen(
            [sys.executable, "-m", "maple_rook.cli", *words],
            env=self._environment,
            text=True,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
        )
        self.started.append(process)
        return process

    def command(self, *words: str) -> tuple[int, str]:
        process = self.begin(*words)
        said, _ = process.communicate(timeout=PATIENCE_S)
        return process.returncode, said

    def ready(self) -> bool:
        try:
            return httpx.get(f"{self.address}/api/health/ready", timeout=5).status_code == 200
        except httpx.HTTPError:
            return False

    def until_ready(self) -> None:
        deadline = time.monotonic() + PATIENCE_S
        while not self.ready():
            assert time.monotonic() < deadline
            time.sleep(0.1)


@pytest.fixture
def home() -> Iterator[Home]:
    front_end.ensure_built(lambda _: None)
    folder = Path(tempfile.mkdtemp(prefix="maple-rook-home-"))
    folder.chmod(0o755)
    made = Home(folder)
    yield made
    for process in made.started:
        process.kill()
        process.communicate()
    made.cluster.stop("immediate")
    shutil.rmtree(folder, ignore_errors=True)


def test_one_server_looks_after_its_postgresql_and_stop_takes_it_from_nobody(home: Home) -> None:
    serving = home.begin("start", "--no-browser")
    home.until_ready()

    status, said = home.command("start", "--no-browser")
    assert status == 1
    assert f"served already, at {home.address} (process {serving.pid})" in said
    assert home.ready()

    postmaster = int((home.cluster.data / "postmaster.pid").read_text().splitlines()[0])
    family = [psutil.Process(postmaster), *psutil.Process(postmaster).children()]
    for process in family:
        process.kill()
    psutil.wait_procs(family, timeout=PATIENCE_S)
    home.until_ready()

    address = home.cluster.url("maple_rook").replace("+psycopg", "")
    with psycopg.connect(address, application_name="a spreadsheet") as other:
        status, said = home.command("stop")
        assert (status, serving.wait(PATIENCE_S)) == (1, 0)
        assert "goes on, since it is used: a spreadsheet at maple_rook (1 connections)" in said
        assert other.execute("SELECT 1").fetchone() == (1,)
    status, said = home.command("stop")
    assert (status, home.cluster.running) == (0, False), said


def test_what_lets_the_owner_in_stands_in_no_log(home: Home) -> None:
    serving = home.begin("start", "--no-browser")
    home.until_ready()
    letter = home.folder / OWNER_LETTER
    assert re.fullmatch(rf"{home.address}/join#[\w-]{{43}}\n", letter.read_text())
    assert letter.stat().st_mode & 0o077 == 0
    serving.send_signal(signal.SIGTERM)
    said, _ = serving.communicate(timeout=PATIENCE_S)
    assert str(letter) in said
    assert "join#" not in said


@pytest.mark.parametrize(
    "statement",
    [
        "ALTER TABLE readings DISABLE TRIGGER USER",
        "TRUNCATE readings CASCADE",
        "DROP TABLE wishes",
        "CREATE TABLE mine (a int)",
        "CREATE ROLE more SUPERUSER LOGIN",
        "SELECT rolpassword FROM pg_authid",
        "COPY readings TO PROGRAM 'cat'",
        "UPDATE readings SET value = 1",
    ],
)
def test_the_server_may_write_rows_and_nothing_that_undoes_the_record(
    serving_role: str, statement: str
) -> None:
    with psycopg.connect(serving_role) as connection, pytest.raises(psycopg.Error) as refused:
        connection.execute(statement)  # type: ignore[arg-type]
    allowed = isinstance(refused.value, psycopg.errors.InsufficientPrivilege)
    assert allowed or "append-only" in str(refused.value)


@pytest.fixture(scope="module")
def serving_role() -> Iterator[str]:
    with temporary_cluster() as cluster:
        name = new_shop(cluster, demo=True)
        yield cluster.serving_url(name).replace("+psycopg", "")


def test_a_server_removes_no_note_but_its_own(tmp_path: Path) -> None:
    settings = Settings(home=tmp_path)
    with run_file(settings, 8420, "http://127.0.0.1:8420"):
        note = tmp_path / "run" / "8420.json"
        later = note.read_text().replace(str(os.getpid()), str(os.getppid()))
        note.write_text(later)  # a later server at the same port
    assert note.read_text() == later


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can become somebody else")
def test_what_root_starts_runs_as_its_own_user(home: Home) -> None:
    nobody = pwd.getpwnam("nobody")
    said = home.folder / "said"
    said.touch()
    said.chmod(0o666)

    def work() -> None:
        with pytest.raises(PermissionError):
            os.setuid(0)
        said.write_text(f"{os.getuid()} {os.geteuid()} {os.getgroups()}")

    before = [(number, signal.getsignal(number)) for number in (signal.SIGTERM, signal.SIGINT)]
    try:
        assert run_as(nobody, work, lambda: None) == 0
    finally:
        for number, handler in before:
            signal.signal(number, handler)
    assert said.read_text() == f"{nobody.pw_uid} {nobody.pw_uid} []"

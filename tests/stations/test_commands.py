"""The command line as a person runs it: start, status, a taken port, stop, a clean end."""

from __future__ import annotations

import re
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx2 as httpx
import pytest

from maple_rook import front_end
from maple_rook.cluster import Cluster, free_port
from maple_rook.settings import PROJECT_ROOT
from maple_rook.store.database import connect
from signed_in import as_owner, key_of

READY = re.compile(r"ready at (http://127\.0\.0\.1:(\d+))")


def command(environment: dict[str, str], *words: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "maple_rook.cli", *words], env=environment, text=True,
        stdout=subprocess.PIPE, stderr=subprocess.STDOUT, check=False, timeout=60,
    )  # fmt: skip


@contextmanager
def serving(
    environment: dict[str, str], which: str
) -> Iterator[tuple[str, subprocess.Popen[str], list[str]]]:
    """A server as ``./rook demo`` or ``./rook start`` runs it, once it says it is ready."""
    front_end.ensure_built(lambda _: None)
    process = subprocess.Popen(
        [sys.executable, "-m", "maple_rook.cli", which, "--no-browser"], env=environment,
        text=True, stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
    )  # fmt: skip
    said: list[str] = []
    assert process.stdout is not None
    try:
        for line in process.stdout:
            said.append(line)
            if found := READY.search(line):
                yield found[1], process, said
                break
        else:
            pytest.fail(f"never ready: {''.join(said)}")
    finally:
        process.kill()
        process.wait()
        process.stdout.close()


def test_the_demo_serves_pages_and_api_and_ends_cleanly_on_interrupt(
    environment: dict[str, str],
) -> None:
    with serving(environment, "demo") as (address, process, said):
        assert any("Loading the demo shop" in line for line in said)
        page = httpx.get(f"{address}/board")
        assert page.status_code == 200
        assert '<div id="app">' in page.text
        shop = as_owner(address, environment["MAPLE_ROOK_DATABASE_URL"])
        assert shop.get("/api/rack").json()["total"] >= 12
        assert address in command(environment, "status").stdout
        process.send_signal(signal.SIGINT)
        assert process.wait(timeout=15) == 0
        assert process.stdout is not None
        assert "Traceback" not in process.stdout.read()
    assert "No server runs" in command(environment, "status").stdout


def test_a_taken_port_gives_the_next_free_one_and_says_so(environment: dict[str, str]) -> None:
    with socket.socket() as busy:
        busy.bind(("127.0.0.1", int(environment["MAPLE_ROOK_PORT"])))
        busy.listen()
        with serving(environment, "demo") as (address, _, said):
            assert address != f"http://127.0.0.1:{environment['MAPLE_ROOK_PORT']}"
            assert any("is taken; using" in line for line in said)


def test_start_serves_an_empty_shop_and_stop_ends_it(environment: dict[str, str]) -> None:
    with serving(environment, "start") as (address, process, _):
        shop = as_owner(address, environment["MAPLE_ROOK_DATABASE_URL"])
        assert shop.get("/api/rack").json()["total"] == 0
        assert shop.get("/api/catalogue").json()["demo"] is False
        assert "Stopped the server" in command(environment, "stop").stdout
        assert process.wait(timeout=15) == 0


def test_demo_commands_refuse_a_shop_with_knives_of_its_own(environment: dict[str, str]) -> None:
    model = {"maker": "Test Smithy", "line": "One", "knife_type": "gyuto", "nominal": "210"}
    with serving(environment, "start") as (address, _, _):
        shop = as_owner(address, environment["MAPLE_ROOK_DATABASE_URL"])
        made = shop.post("/api/bench/pieces", json={"tag": "MINE", "model": model})
        assert made.status_code == 201
    for refused in (command(environment, "demo"), command(environment, "reset-demo")):
        assert refused.returncode == 1
        assert "nothing was changed" in refused.stdout


def test_a_database_that_does_not_answer_is_said_plainly(environment: dict[str, str]) -> None:
    nowhere = f"postgresql://nobody:x@127.0.0.1:{free_port()}/none"
    done = command({**environment, "MAPLE_ROOK_DATABASE_URL": nowhere}, "demo", "--no-browser")
    assert done.returncode == 1
    assert "does not answer" in done.stdout
    assert "Traceback" not in done.stdout


def test_the_front_end_is_built_once_for_the_same_inputs() -> None:
    said: list[str] = []
    front_end.ensure_built(said.append)
    assert said == []


def test_the_example_for_other_programs_runs_against_a_served_shop(
    environment: dict[str, str],
) -> None:
    example = PROJECT_ROOT / "docs" / "examples" / "use_the_api.py"
    with serving(environment, "demo") as (address, _, _):
        engine = connect(environment["MAPLE_ROOK_DATABASE_URL"])
        done = subprocess.run(
            [sys.executable, str(example), address], text=True, check=True, timeout=60,
            capture_output=True, env={**environment, "MAPLE_ROOK_KEY": key_of(engine)},
        )  # fmt: skip
    *shelf, first, again, weight = done.stdout.splitlines()
    assert first == "added {'pieces': 1} {'sheets': 1, 'readings': 1}"
    assert again == "added nothing nothing"
    assert weight == "187.1 g = 6.6 oz"
    behind = [float(line.split("  ")[2].split(" ±")[0]) for line in shelf]
    assert behind == sorted(behind)
    assert len(behind) > 3


def test_a_shop_is_archived_and_restored_by_command(
    environment: dict[str, str], tmp_path: Path, cluster: Cluster
) -> None:
    packed = str(tmp_path / "shop.zip")
    written = command(environment, "archive", packed, "--demo")
    assert "34 pieces" in written.stdout
    assert "exists already" in command(environment, "archive", packed, "--demo").stdout
    refused = command(environment, "restore", packed)
    assert "holds the demo" in refused.stdout
    assert refused.returncode == 1
    name = f"restored_{time.time_ns()}"
    cluster.ensure_database(name)
    there = {**environment, "MAPLE_ROOK_DATABASE_URL": cluster.url(name)}
    assert "Restored 34 pieces" in command(there, "restore", packed).stdout

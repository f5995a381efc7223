"""The command line where it serves nothing: what it refuses, packs and restores."""

from __future__ import annotations

import re
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from click.testing import Result
from sqlalchemy import Engine
from typer.testing import CliRunner

from maple_rook import front_end
from maple_rook.app import create_app
from maple_rook.cli import app
from maple_rook.cluster import Cluster, free_port
from maple_rook.server import next_port
from maple_rook.settings import PROJECT_ROOT, Settings
from maple_rook.store import people
from maple_rook.store.database import connect, sessions
from maple_rook.store.tables import KnifeModel, Maker, Piece
from served import served
from shops import new_shop, shop_engine
from signed_in import key_of

Command = Callable[..., Result]


@pytest.fixture
def command(tmp_path: Path) -> Iterator[Command]:
    """A command as it is typed, with the address of a database and a home of its own."""
    before = signal.getsignal(signal.SIGTERM)

    def run(url: str, *words: str) -> Result:
        environment = {"MAPLE_ROOK_DATABASE_URL": url, "MAPLE_ROOK_HOME": str(tmp_path)}
        return CliRunner().invoke(app, words, env=environment)

    yield run
    signal.signal(signal.SIGTERM, before)


def test_demo_commands_refuse_a_shop_with_knives_of_its_own(
    cluster: Cluster, command: Command
) -> None:
    front_end.ensure_built(lambda _: None)
    url = cluster.url(new_shop(cluster))
    engine = connect(url)
    with sessions(engine)() as db:
        model = KnifeModel(
            maker=Maker(name="Test Smithy"),
            line="One",
            knife_type="gyuto",
            nominal_mm=210,
            grind="full_flat",
        )
        db.add(Piece(model=model, tag="MINE"))
        db.commit()
    engine.dispose()
    for refused in (command(url, "demo", "--no-browser"), command(url, "reset-demo")):
        assert refused.exit_code == 1
        assert "nothing was changed" in refused.output


def test_a_database_that_does_not_answer_is_said_plainly(command: Command) -> None:
    front_end.ensure_built(lambda _: None)
    nowhere = f"postgresql://nobody:x@127.0.0.1:{free_port()}/none"
    done = command(nowhere, "demo", "--no-browser")
    assert done.exit_code == 1
    assert "does not answer" in done.output
    assert "Traceback" not in done.output


def test_the_front_end_is_built_once_for_the_same_inputs() -> None:
    front_end.ensure_built(lambda _: None)
    said: list[str] = []
    front_end.ensure_built(said.append)
    assert said == []


def test_the_next_port_is_the_wanted_one_where_it_is_free() -> None:
    port = free_port()
    assert next_port(port, "127.0.0.1") == port


@pytest.fixture
def shop(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster, demo=True) as engine:
        yield engine


def test_the_example_for_other_programs_runs_against_a_served_shop(
    shop: Engine, tmp_path: Path
) -> None:
    example = PROJECT_ROOT / "docs" / "examples" / "use_the_api.py"
    with served(create_app(Settings(web_root=tmp_path), shop)) as address:
        done = subprocess.run(
            [sys.executable, str(example), address],
            text=True,
            check=True,
            timeout=60,
            capture_output=True,
            env={"MAPLE_ROOK_KEY": key_of(shop)},
        )
    *shelf, first, again, weight = done.stdout.splitlines()
    assert first == "added {'pieces': 1} {'sheets': 1, 'readings': 1}"
    assert again == "added nothing nothing"
    assert weight == "187.1 g = 6.6 oz"
    behind = [float(line.split("  ")[2].split(" ±")[0]) for line in shelf]
    assert behind == sorted(behind)
    assert len(behind) > 3


def test_a_shop_is_archived_and_restored_by_command(
    cluster: Cluster, command: Command, tmp_path: Path
) -> None:
    packed = str(tmp_path / "shop.zip")
    demo = cluster.url(new_shop(cluster, demo=True))
    assert "34 pieces" in command(demo, "archive", packed, "--demo").output
    assert "exists already" in command(demo, "archive", packed, "--demo").output
    refused = command(demo, "restore", packed)
    assert "This shop has pieces; with --replace it is put aside first." in refused.output
    assert refused.exit_code == 1
    empty = cluster.url(new_shop(cluster))
    assert "Restored 34 pieces" in command(empty, "restore", packed).output


def test_an_archive_takes_no_shop_from_its_owner(
    cluster: Cluster, command: Command, tmp_path: Path
) -> None:
    packed = str(tmp_path / "shop.zip")
    command(cluster.url(new_shop(cluster, demo=True)), "archive", packed, "--demo")
    url = cluster.url(new_shop(cluster))
    engine = connect(url)
    with sessions(engine)() as db:
        people.keep_hash(db, people.first_owner(db).id, people.hashed("grey stones in a row"))
        db.commit()
        assert "A server still uses the database" in command(url, "restore", packed).output
    engine.dispose()
    assert "has an owner; with --replace" in command(url, "restore", packed).output
    replaced = command(url, "restore", packed, "--replace").output
    aside = re.findall(r"kept as the database (\w+)", replaced)
    assert "no owner yet. The address at which to become it is in" in replaced
    then = connect(cluster.url(aside[0]))
    with sessions(then)() as db:
        assert people.has_owner(db)
    then.dispose()

"""The command line where it serves nothing: what it refuses, packs and restores."""

from __future__ import annotations

import re
import shutil
import signal
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from click.testing import Result
from sqlalchemy import Engine, text, update
from typer.testing import CliRunner

from maple_rook import front_end
from maple_rook.app import create_app
from maple_rook.cli import app
from maple_rook.cluster import Cluster, free_port
from maple_rook.server import next_port
from maple_rook.settings import PROJECT_ROOT, Settings
from maple_rook.store import people
from maple_rook.store.database import connect, sessions
from maple_rook.store.tables import KnifeModel, Maker, Piece, Shop
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
    own_shop(url, "Mine")
    for refused in (command(url, "demo", "--no-browser"), command(url, "reset-demo")):
        assert refused.exit_code == 1
        assert "nothing was changed" in refused.output


def own_shop(url: str, name: str) -> None:
    """A database that holds a shop of that name with a knife."""
    engine = connect(url)
    with sessions(engine)() as db:
        db.execute(update(Shop).values(name=name))
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


def test_what_is_no_setting_or_cannot_be_one_is_refused(
    command: Command, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("MAPLE_ROOK_PROT", "9000")
    told = command("postgresql://x", "status")
    assert told.exit_code == 2
    assert (
        "MAPLE_ROOK_PROT is no setting of Maple Rook; did you mean MAPLE_ROOK_PORT?" in told.output
    )
    monkeypatch.delenv("MAPLE_ROOK_PROT")
    monkeypatch.setenv("MAPLE_ROOK_PORT", "first")
    assert "MAPLE_ROOK_PORT cannot be 'first'" in command("postgresql://x", "status").output
    monkeypatch.delenv("MAPLE_ROOK_PORT")
    monkeypatch.setenv("MAPLE_ROOK_PUBLIC_URL", "knives.example/shop?a=1")
    assert "it is an address as https://" in command("postgresql://x", "status").output


def test_a_record_of_a_later_release_is_left_alone(cluster: Cluster, command: Command) -> None:
    url = cluster.url(new_shop(cluster))
    engine = connect(url)
    with engine.begin() as db:
        db.execute(text("UPDATE alembic_version SET version_num = '9001'"))
    refused = command(url, "start", "--no-browser")
    assert refused.exit_code == 1
    assert "written by a later release: it is of revision 9001" in refused.output
    with engine.connect() as db:
        assert db.scalar(text("SELECT version_num FROM alembic_version")) == "9001"
    engine.dispose()
    assert "✗ Record of" in command(url, "doctor").output


def test_a_backup_is_restored_where_it_belongs_and_nowhere_else(
    cluster: Cluster, command: Command, tmp_path: Path
) -> None:
    mine, other, demo = (cluster.url(new_shop(cluster, demo=n == 2)) for n in range(3))
    own_shop(mine, "Harbour Edge")
    own_shop(other, "Quarry Street")
    command(mine, "backup", str(tmp_path / "mine"))
    command(demo, "backup", str(tmp_path / "demo"), "--demo")
    [of_mine], [of_demo] = ((tmp_path / n).glob("*.dump") for n in ("mine", "demo"))
    tried = command(mine, "restore", str(of_mine), "--replace", "--dry-run")
    assert "is a backup of a shop, Harbour Edge, 1 pieces" in tried.output
    assert "Nothing was changed" in tried.output
    wrong = command(other, "restore", str(of_mine), "--replace")
    assert (wrong.exit_code, "--another-shop" in wrong.output) == (1, True)
    refused = command(mine, "restore", str(of_demo), "--replace")
    assert "is a backup of the demo shop" in refused.output
    assert "passwords that anybody knows" in refused.output
    assert "Nothing was changed" in refused.output
    of_mine.with_name(f"{of_mine.name}.sha256").unlink()
    assert "--unchecked" in command(mine, "restore", str(of_mine), "--replace").output
    done = command(
        other, "restore", str(of_mine), "--replace", "--another-shop", "--unchecked"
    ).output
    assert "Restored 1 pieces of Harbour Edge" in done
    assert "There is no file" in command(mine, "restore", str(tmp_path / "none.dump")).output


def test_doctor_finds_what_is_not_well(cluster: Cluster, command: Command, tmp_path: Path) -> None:
    url = cluster.url(new_shop(cluster))
    alone = command(url, "doctor")
    assert (alone.exit_code, "./rook backup makes one" in alone.output) == (1, True)
    command(url, "backup")
    well = command(url, "doctor")
    assert (well.exit_code, "✗" in well.output) == (0, False), well.output
    for looked_at in ("Release", "Disk", "Permissions", "PostgreSQL", "Clock", "Record", "Backups"):
        assert f"✓ {looked_at}" in well.output
    [file] = (tmp_path / "backups").glob("*.dump")
    file.write_bytes(file.read_bytes() + b"x")
    file.chmod(0o644)
    ill = command(url, "doctor").output
    assert "not as it was written" in ill
    assert f"others may read {file}" in ill


def test_help_names_every_command_and_installs_nothing(tmp_path: Path) -> None:
    shutil.copy(PROJECT_ROOT / "rook", tmp_path / "rook")
    told = subprocess.run([tmp_path / "rook", "help"], capture_output=True, text=True, check=True)
    named = set(re.findall(r"^  ./rook ([a-z-]+)", told.stdout, re.MULTILINE))
    assert named == {c.name or c.callback.__name__ for c in app.registered_commands}
    assert [path.name for path in tmp_path.iterdir()] == ["rook"]


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

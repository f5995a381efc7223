"""Backups with PostgreSQL's own tools: written, read back whole, kept for a while, restored.

A backup counts only once it was restored beside the shop and holds the same rows.
"""

from __future__ import annotations

import datetime as dt
import hashlib
import os
import shutil
import subprocess
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import NamedTuple

import psycopg
from psycopg import sql
from psycopg.conninfo import make_conninfo
from sqlalchemy.engine import URL, make_url

from maple_rook.cluster import ClusterError, server_binaries
from maple_rook.private_files import write_private
from maple_rook.settings import PROGRAM
from maple_rook.store.archive import Described
from maple_rook.store.database import connection_arguments, driver_address

KEPT = 14
SUFFIX = ".dump"
_MAGIC = b"PGDMP"


class BackupError(RuntimeError):
    """No backup was written, or none was restored; the message says what is as it was."""


class Written(NamedTuple):
    """A backup that was verified, how many rows it holds, and the older ones removed for it."""

    file: Path
    rows: int
    removed: list[Path]


def kept(folder: Path) -> list[Path]:
    """The backups of a folder, of every shop."""
    return sorted(folder.glob(f"*{SUFFIX}"))


def newest(folder: Path) -> Path | None:
    """The newest backup of a folder; None where there is none."""
    return max(kept(folder), default=None, key=written_at)


def written_at(file: Path) -> dt.datetime:
    """When a backup was written."""
    return dt.datetime.fromtimestamp(file.stat().st_mtime, dt.UTC)


def is_backup(file: Path) -> bool:
    """Whether a file is one of our own, and not an archive."""
    with file.open("rb") as opened:
        return opened.read(len(_MAGIC)) == _MAGIC


def write(url: str, folder: Path, *, keep: int = KEPT) -> Written:
    """Back a database up into a folder, verify it, and keep the newest ``keep`` of the folder."""
    address = make_url(url)
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    now = dt.datetime.now(dt.UTC).strftime("%Y-%m-%dT%H%M%SZ")
    file = folder / f"{address.database}-{now}{SUFFIX}"
    unfinished = file.with_suffix(".part")
    write_private(unfinished)  # nobody else may read it while it is written either
    try:
        with _as_of_now(address) as (snapshot, there):
            _run(
                "pg_dump",
                address,
                "--format=custom",
                "--no-owner",
                "--no-privileges",
                f"--snapshot={snapshot}",
                f"--file={unfinished}",
            )
        _verify(address, unfinished, there)
        digest = _sha256(unfinished)
        _to_disk(unfinished)
        unfinished.rename(file)
        write_private(_digest_file(file), f"{digest}  {file.name}\n")
    finally:
        unfinished.unlink(missing_ok=True)
    return Written(file, sum(there.values()), _retain(folder, f"{address.database}-", keep))


def described(file: Path) -> Described:
    """What a backup holds, read from the file alone."""
    tables = ("shop", "alembic_version", "pieces")
    wanted = [f"--table={name}" for name in tables]
    text = _run("pg_restore", None, "--data-only", "--file=-", *wanted, str(file))
    rows = {name: list(_copied(text, name)) for name in tables}
    if len(rows["shop"]) != 1 or len(rows["alembic_version"]) != 1:
        raise BackupError(f"{file.name} is no backup of a shop; nothing was changed.")
    [shop], [revision] = rows["shop"], rows["alembic_version"]
    return Described(
        shop["name"], shop["demo"] == "t", revision["version_num"], len(rows["pieces"])
    )


def _copied(text: str, table: str) -> Iterator[dict[str, str]]:
    """Rows of a table as ``COPY`` writes them, which is as pg_restore prints them."""
    columns: list[str] | None = None
    for line in text.splitlines():
        if columns is None:
            if line.startswith(f"COPY public.{table} ("):
                columns = line[line.index("(") + 1 : line.index(")")].split(", ")
        elif line == "\\.":
            return
        else:
            yield dict(zip(columns, line.split("\t"), strict=True))


def tried(url: str, file: Path, migrate: Callable[[str], None]) -> None:
    """Restore a backup beside a database and bring it up to date, then drop what was restored."""
    with _scratch(make_url(url), "tried") as beside:
        _fill(beside, file)
        migrate(beside.render_as_string(hide_password=False))


@contextmanager
def _scratch(address: URL, what_for: str) -> Iterator[URL]:
    """An empty database beside another, gone afterwards."""
    name = f"{address.database}_{what_for}"
    with _maintenance(address) as connection:
        _drop(connection, name)
        _create(connection, name)
    try:
        yield address.set(database=name)
    finally:
        with _maintenance(address) as connection:
            _drop(connection, name)


def restore(url: str, file: Path, *, replace: bool, migrate: Callable[[str], None]) -> str | None:
    """Make a database that of a backup; what was there is kept under another name.

    The backup is restored beside it and brought up to date first, so that a failure changes
    nothing. ``replace`` says that a shop which is not empty may be put aside.
    """

    def fill(beside: URL) -> None:
        _fill(beside, file)
        migrate(beside.render_as_string(hide_password=False))

    check_free(url, replace=replace)
    aside = put_in_place(url, fill)
    return aside if replace else None


def check_free(url: str, *, replace: bool) -> None:
    """Refuse while somebody uses a database, or where it holds a shop that may not be put aside."""
    address = make_url(url)
    if _connected(address):
        raise BackupError(f"A server still uses the database: {PROGRAM} stop, then again.")
    there = {} if replace else _rows(address)
    what = "pieces" if there.get("pieces") else "an owner" if there.get("passwords") else ""
    if what:
        raise BackupError(f"This shop has {what}; with --replace it is put aside first.")


def put_in_place(url: str, fill: Callable[[URL], None]) -> str:
    """Fill a database beside this one and put it in its place; the name the old one has now."""
    address = make_url(url)
    name = str(address.database)
    fresh, aside = f"{name}_restoring", f"{name}_until_{dt.datetime.now(dt.UTC):%Y%m%d_%H%M%S}"
    with _maintenance(address) as connection:
        _drop(connection, fresh)
        _create(connection, fresh)
        beside = address.set(database=fresh)
        try:
            fill(beside)
        except BaseException:
            _drop(connection, fresh)
            raise
        rename = "ALTER DATABASE {} RENAME TO {}"
        connection.execute(sql.SQL(rename).format(sql.Identifier(name), sql.Identifier(aside)))
        connection.execute(sql.SQL(rename).format(sql.Identifier(fresh), sql.Identifier(name)))
    return aside


def _fill(address: URL, file: Path) -> None:
    """Restore a backup into an empty database."""
    _run(
        "pg_restore",
        address,
        "--no-owner",
        "--no-privileges",
        "--exit-on-error",
        str(file),
    )


# Verifying


def _verify(address: URL, file: Path, there: dict[str, int]) -> None:
    """Restore into a database of its own and count; where none may be made, read it to its end."""
    with ExitStack() as stack:
        try:
            beside = stack.enter_context(_scratch(address, "verified"))
        except psycopg.Error:
            _run("pg_restore", None, "--file=/dev/null", str(file))
            return
        _fill(beside, file)
        found = _rows(beside)
    if found != there:
        raise BackupError("Read back, the backup holds other rows than the shop; it was not kept.")


@contextmanager
def _as_of_now(address: URL) -> Iterator[tuple[str, dict[str, int]]]:
    """A moment that other connections can see too, and the rows by table at that moment."""
    with psycopg.connect(driver_address(address)) as connection:
        connection.execute("SET TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY")
        row = connection.execute("SELECT pg_export_snapshot()").fetchone()
        yield str(row and row[0]), _counted(connection)


def _rows(address: URL) -> dict[str, int]:
    with psycopg.connect(driver_address(address)) as connection:
        return _counted(connection)


def _counted(connection: psycopg.Connection[tuple[object, ...]]) -> dict[str, int]:
    tables = connection.execute(
        "SELECT tablename FROM pg_tables WHERE schemaname = 'public' ORDER BY tablename"
    ).fetchall()
    counts = {}
    for (table,) in tables:
        query = sql.SQL("SELECT count(*) FROM {}").format(sql.Identifier(str(table)))
        row = connection.execute(query).fetchone()
        counts[str(table)] = int(str(row[0])) if row else 0
    return counts


def _sha256(file: Path) -> str:
    with file.open("rb") as opened:
        return hashlib.file_digest(opened, "sha256").hexdigest()


def _digest_file(file: Path) -> Path:
    return file.with_name(f"{file.name}.sha256")


def check_digest(file: Path, *, needed: bool = True) -> None:
    """That a backup is as it was written, by the sum beside it; it may be missing if not needed."""
    beside = _digest_file(file)
    if not beside.exists():
        if needed:
            raise BackupError(
                f"{beside.name} is not beside the backup, so nothing says that it is whole. Copy "
                "it along, or restore with --unchecked. Nothing was changed."
            )
        return
    said = beside.read_text().split()
    if not said or said[0] != _sha256(file):
        raise BackupError(f"{file.name} is not as it was written; nothing was changed.")


def _to_disk(file: Path) -> None:
    with file.open("rb") as opened:
        os.fsync(opened.fileno())


def _retain(folder: Path, beginning: str, keep: int) -> list[Path]:
    old = sorted(folder.glob(f"{beginning}*{SUFFIX}"))[: -max(1, keep)]
    for file in old:
        _digest_file(file).unlink(missing_ok=True)
        file.unlink()
    return old


# PostgreSQL


@contextmanager
def _maintenance(address: URL) -> Iterator[psycopg.Connection[tuple[object, ...]]]:
    with psycopg.connect(
        driver_address(address.set(database="postgres")), autocommit=True
    ) as connection:
        yield connection


def _create(connection: psycopg.Connection[tuple[object, ...]], name: str) -> None:
    statement = "CREATE DATABASE {} TEMPLATE template0"
    connection.execute(sql.SQL(statement).format(sql.Identifier(name)))


def _drop(connection: psycopg.Connection[tuple[object, ...]], name: str) -> None:
    statement = "DROP DATABASE IF EXISTS {} WITH (FORCE)"
    connection.execute(sql.SQL(statement).format(sql.Identifier(name)))


def _connected(address: URL) -> bool:
    with _maintenance(address) as connection:
        row = connection.execute(
            "SELECT count(*) FROM pg_stat_activity WHERE datname = %s", [address.database]
        ).fetchone()
    return bool(row and row[0])


def _tool(name: str) -> str:
    try:
        return str(server_binaries() / name)
    except ClusterError:
        found = shutil.which(name)
        if found is None:
            raise BackupError(
                f"{name} is not installed: apt-get install postgresql-client"
            ) from None
        return found


def _run(tool: str, address: URL | None, *arguments: str) -> str:
    """Run a tool of PostgreSQL's; the password goes by the environment, where nobody reads it."""
    environment, command = dict(os.environ), [_tool(tool), *arguments]
    if address is not None:
        how = connection_arguments(address)
        environment["PGPASSWORD"] = how.pop("password", environment.get("PGPASSWORD", ""))
        command.append(f"--dbname={make_conninfo(**how)}")
    done = subprocess.run(command, env=environment, check=False, capture_output=True, text=True)
    if done.returncode != 0:
        last = (done.stderr.strip().splitlines() or ["no word"])[-1]
        raise BackupError(f"{tool} failed: {last}")
    return done.stdout

"""Whether an installation is well, and what it is doing: ``doctor`` and ``status``."""

from __future__ import annotations

import datetime as dt
import platform
import shutil
from collections.abc import Iterator
from dataclasses import dataclass

from sqlalchemy import Connection, Engine, text
from sqlalchemy.engine import make_url
from sqlalchemy.exc import OperationalError

from maple_rook import __version__, backup
from maple_rook.run_files import running_servers
from maple_rook.server import DATABASES, own_cluster
from maple_rook.settings import PROGRAM, Settings
from maple_rook.store.database import connect, newest_revision, revision_of, revisions

LEAST_FREE_BYTES = 1_000_000_000
CLOCKS_APART_S = 2.0
OLDEST_POSTGRESQL = 150_000
OLD_BACKUP = dt.timedelta(days=2)


@dataclass(frozen=True)
class Finding:
    """Something that was looked at; what is not well says what to do."""

    what: str
    said: str
    well: bool = True

    @property
    def line(self) -> str:
        return f"{'✓' if self.well else '✗'} {self.what}: {self.said}"


def status(settings: Settings) -> Iterator[str]:
    """What runs, of which release, as whom; the shelf; the last backup; where the data is."""
    servers = running_servers(settings)
    for server in servers:
        yield f"Serving {server.shop or 'a shop'} at {server.address}"
        yield (
            f"  Maple Rook {server.version or 'of an earlier release'}, process {server.pid}"
            f"{f' as {server.user}' if server.user else ''}"
            f"{f', since {_local(server.since)}' if server.since else ''}"
        )
    if not servers:
        yield f"No server runs (Maple Rook {__version__})"
    addresses = dict(_databases(settings))
    cluster = own_cluster(settings)
    if settings.database_url:
        yield "Database: as MAPLE_ROOK_DATABASE_URL names it"
    else:
        up = bool(addresses)
        yield f"PostgreSQL {f'runs on 127.0.0.1:{cluster.port}' if up else 'is stopped'}"
    for name, url in addresses.items():
        yield f"Shelf of {name}: {_behind(url)}"
    newest = backup.newest(settings.backups)
    if newest is None:
        yield f"Last backup: none in {settings.backups}"
    else:
        yield f"Last backup: {backup.written_at(newest).astimezone():%Y-%m-%d %H:%M}, {newest}"
    yield f"Data: {settings.home}"


def _local(moment: str) -> str:
    return f"{dt.datetime.fromisoformat(moment).astimezone():%Y-%m-%d %H:%M}"


def _databases(settings: Settings) -> Iterator[tuple[str, str]]:
    """Databases of shops that can be asked now, by what they are called."""
    if settings.database_url:
        yield str(make_url(settings.database_url).database), settings.database_url
        return
    cluster = own_cluster(settings)
    if not cluster.data.exists() or not cluster.running:
        return
    known = cluster.databases()
    yield from ((name, cluster.url(name)) for name in DATABASES.values() if name in known)


def _behind(url: str) -> str:
    engine = connect(url)
    try:
        with engine.connect() as connection:
            if connection.scalar(text("SELECT to_regclass('public.shelf_stale')")) is None:
                return "no shop in it yet"
            count = connection.scalar(text("SELECT count(DISTINCT piece_id) FROM shelf_stale"))
            pieces = connection.scalar(text("SELECT count(*) FROM pieces"))
        return f"{count:,} of {pieces:,} pieces waiting to be calculated" if count else "up to date"
    finally:
        engine.dispose()


def findings(settings: Settings) -> Iterator[Finding]:
    """Everything that is looked at, one by one."""
    yield Finding("Release", f"Maple Rook {__version__}, Python {platform.python_version()}")
    yield _disk(settings)
    yield from _permissions(settings)
    addresses = dict(_databases(settings))
    if not addresses:
        yield Finding("Database", "stopped, so its version and clock were not looked at")
    for name, url in addresses.items():
        engine = connect(url)
        try:
            yield from _of_database(name, engine)
        except OperationalError as error:
            said = str(error.orig).strip().splitlines()[-1]
            yield Finding(f"Database {name}", f"does not answer: {said}", well=False)
        finally:
            engine.dispose()
    yield from _sums(settings)


def _disk(settings: Settings) -> Finding:
    there = next(p for p in (settings.home, *settings.home.parents) if p.exists())
    free = shutil.disk_usage(there).free
    said = f"{free / 1e9:.1f} GB free at {there}"
    if free < LEAST_FREE_BYTES:
        return Finding("Disk", f"{said}; make room, 1 GB at least", well=False)
    return Finding("Disk", said)


def _permissions(settings: Settings) -> Iterator[Finding]:
    """What holds passwords or the record is for its owner alone."""
    private = [settings.home / "postgresql" / name for name in ("password", "data")]
    private += backup.kept(settings.backups)
    open_to_others = [p for p in private if p.exists() and p.stat().st_mode & 0o077]
    for path in open_to_others:
        said = f"others may read {path}: chmod go= {path}"
        yield Finding("Permissions", said, well=False)
    if not open_to_others:
        yield Finding("Permissions", f"the record in {settings.home} is for its owner alone")


def _of_database(name: str, engine: Engine) -> Iterator[Finding]:
    with engine.connect() as connection:
        number = int(connection.scalar(text("SHOW server_version_num")) or 0)
        version = connection.scalar(text("SHOW server_version"))
        now = connection.scalar(text("SELECT clock_timestamp()"))
        here = dt.datetime.now(dt.UTC)
        record = revision_of(connection)
        yield from _archived(name, connection)
        newest_write = None
        if record is not None:
            newest_write = connection.scalar(text("SELECT max(at) FROM audit"))
    well = number >= OLDEST_POSTGRESQL
    yield Finding(
        f"PostgreSQL of {name}", f"{version}{'' if well else '; 15 or newer is needed'}", well
    )
    apart = abs((now - here).total_seconds())
    said = f"{apart:.1f} s between this machine and the database"
    if apart > CLOCKS_APART_S:
        yield Finding("Clock", f"{said}; set both by NTP", well=False)
    elif newest_write is not None and newest_write > here + dt.timedelta(seconds=CLOCKS_APART_S):
        said = f"the record was written at {newest_write:%Y-%m-%d %H:%M} UTC, which is yet to come"
        yield Finding("Clock", f"{said}; set the clock by NTP", well=False)
    else:
        yield Finding("Clock", said)
    if record is None:
        yield Finding(f"Record of {name}", "none yet; the first start makes it")
    elif record == newest_revision():
        yield Finding(f"Record of {name}", f"revision {record}, as this release has it")
    elif record in revisions():
        said = f"revision {record}; the next start brings it to {newest_revision()}"
        yield Finding(f"Record of {name}", said)
    else:
        said = f"revision {record}, of a later release than this one; start that one"
        yield Finding(f"Record of {name}", said, well=False)


def _archived(name: str, connection: Connection) -> Iterator[Finding]:
    """Whether finished segments of the log arrive in their archive, where there is one."""
    if connection.scalar(text("SHOW archive_mode")) == "off":
        return
    row = connection.execute(
        text(
            "SELECT last_archived_time, last_failed_wal,"
            " last_failed_time > coalesce(last_archived_time, '-infinity') FROM pg_stat_archiver"
        )
    ).one()
    archived, failed, fails = row
    if fails:
        said = f"{failed} could not be copied: look at the folder and at PostgreSQL's log"
        yield Finding(f"WAL archive of {name}", said, well=False)
    else:
        last = f"last at {archived.astimezone():%Y-%m-%d %H:%M}" if archived else "none yet"
        yield Finding(f"WAL archive of {name}", f"segments arrive, {last}")


def _sums(settings: Settings) -> Iterator[Finding]:
    """Every backup of the home against the sum that was written with it."""
    newest = backup.newest(settings.backups)
    if newest is None:
        said = f"none in {settings.backups}; {PROGRAM} backup makes one"
        yield Finding("Backups", said, well=False)
        return
    files = backup.kept(settings.backups)
    broken = []
    for file in files:
        try:
            backup.check_digest(file)
        except backup.BackupError as error:
            broken.append(Finding("Backups", str(error), well=False))
    yield from broken
    age = dt.datetime.now(dt.UTC) - backup.written_at(newest)
    if age > OLD_BACKUP:
        said = f"the newest is {age.days} days old; docs/operations.md says how to make one a day"
        yield Finding("Backups", said, well=False)
    elif not broken:
        yield Finding("Backups", f"{len(files)}, each as it was written")

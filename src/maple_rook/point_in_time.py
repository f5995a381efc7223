"""Point-in-time recovery: base backups of the cluster, its archived log, and recovery to a moment.

PostgreSQL's own way (its manual, chapter *Continuous Archiving and Point-in-Time Recovery*): a copy
of the cluster's files, and every change since then replayed from the archived write-ahead log.
"""

from __future__ import annotations

import datetime as dt
import re
import shutil
import time
from pathlib import Path

import psycopg

from maple_rook.cluster import Cluster, ClusterError, server_binaries

PREFIX = "base-"
KEPT = 2
REPLAYED_WITHIN_S = 3600
_SETTINGS = ("restore_command", "recovery_target_time", "recovery_target_action")


class NotRecovered(RuntimeError):
    """No base backup was made, or nothing was gone back to; the message says what is as it was."""


def base_backup(cluster: Cluster, folder: Path, *, keep: int = KEPT) -> Path:
    """Copy a running cluster's files, verify the copy, and keep the newest of the folder.

    Segments of the log that are older than what is kept are removed from the archive.
    """
    archive = _archive_of(cluster)
    now = dt.datetime.now(dt.UTC).strftime("%Y-%m-%dT%H%M%SZ")
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    cluster.give(folder)
    made = folder / f"{PREFIX}{now}"
    cluster.run_tool(
        server_binaries(),
        "pg_basebackup",
        *("-D", str(made), "-d", cluster.address(), "-X", "stream", "--checkpoint=fast"),
    )
    cluster.run_tool(server_binaries(), "pg_verifybackup", "--quiet", str(made))
    bases = sorted(folder.glob(f"{PREFIX}*"))
    for old in bases[: -max(1, keep)]:
        shutil.rmtree(old)
    first = _first_segment(bases[-max(1, keep) :][0])
    cluster.run_tool(server_binaries(), "pg_archivecleanup", str(archive), first)
    return made


def recover(cluster: Cluster, base: Path, to: dt.datetime) -> Path:
    """Make a stopped cluster what it was at a moment; the folder where its files of now are kept.

    Parameters
    ----------
    cluster : whose files are put aside; it runs afterwards.
    base : a base backup made before the moment.
    to : the moment, with its time zone; what was committed before it is there.

    Raises
    ------
    NotRecovered
        Where the log does not reach the moment or there is no such base; all is as it was.
    """
    archive = _archive_of(cluster)
    if cluster.running:
        raise NotRecovered("PostgreSQL still runs: stop it, then again. Nothing was changed.")
    if not all((base / name).exists() for name in ("backup_label", "backup_manifest")):
        raise NotRecovered(f"{base} is no base backup. Nothing was changed.")
    whole = dt.datetime.fromtimestamp((base / "backup_manifest").stat().st_mtime, dt.UTC)
    if to < whole:
        raise NotRecovered(
            f"{base.name} was finished at {whole:%Y-%m-%d %H:%M:%S} UTC, after the moment asked "
            "for: take an earlier one. Nothing was changed."
        )
    if to > dt.datetime.now(dt.UTC):
        raise NotRecovered(f"{to:%Y-%m-%d %H:%M:%S} is yet to come. Nothing was changed.")
    aside = cluster.data.with_name(f"data-until-{dt.datetime.now(dt.UTC):%Y%m%d-%H%M%S}")
    cluster.data.rename(aside)
    try:
        cluster.run_tool(None, "cp", "-a", str(base), str(cluster.data))
        settings = (
            f'restore_command = \'cp "{archive}/%f" "%p"\'\n'
            f"recovery_target_time = '{to.astimezone(dt.UTC):%Y-%m-%d %H:%M:%S.%f+00}'\n"
            "recovery_target_action = 'promote'\n"
        )
        with (cluster.data / "postgresql.auto.conf").open("a") as conf:
            conf.write(settings)
        (cluster.data / "recovery.signal").touch()
        cluster.give(cluster.data / "recovery.signal")
        cluster.start()
        _wait_until_open(cluster)
    except (ClusterError, psycopg.Error) as error:
        if cluster.running:
            cluster.stop("immediate")
        shutil.rmtree(cluster.data, ignore_errors=True)
        aside.rename(cluster.data)
        raise NotRecovered(
            f"The log does not lead from {base.name} to {to:%Y-%m-%d %H:%M:%S}; all is as it was.\n"
            f"{_last_words(cluster, error)}"
        ) from None
    return aside


def _archive_of(cluster: Cluster) -> Path:
    if cluster.wal_archive is None:
        raise NotRecovered("No log is archived: set MAPLE_ROOK_WAL_ARCHIVE. Nothing was changed.")
    return cluster.wal_archive


def _first_segment(base: Path) -> str:
    """The first segment of the log that a base backup needs, as its label says."""
    found = re.search(r"\(file ([0-9A-F]{24})\)", (base / "backup_label").read_text())
    if found is None:
        raise NotRecovered(f"{base} has no label that can be read.")
    return found[1]


def _wait_until_open(cluster: Cluster) -> None:
    """Until everything is replayed and the cluster takes writes again."""
    deadline = time.monotonic() + REPLAYED_WITHIN_S
    with psycopg.connect(cluster.address(), autocommit=True) as connection:
        while time.monotonic() < deadline:
            row = connection.execute("SELECT pg_is_in_recovery()").fetchone()
            if row and not row[0]:
                for name in _SETTINGS:
                    connection.execute(f"ALTER SYSTEM RESET {name}")
                return
            time.sleep(0.2)
    raise ClusterError("It replays still.")


def _last_words(cluster: Cluster, error: Exception) -> str:
    """What PostgreSQL said last of its trouble."""
    logs = sorted((cluster.root / "log").glob("*.log"), key=lambda file: file.stat().st_mtime)
    lines = logs[-1].read_text(errors="replace").splitlines() if logs else []
    fatal = [line.partition("FATAL:")[2].strip() for line in lines if "FATAL:" in line]
    return f"PostgreSQL says: {fatal[-1]}" if fatal else str(error)

"""Backups: read back before they count, restored with nothing lost, old ones let go."""

from __future__ import annotations

import subprocess
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from sqlalchemy import Engine, make_url, select, text

from maple_rook import backup
from maple_rook.cluster import Cluster, free_port
from maple_rook.store.archive import Described, counts
from maple_rook.store.database import connect, migrate, newest_revision, sessions
from maple_rook.store.tables import Piece, Reading
from shops import new_shop


@pytest.fixture
def full(cluster: Cluster) -> Iterator[str]:
    """Address of a database with the demo shop, and nobody connected."""
    new_shop(cluster, demo=True, name="backed_up")
    yield cluster.url("backed_up")
    with psycopg.connect(cluster.url("postgres").replace("+psycopg", ""), autocommit=True) as c:
        found = c.execute("SELECT datname FROM pg_database WHERE datname LIKE 'backed_up%'")
        for (name,) in found.fetchall():
            c.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


def everything(url: str) -> tuple[dict[str, int], str]:
    """Rows by table, and a digest of every reading."""
    engine = connect(url)
    with sessions(engine)() as db:
        digest = db.scalar(text("SELECT md5(string_agg(r::text, '' ORDER BY id)) FROM readings r"))
        found = counts(db)
    engine.dispose()
    return found, str(digest)


def up_to_date(url: str) -> None:
    engine = connect(url)
    migrate(engine)
    engine.dispose()


def test_all_of_an_address_counts_and_not_its_host_alone(full: str, tmp_path: Path) -> None:
    own = make_url(full)
    hosts = [f"{own.host}:{free_port()}", f"{own.host}:{own.port}"]  # nothing listens at the first
    several = own.set(host="", port=None, query={"host": hosts})
    several = several.update_query_dict({"target_session_attrs": "read-write"})
    written = backup.write(several.render_as_string(hide_password=False), tmp_path)
    assert written.rows > 0
    encrypted = own.update_query_dict({"sslmode": "require"})  # which this server cannot
    with pytest.raises(psycopg.OperationalError, match="SSL"):
        backup.write(encrypted.render_as_string(hide_password=False), tmp_path)


def test_a_restored_backup_holds_every_row_and_the_old_shop_is_kept(
    full: str, tmp_path: Path
) -> None:
    before = everything(full)
    written = backup.write(full, tmp_path)
    assert backup.is_backup(written.file)
    assert written.rows >= sum(before[0].values())
    engine = connect(full)
    with sessions(engine)() as db:
        db.add(Piece(tag="LATER", model_id=1))
        db.commit()
    with pytest.raises(backup.BackupError, match="still uses"):
        backup.restore(full, written.file, replace=True, migrate=up_to_date)
    engine.dispose()
    with pytest.raises(backup.BackupError, match="--replace"):
        backup.restore(full, written.file, replace=False, migrate=up_to_date)
    aside = backup.restore(full, written.file, replace=True, migrate=up_to_date)
    assert everything(full) == before
    old = everything(full.replace("backed_up", str(aside)))
    assert old[0]["pieces"] == before[0]["pieces"] + 1


def test_a_damaged_backup_changes_nothing(full: str, tmp_path: Path) -> None:
    written = backup.write(full, tmp_path)
    before = everything(full)
    backup.check_digest(written.file)
    content = bytearray(written.file.read_bytes())
    content[len(content) // 2] ^= 0x10
    written.file.write_bytes(content)
    with pytest.raises(backup.BackupError, match="not as it was written"):
        backup.check_digest(written.file)
    written.file.with_name(f"{written.file.name}.sha256").unlink()
    with pytest.raises(backup.BackupError, match=r"sha256 is not beside.*--unchecked"):
        backup.check_digest(written.file)
    backup.check_digest(written.file, needed=False)
    written.file.write_bytes(content[: len(content) // 2])
    with pytest.raises(backup.BackupError, match="pg_restore failed"):
        backup.restore(full, written.file, replace=True, migrate=up_to_date)
    assert everything(full) == before


def test_a_backup_says_whose_it_is_and_can_be_tried(full: str, tmp_path: Path) -> None:
    written = backup.write(full, tmp_path)
    before = everything(full)
    found = backup.described(written.file)
    with psycopg.connect(full.replace("+psycopg", "")) as db:
        name, demo = db.execute("SELECT name, demo FROM shop").fetchone() or ("", None)
        [pieces] = db.execute("SELECT count(*) FROM pieces").fetchone() or [None]
    assert found == Described(name, demo, newest_revision(), pieces)
    backup.tried(full, written.file, up_to_date)
    assert everything(full) == before
    with psycopg.connect(full.replace("+psycopg", "")) as db:
        rows = db.execute("SELECT datname FROM pg_database").fetchall()
    assert not [name for (name,) in rows if name.endswith("_tried")]


def test_what_reads_back_differently_is_not_kept(
    full: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real = subprocess.run

    def lossy(command: list[str], **how: object) -> object:
        # A dump that lost the readings on its way to the disk.
        more = ["--exclude-table-data=reading*"] if command[0].endswith("pg_dump") else []
        return real([*command, *more], **how)  # type: ignore[call-overload]

    monkeypatch.setattr(subprocess, "run", lossy)
    with pytest.raises(backup.BackupError, match="other rows"):
        backup.write(full, tmp_path)
    assert list(tmp_path.iterdir()) == []


def test_the_newest_are_kept(full: str, tmp_path: Path) -> None:
    for day in range(1, 6):
        (tmp_path / f"backed_up-2026-01-0{day}T000000Z.dump").write_bytes(b"PGDMP")
    (tmp_path / "another-2026-01-01T000000Z.dump").write_bytes(b"PGDMP")
    written = backup.write(full, tmp_path, keep=3)
    assert [old.name[10:20] for old in written.removed] == [
        "2026-01-01",
        "2026-01-02",
        "2026-01-03",
    ]
    kept = sorted(file.name for file in tmp_path.glob("*.dump"))
    assert len(kept) == 4
    assert written.file.stat().st_mode & 0o077 == 0
    assert "another-2026-01-01T000000Z.dump" in kept


def test_a_backup_taken_while_benches_write_is_of_one_moment(full: str, tmp_path: Path) -> None:
    engine: Engine = connect(full)
    with sessions(engine)() as db:
        db.execute(text("SET LOCAL lock_timeout = '5s'"))
        db.add(Piece(tag="UNCOMMITTED", model_id=1))
        db.flush()
        written = backup.write(full, tmp_path)
        db.commit()
        assert db.scalar(select(Reading.id).limit(1))
    engine.dispose()
    backup.restore(full, written.file, replace=True, migrate=up_to_date)
    engine = connect(full)
    with sessions(engine)() as db:
        assert db.scalar(select(Piece.id).where(Piece.tag == "UNCOMMITTED")) is None
    engine.dispose()

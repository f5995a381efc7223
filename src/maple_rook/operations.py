"""What an operator does with a shop that need not be served: archives, backups, invitations."""

from __future__ import annotations

import contextlib
import datetime as dt
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

from sqlalchemy import URL, select, text, update
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session

from maple_rook import backup, point_in_time
from maple_rook.private_files import write_private
from maple_rook.server import (
    DATABASES,
    NotThere,
    Refused,
    Say,
    database,
    own_cluster,
    prepare,
    welcome,
)
from maple_rook.settings import PROGRAM, Settings
from maple_rook.store import archive, people
from maple_rook.store.database import connect, migrate, sessions
from maple_rook.store.picture_store import bucket_of, move
from maple_rook.store.tables import Person, Piece, Shop


def invitation_link(settings: Settings, name: str, *, is_demo: bool, say: Say) -> str:
    """An address at which somebody the record knows chooses a new password."""
    with _prepared(settings, is_demo=is_demo, say=say) as session:
        person = people.by_name(session, name)
        if person is None:
            known = session.scalars(select(Person.name).where(Person.left_on.is_(None)))
            raise NotThere(f"Nobody here is called {name}; there are {', '.join(known)}.")
        token = people.invite(session, person.id)
        session.commit()
    return f"{base_address(settings)}/join#{token}"


def base_address(settings: Settings) -> str:
    """Where the shop is reached, unless its port is taken."""
    return (settings.public_url or f"http://{settings.host}:{settings.port}").rstrip("/")


@contextlib.contextmanager
def _prepared(settings: Settings, *, is_demo: bool, say: Say) -> Iterator[Session]:
    """A session on a database that is ready, for a command that serves nothing."""
    with database(settings, is_demo=is_demo, say=say) as url:
        engine = connect(url)
        try:
            prepare(engine, is_demo=is_demo, say=say)
            with sessions(engine)() as session:
                yield session
        finally:
            engine.dispose()


def write_archive(settings: Settings, file: Path, *, is_demo: bool, say: Say) -> dict[str, int]:
    """The whole shop into a ZIP; rows by table."""
    unfinished = file.with_name(f"{file.name}.part")
    with _prepared(settings, is_demo=is_demo, say=say) as session:
        write_private(unfinished)
        try:
            found: dict[str, int] = archive.write_archive(session, unfinished, bucket_of(settings))[
                "counts"
            ]
            session.rollback()
            people.write_down(session, "exports", "made", 0, "archive by command")
            session.commit()
            unfinished.rename(file)
        finally:
            unfinished.unlink(missing_ok=True)
    return found


def move_photographs(settings: Settings, *, into_bucket: bool, is_demo: bool, say: Say) -> int:
    """Every photograph into the bucket of the settings, or out of it; how many were moved."""
    bucket = bucket_of(settings)
    if bucket is None:
        raise Refused(
            "No bucket is set (MAPLE_ROOK_S3_ENDPOINT and the rest of it); nothing was moved."
        )
    with _prepared(settings, is_demo=is_demo, say=say) as session:
        moved = sum(1 for _ in move(session, bucket, into_bucket=into_bucket))
        if moved:
            where = "into the bucket" if into_bucket else "into the database"
            people.write_down(session, "photographs", "changed", 0, f"{moved} moved {where}")
            session.commit()
    return moved


class Restoring(NamedTuple):
    """A file to restore and what was agreed to: see ``./rook restore --help``."""

    file: Path
    replace: bool = False
    unchecked: bool = False
    another_shop: bool = False


class Restored(NamedTuple):
    """What was restored, in words, and the database that what was there is kept as."""

    what: str
    aside: str | None = None


def restore(settings: Settings, asked: Restoring, *, dry_run: bool, say: Say) -> Restored:
    """Make the shop of one's own that of a backup or archive; what it is, is said before.

    Refused, with nothing changed, where the file is not whole, where it is the demo's backup, whose
    passwords anybody knows, where it is of a shop of another name, and where the shop that is there
    has pieces or an owner, unless it may be put aside.
    """
    file = asked.file
    if not file.is_file():
        raise Refused(f"There is no file {file}; nothing was changed.")
    is_backup = backup.is_backup(file)
    if is_backup:
        backup.check_digest(file, needed=not asked.unchecked)
    found = backup.described(file) if is_backup else archive.described(file)
    say(f"{file.name} is {'a backup' if is_backup else 'an archive'} of {found.in_words}")
    if is_backup and found.is_demo:
        raise Refused(
            "A backup of the demo has passwords that anybody knows, so it becomes no shop of your "
            f"own; an archive has none ({PROGRAM} archive --demo). Nothing was changed."
        )
    with database(settings, is_demo=False, say=say) as url:
        _same_shop(url, found.shop, asked)
        backup.check_free(url, replace=asked.replace)
        if dry_run:
            if is_backup:
                backup.tried(url, file, _up_to_date)
                say("Restored beside the shop, brought up to date, and thrown away again")
            return Restored("")
        if is_backup:
            aside = backup.restore(url, file, replace=asked.replace, migrate=_up_to_date)
            _write_down(url, "restores", f"backup {file.name}")
        else:
            aside = _restore_archive(url, asked, settings, say)
    return Restored(f"{found.pieces} pieces of {found.shop}", aside)


def recover(settings: Settings, base: Path, to: dt.datetime) -> Path:
    """The cluster of one's own as it was at a moment, stopped; where its files of now are kept."""
    cluster = own_cluster(settings)
    aside = point_in_time.recover(cluster, base, to)
    if DATABASES[False] in cluster.databases():
        _write_down(cluster.url(DATABASES[False]), "restores", f"as of {to:%Y-%m-%d %H:%M:%S %z}")
    cluster.stop()
    return aside


def _same_shop(url: str, name: str, asked: Restoring) -> None:
    """Refuse a file of a shop of another name than the one that is there and in use."""
    engine = connect(url)
    try:
        with engine.connect() as connection:
            if connection.scalar(text("SELECT to_regclass('public.shop')")) is None:
                return
            there = connection.scalar(select(Shop.name))
            used = connection.scalar(select(Piece.id).limit(1)) is not None
    finally:
        engine.dispose()
    if used and there != name and not asked.another_shop:
        raise Refused(
            f"The shop that is there is {there}, the file is of {name}; with --another-shop it is "
            "restored all the same. Nothing was changed."
        )


def _up_to_date(url: str) -> None:
    engine = connect(url)
    migrate(engine)
    engine.dispose()


def _restore_archive(url: str, asked: Restoring, settings: Settings, say: Say) -> str | None:
    """An archive holds nobody's password, so an owner is invited afterwards. One that is restored
    in the place of a shop is so only once it is whole.
    """

    def fill(address: URL) -> None:
        engine = connect(address)
        try:
            prepare(engine, is_demo=False, say=say)
            with sessions(engine)() as session:
                archive.restore_archive(session, asked.file)
                session.execute(update(Shop).values(demo=False))  # from now on it is one's own
                session.commit()
        finally:
            engine.dispose()

    aside = backup.put_in_place(url, fill) if asked.replace else None
    if not asked.replace:
        fill(make_url(url))
    _write_down(url, "restores", f"archive {asked.file.name}")
    engine = connect(url)
    welcome(engine, settings, base_address(settings), say=say)
    engine.dispose()
    return aside


def _write_down(url: str, about: str, named: str) -> None:
    """Note in the log of changes what a command did with the whole shop."""
    engine = connect(url)
    with sessions(engine)() as session:
        people.write_down(session, about, "made", 0, named)
        session.commit()
    engine.dispose()


def write_backup(
    settings: Settings, folder: Path | None, *, keep: int, is_demo: bool, say: Say
) -> backup.Written:
    """The database into a verified backup; a server may run meanwhile.

    Parameters
    ----------
    settings : the shop's settings.
    folder : where backups lie.
    keep : how many are kept.
    is_demo : whether it is the demo shop.
    say : where lines for the person at the terminal go.
    """
    with database(settings, is_demo=is_demo, say=say) as url:
        _write_down(url, "exports", "backup by command")
        return backup.write(url, folder or settings.backups, keep=keep)

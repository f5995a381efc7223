"""What an operator does with a shop that need not be served: archives, backups, invitations."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook import backup
from maple_rook.server import NotThere, Say, database, prepare
from maple_rook.settings import Settings
from maple_rook.store import archive, people
from maple_rook.store.database import connect, migrate, sessions
from maple_rook.store.tables import Person


def invitation_link(settings: Settings, name: str, *, is_demo: bool, say: Say) -> str:
    """An address at which somebody the record knows chooses a password anew."""
    with _prepared(settings, is_demo=is_demo, say=say) as session:
        person = people.by_name(session, name)
        if person is None:
            known = session.scalars(select(Person.name).where(Person.left_on.is_(None)))
            raise NotThere(f"Nobody here is called {name}; there are {', '.join(known)}.")
        token = people.invite(session, person.id)
        session.commit()
    base = (settings.public_url or f"http://{settings.host}:{settings.port}").rstrip("/")
    return f"{base}/join#{token}"


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
    with _prepared(settings, is_demo=is_demo, say=say) as session:
        found: dict[str, int] = archive.write_archive(session, file)["counts"]
    return found


def restore_archive(settings: Settings, file: Path, *, say: Say) -> dict[str, int]:
    """A ZIP into the shop of one's own, while it is empty; rows by table."""
    with _prepared(settings, is_demo=False, say=say) as session:
        found: dict[str, int] = archive.restore_archive(session, file)["counts"]
    return found


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
        return backup.write(url, folder or settings.home / "backups", keep=keep)


def restore_backup(settings: Settings, file: Path, *, replace: bool, say: Say) -> str | None:
    """A backup into the shop of one's own; the name of the database put aside for it."""

    def up_to_date(url: str) -> None:
        engine = connect(url)
        migrate(engine)
        engine.dispose()

    with database(settings, is_demo=False, say=say) as url:
        return backup.restore(url, file, replace=replace, migrate=up_to_date)

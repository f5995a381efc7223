"""The whole shop as one ZIP of JSON lines and pictures, and such a ZIP made a shop again."""

from __future__ import annotations

import base64
import datetime as dt
import hashlib
import json
import uuid
import zipfile
from collections.abc import Callable, Iterable, Iterator, Sequence
from decimal import Decimal
from functools import partial
from pathlib import Path
from typing import IO, Any, NamedTuple

import psycopg
from alembic import command
from sqlalchemy import Date, LargeBinary, MetaData, Numeric, Table, Uuid, func, select, text
from sqlalchemy.dialects.postgresql import TIMESTAMP
from sqlalchemy.engine import Connection
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.errors import MapleRookError
from maple_rook.store import (
    amendments,
    choice_tables,
    cut_tables,
    exchange_tables,
    page_tables,
    people_tables,
    photo_tables,
    trial_tables,
    upkeep_tables,
)
from maple_rook.store.database import migrations, newest_revision, revision_of, revisions
from maple_rook.store.exchange_tables import ImportFile, ImportPart
from maple_rook.store.people_tables import (
    Invitation,
    Password,
    RecoveryCode,
    RequestKey,
    SignIn,
    SignInAttempts,
    SigningKey,
    TwoStep,
)
from maple_rook.store.photo_tables import MeasuringPhoto, Photograph, WebPicture
from maple_rook.store.picture_store import PictureStore, from_bucket
from maple_rook.store.tables import Base, Photo, Piece, Shop

FORMAT, VERSION = "maple-rook-archive", 1
MANIFEST = "manifest.json"
MOST_UNPACKED = 4_000_000_000
_LONGEST_LINE = 30_000_000
_AT_ONCE = 1_000
_EXTENSIONS = {"image/jpeg": "jpg", "image/png": "png", "image/webp": "webp"}
_OF_THE_RECORD = (
    amendments,
    choice_tables,
    cut_tables,
    exchange_tables,
    page_tables,
    people_tables,
    photo_tables,
    trial_tables,
    upkeep_tables,
)
"""Modules whose tables belong to the record; naming them here registers all of them."""
LEFT_OUT = {
    of.__tablename__
    for of in (
        *(Password, TwoStep, RecoveryCode, SignIn, Invitation, SignInAttempts, SigningKey),
        *(RequestKey, ImportFile, ImportPart, WebPicture),
    )
} | {"shelf", "shelf_claims", "shelf_stale", "shelf_quarantine", "tasks"}
"""What lets people in is not for a file that travels; who restores one signs up again. Files that
wait to be imported are no part of the record yet; the shelf, and photographs in the sizes of
pages, are calculated from it.
"""
_SHELF_TO_DO = text("INSERT INTO shelf_stale (piece_id) SELECT id FROM pieces")
_LEFT_OUT_BEFORE = {"shelf_aside", "long_jobs", "failed_sign_ins"}
_NAMED_BEFORE = {"work_jobs", "kept_predictions"}
"""Tables of earlier releases by the names they had then."""
_PICTURES: dict[str, type[Photo | MeasuringPhoto | Photograph]] = {
    of.__tablename__: of for of in (Photo, MeasuringPhoto, Photograph)
}
"""Tables whose ``content`` is a picture, a file of its own in the archive."""


class NotRestored(MapleRookError):
    """The archive was not restored, why, and that nothing was changed."""


class Described(NamedTuple):
    """What a backup or archive holds: of which shop, of which revision, how many pieces."""

    shop: str
    is_demo: bool
    revision: str
    pieces: int

    @property
    def in_words(self) -> str:
        kind = "the demo shop" if self.is_demo else "a shop"
        return f"{kind}, {self.shop}, {self.pieces:,} pieces, revision {self.revision}"


def described(path: Path) -> Described:
    """What an archive holds, read from the file alone; refused where it is not whole."""
    try:
        with zipfile.ZipFile(path) as packed:
            manifest = _checked(packed)
            [shop] = map(json.loads, packed.read("tables/shop.jsonl").splitlines())
            pieces = manifest["counts"]["pieces"]
            return Described(shop["name"], shop["demo"], manifest["revision"], pieces)
    except (zipfile.BadZipFile, OSError, ValueError, KeyError, EOFError) as error:
        raise NotRestored(f"The archive cannot be read ({error}); nothing was changed.") from None


def tables() -> list[Table]:
    """Every table of the record, each after those it points to."""
    return [table for table in Base.metadata.sorted_tables if table.name not in LEFT_OUT]


def counts(db: Session) -> dict[str, int]:
    """Rows by table."""
    return {t.name: db.scalar(select(func.count()).select_from(t)) or 0 for t in tables()}


# Writing


def write_archive(db: Session, path: Path, bucket: PictureStore | None = None) -> dict[str, Any]:
    """Write everything as it stands at one moment; returns the manifest.

    The session must not have begun its transaction: it is read as of one moment. Photographs that
    are kept in a ``bucket`` are read from there; restoring puts them into the database.
    """
    connection = db.connection(execution_options={"isolation_level": "REPEATABLE READ"})
    digests: dict[str, str] = {}
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED, compresslevel=6) as packed:
        for table in tables():
            _member(packed, f"tables/{table.name}.jsonl", _lines(connection, table), digests)
        for of in _PICTURES.values():
            for key, media_type in db.execute(select(of.id, of.media_type).order_by(of.id)):
                content = db.scalar(select(of.content).where(of.id == key))
                if content is None:
                    digest = db.scalar(select(Photograph.digest).where(Photograph.id == key))
                    content = from_bucket(str(digest), bucket)
                name = _picture(of.__tablename__, key, media_type)
                _member(packed, name, iter((content,)), digests)
        shop = db.scalars(select(Shop)).one()
        manifest = {
            "format": FORMAT,
            "version": VERSION,
            "revision": revision_of(connection),
            "made_at": dt.datetime.now(dt.UTC).isoformat(timespec="seconds"),
            "shop": shop.name,
            "counts": counts(db),
            "sha256": digests,
        }
        packed.writestr(MANIFEST, json.dumps(manifest, indent=1, ensure_ascii=False))
    return manifest


def _member(
    packed: zipfile.ZipFile, name: str, parts: Iterator[bytes], digests: dict[str, str]
) -> None:
    digest = hashlib.sha256()
    with packed.open(name, "w", force_zip64=True) as member:
        for part in parts:
            digest.update(part)
            member.write(part)
    digests[name] = digest.hexdigest()


def _picture(table: str, key: int, media_type: str) -> str:
    return f"{table}/{key}.{_EXTENSIONS[media_type]}"


def _columns(table: Table) -> list[str]:
    """The columns that are written as text; a picture is a file of its own."""
    return [c.name for c in table.columns if table.name not in _PICTURES or c.name != "content"]


def _lines(connection: Connection, table: Table) -> Iterator[bytes]:
    names = _columns(table)
    query = select(*(table.c[name] for name in names)).order_by(*table.primary_key.columns)
    for row in connection.execution_options(yield_per=_AT_ONCE).execute(query):
        told = dict(zip(names, row, strict=True))
        line = json.dumps(told, default=plain_value, ensure_ascii=False)
        yield line.encode() + b"\n"


def plain_value(value: object) -> str:
    """A value that JSON has no kind for, as text."""
    if isinstance(value, (dt.datetime, dt.date)):
        return value.isoformat()
    if isinstance(value, (uuid.UUID, Decimal)):
        return str(value)
    if isinstance(value, (bytes, memoryview)):
        return base64.b64encode(value).decode()
    raise TypeError(f"{type(value).__name__} is not kept in an archive")


# Restoring


def restore_archive(db: Session, path: Path) -> dict[str, Any]:
    """Make an empty shop the one of the archive, in one transaction; returns the manifest.

    An archive of an earlier release goes into the schema of its day, which is then brought up to
    date with it. Refused, with nothing changed, into a shop that has pieces, from an archive of a
    later release, and from one whose parts are not as its manifest says.
    """
    if db.scalar(select(Piece.id).limit(1)) is not None:
        raise NotRestored("This shop has pieces already; an archive is restored into an empty one.")
    try:
        with zipfile.ZipFile(path) as packed:
            manifest = _checked(packed)
            connection = db.connection()
            _migrated(connection, manifest["revision"])
            then = _tables_of(connection, manifest["counts"])
            _fill(connection, then, packed)
            found = {t.name: db.scalar(select(func.count()).select_from(t)) for t in then}
            _migrated(connection, newest_revision())
            connection.execute(_SHELF_TO_DO)
    except NotRestored:
        db.rollback()
        raise
    except (zipfile.BadZipFile, OSError, ValueError, KeyError, EOFError) as error:
        db.rollback()
        raise NotRestored(f"The archive cannot be read ({error}); nothing was changed.") from None
    except (DBAPIError, psycopg.Error) as error:
        db.rollback()
        said = str(getattr(error, "orig", error)).splitlines()[0]
        raise NotRestored(f"Its rows do not fit ({said}); nothing was changed.") from None
    expected = {name: manifest["counts"][name] for name in found}
    if found != expected:
        db.rollback()
        raise NotRestored("The archive holds other rows than it says; nothing was changed.")
    db.commit()
    return manifest


def _migrated(connection: Connection, to: str) -> None:
    """The schema at a revision, within the transaction that is open."""
    now, config = str(revision_of(connection)), migrations()
    config.attributes["connection"] = connection
    if to < now:
        command.downgrade(config, to)
    elif to > now:
        command.upgrade(config, to)


def _tables_of(connection: Connection, counted: Iterable[str]) -> list[Table]:
    """Tables of the record as they stand in the database, each after those it points to."""
    names = set(counted) - LEFT_OUT - _LEFT_OUT_BEFORE
    if strange := names - {table.name for table in tables()} - _NAMED_BEFORE:
        raise NotRestored(f"Tables no shop has: {', '.join(sorted(strange))}.")
    standing = MetaData()
    standing.reflect(connection, only=list(names))
    return [table for table in standing.sorted_tables if table.name in names]


def _checked(packed: zipfile.ZipFile) -> dict[str, Any]:
    unpacked = sum(part.file_size for part in packed.infolist())
    if unpacked > MOST_UNPACKED:
        raise NotRestored(f"It would unpack to {unpacked / 1e9:.1f} GB; nothing was changed.")
    manifest: dict[str, Any] = json.loads(packed.read(MANIFEST))
    if (manifest.get("format"), manifest.get("version")) != (FORMAT, VERSION):
        raise NotRestored("This is no archive of a shop; nothing was changed.")
    if manifest["revision"] not in revisions():
        raise NotRestored(
            f"The archive is of revision {manifest['revision']} of the record, this release knows "
            f"none after {newest_revision()}: restore it with the release it was made with, or a "
            "later one. Nothing was changed."
        )
    digests: dict[str, str] = manifest["sha256"]
    if set(digests) != set(packed.namelist()) - {MANIFEST}:
        raise NotRestored("Parts of the archive are missing or added; nothing was changed.")
    for name, expected in digests.items():
        digest = hashlib.sha256()
        with packed.open(name) as member:
            while part := member.read(1_000_000):
                digest.update(part)
        if digest.hexdigest() != expected:
            raise NotRestored(f"{name} is not as it was written; nothing was changed.")
    return manifest


def _fill(connection: Connection, then: Sequence[Table], packed: zipfile.ZipFile) -> None:
    for table in then:
        connection.execute(text(f"ALTER TABLE {table.name} DISABLE TRIGGER USER"))
    connection.execute(text(f"TRUNCATE {', '.join(table.name for table in then)} CASCADE"))
    for table in then:
        with packed.open(f"tables/{table.name}.jsonl") as member:
            _copy(connection, table, member, packed)
        connection.execute(text(f"ALTER TABLE {table.name} ENABLE TRIGGER USER"))
        if "id" in table.c and table.c.id.identity is not None:
            connection.execute(
                text(
                    f"SELECT setval(pg_get_serial_sequence('{table.name}', 'id'), "  # nosec B608
                    f"coalesce(max(id), 1), max(id) IS NOT NULL) FROM {table.name}"
                )
            )


def _copy(connection: Connection, table: Table, member: IO[bytes], packed: zipfile.ZipFile) -> None:
    names = _columns(table)
    read = [reader(table, name) for name in names]
    photos = table.name in _PICTURES
    columns = ", ".join(f'"{name}"' for name in [*names, *(["content"] if photos else [])])
    raw: Any = connection.connection.driver_connection
    with raw.cursor() as cursor, cursor.copy(f"COPY {table.name} ({columns}) FROM STDIN") as into:
        for line in _read_lines(member):
            row = json.loads(line)
            cells = [f(row[name]) for f, name in zip(read, names, strict=True)]
            if photos:
                cells.append(packed.read(_picture(table.name, row["id"], row["media_type"])))
            into.write_row(cells)


def _read_lines(member: IO[bytes]) -> Iterator[bytes]:
    while line := member.readline(_LONGEST_LINE):
        if not line.endswith(b"\n"):
            raise ValueError("a line that never ends")
        yield line


_READ: tuple[tuple[type, Callable[[str], Any]], ...] = (
    (TIMESTAMP, dt.datetime.fromisoformat),
    (Date, dt.date.fromisoformat),
    (Uuid, uuid.UUID),
    (LargeBinary, base64.b64decode),
)


def reader(table: Table, name: str) -> Callable[[Any], Any]:
    """How a column's value is read back from JSON."""
    kind = table.c[name].type
    for of, read in _READ:
        if isinstance(kind, of):
            return partial(_unless_none, read)
    if isinstance(kind, Numeric) and kind.asdecimal:
        return partial(_unless_none, lambda v: Decimal(str(v)))
    if type(kind).__name__ == "JSONB":
        return partial(_unless_none, json.dumps)
    return lambda v: v


def _unless_none(read: Callable[[Any], Any], value: Any) -> Any:
    return value if value is None else read(value)

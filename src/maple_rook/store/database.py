"""Connecting, migrating, and the rows every shop starts with."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from psycopg.conninfo import make_conninfo
from sqlalchemy import URL, Connection, Engine, create_engine, event, select, text
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session, SessionTransaction, sessionmaker

from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.instruments import INSTRUMENT_KINDS, InstrumentKind
from maple_rook.core.measurement.quantities import TAKEN
from maple_rook.store import request_keys
from maple_rook.store.steels import steel_row
from maple_rook.store.tables import Instrument, Person, Shop, SteelGrade

APPLICATION_NAME = "maple-rook"
POOL_TIMEOUT_S = 5
"""How long a request waits for a free connection before it is refused."""


@dataclass(frozen=True)
class Patience:
    """How many connections a kind of work may have, and how long PostgreSQL lets one be busy.

    ``idle_s`` is how long a transaction may wait for its process, holding what it locked.
    """

    connections: int
    more: int
    statement_s: int
    idle_s: int

    def as_options(self) -> dict[str, Any]:
        """The same as arguments of the driver."""
        return {
            "application_name": APPLICATION_NAME,
            "connect_timeout": 5,
            "options": f"-c statement_timeout={self.statement_s}s "
            f"-c idle_in_transaction_session_timeout={self.idle_s}s",
        }


LONG_WORK = Patience(4, 16, statement_s=600, idle_s=300)
"""Commands, tasks of the queue, imports and exports."""
REQUESTS = Patience(10, 10, statement_s=20, idle_s=20)
"""What somebody waits for."""
FOUNDER = "Owner"
"""The name of a new shop's first person, until they give their own."""
WRITER = "person_id"
"""What a session's ``info`` calls the id of the person who writes: for the log of changes."""
REQUEST = "request"
"""What it calls the :class:`request_keys.Asked` that the session belongs to."""
UNAUDITED = "unaudited"
"""True in a session's ``info`` where nobody changes anything: founding, the demo's invention."""
_WHO = text("SELECT set_config('maple_rook.person', :person, true)")
MIGRATIONS = Path(__file__).parent / "migrations"


def connect(url: str | URL, patience: Patience = LONG_WORK) -> Engine:
    """An engine for a PostgreSQL address; ``postgresql://`` means psycopg 3."""
    return create_engine(
        _for_psycopg(make_url(url)),
        pool_size=patience.connections,
        max_overflow=patience.more,
        pool_timeout=POOL_TIMEOUT_S,
        pool_pre_ping=True,
        connect_args=patience.as_options(),
    )


def _for_psycopg(address: URL) -> URL:
    plain = address.drivername in ("postgres", "postgresql")
    return address.set(drivername="postgresql+psycopg") if plain else address


def sessions(engine: Engine) -> sessionmaker[Session]:
    """Opens sessions; one whose ``info`` names a :data:`WRITER` tells the database who writes,
    one that is of a request with a key writes that key first.
    """
    made = sessionmaker(engine, expire_on_commit=False)
    event.listen(made, "after_begin", _begin)
    return made


def _begin(session: Session, _: SessionTransaction, connection: Connection) -> None:
    person_id = session.info.get(WRITER)
    if person_id is not None:
        connection.execute(_WHO, {"person": str(person_id)})
    if session.info.get(UNAUDITED):
        connection.execute(text("SET LOCAL maple_rook.audit = 'off'"))
    asked = session.info.get(REQUEST)
    if asked is not None:
        request_keys.write(connection, asked)


def connection_arguments(url: str | URL) -> dict[str, str]:
    """What PostgreSQL's own library takes of an address: hosts, ports, database, TLS and the rest.

    An address may name several hosts: ``@/shop?host=a:5432&host=b:5432``.
    """
    address = _for_psycopg(make_url(url))
    _, arguments = address.get_dialect()().create_connect_args(address)
    return {key: str(value) for key, value in arguments.items() if value is not None}


def driver_address(url: str | URL) -> str:
    """An address as PostgreSQL's own library takes it, password included."""
    return make_conninfo(**connection_arguments(url))


def migrations() -> Config:
    """Where Alembic finds the revisions of the record."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    return config


class NewerRecord(RuntimeError):
    """A later release has written this database; the message says what to do."""


def migrate(engine: Engine) -> None:
    """Bring the schema to the newest revision; one process at a time.

    Raises
    ------
    NewerRecord
        Where the database is of a revision this release does not know; nothing is changed.
    """
    config = migrations()
    with engine.begin() as connection:
        connection.execute(text("SET LOCAL statement_timeout = 0"))
        connection.execute(text("SELECT pg_advisory_xact_lock(84201)"))
        now = revision_of(connection)
        if now is not None and now not in revisions():
            raise NewerRecord(
                f"This database was written by a later release: it is of revision {now}, and this "
                f"one knows none after {newest_revision()}. Start that release, or a later one. "
                "Nothing was changed."
            )
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


def revision_of(connection: Connection) -> str | None:
    """The revision of the record in a database; None where there is no record yet."""
    if connection.scalar(text("SELECT to_regclass('public.alembic_version')")) is None:
        return None
    found: str | None = connection.scalar(text("SELECT version_num FROM alembic_version"))
    return found


@cache
def newest_revision() -> str:
    """The revision of the record this release works on."""
    return str(ScriptDirectory.from_config(migrations()).get_current_head())


@cache
def revisions() -> frozenset[str]:
    """Every revision of the record that this release can bring up to date."""
    return frozenset(
        found.revision for found in ScriptDirectory.from_config(migrations()).walk_revisions()
    )


def found_shop(session: Session) -> None:
    """Give an empty database its shop, person, steels, and every kind of instrument it lacks."""
    _instruments(session)
    _steels(session)
    if session.scalar(select(Shop.id)):
        return
    session.add(Shop(id=1, name="My shop"))
    session.add(Person(name=FOUNDER, role="owner"))
    session.flush()


def _steels(session: Session) -> None:
    """The shipped grades the record does not have yet, and the ranges of those it has."""
    known = {row.designation: row for row in session.scalars(select(SteelGrade))}
    for grade in STEELS.values():
        row = known.get(grade.designation)
        if row is None:
            session.add(steel_row(grade))
        elif not row.own and not row.ranges:
            row.ranges = steel_row(grade).ranges
    session.flush()


def _instruments(session: Session) -> None:
    """The usual instruments of every kind the record knows none of, and a reference block."""
    known = set(session.scalars(select(Instrument.kind).distinct()))
    usual: dict[tuple[str, float, float], str] = {}
    for q in TAKEN.values():
        if q.instrument not in known:
            usual.setdefault((q.instrument, q.resolution, q.mpe), q.unit)
    for (kind, resolution, mpe), unit in usual.items():
        name = f"{INSTRUMENT_KINDS[kind].usual_name} {resolution:g} {unit}"
        session.add(Instrument(name=name, kind=kind, resolution=resolution, mpe=mpe, unit=unit))
    if InstrumentKind.REFERENCE_BLOCK not in known:
        session.add(
            Instrument(
                name="reference block 62 HRC",
                kind=InstrumentKind.REFERENCE_BLOCK,
                resolution=0.0,
                mpe=0.4,
                unit="HRC",
                certified=62.0,
            )
        )
    session.flush()

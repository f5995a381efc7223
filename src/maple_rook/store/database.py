"""Connecting, migrating, and the rows every shop starts with."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, select, text
from sqlalchemy.engine import make_url
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.core.quantities import QUANTITIES
from maple_rook.core.steels import STEELS
from maple_rook.store.tables import Instrument, Person, Shop, SteelGrade

APPLICATION_NAME = "maple-rook"
MIGRATIONS = Path(__file__).parent / "migrations"


def connect(url: str) -> Engine:
    """An engine for a PostgreSQL address; ``postgresql://`` means psycopg 3."""
    address = make_url(url)
    if address.drivername in ("postgres", "postgresql"):
        address = address.set(drivername="postgresql+psycopg")
    return create_engine(
        address,
        pool_size=10,
        max_overflow=10,
        pool_pre_ping=True,
        connect_args={"application_name": APPLICATION_NAME, "connect_timeout": 5},
    )


def sessions(engine: Engine) -> sessionmaker[Session]:
    return sessionmaker(engine, expire_on_commit=False)


def migrate(engine: Engine) -> None:
    """Bring the schema to the newest revision; one process at a time."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        connection.execute(text("SELECT pg_advisory_xact_lock(84201)"))
        config.attributes["connection"] = connection
        command.upgrade(config, "head")


_KIND_NAMES = {
    "scale": "bench scale",
    "rule": "steel rule",
    "caliper": "digital caliper",
    "angle gauge": "angle gauge",
    "hardness tester": "bench hardness tester",
    "eye": "by eye",
}


def found_shop(session: Session) -> None:
    """Give an empty database its shop, person, instruments and standard steels."""
    if session.scalar(select(Shop.id)):
        return
    session.add(Shop(id=1, name="My shop"))
    session.add(Person(name="Bench", role="bench hand"))
    finest: dict[tuple[str, float, float], str] = {}
    for q in QUANTITIES.values():
        finest.setdefault((q.instrument, q.resolution, q.mpe), q.unit)
    for (kind, resolution, mpe), unit in finest.items():
        name = f"{_KIND_NAMES[kind]} {resolution:g} {unit}"
        session.add(Instrument(name=name, kind=kind, resolution=resolution, mpe=mpe, unit=unit))
    for grade in STEELS.values():
        session.add(
            SteelGrade(
                designation=grade.designation,
                name=grade.name,
                standard=grade.standard,
                composition=grade.composition,
                carbides=grade.carbides,
                usual_hrc_low=grade.usual_hrc[0],
                usual_hrc_high=grade.usual_hrc[1],
                toughness=grade.toughness,
                sharpening=grade.sharpening,
            )
        )
    session.flush()

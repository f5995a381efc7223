"""The record: migrations, append-only readings, and figures from readings."""

from __future__ import annotations

import datetime as dt
import uuid

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, func, select, text
from sqlalchemy.exc import DBAPIError, IntegrityError
from sqlalchemy.orm import Session

from maple_rook.cluster import Cluster
from maple_rook.core.measurement.places import STATIONS
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import figure
from maple_rook.server import NotADemo, prepare, reset
from maple_rook.store import records
from maple_rook.store.database import MIGRATIONS, connect, found_shop, migrate, sessions
from maple_rook.store.tables import (
    Base,
    Instrument,
    KnifeModel,
    Person,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
    SteelGrade,
)
from shops import new_shop


def quiet(_: str) -> None:
    return None


def add_reading(db: Session, sheet: Sheet, value: float, quantity: str = "weight") -> Reading:
    """A reading put straight into the record."""
    scales = select(Instrument).where(Instrument.kind == "scale").order_by(Instrument.id)
    instrument = db.scalars(scales).first()
    assert instrument is not None
    reading = Reading(
        client_id=uuid.uuid4(),
        sheet_id=sheet.id,
        quantity=quantity,
        typed=f"{value} g",
        value=value,
        unit="g",
        si_value=value,
        si_unit="g",
        instrument_id=instrument.id,
        replicate=1,
        taken_at=dt.datetime.now(dt.UTC),
        person_id=sheet.person_id,
    )
    db.add(reading)
    db.flush()
    return reading


@pytest.fixture
def sheet(db: Session) -> Sheet:
    """A fresh sheet of a fresh piece; rolled back with the session."""
    piece = Piece(
        model=db.scalars(select(KnifeModel).limit(1)).one(), tag=f"T-{uuid.uuid4().hex[:8]}"
    )
    made = Sheet(piece=piece, person=db.scalars(select(Person).limit(1)).one())
    db.add(made)
    db.flush()
    return made


def test_the_migrations_make_exactly_the_tables(engine: Engine) -> None:
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Base.metadata) == []


def test_every_demo_reading_at_a_named_station_says_where_along_the_edge(db: Session) -> None:
    at_station = select(func.count()).where(Reading.station.in_(STATIONS))
    assert (db.scalar(at_station) or 0) > 100
    assert db.scalar(at_station.where(Reading.station_mm.is_(None))) == 0


def test_migrating_twice_changes_nothing(engine: Engine) -> None:
    migrate(engine)
    with engine.connect() as connection:
        revision = connection.scalar(text("SELECT version_num FROM alembic_version"))
    assert revision == ScriptDirectory(str(MIGRATIONS)).get_current_head()


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE readings SET si_value = 1",
        "DELETE FROM readings",
        "TRUNCATE readings CASCADE",
        "UPDATE reading_voids SET reason = 'x'",
        "DELETE FROM reading_voids",
    ],
)
def test_readings_and_voids_cannot_be_changed(db: Session, statement: str) -> None:
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text(statement))


def test_nan_and_infinity_never_enter_the_record(db: Session, sheet: Sheet) -> None:
    with pytest.raises(IntegrityError, match="finite"):
        add_reading(db, sheet, float("nan"))
    db.rollback()


def test_figures_are_the_cores_arithmetic(db: Session, sheet: Sheet) -> None:
    values = [186.0, 187.0, 185.0]
    for value in values:
        add_reading(db, sheet, value)
    found = records.figures(db, [sheet.piece_id])[sheet.piece_id]["weight"]
    expected = figure(values, 1, 1, QUANTITIES["weight"].repeatability)
    assert found.mean == pytest.approx(expected.mean)
    assert found.standard_uncertainty == pytest.approx(expected.standard_uncertainty)
    assert (found.n, found.spread) == (3, 2.0)


def test_a_voided_reading_no_longer_counts_but_stays(db: Session, sheet: Sheet) -> None:
    add_reading(db, sheet, 186)
    wrong = add_reading(db, sheet, 681)
    db.add(ReadingVoid(reading_id=wrong.id, reason="digits swapped", person_id=sheet.person_id))
    db.flush()
    assert records.sheet_figures(db, sheet.id)["weight"].mean == 186
    assert db.scalar(select(func.count()).where(Reading.sheet_id == sheet.id)) == 2


def test_the_newest_sheet_counts_for_each_quantity(db: Session, sheet: Sheet) -> None:
    add_reading(db, sheet, 186)
    add_reading(db, sheet, 210, "edge_length")
    later = Sheet(piece_id=sheet.piece_id, person_id=sheet.person_id)
    db.add(later)
    db.flush()
    add_reading(db, later, 181)
    found = records.figures(db, [sheet.piece_id])[sheet.piece_id]
    assert found["weight"].mean == 181
    assert found["edge_length"].mean == 210


def test_pieces_come_in_the_order_asked_and_unknown_ones_are_named(db: Session) -> None:
    assert [p.id for p in records.pieces(db, [3, 1, 2])] == [3, 1, 2]
    with pytest.raises(records.NotFound, match="There is no piece 999999"):
        records.pieces(db, [1, 999_999])
    assert records.existing(db, [2, 999_999, 1, 2]) == [2, 1]


def test_the_demo_shop_has_what_a_visitor_should_find(db: Session) -> None:
    stock = records.pieces(db)
    assert len(stock) >= 12
    assert len({p.model.grind for p in stock}) >= 8
    assert db.scalar(select(func.count()).select_from(SteelGrade)) >= 10
    figures = records.figures(db)
    hardness = {p.tag: figures[p.id]["hardness"].mean for p in stock if "hardness" in figures[p.id]}
    assert min(hardness.values()) < 50
    assert any(p.condition == "used" for p in stock)


def test_a_new_shop_has_people_instruments_and_steels_but_no_knives(cluster: Cluster) -> None:
    cluster.ensure_database("empty")
    engine = connect(cluster.url("empty"))
    prepare(engine, is_demo=False, say=quiet)
    with sessions(engine)() as session:
        found_shop(session)
        assert session.scalar(select(func.count()).select_from(Person)) == 1
        assert session.scalar(select(func.count()).select_from(Piece)) == 0
    engine.dispose()


def test_a_record_of_the_first_revision_is_carried_over_whole(cluster: Cluster) -> None:
    """Back to 0001 and forward again: every reading as it was, and the kinds it lacked added."""
    engine = connect(cluster.url(new_shop(cluster, demo=True)))
    with sessions(engine)() as session:
        session.execute(text("DELETE FROM instruments WHERE kind = 'edge_tester'"))
        session.commit()
        before = session.execute(text("SELECT id, typed, si_value FROM readings ORDER BY id")).all()
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.downgrade(config, "0001")
    prepare(engine, is_demo=True, say=quiet)
    with sessions(engine)() as session:
        after = session.execute(text("SELECT id, typed, si_value FROM readings ORDER BY id")).all()
        assert after == before
        assert "edge_tester" in set(session.scalars(select(Instrument.kind)))
    engine.dispose()


def test_resetting_the_demo_brings_it_back_as_it_was(cluster: Cluster) -> None:
    engine = connect(cluster.url(new_shop(cluster, demo=True)))
    with sessions(engine)() as session:
        before = records.figures(session)
        session.add(Piece(model_id=1, tag="EXTRA"))
        session.commit()
    reset(engine, say=quiet)
    with sessions(engine)() as session:
        assert records.figures(session) == before
        assert "EXTRA" not in {p.tag for p in records.pieces(session)}
    engine.dispose()


def test_demo_commands_leave_a_real_shop_alone(cluster: Cluster) -> None:
    engine = connect(cluster.url(new_shop(cluster, demo=True)))
    with engine.begin() as connection:
        connection.execute(text("UPDATE shop SET demo = false, name = 'A real shop'"))
    with pytest.raises(NotADemo, match="A real shop"):
        prepare(engine, is_demo=True, say=quiet)
    with pytest.raises(NotADemo, match="nothing was changed"):
        reset(engine, say=quiet)
    with sessions(engine)() as session:
        assert records.pieces(session)
    engine.dispose()

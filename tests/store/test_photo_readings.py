"""Readings from photos beside those of instruments, and what a traced spine does to the lines."""

from __future__ import annotations

import datetime as dt
import math
import uuid
from collections.abc import Iterator

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session
from tests.keeper import keeper

from maple_rook.cluster import Cluster
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.geometry.outline import Lines, heights_mm, outline
from maple_rook.core.geometry.profile import EdgeCurve
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.plausibility import parse_reading
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.core.measurement.uncertainty import Figure, type_b
from maple_rook.store import records
from maple_rook.store.database import sessions
from maple_rook.store.readings import NewReading, Told
from maple_rook.store.stored_predictions import MadeWith, made_with, stored
from maple_rook.store.tables import (
    EdgeTrace,
    Instrument,
    KnifeModel,
    Maker,
    Person,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
)
from shops import shop_engine

CALIPER_U = math.hypot(type_b(0.1, 0.1), QUANTITIES["height_heel"].repeatability)
EARLIER = dt.datetime(2026, 10, 1, 9, tzinfo=dt.UTC)


@pytest.fixture(scope="module")
def engine(cluster: Cluster) -> Iterator[Engine]:
    with shop_engine(cluster) as made:
        yield made


@pytest.fixture
def sheet(engine: Engine) -> Iterator[tuple[Session, Sheet]]:
    with sessions(engine)() as db:
        maker = Maker(name=uuid.uuid4().hex[:12])
        model = KnifeModel(
            maker=maker, line="One", knife_type="gyuto", nominal_mm=210.0, grind="full_flat"
        )
        made = Sheet(
            piece=Piece(model=model, tag=uuid.uuid4().hex[:12]),
            started_at=EARLIER,
            person_id=db.scalars(select(Person.id)).first(),
        )
        db.add(made)
        db.commit()
        yield db, made


def read(
    engine: Engine, sheet_id: int, value: float, u: float | None = None, method: str = "manual"
) -> uuid.UUID:
    key = uuid.uuid4()
    with sessions(engine)() as db:
        tool = db.scalars(select(Instrument.id).where(Instrument.resolution == 0.1)).first()
        person = db.scalars(select(Person.id)).first()
    typed = parse_reading("height_heel", f"{value} mm")
    taken = TakenReading(
        key,
        QUANTITIES["height_heel"],
        typed,
        EARLIER,
        method=method,
        station="",
        standard_uncertainty=u,
    )
    assert person is not None
    with keeper(engine) as store:
        assert store.keep(NewReading(sheet_id, taken, person, tool)).told is Told.KEPT
    return key


def figure(db: Session, sheet: Sheet) -> Figure:
    db.expire_all()
    return records.figures(db, [sheet.piece_id])[sheet.piece_id]["height_heel"]


def test_a_photo_counts_until_an_instrument_has_read_and_again_when_that_is_voided(
    engine: Engine, sheet: tuple[Session, Sheet]
) -> None:
    db, own = sheet
    read(engine, own.id, 46.3, u=0.17, method=records.PHOTO)
    alone = figure(db, own)
    assert (alone.mean, alone.standard_uncertainty) == pytest.approx((46.3, 0.17))
    key = read(engine, own.id, 46.0)
    both = figure(db, own)
    assert (both.mean, both.n) == (46.0, 1)
    assert both.standard_uncertainty == pytest.approx(CALIPER_U)
    row = db.scalars(select(Reading).where(Reading.client_id == key)).one()
    db.add(ReadingVoid(reading_id=row.id, reason="slipped", person_id=row.person_id))
    db.commit()
    assert figure(db, own) == alone
    assert set(records.sheet_figures(db, own.id)) == {"height_heel"}


def test_a_newer_sheet_goes_before_an_older_one_whatever_it_was_read_with(
    engine: Engine, sheet: tuple[Session, Sheet]
) -> None:
    db, own = sheet
    read(engine, own.id, 46.0)
    later = Sheet(
        piece_id=own.piece_id, person_id=own.person_id, started_at=EARLIER + dt.timedelta(days=30)
    )
    db.add(later)
    db.commit()
    read(engine, later.id, 45.2, u=0.2, method=records.PHOTO)
    assert figure(db, own).mean == 45.2


def test_repeats_of_photos_average_and_the_worst_of_them_is_stated(
    engine: Engine, sheet: tuple[Session, Sheet]
) -> None:
    db, own = sheet
    for value, u in ((46.0, 0.1), (46.4, 0.3)):
        read(engine, own.id, value, u=u, method=records.PHOTO)
    both = figure(db, own)
    assert (both.mean, both.n) == (pytest.approx(46.2), 2)
    repeats = 0.2 * np.sqrt(2) / np.sqrt(2)
    assert both.standard_uncertainty == pytest.approx(np.hypot(repeats, 0.3), rel=1e-6)


def test_a_traced_spine_is_kept_with_the_blade_and_with_its_predictions(
    sheet: tuple[Session, Sheet],
) -> None:
    db, own = sheet
    edge = [[float(x), 0.0 if x < 120 else (x - 120) ** 2 / 600] for x in range(0, 211, 5)]
    spine = [[0.0, 47.0], [120.0, 44.0], [210.0, 13.5]]
    db.add(
        EdgeTrace(
            client_id=uuid.uuid4(),
            sheet_id=own.id,
            source=records.PHOTO,
            points=edge,
            spine=spine,
            taken_at=EARLIER,
            person_id=own.person_id,
        )
    )
    db.commit()
    blade = records.blade_of(db, own.piece_id)
    assert blade.traced is not None
    assert blade.traced.spine is not None
    assert blade.traced.spine.tolist() == spine
    made = MadeWith(blade, Kitchen(), (), PUBLISHED_LIFE, 100)
    again = made_with(stored(made)).blade
    assert again.traced is not None
    assert again.traced.spine is not None
    assert np.array_equal(again.traced.spine, blade.traced.spine)
    share = np.linspace(0, 1, 30)
    assert np.array_equal(again.lines().spine(share), blade.lines().spine(share))


@given(st.floats(30, 60), st.floats(0.85, 1.1), st.floats(0.7, 1.0))
def test_a_traced_spine_passes_through_what_is_measured_and_never_under_the_edge(
    height: float, middle: float, front: float
) -> None:
    x = np.linspace(0, 205, 80)
    low = 14 * np.clip((x - 80) / 125, 0, 1) ** 2
    high = 46 - 32 * np.clip((x - 60) / 145, 0, 1) ** 2.2
    traced = EdgeCurve(x, low, np.column_stack([x, np.maximum(high, low)]))
    measured = {"height_heel": height, "height_mid": middle * 40, "height_front": front * 24}
    figures = {key: Figure(value, 0.1) for key, value in measured.items()}
    figures["edge_length"] = Figure(210.0, 0.2)
    lines = Lines(KNIFE_TYPES["gyuto"].shape, 210.0, height, figures, traced)
    at = heights_mm(lines, np.array([0.0, 0.5, 0.8]))
    assert at == pytest.approx([height, middle * 40, front * 24], abs=1e-6)
    assert np.all(heights_mm(lines, np.linspace(0, 1, 50)) >= 0)
    drawn = outline(figures, "gyuto", 210.0, traced)
    assert max(y for _, y in drawn.blade) >= height - 0.006

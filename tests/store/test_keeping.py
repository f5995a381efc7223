"""One reading kept once, and what the record makes of blocks, sheets and observations."""

from __future__ import annotations

import datetime as dt
import threading
import uuid
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import pytest
from sqlalchemy import Engine, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session
from tests.keeper import Keeper, keeper

from maple_rook.core.measurement.hardness_session import INDENT_HEIGHT
from maple_rook.core.measurement.plausibility import parse_reading
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.reading import TakenReading
from maple_rook.store import records
from maple_rook.store.readings import NewReading, Told, keep_many
from maple_rook.store.tables import (
    Instrument,
    Observation,
    Person,
    Photo,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
)


@pytest.fixture
def store(engine: Engine) -> Iterator[Keeper]:
    with keeper(engine) as made:
        yield made


@pytest.fixture
def sheet(db: Session) -> int:
    """An open sheet of a new piece of the first model, committed."""
    piece = Piece(model_id=1, tag=f"K-{uuid.uuid4().hex[:8]}")
    made = Sheet(piece=piece, person_id=db.scalars(select(Person.id).order_by(Person.id)).first())
    db.add(made)
    db.commit()
    return made.id


TAKEN_AT = dt.datetime(2026, 3, 1, 9, tzinfo=dt.UTC)


def new(
    sheet: int,
    quantity: str = "weight",
    spoken: str = "186 g",
    reference_id: int | None = None,
    **more: Any,
) -> NewReading:
    q = QUANTITIES[quantity]
    typed = parse_reading(quantity, spoken)
    key = more.pop("key", None) or uuid.uuid4()
    taken = TakenReading(key, q, typed, TAKEN_AT, method="manual")
    return NewReading(sheet, replace(taken, **more), 1, reference_id=reference_id)


def kept(db: Session, sheet: int) -> list[Reading]:
    db.rollback()
    return list(db.scalars(select(Reading).where(Reading.sheet_id == sheet).order_by(Reading.id)))


def test_a_reading_is_kept_with_all_it_was_given(store: Keeper, sheet: int, db: Session) -> None:
    given = new(sheet, above_edge_mm=24.0, along_mm=40.0, method="instrument")
    told = store.keep(given)
    assert (told.told, told.sheet_id, told.replicate) == (Told.KEPT, sheet, 1)
    (reading,) = kept(db, sheet)
    assert reading.id == told.id
    assert (reading.above_edge_mm, reading.station_mm, reading.method) == (24.0, 40.0, "instrument")
    assert reading.taken_at == TAKEN_AT


def test_the_same_reading_is_known_by_its_id_even_from_another_sheet(
    store: Keeper, sheet: int, db: Session
) -> None:
    given = new(sheet)
    first = store.keep(given)
    again = store.keep(new(sheet, spoken="999 g", key=given.taken.key))
    assert (again.told, again.id) == (Told.KNOWN, first.id)
    other = db.scalars(select(Sheet.id).where(Sheet.finished_at.is_not(None))).first()
    assert other is not None
    assert store.keep(replace(given, sheet_id=other))[:3] == (Told.KNOWN, first.id, sheet)
    assert [r.value for r in kept(db, sheet)] == [186.0]


def test_a_signed_off_sheet_and_an_unknown_one_keep_nothing(store: Keeper, db: Session) -> None:
    closed = db.scalars(select(Sheet.id).where(Sheet.finished_at.is_not(None))).first()
    assert closed is not None
    before = len(kept(db, closed))
    assert store.keep(new(closed)).told is Told.SIGNED_OFF
    assert store.keep(new(999_999)).told is Told.NO_SHEET
    assert len(kept(db, closed)) == before
    assert store.knife_type(999_999) is None


def test_repeats_are_numbered_without_gap_or_double_under_load(
    store: Keeper, sheet: int, db: Session
) -> None:
    same = [new(sheet) for _ in range(5)]

    def bench() -> None:
        for given in same:
            store.keep(given)
        for _ in range(5):
            store.keep(new(sheet))

    benches = [threading.Thread(target=bench) for _ in range(6)]
    for thread in benches:
        thread.start()
    for thread in benches:
        thread.join()
    numbers = sorted(r.replicate for r in kept(db, sheet))
    assert numbers == list(range(1, 5 + 6 * 5 + 1))


@pytest.mark.parametrize(
    ("station", "along"), [("heel", 0.0), ("middle", 104.5), ("10 mm from tip", 199.0)]
)
@pytest.mark.parametrize("together", [False, True], ids=["one at a time", "many together"])
def test_a_named_station_is_placed_along_the_measured_edge(
    store: Keeper, sheet: int, db: Session, station: str, along: float, together: bool
) -> None:
    keep_all(db, store, [new(sheet, "spine_mid", "2.0 mm", station=station)], together=together)
    keep_all(db, store, [new(sheet, "edge_length", "209 mm")], together=together)
    keep_all(db, store, [new(sheet, "spine_mid", "2.0 mm", station=station)], together=together)
    before, _, after = kept(db, sheet)
    assert before.station_mm == (0.0 if station == "heel" else None)
    assert after.station_mm == pytest.approx(along)
    assert after.replicate == 2


def keep_all(db: Session, store: Keeper, readings: list[NewReading], *, together: bool) -> None:
    """By either way into the record; both follow the same rules."""
    if together:
        keep_many(db, readings)
        db.commit()
    else:
        for reading in readings:
            store.keep(reading)


@pytest.mark.parametrize("together", [False, True], ids=["one at a time", "many together"])
def test_the_usual_instrument_is_the_one_of_its_resolution_and_never_a_block(
    store: Keeper, sheet: int, db: Session, together: bool
) -> None:
    spoken = {"edge_length": "209 mm", "spine_heel": "2.2 mm", "hardness": "61 HRC"}
    keep_all(db, store, [new(sheet, key, said) for key, said in spoken.items()], together=together)
    for reading in kept(db, sheet):
        q = QUANTITIES[reading.quantity]
        assert reading.instrument.kind == q.instrument
        assert reading.instrument.resolution == q.resolution
        assert reading.instrument.certified is None


def hardness(
    db: Session, store: Keeper, sheet: int, block: float | None, blade: float, **more: Any
) -> records.Figures:
    """Figures of the sheet's piece after block readings and blade readings, two of each."""
    reference = db.scalars(select(Instrument.id).where(Instrument.certified == 62.0)).first()
    for _ in range(2):
        if block is not None:
            said = f"{block} HRC"
            store.keep(new(sheet, "hardness_block", said, reference_id=reference))
        store.keep(new(sheet, "hardness", f"{blade} HRC", **more))
    db.rollback()
    piece = db.scalars(select(Sheet.piece_id).where(Sheet.id == sheet)).one()
    return records.figures(db, [piece])[piece]


def test_hardness_is_corrected_by_the_block_of_its_own_sheet(
    store: Keeper, sheet: int, db: Session
) -> None:
    assert hardness(db, store, sheet, 62.5, 60.0)["hardness"].mean == pytest.approx(59.5)


def test_a_block_of_an_earlier_sheet_corrects_nothing_later(
    store: Keeper, sheet: int, db: Session
) -> None:
    hardness(db, store, sheet, 64.0, 60.0)
    piece = db.scalars(select(Sheet.piece_id).where(Sheet.id == sheet)).one()
    later = Sheet(piece_id=piece, person_id=1)
    db.add(later)
    db.commit()
    found = hardness(db, store, later.id, None, 61.0)
    assert found["hardness"].mean == pytest.approx(61.0)
    assert found["hardness"].expanded > 1.5  # the tester's permissible error is back


def test_the_lowest_indent_is_remembered_with_the_figures(
    store: Keeper, sheet: int, db: Session
) -> None:
    assert INDENT_HEIGHT not in hardness(db, store, sheet, 62.0, 60.0)
    hardness(db, store, sheet, 62.0, 60.0, above_edge_mm=24.0)
    found = hardness(db, store, sheet, 62.0, 60.0, above_edge_mm=9.0)
    assert found[INDENT_HEIGHT].mean == 9.0


def test_a_voided_block_reading_no_longer_corrects(store: Keeper, sheet: int, db: Session) -> None:
    hardness(db, store, sheet, 62.5, 60.0)
    for reading in kept(db, sheet):
        if reading.quantity == "hardness_block":
            db.add(ReadingVoid(reading_id=reading.id, reason="wrong block", person_id=1))
    db.commit()
    piece = db.scalars(select(Sheet.piece_id).where(Sheet.id == sheet)).one()
    assert records.figures(db, [piece])[piece]["hardness"].mean == pytest.approx(60.0)


def see(db: Session, sheet: int, value: str, item: str = "tang", aspect: str = "") -> Observation:
    made = Observation(
        client_id=uuid.uuid4(),
        sheet_id=sheet,
        item=item,
        aspect=aspect,
        value=value,
        note="",
        taken_at=dt.datetime.now(dt.UTC),
        person_id=1,
    )
    db.add(made)
    db.commit()
    return made


def test_the_newest_observation_of_each_item_and_side_stands(sheet: int, db: Session) -> None:
    for value, aspect in (("full", ""), ("fine", "left"), ("minor", "right"), ("hidden", "")):
        see(db, sheet, value, aspect=aspect)
    standing = {(o.item, o.aspect): o.value for o in records.observations(db, [sheet])}
    assert standing == {
        ("tang", ""): "hidden",
        ("tang", "left"): "fine",
        ("tang", "right"): "minor",
    }
    see(db, sheet, "withdrawn", aspect="left")
    assert ("tang", "left") not in {(o.item, o.aspect) for o in records.observations(db, [sheet])}


def test_what_was_seen_becomes_the_facts_the_order_of_work_depends_on(
    sheet: int, db: Session
) -> None:
    see(db, sheet, "clad_three", "construction")
    see(db, sheet, "stamped", "making")
    model = db.scalars(select(Piece).join(Sheet).where(Sheet.id == sheet)).one().model
    facts = records.knife_facts(model, records.observations(db, [sheet]))
    assert (facts.clad, facts.stamped) == (True, True)
    assert records.knife_facts(model).clad is False


@pytest.mark.parametrize("table", ["observations", "photos", "readings", "reading_voids"])
@pytest.mark.parametrize("verb", ["UPDATE {} SET person_id = person_id", "DELETE FROM {}"])
def test_nothing_entered_at_the_bench_is_ever_changed(
    sheet: int, db: Session, table: str, verb: str
) -> None:
    see(db, sheet, "full")
    db.add(
        Photo(
            client_id=uuid.uuid4(),
            sheet_id=sheet,
            media_type="image/png",
            content=b"x",
            person_id=1,
        )
    )
    db.commit()
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text(verb.format(table)))
    db.rollback()

"""One reading kept once, and what the record makes of blocks, sheets and observations."""

from __future__ import annotations

import datetime as dt
import threading
import uuid
from collections.abc import Iterator
from typing import Any

import pytest
from sqlalchemy import Engine, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from maple_rook.core.measurement.hardness_session import INDENT_HEIGHT
from maple_rook.store import records
from maple_rook.store.readings import ReadingStore, Told
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
def store(engine: Engine) -> Iterator[ReadingStore]:
    made = ReadingStore(engine)
    yield made
    made.close()


@pytest.fixture
def sheet(db: Session) -> int:
    """An open sheet of a new piece of the first model, committed."""
    piece = Piece(model_id=1, tag=f"K-{uuid.uuid4().hex[:8]}")
    made = Sheet(piece=piece, person_id=db.scalars(select(Person.id).order_by(Person.id)).first())
    db.add(made)
    db.commit()
    return made.id


def row(sheet: int, quantity: str = "weight", value: float = 186.0, **more: Any) -> dict[str, Any]:
    usual = {
        "client_id": str(uuid.uuid4()),
        "sheet_id": sheet,
        "quantity": quantity,
        "typed": f"{value} g",
        "value": value,
        "unit": "g",
        "si_value": value,
        "si_unit": "g",
        "instrument_id": None,
        "kinds": ["scale"],
        "resolution": 1,
        "method": "manual",
        "station": "",
        "unusual_confirmed": False,
        "taken_at": "2026-03-01T09:00:00+00:00",
        "person_id": 1,
    }
    return {**usual, **more}


def kept(db: Session, sheet: int) -> list[Reading]:
    db.rollback()
    return list(db.scalars(select(Reading).where(Reading.sheet_id == sheet).order_by(Reading.id)))


def test_a_reading_is_kept_with_all_it_was_given(
    store: ReadingStore, sheet: int, db: Session
) -> None:
    given = row(sheet, above_edge_mm=24.0, station_mm=40.0, method="instrument")
    told = store.keep(given)
    assert (told.told, told.sheet_id, told.replicate) == (Told.KEPT, sheet, 1)
    (reading,) = kept(db, sheet)
    assert reading.id == told.id
    assert (reading.above_edge_mm, reading.station_mm, reading.method) == (24.0, 40.0, "instrument")
    assert reading.taken_at == dt.datetime(2026, 3, 1, 9, tzinfo=dt.UTC)


def test_the_same_reading_is_known_by_its_id_even_from_another_sheet(
    store: ReadingStore, sheet: int, db: Session
) -> None:
    given = row(sheet)
    first = store.keep(given)
    again = store.keep({**given, "value": 999.0})
    assert (again.told, again.id) == (Told.KNOWN, first.id)
    other = db.scalars(select(Sheet.id).where(Sheet.finished_at.is_not(None))).first()
    assert store.keep({**given, "sheet_id": other})[:3] == (Told.KNOWN, first.id, sheet)
    assert [r.value for r in kept(db, sheet)] == [186.0]


def test_a_signed_off_sheet_and_an_unknown_one_keep_nothing(
    store: ReadingStore, db: Session
) -> None:
    closed = db.scalars(select(Sheet.id).where(Sheet.finished_at.is_not(None))).first()
    assert closed is not None
    before = len(kept(db, closed))
    assert store.keep(row(closed)).told is Told.SIGNED_OFF
    assert store.keep(row(999_999)).told is Told.NO_SHEET
    assert len(kept(db, closed)) == before
    assert store.knife_type(999_999) is None


def test_repeats_are_numbered_without_gap_or_double_under_load(
    store: ReadingStore, sheet: int, db: Session
) -> None:
    same = [row(sheet) for _ in range(5)]

    def bench() -> None:
        for given in same:
            store.keep(given)
        for _ in range(5):
            store.keep(row(sheet))

    benches = [threading.Thread(target=bench) for _ in range(6)]
    for thread in benches:
        thread.start()
    for thread in benches:
        thread.join()
    numbers = sorted(r.replicate for r in kept(db, sheet))
    assert numbers == list(range(1, 5 + 6 * 5 + 1))


@pytest.mark.parametrize(
    ("station", "share", "offset", "along"),
    [("heel", 0.0, 0.0, 0.0), ("middle", 0.5, 0.0, 104.5), ("10 mm from tip", 1.0, -10.0, 199.0)],
)
def test_a_named_station_is_placed_along_the_measured_edge(
    store: ReadingStore,
    sheet: int,
    db: Session,
    station: str,
    share: float,
    offset: float,
    along: float,
) -> None:
    spine = {"kinds": ["caliper"], "resolution": 0.01, "unit": "mm", "si_unit": "mm"}
    store.keep(
        row(sheet, "spine_mid", 2.0, **spine, station=station, share=share, offset_mm=offset)
    )
    store.keep(row(sheet, "edge_length", 209.0, **spine))
    store.keep(
        row(sheet, "spine_mid", 2.0, **spine, station=station, share=share, offset_mm=offset)
    )
    before, _, after = kept(db, sheet)
    assert before.station_mm is None
    assert after.station_mm == pytest.approx(along)


def test_the_usual_instrument_is_the_one_of_its_resolution_and_never_a_block(
    store: ReadingStore, sheet: int, db: Session
) -> None:
    for kind, resolution in (("caliper", 0.1), ("caliper", 0.01), ("hardness_tester", 0.5)):
        store.keep(row(sheet, kinds=[kind], resolution=resolution))
    found = [(r.instrument.kind, r.instrument.resolution) for r in kept(db, sheet)]
    assert found == [("caliper", 0.1), ("caliper", 0.01), ("hardness_tester", 0.5)]
    assert all(r.instrument.certified is None for r in kept(db, sheet))


def hardness(
    db: Session, store: ReadingStore, sheet: int, block: float | None, blade: float, **more: Any
) -> records.Figures:
    """Figures of the sheet's piece after block readings and blade readings, two of each."""
    reference = db.scalars(select(Instrument.id).where(Instrument.certified == 62.0)).first()
    tester = {"kinds": ["hardness_tester"], "resolution": 0.5, "unit": "HRC", "si_unit": "HRC"}
    for _ in range(2):
        if block is not None:
            store.keep(row(sheet, "hardness_block", block, reference_id=reference, **tester))
        store.keep(row(sheet, "hardness", blade, **tester, **more))
    db.rollback()
    piece = db.scalars(select(Sheet.piece_id).where(Sheet.id == sheet)).one()
    return records.figures(db, [piece])[piece]


def test_hardness_is_corrected_by_the_block_of_its_own_sheet(
    store: ReadingStore, sheet: int, db: Session
) -> None:
    assert hardness(db, store, sheet, 62.5, 60.0)["hardness"].mean == pytest.approx(59.5)


def test_a_block_of_an_earlier_sheet_corrects_nothing_later(
    store: ReadingStore, sheet: int, db: Session
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
    store: ReadingStore, sheet: int, db: Session
) -> None:
    assert INDENT_HEIGHT not in hardness(db, store, sheet, 62.0, 60.0)
    hardness(db, store, sheet, 62.0, 60.0, above_edge_mm=24.0)
    found = hardness(db, store, sheet, 62.0, 60.0, above_edge_mm=9.0)
    assert found[INDENT_HEIGHT].mean == 9.0


def test_a_voided_block_reading_no_longer_corrects(
    store: ReadingStore, sheet: int, db: Session
) -> None:
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

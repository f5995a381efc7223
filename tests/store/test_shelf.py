"""The shelf that is kept says what the record says: sorted, counted and recalculated alike."""

from __future__ import annotations

import datetime as dt
import os
import time
import uuid
from collections.abc import Callable, Iterator, Sequence
from typing import Any

import numpy as np
import pytest
from sqlalchemy import Engine, delete, func, select, text
from sqlalchemy.orm import Session

from maple_rook.cluster import Cluster
from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.prediction.model_cards import keys
from maple_rook.shelf import helped, projection
from maple_rook.shelf.knife import ShelfKnife, computed
from maple_rook.shelf.overview import BINS, Overview
from maple_rook.shelf.projection import Shelf
from maple_rook.shelf.query import FIGURE_KEYS, RANGE_KEYS, ShelfQuery, _order, chosen
from maple_rook.shelf.rows import shelf_row
from maple_rook.store import records
from maple_rook.store import shelf as shelf_store
from maple_rook.store.database import sessions
from maple_rook.store.foods import keep_food, shop_foods
from maple_rook.store.shelf_tables import ShelfRow, ShelfStale
from maple_rook.store.tables import Claim, EdgeTrace, Observation, Piece, Reading, Sheet
from maple_rook.store.upkeep_tables import RepairRow, WorkEventRow
from shops import shop_engine

NOW = dt.datetime(2026, 11, 20, tzinfo=dt.UTC)
Writes = Callable[[Session, Sheet], None]


@pytest.fixture(scope="module")
def shop(cluster: Cluster) -> Iterator[Engine]:
    """A demo shop of this module's own: what is committed here is nobody else's."""
    with shop_engine(cluster, demo=True) as engine:
        yield engine


@pytest.fixture
def at_rest(shop: Engine) -> Iterator[Session]:
    """A session on a shelf that is fully calculated."""
    with sessions(shop)() as session:
        while Shelf().work_out(session, 200):
            pass
        yield session
        session.rollback()


def a_sheet(db: Session, tag: str = "KH-01") -> Sheet:
    return db.scalars(select(Sheet).join(Piece).where(Piece.tag == tag).limit(1)).one()


def read(db: Session, sheet: Sheet, grams: float = 190.0) -> Reading:
    like = db.scalars(select(Reading).where(Reading.quantity == "weight").limit(1)).one()
    row = Reading(
        client_id=uuid.uuid4(),
        sheet_id=sheet.id,
        quantity="weight",
        typed=f"{grams} g",
        value=grams,
        unit="g",
        si_value=grams,
        si_unit="g",
        instrument_id=like.instrument_id,
        replicate=1,
        taken_at=NOW,
        person_id=sheet.person_id,
    )
    db.add(row)
    db.flush()
    return row


def see(db: Session, sheet: Sheet) -> None:
    db.add(
        Observation(
            client_id=uuid.uuid4(),
            sheet_id=sheet.id,
            item="surface",
            value="polished",
            taken_at=NOW,
            person_id=sheet.person_id,
        )
    )


def traced(db: Session, sheet: Sheet) -> None:
    db.add(
        EdgeTrace(
            client_id=uuid.uuid4(),
            sheet_id=sheet.id,
            source="columns",
            taken_at=NOW,
            points=[[0, 0], [209, 12]],
            person_id=sheet.person_id,
        )
    )


def claimed(db: Session, sheet: Sheet) -> None:
    db.add(
        Claim(model_id=sheet.piece.model_id, quantity="weight", printed="200 g", low=200, high=200)
    )


def struck_out(db: Session, sheet: Sheet) -> None:
    db.execute(
        text("""
        INSERT INTO reading_voids (reading_id, reason, person_id)
        SELECT max(id), 'digits swapped', :person FROM readings WHERE sheet_id = :sheet
    """),
        {"sheet": sheet.id, "person": sheet.person_id},
    )


def sql(statement: str) -> Writes:
    def write(db: Session, sheet: Sheet) -> None:
        db.execute(text(statement), {"piece": sheet.piece_id})

    return write


def one_reading(db: Session, sheet: Sheet) -> None:
    read(db, sheet)


_OF_MODEL = "(SELECT model_id FROM pieces WHERE id = :piece)"
WRITTEN: dict[str, tuple[Writes, str]] = {
    "a reading": (one_reading, "piece"),
    "a struck-out reading": (struck_out, "piece"),
    "an observation": (see, "piece"),
    "a traced edge": (traced, "piece"),
    "another tag": (sql("UPDATE pieces SET tag = tag || 'b' WHERE id = :piece"), "piece"),
    "a claim": (claimed, "model"),
    "a claim taken back": (sql(f"DELETE FROM claims WHERE model_id = {_OF_MODEL}"), "model"),
    "a price": (sql(f"UPDATE knife_models SET price = 99 WHERE id = {_OF_MODEL}"), "model"),
    "a maker's name": (
        sql(
            "UPDATE makers SET name = name || '!' WHERE id = (SELECT maker_id FROM "
            f"knife_models WHERE id = {_OF_MODEL})"
        ),
        "maker",
    ),
    "a grade": (
        sql(
            "UPDATE steels SET toughness = toughness WHERE id = (SELECT steel_id FROM "
            f"knife_models WHERE id = {_OF_MODEL})"
        ),
        "steel",
    ),
    "an instrument's error": (
        sql(
            "UPDATE instruments SET mpe = mpe + 1 WHERE id IN (SELECT "
            "instrument_id FROM readings JOIN sheets s ON s.id = sheet_id "
            "WHERE piece_id = :piece)"
        ),
        "instrument",
    ),
}


def touched_with(db: Session, piece: Piece, by: str) -> set[int]:
    """The pieces that something of this one's is shared with."""
    if by == "instrument":
        of = select(Reading.instrument_id).join(Sheet).where(Sheet.piece_id == piece.id)
        sheets = select(Sheet.piece_id).join(Reading).where(Reading.instrument_id.in_(of))
        return set(db.scalars(sheets))
    alike = {
        "piece": lambda p: p.id,
        "model": lambda p: p.model_id,
        "maker": lambda p: p.model.maker_id,
        "steel": lambda p: p.model.steel_id,
    }[by]
    return {p.id for p in records.pieces(db) if alike(p) == alike(piece)}


@pytest.mark.parametrize("what", WRITTEN)
def test_whatever_is_written_of_a_piece_makes_it_wait_and_no_other(
    at_rest: Session, what: str
) -> None:
    writes, by = WRITTEN[what]
    sheet = a_sheet(at_rest)
    expected = touched_with(at_rest, sheet.piece, by)
    writes(at_rest, sheet)
    at_rest.flush()
    assert set(at_rest.scalars(select(ShelfStale.piece_id))) == expected
    assert len(expected) >= 1


def test_work_done_on_a_piece_makes_it_wait(at_rest: Session) -> None:
    repair = at_rest.scalars(select(RepairRow).limit(1)).one()
    order = repair.order
    at_rest.add(
        WorkEventRow(
            client_id=uuid.uuid4(),
            repair_id=repair.id,
            kind="note",
            note="seen",
            person_id=order.person_id,
        )
    )
    at_rest.flush()
    assert list(at_rest.scalars(select(ShelfStale.piece_id))) == [order.piece_id]


def test_a_renamed_instrument_changes_no_figure(at_rest: Session) -> None:
    at_rest.execute(text("UPDATE instruments SET name = name || ' (old)'"))
    assert at_rest.scalar(select(func.count()).select_from(ShelfStale)) == 0


def test_one_piece_of_work_done_says_once_that_a_piece_changed(at_rest: Session) -> None:
    sheet = a_sheet(at_rest)
    for grams in (190, 191, 192):
        read(at_rest, sheet, grams)
    assert list(at_rest.scalars(select(ShelfStale.piece_id))) == [sheet.piece_id]


def test_what_is_written_while_a_piece_is_worked_out_makes_it_wait_again(
    at_rest: Session, shop: Engine
) -> None:
    """Whoever works it out takes away only what it had seen."""
    sheet, shelf = a_sheet(at_rest), Shelf()
    piece = sheet.piece_id
    read(at_rest, sheet)
    at_rest.commit()
    assert shelf_store.hold(at_rest, [piece], 5) == [piece]
    lines = shelf_store.stale_lines(at_rest, [piece])
    with sessions(shop)() as bench:
        read(bench, a_sheet(bench), 200.0)
        bench.commit()
        assert shelf.work_out(bench, 50) == 0  # somebody else has it in hand
    row = at_rest.get_one(ShelfRow, piece)
    version = row.version
    values = {c.name: getattr(row, c.name) for c in ShelfRow.__table__.columns}
    shelf_store.put(at_rest, [values], [], lines)
    at_rest.commit()
    assert shelf_store.waiting(at_rest, shelf.model_version(at_rest), 50) == [piece]
    assert shelf.work_out(at_rest, 50) == 1
    at_rest.refresh(row)
    found = records.figures(at_rest, [piece])[piece]["weight"].mean
    assert (row.weight, row.version) == (pytest.approx(found), version + 2)


def test_a_piece_that_cannot_be_worked_out_is_put_aside_and_keeps_no_other_back(
    at_rest: Session, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(knife: ShelfKnife, model_version: str) -> dict[str, Any]:
        if knife.piece.tag == "KH-01":
            raise ArithmeticError("of a test")
        return shelf_row(knife, model_version)

    shelf, sheet = Shelf(), a_sheet(at_rest)
    before = at_rest.get_one(ShelfRow, sheet.piece_id).weight
    shelf_store.make_all_wait(at_rest)
    read(at_rest, sheet, 400.0)
    at_rest.commit()
    with monkeypatch.context() as patched:
        patched.setattr(projection, "shelf_row", fails)
        while shelf.work_out(at_rest, 200):
            pass
    now = shelf.model_version(at_rest)
    assert shelf_store.waiting(at_rest, now, 50) == []  # it is not tried over and over
    assert (shelf_store.behind(at_rest, now), shelf.catch_up(at_rest)) == (0, 1)
    [(piece, tag, why)] = shelf_store.quarantined(at_rest)
    assert (piece, tag, why) == (sheet.piece_id, "KH-01", "ArithmeticError: of a test")
    assert at_rest.get_one(ShelfRow, piece, populate_existing=True).weight == before
    assert piece not in shelf.columns(at_rest).ids  # nothing is advised with old figures
    assert piece in shelf_store.waiting(at_rest, "another release", 500)
    read(at_rest, sheet, 400.0)
    at_rest.commit()
    assert shelf.work_out(at_rest, 50) == 1
    assert (shelf_store.quarantined(at_rest), shelf.catch_up(at_rest)) == ([], 0)
    found = records.figures(at_rest, [piece])[piece]["weight"].mean
    row = at_rest.get_one(ShelfRow, piece, populate_existing=True)
    assert row.weight == pytest.approx(found)
    assert piece in shelf.columns(at_rest).ids


def test_a_knife_that_waits_is_computed_once_and_again_after_every_write(
    at_rest: Session, monkeypatch: pytest.MonkeyPatch
) -> None:
    shelf, sheet = Shelf(), a_sheet(at_rest)
    seen: list[int] = []

    def counted(db: Session, ids: Sequence[int], *how: Any) -> Iterator[ShelfKnife]:
        seen.extend(ids)
        return computed(db, ids, *how)

    monkeypatch.setattr(projection, "computed", counted)

    def weight() -> float:
        return shelf.knives(at_rest, [sheet.piece_id])[0].figures["weight"].mean

    for times in (1, 2):
        read(at_rest, sheet, 300.0 * times)
        first = weight()  # in the transaction that writes it: more may come
        read(at_rest, sheet, 310.0 * times)
        second = weight()
        assert second != first
        at_rest.commit()
        assert [weight(), weight(), weight()] == [second] * 3
        assert len(seen) == 3 * times


def test_a_food_changed_makes_the_whole_shelf_wait(at_rest: Session) -> None:
    shelf = Shelf()
    before = shelf.model_version(at_rest)
    assert shelf_store.behind(at_rest, before) == 0
    food = shop_foods(at_rest)[0]
    keep_food(at_rest, type(food)(**{**vars(food), "toughness_j_m2": food.toughness_j_m2 * 2}))
    now = shelf.model_version(at_rest)
    assert now != before
    everything = at_rest.scalar(select(func.count()).select_from(Piece))
    assert (
        shelf_store.behind(at_rest, now)
        == everything
        == len(shelf_store.waiting(at_rest, now, 10_000))
    )


def value(knife: ShelfKnife, key: str) -> float | None:
    """The figure as the record has it, for sorting by hand."""
    if isinstance(key, FoodMix):
        if key is FoodMix.ALL_ROUND:
            return value(knife, "cutting_ease")
        return knife.eases[key].central if key in knife.eases else None
    if key == "price":
        return knife.piece.price
    if key in keys("on_shelf"):
        return knife.predicted[key].central if key in knife.predicted else None
    return knife.figures[key].mean if key in knife.figures else None


@pytest.mark.parametrize("descending", [False, True])
def test_the_database_sorts_as_python_does_those_without_the_figure_last(
    at_rest: Session, descending: bool
) -> None:
    ids = list(at_rest.scalars(select(Piece.id).order_by(Piece.id)))
    knives = Shelf().knives(at_rest, ids)
    for key in (*FIGURE_KEYS, *FoodMix):
        known = [k for k in knives if value(k, key) is not None]
        known.sort(key=lambda k: value(k, key) or 0, reverse=descending)
        expected = [*known, *(k for k in knives if value(k, key) is None)]
        query = ShelfQuery(sort=key, descending=descending)
        if isinstance(key, FoodMix):
            query = ShelfQuery(sort="cutting_ease", descending=descending, food_mix=key)
        assert chosen(at_rest, query) == [k.piece.id for k in expected], key
    by_name = sorted(knives, key=lambda k: k.piece.name.lower(), reverse=descending)
    query = ShelfQuery(descending=descending)
    assert chosen(at_rest, query) == [k.piece.id for k in by_name]


@pytest.mark.parametrize(
    ("sort", "food_mix", "index"),
    [
        ("months_to_stone", FoodMix.ALL_ROUND, "ix_shelf_months_to_stone"),
        ("cutting_ease", FoodMix.ALL_ROUND, "ix_shelf_cutting_ease"),
        ("cutting_ease", FoodMix.ROOTS, "ix_shelf_cutting_ease.roots"),
    ],
)
def test_a_sort_by_a_prediction_reads_an_index_and_sorts_nothing(
    at_rest: Session, sort: str, food_mix: FoodMix, index: str
) -> None:
    at_rest.execute(text("SET LOCAL enable_seqscan = off"))  # a demo shop fits one look at a table
    for descending in (False, True):
        query = ShelfQuery(sort=sort, descending=descending, food_mix=food_mix)
        statement = select(ShelfRow.row).order_by(*_order(query)).limit(48)
        said = statement.compile(at_rest.connection(), compile_kwargs={"literal_binds": True})
        plan = at_rest.scalars(text(f"EXPLAIN {said}")).all()
        assert index in "".join(plan)
        assert "Sort" not in "".join(plan)


def test_the_distributions_are_numpys_histograms(at_rest: Session) -> None:
    ids = list(at_rest.scalars(select(Piece.id)))
    knives = Shelf().knives(at_rest, ids)
    spread = Overview().spread(at_rest)
    assert (spread.total, sum(spread.knife_types.values())) == (len(ids), len(ids))
    for mix in FoodMix:
        ranges = spread.ranges(mix)
        assert [r.key for r in ranges] == list(RANGE_KEYS)
        for found in ranges:
            key = mix if found.key == "cutting_ease" else found.key
            values = [v for k in knives if (v := value(k, key)) is not None]
            counts, _ = np.histogram(values, bins=BINS, range=(found.low, found.high))
            assert found.counts == counts.tolist(), key


def test_of_a_large_shelf_with_nothing_behind_the_count_is_that_of_now(
    cluster: Cluster, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Distributions may be older: looking at all of it for every list would cost many lists."""
    monkeypatch.setattr("maple_rook.shelf.overview.LARGE", 3)
    with shop_engine(cluster, demo=True) as engine, sessions(engine)() as db:
        shelf, overview = Shelf(), Overview()
        whole = db.scalar(select(func.count()).select_from(Piece))
        assert whole is not None
        shelf.work_out(db, 5)
        assert overview.spread(db, behind=whole - 5).total == 5
        shelf.work_out(db, 5)
        lately = overview.spread(db, behind=whole - 10)
        assert sum(lately.knife_types.values()) == 5  # looked at a moment ago
        while shelf.work_out(db, 50):
            pass
        assert overview.spread(db, behind=0).total == whole
        db.add(Piece(model_id=1, tag="NEW"))
        db.flush()
        shelf.work_out(db, 5)
        after = overview.spread(db, behind=0)
        assert (after.total, sum(after.knife_types.values())) == (whole + 1, whole)


def test_the_columns_of_the_counter_follow_what_is_written(at_rest: Session) -> None:
    shelf = Shelf()
    before = shelf.columns(at_rest)
    assert shelf.columns(at_rest) is before  # nothing was written
    sheet = a_sheet(at_rest)
    sheets = at_rest.scalars(select(Sheet.id).where(Sheet.piece_id == sheet.piece_id))
    at_rest.execute(delete(ShelfStale))
    for sheet_id in sheets:
        read(at_rest, at_rest.get_one(Sheet, sheet_id), 333.0)
    shelf.work_out(at_rest, 50)
    after = shelf.columns(at_rest)
    place = after.ids.tolist().index(sheet.piece_id)
    knife = shelf.knives(at_rest, [sheet.piece_id])[0]
    assert after.decides.weight[place] == pytest.approx(knife.figures["weight"].mean)
    assert after.decides.weight[place] != before.decides.weight[place]
    others = np.arange(len(after.ids)) != place
    assert np.array_equal(after.central[others], before.central[others], equal_nan=True)


def test_a_second_process_works_out_what_waits_and_ends_with_the_first(
    at_rest: Session, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Common practice in a shop of thousands: both processors work while nothing else does."""
    monkeypatch.setattr(helped, "WORTH_IT", 1)
    monkeypatch.setattr(os, "cpu_count", lambda: 2)
    engine = at_rest.get_bind().engine
    shelf_store.make_all_wait(at_rest)
    at_rest.commit()
    now = Shelf().model_version(at_rest)
    first = shelf_store.behind(at_rest, now)
    assert first > 0
    with helped.helped(engine, first):
        deadline = time.monotonic() + 60
        while shelf_store.behind(at_rest, now) and time.monotonic() < deadline:
            at_rest.commit()
            time.sleep(0.2)
    assert shelf_store.behind(at_rest, now) == 0
    monkeypatch.setattr(os, "cpu_count", lambda: 1)
    with helped.helped(engine, first):  # one processor: nobody to help
        pass

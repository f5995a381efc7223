"""The demo shop is a shop: its knives are plausible but for the faults put there on purpose."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterator

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.claims import judged_claims, sheet_facts
from maple_rook.cluster import Cluster
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.measurement.hardness_session import Hardened, hardened
from maple_rook.core.measurement.observations import ITEMS, checked_value
from maple_rook.core.routine.checks import checks
from maple_rook.core.routine.stops import asked
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.store import records, upkeep
from maple_rook.store.database import sessions
from maple_rook.store.tables import Instrument, Piece, Reading, Sheet
from maple_rook.store.work_orders import finishes, orders
from shops import shop_engine

# On purpose: a box chopper's angle, an inclusive angle taken for per side, an edge ground uneven.
KNOWN_CHECKS = {
    "DG-20": {"angle_against_claim"},
    "TT-16": {"angle_against_claim"},
    "QP-18": {"angle_against_claim"},
    "PM-21": {"handedness"},
    "PM-22": {"handedness"},
    "DG-21": {"angle_against_claim"},
}


@pytest.fixture(scope="module")
def shop(cluster: Cluster) -> Iterator[Session]:
    """A demo shop nobody has touched."""
    with shop_engine(cluster, demo=True) as engine, sessions(engine)() as session:
        yield session


def by_tag(shop: Session) -> dict[str, Piece]:
    return {p.tag: p for p in records.pieces(shop, claims=True)}


def test_only_the_faults_put_there_are_found(shop: Session) -> None:
    stock = by_tag(shop)
    figures = records.figures(shop)
    for tag, piece in stock.items():
        sheets = shop.scalars(select(Sheet.id).where(Sheet.piece_id == piece.id)).all()
        facts = records.knife_facts(piece.model, records.observations(shop, sheets))
        found = {c.key for c in checks(sheet_facts(piece, figures[piece.id], facts))}
        assert found == KNOWN_CHECKS.get(tag, set()), tag


def test_one_knife_is_not_hardened_and_says_otherwise_on_its_box(shop: Session) -> None:
    figures = records.figures(shop)
    soft = [
        tag
        for tag, piece in by_tag(shop).items()
        if hardened(figures[piece.id]).verdict is Hardened.NOT_HARDENED
    ]
    assert soft == ["TT-16"]
    piece = by_tag(shop)["TT-16"]
    verdicts = {c.quantity: c.verdict for c in judged_claims(piece, figures[piece.id])}
    assert verdicts["hardness"] is ClaimVerdict.CONTRADICTED


def test_every_hardness_was_read_after_its_block(shop: Session) -> None:
    pressed = Reading.quantity.in_(("hardness_block", "hardness")), Reading.kind == "measured"
    query = select(Reading).where(*pressed)
    by_sheet: dict[int, list[Reading]] = {}
    for r in shop.scalars(query.order_by(Reading.taken_at)):
        by_sheet.setdefault(r.sheet_id, []).append(r)
    assert by_sheet
    for taken in by_sheet.values():
        assert taken[0].quantity == "hardness_block"
        assert taken[0].reference is not None
        assert all(r.above_edge_mm for r in taken if r.quantity == "hardness")


def test_what_was_seen_keeps_to_the_lists_and_answers_what_was_asked(shop: Session) -> None:
    for piece in by_tag(shop).values():
        sheets = shop.scalars(
            select(Sheet.id).where(Sheet.piece_id == piece.id, Sheet.finished_at.is_not(None))
        ).all()
        standing = records.observations(shop, sheets)
        for o in standing:
            assert checked_value(o.item, o.aspect, o.value, o.note) == o.value
        if sheets:
            questions = asked(records.knife_facts(piece.model, standing))
            wanted = {q.key for q in questions if q.required and q.observed}
            assert wanted <= {o.item for o in standing} <= {q.key for q in questions} & set(ITEMS)


def test_the_angle_gauge_is_the_first_of_the_instruments_to_fall_due(shop: Session) -> None:
    rows = shop.scalars(select(Instrument).where(Instrument.stand_in)).all()
    opening = min(shop.scalars(select(Sheet.started_at).where(Sheet.finished_at.is_not(None))))
    assert {r.kind for r in rows} == {
        "caliper",
        "scale",
        "hardness_tester",
        "angle_gauge",
        "edge_tester",
        "card_tester",
    }
    due = {r.kind: r.calibration_due for r in rows}
    assert all(date is not None and date > opening.date() for date in due.values())
    assert min(due, key=lambda kind: str(due[kind])) == "angle_gauge"


def test_the_bench_has_work_of_every_kind_and_one_piece_is_back_on_the_shelf(shop: Session) -> None:
    ids = {tag: piece.id for tag, piece in by_tag(shop).items()}
    shelf = {key: found.shelf for key, found in finishes(shop, list(ids.values())).items()}
    assert {tag for tag, key in ids.items() if shelf[key] is Shelf.NEEDS_WORK} == {
        "DG-20",
        "BT-16",
        "TH-08",
        "OM-21",
        "PM-27",
        "QS-17",
    }
    assert shelf[ids["OK-22"]] is Shelf.RETURN
    assert shelf[ids["TT-16"]] is shelf[ids["KH-01"]] is Shelf.READY
    assert {row.piece_id for row in orders(shop)} == {ids["TT-16"], ids["OM-21"]}


def test_the_plans_end_before_today_and_the_log_teaches_two_rates(shop: Session) -> None:
    today = dt.datetime.now(dt.UTC).date()
    plans = upkeep.plans(shop)
    assert {p.label for p in plans} >= {"galley of the ferry", "cookery school"}
    assert all(p.begun_on < today for p in plans)
    log = upkeep.log(shop)
    found = upkeep.measured(shop, list(log), "height_heel", log)
    lost = {key: upkeep.lowered(found[key], log[key]) for key in log}
    galley = by_tag(shop)["DL-25"].id
    assert sum(row.sharpenings for row in lost[galley]) == 15
    assert all(row.lost_mm.mean > 0 for rows in lost.values() for row in rows)

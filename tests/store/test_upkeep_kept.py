"""Plans, log, workshop and work orders in the record: append-only, the newest stands."""

from __future__ import annotations

import datetime as dt
import uuid
from dataclasses import asdict

import pytest
from sqlalchemy import select, text
from sqlalchemy.exc import DBAPIError, IntegrityError
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import Kitchen, Use
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.core.upkeep.grinding import Stone
from maple_rook.core.upkeep.plan import EdgeCare
from maple_rook.core.upkeep.setup import Spacer
from maple_rook.core.upkeep.wear import Limits
from maple_rook.core.upkeep.workshop import Workshop
from maple_rook.store import upkeep, work_orders
from maple_rook.store.tables import Observation, Person, Piece, Sheet
from maple_rook.store.trials import kitchen_from
from maple_rook.store.upkeep import Logged, Measured
from maple_rook.store.upkeep_tables import (
    DoneRow,
    DoneVoid,
    PlanMark,
    PlanRow,
    RepairRow,
    WorkEventRow,
    WorkOrderRow,
    WorkshopSet,
)
from maple_rook.store.work_orders import EventKind, RepairState, finishes, state_of

TABLES = (
    "workshop_sets",
    "upkeep_plans",
    "upkeep_plan_marks",
    "upkeep_log",
    "upkeep_voids",
    "work_orders",
    "repairs",
    "work_events",
)
DAY = dt.date(2026, 10, 5)


@pytest.fixture
def person(db: Session) -> int:
    return db.scalars(select(Person.id).order_by(Person.id)).first() or 0


@pytest.fixture
def sheet(db: Session, person: int) -> Sheet:
    """A sheet of a new piece; nothing of it is committed."""
    model = db.scalars(select(Piece).order_by(Piece.id)).first()
    assert model is not None
    piece = Piece(model_id=model.model_id, tag=f"K-{uuid.uuid4().hex[:8]}")
    made = Sheet(piece=piece, person_id=person)
    db.add(made)
    db.flush()
    return made


def seen(db: Session, sheet: Sheet, item: str, value: str, aspect: str = "") -> int:
    row = Observation(
        client_id=uuid.uuid4(),
        sheet_id=sheet.id,
        item=item,
        aspect=aspect,
        value=value,
        taken_at=sheet.started_at,
        person_id=sheet.person_id,
    )
    db.add(row)
    db.flush()
    return row.id


def a_repair(db: Session, sheet: Sheet, item: str, seen_id: int | None) -> RepairRow:
    order = WorkOrderRow(
        client_id=uuid.uuid4(),
        piece_id=sheet.piece_id,
        sheet_id=sheet.id,
        person_id=sheet.person_id,
    )
    repair = RepairRow(
        place=0,
        item=item,
        aspect="",
        severity="mend",
        label=item,
        note="",
        what="",
        grits=[600],
        materials=[],
        minutes=5.0,
        caution="",
        recheck="",
        returns=False,
        seen_id=seen_id,
    )
    order.repairs.append(repair)
    db.add(order)
    db.flush()
    return repair


def happened(db: Session, repair: RepairRow, kind: EventKind, value: str = "") -> None:
    db.add(
        WorkEventRow(
            client_id=uuid.uuid4(),
            repair_id=repair.id,
            kind=kind.value,
            value=value,
            person_id=repair.order.person_id,
        )
    )
    db.flush()
    db.refresh(repair, ["events"])


def done(
    piece: int, person: int, day: dt.date, care: EdgeCare = EdgeCare.STONE, **after: float
) -> DoneRow:
    return DoneRow(
        client_id=uuid.uuid4(),
        piece_id=piece,
        care=care.value,
        done_on=day,
        person_id=person,
        **after,
    )


@pytest.mark.parametrize("table", TABLES)
@pytest.mark.parametrize("change", ["UPDATE {} SET person_id = person_id", "DELETE FROM {}"])
def test_nothing_of_upkeep_is_ever_changed(db: Session, table: str, change: str) -> None:
    if table == "repairs":
        change = change.replace("person_id = person_id", "place = place")
    with pytest.raises(DBAPIError, match="append-only"):
        db.execute(text(change.format(table)))
    db.rollback()


def test_a_workshop_is_read_back_as_it_was_kept(db: Session, person: int) -> None:
    shop = Workshop((Spacer("plate", 3.1),), (Stone(500, 1.7, 6.0),), 44.5, Limits(0.15, 0.4, 0.3))
    db.add(WorkshopSet(workshop=upkeep.stored_workshop(shop), person_id=person))
    db.flush()
    assert upkeep.workshop(db) == shop


def test_a_plan_ended_is_gone_and_can_be_taken_up_again(
    db: Session, sheet: Sheet, person: int
) -> None:
    kitchen = Kitchen(use=Use.PROFESSIONAL, honed=False)
    row = PlanRow(
        client_id=uuid.uuid4(),
        piece_id=sheet.piece_id,
        label="mole",
        kitchen=asdict(kitchen),
        rods="",
        begun_on=DAY,
        person_id=person,
    )
    db.add(row)
    db.flush()

    def running() -> list[int]:
        return [p.id for p in upkeep.plans(db, sheet.piece_id)]

    assert running() == [row.id]
    assert kitchen_from(upkeep.plans(db, sheet.piece_id)[0].kitchen) == kitchen
    for ended in (True, False, True):
        db.add(PlanMark(plan_id=row.id, ended=ended, person_id=person))
        db.flush()
        assert running() == ([] if ended else [row.id])
    assert row.id not in {p.id for p in upkeep.plans(db)}


def test_the_log_is_read_by_day_and_what_was_struck_out_says_why(
    db: Session, sheet: Sheet, person: int
) -> None:
    piece = sheet.piece_id
    late, early = (
        done(piece, person, DAY + dt.timedelta(days=d), height_mm=45.0 - d / 100) for d in (9, 2)
    )
    db.add_all([late, early])
    db.flush()
    db.add(DoneVoid(done_id=late.id, reason="another knife", person_id=person))
    db.flush()
    log = upkeep.log(db, [piece])[piece]
    assert [(e.row.id, e.voided) for e in log] == [(early.id, None), (late.id, "another knife")]
    found = upkeep.measured(db, [piece], "height_heel", {piece: log})[piece]
    assert [m.figure.mean for m in found] == [pytest.approx(44.98)]


@pytest.mark.parametrize("after", [{"height_mm": -1.0}, {"behind_edge_mm": 0.0}])
def test_a_blade_of_no_height_is_refused_by_the_database(
    db: Session, sheet: Sheet, person: int, after: dict[str, float]
) -> None:
    db.add(done(sheet.piece_id, person, DAY, **after))
    with pytest.raises(IntegrityError):
        db.flush()
    db.rollback()


def entries(*days: int, care: EdgeCare = EdgeCare.STONE, voided: str | None = None) -> list[Logged]:
    return [Logged(done(1, 1, DAY + dt.timedelta(days=n), care), voided) for n in days]


def heights(**by_day: float) -> list[Measured]:
    return [
        Measured(DAY + dt.timedelta(days=int(day[1:])), Figure(value, 0.05))
        for day, value in by_day.items()
    ]


def test_sharpenings_between_two_heights_are_counted_once() -> None:
    found = upkeep.lowered(heights(d0=46.0, d20=45.8, d30=45.7), entries(5, 10, 20, 25))
    assert [(row.sharpenings, round(row.lost_mm.mean, 2)) for row in found] == [(3, 0.2), (1, 0.1)]
    assert found[0].lost_mm.standard_uncertainty == pytest.approx(0.05 * 2**0.5)


def test_heights_without_a_sharpening_between_say_nothing_of_the_rate() -> None:
    at = heights(d0=46.0, d3=46.1, d20=45.8)
    (row,) = upkeep.lowered(at, entries(10))
    assert (row.sharpenings, round(row.lost_mm.mean, 2)) == (1, 0.2)  # from the first height on
    assert upkeep.lowered(at, entries(10, voided="misread")) == []
    assert upkeep.lowered(at, entries(10, care=EdgeCare.ROD)) == []
    assert upkeep.lowered(at[:1], entries(10)) == []


def test_a_job_goes_back_to_ordered_until_it_passes_its_recheck(db: Session, sheet: Sheet) -> None:
    repair = a_repair(db, sheet, "rivets", None)
    steps = [
        (EventKind.BEFORE, "", RepairState.ORDERED),
        (EventKind.DONE, "", RepairState.DONE),
        (EventKind.RECHECK, "minor", RepairState.ORDERED),
        (EventKind.DONE, "", RepairState.DONE),
        (EventKind.AFTER, "", RepairState.DONE),
        (EventKind.RECHECK, "fine", RepairState.CLOSED),
        (EventKind.DROPPED, "", RepairState.DROPPED),
    ]
    for kind, value, after in steps:
        happened(db, repair, kind, value)
        assert state_of(repair.events) is after


def test_a_closed_job_settles_the_fault_it_answers_and_no_later_one(
    db: Session, sheet: Sheet
) -> None:
    piece = sheet.piece_id
    first = seen(db, sheet, "rivets", "mend")
    seen(db, sheet, "verdict", "after_work")
    assert finishes(db, [piece])[piece].shelf is Shelf.NEEDS_WORK
    assert piece in work_orders.faulty_pieces(db)
    repair = a_repair(db, sheet, "rivets", first)
    happened(db, repair, EventKind.DONE)
    happened(db, repair, EventKind.RECHECK, "fine")
    assert finishes(db, [piece])[piece].shelf is Shelf.READY
    seen(db, sheet, "rivets", "mend")
    assert finishes(db, [piece])[piece].shelf is Shelf.NEEDS_WORK


def test_the_newest_sheets_word_stands_and_a_withdrawn_fault_is_none(
    db: Session, sheet: Sheet, person: int
) -> None:
    piece = sheet.piece_id
    seen(db, sheet, "etching", "reject", "right")
    seen(db, sheet, "tip", "minor")
    seen(db, sheet, "verdict", "return")
    assert finishes(db, [piece])[piece].shelf is Shelf.RETURN
    later = Sheet(piece_id=piece, person_id=person)
    db.add(later)
    db.flush()
    seen(db, later, "etching", "fine", "right")
    seen(db, later, "tip", "withdrawn")
    seen(db, later, "verdict", "sell")
    found = finishes(db, [piece])[piece]
    assert (found.spotted, found.shelf) == ([], Shelf.READY)
    seen(db, later, "etching", "mend", "left")
    (spotted,) = finishes(db, [piece])[piece].spotted
    assert (spotted.fault.label, spotted.sheet_id) == ("etching or stamp, left", later.id)

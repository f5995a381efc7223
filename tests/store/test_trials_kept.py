"""Trials in the record: the newest of everything stands, and nothing is lost."""

from __future__ import annotations

import datetime as dt
import uuid

import pytest
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.retention import BoardMaterial, Kitchen, Technique, Use
from maple_rook.core.edge_life.trials import Event, Protocol, TrialKind
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.store import records, trials
from maple_rook.store.tables import Instrument, Person, Piece, Shop
from maple_rook.store.trial_tables import (
    CoefficientSet,
    TrialMark,
    TrialPoint,
    TrialProtocol,
    TrialRow,
)


@pytest.fixture
def person(db: Session) -> int:
    return db.scalars(select(Person.id).limit(1)).one()


def begun(db: Session, person: int, kind: TrialKind = TrialKind.CARD, **more: object) -> TrialRow:
    """A trial put straight into the record; rolled back with the session."""
    row = TrialRow(
        client_id=uuid.uuid4(),
        piece_id=db.scalars(select(Piece.id).limit(1)).one(),
        kind=kind.value,
        source="typed",
        started_at=dt.datetime.now(dt.UTC),
        person_id=person,
        **more,
    )
    db.add(row)
    db.flush()
    protocol(db, row, Protocol("stones"))
    return row


def protocol(db: Session, row: TrialRow, stated: Protocol) -> None:
    stored = trials.stored_protocol(stated)
    db.add(TrialProtocol(trial_id=row.id, protocol=stored, person_id=row.person_id))
    db.flush()


def point(
    db: Session, row: TrialRow, x: float, value: float | None = None, event: str = ""
) -> None:
    db.add(
        TrialPoint(
            client_id=uuid.uuid4(),
            trial_id=row.id,
            x=x,
            value=value,
            event=event,
            person_id=row.person_id,
        )
    )
    db.flush()


def test_the_newest_point_of_a_cycle_stands_and_an_empty_one_withdraws(
    db: Session, person: int
) -> None:
    row = begun(db, person)
    for x, value in ((1, 15.0), (2, 12.0), (3, 11.0), (2, 12.5), (3, None)):
        point(db, row, x, value)
    found = trials.recorded(db, [row.id])[0].tried.trial
    assert [(p.x, p.value) for p in found.points] == [(1, 15.0), (2, 12.5)]
    kept = db.scalar(select(func.count()).where(TrialPoint.trial_id == row.id))
    assert kept == 5


def test_the_newest_protocol_and_mark_stand(db: Session, person: int) -> None:
    row = begun(db, person)
    kitchen = Kitchen(Use.KEEN, BoardMaterial.BAMBOO, Technique.CAREFUL, honed=False)
    protocol(db, row, Protocol("machine edge", 17.5, kitchen=kitchen))
    for reason in ("damp card", "", "wrong knife"):
        db.add(TrialMark(trial_id=row.id, reason=reason, person_id=person))
        db.flush()
        found = trials.recorded(db, [row.id])[0].tried
        assert found.set_aside == reason
    assert found.trial.protocol == Protocol("machine edge", 17.5, kitchen=kitchen)


def test_a_mark_changes_with_everything_a_trial_rests_on(db: Session, person: int) -> None:
    row = begun(db, person, TrialKind.KITCHEN)
    seen = [trials.trial_marks(db)[row.id]]
    whole = [trials.whole_mark(db)]
    for change in (
        lambda: point(db, row, 0, event=Event.START),
        lambda: point(db, row, 6, event=Event.ROD),
        lambda: protocol(db, row, Protocol("as sold", 15.0)),
        lambda: db.add(TrialMark(trial_id=row.id, reason="x", person_id=person)),
    ):
        change()
        db.flush()
        seen.append(trials.trial_marks(db)[row.id])
        whole.append(trials.whole_mark(db))
    assert len(set(seen)) == len(set(whole)) == 5
    assert {mark[0] for mark in seen} == {row.piece_id}


def test_kinds_are_counted_and_listed_newest_first(db: Session, person: int) -> None:
    before = trials.counts(db)
    rows = [begun(db, person, TrialKind.LINE) for _ in range(3)]
    after = trials.counts(db)
    assert after[TrialKind.LINE] == before[TrialKind.LINE] + 3
    assert {k: n for k, n in after.items() if k is not TrialKind.LINE} == {
        k: n for k, n in before.items() if k is not TrialKind.LINE
    }
    newest = trials.of_kind(db, TrialKind.LINE, 2)
    assert [r.row.id for r in newest] == [rows[2].id, rows[1].id]
    piece = rows[0].piece_id
    newest_of = trials.of_piece(db, piece, records.blade_of(db, piece))[0]
    assert newest_of.row.id == rows[2].id


def test_a_simulated_tester_counts_in_the_demo_alone(db: Session, person: int) -> None:
    tester = db.scalars(
        select(Instrument).where(Instrument.kind == "card_tester", Instrument.stand_in)
    ).one()
    row = begun(db, person, instrument_id=tester.id)
    assert not trials.recorded(db, [row.id])[0].tried.trial.simulated
    db.scalars(select(Shop)).one().demo = False
    db.flush()
    found = trials.recorded(db, [row.id])[0].tried
    assert "run on a simulated tester" in found.left_out


def test_coefficients_are_the_published_ones_until_a_set_says_otherwise(
    db: Session, person: int
) -> None:
    assert trials.coefficients_of(None) is PUBLISHED
    empty = CoefficientSet(changes={}, note="", person_id=person)
    assert trials.coefficients_of(empty) is PUBLISHED
    db.add(CoefficientSet(changes={"rod_days": 9.5}, note="ours", person_id=person))
    db.flush()
    newest = trials.newest_set(db)
    assert newest
    assert trials.coefficients_of(newest).rod_days == 9.5


def test_nothing_that_is_no_number_enters_a_trial(db: Session, person: int) -> None:
    row = begun(db, person)
    with pytest.raises(IntegrityError, match="finite"):
        point(db, row, 1, float("nan"))
    db.rollback()

"""What is kept of a prediction makes it again, and a calibration follows the record."""

from __future__ import annotations

import datetime as dt
import json
import uuid
from dataclasses import replace

import numpy as np
import pytest
from sqlalchemy import Engine, select
from sqlalchemy.orm import Session

from maple_rook.answers.calibration import CalibrationCache
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, Basis
from maple_rook.core.edge_life.retention import EdgeState, Kitchen, Use
from maple_rook.core.edge_life.trials import Protocol
from maple_rook.core.measurement.coefficients import PUBLISHED, coefficients
from maple_rook.core.prediction.evidence import calibrate
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.shelf.projection import Shelf
from maple_rook.store import records, stored_predictions
from maple_rook.store import trials as kept_trials
from maple_rook.store.database import sessions
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Person, Piece
from maple_rook.store.trial_tables import (
    CoefficientSet,
    StoredPrediction,
    TrialMark,
    TrialProtocol,
    TrialRow,
)


def test_every_knife_of_the_shop_is_kept_to_the_last_digit(db: Session) -> None:
    tried = [r.tried for r in kept_trials.recorded(db)]
    life = calibrate(tried, coefficients({"tcc_mc_mm": 30.0})).after
    kitchen = Kitchen(use=Use.PROFESSIONAL, edge=EdgeState.DULL)
    pieces = records.pieces(db)
    for blade in records.blades(db, pieces, records.figures(db, [p.id for p in pieces])):
        made = stored_predictions.MadeWith(blade, kitchen, shop_foods(db), life, 100)
        through_json = json.loads(json.dumps(stored_predictions.stored(made)))
        before = stored_predictions.results_of(made.predictions())
        row = StoredPrediction(
            made_with=through_json,
            results=before,
            cards=stored_predictions.card_versions(made.predictions()),
        )
        found = stored_predictions.again(row)
        assert found.results == before
        assert (found.differing, found.models_changed) == ([], [])


def test_what_was_tampered_with_or_modelled_otherwise_is_said(db: Session) -> None:
    blade = records.blade_of(db, 1)
    made = stored_predictions.MadeWith(blade, Kitchen(), shop_foods(db), PUBLISHED_LIFE, 100)
    results = stored_predictions.results_of(made.predictions())
    results["card_test"][0] *= 1.001
    row = StoredPrediction(
        made_with=stored_predictions.stored(made),
        results=results,
        cards={"card_test": "1", "gone": "1", "release": MODEL_CARDS["release"].version},
    )
    found = stored_predictions.again(row)
    assert found.differing == ["card_test"]
    assert found.models_changed == ["card_test", "gone"]


def test_a_calibration_is_worked_out_again_only_when_what_it_rests_on_changed(
    engine: Engine,
) -> None:
    calibrations = CalibrationCache()
    with sessions(engine)() as db:
        first = calibrations.calibration(db)
        assert calibrations.calibration(db) is first
        assert calibrations.life(db, Basis.PUBLISHED).coefficients is PUBLISHED
        assert first.after.posteriors["card_test"].pieces >= 10
        person = db.scalars(select(Person.id).limit(1)).one()
        counted = first.rows["card_test"][0].trial_ids[0]
        db.add(TrialMark(trial_id=counted, reason="of a test", person_id=person))
        db.flush()
        second = calibrations.calibration(db)
        assert len(second.rows["card_test"]) == len(first.rows["card_test"]) - 1
        db.add(CoefficientSet(changes={"rod_days": 9.0}, note="", person_id=person))
        db.flush()
        third = calibrations.calibration(db)
        assert third.before.coefficients.rod_days == 9.0
        db.rollback()
        assert len(calibrations.calibration(db).rows["card_test"]) == len(first.rows["card_test"])


def test_a_trial_without_points_leaves_the_shelf_as_it_is(db: Session) -> None:
    shelf = Shelf()
    ids = [piece.id for piece in records.pieces(db)]
    shelf.work_out(db, 1000)
    before = shelf.knives(db, ids)
    person, piece = (db.scalars(select(t.id).limit(1)).one() for t in (Person, Piece))
    trial = TrialRow(
        client_id=uuid.uuid4(),
        piece_id=piece,
        kind="card",
        source="typed",
        started_at=dt.datetime.now(dt.UTC),
        person_id=person,
    )
    db.add(trial)
    db.flush()
    stored = kept_trials.stored_protocol(Protocol())
    db.add(TrialProtocol(trial_id=trial.id, protocol=stored, person_id=person))
    db.flush()
    after = shelf.knives(db, ids)
    assert all(one is other for one, other in zip(before, after, strict=True))
    db.rollback()


def test_a_trial_is_read_with_the_knife_as_it_is_known_now(db: Session) -> None:
    found = {r.row.piece_id: r.tried for r in kept_trials.recorded(db)}
    for piece, tried in found.items():
        blade = records.blade_of(db, piece)
        assert replace(tried.blade, figures={}, traced=None) == replace(
            blade, figures={}, traced=None
        )
        for key, figure in blade.figures.items():
            assert tried.blade.figures[key].mean == pytest.approx(figure.mean)
        x, _ = tried.trial.series
        assert (np.diff(x) > 0).all()
    with pytest.raises(records.NotFound, match="trial 99999"):
        kept_trials.recorded(db, [99999])

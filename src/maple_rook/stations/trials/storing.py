"""Predictions kept as they were made, and made again."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from maple_rook.answers.calibration import Models
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.trials import Protocol
from maple_rook.core.prediction.evidence import as_tried
from maple_rook.core.prediction.model_cards import MODEL_CARDS, card
from maple_rook.http.policy import Somebody
from maple_rook.stations.trials.schemas import AgainOut, StoredNumber, StoredPredictionOut
from maple_rook.store import records, stored_predictions
from maple_rook.store.trial_tables import StoredPrediction
from maple_rook.store.trials import newest_set

KEPT_DRAWS = 1000


def store(
    db: Session, person: Somebody, models: Models, piece_id: int, kitchen: Kitchen, note: str
) -> StoredPredictionOut:
    """Keep every prediction of a knife as it is now.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    models : what predictions are computed with.
    piece_id : number of the piece.
    kitchen : whose kitchen it is for.
    note : what for, in the person's words.
    """
    made = stored_predictions.MadeWith(
        records.blade_of(db, piece_id), kitchen, models.foods, models.life, KEPT_DRAWS
    )
    row = _stored(db, person, made, piece_id, note=note)
    db.commit()
    return stored_out(row, person.name)


def store_with_trial(
    db: Session, person: Somebody, models: Models, piece_id: int, trial_id: int, protocol: Protocol
) -> None:
    """What was predicted of the knife before the trial said anything.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    models : what predictions are computed with.
    piece_id : number of the piece.
    trial_id : number of the trial.
    protocol : the trial's.
    """
    blade = as_tried(records.blade_of(db, piece_id), protocol)
    made = stored_predictions.MadeWith(
        blade, protocol.kitchen or Kitchen(), models.foods, models.life, KEPT_DRAWS
    )
    _stored(db, person, made, piece_id, trial_id=trial_id, note="before the trial")


def _stored(
    db: Session,
    person: Somebody,
    made: stored_predictions.MadeWith,
    piece_id: int,
    *,
    note: str,
    trial_id: int | None = None,
) -> StoredPrediction:
    predictions = made.predictions()
    coefficients = newest_set(db)
    row = StoredPrediction(
        piece_id=piece_id,
        trial_id=trial_id,
        coefficients_id=coefficients.id if coefficients else None,
        basis=made.life.basis.value,
        note=note,
        made_with=stored_predictions.stored(made),
        cards=stored_predictions.card_versions(predictions),
        results=stored_predictions.results_of(predictions),
        person_id=person.id,
    )
    db.add(row)
    db.flush()
    return row


def of_piece(db: Session, piece_id: int) -> list[StoredPredictionOut]:
    """Every stored prediction of a knife, newest first."""
    records.pieces(db, [piece_id])
    query = select(StoredPrediction).options(joinedload(StoredPrediction.person))
    rows = db.scalars(
        query.where(StoredPrediction.piece_id == piece_id).order_by(StoredPrediction.id.desc())
    )
    return [stored_out(row, row.person.name) for row in rows]


def made_again(db: Session, prediction_id: int) -> AgainOut:
    """A stored prediction made once more from what was kept with it."""
    row = records.get(db, StoredPrediction, "stored prediction", prediction_id)
    found = stored_predictions.again(row)
    return AgainOut(
        prediction=stored_out(row, row.person.name),
        same=not found.differing,
        differing=found.differing,
        models_changed=found.models_changed,
    )


def stored_out(row: StoredPrediction, person: str) -> StoredPredictionOut:
    return StoredPredictionOut(
        id=row.id,
        piece_id=row.piece_id,
        recorded_at=row.recorded_at,
        person=person,
        basis=row.basis,
        note=row.note,
        trial_id=row.trial_id,
        coefficients_version=row.coefficients_id,
        models=row.cards,
        numbers=[
            StoredNumber(key=key, label=_label(key), unit=_unit(key), numbers=numbers)
            for key, numbers in row.results.items()
        ],
    )


def _label(key: str) -> str:
    """The name of a prediction; a force is named by its food and stroke."""
    return card(key).name if key in MODEL_CARDS else key.replace("force.", "").replace(".", ", ")


def _unit(key: str) -> str:
    return card(key).unit if key in MODEL_CARDS else "N"

"""How much the shop's instruments scatter: from the record, from a study, and what counts."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.plausibility import parse_as
from maple_rook.core.measurement.quantities import QUANTITIES, kinds_for, quantity
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.repeat_study import (
    TELLING_FREEDOM,
    Scatter,
    VarianceParts,
    variance_parts,
)
from maple_rook.http.access import CurrentPerson, Db
from maple_rook.http.policy import Somebody
from maple_rook.intake.readings import instrument_for
from maple_rook.stations.office.repeatability_schemas import (
    AdoptedOut,
    AdoptIn,
    InstrumentChoice,
    RepeatabilitiesOut,
    RepeatabilityOut,
    ScatterOut,
    StudyIn,
    StudyOut,
)
from maple_rook.store.repeatability import in_use, own_repeats
from maple_rook.store.tables import Instrument, Person, Repeatability

router = APIRouter(prefix="/repeatability", tags=["office"])


@router.get("")
def repeatabilities(db: Db, _: CurrentPerson) -> RepeatabilitiesOut:
    """What every quantity scatters by with every instrument: assumed, own, and counted with."""
    own, adopted = own_repeats(db), in_use(db)
    instruments = {i.id: i for i in db.scalars(select(Instrument).order_by(Instrument.id))}
    people = {p.id: p.name for p in db.scalars(select(Person).order_by(Person.id))}
    order = {key: at for at, key in enumerate(QUANTITIES)}
    keys = sorted(
        (key for key in own.keys() | adopted.keys() if key[0] in order),
        key=lambda key: (order[key[0]], key[1]),
    )
    return RepeatabilitiesOut(
        rows=[
            _row(key, instruments[key[1]].name, own.get(key), adopted.get(key), people)
            for key in keys
        ],
        instruments=[
            InstrumentChoice(id=i.id, name=i.name, quantities=read)
            for i in instruments.values()
            if not i.retired
            and (read := [q.key for q in QUANTITIES.values() if i.kind in kinds_for(q)])
        ],
        people=list(people.values()),
    )


@router.post("", status_code=201)
def adopt(db: Db, person: CurrentPerson, asked: AdoptIn) -> RepeatabilitiesOut:
    """Count with the record's own repeats, or with the usual assumption again."""
    q, instrument = _fitting(db, asked.quantity, asked.instrument_id)
    deviation, freedom = None, 0
    if asked.own:
        own = own_repeats(db).get((q.key, instrument.id))
        if own is None:
            raise InvalidValue("repeats", q.label, f"repeats of {q.label} with {instrument.name}")
        deviation, freedom = own.with_usual(q.repeatability), own.freedom
    row = {
        "client_id": asked.client_id,
        "quantity": q.key,
        "instrument_id": instrument.id,
        "deviation": deviation,
        "between_people": 0.0,
        "freedom": freedom,
    }
    _keep(db, person, row)
    return repeatabilities(db, person)


@router.post("/studies/preview")
def study_preview(db: Db, _: CurrentPerson, asked: StudyIn) -> StudyOut:
    """What a repeat study finds; nothing is stored."""
    q, _instrument = _fitting(db, asked.quantity, asked.instrument_id)
    parts = _parts(asked)
    return StudyOut.of(parts, q.unit, _scatter(parts).with_usual(q.repeatability))


@router.post("/studies", status_code=201)
def study(db: Db, person: CurrentPerson, asked: StudyIn) -> RepeatabilitiesOut:
    """Store a repeat study, once however often it is sent, and count with what it found."""
    q, instrument = _fitting(db, asked.quantity, asked.instrument_id)
    parts = _parts(asked)
    row = {
        "client_id": asked.client_id,
        "quantity": q.key,
        "instrument_id": instrument.id,
        "deviation": _scatter(parts).with_usual(q.repeatability),
        "between_people": parts.between_people,
        "freedom": parts.freedom,
        "study": asked.model_dump(include={"people", "pieces", "readings"}),
    }
    _keep(db, person, row)
    return repeatabilities(db, person)


def _keep(db: Session, person: Somebody, row: dict[str, object]) -> None:
    made = insert(Repeatability).values(**row, person_id=person.id)
    db.execute(made.on_conflict_do_nothing(index_elements=["client_id"]))
    db.commit()


def _fitting(db: Session, key: str, instrument_id: int) -> tuple[Quantity, Instrument]:
    q = quantity(key)
    return q, instrument_for(db, instrument_id, q)


def _parts(asked: StudyIn) -> VarianceParts:
    q = quantity(asked.quantity)
    values = [
        [
            [parse_as(q, typed, default_unit=q.entry_unit).base_value for typed in of]
            for of in person
        ]
        for person in asked.readings
    ]
    return variance_parts(np.array(values))


def _scatter(parts: VarianceParts) -> Scatter:
    return Scatter(parts.repeatability, parts.freedom)


def _row(
    key: tuple[str, int],
    instrument: str,
    own: Scatter | None,
    adopted: Repeatability | None,
    people: dict[int, str],
) -> RepeatabilityOut:
    q = QUANTITIES[key[0]]
    counts = adopted if adopted is not None and adopted.deviation is not None else None
    return RepeatabilityOut(
        quantity=q.key,
        label=q.label,
        unit=q.unit,
        instrument_id=key[1],
        instrument=instrument,
        usual=q.repeatability,
        own=None if own is None else ScatterOut(deviation=own.deviation, freedom=own.freedom),
        adopted=None
        if counts is None or counts.deviation is None
        else AdoptedOut(
            deviation=counts.deviation,
            freedom=counts.freedom,
            between_people=counts.between_people,
            from_study=counts.study is not None,
            person=people[counts.person_id],
            recorded_at=counts.recorded_at,
        ),
        used=q.repeatability if counts is None else counts.deviation or 0.0,
        worth_adopting=own is not None
        and own.freedom >= TELLING_FREEDOM
        and (counts is None or own.freedom > counts.freedom),
    )

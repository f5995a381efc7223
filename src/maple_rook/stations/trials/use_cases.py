"""Edge trials: begin, add points, describe, set aside; read a file; let a tester run a cycle."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.answers.calibration import Models
from maple_rook.answers.trials import shown
from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import initial_cut_mm
from maple_rook.core.edge_life.trials import (
    CYCLES,
    KINDS,
    Trial,
    TrialKind,
    cuts_of_cycles,
    decline_of,
)
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.plausibility import parse_as
from maple_rook.core.measurement.quantities import CARD_CUT, TAKEN
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.measurement.units import from_base
from maple_rook.core.prediction.evidence import expected
from maple_rook.core.prediction.predict import predict_arrays
from maple_rook.formats.trial_points import read_points
from maple_rook.http.policy import Somebody
from maple_rook.http.preconditions import IfMatch, tag_of
from maple_rook.http.problems import Conflict
from maple_rook.instruments import Hub, Sent
from maple_rook.instruments.link import Event as LineEvent
from maple_rook.instruments.link import State
from maple_rook.stations.trials.schemas import (
    BadRowOut,
    FoundOut,
    ListOfTrials,
    PointIn,
    PointOut,
    ProtocolIn,
    RateOut,
    ReadIn,
    ReadOut,
    TrialIn,
    WholeTrial,
)
from maple_rook.stations.trials.storing import store_with_trial
from maple_rook.store import records
from maple_rook.store import trials as trial_store
from maple_rook.store.records import piece_names
from maple_rook.store.tables import Piece
from maple_rook.store.trial_tables import TrialMark, TrialPoint, TrialProtocol, TrialRow

TESTERS = {
    TrialKind.CARD: InstrumentKind.CARD_TESTER,
    TrialKind.LINE: InstrumentKind.EDGE_TESTER,
}
CURVE_POINTS = 60
FRESH_LINE_N = 1.6
"""Where the force on the line of a fresh edge is looked for, N."""


def listed(db: Session, hub: Hub, kind: TrialKind, limit: int) -> ListOfTrials:
    found = trial_store.of_kind(db, kind, limit)
    names = piece_names(db, [r.row.piece_id for r in found])
    ready = [e for e in hub.states() if e.kind == "card_tester" and e.state is State.READY]
    return ListOfTrials(
        trials=[shown(r, names) for r in found],
        counts=trial_store.counts(db),
        tester=ready[0].name if ready else "",
    )


def whole(db: Session, life: LifeModel, trial_id: int) -> WholeTrial:
    """One trial, its fits, and what ``life`` (the published models) says of the knife."""
    found = trial_store.recorded(db, [trial_id])[0]
    trial = found.tried.trial
    facts = KINDS[trial.kind]
    return WholeTrial(
        **shown(found, piece_names(db, [found.row.piece_id])).model_dump(),
        protocol=ProtocolIn.of(trial.protocol),
        note=found.row.note,
        series=[PointOut.of(p) for p in sorted(trial.points, key=lambda p: p.x)],
        found=_found(found, life),
        fits=_fits(trial),
        x_label=facts.x,
        value_label=f"{facts.value}, {facts.unit}" if facts.value else "",
        method=facts.method,
        etag=tag_of(trial_store.stored_protocol(trial.protocol), found.tried.set_aside),
    )


def _found(recorded: trial_store.Recorded, life: LifeModel) -> list[FoundOut]:
    """What the trial found, each beside the prediction for the knife as it was tried."""
    tried = recorded.tried
    found = tried.found
    if not found:
        return []
    arrays = predict_arrays(
        [tried.as_tried],
        tried.trial.protocol.kitchen,
        foods=(FOODS["onion"],),
        strokes=(STROKES["push"],),
        shares=False,
        only=[f.key for f in found],
        life=life,
    )
    columns = {t.key: j for j, t in enumerate(arrays.targets)}
    rows = []
    for one in found:
        numbers: list[float] = []
        if one.key in columns:
            j = columns[one.key]
            numbers = [float(c[0, j]) for c in (arrays.central, arrays.low, arrays.high)]
        central, low, high = numbers if np.isfinite(numbers).all() and numbers else [None] * 3
        rows.append(
            FoundOut(
                key=one.key,
                label=one.label,
                unit=one.unit,
                value=one.value,
                low=one.interval[0],
                high=one.interval[1],
                note=one.note,
                predicted=central,
                predicted_low=low,
                predicted_high=high,
            )
        )
    return rows


def _fits(trial: Trial) -> list[RateOut]:
    fits = decline_of(trial)
    if fits is None:
        return []
    x, y = trial.series
    t = np.linspace(0, float(x[-1] - x[0]), CURVE_POINTS)
    curves = []
    for decline in fits:
        sharp = decline.at(t)
        read = sharp if trial.kind is TrialKind.CARD else y[0] / sharp
        curve = np.column_stack([t + x[0], read]).round(3).tolist()
        curves.append(RateOut.of(decline, curve))
    return curves


def read(asked: ReadIn) -> ReadOut:
    """A file looked at: the rows it offers, and those that are left out, by line."""
    found = read_points(asked.text, asked.kind)
    return ReadOut(
        points=[PointOut.of(p) for p in found.points],
        bad=[BadRowOut(line=b.line, text=b.text, why=b.why) for b in found.bad],
    )


def begin(db: Session, person: Somebody, hub: Hub, models: Models, asked: TrialIn) -> int:
    """Begin a trial, with the points it comes with; sent twice it is kept once.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    hub : the instruments on a line.
    models : what predictions are computed with.
    asked : what was asked, as it came in.
    """
    known = db.scalar(select(TrialRow.id).where(TrialRow.client_id == asked.client_id))
    if known is not None:
        return known
    records.get(db, Piece, "piece", asked.piece_id)
    _fitting(asked.kind, asked.points)
    row = {
        "client_id": asked.client_id,
        "piece_id": asked.piece_id,
        "kind": asked.kind.value,
        "source": asked.source,
        "given": asked.given,
        "note": asked.note,
        "instrument_id": _tester(hub, asked.kind) if asked.source == "tester" else None,
        "started_at": asked.started_at or dt.datetime.now(dt.UTC),
        "person_id": person.id,
    }
    statement = insert(TrialRow).values(row).on_conflict_do_nothing().returning(TrialRow.id)
    begun = db.scalar(statement)
    if begun is None:  # the same trial, sent twice at once
        return db.scalars(select(TrialRow.id).where(TrialRow.client_id == asked.client_id)).one()
    _describe(db, person, begun, asked.protocol)
    _add(db, person, begun, asked.points)
    store_with_trial(db, person, models, asked.piece_id, begun, asked.protocol.core())
    db.commit()
    return begun


def _tester(hub: Hub, kind: TrialKind) -> int:
    wanted = TESTERS.get(kind)
    for event in hub.states():
        if event.kind == wanted and event.state is State.READY:
            return event.instrument_id
    name = wanted.label if wanted else "tester for this"
    raise Conflict(f"No {name} is on the line: type the points.")


def _as_seen(db: Session, trial_id: int, seen: IfMatch) -> None:
    """Refuse where what is stated of the trial is not what was seen."""
    records.get(db, TrialRow, "trial", trial_id, lock=True)
    standing = trial_store.trials_as_they_stand(db, [trial_id])[trial_id]
    seen.check_tag(tag_of(standing.protocol, standing.set_aside))


def describe(
    db: Session, person: Somebody, trial_id: int, asked: ProtocolIn, seen: IfMatch
) -> None:
    """State how the trial was done; what was stated before stays in the record.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    trial_id : number of the trial.
    asked : what was asked, as it came in.
    seen : the version of it that the writer had in sight.
    """
    _as_seen(db, trial_id, seen)
    _describe(db, person, trial_id, asked)
    db.commit()


def _describe(db: Session, person: Somebody, trial_id: int, asked: ProtocolIn) -> None:
    stored = trial_store.stored_protocol(asked.core())
    db.add(TrialProtocol(trial_id=trial_id, protocol=stored, person_id=person.id))


def add_points(db: Session, person: Somebody, trial_id: int, points: Sequence[PointIn]) -> None:
    """Add points, each once; the newest of an x stands."""
    row = records.get(db, TrialRow, "trial", trial_id)
    _fitting(TrialKind(row.kind), points)
    _add(db, person, trial_id, points)
    db.commit()


def _fitting(kind: TrialKind, points: Sequence[PointIn]) -> None:
    """Refuse what no point of this kind is."""
    for point in points:
        if kind is TrialKind.KITCHEN and point.value is not None:
            raise InvalidValue("value", f"{point.value:g}", "an event: a kitchen log has no values")
        if kind is not TrialKind.KITCHEN and point.event is not None:
            raise InvalidValue("event", point.event, "a value")
        if kind is TrialKind.CARD and not (point.x.is_integer() and 1 <= point.x <= CYCLES):
            raise InvalidValue("cycle", f"{point.x:g}", f"a whole number from 1 to {CYCLES}")


def _add(db: Session, person: Somebody, trial_id: int, points: Sequence[PointIn]) -> None:
    rows = [
        {
            "client_id": p.client_id,
            "trial_id": trial_id,
            "x": p.x,
            "value": p.value,
            "event": p.event or "",
            "person_id": person.id,
        }
        for p in points
    ]
    if rows:
        db.execute(insert(TrialPoint).values(rows).on_conflict_do_nothing())


def set_aside(db: Session, person: Somebody, trial_id: int, reason: str, seen: IfMatch) -> None:
    """Leave a trial out of calibration, or take it up again.

    Parameters
    ----------
    db : the session the caller commits.
    person : who asks.
    trial_id : number of the trial.
    reason : why, or nothing to take it back.
    seen : the version of it that the writer had in sight.
    """
    _as_seen(db, trial_id, seen)
    db.add(TrialMark(trial_id=trial_id, reason=reason, person_id=person.id))
    db.commit()


@dataclass(frozen=True)
class NextReading:
    """What the tester of a trial is asked for next."""

    instrument_id: int
    quantity: str
    x: float
    about: float


def next_reading(opener: sessionmaker[Session], trial_id: int, x: float | None) -> NextReading:
    """The next cycle, or the force after ``x`` cuts, and where it is expected."""
    with opener() as db:
        found = trial_store.recorded(db, [trial_id])[0]
        trial, row = found.tried.trial, found.row
        if row.instrument_id is None or row.instrument is None:
            raise Conflict("This trial is typed or from a file: no tester runs it.")
        done = trial.series[0]
        last = float(done[-1]) if done.size else 0.0
        if trial.kind is TrialKind.CARD:
            if last >= CYCLES:
                raise Conflict(f"All {CYCLES} cycles are done.")
            cuts = _expected_cuts(found)
            return NextReading(row.instrument_id, CARD_CUT.key, last + 1, float(cuts[int(last)]))
        after = (last + 20 if done.size else 0.0) if x is None else x
        about = FRESH_LINE_N * 2 ** (after / 150)
        return NextReading(row.instrument_id, "sharpness_force", after, about)


def _expected_cuts(found: trial_store.Recorded) -> Array:
    """Cuts of sixty cycles as the published model has them; an ordinary knife's where it has none.

    It only tells the tester's range, and a simulated one what lies in it.
    """
    tried = found.tried
    blade = tried.as_tried
    model = expected(blade, "card_test", None, PUBLISHED)
    tcc = model.value if model else 200.0
    angle = blade.inputs["edge_angle"].figure.mean if "edge_angle" in blade.inputs else 15.0
    return cuts_of_cycles(float(initial_cut_mm(2 * angle, tcc)), tcc)


def keep_reading(
    opener: sessionmaker[Session],
    person: Somebody,
    trial_id: int,
    wanted: NextReading,
    reading: Sent,
    event: LineEvent,
) -> None:
    """Keep what the tester sent as a point; heard twice it is kept once.

    Parameters
    ----------
    opener : opens sessions.
    person : who asks.
    trial_id : number of the trial.
    wanted : the reading that was asked for.
    reading : what the instrument said.
    event : what happened instead of a value.
    """
    assert event.client_id is not None
    q = TAKEN[wanted.quantity]
    value = parse_as(q, reading.typed).base_value
    if q is not CARD_CUT:
        value = from_base(value, "gf")
    point = PointIn(client_id=event.client_id, x=wanted.x, value=round(value, 3))
    with opener() as db:
        add_points(db, person, trial_id, [point])

"""Cut trials: begin a session, add cuts, read a file, let the scale hold a peak, calibrate."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, sessionmaker

from maple_rook.answers.calibration import CalibrationCache
from maple_rook.core.cutting.cut_record import CutRecord
from maple_rook.core.cutting.food_calibration import FITTED, PRIOR_SD, UNTRIED, Cut, expected_n
from maple_rook.core.cutting.foods import STROKES, Food
from maple_rook.core.cutting.force import parts_n, reference_section
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.plausibility import parse_as
from maple_rook.core.measurement.quantities import CUT_LOAD
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.measurement.units import N_PER_GRAM_FORCE
from maple_rook.core.prediction.cut_evidence import CutEvidence, RecordedCut, record_of
from maple_rook.formats.csv_table import csv_lines
from maple_rook.formats.cut_file import ReadCut, read_cuts
from maple_rook.http.policy import Somebody
from maple_rook.http.problems import Conflict
from maple_rook.instruments import Hub, Sent
from maple_rook.instruments.link import Event as LineEvent
from maple_rook.instruments.link import State
from maple_rook.stations.cut_trials.schemas import (
    BadLine,
    CutCalibrationOut,
    CutFileOut,
    CutIn,
    CutLeftOut,
    CutRow,
    CutSessionIn,
    CutSessionOut,
    CutSessions,
    FittedFood,
    FittedParameter,
    OfferedCut,
    PeakIn,
    TriedCut,
    WholeCutSession,
)
from maple_rook.store import cut_trials, records
from maple_rook.store.cut_tables import CutMark, CutSession
from maple_rook.store.cut_tables import CutRow as StoredCut
from maple_rook.store.foods import shop_foods
from maple_rook.store.records import piece_names
from maple_rook.store.tables import Piece

FRESH_UM = 0.75
PARAMETERS = {
    "toughness_j_m2": ("toughness R", "J/m²"),
    "stiffness_n_mm3": ("stiffness k", "N/mm³"),
    "adhesion_kpa": ("adhesion τ", "kPa"),
}
CSV_HEADING = (
    "knife",
    "food",
    "lot",
    "stroke",
    "cut",
    "height mm",
    "width mm",
    "depth mm",
    "force N",
)


def listed(db: Session, hub: Hub, limit: int) -> CutSessions:
    """The newest sessions, and the scale a cut can be made on."""
    found = cut_trials.sessions(db, limit)
    names = piece_names(db, [piece for one in found for piece in one.pieces])
    labels = {f.key: f.label for f in shop_foods(db)}
    scale = _scale(hub)
    return CutSessions(
        sessions=[_listed(one, names, labels) for one in found], scale=scale.name if scale else ""
    )


def _scale(hub: Hub) -> LineEvent | None:
    return next(
        (e for e in hub.states() if e.kind == InstrumentKind.SCALE and e.state is State.READY), None
    )


def _listed(
    one: cut_trials.SessionSummary, names: dict[int, tuple[str, str]], labels: dict[str, str]
) -> CutSessionOut:
    row = one.row
    return CutSessionOut(
        id=row.id,
        started_at=row.started_at,
        person=row.person.name,
        source=row.source,
        edge=EdgeState(row.edge),
        note=row.note,
        knives=[names[piece][0] for piece in one.pieces],
        foods=[labels.get(food, food) for food in one.foods],
        cuts=one.cuts,
    )


def read(db: Session, text: str) -> CutFileOut:
    """A file looked at: each cut as it is understood, and the lines that are not."""
    found = read_cuts(text)
    tags = [cut.knife.lower() for cut in found.cuts]
    pieces = {
        tag.lower(): key
        for key, tag in db.execute(
            select(Piece.id, Piece.tag).where(func.lower(Piece.tag).in_(tags))
        )
    }
    foods = shop_foods(db)
    return CutFileOut(
        cuts=[_offered(cut, pieces.get(cut.knife.lower()), foods) for cut in found.cuts],
        bad=[BadLine(line=b.line, text=b.text, why=b.why) for b in found.bad],
    )


def _offered(cut: ReadCut, piece_id: int | None, foods: Sequence[Food]) -> OfferedCut:
    food = _food_named(cut.food, foods)
    stroke = next(
        (s.key for s in STROKES.values() if cut.stroke.lower() in (s.key, s.label)), "push"
    )
    wrong = "" if piece_id else f"no piece has the tag {cut.knife}"
    notes: list[str] = []
    if food is None:
        known = ", ".join(f.key for f in foods)
        wrong = wrong or f"no food of the shop is called {cut.food}; it has {known}"
    else:
        try:
            record = record_of(food, cut.depth_mm, cut.force_n)
            notes = [*record.notes, *([record.left_out] if record.left_out else [])]
        except InvalidValue as unusable:
            wrong = wrong or str(unusable)
    if cut.stroke and stroke == "push" and cut.stroke.lower() not in ("push", "straight push"):
        wrong = wrong or f"no stroke is called {cut.stroke}; strokes are {', '.join(STROKES)}"
    return OfferedCut(
        line=cut.line,
        knife=cut.knife,
        piece_id=piece_id,
        food=cut.food,
        food_key=food.key if food else None,
        stroke=stroke,
        lot=cut.lot,
        height_mm=cut.height_mm,
        width_mm=cut.width_mm,
        depth_mm=cut.depth_mm,
        force_n=cut.force_n,
        peak_n=max(cut.force_n),
        notes=notes,
        wrong=wrong,
    )


def _food_named(name: str, foods: Sequence[Food]) -> Food | None:
    """The food of this key or label, or the only one whose label has the word in it."""
    asked = name.strip().lower()
    for food in foods:
        if asked in (food.key, food.label.lower()):
            return food
    close = [f for f in foods if asked in f.label.lower().replace(",", " ").split()]
    return close[0] if len(close) == 1 else None


def begin(db: Session, person: Somebody, asked: CutSessionIn) -> int:
    """Begin a session; sent twice it is kept once."""
    row = {
        "client_id": asked.client_id,
        "source": asked.source,
        "edge": asked.edge.value,
        "given": asked.given,
        "note": asked.note,
        "started_at": asked.started_at or dt.datetime.now(dt.UTC),
        "person_id": person.id,
    }
    known = select(CutSession.id).where(CutSession.client_id == asked.client_id)
    inserted = insert(CutSession).values(row).on_conflict_do_nothing().returning(CutSession.id)
    begun = db.scalar(inserted)
    if begun is None:
        return db.scalars(known).one()
    _add(db, person, begun, asked.cuts)
    db.commit()
    return begun


def add_cuts(db: Session, person: Somebody, session_id: int, cuts: Sequence[CutIn]) -> None:
    """Add cuts to a session, each once."""
    records.get(db, CutSession, "cut session", session_id)
    _add(db, person, session_id, cuts)
    db.commit()


def _add(
    db: Session,
    person: Somebody,
    session_id: int,
    cuts: Sequence[CutIn],
    instrument_id: int | None = None,
) -> None:
    """Refuse what is no cut of a knife and a food of the shop; keep the rest as it was read."""
    records.pieces(db, list(dict.fromkeys(cut.piece_id for cut in cuts)))
    foods = {f.key: f for f in shop_foods(db)}
    for cut in cuts:
        if cut.food not in foods:
            raise InvalidValue("food", cut.food, ", ".join(foods))
        record_of(foods[cut.food], cut.depth_mm, cut.force_n)
    rows = [
        {
            **cut.model_dump(),
            "session_id": session_id,
            "instrument_id": instrument_id,
            "person_id": person.id,
        }
        for cut in cuts
    ]
    if rows:
        db.execute(insert(StoredCut).values(rows).on_conflict_do_nothing())


def whole(db: Session, calibrations: CalibrationCache, session_id: int) -> WholeCutSession:
    """A session, each cut beside what is predicted of it before and after the trials."""
    row = records.get(db, CutSession, "cut session", session_id)
    recorded = cut_trials.recorded_cuts(db, session_id)
    evidence = calibrations.cuts(db)
    pieces = tuple(dict.fromkeys(cut.piece_id for cut in recorded))
    names = piece_names(db, pieces)
    labels = {f.key: f.label for f in evidence.foods}
    foods = tuple(dict.fromkeys(cut.food for cut in recorded))
    summary = cut_trials.SessionSummary(row, pieces, foods, len(recorded))
    return WholeCutSession(
        **_listed(summary, names, labels).model_dump(),
        tried=[_tried(cut, evidence, names, labels) for cut in recorded],
    )


def _tried(
    cut: RecordedCut,
    evidence: CutEvidence,
    names: dict[int, tuple[str, str]],
    labels: dict[str, str],
) -> TriedCut:
    record: CutRecord | None = evidence.records.get(cut.number)
    counted: Cut | None = evidence.cuts.get(cut.number)
    assumed = expected = np.zeros(0)
    if counted is not None:
        assumed = expected_n(UNTRIED, counted)
        expected = expected_n(evidence.found, counted)
    tag, knife = names[cut.piece_id]
    return TriedCut.model_construct(
        id=cut.number,
        piece_id=cut.piece_id,
        tag=tag,
        knife=knife,
        food=cut.food,
        food_label=labels.get(cut.food, cut.food),
        stroke=cut.stroke,
        lot=cut.lot,
        height_mm=cut.height_mm,
        width_mm=cut.width_mm,
        depth_mm=_rounded(record.depth_mm) if record else list(cut.depth_mm),
        force_n=_rounded(record.force_n) if record else list(cut.force_n),
        peak_n=record.peak_n if record else None,
        assumed_n=_rounded(assumed),
        calibrated_n=_rounded(expected),
        notes=list(record.notes) if record else [],
        left_out=evidence.left_out.get(cut.number, ""),
        set_aside=cut.set_aside,
    )


def _rounded(values: Array) -> list[float]:
    found: list[float] = np.round(values, 2).tolist()
    return found


def calibration(db: Session, calibrations: CalibrationCache) -> CutCalibrationOut:
    """Foods before and after; each peak beside what the other knives' cuts predict of it."""
    evidence = calibrations.cuts(db)
    recorded = {cut.number: cut for cut in cut_trials.recorded_cuts(db)}
    names = piece_names(db, [cut.piece_id for cut in recorded.values()])
    labels = {f.key: f.label for f in evidence.foods}
    left_out = evidence.left_out_in_turn
    rows = []
    for i, (number, cut) in enumerate(evidence.cuts.items()):
        of, observed = recorded[number], cut.record.peak_n
        assumed = float(expected_n(UNTRIED, cut)[np.argmax(cut.record.force_n)])
        expected = assumed if left_out is None else observed / float(np.exp(left_out.fitted[i]))
        rows.append(
            CutRow(
                id=number,
                session_id=of.session,
                piece_id=of.piece_id,
                tag=names[of.piece_id][0],
                food=cut.food,
                food_label=labels.get(cut.food, cut.food),
                observed_n=observed,
                assumed_n=assumed,
                expected_n=expected,
            )
        )
    return CutCalibrationOut(
        foods=_fitted(evidence),
        rows=rows,
        error_assumed=left_out.errors[0] if left_out else None,
        error_left_out=left_out.errors[1] if left_out else None,
        scatter=evidence.found.scatter,
        left_out=[
            CutLeftOut(
                id=number,
                session_id=recorded[number].session,
                tag=names[recorded[number].piece_id][0],
                food_label=labels.get(recorded[number].food, recorded[number].food),
                why=why,
            )
            for number, why in evidence.left_out.items()
        ],
    )


def _fitted(evidence: CutEvidence) -> list[FittedFood]:
    return [
        FittedFood(
            key=food.key,
            label=food.label,
            knives=fit.food.knives_tried,
            cuts=sum(cut.food == food.key for cut in evidence.cuts.values()),
            parameters=[
                FittedParameter(
                    key=key,
                    label=PARAMETERS[key][0],
                    unit=PARAMETERS[key][1],
                    before=getattr(food, key),
                    after=getattr(fit.food, key),
                    sd_before=before,
                    sd_after=after,
                )
                for key, before, after in zip(FITTED, PRIOR_SD, fit.sds, strict=True)
            ],
            spread_before=food.spread,
            spread_after=fit.food.spread,
        )
        for food in evidence.foods
        if (fit := evidence.found.fits.get(food.key)) is not None
    ]


def set_aside(db: Session, person: Somebody, cut_id: int, reason: str) -> int:
    """Leave a cut out, or take it up again with an empty reason; returns its session."""
    row = records.get(db, StoredCut, "cut", cut_id)
    db.add(CutMark(cut_id=cut_id, reason=reason, person_id=person.id))
    db.commit()
    return row.session_id


def csv_of(db: Session, session_id: int) -> str:
    """Every reading of a session, one a line, as :func:`read_cuts` reads them."""
    records.get(db, CutSession, "cut session", session_id)
    recorded = cut_trials.recorded_cuts(db, session_id)
    names = piece_names(db, [cut.piece_id for cut in recorded])
    rows = [
        (
            *(names[cut.piece_id][0], cut.food, cut.lot, cut.stroke, float(number)),
            *(cut.height_mm, cut.width_mm, depth, force),
        )
        for number, cut in enumerate(recorded, 1)
        for depth, force in zip(cut.depth_mm or (None,), cut.force_n, strict=True)
    ]
    return "".join(csv_lines(CSV_HEADING, rows))


@dataclass(frozen=True)
class NextPeak:
    """What the scale under the board is asked for, and where it is expected, g."""

    instrument_id: int
    quantity: str
    about: float


def next_peak(opener: sessionmaker[Session], hub: Hub, session_id: int, asked: PeakIn) -> NextPeak:
    """The scale that is on the line, and about what an ordinary knife would load it with."""
    with opener() as db:
        records.get(db, CutSession, "cut session", session_id)
        records.pieces(db, [asked.piece_id])
        foods = {f.key: f for f in shop_foods(db)}
    if asked.food not in foods:
        raise InvalidValue("food", asked.food, ", ".join(foods))
    scale = _scale(hub)
    if scale is None:
        raise Conflict("No scale is on the line: type the peak.")
    about = float(parts_n(reference_section(), foods[asked.food], FRESH_UM).total)
    return NextPeak(scale.instrument_id, CUT_LOAD.key, round(about / N_PER_GRAM_FORCE))


def keep_peak(
    opener: sessionmaker[Session],
    person: Somebody,
    session_id: int,
    asked: PeakIn,
    wanted: NextPeak,
    reading: Sent,
    event: LineEvent,
) -> None:
    """Keep what the scale held as the peak of a cut, in newtons; heard twice it is kept once.

    Parameters
    ----------
    opener : opens sessions.
    person : who asks.
    session_id : number of the session.
    asked : knife, food, stroke and lot.
    wanted : what the scale was asked for.
    reading : what it said.
    event : names the reading, so that it is kept once.
    """
    assert event.client_id is not None
    load_g = parse_as(CUT_LOAD, reading.typed).base_value
    force = round(load_g * N_PER_GRAM_FORCE, 3)
    cut = CutIn(client_id=event.client_id, **asked.model_dump(), force_n=[force])
    with opener() as db:
        _add(db, person, session_id, [cut], wanted.instrument_id)
        db.commit()

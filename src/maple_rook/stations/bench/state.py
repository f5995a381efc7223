"""A measuring sheet as it stands: questions, figures, checks, hardness session, drawing."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.claims import ClaimOut, judged_claims, sheet_facts
from maple_rook.answers.figures import (
    FigureOut,
    OutlineOut,
    PieceOut,
    blade_outline,
    section_polygon,
)
from maple_rook.answers.history import ObservationOut, ReadingOut, readings
from maple_rook.core.geometry.edge import third_figure
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.hardness_session import HardnessSession, Indent, hardness_session
from maple_rook.core.measurement.knife_types import knife_type
from maple_rook.core.measurement.observations import DECISION_PREFIX, choices_text
from maple_rook.core.measurement.places import figure_key, quantity_and_place
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.time_on_task import worked_seconds
from maple_rook.core.measurement.uncertainty import outlier
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import spots
from maple_rook.core.routine.checks import checks
from maple_rook.core.routine.sheet_facts import Check
from maple_rook.core.routine.stops import KnifeFacts, asked, stop_states
from maple_rook.stations.bench.schemas import (
    AskedOut,
    BenchSheetOut,
    CheckOut,
    HardnessOut,
    UsualOut,
)
from maple_rook.store import records
from maple_rook.store.tables import Observation, Piece, Reading, Sheet


def sheet_state(db: Session, sheet_id: int) -> BenchSheetOut:
    """The sheet as the Bench shows it."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    piece = records.pieces(db, [sheet.piece_id], claims=True)[0]
    summaries = records.sheet_summaries(db, sheet_id)
    figures = records.corrected_figures(summaries)
    standing = records.observations(db, [sheet_id])
    facts = records.knife_facts(piece.model, standing)
    taken = readings(db, Reading.sheet_id == sheet_id)
    trace = records.traces(db, [piece.id]).get(piece.id)
    blade = records.blade(piece, figures, trace=trace)
    found = checks(sheet_facts(piece, figures, facts))
    claims = judged_claims(piece, figures)
    decided = {
        o.item.removeprefix(DECISION_PREFIX): o
        for o in standing
        if o.item.startswith(DECISION_PREFIX)
    }
    shown = [_check(c, decided.get(c.key)) for c in found]
    questions = asked(facts)
    answered = {quantity_and_place(key)[0] for key in summaries} | {o.item for o in standing}
    if claims:
        answered.add("claims_copied")
    doubtful = {c.quantities[0] for c in shown if not c.stands}
    return BenchSheetOut(
        id=sheet.id,
        piece=PieceOut.of(piece),
        model_id=piece.model_id,
        started_at=sheet.started_at,
        finished_at=sheet.finished_at,
        person=sheet.person.name,
        readings=taken,
        figures={
            key: FigureOut.of(
                s.figure if key == "hardness_block" else figures[key],
                QUANTITIES[quantity_and_place(key)[0]],
                facts.grind,
            )
            for key, s in summaries.items()
        },
        questions=[AskedOut.model_validate(q, from_attributes=True) for q in questions],
        observations=[
            ObservationOut.of(o) for o in standing if not o.item.startswith(DECISION_PREFIX)
        ],
        stops=stop_states(questions, answered, doubtful, facts),
        required=[q.key for q in questions if q.required],
        checks=shown,
        hints=_hints(taken),
        derived=_derived(figures),
        hardness=_hardness(taken, summaries, figures, facts, claims, blade),
        claims=claims,
        expected=_expected(db, piece),
        usual=_usual(db, piece),
        worked_s=worked_seconds(
            [
                t.timestamp()
                for t in (
                    sheet.started_at,
                    *(r.taken_at for r in taken),
                    *(o.taken_at for o in standing),
                )
            ]
        ),
        earlier_sheets=list(
            db.scalars(
                select(Sheet.id)
                .where(Sheet.piece_id == piece.id, Sheet.id < sheet.id, Sheet.set_aside.is_(None))
                .order_by(Sheet.id)
            )
        ),
        outline=OutlineOut.of(blade_outline(blade)),
        section=section_polygon(blade),
        edge_traced=trace is not None,
    )


def _check(found: Check, decision: Observation | None) -> CheckOut:
    """A check with the person's decision, which stands while the figures are those decided on."""
    stands = decision is not None and decision.note == found.wrong[:400]
    return CheckOut(
        key=found.key,
        quantities=list(found.quantities),
        wrong=found.wrong,
        why=found.why,
        mend=found.mend,
        quantity=found.quantity,
        typed=found.typed,
        stands=stands,
        decided_by=decision.person.name if decision is not None and stands else "",
        decision=decision.client_id if decision is not None else None,
    )


def _hints(taken: Sequence[ReadingOut]) -> dict[str, str]:
    """By quantity, the reading that stands out among its repeats."""
    by_key = defaultdict(list)
    for r in taken:
        if r.voided is None and r.kind is FigureKind.MEASURED:
            by_key[figure_key(r.quantity, r.station)].append(r)
    hints = {}
    for key, rows in by_key.items():
        q = QUANTITIES[quantity_and_place(key)[0]]
        odd = outlier([r.si_value for r in rows], q.resolution)
        if odd is not None:
            hints[q.key] = (
                f"{rows[odd].typed} stands out from the other {len(rows) - 1} (Grubbs, 5 %): "
                "void it with a reason if you know one, or read again"
            )
    return hints


def _hardness(
    taken: Sequence[ReadingOut],
    summaries: dict[str, records.Summary],
    figures: records.Figures,
    facts: KnifeFacts,
    claims: list[ClaimOut],
    blade: Blade,
) -> HardnessOut:
    raw, block = summaries.get("hardness"), summaries.get("hardness_block")
    live = [r for r in taken if r.quantity == "hardness" and r.voided is None]
    exposure = figures.get("core_exposure")
    session: HardnessSession = hardness_session(
        raw.figure if raw else None,
        block.figure if block else None,
        block.block if block else None,
        [Indent(r.si_value, r.above_edge_mm, r.along_mm) for r in live],
        figures,
        clad=facts.clad,
        core_exposure_mm=exposure.mean if exposure else None,
        spot=spots(blade),
    )
    named = next((r.reference for r in taken if r.quantity == "hardness_block"), None)
    return HardnessOut(
        block=FigureOut.of(session.block) if session.block else None,
        block_name=named or "",
        certified_hrc=session.certified_hrc,
        error_hrc=session.error_hrc,
        raw=FigureOut.of(raw.figure) if raw else None,
        result=FigureOut.of(session.result) if session.result else None,
        range_hrc=session.range_hrc,
        warnings=list(session.warnings),
        verdict=session.judgement.verdict.value,
        why=session.judgement.why,
        claim=next((c for c in claims if c.quantity == "hardness"), None),
    )


def _usual(db: Session, piece: Piece) -> dict[str, UsualOut]:
    """What other pieces of the model showed, where its choices are still those of the list."""
    found = records.usual_of_model(db, piece.model_id, piece.id)
    return {
        item: UsualOut(value=seen.value, text=text, tag=seen.tag)
        for item, seen in found.items()
        if (text := choices_text(item, seen.value))
    }


def _expected(db: Session, piece: Piece) -> dict[str, float]:
    """Where each quantity is expected: an earlier figure of the piece, else its type's middle.

    Only instruments hear of it, for ranging; it is never a reading.
    """
    kind = knife_type(piece.model.knife_type)
    expected = {key: (low + high) / 2 for key, (low, high) in kind.typical.items()}
    expected["edge_length"] = piece.model.nominal_mm
    known = records.figures(db, [piece.id]).get(piece.id, {})
    return expected | {key: f.mean for key, f in known.items()}


def _derived(figures: records.Figures) -> dict[str, float]:
    """What the bevels fix of what was not measured."""
    third = third_figure(figures)
    return {} if third is None else {third[0]: third[1].mean}

"""Queries: what the record says, in the core's own terms."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple, TypeVar

import numpy as np
from sqlalchemy import ColumnElement, Integer, case, cast, func, select
from sqlalchemy.dialects.postgresql import aggregate_order_by, distinct_on
from sqlalchemy.orm import Session, aliased, joinedload

from maple_rook.core.errors import MapleRookError
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.profile import EdgeCurve
from maple_rook.core.measurement.figure_kind import KINDS_BY_WEIGHT, FigureKind
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.hardness_session import (
    CERTIFICATE_MPE_HRC,
    INDENT_HEIGHT,
    NO_BLOCK,
    corrected,
)
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.observations import NOT_APPLICABLE, SAME_FOR_MODEL, WITHDRAWN, Seen
from maple_rook.core.measurement.places import PLACED, figure_key
from maple_rook.core.measurement.uncertainty import Figure, figure_from_statistics, type_b
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.routine.stops import KnifeFacts
from maple_rook.store import repeatability as scatter
from maple_rook.store.steels import grade
from maple_rook.store.tables import (
    Base,
    EdgeTrace,
    Instrument,
    KnifeModel,
    Observation,
    Piece,
    Reading,
    ReadingVoid,
    Sheet,
)

Figures = dict[str, Figure]
PHOTO = "photo"
"""Method of a reading that was taken from a photo."""
Row = TypeVar("Row", bound=Base)


class NotFound(MapleRookError):
    """No such row; says what was asked for."""

    def __init__(self, what: str, key: object) -> None:
        self.what, self.key = what, key
        super().__init__(f"There is no {what} {key}.")


def get(session: Session, table: type[Row], what: str, key: int, *, lock: bool = False) -> Row:
    """A row by its number, or :class:`NotFound`.

    Parameters
    ----------
    session : the session the caller commits.
    table : of which class.
    what : what it is called in a message.
    key : its number.
    lock : whether it is held until the transaction ends.


    """
    row = session.get(table, key, with_for_update=lock or None)
    if row is None:
        raise NotFound(what, key)
    return row


def pieces(
    session: Session, ids: Sequence[int] | None = None, *, claims: bool = False
) -> list[Piece]:
    """Pieces with model, maker and steel, in the order of ``ids`` or by id."""
    query = select(Piece).options(
        joinedload(Piece.model).joinedload(KnifeModel.maker),
        joinedload(Piece.model).joinedload(KnifeModel.steel),
    )
    if claims:
        query = query.options(joinedload(Piece.model).selectinload(KnifeModel.claims))
    if ids is None:
        return list(session.scalars(query.order_by(Piece.id)))
    found = {p.id: p for p in session.scalars(query.where(Piece.id.in_(ids)))}
    for key in ids:
        if key not in found:
            raise NotFound("piece", key)
    return [found[key] for key in ids]


def existing(session: Session, ids: Iterable[int]) -> list[int]:
    """Those of the ids that are pieces, each once, in the order given."""
    asked = list(dict.fromkeys(ids))
    known = set(session.scalars(select(Piece.id).where(Piece.id.in_(asked))))
    return [key for key in asked if key in known]


def figures(session: Session, piece_ids: Iterable[int] | None = None) -> dict[int, Figures]:
    """Figures of every piece from the readings that count, hardness corrected by its block.

    For each quantity the sheet that was begun last of those that read it counts, whenever it was
    written down; voided readings never do. On one sheet what an instrument read goes before what a
    photo showed. What was measured goes before any estimate, and that before what was told.
    """
    ids = None if piece_ids is None else list(piece_ids)
    found = _summaries(session, None if ids is None else Sheet.piece_id.in_(ids))
    return defaultdict(dict, {piece: corrected_figures(rows) for piece, rows in found.items()})


def sheet_summaries(session: Session, sheet_id: int) -> dict[str, Summary]:
    """The readings of one sheet alone, summarised by quantity."""
    by_piece = _summaries(session, Sheet.id == sheet_id)
    return next(iter(by_piece.values()), {})


def sheet_figures(session: Session, sheet_id: int) -> Figures:
    """Figures of one sheet alone, hardness corrected by its block."""
    return corrected_figures(sheet_summaries(session, sheet_id))


@dataclass(frozen=True)
class Summary:
    """The readings of one quantity on one sheet: the figure, and the block it was read on."""

    figure: Figure
    sheet_id: int
    certified: float | None = None
    certified_mpe: float = 0.0
    above_edge_mm: float | None = None

    @property
    def block(self) -> tuple[float, float] | None:
        """Certified hardness and its standard uncertainty, where the readings name a block."""
        mpe = self.certified_mpe or CERTIFICATE_MPE_HRC
        return None if self.certified is None else (self.certified, type_b(0.0, mpe))


def corrected_figures(summaries: dict[str, Summary]) -> Figures:
    """Figures by quantity; the block's own readings correct hardness and are left out.

    :data:`INDENT_HEIGHT` is the height above the edge of the lowest indent, where it is known.
    """
    found = {key: s.figure for key, s in summaries.items() if key != "hardness_block"}
    tested = summaries.get("hardness")
    if tested is not None and tested.above_edge_mm is not None:
        found[INDENT_HEIGHT] = Figure(tested.above_edge_mm, 0.0)
    block = summaries.get("hardness_block")
    for key in ("hardness", "hardness_cladding"):
        summary = summaries.get(key)
        if summary is None or summary.figure.kind is not FigureKind.MEASURED:
            continue
        if block and block.block and block.sheet_id == summary.sheet_id:
            found[key] = corrected(summary.figure, block.figure, *block.block)
        else:
            found[key] = replace(summary.figure, reservation=NO_BLOCK)
    return found


def _summaries(
    session: Session, where: ColumnElement[bool] | None
) -> dict[int, dict[str, Summary]]:
    weight = case({k.value: i for i, k in enumerate(KINDS_BY_WEIGHT)}, value=Reading.kind)
    source = 8 * Reading.sheet_id + 2 * weight + cast(Reading.method == PHOTO, Integer)
    place = case((Reading.quantity.in_(PLACED), Reading.station), else_="")
    standing = func.first_value(source).over(
        partition_by=(Sheet.piece_id, Reading.quantity, place),
        order_by=(weight, Sheet.started_at.desc(), Sheet.id.desc(), source),
    )
    reference, adopted = aliased(Instrument), scatter.adopted()
    terms = scatter.uncertainty_terms(adopted)
    live = (
        select(
            Reading.id,
            Sheet.piece_id,
            Reading.quantity,
            Reading.si_value,
            Reading.sheet_id,
            terms.resolution.label("resolution"),
            terms.mpe.label("mpe"),
            terms.deviation.label("deviation"),
            terms.between_people.label("between_people"),
            Reading.above_edge_mm,
            reference.certified,
            reference.mpe.label("certified_mpe"),
            Reading.kind,
            place.label("place"),
            source.label("source"),
            standing.label("standing"),
        )
        .join(Sheet, Sheet.id == Reading.sheet_id)
        .outerjoin(Instrument, Instrument.id == Reading.instrument_id)
        .outerjoin(reference, reference.id == Reading.reference_id)
        .outerjoin(adopted, scatter.of_reading(adopted))
        .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
        .where(ReadingVoid.reading_id.is_(None), Sheet.set_aside.is_(None))
    )
    if where is not None:
        live = live.where(where)
    rows = live.subquery()
    # Sums are taken in one order: the same record gives the same figures, to the last digit.
    values = aggregate_order_by(rows.c.si_value, rows.c.id)
    summary = (
        select(
            rows.c.piece_id,
            rows.c.quantity,
            rows.c.place,
            rows.c.sheet_id,
            rows.c.kind,
            func.avg(values),
            func.count(),
            func.coalesce(func.stddev_samp(values), 0.0),
            func.max(rows.c.si_value) - func.min(rows.c.si_value),
            func.max(rows.c.resolution),
            func.max(rows.c.mpe),
            func.max(rows.c.deviation),
            func.max(rows.c.between_people),
            func.avg(rows.c.certified),
            func.coalesce(func.max(rows.c.certified_mpe), 0.0),
            func.min(rows.c.above_edge_mm),
        )
        .where(rows.c.source == rows.c.standing)
        .group_by(rows.c.piece_id, rows.c.quantity, rows.c.place, rows.c.sheet_id, rows.c.kind)
    )
    found: dict[int, dict[str, Summary]] = defaultdict(dict)
    for row in session.execute(summary):
        piece_id, quantity, at, sheet_id, of, *numbers, deviation, people = row[:-3]
        figure = figure_from_statistics(*[*numbers, *scatter.used(quantity, deviation, people)])
        figure = replace(figure, kind=FigureKind(of))
        found[piece_id][figure_key(quantity, at)] = Summary(figure, sheet_id, *row[-3:])
    return found


def observations(session: Session, sheet_ids: Iterable[int]) -> list[Observation]:
    """The observations that stand on these sheets: the newest of each item and aspect."""
    query = (
        select(Observation)
        .options(joinedload(Observation.person))
        .where(Observation.sheet_id.in_(list(sheet_ids)))
        .ext(distinct_on(Observation.sheet_id, Observation.item, Observation.aspect))
        .order_by(Observation.sheet_id, Observation.item, Observation.aspect, Observation.id.desc())
    )
    return [o for o in session.scalars(query) if o.value != WITHDRAWN]


def knife_facts(model: KnifeModel, standing: Iterable[Observation] = ()) -> KnifeFacts:
    """What the order of work depends on, in the core's terms."""
    return KnifeFacts(
        model.knife_type,
        Grind(model.grind),
        model.construction,
        model.handle,
        {(o.item, o.aspect): Seen(o.value, o.note) for o in standing},
    )


def traces(session: Session, piece_ids: Iterable[int]) -> dict[int, EdgeTrace]:
    """The traced edge that stands, by piece; a withdrawn one is left out."""
    query = (
        select(Sheet.piece_id, EdgeTrace)
        .join(Sheet, Sheet.id == EdgeTrace.sheet_id)
        .options(joinedload(EdgeTrace.person))
        .where(Sheet.piece_id.in_(list(piece_ids)), Sheet.set_aside.is_(None))
        .ext(distinct_on(Sheet.piece_id))
        .order_by(Sheet.piece_id, Sheet.started_at.desc(), EdgeTrace.id.desc())
    )
    return {piece: trace for piece, trace in session.execute(query) if trace.points}


def edge_curve(trace: EdgeTrace | None) -> EdgeCurve | None:
    """The core's edge of a stored trace."""
    if trace is None:
        return None
    x, y = np.array(trace.points).T
    return EdgeCurve(x, y, None if trace.spine is None else np.array(trace.spine))


_OF_THE_BLADE = ("surface", "dimples", "shaped_faces", "asymmetry_school")


def seen_of_blades(session: Session, piece_ids: Iterable[int]) -> dict[int, dict[str, Seen]]:
    """What was seen of faces and finish, by piece and item; the newest sheet's counts."""
    return newest_seen(session, piece_ids, _OF_THE_BLADE)


def newest_seen(
    session: Session, piece_ids: Iterable[int], items: Sequence[str]
) -> dict[int, dict[str, Seen]]:
    """What was seen of some items that have no sides, by piece; the newest sheet's counts."""
    query = (
        select(Sheet.piece_id, Observation.item, Observation.value, Observation.note)
        .join(Sheet, Sheet.id == Observation.sheet_id)
        .where(
            Sheet.piece_id.in_(list(piece_ids)),
            Observation.item.in_(items),
            Sheet.set_aside.is_(None),
        )
        .ext(distinct_on(Sheet.piece_id, Observation.item))
        .order_by(
            Sheet.piece_id, Observation.item, Observation.sheet_id.desc(), Observation.id.desc()
        )
    )
    found: dict[int, dict[str, Seen]] = defaultdict(dict)
    for piece, item, value, note in session.execute(query):
        if value not in (WITHDRAWN, NOT_APPLICABLE):
            found[piece][item] = Seen(value, note)
    return found


class Usual(NamedTuple):
    """What an earlier piece of a model showed."""

    value: str
    tag: str


def usual_of_model(session: Session, model_id: int, piece_id: int) -> dict[str, Usual]:
    """What is the same for every piece of a model, as the newest other piece showed it, by item."""
    query = (
        select(Observation.item, Observation.value, Piece.tag)
        .join(Sheet, Sheet.id == Observation.sheet_id)
        .join(Piece, Piece.id == Sheet.piece_id)
        .where(
            Piece.model_id == model_id,
            Piece.id != piece_id,
            Observation.item.in_(SAME_FOR_MODEL),
            Observation.aspect == "",
            Sheet.set_aside.is_(None),
        )
        .ext(distinct_on(Observation.item))
        .order_by(Observation.item, Observation.id.desc())
    )
    return {
        item: Usual(value, tag)
        for item, value, tag in session.execute(query)
        if value not in (WITHDRAWN, NOT_APPLICABLE)
    }


def unusual_pieces(session: Session, piece_ids: Iterable[int]) -> set[int]:
    """Those of the pieces with a reading outside the typical range that a person confirmed."""
    query = (
        select(Sheet.piece_id)
        .join(Reading, Reading.sheet_id == Sheet.id)
        .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
        .where(
            Sheet.piece_id.in_(list(piece_ids)),
            Reading.unusual_confirmed,
            ReadingVoid.reading_id.is_(None),
            Sheet.set_aside.is_(None),
        )
        .distinct()
    )
    return set(session.scalars(query))


def blade(
    piece: Piece,
    piece_figures: Figures,
    seen: Mapping[str, Seen] | None = None,
    trace: EdgeTrace | None = None,
) -> Blade:
    """The core's blade of a piece; its draws are named by the piece."""
    model = piece.model
    shaped = (seen or {}).get("shaped_faces")
    return Blade(
        piece_figures,
        knife_type=model.knife_type,
        grind=Grind(model.grind),
        steel=grade(model.steel),
        even_machine_edge=model.even_machine_edge,
        seed=piece.id,
        nominal_mm=model.nominal_mm,
        traced=edge_curve(trace),
        shaped=shaped.value if shaped else "both",
        surface=_surface(seen or {}),
        school=_school(seen or {}),
        claimed_hrc=_claimed_hrc(model),
    )


def _claimed_hrc(model: KnifeModel) -> tuple[float, float] | None:
    """The hardness printed of a model, low and high, where one is."""
    low, high = model.claimed_hrc_low, model.claimed_hrc_high
    return None if low is None or high is None else (low, high)


def _school(seen: Mapping[str, Seen]) -> AsymmetrySchool | None:
    """How the asymmetry is read: bevel widths unless somebody said otherwise."""
    said = seen.get("asymmetry_school")
    if said is None:
        return AsymmetrySchool.WIDTH
    return None if said.value == "strokes" else AsymmetrySchool(said.value)


def _surface(seen: Mapping[str, Seen]) -> tuple[str, ...] | None:
    """Finish and dimples in the release index's words; None where nobody looked."""
    finish, dimples = seen.get("surface"), seen.get("dimples")
    if finish is None and dimples is None:
        return None
    dimpled = (f"dimples.{dimples.value}",) if dimples else ()
    return (*(finish.choices if finish else ()), *dimpled)


def blades(
    session: Session,
    found: Sequence[Piece],
    of: Mapping[int, Figures],
    traced: Mapping[int, EdgeTrace] | None = None,
) -> list[Blade]:
    """The core's blades of pieces with their figures, traced edges and what was seen of them.

    Traces that are read already are not read again.
    """
    ids = [p.id for p in found]
    seen = seen_of_blades(session, ids)
    traced = traces(session, ids) if traced is None else traced
    return [blade(p, of.get(p.id, {}), seen.get(p.id), traced.get(p.id)) for p in found]


def blade_of(session: Session, piece_id: int) -> Blade:
    """The core's blade of one piece as the record has it now."""
    return blades(session, pieces(session, [piece_id]), figures(session, [piece_id]))[0]


def piece_name(piece: Piece) -> str:
    return f"{model_name(piece.model)} · {piece.tag}"


def model_name(model: KnifeModel) -> str:
    kind = KNIFE_TYPES[model.knife_type].label
    return f"{model.maker.name} {model.line} {kind} {model.nominal_mm:g}"


def place_stand_ins(session: Session, addresses: Mapping[str, str]) -> None:
    """Note where this run's simulated instruments answer, and commit."""
    for row in session.scalars(select(Instrument).where(Instrument.stand_in)):
        row.address = addresses.get(row.kind, "")
    session.commit()


def piece_names(db: Session, ids: Sequence[int]) -> dict[int, tuple[str, str]]:
    """Tag and name of pieces, by id."""
    wanted = list(dict.fromkeys(ids))
    return {p.id: (p.tag, piece_name(p)) for p in pieces(db, wanted)}

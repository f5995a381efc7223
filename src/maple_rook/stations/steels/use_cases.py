"""Find a grade, enter one, convert a hardness."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.steels import (
    ELEMENTS,
    ESTIMATE_RELATIVE_U,
    estimated_carbides,
    matches,
)
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.hardness import (
    HARDNESS_BANDS,
    bands,
    conversion_table,
    hardness_of_depth,
    minimum_thickness_mm,
    rockwell,
    tensile_strength_mpa,
    vickers,
    yield_strength_mpa,
)
from maple_rook.stations.steels.schemas import (
    BandOut,
    CarbidesOut,
    CompositionIn,
    ConvertedOut,
    GradeIn,
    GradeOut,
    SteelsOut,
)
from maple_rook.store.steels import steel, steel_row
from maple_rook.store.tables import KnifeModel, Piece, SteelGrade


def listed(db: Session, search: str) -> SteelsOut:
    rows = list(
        db.scalars(select(SteelGrade).order_by(SteelGrade.own.desc(), SteelGrade.designation))
    )
    counted = (
        select(KnifeModel.steel_id, func.count(Piece.id))
        .join(Piece, Piece.model_id == KnifeModel.id)
        .group_by(KnifeModel.steel_id)
    )
    pieces = {row[0]: row[1] for row in db.execute(counted)}
    found = [(row, grade) for row in rows if matches(grade := steel(row), search)]
    return SteelsOut(
        grades=[GradeOut.of(grade, pieces.get(row.id, 0)) for row, grade in found],
        total=len(rows),
        elements=list(ELEMENTS),
        bands=[BandOut(low=low, high=high, words=words) for low, high, words in HARDNESS_BANDS],
        conversion=[list(row) for row in conversion_table()],
        conversion_source="ASTM E140 table 1, from memory; yield after Tabor, 9.81 HV / 3; "
        "tensile strength by ASTM A370, from memory",
    )


def estimate(asked: CompositionIn) -> CarbidesOut:
    return CarbidesOut.of(
        estimated_carbides(asked.composition),
        ESTIMATE_RELATIVE_U,
        "estimated from the composition by mass balance",
    )


def add(db: Session, asked: GradeIn) -> GradeOut:
    grade = asked.core()
    taken = select(SteelGrade.id).where(
        func.lower(SteelGrade.designation) == grade.designation.lower()
    )
    if db.scalar(taken) is not None:
        raise InvalidValue("designation", grade.designation, "a name no other grade has")
    db.add(steel_row(grade))
    db.commit()
    return GradeOut.of(grade, 0)


def converted(value: float, unit: str) -> ConvertedOut:
    """A hardness in the other scale, or of the depth that the cone left, outside the table refused.

    The depth is the residual one in mm.
    """
    hrc = {
        "HRC": lambda: value,
        "HV": lambda: float(rockwell(value)),
        "mm": lambda: float(hardness_of_depth(value)),
    }[unit]()
    return ConvertedOut(
        hrc=hrc,
        hv=float(vickers(hrc)),
        strength_mpa=float(yield_strength_mpa(hrc)),
        tensile_mpa=tensile_strength_mpa(hrc),
        bands=bands(hrc),
        minimum_thickness_mm=float(minimum_thickness_mm(hrc)),
    )

"""Grades of steel: the core's from their rows, and back."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.steels import Steel
from maple_rook.core.errors import InvalidValue
from maple_rook.store.tables import SteelGrade


def grade(row: SteelGrade | None) -> Steel | None:
    """The core's steel of a stored grade."""
    return None if row is None else steel(row)


def steel(row: SteelGrade) -> Steel:
    """The core's steel of a stored grade."""
    return Steel(
        row.designation,
        row.name,
        row.standard,
        row.composition,
        row.carbides,
        (row.usual_hrc_low, row.usual_hrc_high),
        row.toughness,
        row.sharpening,
        {element: (low, high) for element, (low, high) in row.ranges.items()},
        tuple(row.aliases),
        row.carbide_relative_u,
        row.own,
    )


def steel_row(steel: Steel) -> SteelGrade:
    """The row that keeps a steel of the core; :func:`steel` reads it back."""
    return SteelGrade(
        designation=steel.designation,
        name=steel.name,
        standard=steel.standard,
        composition=steel.composition,
        carbides=steel.carbides,
        usual_hrc_low=steel.usual_hrc[0],
        usual_hrc_high=steel.usual_hrc[1],
        toughness=steel.toughness,
        sharpening=steel.sharpening,
        ranges={element: list(limits) for element, limits in steel.ranges.items()},
        aliases=list(steel.aliases),
        carbide_relative_u=steel.carbide_relative_u,
        own=steel.own,
    )


def grade_named(db: Session, text: str) -> SteelGrade:
    """The grade that a text names by its designation, its name or another of its names.

    Raises :class:`InvalidValue` where the shop has none of that name.
    """
    said = "".join(text.casefold().split())
    rows = list(db.scalars(select(SteelGrade).order_by(SteelGrade.id)))
    for row in rows:
        names = (row.designation, row.name, *row.aliases)
        if any("".join(name.casefold().split()) == said for name in names):
            return row
    known = ", ".join(row.designation for row in rows)
    raise InvalidValue("steel", text, known, hint="Enter its grade under Steels, or leave it open.")

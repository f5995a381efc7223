"""Grades of steel: the core's from their rows, and back."""

from __future__ import annotations

from maple_rook.core.edge_life.steels import Steel
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

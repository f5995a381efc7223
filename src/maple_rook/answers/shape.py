"""The shape of one blade as stations show it: sections, taper, the edge on the board, release."""

from __future__ import annotations

from typing import Self

import numpy as np
from pydantic import BaseModel

from maple_rook.answers.figures import Points, blade_outline
from maple_rook.core.geometry.outline import Outline
from maple_rook.core.geometry.profile import (
    CLASS_RULES,
    BoardProfile,
    EdgeCurve,
    Rocking,
    butt_rise_mm,
    knuckle_room_mm,
    on_board,
)
from maple_rook.core.geometry.section import Section, polygon
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import Built, built

_SECTIONS = (("at the heel", 0.0), ("halfway", 0.5), ("a fifth behind the tip", 0.8))
_HEIGHTS_MM = (1.0, 5.0, 10.0)
_LINE_POINTS = 160
_TAPER_POINTS = 25


class SectionOut(BaseModel):
    """One section: its outline, and the thickness 1, 5 and 10 mm above the edge where it is taller.

    ``wheel_radius_mm`` is the radius of the wheel a hollow face was ground on.
    """

    label: str
    at_mm: float
    polygon: Points
    thickness_mm: dict[str, float]
    wedge_angle_deg: float
    area_mm2: float
    second_moment_mm4: float
    wheel_radius_mm: float | None


class HollowOut(BaseModel):
    gap_mm: float
    at_mm: float
    from_mm: float
    to_mm: float


class ProfileOut(BaseModel):
    """The edge on the board. ``rock`` rows: handle raise in degrees, contact x and y in mm."""

    inferred: bool
    edge: Points
    length_mm: float
    resting: list[float]
    flat: list[float]
    chopping: list[float]
    flat_length_mm: float
    chopping_length_mm: float
    tip_height_mm: float
    belly_radius_mm: float | None
    rock_deg: float
    rocking: Rocking
    rocking_share: float
    rock: Points
    butt_rise_mm: float
    hollow: HollowOut | None
    hump_mm: float | None
    knuckle_room_mm: float
    knuckle_room_measured: bool
    kind: str
    reasons: list[str]
    rules: list[str]


class ReleasePartOut(BaseModel):
    label: str
    points: float
    of: float


class ShapeOut(BaseModel):
    """Sections, taper (x, thickness) and release; none where the section is not measured."""

    sections: list[SectionOut]
    taper: Points
    release: list[ReleasePartOut]

    @classmethod
    def of(cls, made: Built | None) -> Self:
        if made is None:
            return cls(sections=[], taper=[], release=[])
        length = made.x["edge_length"].item()
        shares = np.linspace(0, 1, _TAPER_POINTS)
        return cls(
            sections=[
                _section(label, share * length, made.heel if not share else made.section_at(share))
                for label, share in _SECTIONS
            ],
            taper=_rounded(shares * length, made.spine_mm(shares), 3),
            release=[
                ReleasePartOut(label=p.label, points=p.points, of=p.of) for p in made.release()
            ],
        )


def _section(label: str, at_mm: float, made: Section) -> SectionOut:
    height = float(made.height_mm)
    curvature = [p.curvature for p in made.lower_faces if p.curvature is not None]
    bends = [float(k) for k in curvature]
    hollow = [-k for k in bends if k < -1e-6]
    return SectionOut(
        label=label,
        at_mm=round(at_mm, 1),
        polygon=[list(corner) for corner in polygon(made)],
        thickness_mm={
            f"{z:g}": round(float(made.thickness_mm(z)), 3) for z in _HEIGHTS_MM if z < height
        },
        wedge_angle_deg=round(float(made.primary_angle_deg), 2),
        area_mm2=round(float(made.area_mm2), 2),
        second_moment_mm4=round(float(made.second_moment_mm4), 3),
        wheel_radius_mm=round(1 / max(hollow), 0) if hollow else None,
    )


def _rounded(x: np.ndarray, y: np.ndarray, decimals: int) -> Points:
    return [[round(float(a), 2), round(float(b), decimals)] for a, b in zip(x, y, strict=True)]


def profile_of(blade: Blade) -> ProfileOut:
    """The edge on the board, traced or inferred from type and figures."""
    drawn = blade_outline(blade)
    measured = blade.figures.get("knuckle_room")
    handle = blade.figures.get("handle_height")
    drop = handle.mean if handle else _drawn_drop_mm(drawn)
    room = measured.mean if measured else float(knuckle_room_mm(drawn.height_heel_mm, drop))
    return profile_out(
        blade.edge_on_board(),
        drawn,
        inferred=blade.traced is None,
        room_mm=room,
        room_measured=measured is not None,
        rocks=None if blade.traced is not None else blade.motion[0],
    )


def _drawn_drop_mm(drawn: Outline) -> float:
    """From the spine line to the underside of the handle as it is drawn."""
    return drawn.height_heel_mm - min(y for _, y in drawn.handle)


def profile_out(
    curve: EdgeCurve,
    drawn: Outline | None,
    *,
    inferred: bool,
    room_mm: float = 0.0,
    room_measured: bool = False,
    rocks: float | None = None,
) -> ProfileOut:
    """An edge laid on the board, as it is shown.

    Parameters
    ----------
    curve : the edge curve.
    drawn : whether it is drawn from the type.
    inferred : what of it is inferred.
    room_mm : knuckle room, mm.
    room_measured : whether that was measured.
    rocks : share of the edge that usually rocks, where the edge is inferred.
    """
    found: BoardProfile = on_board(curve, rocks=rocks)
    x = np.linspace(0, curve.length_mm, _LINE_POINTS)
    butt = (-130.0, 30.0)
    if drawn is not None:
        butt = (min(px for px, _ in drawn.handle), min(py for _, py in drawn.handle))
    hollow = found.hollow
    return ProfileOut(
        inferred=inferred,
        edge=_rounded(x, curve.rise_mm(x), 3),
        length_mm=round(found.length_mm, 1),
        resting=_span(found.resting),
        flat=_span(found.flat),
        chopping=_span(found.chopping),
        flat_length_mm=round(found.flat_length_mm, 1),
        chopping_length_mm=round(found.chopping_length_mm, 1),
        tip_height_mm=round(found.tip_height_mm, 2),
        belly_radius_mm=None if found.belly_radius_mm is None else round(found.belly_radius_mm),
        rock_deg=round(found.rock_deg, 2),
        rocking=found.rocking,
        rocking_share=round(found.rocking_share, 3),
        rock=[list(row) for row in found.rock],
        butt_rise_mm=round(butt_rise_mm(found, butt, found.rock_deg), 1),
        hollow=None
        if hollow is None
        else HollowOut(
            gap_mm=round(hollow.gap_mm, 3),
            at_mm=round(hollow.at_mm, 1),
            from_mm=round(hollow.from_mm, 1),
            to_mm=round(hollow.to_mm, 1),
        ),
        hump_mm=found.hump_mm,
        knuckle_room_mm=round(room_mm, 1),
        knuckle_room_measured=room_measured,
        kind=found.kind.value,
        reasons=list(found.reasons),
        rules=[f"{kind.label}: {rule}" for kind, rule in CLASS_RULES],
    )


def _span(span: tuple[float, float]) -> list[float]:
    return [round(end, 2) for end in span]


def shape_of(blade: Blade) -> ShapeOut:
    return ShapeOut.of(built(blade))

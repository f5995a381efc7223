"""What it takes to put another edge on a blade, and the blade that is left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import UNEVEN_PERCENT, AsymmetrySchool
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade, Origin
from maple_rook.core.prediction.built import Built, built
from maple_rook.core.upkeep.grinding import Step, Stone, minutes, pace, sharpening_mm3, steps
from maple_rook.core.upkeep.reprofile import Faces, Reground, Wanted, faces_of, reground

ALONG = (0.0, 0.25, 0.5, 0.75, 0.95)
"""Shares of the edge length at which the blade is cut."""
ADDED_WIDTH_MM = 0.5
"""Width of the bevel put on a single-bevel face where none is asked for."""
_HAND_HELD_DEG = 0.7
"""How well a hand holds an angle (assumption)."""
_OF_THE_OLD_EDGE = (
    "bevel_width_right",
    "bevel_width_left",
    "angle_right",
    "angle_left",
    "thickness_1mm",
    "thickness_5mm",
    "thickness_10mm",
    "micro_bevel",
    "angle_difference",
)


@dataclass(frozen=True)
class ReprofilePlan:
    """A re-profile: the edge found and made, steel and time it takes, and the blade after it.

    ``volumes_mm3`` of the right and the left face; ``minutes`` likely, least and most;
    ``worth`` is how many sharpenings take as much steel; ``turns_even`` says that an uneven edge
    is ground even, which asks for the owner's word.
    """

    found: Faces
    found_angles_deg: tuple[float, float]
    made: Reground
    wanted: Wanted
    volumes_mm3: tuple[float, float]
    steps: tuple[Step, ...]
    minutes: tuple[float, float, float]
    worth: float
    turns_even: bool
    warnings: tuple[str, ...]
    after: Blade


def found_edge(blade: Blade) -> tuple[float, float]:
    """Angle per side of the edge as it is, degrees, and the share of the right-hand face."""
    return blade.inputs[blade.apex_key].figure.mean, blade.inputs["asymmetry"].figure.mean / 100


def reprofile_plan(
    blade: Blade, wanted: Wanted, stones: Sequence[Stone], lowered_mm: float
) -> ReprofilePlan:
    """The plan for an edge; ``lowered_mm`` is what an ordinary sharpening takes of the height.

    Raises :class:`InvalidValue` where the angle is not measured or the edge cannot be made.
    """
    shape = built(blade)
    if shape is None or "edge_angle" not in blade.known:
        raise InvalidValue("edge", "not measured", "edge angle, spine and height, measured")
    wanted = _possible(shape, wanted)
    at_heel = faces_of(shape.heel, single_bevel=blade.single_bevel)
    made = reground(at_heel, wanted)
    volumes = _volumes(shape, wanted)
    length = blade.inputs["edge_length"].figure.mean
    bevels = length * sum(made.faces.bevel_widths_mm)
    ease = blade.steel.sharpening if blade.steel else None
    taken = steps(sum(volumes), bevels, stones, pace(ease))
    usual = sharpening_mm3(at_heel.behind_edge_mm, length, lowered_mm)
    after = _after(blade, made, wanted)
    return ReprofilePlan(
        at_heel,
        _angles_deg(shape),
        made,
        wanted,
        volumes,
        tuple(taken),
        minutes(taken),
        sum(volumes) / usual,
        _turns_even(blade, wanted),
        tuple(_warnings(blade, made, wanted, volumes)),
        after,
    )


def _angles_deg(shape: Built) -> tuple[float, float]:
    """Right and left angle as found; those of a single bevel are its edge's."""
    if shape.blade.single_bevel:
        angle = found_edge(shape.blade)[0]
        return angle, angle
    edge = shape.heel.bevels
    return float(edge.angle_right_deg), float(edge.angle_left_deg)


def _possible(shape: Built, wanted: Wanted) -> Wanted:
    """The wish as this grind can have it.

    Faces at two angles keep them in proportion unless another ratio is asked for; a steeper single
    bevel gets an edge bevel only.
    """
    blade = shape.blade
    found = found_edge(blade)[0]
    if not blade.single_bevel:
        right, left = _angles_deg(shape)
        return replace(wanted, difference_deg=(right - left) * wanted.angle_per_side_deg / found)
    steeper = wanted.angle_per_side_deg > found
    if steeper and wanted.micro_mm is None:
        return replace(wanted, micro_mm=ADDED_WIDTH_MM)
    return wanted


def _volumes(shape: Built, wanted: Wanted) -> tuple[float, float]:
    """Steel removed of either face over the edge, mm3."""
    areas: list[tuple[float, float]] = []
    for share in ALONG:
        there = faces_of(shape.section_at(share), single_bevel=shape.blade.single_bevel)
        try:
            areas.append(reground(there, wanted).areas_mm2)
        except InvalidValue:
            if not areas:
                raise
            areas.append(areas[-1])  # toward the tip the spine is too near: as before it
    length = shape.blade.inputs["edge_length"].figure.mean
    right, left = np.trapezoid(np.array(areas), np.array(ALONG), axis=0) * length / ALONG[-1]
    return float(right), float(left)


def _after(blade: Blade, made: Reground, wanted: Wanted) -> Blade:
    """The blade with its new edge; what was measured of the old one no longer holds."""
    figures = {k: f for k, f in blade.figures.items() if k not in _OF_THE_OLD_EDGE}
    steeper_only = wanted.micro_mm is not None and made.height_lost_mm > 0
    angle = Figure(wanted.angle_per_side_deg, _HAND_HELD_DEG)
    if (blade.has_steeper and blade.single_bevel) or steeper_only:
        figures["micro_bevel"] = angle
    else:
        figures["edge_angle"] = angle
    behind = blade.inputs["thickness_behind_edge"]
    if behind.origin is Origin.MEASURED and not blade.single_bevel and not steeper_only:
        thick = made.faces.behind_edge_mm
        figures["thickness_behind_edge"] = replace(behind.figure, mean=thick)
    right, left = made.faces.bevel_widths_mm
    if wanted.share_right is None and "angle_right" in blade.figures:
        sides = zip(("angle_right", "angle_left"), wanted.angles_deg, strict=True)
        figures |= {key: Figure(side, _HAND_HELD_DEG) for key, side in sides}
    if wanted.share_right is not None:
        by_width = wanted.school is AsymmetrySchool.WIDTH
        share = right / (right + left) if by_width else wanted.share_right
        figures["asymmetry"] = Figure(100 * share, 3.0)
    for key in ("height_heel", "height_mid"):
        if key in figures:
            old = figures[key]
            figures[key] = replace(old, mean=old.mean - made.height_lost_mm)
    return replace(blade, figures=figures, known_bulge=_curve(blade))


def _curve(blade: Blade) -> Figure | None:
    found = blade.inputs.get("bulge")
    return found.figure if found else None


def _uneven(share: float) -> bool:
    return abs(100 * share - 50) >= UNEVEN_PERCENT


def _turns_even(blade: Blade, wanted: Wanted) -> bool:
    share = wanted.share_right
    return share is not None and _uneven(found_edge(blade)[1]) and not _uneven(share)


def _warnings(
    blade: Blade, made: Reground, wanted: Wanted, volumes: tuple[float, float]
) -> list[str]:
    said = []
    angle, share = found_edge(blade)
    if _turns_even(blade, wanted):
        hand = "right" if share > 0.5 else "left"
        said.append(
            f"This edge is ground {100 * share:.0f}:{100 - 100 * share:.0f} for the {hand} hand. "
            f"Turning it even takes {sum(volumes):.0f} mm³ of steel and "
            f"{made.height_lost_mm:.2f} mm of height, and cannot be put back. Keep the ratio "
            "unless the owner asks for it and accepts that cost."
        )
    if blade.single_bevel:
        said.append("Grind the face only. No angle on the back: the burr off, flat on the stone.")
    if wanted.angle_per_side_deg > angle and wanted.micro_mm is None:
        said.append(
            f"The whole bevel at {wanted.angle_per_side_deg:g}° costs {made.height_lost_mm:.2f} mm "
            "of height; a micro-bevel does the same for the edge and costs next to none."
        )
    return said

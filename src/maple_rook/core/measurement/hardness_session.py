"""A hardness session: reference block first, then the blade, and what may be said of the edge.

References
----------
.. [1] ISO 6508-1, Metallic materials - Rockwell hardness test - Part 1: Test method.
.. [2] ISO 8442-1, cutlery for the preparation of food (minimum 52 HRC, from memory).
.. [3] JCGM 100:2008 (uncertainty of a corrected reading).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.hardness import (
    HARDLY_HARDENED_HRC,
    HRC_RANGE,
    MINIMUM_HARDENED_HRC,
    STANDARD_GRAVITY,
    TESTER_MPE_HRC,
    block_corrected,
    minimum_thickness_mm,
    vickers,
)
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.uncertainty import Figure, type_b

MAJOR_LOAD_N = 1471.0
CENTRES_APART_DIAMETERS = 3.0
FROM_EDGE_DIAMETERS = 2.5
CERTIFICATE_MPE_HRC = 0.4
"""Permissible error of a block's certified value where its certificate gives none (assumption)."""
DOUBT_PER_HRC = 0.02
"""How the tester's error is less known the further from the block's value, HRC per HRC (as
standard uncertainty; assumption)."""
NO_BLOCK = "no reference block was read: press the block, then the blade again"
LEAST_PRESSES = 2
FAR_BELOW_HRC = 15.0
"""So far under the minimum no lack of support under the cone is that large (assumption)."""
INDENT_HEIGHT = "indent_height"
"""Key of the height above the edge of the lowest indent, mm, among a piece's figures."""


def indent_diameter_mm(hrc: float) -> float:
    r"""Diameter of the cone's indent, d = sqrt(4 F / (pi H)) with H = 9.81 HV MPa, mm.

    F is the major load, 1471 N. The indent carries the load at the Vickers hardness (an estimate;
    the projected area is a little smaller). Range 20 to 68 HRC; outside it the end is taken.

    >>> round(indent_diameter_mm(60), 2)
    0.52
    """
    pressure = STANDARD_GRAVITY * float(vickers(hrc, clip=True))
    return math.sqrt(4 * MAJOR_LOAD_N / (math.pi * pressure))


def corrected(reading: Figure, block: Figure, certified_hrc: float, certified_u: float) -> Figure:
    """A blade's hardness less the tester's error on the block, with its uncertainty [3]_.

    The block takes the place of the tester's permissible error: left are the repeats on blade and
    block, the resolution of both means, the block's own uncertainty, and what the tester's error
    may differ by so far from the block's value, :data:`DOUBT_PER_HRC`.

    >>> corrected(Figure(60.0, 0.9, 3), Figure(62.5, 0.9, 3), 62.0, 0.2).mean
    59.5
    """
    resolution = type_b(0.5, 0.0)
    repeats = math.hypot(reading.type_a, block.type_a)
    away = DOUBT_PER_HRC * abs(reading.mean - block.mean)
    u = math.hypot(repeats, resolution, resolution, certified_u, away)
    return Figure(
        float(block_corrected(reading.mean, block.mean, certified_hrc)),
        u,
        reading.n,
        reading.spread,
        repeats,
    )


@dataclass(frozen=True)
class Indent:
    """One reading on the blade and where it stands: above the edge and along from the heel, mm."""

    hrc: float
    above_edge_mm: float | None = None
    along_mm: float | None = None


def thickness_at_mm(figures: Mapping[str, Figure], above_edge_mm: float) -> float | None:
    """Blade thickness at a height above the edge, from what is measured, mm.

    Straight between the measured places: shoulder, 1, 5 and 10 mm up, and the spine at the full
    height. None where spine or height is not measured or the place is above the spine.

    >>> f = {"spine_heel": Figure(2.2, 0), "height_heel": Figure(45.0, 0)}
    >>> round(thickness_at_mm(f, 22.5), 2)
    1.1
    """
    spine, height = figures.get("spine_heel"), figures.get("height_heel")
    if spine is None or height is None or above_edge_mm > height.mean:
        return None
    places = [(0.0, 0.0)]
    for key, z in THICKNESS_AT_MM.items():
        if key in figures:
            places.append((z, figures[key].mean))
    if len(places) == 1 and "thickness_behind_edge" in figures:
        places = [(0.0, figures["thickness_behind_edge"].mean)]
    places.append((height.mean, spine.mean))
    heights, thicknesses = zip(*places, strict=True)
    return float(np.interp(above_edge_mm, list(heights), list(thicknesses)))


Spot = Callable[[float, float | None], float | None]
"""Blade thickness at a height above the edge and a place along it, mm; None where not known."""


def _between(figures: Mapping[str, Figure]) -> Spot:
    """Thickness between the measured places, for a blade whose section is not built."""
    return lambda above_edge_mm, _: thickness_at_mm(figures, above_edge_mm)


def place_warnings(
    indents: Sequence[Indent], figures: Mapping[str, Figure], spot: Spot | None = None
) -> list[str]:
    """What is wrong with the places of the indents: thickness, edge, other indents [1]_.

    ``spot`` gives the thickness by the blade's section; without it, it is taken between the
    measured places.
    """
    spot = spot or _between(figures)
    warnings = []
    for number, indent in enumerate(indents, 1):
        diameter = indent_diameter_mm(indent.hrc)
        if indent.above_edge_mm is None:
            continue
        thickness = spot(indent.above_edge_mm, indent.along_mm)
        needed = float(minimum_thickness_mm(indent.hrc))
        if thickness is not None and thickness < needed:
            warnings.append(
                f"indent {number}: the blade is about {thickness:.2f} mm thick there; "
                f"{indent.hrc:g} HRC wants {needed:.2f} mm (10 times the depth)"
            )
        if indent.above_edge_mm < FROM_EDGE_DIAMETERS * diameter:
            warnings.append(
                f"indent {number}: {indent.above_edge_mm:g} mm above the edge; keep "
                f"{FROM_EDGE_DIAMETERS * diameter:.1f} mm (2.5 diameters)"
            )
        warnings += _too_close(indents, number, diameter)
    return warnings


def _too_close(indents: Sequence[Indent], number: int, diameter_mm: float) -> list[str]:
    here = indents[number - 1]
    found = []
    for other, earlier in enumerate(indents[: number - 1], 1):
        places = (here.above_edge_mm, here.along_mm, earlier.above_edge_mm, earlier.along_mm)
        if any(place is None for place in places):
            continue
        apart = math.hypot(
            (here.above_edge_mm or 0) - (earlier.above_edge_mm or 0),
            (here.along_mm or 0) - (earlier.along_mm or 0),
        )
        if apart < CENTRES_APART_DIAMETERS * diameter_mm:
            found.append(
                f"indents {other} and {number} are {apart:.1f} mm apart; keep "
                f"{CENTRES_APART_DIAMETERS * diameter_mm:.1f} mm (3 diameters)"
            )
    return found


class Hardened(Labelled):
    HARDENED = "hardened"
    HARDLY = "hardly_hardened"
    NOT_HARDENED = "not_hardened"
    CANNOT_BE_SAID = "cannot_be_said"


@dataclass(frozen=True)
class Judgement:
    """Whether the blade is hardened, and why that can or cannot be said."""

    verdict: Hardened
    why: str


def _thick_enough(hrc: float, figures: Mapping[str, Figure], spot: Spot) -> bool:
    """Whether the lowest indent stood on enough steel; True where its place is not known."""
    place = figures.get(INDENT_HEIGHT)
    thickness = None if place is None else spot(place.mean, None)
    return thickness is None or thickness >= float(minimum_thickness_mm(hrc))


def inadmissible(figures: Mapping[str, Figure], spot: Spot | None = None) -> str:
    """Why the hardness of a piece judges nothing yet, and what would settle it; else empty [1]_.

    >>> inadmissible({"hardness": Figure(58.0, 0.9, n=1)})
    'one press only; press it twice more'
    """
    hardness = figures.get("hardness")
    if hardness is None:
        return ""
    if not hardness.judges:
        return hardness.reservation or f"{hardness.kind.label}, not measured"
    if hardness.n < LEAST_PRESSES:
        return "one press only; press it twice more"
    if not _thick_enough(hardness.mean, figures, spot or _between(figures)):
        return "the blade is too thin where it was tested; test nearer the spine"
    place, clear = figures.get(INDENT_HEIGHT), FROM_EDGE_DIAMETERS
    if place is not None and place.mean < clear * indent_diameter_mm(hardness.mean):
        return "it was tested too near the edge; test nearer the spine"
    return ""


def hardened(figures: Mapping[str, Figure], spot: Spot | None = None) -> Judgement:
    """Judge a blade by ISO 8442-1's 52 HRC (from memory) [2]_ and the expanded uncertainty.

    ``figures`` holds ``hardness`` and, where the lowest indent's place is known,
    :data:`INDENT_HEIGHT`; ``spot`` gives the thickness there by the blade's section, else it is
    taken between the measured places. *Not hardened* needs an admissible
    reading that is below even with its uncertainty; too few, too thin, without a block or
    estimated is *cannot be said*, never *not hardened*.

    >>> soft = {"hardness": Figure(44.0, 0.9, n=3)}
    >>> hardened(soft).verdict.value
    'not_hardened'
    >>> hardened({"hardness": Figure(51.0, 0.4, n=3)}).verdict.value
    'hardly_hardened'
    >>> thin = {"spine_heel": Figure(2.0, 0), "height_heel": Figure(45.0, 0)}
    >>> hardened({**soft, **thin, INDENT_HEIGHT: Figure(8.0, 0)}).verdict.value
    'cannot_be_said'
    """
    hardness = figures.get("hardness")
    if hardness is None:
        return Judgement(Hardened.CANNOT_BE_SAID, "the edge steel's hardness is not measured")
    m, expanded = hardness.mean, hardness.expanded
    said = f"{m:.1f} ± {expanded:.1f} HRC"
    why_not = inadmissible(figures, spot)
    if why_not:
        if m < MINIMUM_HARDENED_HRC - FAR_BELOW_HRC:
            why_not = (
                f"{said} lies far below a hardened edge ({MINIMUM_HARDENED_HRC:g} HRC); press "
                f"again where it is thick enough ({why_not})"
            )
        return Judgement(Hardened.CANNOT_BE_SAID, why_not)
    if m + expanded < MINIMUM_HARDENED_HRC:
        verdict = Hardened.NOT_HARDENED if m < HARDLY_HARDENED_HRC else Hardened.HARDLY
        return Judgement(verdict, f"{said} lies below {MINIMUM_HARDENED_HRC:g} HRC throughout")
    if m - expanded >= MINIMUM_HARDENED_HRC:
        return Judgement(
            Hardened.HARDENED, f"{said} lies at or above {MINIMUM_HARDENED_HRC:g} HRC throughout"
        )
    return Judgement(
        Hardened.CANNOT_BE_SAID, f"{said} reaches across {MINIMUM_HARDENED_HRC:g} HRC; repeat it"
    )


@dataclass(frozen=True)
class HardnessSession:
    """What one session says: correction, corrected figure, warnings, judgement."""

    block: Figure | None
    certified_hrc: float | None
    error_hrc: float | None
    result: Figure | None
    range_hrc: float
    warnings: tuple[str, ...]
    judgement: Judgement


def hardness_session(
    raw: Figure | None,
    block: Figure | None,
    certified: tuple[float, float] | None,
    indents: Sequence[Indent],
    figures: Mapping[str, Figure],
    *,
    clad: bool = False,
    core_exposure_mm: float | None = None,
    spot: Spot | None = None,
) -> HardnessSession:
    """Judge one session.

    Parameters
    ----------
    raw : the blade as read, uncorrected, HRC, or None.
    block : the block as read, HRC, or None.
    certified : the block's certified value and its standard uncertainty, HRC.
    indents : where the indents lie.
    figures : the sheet's figures, by key.
    clad : whether the blade is clad.
    core_exposure_mm : height of the exposed core, mm.
    spot : thickness of the blade at the indent.
    """
    result, error = raw, None
    warnings = list(place_warnings(indents, figures, spot))
    if block is not None and certified is not None:
        error = block.mean - certified[0]
        if raw is not None:
            result = corrected(raw, block, *certified)
        if abs(error) > TESTER_MPE_HRC:
            warnings.insert(
                0,
                f"the tester reads {error:+.1f} on the block; more than the permissible "
                f"{TESTER_MPE_HRC:g} HRC, have it serviced",
            )
    elif raw is not None and raw.kind is FigureKind.MEASURED:
        warnings.insert(0, "no reference block was read: the tester's error is not corrected")
        result = replace(raw, reservation=NO_BLOCK)
    if result is not None and result.mean < HRC_RANGE[0] + 2:
        warnings.append("near the foot of scale C: use scale B (a ball) for soft steel")
    if clad and raw is not None:
        warnings += _core_warnings(raw.mean, core_exposure_mm)
    return HardnessSession(
        block,
        certified[0] if certified else None,
        error,
        result,
        raw.spread if raw else 0.0,
        tuple(warnings),
        hardened({**figures, **({} if result is None else {"hardness": result})}, spot),
    )


def _core_warnings(hrc: float, core_exposure_mm: float | None) -> list[str]:
    needed = 2 * FROM_EDGE_DIAMETERS * indent_diameter_mm(hrc)
    if core_exposure_mm is None:
        return ["clad blade: measure the core exposure to know whether the indent fits the core"]
    if core_exposure_mm < needed:
        return [
            f"the core shows {core_exposure_mm:g} mm; an indent clear of edge and cladding wants "
            f"{needed:.1f} mm: this may be the cladding"
        ]
    return []

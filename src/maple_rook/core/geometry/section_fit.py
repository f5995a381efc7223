"""A section seen end-on: thickness where it can be told, and the grind that fits it.

Heights are above the apex, mm. What is measured is where the right and left face stand, x_R and
x_L, from an upright line that is itself unknown: the fit finds its place and lean with the grind's
own parameters.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from maple_rook.core.geometry.photo_blade import PhotoFigure
from maple_rook.core.geometry.section import Section, section
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.uncertainty import Array

LEAST_PIXELS = 5.0
"""A thickness spans at least this many pixels before it is told (practice rule)."""
LEAST_BEVEL_PIXELS = 7.0
ABOVE_EDGE_MM = (1.0, 5.0, 10.0)
_FITTED_ROWS = 140
ALIKE = 1.15
"""Grinds that fit within this factor of the best cannot be told apart."""
TRIED = tuple(g for g, family in GRINDS.items() if family.like is None)


@dataclass(frozen=True)
class EndView:
    """Both faces of a section by height: mm above the lowest row and from an upright line.

    ``noise_mm`` is the standard uncertainty of one place, ``pixel_mm`` a pixel's size,
    ``relative_u`` the relative one of the scale.
    """

    z_mm: Array
    right_mm: Array
    left_mm: Array
    pixel_mm: float
    noise_mm: float
    relative_u: float

    @property
    def thickness_mm(self) -> Array:
        return np.asarray(self.right_mm + self.left_mm)


@dataclass(frozen=True)
class Fit:
    """A grind fitted: its parameters, what is left over, and where the apex came to lie."""

    grind: Grind
    section: Section
    apex_mm: float
    rms_mm: float
    thickness_behind_edge_mm: float
    angle_per_side_deg: float
    bevel_height_mm: float
    share_right: float


def fit_grind(view: EndView, grind: Grind, height_mm: float) -> Fit:
    """Least squares of one family; ``height_mm`` is the whole blade's at the heel.

    The parameters are spine, thickness behind the edge, angle, share of the right face, the
    family's curve and grind line where it has them, the apex's height, and place and lean of the
    upright line. Points that fit none, such as a burr, count less (soft L1).
    """
    single, shape = GRINDS[grind].single_bevel, GRINDS[grind].shape
    z, top = view.z_mm, float(view.z_mm[-1])
    widest = float(view.thickness_mm[-1])
    spine = max(widest * min(height_mm / max(top, 1.0), 2.0), widest)
    if single:
        return _best(_fit_single(view, grind, height_mm, right) for right in (True, False))
    start = [spine, 0.3, 15.0, 0.5, 0.1, 0.0, 0.0]
    low = [0.8 * widest, 0.03, 4.0, 0.05, -1.0, -3.0, -0.3]
    high = [3.0 * spine + 0.5, 0.9 * widest, 40.0, 0.95, 1.5, 3.0, 0.3]
    free = [k for k, given in (("bulge", shape.bulge), ("grind_line", shape.grind_line)) if given]
    for key in free:
        usual = getattr(shape, key).mean
        start.append(usual)
        low.append(usual - 0.5 if key == "bulge" else 0.15)
        high.append(usual + 0.5 if key == "bulge" else 0.97)

    def built(p: Array) -> Section:
        more = dict(zip(free, p[7:], strict=True))
        return section(grind, p[0], height_mm, p[1], p[2], p[3], **more)

    def misfit(p: Array) -> Array:
        return _apart(view, built(p), z + p[4], p[5], p[6])

    scales = [0.1, 0.05, 2, 0.1, 0.05, 0.05, 0.01, *[0.1] * len(free)]
    starts = [start] if shape.grind_line is None else [start, [widest, *start[1:]]]
    solved = [
        least_squares(
            misfit,
            np.clip(one, low, high),
            bounds=(low, high),
            loss="soft_l1",
            f_scale=2 * view.noise_mm,
            x_scale=scales,
        )
        for one in starts
    ]
    p = min(solved, key=lambda found: found.cost).x
    found = built(p)
    left_over = float(np.sqrt(np.mean(misfit(p) ** 2)))
    tall = float(
        np.mean([found.bevels.shoulder_height_right_mm, found.bevels.shoulder_height_left_mm])
    )
    return Fit(grind, found, float(p[4]), left_over, float(p[1]), float(p[2]), tall, float(p[3]))


def _apart(view: EndView, found: Section, z: Array, place: float, lean: float) -> Array:
    above = np.maximum(z, 0.0)
    upright = place + lean * z
    return np.concatenate(
        [
            found.right.half_thickness_mm(above) - (view.right_mm - upright),
            found.left.half_thickness_mm(above) - (view.left_mm + upright),
        ]
    )


def _fit_single(view: EndView, grind: Grind, height_mm: float, right: bool) -> Fit:
    widest = float(view.thickness_mm[-1])
    rise = float(np.polyfit(view.z_mm, view.thickness_mm, 1)[0])
    angle = float(np.clip(np.degrees(np.arctan(rise)), 5, 35))
    share = 1.0 if right else 0.0

    def built(p: Array) -> Section:
        return section(grind, p[0], height_mm, 0.3, p[1], share, hollow_depth_mm=p[5])

    def misfit(p: Array) -> Array:
        return _apart(view, built(p), view.z_mm + p[2], p[3], p[4])

    low = [0.95 * widest, 3.0, -1.0, -3.0, -0.4, 0.0]
    high = [2.5 * widest + 1.0, 40.0, 1.5, 3.0, 0.4, 0.6]
    lean = np.tan(np.radians(angle)) / 2 * (1 if not right else -1)
    start = np.clip([1.1 * widest, angle, 0.05, 0.0, lean, 0.05], low, high)
    solved = least_squares(
        misfit,
        start,
        bounds=(low, high),
        loss="soft_l1",
        f_scale=2 * view.noise_mm,
        x_scale=[0.1, 1, 0.05, 0.05, 0.01, 0.05],
    )
    p = solved.x
    left_over = float(np.sqrt(np.mean(misfit(p) ** 2)))
    return Fit(grind, built(p), float(p[2]), left_over, 0.0, float(p[1]), 0.0, share)


def _best(fits: Iterable[Fit]) -> Fit:
    return min(fits, key=lambda fit: fit.rms_mm)


@dataclass(frozen=True)
class EndFigures:
    """What an end-on photo gives: figures, what it cannot resolve and why, and the grind."""

    figures: dict[str, PhotoFigure]
    unresolved: dict[str, str]
    best: Fit
    declared: Fit
    alike: tuple[Grind, ...]

    @property
    def verdict(self) -> str:
        """In words, whether the declared grind fits."""
        as_declared = GRINDS[self.declared.grind].label
        if self.declared.grind is self.best.grind:
            return f"{as_declared} fits best, as declared"
        if self.declared.grind in self.alike:
            return f"{as_declared}, as declared, fits as well as {GRINDS[self.best.grind].label}"
        return f"{GRINDS[self.best.grind].label} fits better than {as_declared}, which is declared"


def end_figures(view: EndView, declared: Grind, height_mm: float) -> EndFigures:
    """Thickness behind the edge and at 1, 5 and 10 mm, and the family that fits.

    The apex is that of the declared family's fit: the photo itself rounds it off.
    """
    thinned = _thinned(view)
    like = GRINDS[declared].like or declared
    fits = {grind: fit_grind(thinned, grind, height_mm) for grind in TRIED}
    best = _best(fits.values())
    own = fits[like]
    alike = tuple(
        g for g, fit in fits.items() if fit.rms_mm <= ALIKE * max(best.rms_mm, view.noise_mm)
    )
    found: dict[str, PhotoFigure] = {}
    unresolved: dict[str, str] = {}
    apex = own.apex_mm
    reach = float(view.z_mm[-1]) + apex
    slope = np.gradient(view.thickness_mm, view.z_mm)
    apex_u = max(2 * view.pixel_mm, 0.1 * abs(apex))
    for above in ABOVE_EDGE_MM:
        key = f"thickness_{above:g}mm"
        if above > reach:
            unresolved[key] = f"the photo shows the section up to {reach:.1f} mm only"
            continue
        at = above - apex
        thick = float(np.interp(at, view.z_mm, view.thickness_mm))
        if thick < LEAST_PIXELS * view.pixel_mm:
            unresolved[key] = _too_thin(thick, view)
            continue
        steep = abs(float(np.interp(at, view.z_mm, slope)))
        found[key] = _figure(thick, view, steep * apex_u)
    _behind_the_edge(view, own, found, unresolved)
    return EndFigures(found, unresolved, best, own, alike)


def _thinned(view: EndView) -> EndView:
    """Rows enough for a fit, closer together near the edge."""
    count = len(view.z_mm)
    if count <= _FITTED_ROWS:
        return view
    rows = np.unique(((count - 1) * np.linspace(0, 1, _FITTED_ROWS) ** 1.5).astype(int))
    return replace(
        view, z_mm=view.z_mm[rows], right_mm=view.right_mm[rows], left_mm=view.left_mm[rows]
    )


def _behind_the_edge(
    view: EndView, own: Fit, found: dict[str, PhotoFigure], unresolved: dict[str, str]
) -> None:
    key = "thickness_behind_edge"
    if GRINDS[own.grind].single_bevel:
        unresolved[key] = "a single bevel runs to its apex without a shoulder"
        return
    thick, tall = own.thickness_behind_edge_mm, own.bevel_height_mm
    if thick < LEAST_PIXELS * view.pixel_mm:
        unresolved[key] = _too_thin(thick, view)
    elif tall < LEAST_BEVEL_PIXELS * view.pixel_mm:
        unresolved[key] = (
            f"the bevel is {tall / view.pixel_mm:.0f} pixels high, "
            f"at least {LEAST_BEVEL_PIXELS:g} are needed"
        )
    else:
        found[key] = _figure(thick, view, 0.08 * thick)


def _too_thin(thick_mm: float, view: EndView) -> str:
    return (
        f"{thick_mm / view.pixel_mm:.0f} pixels thick, at least {LEAST_PIXELS:g} are needed: "
        "come closer"
    )


def _figure(value: float, view: EndView, by_place: float) -> PhotoFigure:
    parts = {
        "pixels": (np.sqrt(2) * view.noise_mm) ** 2,
        "card": (view.relative_u * value) ** 2,
        "apex": by_place**2,
    }
    total = sum(parts.values())
    shares = {k: float(v / total) for k, v in parts.items() if v / total >= 0.005}
    return PhotoFigure(value, float(np.sqrt(total)), shares)

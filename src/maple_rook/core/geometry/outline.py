"""The outline of a knife in millimetres: measured where it is measured, its type elsewhere.

Coordinates: x from the heel (0) toward the tip, the handle at negative x; y up from the board on
which the heel of the edge rests.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from maple_rook.core.geometry.profile import EdgeCurve
from maple_rook.core.measurement.knife_types import KNIFE_TYPES, KnifeType, OutlineShape
from maple_rook.core.measurement.places import quantity_and_place, station_mm
from maple_rook.core.measurement.uncertainty import Array, Figure

Point = tuple[float, float]
FRONT_STATION = 0.8
SHORTEST_HANDLE_MM = 60.0
_STEPS = 48


@dataclass(frozen=True)
class Outline:
    """Closed polygons of blade and handle, and the taper as (x, thickness) stations; all mm."""

    blade: list[Point]
    handle: list[Point]
    taper: list[Point]
    edge_length_mm: float
    height_heel_mm: float
    overall_length_mm: float
    assumed: tuple[str, ...]


def outline(
    figures: Mapping[str, Figure],
    knife_type: str,
    nominal_mm: float,
    traced: EdgeCurve | None = None,
) -> Outline:
    """Draw a knife from its figures; ``assumed`` names what was taken from type and nominal size.

    A traced edge takes the place of the type's curve, stretched to the measured edge length.

    >>> o = outline({"edge_length": Figure(208.0, 0.3)}, "gyuto", 210)
    >>> o.edge_length_mm, o.assumed
    (208.0, ('height at heel', 'handle length', 'overall length'))
    """
    kind = KNIFE_TYPES[knife_type]
    assumed: list[str] = []

    def taken(key: str, label: str, otherwise: float) -> float:
        if key in figures:
            return figures[key].mean
        assumed.append(label)
        return otherwise

    gap = 6.0 if kind.shape.bolster else 4.0
    edge = taken("edge_length", "edge length", nominal_mm)
    height = taken("height_heel", "height at heel", _usual_height(kind, figures))
    usual = min(125.0, 0.55 * edge + 45)
    if "overall_length" in figures:  # what was measured stays; what is assumed gives way
        usual = max(figures["overall_length"].mean - edge - gap, SHORTEST_HANDLE_MM)
    handle = taken("handle_length", "handle length", usual)
    overall = taken("overall_length", "overall length", edge + handle + gap)
    if overall < edge + handle - gap:  # one of the three is wrong; draw a knife all the same
        overall = edge + handle + gap
        assumed.append("overall length")
    blade = _blade(Lines(kind.shape, edge, height, figures, traced))
    return Outline(
        blade,
        _handle(overall - edge, handle, height, slim=not kind.shape.bolster),
        _taper(figures, edge),
        edge,
        height,
        overall,
        tuple(assumed),
    )


def _usual_height(kind: KnifeType, figures: Mapping[str, Figure]) -> float:
    """Height at the heel of the type, and no lower than what was measured further along."""
    low, high = kind.typical["height_heel"]
    along = [figures[key].mean for key in ("height_mid", "height_front") if key in figures]
    return max((low + high) / 2, *along) if along else (low + high) / 2


def edge_curve_mm(shape: OutlineShape, share: Array, height_mm: float) -> Array:
    """Rise of a type's edge above the board at a share of the edge length from the heel."""
    belly = np.clip((share - shape.flat_share) / (1 - shape.flat_share), 0, 1)
    return np.asarray(shape.tip_height * height_mm * belly**shape.belly_power)


@dataclass(frozen=True)
class Lines:
    """Edge and spine line of one knife as functions of the share of the edge length."""

    shape: OutlineShape
    edge_mm: float
    height_mm: float
    figures: Mapping[str, Figure]
    traced: EdgeCurve | None = None

    def edge(self, share: Array) -> Array:
        """Rise of the edge above the board, mm: traced, else the type's through what is measured.

        A measured flat length and tip height move the type's curve.
        """
        if self.traced is not None:
            return self.traced.rise_mm(share * self.traced.length_mm)
        shape = self.shape
        if "flat_length" in self.figures:
            flat = min(self.figures["flat_length"].mean / self.edge_mm, 0.95)
            shape = replace(shape, flat_share=flat)
        if "tip_height" in self.figures:
            shape = replace(shape, tip_height=self.figures["tip_height"].mean / self.height_mm)
        return edge_curve_mm(shape, share, self.height_mm)

    def spine(self, share: Array) -> Array:
        """Spine above the board, mm: traced or the type's, bent through the measured heights."""
        at, ratio = [0.0], [1.0]
        for key, station in (("height_mid", 0.5), ("height_front", FRONT_STATION)):
            if key in self.figures:
                there = np.array(station)
                measured = self.figures[key].mean + float(self.edge(there))
                at.append(station)
                ratio.append(measured / float(self._base_spine(there)))
        curve = self._base_spine(share)
        if len(at) == 1:
            return curve
        at.append(1.0)
        ratio.append(ratio[-1] if self.shape.square_front else 1.0)
        return np.asarray(curve * _eased(share, np.array(at), np.array(ratio)))

    def _base_spine(self, share: Array) -> Array:
        """The spine before it is bent: as traced, brought to the height at the heel; or the type's.

        At a pointed tip it comes down to the edge.
        """
        if self.traced is None or self.traced.spine is None:
            return self._type_spine(share)
        x, y = self.traced.spine.T
        to_height = (self.height_mm + float(self.edge(np.array(0.0)))) / float(y[0])
        return np.asarray(to_height * np.interp(share * self.traced.length_mm, x, y))

    def _type_spine(self, share: Array) -> Array:
        shape, height = self.shape, self.height_mm
        if shape.square_front:
            return np.full_like(share, height, dtype=float)
        tip = float(self.edge(np.array(1.0)))
        span = max(1 - shape.spine_straight_share, 1e-6)
        drop = np.clip((share - shape.spine_straight_share) / span, 0, 1) ** shape.spine_power
        return np.asarray(height - (height - tip) * drop)


def heights_mm(lines: Lines, share: Array) -> Array:
    """Height of the blade, edge to spine, at shares of the edge length, mm."""
    return np.maximum(lines.spine(share) - lines.edge(share), 0.0)


def _eased(share: Array, at: Array, values: Array) -> Array:
    """Smooth interpolation that never overshoots: a cubic ease between neighbouring values."""
    right = np.clip(np.searchsorted(at, share, side="right"), 1, at.size - 1)
    left = right - 1
    u = (share - at[left]) / (at[right] - at[left])
    return np.asarray(values[left] + (values[right] - values[left]) * u**2 * (3 - 2 * u))


def _blade(lines: Lines) -> list[Point]:
    shape, edge, height = lines.shape, lines.edge_mm, lines.height_mm
    share = np.linspace(0, 1, _STEPS)
    if lines.traced is not None:  # a traced edge is drawn by its own stations as well
        share = np.union1d(
            share, lines.traced.x_mm[:: 1 + len(lines.traced.x_mm) // 100] / lines.traced.length_mm
        )
    low, high = lines.edge(share), lines.spine(share)
    heel_back = -4.0 if shape.bolster else -2.5
    corners = [(heel_back, height), (heel_back, 0.62 * height), (-0.6, 0.06 * height)]
    front = share < (0.97 if shape.square_front else 1.0)
    along_edge = np.column_stack([share * edge, low])
    along_spine = np.column_stack([share[front] * edge, high[front]])[::-1]
    nose = [(edge, float(high[-1]) - 0.06 * height)] if shape.square_front else []
    points = np.vstack([corners[1:], along_edge, *nose, along_spine, corners[:1]])
    return [(x, y) for x, y in np.round(points, 2).tolist()]


def _handle(behind_heel: float, length: float, height: float, *, slim: bool) -> list[Point]:
    """A handle of measured length whose top lies a little below the spine."""
    end, front = -behind_heel, -behind_heel + length
    neck = -2.5 if slim else -4.0
    thick = min(26.0, 0.8 * height + 4)
    top = height - (1.0 if slim else 0.0)
    bottom = max(top - thick, 2.0)
    if slim:
        stem = (neck, top - 1), (neck, top - 0.55 * thick)
        points = [
            stem[0],
            (front, top),
            (end + 2, top + 1.5),
            (end, top - 1),
            (end, bottom - 1),
            (end + 2, bottom - 2.5),
            (front, bottom),
            stem[1],
        ]
    else:
        points = [
            (neck, top),
            (end + 8, top + 1.5),
            (end, top - 4),
            (end + 1, bottom - 4),
            (end + 10, bottom - 5),
            (end + 0.5 * length, bottom + 3),
            (front - 4, bottom),
            (neck, bottom + 1),
        ]
    return [(round(float(x), 2), round(float(y), 2)) for x, y in points]


def _taper(figures: Mapping[str, Figure], edge: float) -> list[Point]:
    return [(round(x, 2), round(thick, 3)) for x, thick in spine_stations(figures, edge)]


def spine_stations(figures: Mapping[str, Figure], edge_mm: float) -> list[Point]:
    """Where the spine was measured, from the heel on, and how thick it is there, mm.

    >>> f = {"spine_heel": Figure(2.4, 0), "spine_at@50 mm from tip": Figure(1.6, 0)}
    >>> spine_stations(f, 210)
    [(0.0, 2.4), (160.0, 1.6)]
    """
    named = {"spine_heel": 0.0, "spine_mid": edge_mm / 2, "spine_tip": edge_mm - 10}
    found = []
    for key, figure in figures.items():
        quantity, station = quantity_and_place(key)
        at = station_mm(station, edge_mm) if quantity == "spine_at" else named.get(quantity)
        if at is not None and 0 <= at <= edge_mm:
            found.append((at, figure.mean))
    return sorted(found)

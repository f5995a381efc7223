"""The edge on a flat board: where it rests, how far it is flat, how it rocks, what it misses.

x runs along the board from the heel (0) to the tip, y up from the board at rest; mm, angles in
degrees. Between stations the curve is monotone and never overshoots [1]_. The knife rests on its
lower convex hull. Thresholds are practice rules, published here.

References
----------
.. [1] Fritsch, F. N. and Butland, J. (1984), A method for constructing local monotone piecewise
   cubic interpolants, SIAM J. Sci. Stat. Comput. 5 (as in scipy's PchipInterpolator).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import ArrayLike
from scipy.interpolate import PchipInterpolator

from maple_rook.core.errors import InvalidValue
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.measurement.wording import percent_text

FLAT_GAP_MM = 0.3
CHOPPING_GAP_MM = 1.0
HOLLOW_GAP_MM, HOLLOW_SPAN_MM = 0.1, 10.0
HUMP_REACH_MM, HUMP_MM = 15.0, 0.15
"""A hump stands this much prouder of its 30 mm chord than the parts beside it."""
STEP_MM = 0.25
SHORTEST_EDGE_MM, MOST_POINTS = 20.0, 5000
_BACKWARD_MM = 0.5


@dataclass(frozen=True)
class EdgeCurve:
    """The edge line by its stations, x strictly growing from heel to tip.

    ``spine`` holds points (x, y) of the spine over it where that was traced too.
    """

    x_mm: Array
    y_mm: Array
    spine: Array | None = None

    @property
    def length_mm(self) -> float:
        return float(self.x_mm[-1])

    @cached_property
    def _line(self) -> PchipInterpolator:
        return PchipInterpolator(self.x_mm, self.y_mm, extrapolate=True)

    def rise_mm(self, x_mm: ArrayLike) -> Array:
        """Height of the edge above the board at x, mm."""
        return np.asarray(self._line(np.asarray(x_mm, dtype=float)))

    def sampled(self, step_mm: float = STEP_MM) -> tuple[Array, Array]:
        """x and y at an even step, the ends and every station included."""
        steps = max(int(np.ceil(self.length_mm / step_mm)), 8)
        x = np.union1d(np.linspace(0, self.length_mm, steps + 1), self.x_mm)
        return x, self.rise_mm(x)


def from_stations(
    length_mm: float, stations: Sequence[tuple[float, float]], tip_height_mm: float
) -> EdgeCurve:
    """The edge from gaps under a straight edge at distances from the heel, and the tip's height.

    The heel counts as touching where no station at 0 says otherwise.

    >>> curve = from_stations(200, [(60, 0.0), (120, 1.2)], 14)
    >>> round(float(curve.rise_mm(200)), 1)
    14.0
    """
    places = {0.0: 0.0, **dict(stations), float(length_mm): float(tip_height_mm)}
    for at, gap in places.items():
        if not 0 <= at <= length_mm:
            raise InvalidValue("distance from the heel", f"{at:g} mm", f"0 to {length_mm:g} mm")
        if not 0 <= gap <= 150:
            raise InvalidValue(f"gap at {at:g} mm", f"{gap:g} mm", "0 to 150 mm")
    x = np.array(sorted(places))
    y = np.array([places[at] for at in x])
    if y.min() > 0.05:
        raise InvalidValue(
            "gaps",
            f"at least {y.min():g} mm everywhere",
            "a place where the edge touches the straight edge (0 mm)",
        )
    return EdgeCurve(x, y - y.min())


def from_points(points: Sequence[tuple[float, float]]) -> EdgeCurve:
    """The edge from traced coordinates, heel first, y up, in any place and tilt; mm.

    It is laid on the board as it would rest: on the side of its hull that keeps the longest part
    within :data:`FLAT_GAP_MM` of the board.

    >>> curve = from_points([(10, 5), (110, 5), (210, 25)])
    >>> curve.length_mm, float(curve.rise_mm(100))
    (200.0, 0.0)
    """
    if not 3 <= len(points) <= MOST_POINTS:
        raise InvalidValue("traced edge", f"{len(points)} points", f"3 to {MOST_POINTS} points")
    traced = np.asarray(points, dtype=float)
    if not np.all(np.isfinite(traced)):
        raise InvalidValue("traced edge", "not a number", "numbers only")
    traced = traced - traced[0]
    if traced[-1, 0] < 0:
        traced = traced * [-1, 1]
    if traced[-1, 0] < SHORTEST_EDGE_MM:
        raise InvalidValue(
            "traced edge",
            f"{traced[-1, 0]:.3g} mm long",
            f"at least {SHORTEST_EDGE_MM:g} mm from heel to tip",
        )
    x, y = _growing(traced)
    slope = _resting_slope(x, y)
    cosine, sine = np.cos(np.arctan(slope)), np.sin(np.arctan(slope))
    along, above = x * cosine + y * sine, y * cosine - x * sine
    x, y = _growing(np.column_stack([along - along[0], above - above.min()]))
    return EdgeCurve(x, y)


def _growing(points: Array) -> tuple[Array, Array]:
    """x and y with x strictly growing; a trace that turns back by more than a hair is refused."""
    ahead = np.maximum.accumulate(points[:, 0])
    back = ahead - points[:, 0]
    if back.max() > _BACKWARD_MM:
        at = float(points[int(back.argmax()), 0])
        raise InvalidValue(
            "traced edge", f"turns back at {at:.4g} mm", "one line from heel to tip, the edge only"
        )
    kept = np.concatenate([[True], ahead[1:] > ahead[:-1] + 1e-6])
    return points[kept, 0], np.round(points[kept, 1], 9)


def _resting_slope(x: Array, y: Array) -> float:
    hull = lower_hull(x, y)
    slopes = np.diff(y[hull]) / np.diff(x[hull])
    flat = [
        float(x[inside].max() - x[inside].min())
        for slope in slopes
        for inside in (_inside(y - slope * x, FLAT_GAP_MM),)
    ]
    longest = max(flat)
    level = [s for s, length in zip(slopes, flat, strict=True) if length > 0.995 * longest]
    return float(min(level, key=abs))


def _inside(y: Array, gap_mm: float) -> Array:
    return np.asarray(y - y.min() <= gap_mm)


def lower_hull(x: Array, y: Array) -> Array:
    """Indices of the lower convex hull of points with growing x (monotone chain)."""
    hull: list[int] = []
    xs, ys = x.tolist(), y.tolist()  # plain floats: the loop is many times faster
    for i, (px, py) in enumerate(zip(xs, ys, strict=True)):
        while len(hull) > 1:
            ax, ay, b = xs[hull[-2]], ys[hull[-2]], hull[-1]
            if (ys[b] - ay) * (px - ax) < (py - ay) * (xs[b] - ax):
                break
            hull.pop()
        hull.append(i)
    return np.array(hull)


class Rocking(Labelled):
    """Whether an edge rocks, by the share of it over which the contact runs forward."""

    ROCKS = "rocks"
    A_LITTLE = "a_little", "rocks a little"
    NOT = "not", "chops and pushes, does not rock"

    @classmethod
    def of(cls, share: float) -> Rocking:
        """
        >>> Rocking.of(0.75).value, Rocking.of(0.2).value, Rocking.of(0.1).value
        ('rocks', 'a_little', 'not')
        """
        if share >= ROCKS_SHARE:
            return cls.ROCKS
        return cls.A_LITTLE if share >= ROCKS_A_LITTLE_SHARE else cls.NOT


class ProfileClass(Labelled):
    CHOPPER = "chopper"
    ALL_ROUNDER = "all_rounder", "all-rounder"
    ROCKER = "rocker"
    SLICER = "slicer"


CHOPPER_SHARE, CHOPPER_TIP_MM = 0.65, 10.0
SLICER_LENGTH_MM, SLICER_ROCK_DEG = 225.0, 12.0
ROCKING_DEG, ROCKING_STEP_DEG, ROCKING_JUMP = 15.0, 0.5, 0.10
"""How far a hand brings the handle up, in which steps it is followed, and by what share of the edge
the contact may run in one of them: further is a jump, as over a flat."""
ROCKS_SHARE, ROCKS_A_LITTLE_SHARE = 0.30, 0.15
ROCKER_SHARE, ROCKER_ROCK_DEG = 0.50, 14.0
CLASS_RULES: tuple[tuple[ProfileClass, str], ...] = (
    (
        ProfileClass.CHOPPER,
        f"within 1 mm of the board over {percent_text(CHOPPER_SHARE)} of the edge or "
        f"more, tip at most {CHOPPER_TIP_MM:g} mm up, and it does not rock",
    ),
    (
        ProfileClass.SLICER,
        f"{SLICER_LENGTH_MM:g} mm or longer, tip digs in within {SLICER_ROCK_DEG:g}°",
    ),
    (
        ProfileClass.ROCKER,
        f"within 1 mm over less than {percent_text(ROCKER_SHARE)}, tip digs in at "
        f"{ROCKER_ROCK_DEG:g}° or later, and it rocks: the contact runs over "
        f"{percent_text(ROCKS_SHARE)} of the edge as the handle comes up {ROCKING_DEG:g}°",
    ),
    (ProfileClass.ALL_ROUNDER, "everything between"),
)
"""Practice rules, tried in this order."""


@dataclass(frozen=True)
class Hollow:
    """A stretch of edge that misses the board: its largest gap and where, mm."""

    gap_mm: float
    at_mm: float
    from_mm: float
    to_mm: float


@dataclass(frozen=True)
class BoardProfile:
    """What the edge does on a flat board; spans are (from, to) along the edge, mm.

    ``rock`` holds rows of handle raise in degrees, contact x and y in mm, up to ``rock_deg`` where
    the tip digs in; ``rocking_share`` is :func:`rocking_share`.
    """

    length_mm: float
    resting: tuple[float, float]
    flat: tuple[float, float]
    chopping: tuple[float, float]
    tip_height_mm: float
    belly_radius_mm: float | None
    rock_deg: float
    rocking_share: float
    rock: list[tuple[float, float, float]]
    hollow: Hollow | None
    hump_mm: float | None
    kind: ProfileClass
    reasons: tuple[str, ...]

    @property
    def rocking(self) -> Rocking:
        return Rocking.of(self.rocking_share)

    @property
    def flat_length_mm(self) -> float:
        return self.flat[1] - self.flat[0]

    @property
    def chopping_length_mm(self) -> float:
        return self.chopping[1] - self.chopping[0]

    def contact_mm(self, raise_deg: float) -> tuple[float, float]:
        """Where the edge touches the board with the handle raised; the tip once it digs in."""
        raises, xs, ys = np.array(self.rock).T
        at = min(int(np.searchsorted(raises, raise_deg)), len(raises) - 1)
        return float(xs[at]), float(ys[at])


def on_board(
    curve: EdgeCurve, step_mm: float = STEP_MM, *, rocks: float | None = None
) -> BoardProfile:
    """Lay an edge on the board; ``rocks`` is its rocking share, where that is known otherwise."""
    x, y = curve.sampled(step_mm)
    hull = lower_hull(x, y)
    hull_x, hull_y = x[hull], y[hull]
    slopes = np.diff(hull_y) / np.diff(hull_x)
    lowest = int(np.argmin(hull_y))
    touching = np.flatnonzero(hull_y <= hull_y[lowest] + 1e-6)
    flat, chopping = (_span(x, y, gap, hull_x[lowest]) for gap in (FLAT_GAP_MM, CHOPPING_GAP_MM))
    tip = float(y[-1] - y.min())
    rock_deg = max(float(np.degrees(np.arctan(slopes[-1]))), 0.0)
    share = _rocking_share(hull_x, hull_y) if rocks is None else rocks
    kind, reasons = classified(
        curve.length_mm, (chopping[1] - chopping[0]) / curve.length_mm, rock_deg, tip, share
    )
    return BoardProfile(
        curve.length_mm,
        (float(hull_x[touching[0]]), float(hull_x[touching[-1]])),
        flat,
        chopping,
        tip,
        _belly_radius_mm(x, y, flat[1]),
        rock_deg,
        share,
        _rocking(hull_x, hull_y, slopes, rock_deg),
        _hollow(x, y, hull_x, hull_y),
        _hump_mm(curve),
        kind,
        reasons,
    )


def motion_of(curve: EdgeCurve) -> tuple[float, float]:
    """Share of the edge it rocks over, and that within 1 mm of the board, with which it chops.

    >>> flat = EdgeCurve(np.array([0.0, 80.0, 160.0]), np.zeros(3))
    >>> motion_of(flat)
    (0.0, 1.0)
    """
    x, y = curve.sampled(1.0)
    hull = lower_hull(x, y)
    start, end = _span(x, y, CHOPPING_GAP_MM, float(x[int(np.argmin(y))]))
    return _rocking_share(x[hull], y[hull]), (end - start) / curve.length_mm


def _rocking_share(hull_x: Array, hull_y: Array) -> float:
    """Longest run of the contact along the edge without a jump as the handle comes up.

    As a share of the edge's length on the board.
    """
    lengths = np.hypot(np.diff(hull_x), np.diff(hull_y)) / np.ptp(hull_x)
    slopes = np.diff(hull_y) / np.diff(hull_x)
    along = np.concatenate([[0.0], np.cumsum(lengths)])
    raises = np.arange(0, ROCKING_DEG + ROCKING_STEP_DEG / 2, ROCKING_STEP_DEG)
    tilts = np.tan(np.radians(raises))
    contact = along[np.searchsorted(slopes, tilts + 1e-9, side="right")]
    longest = run = 0.0
    for step in np.diff(contact):
        run = run + step if step <= ROCKING_JUMP else 0.0
        longest = max(longest, run)
    return float(longest)


def _span(x: Array, y: Array, gap_mm: float, touching_mm: float) -> tuple[float, float]:
    """The stretch round the contact that lies within a gap of the board."""
    height = y - y.min() - gap_mm
    rear = np.flatnonzero((height > 0) & (x < touching_mm))
    front = np.flatnonzero((height > 0) & (x > touching_mm))
    start = float(x[0]) if not rear.size else _crossing(x, height, int(rear[-1]))
    end = float(x[-1]) if not front.size else _crossing(x, height, int(front[0]) - 1)
    return start, end


def _crossing(x: Array, height: Array, i: int) -> float:
    """Where the height passes zero between points i and i + 1."""
    share = height[i] / (height[i] - height[i + 1])
    return float(x[i] + share * (x[i + 1] - x[i]))


def _rocking(
    hull_x: Array, hull_y: Array, slopes: Array, rock_deg: float
) -> list[tuple[float, float, float]]:
    """Raise of the handle, and where the edge then touches the board."""
    raises = np.linspace(0, rock_deg, 61)
    contact = np.searchsorted(slopes, np.tan(np.radians(raises)), side="right")
    contact[-1] = len(hull_x) - 1
    return [
        (round(float(r), 3), round(float(hull_x[c]), 2), round(float(hull_y[c]), 3))
        for r, c in zip(raises, contact, strict=True)
    ]


def _belly_radius_mm(x: Array, y: Array, from_mm: float) -> float | None:
    """Radius of the circle fitted by least squares to the edge in front of the flat, mm."""
    front = x >= from_mm
    if np.ptp(x[front]) < 15:
        return None
    px, py = x[front], y[front]
    rows = np.column_stack([px, py, np.ones_like(px)])
    solved, *_ = np.linalg.lstsq(rows, px**2 + py**2, rcond=None)
    centre_x, centre_y = solved[0] / 2, solved[1] / 2
    radius = float(np.sqrt(max(solved[2] + centre_x**2 + centre_y**2, 0.0)))
    return radius if radius < 20 * np.ptp(px) else None


def _hollow(x: Array, y: Array, hull_x: Array, hull_y: Array) -> Hollow | None:
    gap = y - np.interp(x, hull_x, hull_y)
    worst = int(gap.argmax())
    right = int(np.searchsorted(hull_x, x[worst]))
    if gap[worst] <= HOLLOW_GAP_MM or right == 0:
        return None
    start, end = float(hull_x[right - 1]), float(hull_x[right])
    if end - start < HOLLOW_SPAN_MM:
        return None
    return Hollow(float(gap[worst]), float(x[worst]), start, end)


def _hump_mm(curve: EdgeCurve) -> float | None:
    """Where the edge stands proud between flatter parts, in its rear half."""
    reach = HUMP_REACH_MM
    if curve.length_mm < 5 * reach:
        return None
    x = np.arange(reach, curve.length_mm - reach, 1.0)
    proud = (curve.rise_mm(x - reach) + curve.rise_mm(x + reach)) / 2 - curve.rise_mm(x)
    from scipy.signal import find_peaks  # noqa: PLC0415 - half a second at every start

    peaks, _ = find_peaks(proud, prominence=HUMP_MM)
    rear = [float(x[p]) for p in peaks if x[p] < 0.5 * curve.length_mm]
    return rear[0] if rear else None


def classified(
    length_mm: float,
    chopping_share: float,
    rock_deg: float,
    tip_height_mm: float,
    rocking: float,
) -> tuple[ProfileClass, tuple[str, ...]]:
    """The class of a profile after :data:`CLASS_RULES`, and the figures it rests on.

    Parameters
    ----------
    length_mm : of the edge.
    chopping_share : of it within 1 mm of the board.
    rock_deg : raise of the handle at which the tip digs in.
    tip_height_mm : above the board at rest.
    rocking : share of the edge over which the contact runs, :func:`motion_of`.

    >>> classified(165, 0.95, 4.0, 5.0, 0.05)[0].value
    'chopper'
    """
    reasons = (
        f"within 1 mm of the board over {percent_text(chopping_share)} of the edge",
        f"{Rocking.of(rocking).label}: the contact runs over {percent_text(rocking)} of the edge",
        f"tip digs in at {rock_deg:.0f}°",
        f"tip {tip_height_mm:.0f} mm up",
        f"{length_mm:.0f} mm long",
    )
    rocks = Rocking.of(rocking) is Rocking.ROCKS
    if chopping_share >= CHOPPER_SHARE and tip_height_mm <= CHOPPER_TIP_MM and not rocks:
        return ProfileClass.CHOPPER, reasons
    if length_mm >= SLICER_LENGTH_MM and rock_deg <= SLICER_ROCK_DEG:
        return ProfileClass.SLICER, reasons
    if chopping_share < ROCKER_SHARE and rock_deg >= ROCKER_ROCK_DEG and rocks:
        return ProfileClass.ROCKER, reasons
    return ProfileClass.ALL_ROUNDER, reasons


def butt_rise_mm(profile: BoardProfile, butt: tuple[float, float], raise_deg: float) -> float:
    """How far the end of the handle at (x, y) comes up when the handle is raised, mm.

    The board turns about the contact: (y - y_c) cos phi - (x - x_c) sin phi, less the rest height.
    """
    contact_x, contact_y = profile.contact_mm(raise_deg)
    phi = np.radians(raise_deg)
    x, y = butt
    above = (y - contact_y) * np.cos(phi) - (x - contact_x) * np.sin(phi)
    return float(above - y)


def knuckle_room_mm(
    heel_height_mm: ArrayLike,
    handle_drop_mm: ArrayLike,
    behind_heel_mm: ArrayLike = 0.0,
    handle_angle_deg: ArrayLike = 0.0,
) -> Array:
    """Room under the handle: heel height - handle drop + d tan(handle angle), mm.

    ``handle_drop_mm`` is from the spine line to the underside of the handle, ``handle_angle_deg``
    how much the handle rises toward its end, d the distance behind the heel.

    >>> round(float(knuckle_room_mm(48, 24, 40, 3)), 1)
    26.1
    """
    rise = np.asarray(behind_heel_mm, dtype=float) * np.tan(np.radians(handle_angle_deg))
    return np.asarray(np.asarray(heel_height_mm) - np.asarray(handle_drop_mm) + rise)

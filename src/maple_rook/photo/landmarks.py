"""Proposing heel, tip and handle joint on the outline of a knife that lies on its card.

Everything is looked for in the blade's own frame: x along it toward the tip, y from the edge up to
the spine. A person may move every point; nothing here is final.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from maple_rook.core.geometry.scale_card import Field
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.refusal import PhotoRefused, Trouble
from maple_rook.photo.tracing import Grid

_BIN_MM = 0.25
_BORDER_MM = 1.2
STEP_MM = 3.0
"""A heel drops at least this far below what lies behind it; with less the joint is the heel."""
SQUARE_SHARE = 0.4
"""A front this tall 1.5 mm behind its end, over the blade's height, is square."""
JOINT_CONTRAST = 22.0
_CLEAR_MM = 1.0
"""Where the blade is at least this high, edge and spine do not blur into each other."""


@dataclass(frozen=True)
class Frame:
    """A turned and perhaps mirrored frame: ``points`` of the card and back."""

    origin: Array
    along: Array
    up: Array

    def of(self, points: Array) -> Array:
        return np.asarray(
            np.column_stack([(points - self.origin) @ self.along, (points - self.origin) @ self.up])
        )

    def back(self, points: Array) -> Array:
        flat = np.atleast_2d(points)
        return np.asarray(self.origin + flat[:, :1] * self.along + flat[:, 1:] * self.up)


@dataclass(frozen=True)
class Landmarks:
    """Proposed points on the card, mm, and the frame they were found in."""

    heel: Array
    tip: Array
    joint: Array | None
    frame: Frame


def landmarks(ring: Array, grid: Grid, field: Field) -> Landmarks:
    """Heel, tip and joint of an outline (n, 2) on the card."""
    frame = _levelled(_towards_tip(ring, field), ring)
    shape = frame.of(ring)
    x, low, high = _profiles(shape)
    if x.size < 80:
        raise PhotoRefused(Trouble.NO_BLADE)
    joint = _joint(grid, frame, x, low, high)
    near = (x[0], x[-1]) if joint is None else (joint[0] - 4.0, joint[0] + 20.0)
    if _step(x, high, near)[0] > _step(x, -low, near)[0]:  # the edge is on the other side
        frame = Frame(frame.origin, frame.along, -frame.up)
        shape = frame.of(ring)
        x, low, high = _profiles(shape)
    drop, at = _step(x, -low, near)
    tall = float((high - low)[x > at].max(initial=1.0))
    square = float(np.interp(x[-1] - 1.5, x, high - low)) > SQUARE_SHARE * tall
    if drop < STEP_MM and joint is not None:
        at = float(joint[0])
        heel = np.array([at, float(np.interp(at, x, low))])
    else:
        heel = _heel(shape, x, low, at)
    if joint is not None:
        joint = np.array([joint[0], float(np.interp(joint[0], x, low + 0.7 * (high - low)))])
    tip = _square_tip(shape, x, low) if square else _pointed_tip(shape, x, low, high)
    tip_at = frame.back(np.array([tip]))[0]
    if not (field.left < tip_at[0] < field.right and field.top < tip_at[1] < field.bottom):
        raise PhotoRefused(Trouble.BLADE_CUT_OFF)
    found = [frame.back(np.atleast_2d(p))[0] for p in (heel, tip)]
    of_joint = None if joint is None else frame.back(np.atleast_2d(joint))[0]
    return Landmarks(found[0], found[1], of_joint, frame)


def _towards_tip(ring: Array, field: Field) -> Frame:
    """The long axis of the outline, from where it leaves the field to its free end."""
    middle = ring.mean(axis=0)
    _, _, axes = np.linalg.svd(ring - middle, full_matrices=False)
    along = axes[0]
    shape = (ring - middle) @ along
    edges = np.array([field.left, field.right]), np.array([field.top, field.bottom])
    touching = (np.abs(ring[:, :1] - edges[0]).min(axis=1) < _BORDER_MM) | (
        np.abs(ring[:, 1:] - edges[1]).min(axis=1) < _BORDER_MM
    )
    if touching.any():
        side = np.sign(shape[touching])
        if abs(side.sum()) < 0.5 * side.size:
            raise PhotoRefused(Trouble.BLADE_CUT_OFF)
        along = -along * np.sign(side.sum())
    else:
        across = (ring - middle) @ axes[1]
        low, high = shape.min(), shape.max()
        near = 0.06 * (high - low)
        ends = [float(np.ptp(across[end])) for end in (shape > high - near, shape < low + near)]
        along = along * (1 if ends[0] <= ends[1] else -1)
    up = np.array([along[1], -along[0]])
    if up[1] > 0:  # up in the picture, for a start
        up = -up
    return Frame(middle, along, up)


def _levelled(frame: Frame, ring: Array) -> Frame:
    """The frame turned so that the straighter side of the blade's middle lies along x.

    A tall blade with its handle at the spine has its long axis askew.
    """
    x, low, high = _profiles(frame.of(ring))
    middle = (x > x[0] + 0.3 * (x[-1] - x[0])) & (x < x[0] + 0.7 * (x[-1] - x[0]))
    if middle.sum() < 10:
        return frame
    fits = [np.polyfit(x[middle], side[middle], 1, full=True)[:2] for side in (low, high)]
    slope = float(min(fits, key=lambda fit: float(fit[1][0]))[0][0])
    along = (frame.along + slope * frame.up) / np.hypot(1, slope)
    up = (frame.up - slope * frame.along) / np.hypot(1, slope)
    return Frame(frame.origin, along, up)


def _profiles(shape: Array) -> tuple[Array, Array, Array]:
    """Lowest and highest y of the outline over x, at even steps."""
    count = int(np.ptp(shape[:, 0]) / _BIN_MM)
    x = shape[:, 0].min() + (np.arange(count) + 0.5) * _BIN_MM
    closed = np.vstack([shape, shape[:1]])
    share = np.linspace(0, 1, 6, endpoint=False)[:, None, None]
    dense = (closed[:-1] * (1 - share) + closed[1:] * share).reshape(-1, 2)
    cell = np.clip(((dense[:, 0] - shape[:, 0].min()) / _BIN_MM).astype(int), 0, count - 1)
    low, high = np.full(count, np.inf), np.full(count, -np.inf)
    np.minimum.at(low, cell, dense[:, 1])
    np.maximum.at(high, cell, dense[:, 1])
    known = np.isfinite(low)
    return x[known], low[known], high[known]


def _step(x: Array, outward: Array, near: tuple[float, float]) -> tuple[float, float]:
    """The largest jump outward on the way to the tip near a place, and where it ends."""
    best, at = 0.0, float(x[0])
    for reach in (int(r / _BIN_MM) for r in (1.5, 3.0, 5.0)):
        if x.size <= 4 * reach:
            continue
        jumps = outward[reach:] - outward[:-reach]
        jumps = jumps[: int(0.75 * jumps.size)]
        allowed = (x[: jumps.size] >= near[0]) & (x[: jumps.size] <= near[1])
        jumps = np.where(allowed, jumps, -np.inf)
        k = int(jumps.argmax())
        if jumps[k] > best + 0.2:
            best = float(jumps[k])
            at = float(x[k + int(np.argmax(outward[k : k + reach + 1] > outward[k + reach] - 0.5))])
    return best, at


def _line(points: Array) -> tuple[Array, Array]:
    """A point and the direction of the line through points."""
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - middle, full_matrices=False)
    return middle, axes[0]


def _heel(shape: Array, x: Array, low: Array, at: float) -> Array:
    """Where the line of the edge meets the line of the choil."""
    level = float(np.interp(at + 3, x, low))
    ahead = shape[(shape[:, 0] > at + 1.5) & (shape[:, 0] < at + 14)]
    ahead = ahead[np.abs(ahead[:, 1] - level) < 2.5]
    notch = (x > at - 4) & (x < at + 0.5)
    crest = float(x[notch][low[notch].argmax()]) if notch.any() else at - 3.5
    behind = shape[
        (shape[:, 0] > max(at - 3.5, crest - 0.3))
        & (shape[:, 0] < at + 3.5)
        & (shape[:, 1] > level + 0.6)
        & (shape[:, 1] < level + 3.5)
    ]
    rough = np.array([at, level])
    if len(ahead) < 6 or len(behind) < 3:
        return rough
    curve = np.polynomial.Polynomial.fit(ahead[:, 0], ahead[:, 1], 2)
    found = _meeting(curve, _line(behind), rough)
    return rough if np.linalg.norm(found - rough) > 3 else found


def _meeting(curve: np.polynomial.Polynomial, upright: tuple[Array, Array], start: Array) -> Array:
    """Where a level curve meets a line that stands nearly upright."""
    middle, along = upright
    lean = float(along[0] / along[1]) if abs(along[1]) > 0.5 else 0.0
    found = start
    for _ in range(5):
        across = float(middle[0] + lean * (found[1] - middle[1]))
        found = np.array([across, float(curve(across))])
    return found


def _square_tip(shape: Array, x: Array, low: Array) -> Array:
    """Where the line of the edge meets the line of the square front."""
    end = float(x[-1])
    level = float(np.interp(end - 4, x, low))
    behind = shape[(shape[:, 0] > end - 14) & (shape[:, 0] < end - 1.5)]
    behind = behind[np.abs(behind[:, 1] - level) < 2.5]
    front = shape[
        (shape[:, 0] > end - 2.5) & (shape[:, 1] > level + 1.5) & (shape[:, 1] < level + 12)
    ]
    rough = np.array([end, level])
    if len(behind) < 6 or len(front) < 4:
        return rough
    curve = np.polynomial.Polynomial.fit(behind[:, 0], behind[:, 1], 2)
    found = _meeting(curve, _line(front), rough)
    return rough if np.linalg.norm(found - rough) > 3 else found


def _pointed_tip(shape: Array, x: Array, low: Array, high: Array) -> Array:
    """Where edge and spine, drawn on from where both are still clear, meet."""
    end = float(x[-1])
    rough = np.array([end, float((low[-1] + high[-1]) / 2)])
    clear = x[(high - low) > _CLEAR_MM]
    last = min(float(clear[-1]), end - 0.8) if clear.size else end - 2.0
    near = shape[(shape[:, 0] > last - 10) & (shape[:, 0] < last)]
    upper_side = near[:, 1] > np.interp(near[:, 0], x, (low + high) / 2)
    sides = [near[~upper_side], near[upper_side]]
    if min(len(side) for side in sides) < 8:
        return rough
    lower, upper = (np.polynomial.Polynomial.fit(side[:, 0], side[:, 1], 2) for side in sides)
    ahead = np.linspace(last, end + 2.0, 401)
    closed = np.flatnonzero(upper(ahead) <= lower(ahead))
    if not closed.size:
        return rough
    meets = float(ahead[closed[0]])
    return np.array([meets, float(lower(meets))])


def _joint(grid: Grid, frame: Frame, x: Array, low: Array, high: Array) -> Array | None:
    """Where colour changes most along the middle of the knife, in its rear."""
    along = np.arange(float(x[0]) + 1, float(x[0] + 0.7 * (x[-1] - x[0])), _BIN_MM)
    if along.size < 40:
        return None
    low_at, high_at = np.interp(along, x, low), np.interp(along, x, high)
    shares = np.linspace(0.4, 0.7, 5)
    rows = np.stack([low_at + s * (high_at - low_at) for s in shares])
    points = frame.back(np.column_stack([np.tile(along, len(shares)), rows.ravel()]))
    cells = np.round((points - np.asarray(grid.origin)) / grid.step_mm).astype(int)
    cells = np.clip(cells, 0, [grid.colours.shape[1] - 1, grid.colours.shape[0] - 1])
    seen = np.median(grid.colours[cells[:, 1], cells[:, 0]].reshape(len(shares), -1, 3), axis=0)
    reach = int(2.0 / _BIN_MM)
    sums = np.cumsum(np.vstack([np.zeros(3), seen]), axis=0)
    means = (sums[reach:] - sums[:-reach]) / reach
    change = np.abs(means[reach:] - means[:-reach]).max(axis=1)
    k = int(change.argmax())
    if change[k] < JOINT_CONTRAST:
        return None
    at = float(along[k + reach]) - _BIN_MM / 2
    return np.array([at, float(np.interp(at, x, (low + high) / 2))])

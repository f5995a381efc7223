"""A photo from the heel: the blackened end of the blade, row by row.

The end is blackened with a felt pen, so that it is the darkest thing before the paper and the
blade's own flanks behind it. Each row across it is measured by itself, from halfway between black
and what lies beside it on one side to the same on the other.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from scipy.special import ndtri

from maple_rook.core.geometry.scale_card import PRINT_RELATIVE_U, Field, View, print_size
from maple_rook.core.geometry.section_fit import EndView
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.refusal import PhotoRefused, Trouble
from maple_rook.photo.taking import DARKEST_PAPER, MOST_BLUR_MM, OnCard
from maple_rook.photo.tracing import Grid, on_grid, paper_of

LEVEL_U_MM = 1.0
"""Standard uncertainty of the heel standing level with the card (assumption)."""
PLACE_U_PX = 0.35
BLACK_ENOUGH = 0.35
"""A blackened end is darker than this share of the paper; bare steel seldom is (practice rule)."""
_BLACK_SHARE, _QUARTER, _LEAST_TALL_MM, _MOST_JUMP = 0.28, 0.22, 6.0, 1.35
_BESIDE, _MOST_SAMPLES, _DARK_SHARE = 7, 400, 0.35


@dataclass(frozen=True)
class HeelView:
    """The measured rows, and their outline in pixels for showing."""

    view: EndView
    outline_px: Array


def trace_heel(on_card: OnCard, ruler_mm: float | None = None) -> HeelView:
    """The blackened end in the window of a heel card."""
    card, camera = on_card.card, on_card.camera
    pixel = 1 / on_card.px_per_mm
    grid = on_grid(on_card.picture, camera, card.field, pixel)
    light = cv2.GaussianBlur(grid.colours[..., 1], (3, 3), 0)
    white = float(np.percentile(light, 90))
    if white < DARKEST_PAPER:
        raise PhotoRefused(Trouble.TOO_DARK)
    paper = paper_of(on_grid(on_card.picture, camera, card.field, 0.4), card.field)
    over = grid.colours.min(axis=2) - paper.brightness(np.array(card.field.corners)).max()
    if float(np.mean(over > 12)) > 0.02:
        raise PhotoRefused(Trouble.GLARE)
    black = float(np.percentile(light, 0.1))
    mask = (light < black + _BLACK_SHARE * (white - black)).astype(np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask)
    tall = stats[1:, cv2.CC_STAT_HEIGHT] if count > 1 else np.zeros(1)
    if black > BLACK_ENOUGH * white or tall.max() * pixel < _LEAST_TALL_MM:
        raise PhotoRefused(Trouble.NO_BLADE, "nothing blackened in the window")
    one = labels == int(tall.argmax()) + 1
    turned = _upright(one, grid, card.field)
    return _rows(on_card, grid, turned, (black, white), ruler_mm)


@dataclass(frozen=True)
class _Axis:
    """The upright line of the end: a point near the apex, mm on the card, and its direction up."""

    apex: Array
    up: Array
    tall_mm: float

    @property
    def right(self) -> Array:
        return np.array([-self.up[1], self.up[0]])


def _upright(one: Array, grid: Grid, field: Field) -> _Axis:
    """The long axis of the blackened end, from its thin end up."""
    cells = np.argwhere(one)[:, ::-1].astype(float)
    points = grid.mm(cells)
    middle = points.mean(axis=0)
    _, _, axes = np.linalg.svd(
        (points - middle)[:: max(len(points) // 4000, 1)], full_matrices=False
    )
    up = axes[0]
    along, across = (points - middle) @ up, (points - middle) @ np.array([-up[1], up[0]])
    low, high = along.min(), along.max()
    quarter = (high - low) / 4
    widths = [float(np.ptp(across[end])) for end in (along > high - quarter, along < low + quarter)]
    if widths[0] < widths[1]:
        up, along = -up, -along
    apex = middle + up * along.min()
    if not (field.left < apex[0] < field.right and field.top < apex[1] < field.bottom):
        raise PhotoRefused(Trouble.BLADE_CUT_OFF)
    return _Axis(apex, up, float(np.ptp(along)))


def _rows(
    on_card: OnCard, grid: Grid, axis: _Axis, levels: tuple[float, float], ruler_mm: float | None
) -> HeelView:
    black, white = levels
    camera, pixel = on_card.camera, grid.step_mm
    z = np.arange(0.0, axis.tall_mm, pixel)
    half = 9.0
    x = np.arange(-half, half + pixel / 2, pixel / 2)
    places = axis.apex + z[:, None, None] * axis.up + x[None, :, None] * axis.right
    seen = camera.to_pixels(places.reshape(-1, 2)).astype(np.float32)
    sampled = cv2.remap(
        on_card.picture.grey,
        seen.reshape(len(z), len(x), 2),
        None,
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )  # type: ignore[call-overload]
    light = cv2.GaussianBlur(np.asarray(sampled, dtype=np.float32), (0, 0), 0.8)
    kept, found = [], []
    middle = int(np.abs(x).argmin())
    for i, row in enumerate(light):
        window = slice(max(middle - 60, 0), middle + 60)
        darkest = window.start + int(row[window].argmin())
        if row[darkest] > black + _DARK_SHARE * (white - black):
            continue
        sides = [_edge(row[darkest::step], black, white) for step in (1, -1)]
        if sides[0] is None or sides[1] is None:
            continue
        kept.append(z[i])
        found.append([(darkest, *sides[0]), (darkest, *sides[1])])
        middle = int(np.clip(darkest + (sides[0][0] - sides[1][0]) / 2, 60, len(x) - 60))
    if len(kept) < 40:
        raise PhotoRefused(Trouble.NO_BLADE, "nothing blackened in the window")
    edges = np.array(found)
    softness = float(np.median(edges[..., 3]))
    blur_mm = softness / 2 * pixel
    at = edges[..., 1] - softness * ndtri(np.clip(edges[..., 2], 0.15, 0.6))
    right = x[0] + (edges[:, 0, 0] + at[:, 0]) * pixel / 2
    left = -(x[0] + (edges[:, 1, 0] - at[:, 1]) * pixel / 2)
    if blur_mm > MOST_BLUR_MM[View.HEEL]:
        raise PhotoRefused(
            Trouble.BLURRED, f"edges {blur_mm:.2f} mm soft, at most {MOST_BLUR_MM[View.HEEL]:g} mm"
        )
    return _measured(on_card, axis, np.array(kept), right, left, pixel, ruler_mm)


def _edge(along: Array, black: float, white: float) -> tuple[float, float, float] | None:
    """Where samples from the middle of a row outward pass a quarter of the way from black to white.

    Also which share of the step beside it that quarter is (half, where the steel's flank lies
    there; a quarter, where paper does), and how soft the step is, in samples.
    """
    along = along[:_MOST_SAMPLES]
    level = max(float(along[0]), black) + _QUARTER * (white - black)
    k = int(np.argmax(along > level))
    if k == 0 or k + _BESIDE >= len(along):
        return None
    at = k - 1 + float((level - along[k - 1]) / max(float(along[k] - along[k - 1]), 1e-6))
    inside = max(float(np.median(along[: max(k - 4, 1)])), black)
    beside = float(np.median(along[k + _BESIDE - 2 : k + _BESIDE + 1]))
    if beside <= level:
        return None
    climb = float(np.diff(along[max(k - 4, 0) : k + 7]).max())
    softness = (beside - inside) / (np.sqrt(2 * np.pi) * max(climb, 1e-6))
    return at, (level - inside) / (beside - inside), softness


def _measured(
    on_card: OnCard,
    axis: _Axis,
    z: Array,
    right: Array,
    left: Array,
    pixel: float,
    ruler_mm: float | None,
) -> HeelView:
    """Rows up to where the end is no longer by itself, from the first that is a pixel thick."""
    thick = right + left
    size = print_size(on_card.card, ruler_mm)
    begin = int(np.argmax(thick > 1.5 * pixel))
    steady = np.convolve(thick, np.ones(9) / 9, mode="same")
    usual = np.maximum.accumulate(np.maximum(steady, 6 * pixel))
    jumped = np.flatnonzero(thick[begin + 9 :] > _MOST_JUMP * usual[begin:-9] + 0.15)
    end = begin + int(jumped[0]) if jumped.size else len(z)
    end = max(end - 6, begin + 20)
    rows = slice(begin, min(end, len(z) - 4))
    away = float(-on_card.camera.place_mm[2])
    relative = float(np.hypot(size.relative_u, LEVEL_U_MM / away))
    kept_z, kept_r, kept_l = z[rows], right[rows], left[rows]
    view = EndView(
        size.factor * (kept_z - kept_z[0]),
        size.factor * kept_r,
        size.factor * kept_l,
        pixel,
        PLACE_U_PX * pixel,
        max(relative, PRINT_RELATIVE_U / 2),
    )
    outline = np.vstack(
        [
            axis.apex + kept_z[:, None] * axis.up + kept_r[:, None] * axis.right,
            (axis.apex + kept_z[:, None] * axis.up - kept_l[:, None] * axis.right)[::-1],
        ]
    )
    return HeelView(view, on_card.camera.to_pixels(outline[::4]))

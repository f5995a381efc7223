"""Telling a blade from the paper under it, and its outline to a part of a pixel.

The paper's brightness is a smooth surface over the field; what departs from it is the blade. The
outline is found roughly on a grid in millimetres, then along its normals in the photo itself: it
lies where brightness steps most sharply, which soft shadow does not.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter, gaussian_filter1d, median_filter

from maple_rook.core.geometry.scale_card import Field
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.camera import Camera
from maple_rook.photo.picture import Picture
from maple_rook.photo.refusal import PhotoRefused, Trouble

GRID_MM = 0.3
POINT_STEP_MM = 0.5
_REACH_MM = 1.5
LEAST_CONTRAST = 0.12
"""Steel departs from paper by at least this share of the paper's brightness."""
_STEEP_SHARE, _SHADOW_MM, _BESIDE_MM = 0.45, 0.6, 1.0
"""A climb counts from this share of the steepest on; what climbs over this width is shadow."""
Mask = NDArray[np.uint8]
Shades = NDArray[np.float32]


@dataclass(frozen=True)
class Grid:
    """Colours of a part of the card on an even grid; ``origin`` is its upper left, mm."""

    origin: tuple[float, float]
    step_mm: float
    colours: Array

    @property
    def cells(self) -> Array:
        """(column, row) of every cell, (rows, columns, 2)."""
        rows, columns = self.colours.shape[:2]
        return np.stack(np.meshgrid(np.arange(float(columns)), np.arange(float(rows))), axis=-1)

    @property
    def mm_along(self) -> tuple[Array, Array]:
        """x of every column and y of every row."""
        rows, columns = self.colours.shape[:2]
        x, y = self.origin
        return (
            np.asarray(x + np.arange(columns) * self.step_mm),
            np.asarray(y + np.arange(rows) * self.step_mm),
        )

    def mm(self, cells: Array) -> Array:
        """Points of grid cells (column, row)."""
        return np.asarray(np.asarray(self.origin) + cells * self.step_mm)


def on_grid(picture: Picture, camera: Camera, field: Field, step_mm: float = GRID_MM) -> Grid:
    """The field as the camera saw it, straightened, each cell the mean of the pixels it covers."""
    columns = int((field.right - field.left) / step_mm) + 1
    rows = int((field.bottom - field.top) / step_mm) + 1
    x = field.left + np.arange(columns) * step_mm
    y = field.top + np.arange(rows) * step_mm
    points = np.stack(np.meshgrid(x, y), axis=-1).reshape(-1, 2)
    seen = camera.to_pixels(points).astype(np.float32).reshape(rows, columns, 2)
    middle = ((field.left + field.right) / 2, (field.top + field.bottom) / 2)
    wide = max(int(camera.px_per_mm(middle) * step_mm), 1)
    smooth = cv2.blur(picture.colours, (wide, wide)) if wide > 1 else picture.colours
    colours = cv2.remap(smooth, seen, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_CONSTANT)  # type: ignore[call-overload]
    return Grid((field.left, field.top), step_mm, np.asarray(colours, dtype=np.float32))


@dataclass(frozen=True)
class Paper:
    """The paper's brightness over a field, a quadratic surface for each colour, and its noise."""

    coefficients: Array
    field: Field
    noise: float

    def brightness(self, points_mm: Array) -> Array:
        """(n, 3) at points (n, 2) of the card."""
        return np.asarray(_terms(points_mm, self.field) @ self.coefficients)

    def over(self, grid: Grid) -> Shades:
        """:meth:`brightness` of every cell of a grid, (rows, columns, 3)."""
        along, down = grid.mm_along
        x, y = _within(along, down, self.field)
        x, y = x[None, :, None], y[:, None, None]
        c = self.coefficients
        white = (c[0] + x * (c[1] + x * c[3])) + y * (c[2] + x * c[4])
        white += y * y * c[5]
        return np.asarray(white, np.float32)


def _within(x: Array, y: Array, field: Field) -> tuple[Array, Array]:
    """Coordinates from -1 to 1 across a field."""
    return (
        2 * (x - field.left) / (field.right - field.left) - 1,
        2 * (y - field.top) / (field.bottom - field.top) - 1,
    )


def _terms(points: Array, field: Field) -> Array:
    x, y = _within(points[:, 0], points[:, 1], field)
    return np.column_stack([np.ones_like(x), x, y, x * x, x * y, y * y])


def paper_of(grid: Grid, field: Field) -> Paper:
    """The paper by least squares over what is not darker than it, found in a few rounds."""
    points = grid.mm(grid.cells[::4, ::4].reshape(-1, 2))
    values = grid.colours[::4, ::4].reshape(-1, 3)
    light = values[:, 1]
    kept = light > 0.8 * np.percentile(light, 85)
    for _ in range(6):
        terms = _terms(points[kept], field)
        coefficients, *_ = np.linalg.lstsq(terms, values[kept], rcond=None)
        apart = (values - _terms(points, field) @ coefficients)[:, 1]
        noise = max(1.4826 * float(np.median(np.abs(apart[kept]))), 0.5)
        kept = np.abs(apart) < 3.5 * noise
    return Paper(np.asarray(coefficients, dtype=float), field, noise)


@dataclass(frozen=True)
class Departure:
    """How far each cell of a grid departs from the paper, as a share of its brightness.

    ``brighter`` is by how much all its colours are brighter; what shines less counts as 0.
    """

    either_way: Shades
    brighter: Shades


def departure(grid: Grid, paper: Paper) -> Departure:
    white = paper.over(grid)
    one, two, three = np.moveaxis(grid.colours - white, 2, 0)
    brightest = np.maximum(np.maximum(np.maximum(white[..., 0], white[..., 1]), white[..., 2]), 1)
    least, most = np.minimum(np.minimum(one, two), three), np.maximum(np.maximum(one, two), three)
    return Departure(np.maximum(-least, most) / brightest, np.maximum(least, 0) / brightest)


def blade_mask(apart: Shades) -> Mask:
    """The one thing on the paper, without holes; refused where there is none, or more."""
    shares = np.clip(apart * 255, 0, 255).astype(np.uint8)
    level, _ = cv2.threshold(shares, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    level = max(level / 255, LEAST_CONTRAST)
    mask = (apart > level).astype(np.uint8)
    mask = np.asarray(cv2.medianBlur(mask, 3), dtype=np.uint8)
    count, labels, stats, _ = cv2.connectedComponentsWithStats(mask)
    if count < 2:
        raise PhotoRefused(Trouble.NO_BLADE)
    areas = stats[1:, cv2.CC_STAT_AREA]
    largest = int(areas.argmax()) + 1
    if np.sum(areas > 0.1 * areas.max()) > 1:
        raise PhotoRefused(Trouble.NOT_PLAIN)
    outer, _ = cv2.findContours(
        (labels == largest).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE
    )
    filled = np.zeros_like(mask)
    cv2.drawContours(filled, outer, -1, 1, cv2.FILLED)
    return filled


def outline_of(mask: Mask) -> Array:
    """The border of the mask as cells (column, row), closed, without the last point twice."""
    found, _ = cv2.findContours(mask, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    return np.asarray(max(found, key=len).reshape(-1, 2), dtype=float)


def evenly(ring: Array, step: float, *, closed: bool = True) -> Array:
    """A line with points at even steps along it."""
    line = np.vstack([ring, ring[:1]]) if closed else ring
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(line, axis=0), axis=1))])
    count = max(int(along[-1] / step), 4)
    at = np.linspace(0, along[-1], count + 1)[: count if closed else count + 1]
    return np.column_stack([np.interp(at, along, line[:, i]) for i in range(2)])


def smoothed(ring: Array, reach: int) -> Array:
    """A closed line averaged over its neighbours."""
    padded = np.vstack([ring[-reach:], ring, ring[:reach]])
    kernel = np.ones(2 * reach + 1) / (2 * reach + 1)
    return np.column_stack([np.convolve(padded[:, i], kernel, mode="valid") for i in range(2)])


def outward(ring: Array) -> Array:
    """Unit normals of a closed line, pointing out of it."""
    along = np.roll(ring, -1, axis=0) - np.roll(ring, 1, axis=0)
    normal = np.column_stack([along[:, 1], -along[:, 0]])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-9)
    x, y = ring.T
    area = float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))
    return normal if area > 0 else -normal


@dataclass(frozen=True)
class Trace:
    """An outline in pixels, and how soft its edge is in the photo, as a standard deviation."""

    pixels: Array
    blur_px: float


def refined(
    picture: Picture,
    camera: Camera,
    ring_mm: Array,
    paper: Paper | None,
    reach_mm: float = _REACH_MM,
) -> Trace:
    """Move a rough closed outline onto the brightness step beside it, in pixels.

    Along each normal the step is the outermost place where the departure from the paper climbs
    steeply inward, to a part of a sample by the parabola through three. What a wider filter sees
    too is taken off first: a soft shadow climbs slowly. A bevel that shines differently lies
    further in. ``paper`` None takes what lies
    outside for the paper.

    Parameters
    ----------
    picture : the picture.
    camera : the camera as it stood.
    ring_mm : a first ring, mm.
    paper : how bright the paper is.
    reach_mm : how far to look on either side, mm.
    """
    normals = outward(smoothed(ring_mm, 3))
    middle_x, middle_y = ring_mm.mean(axis=0).tolist()
    fine = 0.5 / camera.px_per_mm((middle_x, middle_y))
    steps = np.arange(-reach_mm, reach_mm + fine / 2, fine)
    places = ring_mm[:, None, :] + steps[None, :, None] * normals[:, None, :]
    seen = camera.to_pixels(places.reshape(-1, 2)).astype(np.float32)
    sampled = cv2.remap(
        picture.colours,
        seen.reshape(len(ring_mm), len(steps), 2),
        None,
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )  # type: ignore[call-overload]
    light = np.asarray(sampled, dtype=float)
    outer = max(len(steps) // 4, 2)
    white = np.median(light[:, -outer:], axis=1) if paper is None else paper.brightness(ring_mm)
    apart = np.abs(light - white[:, None, :]).max(axis=2)
    apart = gaussian_filter(apart, (1.0, 0.0), mode="wrap")
    broad = max(_SHADOW_MM / fine, 4.0)
    climb = -gaussian_filter1d(apart, 2.0, axis=1, order=1)
    sharp = climb + gaussian_filter1d(apart, broad, axis=1, order=1, mode="nearest")
    inner = sharp[:, 1:-1]
    peaks = (inner >= sharp[:, :-2]) & (inner > sharp[:, 2:])
    peaks &= inner >= _STEEP_SHARE * inner.max(axis=1, keepdims=True)
    best = peaks.shape[1] - peaks[:, ::-1].argmax(axis=1)
    rows = np.arange(len(best))
    before, at, after = (sharp[rows, best + k] for k in (-1, 0, 1))
    bend = np.minimum(before - 2 * at + after, -1e-9)
    crossing = steps[best] + fine * np.clip(0.5 * (before - after) / bend, -1, 1)
    aside = max(int(_BESIDE_MM / fine), 4)
    rise = (
        apart[rows, np.maximum(best - aside, 0)]
        - apart[rows, np.minimum(best + aside, len(steps) - 1)]
    )
    clear = rise > 0.5 * LEAST_CONTRAST * white.max(axis=1)
    filled = np.where(clear, crossing, 0.0)
    usual = median_filter(filled, size=9, mode="wrap")
    jumped = np.abs(filled - usual) > 0.6
    filled = np.where(jumped, usual, filled)
    moved = ring_mm + filled[:, None] * normals
    width = rise / np.maximum(np.sqrt(2 * np.pi) * climb[rows, best], 1e-9)
    soft = float(np.median(width[clear])) * 0.5 if clear.any() else np.inf
    blur = float(np.sqrt(max(soft**2 - 1.0, 0.0)))  # less the filter's own sigma of one pixel
    return Trace(camera.to_pixels(moved), blur)

"""A simulated camera: photos of a knife of known shape, for the demo shop and for tests.

It shares nothing with what measures the photos but the cards: its own pinhole, its own solid, flat
polygons painted from the farthest to the nearest. What a photo can suffer from is a number each.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from maple_rook.core.geometry.outline import Point
from maple_rook.core.geometry.scale_card import ScaleCard, View
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.markers import CELLS, pattern

_TABLE, _PAPER, _INK = (96, 112, 134), (233, 236, 238), (38, 36, 36)
_STEEL, _BEVEL, _HANDLE, _BLACKED = (128, 126, 122), (146, 144, 140), (40, 52, 78), (34, 32, 32)
_LAYERS = 4
_STEP_MM, _LINES = 4.0, 4
Colour = tuple[int, int, int]


@dataclass(frozen=True)
class Shot:
    """How a photo is taken. Angles in degrees, lengths in mm; picture and blur in px.

    ``roll_deg`` turns the picture, ``turn_deg`` the knife on its card, ``lens`` is the radial term.
    ``glare`` and ``shadow`` are shares of full strength; ``aside_mm`` moves the aim off the card.
    """

    tilt_deg: float = 8.0
    towards_deg: float = 60.0
    roll_deg: float = 2.0
    turn_deg: float = 1.5
    lens: float = -0.01
    width_px: int = 2400
    height_px: int = 1800
    fill: float = 0.92
    blur_px: float = 0.8
    noise: float = 3.0
    slope_of_light: float = 0.15
    shadow: float = 0.25
    glare: float = 0.0
    printed: float = 1.0
    stand_off_mm: float = 0.0
    aside_mm: tuple[float, float] = (0.0, 0.0)
    focal: float = 0.78
    tells_lens: bool = True
    quality: int = 92
    seed: int = 1


@dataclass(frozen=True)
class Knife:
    """A knife lying on its side: lower and upper line over x, mm, and its thickness at the spine.

    ``edge`` and ``spine`` run from the heel (0, 0) to the tip, y up; ``rear`` is the outline behind
    the heel, from its lower to its upper end; ``handle`` a polygon of its own.
    """

    edge: Sequence[Point]
    spine: Sequence[Point]
    rear: Sequence[Point]
    handle: Sequence[Point]
    spine_heel_mm: float = 2.2
    spine_tip_mm: float = 1.2


@dataclass(frozen=True)
class HeelEnd:
    """A knife seen from its heel: sections (x, z) in mm at depths behind the card's plane."""

    sections: Sequence[tuple[float, Sequence[Point]]]
    blacked_to_mm: float


class Pinhole:
    """The simulated camera's own projection; card coordinates as in ``core.scale_card``."""

    def __init__(self, card: ScaleCard, shot: Shot) -> None:
        self.shot = shot
        long = max(shot.width_px, shot.height_px)
        self.focal = shot.focal * long
        aim = np.array(
            [card.width_mm / 2 + shot.aside_mm[0], card.height_mm / 2 + shot.aside_mm[1], 0.0]
        )
        room = max(card.width_mm / shot.width_px, card.height_mm / shot.height_px)
        far = self.focal * room / shot.fill * (1 + 0.35 * np.sin(np.radians(shot.tilt_deg)))
        tilt, towards = np.radians([shot.tilt_deg, shot.towards_deg])
        back = np.array(
            [np.sin(tilt) * np.cos(towards), np.sin(tilt) * np.sin(towards), -np.cos(tilt)]
        )
        self.place = aim + far * back
        ahead = -back
        right = np.array([np.cos(np.radians(shot.roll_deg)), np.sin(np.radians(shot.roll_deg)), 0])
        right = right - ahead * (right @ ahead)
        right /= np.linalg.norm(right)
        self.axes = np.array([right, np.cross(ahead, right), ahead])

    def pixels(self, points: Array) -> Array:
        """Pixels of points (n, 3): x and y of the card, and height above it."""
        solid = points * [1, 1, -1]
        seen = (solid - self.place) @ self.axes.T
        flat = seen[:, :2] / seen[:, 2:]
        r2 = (flat**2).sum(axis=1, keepdims=True)
        middle = np.array([(self.shot.width_px - 1) / 2, (self.shot.height_px - 1) / 2])
        return np.asarray(middle + self.focal * flat * (1 + self.shot.lens * r2))


class _Canvas:
    """The picture while it is painted, in shares of pixels covered."""

    def __init__(self, camera: Pinhole) -> None:
        self.camera = camera
        shot = camera.shot
        self.pixels = np.empty((shot.height_px, shot.width_px, 3), np.float32)
        self.pixels[:] = _TABLE

    def paint(self, ring: Array, colour: Colour, height_mm: Array | float = 0.0) -> None:
        place, share = self.covered(ring, height_mm)
        under = self.pixels[place]
        change = np.asarray(colour, np.float32) - under
        change *= share[..., None]
        under += change

    def covered(
        self, ring: Array, height_mm: Array | float = 0.0
    ) -> tuple[tuple[slice, slice], NDArray[np.float32]]:
        """A window of the picture, and the share of each of its pixels the polygon covers.

        Exact across, by the crossings of :data:`_LINES` lines a pixel down.
        """
        heights = np.broadcast_to(height_mm, len(ring))
        seen = self.camera.pixels(_subdivided(np.column_stack([ring, heights]))) + 0.5
        height, width = self.pixels.shape[:2]
        x0, y0 = np.clip(np.floor(seen.min(axis=0)), 0, (width, height)).astype(int)
        x1, y1 = np.clip(np.ceil(seen.max(axis=0)) + 1, 0, (width, height)).astype(int)
        rows, columns = max(y1 - y0, 0), max(x1 - x0, 0)
        (ax, ay), (bx, by) = seen.T, np.roll(seen, -1, axis=0).T
        first, last = (
            np.clip(np.ceil((end - y0) * _LINES - 0.5), 0, rows * _LINES).astype(int)
            for end in (np.minimum(ay, by), np.maximum(ay, by))
        )
        crossed = last - first  # the lines that each side crosses, one after another
        side = np.repeat(np.arange(len(seen)), crossed)
        lines = first[side] + np.arange(side.size) - np.repeat(crossed.cumsum() - crossed, crossed)
        y = y0 + (lines + 0.5) / _LINES
        ax, ay, bx, by = ax[side], ay[side], bx[side], by[side]
        x = np.clip(ax + (bx - ax) * (y - ay) / (by - ay) - x0, 0, columns)
        turn, cell = np.sign(by - ay), x.astype(int)
        part = (x - cell) * turn
        # The lines of a row of pixels are summed before they are run along: a polygon that does
        # not cross itself turns one way, so that the order does not matter.
        at = lines // _LINES * (columns + 2) + cell
        turns = np.bincount(
            np.concatenate([at, at + 1]), np.concatenate([turn - part, part]), rows * (columns + 2)
        )
        run = np.cumsum(turns.reshape(rows, columns + 2).astype(np.float32), axis=1)[:, :columns]
        share = np.asarray(np.clip(np.abs(run) / _LINES, 0, 1), np.float32)
        return (slice(y0, y1), slice(x0, x1)), share


def _subdivided(ring: Array, step_mm: float = _STEP_MM) -> Array:
    """The polygon with its sides cut into short ones, which a lens may bend."""
    along = np.roll(ring, -1, axis=0) - ring
    steps = np.maximum(np.linalg.norm(along, axis=1) // step_mm, 1).astype(int)
    side = np.repeat(np.arange(len(ring)), steps)
    share = (np.arange(side.size) - np.repeat(steps.cumsum() - steps, steps)) / steps[side]
    return np.asarray(ring[side] + along[side] * share[:, None])


def _rectangle(x: float, y: float, width: float, height: float) -> Array:
    return np.array([(x, y), (x + width, y), (x + width, y + height), (x, y + height)])


def photograph(card: ScaleCard, subject: Knife | HeelEnd, shot: Shot) -> bytes:
    """A JPEG of the knife on its card, with what a camera notes of its lens."""
    canvas = _Canvas(Pinhole(card, shot))
    _card(canvas, card, shot)
    if isinstance(subject, Knife):
        _lying(canvas, card, subject, shot)
    else:
        _from_the_heel(canvas, card, subject)
    return _developed(canvas, card, shot)


def _card(canvas: _Canvas, card: ScaleCard, shot: Shot) -> None:
    k = shot.printed
    if card.view is View.SIDE:
        canvas.paint(_rectangle(0, 0, k * card.width_mm, k * card.height_mm), _PAPER)
    else:
        canvas.paint(_rectangle(-40, -40, 180, 170), _PAPER, -30.0)
        f = card.field
        for x, width in ((0.0, f.left), (f.right, card.width_mm - f.right)):
            canvas.paint(_rectangle(k * x, 0, k * width, k * f.bottom), _PAPER)
        low = card.height_mm - f.bottom
        canvas.paint(_rectangle(0, k * f.bottom, k * card.width_mm, k * low), _PAPER)
    for marker in card.markers:
        cell = marker.side_mm / CELLS
        canvas.paint(k * _rectangle(marker.x_mm, marker.y_mm, marker.side_mm, marker.side_mm), _INK)
        for row, column in np.argwhere(pattern(marker.number)):
            at = marker.x_mm + column * cell, marker.y_mm + row * cell
            canvas.paint(k * _rectangle(*at, cell, cell), _PAPER)
    x0, x1, y = card.ruler
    canvas.paint(k * _rectangle(x0, y, x1 - x0, 0.4), _INK)


def laid(card: ScaleCard, knife: Knife, shot: Shot, points: Sequence[Point]) -> Array:
    """Points of the knife in card coordinates: the blade in the middle of the field, edge down."""
    xs, ys = np.array(knife.edge).T
    top = max(y for _, y in knife.spine)
    f = card.field
    a = np.radians(shot.turn_deg)
    turned = np.array([(np.cos(a), np.sin(a)), (np.sin(a), -np.cos(a))])
    middle = np.array([(xs.min() + xs.max()) / 2, (ys.min() + top) / 2])
    centre = np.array([(f.left + f.right) / 2, (f.top + f.bottom) / 2])
    return np.asarray(centre + (np.asarray(points, dtype=float) - middle) @ turned.T)


def _lying(canvas: _Canvas, card: ScaleCard, knife: Knife, shot: Shot) -> None:
    edge, spine = np.array(knife.edge, dtype=float), np.array(knife.spine, dtype=float)
    x = np.linspace(0.0, edge[-1, 0], 160)
    low, high = np.interp(x, *edge.T), np.interp(x, *spine.T)
    rear = np.array(knife.rear, dtype=float)
    middle = knife.spine_heel_mm / 2 + shot.stand_off_mm
    whole = np.vstack([np.column_stack([x, low]), np.column_stack([x, high])[::-1], rear[::-1]])
    handle = np.array(knife.handle, dtype=float)
    if shot.shadow:
        _shade(canvas, card, knife, shot, [whole, handle])

    def placed(points: Array) -> Array:
        return laid(card, knife, shot, [(float(a), float(b)) for a, b in points])

    for k in [*range(-_LAYERS, 0), *range(_LAYERS + 1)]:
        share = abs(k) / _LAYERS
        lower = low + share * (high - low)
        behind = rear[rear[:, 1] >= lower[0]]
        ring = np.vstack(
            [np.column_stack([x, lower]), np.column_stack([x, high])[::-1], behind[::-1]]
        )
        thick = np.interp(
            ring[:, 0],
            [0, x[-1] - 10, x[-1]],
            [knife.spine_heel_mm, knife.spine_tip_mm, 0.3 * knife.spine_tip_mm],
        )
        tone = tuple(int(c + 3 * k) for c in _STEEL)
        canvas.paint(placed(ring), (tone[0], tone[1], tone[2]), middle + k / _LAYERS * thick / 2)
        if k == 0:
            band = np.vstack([np.column_stack([x, low]), np.column_stack([x, low + 0.7])[::-1]])
            band[:, 1] = np.minimum(band[:, 1], np.interp(band[:, 0], x, high))
            canvas.paint(placed(band), _BEVEL, middle)
    canvas.paint(placed(handle), _HANDLE, middle)


def _shade(
    canvas: _Canvas, card: ScaleCard, knife: Knife, shot: Shot, rings: Sequence[Array]
) -> None:
    """A soft shadow on the paper, a little off the knife."""
    dark = np.zeros((shot.height_px, shot.width_px), np.float32)
    for ring in rings:
        on_card = laid(card, knife, shot, [(float(a), float(b)) for a, b in ring])
        place, share = canvas.covered(on_card + np.array([0.9, 1.3]))
        dark[place] = np.maximum(dark[place], share)
    per_mm = shot.width_px * shot.fill / card.width_mm
    soft = cv2.GaussianBlur(dark, (0, 0), 1.2 * per_mm)
    canvas.pixels *= 1 - shot.shadow * soft[..., None]


def _from_the_heel(canvas: _Canvas, card: ScaleCard, end: HeelEnd) -> None:
    f = card.field
    apex = np.array([(f.left + f.right) / 2, f.bottom - 8.0])

    def placed(section: Sequence[Point]) -> Array:
        return np.asarray(apex + np.asarray(section, dtype=float) * [1, -1])

    for depth, section in sorted(end.sections, key=lambda s: -s[0]):
        canvas.paint(placed(section), _STEEL, -depth)
    near = _subdivided(np.asarray(end.sections[0][1], dtype=float), 0.1)
    canvas.paint(placed([(x, z) for x, z in near.tolist() if z <= end.blacked_to_mm]), _BLACKED)


def _developed(canvas: _Canvas, card: ScaleCard, shot: Shot) -> bytes:
    chance = np.random.default_rng(shot.seed)
    light = canvas.pixels
    down, across = np.ogrid[0 : shot.height_px, 0 : shot.width_px]
    fall = 1 + shot.slope_of_light * (
        (across / shot.width_px - 0.5) + 0.6 * (0.5 - down / shot.height_px)
    )
    light *= fall[..., None].astype(np.float32)
    if shot.glare:
        f = card.field
        middle = np.array([[(f.left + f.right) / 2, (f.top + f.bottom) / 2, 0.0]])
        ((x, y),) = canvas.camera.pixels(middle)
        reach = 0.10 * shot.width_px
        near = np.exp(-(((across - x) / reach) ** 2 + ((down - y) / (0.5 * reach)) ** 2))
        light += (600 * shot.glare * near)[..., None].astype(np.float32)
    if shot.blur_px:
        light = np.asarray(cv2.GaussianBlur(light, (0, 0), shot.blur_px), dtype=np.float32)
    if shot.noise:
        grain = chance.standard_normal(light.shape, np.float32)
        grain *= shot.noise
        light += grain
    np.clip(light, 0, 255, out=light)
    picture = Image.fromarray(light.astype(np.uint8)[..., ::-1])
    notes = Image.Exif()
    notes[0x010F], notes[0x0110] = "Stand-in", "simulated camera"
    if shot.tells_lens:
        lens = notes.get_ifd(0x8769)
        lens[0xA405] = round(shot.focal * 36)
    held = io.BytesIO()
    picture.save(held, "JPEG", quality=shot.quality, exif=notes)
    return held.getvalue()

"""From a picture to a traced blade, refusing what cannot be measured."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import cv2
import numpy as np

from maple_rook.core.geometry.scale_card import CARD_OF, CARDS, Field, ScaleCard, View, print_size
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.photo.camera import Camera, fit_camera
from maple_rook.photo.landmarks import Landmarks, landmarks
from maple_rook.photo.markers import Grey, find_markers
from maple_rook.photo.picture import Picture
from maple_rook.photo.refusal import PhotoRefused, Trouble
from maple_rook.photo.side_view import Lying, Pixel, Points, SideView, own_line
from maple_rook.photo.tracing import (
    POINT_STEP_MM,
    Departure,
    Grid,
    Paper,
    blade_mask,
    departure,
    evenly,
    on_grid,
    outline_of,
    paper_of,
    refined,
)

MOST_TILT_DEG = {View.SIDE: 35.0, View.HEEL: 20.0}
LEAST_PX_PER_MM = {View.SIDE: 3.5, View.HEEL: 12.0}
LEAST_READ, LEAST_SEEN, LEAST_IN_PICTURE = 4, 0.55, 0.85
"""Markers that must be read, and shares of a card's that must be read and lie in the picture."""
DARKEST_PAPER = 55.0
GLARE_ABOVE, BURNT_OUT, GLARE_SHARE = 0.06, 251.0, 0.004
"""Brighter than the paper by this share, or burnt out where the paper is not, over this share of
the field is glare."""
MOST_BLUR_MM = {View.SIDE: 0.5, View.HEEL: 0.08}
_SOFT_PX = 6.0


@dataclass(frozen=True)
class OnCard:
    """A picture with its card found: where the camera stood, and which card it is."""

    picture: Picture
    camera: Camera
    card: ScaleCard
    markers_seen: int

    @property
    def tilt_deg(self) -> float:
        return self.camera.tilt_deg((self.card.width_mm / 2, self.card.height_mm / 2))

    @property
    def px_per_mm(self) -> float:
        return self.camera.px_per_mm((self.card.width_mm / 2, self.card.height_mm / 2))


def find_card(picture: Picture, view: View) -> OnCard:
    """The card in a picture and the camera over it, or why it cannot be used."""
    grey = picture.grey
    found = find_markers(grey)
    if not found:
        raise _nothing_found(grey, PhotoRefused(Trouble.NO_CARD))
    key = Counter(CARD_OF[n].key for n in found).most_common(1)[0][0]
    card = CARDS[key]
    if card.view is not view:
        raise PhotoRefused(Trouble.WRONG_CARD, f"the {card.label} card was found")
    seen = {n: corners for n, corners in found.items() if CARD_OF[n] is card}
    told = f"{len(seen)} of {len(card.markers)} markers read"
    if len(seen) < LEAST_READ:
        raise _nothing_found(grey, PhotoRefused(Trouble.CARD_CUT_OFF, told))
    camera = fit_camera(seen, picture.size, picture.focal_px)
    on_card = OnCard(picture, camera, card, len(seen))
    if on_card.tilt_deg > MOST_TILT_DEG[view]:
        raise PhotoRefused(
            Trouble.TOO_OBLIQUE,
            f"{on_card.tilt_deg:.0f}° off straight, at most {MOST_TILT_DEG[view]:.0f}°",
        )
    middles = [(m.x_mm + m.side_mm / 2, m.y_mm + m.side_mm / 2) for m in card.markers]
    inside = _inside(camera.to_pixels(middles), picture.size)
    whole = _inside(camera.to_pixels(card.field.corners), picture.size)
    if (
        inside.mean() < LEAST_IN_PICTURE
        or not whole.all()
        or (len(seen) < LEAST_SEEN * len(card.markers))
    ):
        raise PhotoRefused(Trouble.CARD_CUT_OFF, told)
    if on_card.px_per_mm < LEAST_PX_PER_MM[view]:
        raise PhotoRefused(
            Trouble.TOO_FAR,
            f"{on_card.px_per_mm:.1f} pixels a millimetre, at least {LEAST_PX_PER_MM[view]:g}",
        )
    return on_card


def _inside(pixels: Array, size: tuple[int, int]) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    return np.asarray(((pixels >= 0) & (pixels <= np.array(size) - 1)).all(axis=1))


def _nothing_found(grey: Grey, otherwise: PhotoRefused) -> PhotoRefused:
    """Why hardly a marker could be read: dark, blurred, or something else."""
    dark, light = np.percentile(grey[::4, ::4], (2, 98))
    if light < DARKEST_PAPER:
        return PhotoRefused(Trouble.TOO_DARK)
    small = cv2.GaussianBlur(grey, (0, 0), 1.0)
    slope = np.hypot(cv2.Sobel(small, cv2.CV_32F, 1, 0), cv2.Sobel(small, cv2.CV_32F, 0, 1)) / 8
    steepest = float(np.percentile(slope, 99.9))
    if (light - dark) / max(np.sqrt(2 * np.pi) * steepest, 1e-6) > _SOFT_PX:
        return PhotoRefused(Trouble.BLURRED)
    return otherwise


def check_light(grid: Grid, paper: Paper, field: Field, apart: Departure) -> None:
    """Refuse paper too dark to tell from steel, and spots brighter than paper can be."""
    white = paper.brightness(np.array(field.corners))
    if float(np.median(white)) < DARKEST_PAPER:
        raise PhotoRefused(Trouble.TOO_DARK)
    bright = apart.brighter > GLARE_ABOVE
    if white.max() < BURNT_OUT - 3:
        bright |= grid.colours.min(axis=2) >= BURNT_OUT
    if float(bright.mean()) > GLARE_SHARE:
        raise PhotoRefused(Trouble.GLARE)


def trace_side(on_card: OnCard, lying: Lying, ruler_mm: float | None = None) -> SideView:
    """The outline of a knife on its card, with heel, tip and joint proposed."""
    return traced(
        on_card.picture, on_card.camera, on_card.card.field, lying, on_card.card, ruler_mm
    )


def traced(
    picture: Picture,
    camera: Camera,
    field: Field,
    lying: Lying,
    card: ScaleCard | None = None,
    ruler_mm: float | None = None,
) -> SideView:
    """:func:`trace_side` of a picture with or without a card; ``field`` is what is looked at.

    Parameters
    ----------
    picture : the picture.
    camera : the camera as it stood.
    field : the field that is looked at.
    lying : how the knife lies over the card.
    card : the scale card found.
    ruler_mm : length of the ruler on the card as measured, mm.
    """
    grid = on_grid(picture, camera, field)
    paper = paper_of(grid, field)
    apart = departure(grid, paper)
    check_light(grid, paper, field, apart)
    rough = evenly(grid.mm(outline_of(blade_mask(apart.either_way))), POINT_STEP_MM)
    trace = refined(picture, camera, rough, paper)
    middle_x, middle_y = rough.mean(axis=0).tolist()
    blur_mm = trace.blur_px / camera.px_per_mm((middle_x, middle_y))
    if not blur_mm <= MOST_BLUR_MM[View.SIDE]:
        raise PhotoRefused(
            Trouble.BLURRED, f"edges {blur_mm:.2f} mm soft, at most {MOST_BLUR_MM[View.SIDE]:g} mm"
        )
    ring = camera.to_mm(trace.pixels)  # as it looks on the card; its points are put right later
    first = landmarks(ring, grid, field)
    found = landmarks(_cleared(ring, trace.pixels, camera, first, lying), grid, field)

    def pixel(point: Array) -> Pixel:
        ((x, y),) = camera.to_pixels([point]).tolist()
        return x, y

    points = Points(
        pixel(found.heel), pixel(found.tip), None if found.joint is None else pixel(found.joint)
    )
    size = print_size(card, ruler_mm) if card else None
    return SideView(camera, trace.pixels, found.frame, points, size)


def _cleared(ring: Array, pixels: Array, camera: Camera, found: Landmarks, lying: Lying) -> Array:
    """The outline with its spine where the blade's middle plane would show it, see `own_line`."""
    flat = found.frame.of(ring)
    heel, tip = found.frame.of(np.array([found.heel, found.tip]))
    chord = np.interp(flat[:, 0], [heel[0], tip[0]], [heel[1], tip[1]])
    upper = (flat[:, 0] > heel[0] + 2) & (flat[:, 1] > chord + 0.2)
    own = found.frame.back(own_line(camera, found.frame, pixels[upper], lying))
    cleared = ring.copy()
    cleared[upper] = camera.to_mm(camera.to_pixels(own, lying.middle_mm))
    return cleared

r"""Where the camera stood over a card, and going between pixels and millimetres.

A pinhole with one radial term [1]_: a point X of the card lies at (x, y, z) = R X + t before the
camera, and falls on the pixel c + f (x/z, y/z) (1 + k1 r^2). All of f, k1, R and t are found from
the corners of the markers by least squares, held by what is known of lenses: one flat card seen
straight from above does not tell how far away the camera was.

References
----------
.. [1] Zhang, Z. (2000), A flexible new technique for camera calibration, IEEE Trans. Pattern
   Analysis and Machine Intelligence 22, 1330.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import cv2
import numpy as np
from numpy.typing import ArrayLike
from scipy.optimize import least_squares

from maple_rook.core.geometry.scale_card import MARKERS
from maple_rook.core.measurement.uncertainty import Array

FULL_FRAME_MM = 36.0
USUAL_FOCAL = 0.80
"""Focal length of phones and small lenses over the long side of the picture (29 mm on 36)."""
USUAL_FOCAL_LOG_U, KNOWN_FOCAL_LOG_U = 0.25, 0.03
DISTORTION_U = 0.08
CORNER_U_PX = 0.12
"""The least a corner of a marker is uncertain by, px."""


@dataclass(frozen=True)
class Camera:
    """Focal length and centre in px, radial term, and the card's place before the camera.

    ``theta`` holds ln f, k1, rotation vector and translation in mm; ``covariance`` theirs.
    """

    theta: Array
    covariance: Array
    centre: tuple[float, float]
    residual_px: float = 0.0

    @property
    def focal_px(self) -> float:
        return float(np.exp(self.theta[0]))

    @cached_property
    def rotation(self) -> Array:
        return np.asarray(cv2.Rodrigues(self.theta[2:5])[0], dtype=float)

    @property
    def _matrix(self) -> Array:
        (cx, cy), f = self.centre, self.focal_px
        return np.array([[f, 0, cx], [0, f, cy], [0, 0, 1.0]])

    @property
    def _lens(self) -> Array:
        return np.array([self.theta[1], 0.0, 0.0, 0.0])

    @property
    def place_mm(self) -> Array:
        """The camera in card coordinates, z downward: x, y, minus its height."""
        return np.asarray(-self.rotation.T @ self.theta[5:8])

    def tilt_deg(self, at: tuple[float, float]) -> float:
        """Angle between the card's normal and the line of sight to a point of it."""
        sight = np.array([*at, 0.0]) - self.place_mm
        return float(np.degrees(np.arccos(abs(sight[2]) / np.linalg.norm(sight))))

    def to_pixels(self, points_mm: ArrayLike, height_mm: ArrayLike = 0.0) -> Array:
        """Pixels of points (n, 2) at heights above the card."""
        flat = np.asarray(points_mm, dtype=float).reshape(-1, 2)
        turn = self.rotation
        ahead = flat @ turn[:, :2].T - np.multiply.outer(height_mm, turn[:, 2]) + self.theta[5:8]
        seen = ahead[:, :2] / ahead[:, 2:]
        bent = 1 + self.theta[1] * np.einsum("ij,ij->i", seen, seen)
        return np.asarray(self.focal_px * bent[:, None] * seen + self.centre)

    def to_mm(self, pixels: ArrayLike, height_mm: ArrayLike = 0.0) -> Array:
        """Points (n, 2) of the plane at a height above the card that fall on these pixels."""
        seen = np.asarray(pixels, dtype=float).reshape(-1, 1, 2)
        rays = cv2.undistortPoints(seen, self._matrix, self._lens).reshape(-1, 2)
        ahead = np.column_stack([rays, np.ones(len(rays))]) @ self.rotation
        place = self.place_mm
        far = (-np.asarray(height_mm, dtype=float) - place[2]) / ahead[:, 2]
        return np.asarray(place[:2] + ahead[:, :2] * np.asarray(far)[:, None])

    def px_per_mm(self, at: tuple[float, float]) -> float:
        """Pixels to a millimetre at a point of the card, the finer and the coarser way averaged."""
        x, y = at
        seen = self.to_pixels([(x - 1, y), (x + 1, y), (x, y - 1), (x, y + 1)])
        return float((np.linalg.norm(seen[1] - seen[0]) + np.linalg.norm(seen[3] - seen[2])) / 4)

    def moved(self, by: ArrayLike) -> Camera:
        """The same with its parameters moved."""
        return replace(self, theta=self.theta + np.asarray(by, dtype=float))

    @cached_property
    def doubts(self) -> Array:
        """Steps of one standard uncertainty each, independent of one another, as rows."""
        values, vectors = np.linalg.eigh(self.covariance)
        return np.asarray((vectors * np.sqrt(np.maximum(values, 0.0))).T)


def fit_camera(
    found: Mapping[int, Array], size: tuple[int, int], focal_px: float | None = None
) -> Camera:
    """The camera from markers' corners in px by number; ``size`` is (width, height) in px.

    ``focal_px`` is what the picture says of its lens. A corner that does not fit the others, such
    as one of a marker that is half covered, counts less and less (soft L1).
    """
    numbers = sorted(found)
    flat = np.array([MARKERS[n].corners for n in numbers], dtype=float).reshape(-1, 2)
    seen = np.concatenate([found[n] for n in numbers])
    solid = np.column_stack([flat, np.zeros(len(flat))])
    width, height = size
    centre = ((width - 1) / 2, (height - 1) / 2)
    usual = np.log(focal_px or USUAL_FOCAL * max(size))
    log_u = KNOWN_FOCAL_LOG_U if focal_px else USUAL_FOCAL_LOG_U
    start = _first_pose(solid, seen, float(np.exp(usual)), centre, usual)
    scale = 1.0

    def misfit(theta: Array) -> Array:
        camera = Camera(theta, np.empty(0), centre)
        apart = (camera.to_pixels(flat) - seen).ravel() / (CORNER_U_PX * scale)
        held = [(theta[0] - usual) / log_u, theta[1] / DISTORTION_U]
        return np.concatenate([apart, held])

    def slope(theta: Array) -> Array:
        camera = Camera(theta, np.empty(0), centre)
        _, by = cv2.projectPoints(solid, theta[2:5], theta[5:8], camera._matrix, camera._lens)
        turned, moved, focal, lens = by[:, :3], by[:, 3:6], by[:, 6:8], by[:, 10:11]
        columns = [focal.sum(axis=1, keepdims=True) * camera.focal_px, lens, turned, moved]
        jacobian = np.hstack(columns) / (CORNER_U_PX * scale)
        held = np.zeros((2, 8))
        held[0, 0], held[1, 1] = 1 / log_u, 1 / DISTORTION_U
        return np.vstack([jacobian, held])

    best: Any = None
    for _ in range(2):
        loss: dict[str, Any] = {"loss": "soft_l1", "f_scale": 3.0}
        best = least_squares(misfit, start, jac=slope, x_scale="jac", **loss)
        apart = misfit(best.x)[:-2] * CORNER_U_PX * scale
        rms = float(1.4826 * np.median(np.abs(apart)))
        start, scale = best.x, max(1.0, rms / CORNER_U_PX)
    at_best = slope(best.x)
    covariance = np.linalg.inv(at_best.T @ at_best)
    return Camera(best.x, np.asarray(covariance, dtype=float), centre, rms)


def _first_pose(
    solid: Array, seen: Array, focal: float, centre: tuple[float, float], log_focal: float
) -> Array:
    matrix = np.array([[focal, 0, centre[0]], [0, focal, centre[1]], [0, 0, 1.0]])
    done, turn, place = cv2.solvePnP(solid, seen, matrix, None, flags=cv2.SOLVEPNP_IPPE)
    if not done:
        raise ValueError("no pose of the card fits its markers")
    return np.concatenate([[log_focal, 0.0], turn.ravel(), place.ravel()])


def flat_scale(
    first_px: tuple[float, float],
    second_px: tuple[float, float],
    apart_mm: float,
    size: tuple[int, int],
    *,
    apart_u_mm: float,
    click_u_px: float,
    tilt_u_deg: float,
) -> Camera:
    """A camera straight above, from two points a known distance apart.

    The scale's uncertainty is that of the distance, of the two points and of a tilt that nobody
    could see: cos(tilt) at most, 1 - cos of twice its standard uncertainty over sqrt 3.

    Parameters
    ----------
    first_px : one end, px.
    second_px : the other end, px.
    apart_mm : how far apart they are, mm.
    size : the picture's, px.
    apart_u_mm : uncertainty of that, mm.
    click_u_px : uncertainty of a click, px.
    tilt_u_deg : uncertainty of the tilt, degrees.
    """
    px = float(np.hypot(second_px[0] - first_px[0], second_px[1] - first_px[1]))
    centre = ((size[0] - 1) / 2, (size[1] - 1) / 2)
    focal = USUAL_FOCAL * max(size)
    away = focal * apart_mm / px
    tilted = (1 - np.cos(np.radians(2 * tilt_u_deg))) / np.sqrt(3)
    relative = np.sqrt((apart_u_mm / apart_mm) ** 2 + 2 * (click_u_px / px) ** 2 + tilted**2)
    theta = np.array([np.log(focal), 0.0, 0.0, 0.0, 0.0, 0.0, 0.0, away])
    covariance = np.zeros((8, 8))
    covariance[7, 7] = (away * relative) ** 2
    return Camera(theta, covariance, centre)

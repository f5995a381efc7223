"""The fiducial markers of the scale cards: their patterns, and finding them in a photo."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
from numpy.typing import NDArray

from maple_rook.core.geometry.scale_card import CARD_OF
from maple_rook.core.measurement.uncertainty import Array

CELLS = 7
"""Cells along the side of a marker, its dark border included."""
_FINDING_WIDTH = 2400
_REFINED_PX = 5
Grey = NDArray[np.uint8]


@cache
def _dictionary() -> cv2.aruco.Dictionary:
    return cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_250)


def pattern(number: int) -> NDArray[np.bool_]:
    """Cells of a marker, row by row; True is light."""
    drawn = cv2.aruco.generateImageMarker(_dictionary(), number, CELLS)
    return np.asarray(drawn > 127)


def find_markers(grey: Grey) -> dict[int, Array]:
    """Corners in pixels, (4, 2) in the order of ``Marker.corners``, by number.

    Found in a reduced picture, then refined in the full one. Pixel centres lie at whole numbers.
    """
    factor = max(1.0, max(grey.shape) / _FINDING_WIDTH)
    small = (
        grey
        if factor == 1
        else cv2.resize(grey, None, fx=1 / factor, fy=1 / factor, interpolation=cv2.INTER_AREA)
    )
    wanted = cv2.aruco.DetectorParameters()
    wanted.adaptiveThreshWinSizeMax = 53
    wanted.minMarkerPerimeterRate = 0.015
    corners, numbers, _ = cv2.aruco.ArucoDetector(_dictionary(), wanted).detectMarkers(small)
    if numbers is None:
        return {}
    found: dict[int, Array] = {}
    for raw, quad in zip(numbers.ravel().tolist(), corners, strict=True):
        number = int(raw)
        if number not in CARD_OF:
            continue
        full = ((quad.reshape(4, 2) + 0.5) * factor - 0.5).astype(np.float32)
        side = float(np.linalg.norm(full[0] - full[2])) / np.sqrt(2)
        reach = int(np.clip(side / CELLS * 0.8, _REFINED_PX, 12))
        stop = (cv2.TERM_CRITERIA_EPS + cv2.TERM_CRITERIA_MAX_ITER, 40, 0.005)
        cv2.cornerSubPix(grey, full, (reach, reach), (-1, -1), stop)
        found[number] = full.astype(float)
    return found

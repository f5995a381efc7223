"""Rockwell C hardness: what a reading says about the edge.

References
----------
.. [1] ISO 6508-1, Metallic materials - Rockwell hardness test - Part 1: Test method.
.. [2] ISO 6508-2, verification and calibration of testing machines.
.. [3] ASTM E140, Hardness conversion tables for metals, table 1 (values from memory).
.. [4] Tabor, D. (1951), The Hardness of Metals (sigma_y = H/3).
.. [5] ISO 8442-1, cutlery for the preparation of food (minimum 52 HRC, from memory).
.. [6] ASTM A370, table of approximate tensile strengths for Rockwell C (values from memory).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from maple_rook.core.errors import OutOfTable
from maple_rook.core.measurement.uncertainty import Array

HRC_RANGE = (20.0, 70.0)
TESTER_MPE_HRC = 1.5
MINIMUM_HARDENED_HRC = 52.0
HARDLY_HARDENED_HRC = 50.0
"""From here to the minimum a blade is hardly hardened; below it, not at all (common practice)."""
STANDARD_GRAVITY = 9.80665

HARDNESS_BANDS: tuple[tuple[float, float, str], ...] = (
    (20, 50, "not a hardened edge"),
    (50, 52, "hardly a hardened edge"),
    (52, 57, "soft Western stainless"),
    (58, 60, "better Western, forgiving Japanese-style"),
    (60, 63, "Japanese-style stainless"),
    (61, 63, "carbon"),
    (64, 68, "high-alloy powder and high-speed"),
)
"""Bands seen in the trade, HRC (common practice); they overlap."""

# ASTM E140 table 1 [3], from memory.
_HRC = np.array(
    [20, 25, 30, 35, 40, 45, 50, 52, 54, 55, 56, 57, 58, 59, 60, 61, 62, 63, 64, 65, 66, 67, 68.0]
)
_HV = np.array(
    [
        238,
        266,
        302,
        345,
        392,
        446,
        513,
        544,
        577,
        595,
        613,
        633,
        653,
        674,
        697,
        720,
        746,
        772,
        800,
        832,
        865,
        900,
        940.0,
    ]
)


# ASTM A370, tensile strength in MPa for 20 to 59 HRC in steps of one [6], from memory.
_TENSILE_MPA = np.array(
    [
        [760, 790, 790, 810, 820, 850, 860, 880, 900, 930],
        [950, 970, 1010, 1030, 1050, 1080, 1110, 1140, 1180, 1220],
        [1250, 1300, 1340, 1390, 1430, 1480, 1520, 1580, 1640, 1700],
        [1760, 1820, 1880, 1950, 2010, 2070, 2160, 2240, 2330, 2420.0],
    ]
).ravel()
TENSILE_HRC_RANGE = (20.0, 59.0)


def depth_mm(hrc: ArrayLike) -> Array:
    """Residual depth h = 0.002 (100 - HRC) mm left by the cone [1]_.

    >>> round(float(depth_mm(60)), 3)
    0.08
    """
    return 0.002 * (100 - np.asarray(hrc, dtype=float))


def hardness_of_depth(depth_mm: ArrayLike) -> Array:
    """HRC = 100 - h / 0.002 of a residual depth h in mm, the inverse of :func:`depth_mm` [1]_.

    >>> round(float(hardness_of_depth(0.08)), 3)
    60.0
    """
    return np.asarray(100 - np.asarray(depth_mm, dtype=float) / 0.002)


def minimum_thickness_mm(hrc: ArrayLike) -> Array:
    """Least thickness under the cone for an admissible reading, 10 h [1]_, mm.

    >>> round(float(minimum_thickness_mm(60)), 3)
    0.8
    """
    return 10 * depth_mm(hrc)


def block_corrected(
    reading_hrc: ArrayLike, block_readings_hrc: ArrayLike, certified_hrc: float
) -> Array:
    """Reading less the tester's error on the reference block, HRC.

    >>> float(block_corrected(60.0, [62.5, 62.5], 62.0))
    59.5
    """
    error = np.mean(np.asarray(block_readings_hrc, dtype=float)) - certified_hrc
    return np.asarray(np.asarray(reading_hrc, dtype=float) - error)


def vickers(hrc: ArrayLike, *, clip: bool = False) -> Array:
    """HV for HRC by linear interpolation of ASTM E140 table 1 (from memory) [3]_.

    Range 20 to 68 HRC. Outside it raises :class:`OutOfTable`; with ``clip`` the table's end is
    taken instead, which Monte Carlo draws near an end need.

    >>> float(vickers(60))
    697.0
    """
    values = np.asarray(hrc, dtype=float)
    if not clip and bool(np.any((values < _HRC[0]) | (values > _HRC[-1]))):
        worst = values.min() if values.min() < _HRC[0] else values.max()
        raise OutOfTable("hardness", f"{worst:g} HRC", "20 to 68 HRC in the conversion table")
    return np.asarray(np.interp(values, _HRC, _HV))


def bands(hrc: float) -> list[str]:
    """What the trade makes of such a hardness; nothing between the bands.

    >>> bands(62)
    ['Japanese-style stainless', 'carbon']
    """
    return [words for low, high, words in HARDNESS_BANDS if low <= hrc <= high]


def conversion_table() -> list[tuple[float, float]]:
    """The rows (HRC, HV) of the conversion, ASTM E140 table 1 (from memory)."""
    return [(float(a), float(b)) for a, b in zip(_HRC, _HV, strict=True)]


def rockwell(hv: ArrayLike) -> Array:
    """HRC for HV, the inverse of :func:`vickers`; range 238 to 940 HV.

    >>> float(rockwell(697))
    60.0
    """
    values = np.asarray(hv, dtype=float)
    if bool(np.any((values < _HV[0]) | (values > _HV[-1]))):
        raise OutOfTable(
            "hardness", f"{values.min():g} HV", "238 to 940 HV in the conversion table"
        )
    return np.asarray(np.interp(values, _HV, _HRC))


def yield_strength_mpa(hrc: ArrayLike, *, clip: bool = False) -> Array:
    """Yield strength of the edge, Tabor: sigma_y = 9.81 HV / 3, MPa [4]_.

    >>> round(float(yield_strength_mpa(60)), -1)
    2280.0
    """
    return STANDARD_GRAVITY * vickers(hrc, clip=clip) / 3


def tensile_strength_mpa(hrc: float) -> float | None:
    """Tensile strength by the table of ASTM A370 (from memory), MPa [6]_; None outside it.

    Range 20 to 59 HRC.

    >>> tensile_strength_mpa(50), tensile_strength_mpa(62)
    (1760.0, None)
    """
    low, high = TENSILE_HRC_RANGE
    if not low <= hrc <= high:
        return None
    return float(np.interp(hrc, np.arange(low, high + 1), _TENSILE_MPA))

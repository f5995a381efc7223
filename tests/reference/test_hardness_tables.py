"""Hardness against published tables. Sources stand beside each table."""

from __future__ import annotations

import numpy as np
import pytest

from maple_rook.core.errors import OutOfTable
from maple_rook.core.measurement.hardness import (
    block_corrected,
    depth_mm,
    minimum_thickness_mm,
    rockwell,
    vickers,
    yield_strength_mpa,
)
from maple_rook.core.measurement.hardness_session import hardened
from maple_rook.core.measurement.uncertainty import Figure

# ASTM E140, Hardness conversion tables for metals, table 1 (from memory).
ASTM_E140 = {
    20: 238,
    25: 266,
    30: 302,
    35: 345,
    40: 392,
    45: 446,
    50: 513,
    52: 544,
    54: 577,
    55: 595,
    56: 613,
    57: 633,
    58: 653,
    59: 674,
    60: 697,
    61: 720,
    62: 746,
    63: 772,
    64: 800,
    65: 832,
    66: 865,
    67: 900,
    68: 940,
}

# ISO 6508-1, minimum thickness for the diamond cone, ten times the residual depth.
ISO_6508_1_MINIMUM_THICKNESS_MM = {60: 0.80, 50: 1.00, 29: 1.42, 20: 1.60}


@pytest.mark.parametrize(("hrc", "hv"), ASTM_E140.items())
def test_conversion_follows_astm_e140(hrc: int, hv: int) -> None:
    assert float(vickers(hrc)) == hv


@pytest.mark.parametrize(("hrc", "hv"), ASTM_E140.items())
def test_conversion_back_is_the_same_table(hrc: int, hv: int) -> None:
    assert float(rockwell(hv)) == pytest.approx(hrc)


def test_between_two_rows_of_the_table_the_conversion_is_between_them() -> None:
    assert 697 < float(vickers(60.5)) < 720


@pytest.mark.parametrize("hrc", [19.9, 68.1, 75.0, -3.0])
def test_nothing_is_extrapolated_beyond_the_table(hrc: float) -> None:
    with pytest.raises(OutOfTable, match="20 to 68 HRC"):
        vickers(hrc)


@pytest.mark.parametrize("hv", [237.0, 941.0])
def test_nothing_is_extrapolated_beyond_the_table_backwards(hv: float) -> None:
    with pytest.raises(OutOfTable, match="238 to 940 HV"):
        rockwell(hv)


def test_one_reading_outside_refuses_the_whole_array() -> None:
    with pytest.raises(OutOfTable, match="70 HRC"):
        vickers(np.array([58.0, 60.0, 70.0]))


@pytest.mark.parametrize(("hrc", "thickness_mm"), ISO_6508_1_MINIMUM_THICKNESS_MM.items())
def test_minimum_thickness_follows_iso_6508_1(hrc: int, thickness_mm: float) -> None:
    assert float(minimum_thickness_mm(hrc)) == pytest.approx(thickness_mm, abs=1e-9)


def test_the_scale_is_two_micrometres_a_point() -> None:
    """ISO 6508-1: HRC = 100 - h / 0.002 mm."""
    assert float(depth_mm(60)) == pytest.approx(0.080)
    assert float(depth_mm(59)) - float(depth_mm(60)) == pytest.approx(0.002)


def test_a_62_block_reading_62_5_lowers_the_blades_reading_by_half_a_point() -> None:
    """Common practice: read the reference block first and correct for it."""
    assert float(block_corrected(60.0, [62.4, 62.6], 62.0)) == pytest.approx(59.5)


def test_yield_strength_at_60_hrc_is_2280_mpa() -> None:
    """Tabor 1951, sigma_y = H / 3, with 697 HV."""
    assert float(yield_strength_mpa(60)) == pytest.approx(2280, rel=0.002)


def test_from_56_to_64_hrc_strength_rises_30_per_cent() -> None:
    """Tabor 1951 with ASTM E140: 613 HV to 800 HV."""
    gain = float(yield_strength_mpa(64) / yield_strength_mpa(56))
    assert gain == pytest.approx(1.30, abs=0.01)


@pytest.mark.parametrize(
    ("hrc", "expanded", "verdict"),
    [
        (44.0, 1.8, "not_hardened"),
        (51.5, 1.8, "cannot_be_said"),
        (53.0, 1.8, "cannot_be_said"),
        (56.0, 1.8, "hardened"),
    ],
)
def test_hardened_means_above_52_hrc_beyond_doubt(
    hrc: float, expanded: float, verdict: str
) -> None:
    """ISO 8442-1: at least 52 HRC for food preparation blades (from memory)."""
    assert hardened({"hardness": Figure(hrc, expanded / 2, n=3)}).verdict == verdict

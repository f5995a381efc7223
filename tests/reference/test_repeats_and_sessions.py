"""Outliers, hardness sessions, prediction over pieces: against scipy, uncertainties, standards."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from scipy import stats
from uncertainties import ufloat

from maple_rook.core.choosing.comparing import ClaimVerdict, claim_verdict
from maple_rook.core.geometry.edge import bevel_thickness_mm
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.hardness_session import (
    CERTIFICATE_MPE_HRC,
    INDENT_HEIGHT,
    NO_BLOCK,
    Hardened,
    Indent,
    corrected,
    hardened,
    hardness_session,
    inadmissible,
    indent_diameter_mm,
    place_warnings,
    thickness_at_mm,
)
from maple_rook.core.measurement.piece_statistics import piece_statistics, pieces_needed
from maple_rook.core.measurement.uncertainty import Figure, figure, grubbs_critical, outlier

TESTER = (0.5, 1.5, 0.5)
"""Resolution, permissible error and repeatability of a hardness tester, HRC (common practice)."""


# Grubbs (1969) and ISO 5725-2, two-sided at 5 %, from memory: 1.155, 1.481, 1.715, 1.887, 2.290.
@pytest.mark.parametrize(
    ("n", "critical"), [(3, 1.155), (4, 1.481), (5, 1.715), (6, 1.887), (10, 2.290)]
)
def test_grubbs_critical_values(n: int, critical: float) -> None:
    assert grubbs_critical(n) == pytest.approx(critical, abs=0.001)
    t = stats.t.ppf(1 - 0.05 / (2 * n), n - 2)
    assert grubbs_critical(n) == pytest.approx(
        (n - 1) / math.sqrt(n) * math.sqrt(t**2 / (n - 2 + t**2))
    )


def test_an_outlier_needs_three_readings_and_more_than_rounding() -> None:
    assert outlier([2.12, 9.0]) is None
    assert outlier([2.12, 2.13, 2.11, 2.12, 2.41], 0.01) == 4
    assert outlier([2.12, 2.12, 2.12, 2.12, 2.13], 0.01) is None
    assert outlier([2.12, 2.12, 2.12]) is None


# JCGM 100:2008, type A and B in quadrature; the same arithmetic by the uncertainties package.
def test_a_figure_agrees_with_the_uncertainties_package() -> None:
    values = [46.2, 46.4, 46.1]
    deviation = float(np.std(values, ddof=1))
    f = figure(values, 0.1, 0.1, deviation)
    repeats = ufloat(np.mean(values), deviation / math.sqrt(3))
    same = repeats + ufloat(0, 0.1 / math.sqrt(12)) + ufloat(0, 0.1 / math.sqrt(3))
    assert f.mean == pytest.approx(same.nominal_value)
    assert f.standard_uncertainty == pytest.approx(same.std_dev)
    assert math.hypot(f.type_a, f.type_b) == pytest.approx(same.std_dev)


def test_thickness_from_the_bevels_carries_its_uncertainty() -> None:
    right, left, angle = (0.62, 0.03), (0.42, 0.02), (15.0, 0.6)
    ours = bevel_thickness_mm(Figure(*right), Figure(*left), a := Figure(*angle), a)
    theta = ufloat(*angle) * math.pi / 180
    sine = theta - theta**3 / 6 + theta**5 / 120  # the series of sin, exact to 1e-6 here
    same = ufloat(*right) * sine + ufloat(*left) * sine
    assert ours.mean == pytest.approx(same.nominal_value, rel=1e-5)
    assert ours.standard_uncertainty == pytest.approx(same.std_dev, rel=1e-3)


def test_a_62_block_reading_62_5_lowers_the_blades_reading_by_a_half() -> None:
    blade, block = figure([60.0, 60.5, 60.0], *TESTER), figure([62.5, 62.5], *TESTER)
    result = corrected(blade, block, 62.0, 0.2)
    assert result.mean == pytest.approx(blade.mean - 0.5)
    step, away = 0.5 / math.sqrt(12), 0.02 * (blade.mean - 62.5)
    same = (
        ufloat(0, blade.type_a)
        + ufloat(0, step)
        - ufloat(0, block.type_a)
        - ufloat(0, step)
        + ufloat(0, 0.2)
        + ufloat(0, abs(away))
    )
    assert result.standard_uncertainty == pytest.approx(same.std_dev)
    assert result.standard_uncertainty < blade.standard_uncertainty


# ISO 6508-1: at least 10 times the depth under the cone; 60 HRC 0.80 mm, 29 HRC 1.42 mm.
@pytest.mark.parametrize(
    ("hrc", "needed"), [(60.0, 0.80), (50.0, 1.00), (29.0, 1.42), (20.0, 1.60)]
)
def test_a_place_too_thin_under_the_cone_is_told_with_what_it_wants(
    hrc: float, needed: float
) -> None:
    figures = {"spine_heel": Figure(2.0, 0), "height_heel": Figure(40.0, 0)}
    just = needed / 2.0 * 40.0
    thin = place_warnings([Indent(hrc, just - 0.5, 40)], figures)
    assert any(f"wants {needed:.2f} mm" in w for w in thin)
    assert not any(
        "thick there" in w for w in place_warnings([Indent(hrc, just + 0.5, 40)], figures)
    )


# ISO 6508-1: 3 diameters between centres, 2.5 from an edge.
def test_indents_keep_clear_of_each_other_and_of_the_edge() -> None:
    diameter = indent_diameter_mm(60)
    said = place_warnings([Indent(60, 20, 40), Indent(60, 20, 40 + 2.9 * diameter)], {})
    assert any("3 diameters" in w for w in said)
    assert place_warnings([Indent(60, 20, 40), Indent(60, 20, 40 + 3.1 * diameter)], {}) == []
    assert any("2.5 diameters" in w for w in place_warnings([Indent(60, 1.0, 40)], {}))


def test_thickness_at_a_place_follows_what_is_measured() -> None:
    figures = {
        "spine_heel": Figure(2.2, 0),
        "height_heel": Figure(45.0, 0),
        "thickness_behind_edge": Figure(0.3, 0),
    }
    assert thickness_at_mm(figures, 45) == pytest.approx(2.2)
    assert thickness_at_mm(figures, 22.5) == pytest.approx(1.25)
    assert thickness_at_mm({**figures, "thickness_10mm": Figure(1.0, 0)}, 10) == pytest.approx(1.0)
    assert thickness_at_mm(figures, 46) is None


# ISO 8442-1: at least 52 HRC (from memory).
@pytest.mark.parametrize(
    ("hrc", "u", "verdict"),
    [
        (44, 0.5, Hardened.NOT_HARDENED),
        (56, 0.5, Hardened.HARDENED),
        (52, 0.5, "cannot_be_said"),
        (50.5, 0.9, "cannot_be_said"),
        (50.0, 0.9, Hardened.HARDLY),
        (49.9, 0.9, Hardened.NOT_HARDENED),
    ],
)
def test_not_hardened_is_told_apart_from_cannot_be_said(hrc: float, u: float, verdict: str) -> None:
    figures = {
        "hardness": Figure(hrc, u, n=3),
        "spine_heel": Figure(2.0, 0),
        "height_heel": Figure(45, 0),
    }
    assert hardened(figures).verdict == verdict
    thin = {**figures, INDENT_HEIGHT: Figure(8.0, 0.0)}
    assert hardened(thin).verdict is Hardened.CANNOT_BE_SAID
    assert hardened({**figures, INDENT_HEIGHT: Figure(40.0, 0.0)}).verdict == verdict
    assert hardened({}).verdict is Hardened.CANNOT_BE_SAID


@pytest.mark.parametrize(
    ("figure", "why"),
    [
        (Figure(29.0, 0.9, n=1), "one press only"),
        (Figure(44.0, 0.9, n=3, reservation=NO_BLOCK), "no reference block"),
        (Figure(44.0, 1.0, kind=FigureKind.ESTIMATED), "estimated, not measured"),
        (Figure(44.0, 1.0, kind=FigureKind.TOLD), "told, not measured"),
    ],
)
def test_what_is_not_admissible_judges_nobody(figure: Figure, why: str) -> None:
    """Common practice: two presses and a block before a maker is blamed."""
    judged = hardened({"hardness": figure})
    assert judged.verdict is Hardened.CANNOT_BE_SAID
    assert why in judged.why
    assert ("far below a hardened edge" in judged.why) == (figure.mean < 52 - 15)
    claimed = claim_verdict(replace(figure, reservation=inadmissible({"hardness": figure})), 58, 60)
    assert claimed is ClaimVerdict.UNDECIDED


def test_one_block_reading_and_three_of_the_blade_leave_well_over_a_point() -> None:
    """JCGM 100:2008: s_0 0.5 HRC, readings that scatter 0.5, a certificate without figures."""
    presses = [60.0 - 0.5, 60.0, 60.0 + 0.5]  # their standard deviation is 0.5
    blade, block = figure(presses, *TESTER), figure([60.0], *TESTER)
    certificate = CERTIFICATE_MPE_HRC / math.sqrt(3)
    assert corrected(blade, block, 60.0, certificate).expanded == pytest.approx(1.3, abs=0.05)
    single = figure([60.0], *TESTER)
    assert corrected(single, block, 60.0, certificate).expanded > 1.5


def test_a_block_far_away_corrects_with_more_doubt() -> None:
    block = figure([60.0, 60.0, 60.0], *TESTER)
    near, far = (corrected(figure([hrc] * 3, *TESTER), block, 60.0, 0.2) for hrc in (60.0, 27.0))
    added = math.sqrt(far.standard_uncertainty**2 - near.standard_uncertainty**2)
    assert added == pytest.approx(0.02 * 33)


def test_an_indent_too_near_the_edge_judges_nothing() -> None:
    """ISO 6508-1: 2.5 diameters from an edge; at 44 HRC the cone leaves 0.7 mm."""
    known = {"hardness": Figure(44.0, 0.5, n=3), INDENT_HEIGHT: Figure(1.2, 0.0)}
    assert "too near the edge" in hardened(known).why


def test_a_session_says_what_is_missing_and_what_is_off() -> None:
    raw = figure([60.0, 60.5, 60.0], *TESTER)
    block = figure([64.0, 64.0], *TESTER)
    without = hardness_session(raw, None, None, [], {})
    assert "not corrected" in without.warnings[0]
    off = hardness_session(raw, block, (62.0, 0.2), [], {})
    assert off.error_hrc == pytest.approx(2.0)
    assert "have it serviced" in off.warnings[0]
    clad = hardness_session(raw, None, None, [], {}, clad=True, core_exposure_mm=1.5)
    assert any("this may be the cladding" in w for w in clad.warnings)
    soft = hardness_session(Figure(21.0, 0.5), None, None, [], {})
    assert any("scale B" in w for w in soft.warnings)


def test_statistics_over_pieces_agree_with_scipy() -> None:
    values = [186.0, 191.0, 188.0, 184.5]
    ours = piece_statistics(values)
    low, high = stats.t.interval(0.95, 3, np.mean(values), stats.sem(values))
    assert (ours.mean - ours.mean_half_width, ours.mean + ours.mean_half_width) == (
        pytest.approx(low),
        pytest.approx(high),
    )
    t = stats.t.ppf(0.975, 3)
    assert ours.next_half_width == pytest.approx(t * np.std(values, ddof=1) * math.sqrt(1.25))
    assert math.isnan(piece_statistics([186.0]).next_half_width)


def test_pieces_needed_solves_its_own_equation() -> None:
    for s, half in ((2.5, 2.0), (5.0, 1.0), (0.3, 0.5)):
        n = pieces_needed(s, half)
        assert n is not None
        assert stats.t.ppf(0.975, n - 1) * s / math.sqrt(n) <= half
        assert n == 2 or stats.t.ppf(0.975, n - 2) * s / math.sqrt(n - 1) > half
    assert pieces_needed(100.0, 0.01) is None

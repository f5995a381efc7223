"""GUM arithmetic against the ``uncertainties`` package and against scipy."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import pytest
from scipy import stats
from uncertainties import ufloat
from uncertainties.umath import sin

from maple_rook.core.choosing.comparing import (
    ClaimVerdict,
    Verdict,
    claim_verdict,
    difference_uncertainty,
    gravest,
    pair_verdicts,
    percent_difference,
)
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.thresholds import Threshold
from maple_rook.core.measurement.uncertainty import (
    Figure,
    figure,
    interval,
    standard_draws,
    type_a,
    type_b,
    variance_shares,
)
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.predict import INPUTS, predict, predict_arrays

REPEATS = [2.21, 2.24, 2.19, 2.22]


def test_repeats_are_type_a() -> None:
    """JCGM 100:2008, 4.2.3, against scipy's standard error of the mean."""
    deviation = float(np.std(REPEATS, ddof=1))
    assert type_a(deviation, 4, deviation) == pytest.approx(stats.sem(REPEATS))
    # JCGM 100:2008, 4.2.4: pooled with earlier scatter by degrees of freedom, here 3 and 3.
    pooled = math.sqrt((deviation**2 + 0.05**2) / 2)
    assert type_a(deviation, 4, 0.05) == pytest.approx(pooled / 2)
    assert type_a(0.0, 1, 0.05) == pytest.approx(0.05)


def test_instrument_is_type_b() -> None:
    """JCGM 100:2008, 4.3.7: half-widths of rectangular distributions, against their variances."""
    resolution, mpe = 0.01, 0.03
    variance = stats.uniform(scale=resolution).var() + stats.uniform(scale=2 * mpe).var()
    assert type_b(resolution, mpe) == pytest.approx(math.sqrt(variance))


def test_a_figure_combines_both_in_quadrature() -> None:
    """JCGM 100:2008, 5.1.2, against the ``uncertainties`` package."""
    deviation = float(np.std(REPEATS, ddof=1))
    repeats = ufloat(np.mean(REPEATS), stats.sem(REPEATS))
    instrument = ufloat(0, type_b(0.01, 0.03))
    combined = repeats + instrument
    found = figure(REPEATS, 0.01, 0.03, deviation)
    assert found.mean == pytest.approx(combined.nominal_value)
    assert found.standard_uncertainty == pytest.approx(combined.std_dev)
    assert found.expanded == pytest.approx(2 * combined.std_dev)
    assert found.n == 4
    assert found.spread == pytest.approx(0.05)


def test_the_uncertainty_of_a_difference() -> None:
    """Against the ``uncertainties`` package."""
    a, b = ufloat(62.0, 0.9), ufloat(60.5, 0.7)
    found = difference_uncertainty(Figure(62.0, 0.9), Figure(60.5, 0.7))
    assert found == pytest.approx(2 * (a - b).std_dev)


def test_monte_carlo_agrees_with_linear_propagation_where_the_model_is_nearly_linear() -> None:
    """JCGM 101:2008 against the ``uncertainties`` package: shoulder from width and angle."""
    width, angle = ufloat(0.58, 0.02), ufloat(math.radians(15), math.radians(0.5))
    linear = width * sin(angle)
    draws = standard_draws([7], 2, 40_000)[0]
    shoulder = (0.58 + 0.02 * draws[0]) * np.sin(math.radians(15) + math.radians(0.5) * draws[1])
    assert float(shoulder.std()) == pytest.approx(linear.std_dev, rel=0.02)
    low, high = interval(shoulder)
    normal = stats.norm(linear.nominal_value, linear.std_dev)
    assert (float(low), float(high)) == pytest.approx(normal.interval(0.90), rel=0.01)


def test_variance_shares_are_the_budget_of_the_guide() -> None:
    """JCGM 100:2008, 5.1.3: (c_i u_i)^2 over their sum, against the ``uncertainties`` package."""
    inputs = [ufloat(2.0, 0.1), ufloat(5.0, 0.3), ufloat(7.0, 1e-6)]
    made = 3 * inputs[0] + inputs[1] * 2 + inputs[2]
    parts = [made.error_components().get(x, 0.0) ** 2 for x in inputs]

    def model(x: Sequence[float]) -> float:
        return 3 * x[0] + 2 * x[1] + x[2]

    means, u = [x.nominal_value for x in inputs], [x.std_dev for x in inputs]
    up, down = (
        np.array(
            [[[model([m + s * u[i] * (i == k) for i, m in enumerate(means)]) for k in range(3)]]]
        )
        for s in (1, -1)
    )
    shares = variance_shares(np.array([[model(means)]]), up, down)[0, 0]
    assert shares == pytest.approx(np.array(parts) / sum(parts), abs=1e-9)
    assert shares.sum() == pytest.approx(1)


def test_what_only_bends_has_its_share_too() -> None:
    """Variance of a x + b x^2 under a standard normal x is a^2 + 2 b^2; checked by drawing."""
    x, y = standard_draws([3], 2, 50_000)[0]
    parts = np.array([(0.5 * x).var(), (x * 0 + 2 * y**2).var()])
    central, up, down = np.array([[0.0]]), np.array([[[0.5, 2.0]]]), np.array([[[-0.5, 2.0]]])
    assert variance_shares(central, up, down)[0, 0] == pytest.approx(parts / parts.sum(), abs=0.01)


def test_draws_are_evenly_spread_and_of_unit_variance() -> None:
    """Latin hypercube (McKay, Beckman and Conover 1979, from memory): one draw in each stratum."""
    drawn = standard_draws([1, 2], 3, 200)
    strata = np.floor(stats.norm.cdf(drawn * stats.norm.ppf(0.9975) / drawn.max()) * 200)
    assert all(len(set(row)) == 200 for row in strata.reshape(6, 200))
    assert drawn.mean(axis=-1) == pytest.approx(np.zeros((2, 3)), abs=1e-12)
    assert drawn.std(axis=-1) == pytest.approx(np.ones((2, 3)))
    assert abs(np.corrcoef(drawn.reshape(6, 200)) - np.eye(6)).max() < 0.3


def test_taper_interval_agrees_with_linear_propagation() -> None:
    """The whole prediction path against the ``uncertainties`` package."""
    heel, tip, edge = ufloat(2.2, 0.02), ufloat(0.7, 0.02), ufloat(210, 0.3)
    expected = (heel - tip) / (edge - 10) * 100
    blade = Blade(
        {
            "spine_heel": Figure(2.2, 0.02),
            "spine_tip": Figure(0.7, 0.02),
            "edge_length": Figure(210, 0.3),
        }
    )
    taper = next(p for p in predict([blade], draws=20_000)[0] if p.key == "distal_taper")
    assert taper.central == pytest.approx(expected.nominal_value)
    assert taper.low is not None
    assert taper.high is not None
    assert (taper.high - taper.low) / 3.29 == pytest.approx(expected.std_dev, rel=0.03)


def test_yield_strength_rests_on_hardness_alone() -> None:
    blade = Blade({"hardness": Figure(60, 0.9)}, steel=STEELS["1.4112"])
    found = next(p for p in predict([blade])[0] if p.key == "yield_strength")
    assert [c.key for c in found.contributions] == ["hardness"]
    assert found.measure_next
    assert found.measure_next.label == "hardness, 3 more readings"


def test_every_input_is_drawn_from_its_own_stream() -> None:
    draws = standard_draws([11], len(INPUTS), 5000)[0]
    correlations = np.corrcoef(draws) - np.eye(len(INPUTS))
    assert np.abs(correlations).max() < 0.06


# ISO 14253-1 decision rule: the band narrowed by U confirms, widened by U contradicts.
@pytest.mark.parametrize(
    ("measured", "expanded", "verdict"),
    [
        (62.0, 1.0, ClaimVerdict.CONFIRMED),
        (61.0, 1.0, ClaimVerdict.CONFIRMED),
        (60.9, 1.0, ClaimVerdict.UNDECIDED),
        (59.0, 1.0, ClaimVerdict.UNDECIDED),
        (58.9, 1.0, ClaimVerdict.CONTRADICTED),
        (65.1, 1.0, ClaimVerdict.CONTRADICTED),
        (62.0, 2.5, ClaimVerdict.UNDECIDED),
    ],
)
def test_a_claimed_60_to_64_hrc(measured: float, expanded: float, verdict: ClaimVerdict) -> None:
    assert claim_verdict(Figure(measured, expanded / 2), 60, 64) is verdict


def test_a_claim_nobody_measured_is_not_judged() -> None:
    assert claim_verdict(None, 60, 64) is ClaimVerdict.NOT_MEASURED


def test_nine_against_sixteen_degrees_is_44_per_cent_less_not_50() -> None:
    """Common practice: a per cent difference names its base."""
    assert percent_difference(9, 16) == pytest.approx(-43.75)


@pytest.mark.parametrize(
    ("gap", "verdict"),
    [(0.5, Verdict.NOT_MEASURABLE), (1.5, Verdict.REAL), (2.5, Verdict.NOTICEABLE)],
)
def test_real_and_noticeable_are_two_questions(gap: float, verdict: Verdict) -> None:
    figures = [Figure(45.0, 0.4), Figure(45.0 + gap, 0.4)]
    assert gravest(pair_verdicts(figures, Threshold(2.0))) is verdict


def test_a_relative_threshold_is_of_the_smaller_figure() -> None:
    figures = [Figure(100.0, 0.5), Figure(110.5, 0.5)]
    assert gravest(pair_verdicts(figures, Threshold(0.10, relative=True))) is Verdict.NOTICEABLE
    figures = [Figure(110.0, 0.5), Figure(119.0, 0.5)]
    assert gravest(pair_verdicts(figures, Threshold(0.10, relative=True))) is Verdict.REAL


def test_draws_belong_to_the_knife_not_to_its_company() -> None:
    figures = {
        "spine_heel": Figure(2.2, 0.02),
        "height_heel": Figure(45, 0.1),
        "thickness_behind_edge": Figure(0.3, 0.02),
        "edge_angle": Figure(15, 0.6),
        "hardness": Figure(60, 0.9),
    }
    mine = Blade(figures, steel=STEELS["1.4112"], seed=5)
    other = Blade(figures, steel=STEELS["C105U"], seed=9)
    alone = predict_arrays([mine], draws=300)
    second = predict_arrays([other, mine], draws=300)
    assert np.array_equal(alone.low[0], second.low[1], equal_nan=True)
    assert np.array_equal(alone.high[0], second.high[1], equal_nan=True)

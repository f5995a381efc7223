"""The Bayesian update against numerical integration and brute force, and what the trade expects."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from maple_rook.core.edge_life.calibration import CLASSES, leave_one_out, prior, update
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, LifeModel
from maple_rook.core.edge_life.retention import Kitchen, Use
from maple_rook.core.edge_life.steels import STEELS, GradeClass
from maple_rook.core.edge_life.trials import (
    CARD_MEDIUM,
    Event,
    Point,
    Protocol,
    Trial,
    TrialKind,
    cuts_of_cycles,
)
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.coefficients import ABOUT, PUBLISHED, coefficients, spread
from maple_rook.core.measurement.uncertainty import Z_90, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evidence import (
    Tried,
    calibrate,
    evidence,
    expected,
    own_offset,
)
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.predict import predict

SOFT, SPEED = GradeClass.SOFT_STAINLESS, GradeClass.HARD_CARBIDE
AT = {grade_class: CLASSES.index(grade_class) for grade_class in CLASSES}
REPEATABLE = Protocol("stones, deburred on a strop", 15.0, "1000", CARD_MEDIUM, 50, 40, 50)


OTHERS = 1_000
"""Pieces from here on are others than the knife that is predicted, whose seed is 1."""


def knife(steel: str = "1.4112", hrc: float = 60.0, seed: int = 1) -> Blade:
    return Blade(
        {"hardness": Figure(hrc, 0.3), "edge_angle": Figure(15.0, 0.3)},
        steel=STEELS[steel],
        seed=seed,
    )


def card_test(tcc_mm: float) -> Trial:
    cuts = cuts_of_cycles(0.15 * tcc_mm, tcc_mm)
    points = tuple(Point(i, float(cut)) for i, cut in enumerate(cuts, 1))
    return Trial(TrialKind.CARD, REPEATABLE, points)


def trials(off: float, pieces: int, steel: str = "1.4112") -> list[Tried]:
    """Card tests of so many knives, each ``off`` times what the published model says."""
    found = expected(knife(steel), "card_test", None, PUBLISHED)
    assert found
    return [Tried(i, OTHERS + i, knife(steel), card_test(off * found.value)) for i in range(pieces)]


def of(key: str, blade: Blade, tried: list[Tried], kitchen: Kitchen | None = None) -> Prediction:
    life = calibrate(tried, PUBLISHED).after
    return next(p for p in predict([blade], kitchen, life=life)[0] if p.key == key)


def width(p: Prediction) -> float:
    assert p.high
    assert p.low
    return math.log(p.high / p.low)


def test_the_update_is_what_integrating_prior_times_likelihood_gives() -> None:
    """Independent: the posterior of the sum of both offsets on a grid of (sum, sigma), scipy."""
    y, w = np.array([0.18, 0.31, 0.24, 0.05]), np.array([1.0, 1.0, 0.25, 0.5])
    before = prior(0.12, 0.25)
    found = update(before, np.full(4, AT[SOFT]), y, w)
    mean, sd = found.offset(SOFT)

    variance = float(before.covariance[0, 0] + before.covariance[1, 1])
    offsets = np.linspace(-1.2, 1.6, 2801)[:, None]
    sigma2 = np.geomspace(1e-4, 1.0, 1200)[None, :]
    density = stats.invgamma(before.a, scale=before.b).pdf(sigma2) * sigma2
    density = density * stats.norm.pdf(offsets, 0, np.sqrt(variance * sigma2))
    for value, weight in zip(y, w, strict=True):
        density = density * stats.norm.pdf(value, offsets, np.sqrt(sigma2 / weight))
    marginal = density.sum(axis=1) / density.sum()
    assert mean == pytest.approx(float(marginal @ offsets[:, 0]), abs=2e-3)
    low, high = np.interp([0.05, 0.95], np.cumsum(marginal), offsets[:, 0])
    assert (high - low) / 2 == pytest.approx(Z_90 * sd, rel=0.02)


def test_the_update_is_least_squares_with_the_prior_as_further_rows() -> None:
    """Independent: numpy's least squares on trials and prior stacked, two classes."""
    rng = np.random.default_rng(3)
    k, y, w = rng.integers(0, 3, 40), rng.normal(0.1, 0.12, 40), rng.uniform(0.2, 1, 40)
    before = prior(0.12, 0.25)
    x = np.zeros((40, 1 + len(CLASSES)))
    x[:, 0] = x[np.arange(40), 1 + k] = 1
    each = np.sqrt(np.diag(before.covariance))
    stacked = np.vstack([x * np.sqrt(w)[:, None], np.diag(1 / each)])
    wanted, *_ = np.linalg.lstsq(stacked, np.concatenate([y * np.sqrt(w), 0 * each]), rcond=None)
    found = update(before, k, y, w)
    assert found.mean == pytest.approx(wanted)
    assert found.covariance == pytest.approx(np.linalg.inv(stacked.T @ stacked))
    one_by_one = before
    for row in zip(k, y, w, strict=True):
        one_by_one = update(one_by_one, *([value] for value in row))
    assert one_by_one.mean == pytest.approx(found.mean)
    assert (one_by_one.a, one_by_one.b) == pytest.approx((found.a, found.b))


def test_leaving_one_out_is_the_update_without_it() -> None:
    rng = np.random.default_rng(8)
    k, y, w = rng.integers(0, 3, 12), rng.normal(-0.2, 0.2, 12), rng.uniform(0.2, 1, 12)
    before = prior(0.12, 0.25)
    found = leave_one_out(before, k, y, w)
    for i in range(12):
        others = np.arange(12) != i
        left = update(before, k[others], y[others], w[others])
        mean, sd = left.offset(CLASSES[k[i]])
        assert found.mean[i] == pytest.approx(mean)
        assert found.sd[i] == pytest.approx(math.hypot(sd, left.scatter / math.sqrt(w[i])))
    assert found.rms == pytest.approx(float(np.sqrt(np.mean((y - found.mean) ** 2))))


def test_nine_in_ten_new_knives_fall_inside_after_calibration() -> None:
    """Over repeated shops with the assumed scatter, and a level of their own."""
    rng = np.random.default_rng(11)
    inside = []
    for _ in range(1500):
        shop, steel = rng.normal(0, 0.25 / math.sqrt(2), 2)
        y = shop + steel + rng.normal(0, 0.12, 6)
        found = update(prior(0.12, 0.25), np.zeros(5, dtype=int), y[:5])
        mean, sd = found.offset(CLASSES[0])
        inside.append(abs(y[5] - mean) <= Z_90 * math.hypot(sd, found.scatter))
    assert np.mean(inside) == pytest.approx(0.90, abs=0.03)


def test_no_trials_change_nothing() -> None:
    calibrated = calibrate([], PUBLISHED).after
    for published, found in zip(
        predict([knife()])[0], predict([knife()], life=calibrated)[0], strict=True
    ):
        assert (found.central, found.low, found.high) == (
            published.central,
            published.low,
            published.high,
        )


def test_many_exact_trials_leave_the_scatter_between_knives_alone() -> None:
    y = np.random.default_rng(5).normal(0.2, 0.12, 4000)
    found = update(prior(0.12, 0.25), np.full(4000, AT[SPEED]), y)
    mean, sd = found.offset(SPEED)
    assert mean == pytest.approx(0.2, abs=0.01)
    assert sd < 0.005
    assert found.scatter == pytest.approx(0.12, rel=0.03)
    assert found.offset(SOFT)[1] > 0.1


@settings(max_examples=25, deadline=None)
@given(st.floats(0.6, 1.7), st.integers(1, 12))
def test_trials_shift_the_prediction_toward_what_was_found_and_narrow_it(
    off: float, pieces: int
) -> None:
    before, after = of("card_test", knife(), []), of("card_test", knife(), trials(off, pieces))
    assert before.central
    assert after.central
    assert width(after) < width(before)
    moved, whole = math.log(after.central / before.central), math.log(off)
    assert 0 <= moved / whole <= 1 if abs(whole) > 1e-9 else abs(moved) < 1e-9


def test_other_classes_learn_the_shops_level_and_months_only_the_grades() -> None:
    tried = trials(1.4, 8)
    elsewhere = of("card_test", knife("HS6-5-2", 65), tried)
    untried = of("card_test", knife("HS6-5-2", 65), [])
    assert elsewhere.central
    assert untried.central
    assert 1.05 < elsewhere.central / untried.central < 1.4
    before, after = (of("months_to_stone", knife(), t) for t in ([], tried))
    assert before.central
    assert after.central
    assert 1.05 < after.central / before.central < 1.4**0.6
    assert any("8 knives" in note for note in of("card_test", knife(), tried).notes)


def test_a_kitchen_log_narrows_what_is_promised_for_a_kitchen() -> None:
    days = tuple(Point(day, event=Event.ROD) for day in (7.0, 13.0, 20.0, 28.0))
    log = Trial(TrialKind.KITCHEN, Protocol("machine edge", 15.0, kitchen=Kitchen()), days)
    tried = [Tried(i, OTHERS + i, knife(), log) for i in range(3)]
    before, after = (of("days_to_rod", knife(), t, Kitchen()) for t in ([], tried))
    assert width(after) < width(before)
    assert before.central
    assert after.central
    assert abs(after.central - 7) < abs(before.central - 7)


def test_trials_of_one_knife_count_as_one() -> None:
    """They share that knife's own departure, so ten of one say less than ten of ten."""
    ten = trials(1.3, 10)
    same = [Tried(t.trial_id, OTHERS, t.blade, t.trial) for t in ten]
    assert calibrate(same, PUBLISHED).after.posteriors["card_test"].pieces == 1
    assert width(of("card_test", knife(), ten)) < width(of("card_test", knife(), same))


def test_the_step_named_next_narrows_as_much_as_it_says() -> None:
    before = of("card_test", knife(), [])
    step = before.measure_next
    assert step
    assert step.trial
    after = of("card_test", knife(), trials(1.0, 1))
    assert 1 - width(after) / width(before) == pytest.approx(step.gain, abs=0.08)


def test_the_published_interval_of_a_kitchen_figure_is_the_factor_it_claims() -> None:
    exact = Blade(
        {"hardness": Figure(59, 0.0), "edge_angle": Figure(15.0, 0.0)}, steel=STEELS["1.4112"]
    )
    rod = next(p for p in predict([exact], draws=20_000)[0] if p.key == "days_to_rod")
    assert rod.central == pytest.approx(6.6)
    assert width(rod) == pytest.approx(2 * math.log(1.6), rel=0.02)
    assert spread(1.6) * Z_90 == pytest.approx(math.log(1.6))


def test_every_coefficient_is_described_and_the_published_set_is_in_range() -> None:
    assert coefficients({}) == PUBLISHED
    assert set(ABOUT) == set(PUBLISHED.__dataclass_fields__)
    for name, about in ABOUT.items():
        assert about.low <= getattr(PUBLISHED, name) <= about.high
        with pytest.raises(InvalidValue):
            coefficients({name: about.high * 1.01 + 1})
    with pytest.raises(InvalidValue, match="a factor of"):
        coefficients({"kitchen_factor": 1.5, "offset_sd": 0.3})


def test_changed_coefficients_change_the_prediction_they_belong_to_alone() -> None:
    before, after = (
        {p.key: p.central for p in predict([knife()], life=calibrate([], c).after)[0]}
        for c in (PUBLISHED, coefficients({"tcc_crc_mm": 20.0}))
    )
    assert after["card_test"] == pytest.approx(before["card_test"] + 12 * 8.8, rel=0.01)
    assert {k for k in before if before[k] != after[k]} == {"card_test", "months_to_stone"}
    own = LifeModel(coefficients({"rod_days": 9.0}), PUBLISHED_LIFE.posteriors)
    told = {
        p.key for p in predict([knife()], life=own)[0] if any("this shop's" in n for n in p.notes)
    }
    assert told == {"card_test", "initial_cut", "days_to_rod", "months_to_stone"}
    assert PUBLISHED_LIFE.pieces == 0


def test_a_knife_with_a_card_test_of_its_own_is_predicted_from_it() -> None:
    """Its interval is the trial's, not the class's, and it says so."""
    published = of("card_test", knife(), [])
    assert published.central
    tested = 0.6 * published.central
    own = [*trials(1.0, 6), Tried(99, 1, knife(), card_test(tested))]
    found, another = (of("card_test", knife(seed=seed), own) for seed in (1, 2))
    assert found.central == pytest.approx(tested, rel=0.1)
    assert found.low
    assert found.high
    assert found.low < tested < found.high
    assert width(found) < 0.75 * width(another)
    assert another.central
    assert another.central > 1.3 * tested
    said = f"From this knife's own card test, {tested:.3g} mm."
    assert said in found.notes
    assert found.measure_next
    assert found.measure_next.label == "another card test of this knife"
    assert not any("own" in note for note in another.notes)
    stone, other_stone = (of("months_to_stone", knife(seed=seed), own) for seed in (1, 2))
    assert stone.central
    assert other_stone.central
    assert stone.central < 0.85 * other_stone.central
    assert any("Its wear is taken from its own card test" in note for note in stone.notes)


def test_own_trials_are_weighed_as_the_conjugate_normal_model_has_it() -> None:
    """Prior N(m, t^2), observation N(y, s^2): precisions add (Gelman et al., chapter 2; memory)."""
    row = evidence([Tried(1, 1, knife(), card_test(300.0))], "card_test", PUBLISHED)[0]
    before = prior(0.12, 0.25)
    mean, sd = before.offset(row.grade_class)
    t2 = sd**2 + before.scatter**2 + row.input_variance
    s2 = row.read_variance + (before.scatter / 2) ** 2
    found = own_offset(row, before)
    weight = t2 / (t2 + s2)
    assert found.mean == pytest.approx((1 - weight) * mean + weight * row.ln_ratio)
    assert found.sd == pytest.approx(math.sqrt(t2 * s2 / (t2 + s2)))
    assert found.sd_after_one_more == pytest.approx(math.sqrt(t2 * s2 / (2 * t2 + s2)))


def test_a_kitchen_log_of_its_own_counts_in_the_kitchen_it_was_kept_in() -> None:
    days = tuple(Point(day, event=Event.ROD) for day in (7.0, 13.0, 20.0, 28.0))
    log = Trial(TrialKind.KITCHEN, Protocol("machine edge", 15.0, kitchen=Kitchen()), days)
    own = [Tried(1, 1, knife(), log)]
    here, elsewhere = (
        of("days_to_rod", knife(), own, kitchen)
        for kitchen in (Kitchen(), Kitchen(use=Use.PROFESSIONAL))
    )
    assert here.central == pytest.approx(7, rel=0.15)
    assert any("own kitchen log" in note for note in here.notes)
    assert not any("own kitchen log" in note for note in elsewhere.notes)
    assert width(here) < width(elsewhere)

"""A shop over a season: its level and its steels' are found, and every trial keeps its rules."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.calibration import CLASSES
from maple_rook.core.edge_life.steels import STEELS, GradeClass
from maple_rook.core.edge_life.trials import (
    CARD_MEDIUM,
    CYCLES,
    Point,
    Protocol,
    Trial,
    TrialKind,
    breaks,
    cuts_of_cycles,
    decline_of,
    results,
)
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.measurement.uncertainty import Z_90, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evidence import Tried, calibrate, expected
from maple_rook.core.prediction.predict import predict

REPEATABLE = Protocol("stones, deburred on a strop", 14.0, "1000", CARD_MEDIUM, 50, 40, 50)
SHOP = 0.18
OF_CLASS = {
    GradeClass.LOW_ALLOY: -0.15,
    GradeClass.CHROMIUM_STAINLESS: 0.10,
    GradeClass.HARD_CARBIDE: 0.05,
}
GRADES = {
    GradeClass.LOW_ALLOY: ("C105U", "100Cr6", "90MnCrV8"),
    GradeClass.CHROMIUM_STAINLESS: ("1.4112", "1.4125", "1.4528"),
    GradeClass.HARD_CARBIDE: ("HS6-5-2", "HS6-5-3", "HS18-0-1"),
}


def knife(steel: str, hrc: float, seed: int) -> Blade:
    figures = {"hardness": Figure(hrc, 0.2), "edge_angle": Figure(14.0, 0.2)}
    exact = replace(STEELS[steel], carbide_relative_u=0.0)
    return Blade(figures, steel=exact, seed=seed)


def card(tcc_mm: float) -> Trial:
    cuts = cuts_of_cycles(0.15 * tcc_mm, tcc_mm)
    points = tuple(Point(i, float(cut)) for i, cut in enumerate(cuts, 1))
    return Trial(TrialKind.CARD, REPEATABLE, points)


def season(pieces: int, seed: int = 4) -> list[Tried]:
    """So many knives of each class, tried in a shop with offsets of its own and 9 % scatter."""
    rng = np.random.default_rng(seed)
    tried = []
    for grade_class, grades in GRADES.items():
        for _ in range(pieces):
            number = 1 + len(tried)
            blade = knife(str(rng.choice(grades)), float(rng.uniform(58, 65)), number)
            model = expected(blade, "card_test", None, PUBLISHED)
            assert model
            off = SHOP + OF_CLASS[grade_class] + rng.normal(0, 0.09)
            tried.append(Tried(number, number, blade, card(model.value * math.exp(off))))
    return tried


def test_after_a_season_the_shops_levels_are_known() -> None:
    found = calibrate(season(40), PUBLISHED).after.posteriors["card_test"]
    for grade_class, own in OF_CLASS.items():
        mean, sd = found.offset(grade_class)
        assert mean == pytest.approx(SHOP + own, abs=3 * sd)
        assert sd < 0.03
    assert 0.06 < found.scatter < 0.13
    untried, _ = found.offset(GradeClass.SOFT_STAINLESS)
    assert 0 < untried < SHOP + 0.1


def test_the_interval_narrows_season_by_season_and_holds_what_comes_after() -> None:
    widths, inside = [], []
    later = [replace(t, blade=replace(t.blade, seed=9_000 + t.piece_id)) for t in season(30, 77)]
    for pieces in (0, 2, 8, 30):
        life = calibrate(season(pieces), PUBLISHED).after
        found = [
            next(p for p in predict([one.blade], life=life, draws=600)[0] if p.key == "card_test")
            for one in later[:30]
        ]
        widths.append(np.mean([math.log(p.high / p.low) for p in found]))  # type: ignore[operator]
        observed = [results(one.trial)[1].value for one in later[:30]]
        inside.append(np.mean([p.low <= o <= p.high for p, o in zip(found, observed, strict=True)]))
    assert widths == sorted(widths, reverse=True)
    assert widths[-1] < 0.5 * widths[0]
    assert inside[-1] >= 0.8


def test_left_out_in_turn_the_calibrated_error_is_the_scatter_alone() -> None:
    found = calibrate(season(25), PUBLISHED)
    left = found.left_out["card_test"]
    assert left.rms == pytest.approx(0.09, abs=0.02)
    assert left.rms_published > 1.5 * left.rms
    assert left.covered.mean() == pytest.approx(0.9, abs=0.08)
    ratios = np.array([row.ln_ratio for row in found.rows["card_test"]])
    assert np.abs(ratios - left.mean).max() < 4 * Z_90 * left.sd.max()
    assert {row.grade_class for row in found.rows["card_test"]} == set(OF_CLASS) <= set(CLASSES)


series = st.lists(st.floats(0.05, 40), min_size=4, max_size=CYCLES)


@given(series, st.randoms())
def test_the_order_in_which_points_come_changes_nothing(cuts: list[float], chance: object) -> None:
    points = [Point(i, cut) for i, cut in enumerate(cuts, 1)]
    shuffled = list(points)
    chance.shuffle(shuffled)  # type: ignore[attr-defined]
    one, other = (Trial(TrialKind.CARD, REPEATABLE, tuple(p)) for p in (points, shuffled))
    assert breaks(one) == breaks(other)
    assert results(one) == results(other)
    fits = decline_of(one), decline_of(other)
    assert fits[0] == fits[1]


@given(series)
def test_a_card_test_adds_up_and_its_first_cycles_are_part_of_it(cuts: list[float]) -> None:
    trial = Trial(TrialKind.CARD, REPEATABLE, tuple(Point(i, c) for i, c in enumerate(cuts, 1)))
    found = results(trial)
    if len(cuts) < CYCLES - 3:
        assert found == []
        assert breaks(trial)[0] == f"{len(cuts)} of {CYCLES} cycles"
        return
    icp, tcc = found
    assert icp.value == pytest.approx(sum(cuts[:3]))
    assert icp.value < tcc.value
    assert tcc.value >= sum(cuts) * (1 - 1e-9)
    assert tcc.interval[0] < tcc.value < tcc.interval[1]


@given(st.floats(1.5, 30), st.floats(0.01, 0.2), st.integers(5, 40))
def test_scaling_every_force_moves_no_half_life(fresh: float, rate: float, many: int) -> None:
    """Sharpness is told beside the fresh edge, so the tester's own scale cancels."""
    x = np.arange(many) * 10.0
    halves = []
    for scale in (1.0, 7.0):
        force = scale * fresh * np.exp(rate * x / 10)
        points = tuple(Point(float(a), float(f)) for a, f in zip(x, force, strict=True))
        found = decline_of(Trial(TrialKind.LINE, REPEATABLE, points))
        assert found
        halves.append(found[0].half_life[0])
    assert halves[0] == pytest.approx(halves[1])
    assert halves[0] == pytest.approx(10 * math.log(2) / rate)


@given(
    st.lists(st.floats(0.05, 40) | st.just(3.0), min_size=4, max_size=30),
    st.sampled_from([TrialKind.CARD, TrialKind.LINE]),
)
def test_no_series_gives_a_number_that_is_none(cuts: list[float], kind: TrialKind) -> None:
    """What cannot be told is None; nothing is NaN, and an interval holds its likely value."""
    trial = Trial(kind, REPEATABLE, tuple(Point(i, c) for i, c in enumerate(cuts, 1)))
    for fit in decline_of(trial) or ():
        assert all(math.isfinite(number) for number in (fit.start, fit.misfit, *fit.rate))
        likely, low, high = fit.rate
        assert low - 1e-12 <= likely <= high + 1e-12
        known = [half for half in fit.half_life if half is not None]
        assert all(half > 0 for half in known)
        shortest, longest = fit.half_life[1], fit.half_life[2]
        if shortest is not None and longest is not None:
            assert shortest <= longest
        assert (fit.at(np.arange(5)) > 0).all()


@given(st.floats(0.03, 0.98), st.floats(40, 1500))
def test_cycles_fall_the_faster_the_more_the_first_three_take(share: float, tcc: float) -> None:
    less, more = (cuts_of_cycles(s * tcc, tcc) for s in (share, min(0.985, share + 0.01)))
    assert less[0] <= more[0] + 1e-9
    assert less[-1] >= more[-1] - 1e-9
    assert less.size == CYCLES


def test_a_season_in_another_order_says_the_same() -> None:
    tried = season(6)
    one, other = calibrate(tried, PUBLISHED), calibrate(tried[::-1], PUBLISHED)
    for key, posterior in one.after.posteriors.items():
        assert posterior.mean == pytest.approx(other.after.posteriors[key].mean)
        assert posterior.b == pytest.approx(other.after.posteriors[key].b)
        assert posterior.pieces == other.after.posteriors[key].pieces

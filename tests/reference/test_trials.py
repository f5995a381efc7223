"""Edge trials: the standard's figures, fits that recover what made the data, broken protocols."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import curve_fit

from maple_rook.core.edge_life.decline import Form, declines, fit, half_life
from maple_rook.core.edge_life.retention import (
    Kitchen,
    carbide_term,
    initial_cut_mm,
    tcc_linear_mm,
    tcc_mm,
)
from maple_rook.core.edge_life.trials import (
    CARD_MEDIUM,
    Event,
    Point,
    Protocol,
    Trial,
    TrialKind,
    breaks,
    cuts_of_cycles,
    decline_of,
    intervals,
    results,
)
from maple_rook.core.errors import InvalidValue

REPEATABLE = Protocol("stones, deburred on a strop", 15.0, "1000", CARD_MEDIUM, 50, 40, 50)
CYCLES = np.arange(1.0, 61.0)


def card(cuts: object = None, **changes: object) -> Trial:
    depths = cuts_of_cycles(45.0, 342.0) if cuts is None else np.asarray(cuts, dtype=float)
    points = tuple(Point(i, float(cut)) for i, cut in enumerate(depths, 1))
    return Trial(TrialKind.CARD, replace(REPEATABLE, **changes), points)  # type: ignore[arg-type]


def kitchen_log(*days: tuple[float, Event], kitchen: Kitchen | None = None) -> Trial:
    protocol = Protocol("machine edge", 15.0, kitchen=kitchen or Kitchen())
    return Trial(TrialKind.KITCHEN, protocol, tuple(Point(x, event=e) for x, e in days))


@pytest.mark.parametrize(("form", "rate"), [(Form.POWER, 0.55), (Form.EXPONENTIAL, 0.04)])
def test_a_fit_recovers_what_made_the_data_and_its_interval_covers(form: Form, rate: float) -> None:
    """2,000 generated series of sixty cycles with 6 % scatter: 90 % cover, none is biased."""
    rng = np.random.default_rng(17)
    t = CYCLES - 1
    true = 9.0 * ((1 + t) ** -rate if form is Form.POWER else np.exp(-rate * t))
    fits = [fit(CYCLES, true * np.exp(rng.normal(0, 0.06, 60)), form) for _ in range(2000)]
    covered = [f.rate[1] <= rate <= f.rate[2] for f in fits]
    assert np.mean(covered) == pytest.approx(0.90, abs=0.02)
    assert np.mean([f.rate[0] for f in fits]) == pytest.approx(rate, rel=0.005)
    assert np.mean([f.start for f in fits]) == pytest.approx(9.0, rel=0.005)
    half = half_life(form, rate)
    assert half
    inside = [f.half_life[1] <= half <= f.half_life[2] for f in fits]  # type: ignore[operator]
    assert np.mean(inside) == pytest.approx(0.90, abs=0.02)
    better = [declines(CYCLES, f.at(t))[0].form for f in fits[:20]]
    assert better == [form] * 20


def test_the_fit_agrees_with_scipys_own_curve_fit() -> None:
    rng = np.random.default_rng(2)
    y = 8.0 * CYCLES**-0.5 * np.exp(rng.normal(0, 0.05, 60))
    found = fit(CYCLES, y, Form.POWER)
    (start, p), _ = curve_fit(lambda t, a, p: a * t**-p, CYCLES, y, p0=(8, 0.5), sigma=y)
    assert found.rate[0] == pytest.approx(p, abs=0.01)
    assert found.start == pytest.approx(start, rel=0.03)


def test_no_decline_is_no_half_life() -> None:
    level = fit([0, 1, 2, 3, 4], [5.0, 5.2, 4.9, 5.1, 5.0], Form.EXPONENTIAL)
    assert level.half_life[2] is None
    steady = fit([0, 1, 2, 3], [1.0, 1.0, 1.0, 1.0], Form.POWER)
    assert (steady.rate, steady.half_life) == ((0, 0, 0), (None, None, None))
    assert half_life(Form.POWER, -0.1) is None
    with pytest.raises(InvalidValue, match="4 or more"):
        fit([0, 1, 2], [3, 2, 1], Form.POWER)
    with pytest.raises(InvalidValue, match="above 0"):
        fit([0, 1, 2, 3], [3, 2, 1, 0], Form.POWER)


def test_icp_is_three_cycles_and_tcc_sixty() -> None:
    """ISO 8442-5 (from memory): initial cutting the first three, total card cut all sixty."""
    icp, tcc = results(card())
    assert (icp.key, icp.value) == ("initial_cut", pytest.approx(45.0))
    assert (tcc.key, tcc.value) == ("card_test", pytest.approx(342.0))
    assert tcc.interval[0] < 342 < tcc.interval[1]
    assert breaks(card()) == []


@given(st.floats(5, 120), st.floats(60, 1200))
def test_cycles_made_from_icp_and_tcc_add_up_and_never_grow(icp: float, tcc: float) -> None:
    cuts = cuts_of_cycles(icp, tcc)
    assert cuts.sum() == pytest.approx(tcc)
    assert (np.diff(cuts) <= 1e-12).all()
    if 0.05 < icp / tcc < 0.95:
        assert cuts[:3].sum() == pytest.approx(icp)


def test_two_missing_cycles_are_filled_in_and_said_and_many_break_the_protocol() -> None:
    whole = card()
    few = replace(whole, points=tuple(p for p in whole.points if p.x not in (20, 41)))
    tcc = results(few)[1]
    assert tcc.value == pytest.approx(342, rel=0.002)
    assert tcc.note == "2 cycles filled in from their neighbours"
    assert breaks(few) == []
    short = replace(whole, points=whole.points[:40])
    assert breaks(short) == ["40 of 60 cycles"]
    assert results(short) == []


@pytest.mark.parametrize(
    ("trial", "why"),
    [
        (card(load_n=60.0), "load 60 N"),
        (card(stroke_mm=35.0), "stroke 35 mm"),
        (card(speed_mm_s=80.0), "speed 80 mm/s"),
        (card(medium="printer paper"), "cut printer paper"),
        (card(edge_preparation=" ", grit=""), "not stated: how the edge was prepared, the grit"),
        (card(angle_per_side_deg=None, load_n=None), "not stated: the angle, the load"),
        (replace(card(), simulated=True), "simulated tester"),
        (card([*cuts_of_cycles(45, 342)[:30], *cuts_of_cycles(45, 342)[:30]]), "touched up"),
        (card([*cuts_of_cycles(45, 342)[:59], 0.0]), "cycle 60 cut nothing"),
        (replace(card(), points=card().points[1:]), "first three"),
        (Trial(TrialKind.COUNT, REPEATABLE, (Point(1, 80),)), "one run only"),
        (Trial(TrialKind.LINE, REPEATABLE, (Point(10, 200), Point(20, 260))), "fresh edge"),
        (kitchen_log((5, Event.END)), "neither rod nor stone"),
        (kitchen_log((5, Event.ROD), kitchen=Kitchen(honed=False)), "said to use none"),
        (kitchen_log((90, Event.STONE)), "said to use one"),
        (replace(kitchen_log((5, Event.ROD)), single_bevel=True), "single-bevel"),
    ],
)
def test_a_broken_protocol_is_said(trial: Trial, why: str) -> None:
    """ISO 8442-5 (from memory) for the card test; no rod on a single bevel is common practice."""
    assert any(why in reason for reason in breaks(trial)), breaks(trial)


def test_a_force_that_doubles_is_a_sharpness_that_halves() -> None:
    cuts = np.array([0, 20, 40, 60, 80, 100.0])
    points = tuple(Point(float(x), 160 * 2 ** (x / 50)) for x in cuts)
    found = decline_of(Trial(TrialKind.LINE, REPEATABLE, points))
    assert found
    assert found[0].form is Form.EXPONENTIAL
    assert found[0].half_life[0] == pytest.approx(50)


def test_cuts_to_failure_are_a_mean_with_its_interval() -> None:
    runs = Trial(TrialKind.COUNT, REPEATABLE, (Point(1, 80), Point(2, 100), Point(3, 125)))
    (found,) = results(runs)
    assert found.value == pytest.approx(100)
    assert found.relative_u == pytest.approx(math.log(1.25) / math.sqrt(3))


def test_intervals_of_a_kitchen_begin_at_the_last_rod_or_stone() -> None:
    log = kitchen_log(
        (5, Event.ROD),
        (12, Event.ROD),
        (90, Event.STONE),
        (96, Event.ROD),
        (180, Event.STONE),
        (200, Event.END),
    )
    assert intervals(log, Event.ROD) == [5, 7, 6]
    assert intervals(log, Event.STONE) == [90, 90]
    rod, stone = results(log)
    assert rod.value == pytest.approx(6)
    assert stone.value == pytest.approx(90 / 30.4)
    assert breaks(log) == []


@given(st.floats(50, 68), st.floats(16, 50), st.floats(0, 20), st.floats(0, 4), st.floats(0, 5))
def test_harder_keener_and_richer_in_carbide_never_cut_less_card(
    hrc: float, inclusive: float, crc: float, harder: float, keener: float
) -> None:
    """Common practice, and the sign of each coefficient."""
    plain = carbide_term({"CrC": crc})
    base = tcc_mm(tcc_linear_mm(hrc, inclusive, plain))
    assert tcc_mm(tcc_linear_mm(hrc + harder, inclusive, plain)) >= base
    assert tcc_mm(tcc_linear_mm(hrc, inclusive - keener, plain)) >= base
    assert tcc_mm(tcc_linear_mm(hrc, inclusive, carbide_term({"CrC": crc + 1, "MC": 1}))) >= base
    assert initial_cut_mm(inclusive - keener, base) >= initial_cut_mm(inclusive, base)
    assert initial_cut_mm(inclusive, base) < base

"""What to measure or try next, and whether it does what it says."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Figure, figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.inputs import INPUTS
from maple_rook.core.prediction.next_step import LEAST_GAIN, NextSteps, narrowed
from maple_rook.core.prediction.predict import predict


def blade(**changes: Figure | None) -> Blade:
    figures = {
        "spine_heel": figure([2.20, 2.21], 0.01, 0.03, 0.02),
        "height_heel": Figure(46.0, 0.1),
        "edge_length": Figure(210.0, 0.5),
        "thickness_behind_edge": Figure(0.27, 0.02),
        "edge_angle": figure([14.0, 16.0, 15.0], 0.5, 1.0, 1.0),
        "hardness": Figure(60.0, 0.4),
        "weight": Figure(186.0, 0.6),
        "balance_point": Figure(6.0, 0.6),
    }
    kept = {k: f for k, f in {**figures, **changes}.items() if f is not None}
    return Blade(kept, steel=STEELS["1.4112"], nominal_mm=210.0)


def of(key: str, one: Blade) -> Prediction:
    return next(p for p in predict([one], draws=4000)[0] if p.key == key)


def best(one: Blade, key: str, **shares: float) -> tuple[str, bool] | None:
    step = NextSteps(one, PUBLISHED_LIFE).best(key, shares.items())
    return (step.label, step.trial) if step else None


@given(st.lists(st.tuples(st.floats(0, 1), st.floats(0, 1)), max_size=6))
def test_a_step_takes_off_something_between_nothing_and_all(
    parts: list[tuple[float, float]],
) -> None:
    total = sum(share for share, _ in parts) or 1.0
    gain = narrowed([(share / max(total, 1.0), left) for share, left in parts])
    assert 0 <= gain <= 1


def test_the_input_that_matters_most_is_not_always_the_step() -> None:
    """A share of 60 % that one more reading hardly moves loses to 30 % a first reading ends."""
    one = blade(thickness_behind_edge=None)
    step = best(one, "cutting_ease", spine_heel=0.6, thickness_behind_edge=0.3)
    assert step == ("thickness behind the edge", False)


@pytest.mark.parametrize(
    "key", [key for key, _ in INPUTS if key in QUANTITIES and key != "grind_line"]
)
def test_what_was_measured_is_read_again_and_what_was_not_for_the_first_time(key: str) -> None:
    spread = figure([10.0, 12.0, 14.0], 0.01, 0.01, 2.0)
    again = best(
        blade(**{key: replace(spread, mean=blade().figures.get(key, Figure(12.0, 0.0)).mean)}),
        "cutting_ease",
        **{key: 0.9},
    )
    assert again == (f"{QUANTITIES[key].label}, 3 more readings", False)


def test_a_share_is_not_mistaken_for_the_reading_it_comes_from() -> None:
    """The grind line is read in mm and enters as a share of the height."""
    guessed = replace(blade(), grind=Grind.SABRE)
    assert best(guessed, "cutting_ease", grind_line=0.9) == ("height of the grind line", False)
    loose = figure([20.0, 26.0, 30.0], 0.5, 0.5, 5.0)
    read = replace(blade(grind_line=loose), grind=Grind.SABRE)
    step = NextSteps(read, PUBLISHED_LIFE).best("cutting_ease", [("grind_line", 0.9)])
    assert step is None or step.gain < 0.5


def test_a_reading_the_instrument_alone_limits_is_not_asked_for_again() -> None:
    assert best(blade(hardness=Figure(60.0, 0.878)), "yield_strength", hardness=1.0) is None


def test_no_step_is_named_for_what_nobody_can_measure() -> None:
    assert best(blade(), "cutting_force", food=1.0) is None
    assert best(blade(), "card_test", carbides=0.8) is None
    assert best(blade(), "release", release_scatter=1.0) is None


def test_a_trial_is_named_where_the_offsets_matter_most() -> None:
    label, trial = best(blade(), "card_test", shop_offset=0.4, class_offset=0.4) or ("", False)
    assert trial
    assert label == "a card test of this knife, or another of stainless, chromium carbides"
    assert best(blade(), "days_to_rod", kitchen_scatter=0.9) == (
        "a kitchen log of such a knife",
        True,
    )
    assert best(blade(), "release", kitchen_scatter=0.9) is None


def test_the_finish_is_looked_at_where_nobody_did() -> None:
    assert best(blade(), "release", surface=0.9) == ("finish of the faces", False)
    seen = replace(blade(), surface=("polished",))
    assert best(seen, "release", surface=0.9) is None


@pytest.mark.parametrize("key", ["spine_mid", "thickness_behind_edge"])
def test_the_gain_named_is_the_gain_had(key: str) -> None:
    """The reading is taken with the usual instrument, and the interval compared."""
    target = "cutting_ease" if key == "thickness_behind_edge" else "tip_deflection"
    one = blade(**{key: None})
    before = of(target, one)
    step = before.measure_next
    assert step
    assert step.label == QUANTITIES[key].label
    assert step.gain > LEAST_GAIN
    q = QUANTITIES[key]
    read = figure([one.inputs[key].figure.mean], q.resolution, q.mpe, q.repeatability)
    after = of(target, replace(one, figures={**one.figures, key: read}))
    assert before.high
    assert before.low
    assert after.high
    assert after.low
    had = 1 - (after.high - after.low) / (before.high - before.low)
    assert had == pytest.approx(step.gain, abs=0.12)

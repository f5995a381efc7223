"""From a shop's trials to the models: what counts, how heavily, and for whom."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.cutting.foods import FOODS
from maple_rook.core.edge_life.calibration import CLASSES, prior, update
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, TRIED, Basis, uncalibrated
from maple_rook.core.edge_life.retention import Kitchen, RodSchool, Technique, Use
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
from maple_rook.core.measurement.coefficients import PUBLISHED, coefficients
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evidence import (
    Evidence,
    Tried,
    as_tried,
    calibrate,
    evidence,
    expected,
)
from maple_rook.core.prediction.predict import drawn, predict

ON_STONES = Protocol("stones, deburred on a strop", 15.0, "1000", CARD_MEDIUM, 50, 40, 50)
blades = st.builds(
    lambda hrc, angle, steel, even, kind: Blade(
        {"hardness": Figure(hrc, 0.4), "edge_angle": Figure(angle, 0.5)},
        steel=STEELS[steel],
        even_machine_edge=even,
        knife_type=kind,
    ),
    st.floats(52, 67),
    st.floats(10, 24),
    st.sampled_from(sorted(STEELS)),
    st.booleans(),
    st.sampled_from(["gyuto", "petty", "bone_chopper"]),
)
kitchens = st.builds(
    Kitchen, st.sampled_from(Use), technique=st.sampled_from(Technique), honed=st.booleans()
)


def knife(hrc: float = 60.0, angle: float = 15.0, steel: str = "1.4112") -> Blade:
    figures = {"hardness": Figure(hrc, 0.3), "edge_angle": Figure(angle, 0.3)}
    return Blade(figures, steel=STEELS[steel])


def card(tcc_mm: float, protocol: Protocol = ON_STONES) -> Trial:
    cuts = cuts_of_cycles(0.15 * tcc_mm, tcc_mm)
    return Trial(TrialKind.CARD, protocol, tuple(Point(i, float(c)) for i, c in enumerate(cuts, 1)))


def log(*days: float, kitchen: Kitchen | None = None) -> Trial:
    protocol = Protocol("as sold", 15.0, kitchen=kitchen or Kitchen())
    return Trial(TrialKind.KITCHEN, protocol, tuple(Point(d, event=Event.ROD) for d in days))


@given(blades, kitchens, st.sampled_from(TRIED))
def test_what_a_trial_is_held_against_is_what_is_predicted(
    blade: Blade, kitchen: Kitchen, target: str
) -> None:
    """One figure, by two ways through the code: for calibration and for the screen."""
    for c in (PUBLISHED, coefficients({"tcc_crc_mm": 20.0, "rod_days": 5.0, "even_edge": 1.5})):
        rodded = replace(kitchen, rods=RodSchool.LIGHT)  # a log of the rod is of a kitchen with one
        shown = predict([blade], rodded, draws=100, life=uncalibrated(c))[0]
        central = next(p.central for p in shown if p.key == target)
        found = expected(blade, target, kitchen, c)
        assert found
        assert found.value == pytest.approx(central)
        assert found.input_u > 0


def test_what_has_no_prediction_has_nothing_to_be_held_against() -> None:
    assert expected(knife(44), "days_to_rod", None, PUBLISHED) is None
    assert expected(Blade({"hardness": Figure(60, 0.3)}), "card_test", None, PUBLISHED) is None
    single = replace(knife(steel="C105U"), grind=Grind.SINGLE_BEVEL)
    assert expected(single, "days_to_rod", None, PUBLISHED) is None
    assert expected(single, "card_test", None, PUBLISHED)


def test_a_trial_is_held_against_the_edge_it_was_done_with() -> None:
    measured = replace(
        knife(angle=18.0), figures={**knife(angle=18.0).figures, "micro_bevel": Figure(22.0, 0.5)}
    )
    edge = as_tried(measured, replace(ON_STONES, angle_per_side_deg=12.0))
    assert edge.figures["edge_angle"].mean == 12.0
    assert "micro_bevel" not in edge.figures
    assert as_tried(measured, replace(ON_STONES, angle_per_side_deg=None)) is measured
    keen, blunt = (
        evidence(
            [Tried(1, 1, knife(), card(400, replace(ON_STONES, angle_per_side_deg=a)))],
            "card_test",
            PUBLISHED,
        )[0].predicted
        for a in (12.0, 20.0)
    )
    assert keen > blunt + 200


def test_rows_say_what_counts_less() -> None:
    """Outside the regression's range, and with uncertain inputs, a knife weighs less."""
    inside = evidence([Tried(1, 1, knife(), card(400))], "card_test", PUBLISHED)[0]
    outside = evidence([Tried(1, 1, knife(53.0), card(250))], "card_test", PUBLISHED)[0]
    vague = replace(knife(), figures={**knife().figures, "hardness": Figure(60.0, 3.0)})
    unsure = evidence([Tried(1, 1, vague, card(400))], "card_test", PUBLISHED)[0]
    assert inside.widening == 1.0 < outside.widening < 2.0
    for row in (outside, unsure):
        assert row.weight(0.12) < inside.weight(0.12) < 1
    exact = Evidence(1, (1,), "card_test", GradeClass.UNKNOWN, 400.0, 400.0, 1.0, 0.0, 0.0)
    assert exact.weight(0.12) == 1.0
    assert exact.ln_ratio == 0.0


def test_what_was_set_aside_or_broke_its_protocol_gives_no_row() -> None:
    whole = Tried(1, 1, knife(), card(400))
    aside = replace(whole, trial_id=2, set_aside="damp card")
    loaded = Tried(3, 3, knife(), card(400, replace(ON_STONES, load_n=70.0)))
    simulated = replace(whole, trial_id=4, trial=replace(whole.trial, simulated=True))
    found = calibrate([whole, aside, loaded, simulated], PUBLISHED)
    assert [row.trial_ids for row in found.rows["card_test"]] == [(1,)]
    assert found.not_counted == (2, 3, 4)
    assert aside.left_out == ["damp card"]
    assert loaded.left_out[0].startswith("load 70 N")


def test_several_trials_of_a_knife_are_one_row_at_their_geometric_mean() -> None:
    pair = [Tried(i, 7, knife(), card(tcc)) for i, tcc in enumerate((300.0, 480.0))]
    (row,) = evidence(pair, "card_test", PUBLISHED)
    assert row.observed == pytest.approx(math.sqrt(300 * 480))
    assert row.trial_ids == (0, 1)
    (alone,) = evidence(pair[:1], "card_test", PUBLISHED)
    assert row.other_variance < alone.other_variance


def test_kitchens_are_held_against_their_own_kitchen() -> None:
    home, line = (
        evidence([Tried(1, 1, knife(), log(6, 12, 18, kitchen=k))], "days_to_rod", PUBLISHED)[0]
        for k in (Kitchen(), Kitchen(use=Use.PROFESSIONAL))
    )
    assert home.observed == line.observed == pytest.approx(6)
    assert home.predicted == pytest.approx(3 * line.predicted)
    assert evidence([Tried(1, 1, knife(), log(6))], "months_to_stone", PUBLISHED) == []


def test_the_parts_of_an_offset_make_up_the_whole() -> None:
    """Shared and own variance add up to that of shop and class together, whatever was tried."""
    rng = np.random.default_rng(9)
    for pieces in (0, 1, 5, 40):
        k = rng.integers(0, 3, pieces)
        found = update(prior(0.12, 0.25), k, rng.normal(0.1, 0.12, pieces))
        for grade_class in CLASSES:
            whole = found.offset(grade_class)[1]
            parts = math.hypot(found.shared_sd, found.own_sd(grade_class))
            assert parts == pytest.approx(whole)
            assert found.after_one_more(grade_class) < whole


def test_models_that_say_the_same_are_known_to() -> None:
    same = calibrate([], PUBLISHED)
    assert same.after.says_as(PUBLISHED_LIFE)
    assert same.life(Basis.PUBLISHED) is same.before
    assert not calibrate([], coefficients({"rod_days": 9.0})).after.says_as(PUBLISHED_LIFE)
    tried = calibrate([Tried(1, 1, knife(), card(400))], PUBLISHED)
    assert not tried.after.says_as(PUBLISHED_LIFE)
    assert tried.life(Basis.CALIBRATED) is tried.after
    assert tried.after.pieces == 1


def test_what_varies_alike_does_so_in_the_draws_handed_out() -> None:
    """Two pieces that differ by their seed alone: shop and class move both, scatter each."""
    pair = [replace(knife(), seed=1), replace(knife(), seed=2)]
    foods = tuple(FOODS.values())
    found = drawn(pair, Kitchen(), foods=foods, draws=4000, only=("card_test", "release"))
    assert found["card_test"].shape == (2, 4000)
    logs = np.log(found["card_test"])
    assert np.corrcoef(logs)[0, 1] > 0.5
    assert logs.std(axis=1) == pytest.approx([logs.std(axis=1).mean()] * 2, rel=0.1)

"""Card test and kitchen intervals against worked examples and what the trade says."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    Kitchen,
    Technique,
    Use,
    carbide_term,
    card_cut_mm,
    curve_doubt,
    days_to_rod,
    months_to_stone,
    tcc_linear_mm,
    tcc_mm,
    tcc_range_notes,
    widening,
)
from maple_rook.core.edge_life.steels import STEELS, Reactivity

# Thomas 2020, regression on 48 knife steels (from memory): HRC, inclusive angle, carbides, L.
REGRESSION = [
    (58, 30, {"CrC": 5}, 281.4),
    (63, 24, {"CrC": 12, "MC": 4}, 650.4),
    (55, 40, {"CrC": 5}, 56.0),
]

HOME, LINE = Kitchen(), Kitchen(use=Use.PROFESSIONAL)


@pytest.mark.parametrize(("hrc", "angle", "carbides", "predictor"), REGRESSION)
def test_the_published_regression(
    hrc: float, angle: float, carbides: dict[str, float], predictor: float
) -> None:
    found = tcc_linear_mm(hrc, angle, carbide_term(carbides))
    assert float(found) == pytest.approx(predictor, abs=0.05)


def test_a_small_predictor_still_gives_a_positive_cut() -> None:
    """Worked example: L 56.0 mm becomes TCC 76 mm; far below zero it goes to zero, not under."""
    assert float(tcc_mm(56.0)) == pytest.approx(76, abs=0.5)
    assert 0 < float(tcc_mm(-600)) < 0.01
    assert float(tcc_mm(650.4)) == pytest.approx(650.4, abs=0.01)


def test_every_coefficient_of_the_regression() -> None:
    """Thomas 2020 (from memory): mm of card per volume per cent."""
    published = {"CrC": 11.2, "CrVC": 14.6, "MC": 26.2, "M6C": 9.5, "MN": 20.9, "CrN": 19.4}
    for phase, coefficient in published.items():
        assert carbide_term({phase: 1.0}) == coefficient


@pytest.mark.parametrize(
    ("hrc", "angle", "kitchen", "even", "days"),
    [
        (55, 17, HOME, False, 3.6),
        (56, 15, LINE, False, 1.25),
        (58, 14, HOME, True, 6.1),
        (62, 15, HOME, False, 12.1),
        (66, 12, HOME, False, 23.4),
    ],
)
def test_days_to_the_rod(
    hrc: float, angle: float, kitchen: Kitchen, even: bool, days: float
) -> None:
    """Worked examples, calibrated on common practice."""
    found = days_to_rod(hrc, angle, kitchen, even_machine_edge=even)
    assert float(found) == pytest.approx(days, abs=0.05)


@pytest.mark.parametrize(
    ("tcc", "kitchen", "heavy", "months"),
    [(342, HOME, False, 3.5), (342, HOME, True, 2.5), (675, Kitchen(honed=False), False, 2.9)],
)
def test_months_to_the_stone(tcc: float, kitchen: Kitchen, heavy: bool, months: float) -> None:
    """Worked examples, calibrated on common practice."""
    assert float(months_to_stone(tcc, kitchen, heavy=heavy)) == pytest.approx(months, abs=0.05)


@pytest.mark.parametrize(
    ("what", "found", "low", "high"),
    [
        (
            "soft Western, 55 HRC, home: every 3 days or so",
            days_to_rod(55, 17, HOME),
            3 / 1.6,
            3 * 1.6,
        ),
        ("stamped, 56 HRC, professional line: every 1 to 2 days", days_to_rod(56, 15, LINE), 1, 2),
        (
            "forged, 58 HRC, even machine edge: 5 to 7 days",
            days_to_rod(58, 14, HOME, even_machine_edge=True),
            5,
            7,
        ),
        ("58 to 60 HRC, thin, light, honed: 3 to 4 months", months_to_stone(340, HOME), 3, 4),
        (
            "the same in a heavy cleaver pattern: 2 to 3 months",
            months_to_stone(340, HOME, heavy=True),
            2,
            3,
        ),
        (
            "66 HRC high-speed steel, never honed: 3 to 4 months",
            months_to_stone(675, Kitchen(honed=False)),
            3 / 1.6,
            4,
        ),
    ],
)
def test_intervals_lie_where_the_trade_puts_them(
    what: str, found: float, low: float, high: float
) -> None:
    """Common practice, no published source; wide bands."""
    assert low <= float(found) <= high, what


def test_an_even_machine_edge_holds_about_a_fifth_longer() -> None:
    """Common practice."""
    even = days_to_rod(58, 15, HOME, even_machine_edge=True)
    assert float(even / days_to_rod(58, 15, HOME)) == pytest.approx(1.2)


@pytest.mark.parametrize(
    ("kinder", "harsher"),
    [
        (Kitchen(board=BoardMaterial.SOFT), Kitchen(board=BoardMaterial.WOOD)),
        (Kitchen(board=BoardMaterial.WOOD), Kitchen(board=BoardMaterial.BAMBOO)),
        (Kitchen(board=BoardMaterial.BAMBOO), Kitchen(board=BoardMaterial.GLASS)),
        (Kitchen(technique=Technique.CAREFUL), Kitchen(technique=Technique.NORMAL)),
        (Kitchen(technique=Technique.NORMAL), Kitchen(technique=Technique.ROUGH)),
        (Kitchen(use=Use.HOME), Kitchen(use=Use.KEEN)),
        (Kitchen(use=Use.KEEN), Kitchen(use=Use.PROFESSIONAL)),
    ],
)
def test_a_harsher_kitchen_never_lengthens_an_interval(kinder: Kitchen, harsher: Kitchen) -> None:
    """Common practice: glass is worse than bamboo, bamboo than wood, wood than rubber."""
    assert days_to_rod(59, 15, harsher) < days_to_rod(59, 15, kinder)
    assert months_to_stone(340, harsher) < months_to_stone(340, kinder)


def test_outside_the_published_range_it_says_so_and_widens() -> None:
    assert tcc_range_notes(60, 30) == []
    assert len(tcc_range_notes(54, 60)) == 2
    assert float(widening(60, 30)) == 1.0
    assert 1 < float(widening(54, 30)) < float(widening(50, 30)) <= 2.0


CURVE = [(30, 347), (40, 223), (50, 158), (60, 119)]


@pytest.mark.parametrize(("inclusive", "tcc"), CURVE)
def test_the_card_cut_runs_on_where_its_line_runs_into_nothing(inclusive: int, tcc: float) -> None:
    """Worked example: 60 HRC, 8 % chromium carbide; the straight line says 172, 37 and 3."""
    found = card_cut_mm(60, inclusive, carbide_term({"CrC": 8}))
    assert float(found) == pytest.approx(tcc, rel=0.02)


@pytest.mark.parametrize(
    ("hrc", "inclusive", "carbides", "tcc"),
    [
        (58, 30, {"CrC": 5}, 282),
        (63, 24, {"CrC": 12, "MC": 4}, 650),
        (61, 30, {"CrC": 12}, 407),
    ],
)
def test_up_to_30_degrees_the_card_cut_is_as_published(
    hrc: float, inclusive: float, carbides: dict[str, float], tcc: float
) -> None:
    term = carbide_term(carbides)
    assert float(card_cut_mm(hrc, inclusive, term)) == pytest.approx(tcc, abs=0.5)
    assert float(curve_doubt(hrc, inclusive, term)) == 0


@given(st.floats(46, 70), st.floats(16, 80), st.floats(0, 300), st.sampled_from(["hrc", "angle"]))
def test_no_step_of_a_tenth_makes_a_jump(
    hrc: float, inclusive: float, carbides: float, which: str
) -> None:
    """Neighbours 0.1 HRC or 0.1 degree apart; steepest where the floor fades."""
    more = (hrc + 0.1, inclusive) if which == "hrc" else (hrc, inclusive + 0.1)
    for model in (card_cut_mm, lambda *at: np.exp(curve_doubt(*at))):
        step = float(model(*more, carbides) / model(hrc, inclusive, carbides))
        assert abs(step - 1) < 0.04 if model is not card_cut_mm else abs(step - 1) < 0.045
    assert abs(float(widening(*more) - widening(hrc, inclusive))) < 0.02
    assert float(card_cut_mm(hrc, inclusive + 0.1, carbides)) < float(
        card_cut_mm(hrc, inclusive, carbides)
    )


# Cr + 3.3 Mo + 16 N at mid-range compositions of EN 10088-3 (from memory).
@pytest.mark.parametrize(
    ("designation", "pren"),
    [("1.4021", 13.0), ("1.4034", 13.5), ("1.4116", 16.6), ("1.4112", 21.6), ("1.4125", 19.0)],
)
def test_pitting_resistance_of_standard_grades(designation: str, pren: float) -> None:
    assert STEELS[designation].pren == pytest.approx(pren, abs=0.1)


@pytest.mark.parametrize(
    ("designation", "reactivity"),
    [
        ("1.4116", Reactivity.STAINLESS),
        ("C105U", Reactivity.REACTIVE),
        ("100Cr6", Reactivity.REACTIVE),
        ("HS6-5-2", Reactivity.REACTIVE),
    ],
)
def test_which_grades_rust(designation: str, reactivity: Reactivity) -> None:
    """Common practice: simple carbon and high-speed steels rust, 13 % chromium and up do not."""
    assert STEELS[designation].reactivity is reactivity

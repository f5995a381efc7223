"""A shop without a tester is told of edge life from the claim or the grade, wide, and told so."""

from __future__ import annotations

import math

import pytest

from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade, Origin
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.predict import predict
from maple_rook.core.upkeep.sharpening_tools import RodSchool, rules

FIGURES = {
    "edge_length": Figure(210, 0.5),
    "spine_heel": Figure(2.1, 0.03),
    "height_heel": Figure(46, 0.3),
    "thickness_behind_edge": Figure(0.28, 0.02),
    "edge_angle": Figure(15, 0.7),
}
STEEL = STEELS["1.4116"]


def blade(**other: object) -> Blade:
    return Blade(FIGURES, steel=STEEL, **other)  # type: ignore[arg-type]


def edge_retention(of: Blade) -> Prediction:
    return next(p for p in predict([of])[0] if p.key == "card_test")


def test_the_claim_goes_before_the_grade_and_a_reading_before_both() -> None:
    of_grade = blade()
    low, high = STEEL.usual_hrc
    assert of_grade.hrc == (low + high) / 2
    claimed = blade(claimed_hrc=(56.0, 58.0))
    assert (claimed.hrc, claimed.inputs["hardness"].origin) == (57.0, Origin.INFERRED)
    measured = Blade({**FIGURES, "hardness": Figure(55.2, 0.9)}, claimed_hrc=(56.0, 58.0))
    assert (measured.hrc, measured.inputs["hardness"].origin) == (55.2, Origin.MEASURED)
    assert math.isnan(Blade(FIGURES).hrc)


def test_a_claim_is_never_taken_for_a_measurement() -> None:
    """A claim may be off by a point or two (common practice, no source)."""
    found = blade(claimed_hrc=(57.0, 57.0)).hardness
    assert found is not None
    assert found.standard_uncertainty == pytest.approx(2.0)
    assert "hardness" not in blade().figures
    assert "hardness" not in blade().known


def test_edge_life_is_predicted_wider_than_with_a_tester_and_says_why() -> None:
    tested = Blade({**FIGURES, "hardness": Figure(blade().hrc, 0.5)}, steel=STEEL)
    guessed, measured = (edge_retention(b) for b in (blade(), tested))
    assert guessed.own_figure is not None
    assert measured.own_figure is not None
    assert guessed.own_figure.expanded > measured.own_figure.expanded
    said = " ".join(guessed.notes)
    assert "Hardness is not measured: taken as usual of its grade" in said
    assert "inferred" in said


def test_tools_are_advised_by_it() -> None:
    assert rules(blade(claimed_hrc=(56, 57)), RodSchool.NONE) == rules(
        Blade({**FIGURES, "hardness": Figure(56.5, 1)}, steel=STEEL), RodSchool.NONE
    )

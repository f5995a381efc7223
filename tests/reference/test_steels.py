"""Grades, carbides and the search through them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.retention import carbide_term, tcc_linear_mm, tcc_mm
from maple_rook.core.edge_life.steels import (
    ELEMENTS,
    ESTIMATE_RELATIVE_U,
    STEELS,
    Reactivity,
    estimated_carbides,
    matches,
)
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.hardness import bands

# Limits of carbon and chromium in mass per cent: EN 10088-3 and ISO 4957, from memory.
LIMITS = {
    "1.4116": {"C": (0.45, 0.55), "Cr": (14.0, 15.0), "Mo": (0.50, 0.80), "V": (0.10, 0.20)},
    "1.4112": {"C": (0.85, 0.95), "Cr": (17.0, 19.0), "Mo": (0.90, 1.30)},
    "1.4034": {"C": (0.43, 0.50), "Cr": (12.5, 14.5)},
    "C105U": {"C": (1.00, 1.10)},
    "90MnCrV8": {"C": (0.85, 0.95), "Mn": (1.80, 2.20)},
    "HS6-5-2": {"C": (0.80, 0.88), "W": (5.9, 6.7), "Mo": (4.7, 5.2), "V": (1.7, 2.1)},
    "100Cr6": {"C": (0.93, 1.05), "Cr": (1.35, 1.60)},
}


def found(query: str) -> list[str]:
    return [name for name, grade in STEELS.items() if matches(grade, query)]


def test_there_are_grades_enough_each_with_ranges_and_a_standard() -> None:
    assert len(STEELS) >= 25
    for grade in STEELS.values():
        assert grade.standard
        assert set(grade.composition) == set(grade.ranges) <= set(ELEMENTS)
        for element, (low, high) in grade.ranges.items():
            assert low <= grade.composition[element] <= high
        assert grade.usual_hrc[0] < grade.usual_hrc[1]
        assert not grade.own


@pytest.mark.parametrize("designation", LIMITS)
def test_composition_limits_of_the_standards(designation: str) -> None:
    for element, limits in LIMITS[designation].items():
        assert STEELS[designation].ranges[element] == pytest.approx(limits)


@pytest.mark.parametrize("designation", STEELS)
def test_a_mass_balance_lands_near_the_usual_microstructure(designation: str) -> None:
    """Two estimates, both from memory: within their stated uncertainties of each other."""
    grade = STEELS[designation]
    guessed = carbide_term(estimated_carbides(grade.composition))
    known = carbide_term(grade.carbides)
    slack = 2 * ESTIMATE_RELATIVE_U * max(guessed, known) + 30
    assert abs(guessed - known) <= slack


@given(
    st.dictionaries(st.sampled_from(ELEMENTS), st.floats(0, 20), max_size=6), st.floats(0.05, 2.5)
)
def test_carbides_never_hold_more_carbon_than_the_steel_has(
    rest: dict[str, float], carbon: float
) -> None:
    """Mass balance: CrC holds about 6 mass % of carbon, MC 13 (less in the mean), M6C 2.5."""
    volumes = estimated_carbides({**rest, "C": carbon})
    assert all(v > 0 for v in volumes.values())
    assert volumes.get("CrC", 0.0) * 0.0625 <= carbon + 0.01


def test_more_carbon_never_means_less_carbide_nor_a_shorter_card() -> None:
    for chromium in (0.0, 5.0, 13.0, 18.0):
        terms = [
            carbide_term(estimated_carbides({"C": c, "Cr": chromium}))
            for c in (0.2, 0.5, 0.9, 1.5, 2.2)
        ]
        assert terms == sorted(terms)
        cards = [float(tcc_mm(tcc_linear_mm(60, 30, term))) for term in terms]
        assert cards == sorted(cards)


@pytest.mark.parametrize(
    ("designation", "reactivity"),
    [
        ("1.4116", Reactivity.STAINLESS),
        ("1.4125", Reactivity.STAINLESS),
        ("X153CrMoV12", Reactivity.SEMI_STAINLESS),
        ("SKD11", Reactivity.SEMI_STAINLESS),
        ("C120U", Reactivity.REACTIVE),
        ("HS6-5-4", Reactivity.REACTIVE),
    ],
)
def test_chromium_bound_in_carbides_does_not_keep_rust_away(
    designation: str, reactivity: Reactivity
) -> None:
    """Common practice: 12 % chromium with 1.5 % carbon is only semi-stainless."""
    assert STEELS[designation].reactivity is reactivity


def test_grades_are_found_by_words_classes_and_conditions() -> None:
    assert found("1.4116") == ["1.4116"]
    assert found("x50crmov15") == ["1.4116"]
    assert set(found("stainless C>0.9 Mo>=0.6")) == {"1.4125", "1.4528"}
    assert "X153CrMoV12" not in found("stainless")
    assert found("semi-stainless") == ["X153CrMoV12", "SKD11"]
    assert all(STEELS[name].usual_hrc[1] >= 64 for name in found("HRC>=63"))
    assert set(found("MC>=5 toughness:low")) == {"HS6-5-3", "HS6-5-4", "HS10-4-3-10"}
    assert {"C105U", "SK105"} <= set(found("sharpening:very-easy"))
    assert set(found("PREN>20 Cr<17")) == {"1.4123", "HS6-5-2", "HS6-5-3", "SKH51"}
    assert found("") == list(STEELS)
    assert found("unobtainium") == []


@pytest.mark.parametrize(("query", "said"), [("Xx>3", "C, Si, Mn"), ("Cr>1.2.3", "a number")])
def test_a_condition_on_nothing_known_is_told(query: str, said: str) -> None:
    with pytest.raises(InvalidValue, match=said):
        found(query)


def test_bands_of_the_trade() -> None:
    """Common practice, no published source."""
    assert bands(45) == ["not a hardened edge"]
    assert bands(55) == ["soft Western stainless"]
    assert bands(62) == ["Japanese-style stainless", "carbon"]
    assert bands(66) == ["high-alloy powder and high-speed"]
    assert bands(51) == ["hardly a hardened edge"]
    assert bands(57.5) == []

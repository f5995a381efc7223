"""What people type, and what is refused."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.parsing import parse_typed
from maple_rook.core.measurement.plausibility import doubt, parse_figure, parse_reading, shown
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.units import (
    BASE_UNIT,
    UNITS,
    Dimension,
    from_base,
    inches_as_sixteenths,
    to_base,
)
from maple_rook.core.routine.stops import required_quantities

L, M, A = Dimension.LENGTH, Dimension.MASS, Dimension.ANGLE
H, R = Dimension.HARDNESS, Dimension.RATIO


# 1 in = 25.4 mm and 1 oz = 28.349523125 g are exact by definition (international yard and pound).
@pytest.mark.parametrize(
    ("text", "dimension", "base"),
    [
        ("195 g", M, 195),
        ("195", M, 195),
        ("6.9oz", M, 6.9 * 28.349523125),
        ("4 lb 3 oz", M, 67 * 28.349523125),
        ("0.195 kg", M, 195),
        ("2.3mm", L, 2.3),
        ("15 1/4 in", L, 15.25 * 25.4),
        ('9-5/8"', L, 9.625 * 25.4),
        ("1 7/8 in", L, 1.875 * 25.4),
        ("7/8 in", L, 0.875 * 25.4),
        ("10,5 mm", L, 10.5),
        ("21 cm", L, 210),
        ("250 µm", L, 0.25),
        ("8½ in", L, 8.5 * 25.4),
        (".5 mm", L, 0.5),
        ("-12 mm", L, -12),
        ("15 dps", A, 15),
        ("15°", A, 15),
        ("30° incl", A, 15),
        ("30 inclusive", A, 15),
        ("30incl", A, 15),
        ("15 per side", A, 15),
        ("62 HRC", H, 62),
        ("62", H, 62),
        ("70/30", R, 70),
        ("85:15", R, 85),
        ("50 / 50", R, 50),
    ],
)
def test_spellings_people_use(text: str, dimension: Dimension, base: float) -> None:
    assert parse_typed(text, dimension).base_value == pytest.approx(base)


@pytest.mark.parametrize(
    ("text", "dimension", "low", "high"),
    [
        ("62±2", H, 60, 64),
        ("62 +/- 2 HRC", H, 60, 64),
        ("58-60 HRC", H, 58, 60),
        ("58 to 60", H, 58, 60),
        ("58–60", H, 58, 60),
        ("210 ± 5 mm", L, 205, 215),
        ("30±4 incl", A, 13, 17),
    ],
)
def test_bands_on_the_box(text: str, dimension: Dimension, low: float, high: float) -> None:
    typed = parse_typed(text, dimension)
    assert typed.is_band
    assert (typed.base_low, typed.base_high) == pytest.approx((low, high))


def test_a_bare_number_takes_the_fields_unit_and_says_so() -> None:
    typed = parse_typed("1 7/8", L, default_unit="in")
    assert typed.base_value == pytest.approx(47.625)
    assert not typed.unit_given


@pytest.mark.parametrize(
    ("text", "dimension", "accepted"),
    [
        ("", L, "a number in mm"),
        ("NaN", L, "a number in mm"),
        ("inf", M, "a number in g"),
        ("1e3", L, "a number in mm"),
        ("abc", L, "a number in mm"),
        ("12 parsec", L, "a number in mm"),
        ("195 mm", M, "a number in g"),
        ("60 dps", H, "HRC"),
        ("1/0 in", L, "denominator"),
        ("60-58 HRC", H, "smaller number first"),
        ("70/40", R, "add up to 100"),
        ("1,250", L, "1.250 or 1250"),
        ("9" * 2_000_000, L, "at most 64 characters"),
        ("１２", L, "a number in mm"),
    ],
)
def test_what_is_refused_says_what_is_accepted(
    text: str, dimension: Dimension, accepted: str
) -> None:
    with pytest.raises(InvalidValue, match=accepted) as refusal:
        parse_typed(text, dimension, field="spine at heel")
    assert "spine at heel" in str(refusal.value)
    assert len(str(refusal.value)) < 300


@pytest.mark.parametrize(
    ("key", "text", "accepted"),
    [
        ("hardness", "75", "20 to 70 HRC"),
        ("edge_angle", "60", "3 to 45 degrees per side"),
        ("spine_heel", "3 in", "0.3 to 12 mm"),
        ("weight", "0", "5 to 5000 g"),
        ("hardness", "58-60", "one reading as measured, not an estimate"),
    ],
)
def test_hard_limits_name_the_accepted_range(key: str, text: str, accepted: str) -> None:
    with pytest.raises(InvalidValue, match=accepted):
        parse_reading(key, text)


def test_three_inches_of_spine_asks_whether_millimetres_were_meant() -> None:
    """Common practice: the unit slip heard most often at the bench."""
    with pytest.raises(InvalidValue, match="Was 3 mm meant"):
        parse_reading("spine_heel", "3 in")


@pytest.mark.parametrize(
    ("key", "text", "knife_type", "suggestion"),
    [
        ("weight", "6.9", "gyuto", "6.9 oz"),
        ("edge_angle", "30", "gyuto", "30 incl"),
        ("edge_length", "25.4", "western_chef", "25.4 cm"),
        ("height_heel", "90", "gyuto", None),
    ],
)
def test_an_unusual_value_is_questioned_with_a_likely_reading(
    key: str, text: str, knife_type: str, suggestion: str | None
) -> None:
    question = doubt(key, parse_reading(key, text), knife_type)
    assert question is not None
    assert question.suggestion == suggestion
    assert KNIFE_TYPES[knife_type].label in question.message


def test_a_usual_value_is_not_questioned() -> None:
    assert doubt("weight", parse_reading("weight", "186"), "gyuto") is None


def test_a_reading_in_a_unit_of_another_quantity_is_refused() -> None:
    with pytest.raises(InvalidValue, match="a unit of mass"):
        parse_reading("weight", "12", default_unit="mm")


def test_a_single_bevel_has_no_thickness_between_two_shoulders() -> None:
    assert "thickness_behind_edge" not in required_quantities("deba", Grind.SINGLE_BEVEL)
    assert "thickness_behind_edge" in required_quantities("gyuto", Grind.FULL_FLAT)
    assert "edge_angle" not in required_quantities("serrated", Grind.FULL_FLAT)


@pytest.mark.parametrize(
    ("mm", "text"),
    [(254.0, "10 in"), (244.475, "9 5/8 in"), (2.3, "1/16 in"), (384.175, "15 1/8 in")],
)
def test_inches_are_shown_to_the_nearest_sixteenth(mm: float, text: str) -> None:
    assert inches_as_sixteenths(mm) == text


def test_a_value_is_shown_with_its_units_usual_digits() -> None:
    assert shown(195.6, "oz") == "6.90 oz"


@given(
    value=st.floats(min_value=1e-3, max_value=1e5, allow_nan=False),
    symbol=st.sampled_from(sorted(UNITS)),
)
def test_units_survive_the_round_trip(value: float, symbol: str) -> None:
    assert from_base(to_base(value, symbol), symbol) == pytest.approx(value)


@given(st.text(max_size=80))
def test_any_text_is_understood_or_refused_in_words(text: str) -> None:
    for dimension in Dimension:
        with contextlib.suppress(InvalidValue):
            typed = parse_typed(text, dimension)
            assert typed.unit in UNITS
            assert typed.base_low <= typed.base_high


@given(whole=st.integers(0, 40), sixteenths=st.integers(1, 15))
def test_fractions_of_an_inch_are_exact(whole: int, sixteenths: int) -> None:
    typed = parse_typed(f"{whole} {sixteenths}/16 in", L)
    assert typed.base_value == pytest.approx((whole + sixteenths / 16) * 25.4)


def test_every_quantity_has_sound_limits_and_a_unit_of_its_dimension() -> None:
    for q in QUANTITIES.values():
        assert q.hard_low < q.hard_high
        assert q.unit == BASE_UNIT[q.dimension]
        for kind in KNIFE_TYPES.values():
            low, high = kind.typical.get(q.key, (q.hard_low, q.hard_high))
            assert q.hard_low <= low < high <= q.hard_high, (q.key, kind.key)


@pytest.mark.parametrize(
    ("text", "dimension", "step"),
    [
        ("1 7/8 in", L, 25.4 / 8),
        ("9-5/16", L, 1 / 16),
        ("1/2 in", L, 25.4 / 8),
        ("2.30 mm", L, 0.01),
        ("210", L, 1.0),
        ("6.9 oz", M, 2.8349523125),
        ("30 incl", A, 0.5),
    ],
)
def test_the_step_in_which_it_was_typed(text: str, dimension: Dimension, step: float) -> None:
    """1 in = 25.4 mm exactly; inch rules are divided at least in eighths (common practice)."""
    assert parse_typed(text, dimension).step == pytest.approx(step)


@pytest.mark.parametrize(
    ("key", "text", "kind", "mean", "half"),
    [
        ("hardness", "~58", FigureKind.ESTIMATED, 58, 2),
        ("hardness", "about 58", FigureKind.ESTIMATED, 58, 2),
        ("hardness", "58-60", FigureKind.ESTIMATED, 59, 1),
        ("hardness", "58±2", FigureKind.ESTIMATED, 58, 2),
        ("hardness", "told 60", FigureKind.TOLD, 60, 2),
        ("sharpness_score", "5-6 of 10", FigureKind.ESTIMATED, 5.5, 0.5),
        ("weight", "about 200 g", FigureKind.ESTIMATED, 200, 20),
        ("edge_angle", "12-15", FigureKind.ESTIMATED, 13.5, 1.5),
        ("weight", "186 g", FigureKind.MEASURED, 186, 0),
    ],
)
def test_how_it_is_known_and_how_widely(
    key: str, text: str, kind: FigureKind, mean: float, half: float
) -> None:
    """A person's word without a range: 2 HRC, or 10 % of the figure (common practice)."""
    typed = parse_figure(QUANTITIES[key], text)
    assert (typed.kind, typed.text) == (kind, text)
    assert (typed.base_value, typed.half_width) == (pytest.approx(mean), pytest.approx(half))


@pytest.mark.parametrize("text", ["58-75", "about", "~", "told", "58-60-62", "about 19"])
def test_an_estimate_has_to_be_one_and_lie_within_what_can_be(text: str) -> None:
    with pytest.raises(InvalidValue):
        parse_figure(QUANTITIES["hardness"], text)

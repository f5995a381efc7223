"""What holds for every knife and every set of readings, whatever a bench may bring."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import bevel_thickness_mm, bevels
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.hardness import minimum_thickness_mm
from maple_rook.core.measurement.hardness_session import (
    Hardened,
    Indent,
    corrected,
    hardened,
    hardness_session,
    indent_diameter_mm,
    thickness_at_mm,
)
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.observations import ITEMS, Seen, checked_value
from maple_rook.core.measurement.piece_statistics import piece_statistics, pieces_needed
from maple_rook.core.measurement.plausibility import doubt, parse_reading
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.time_on_task import worked_seconds
from maple_rook.core.measurement.uncertainty import Figure, figure, grubbs_critical, outlier
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.routine.checks import checks, contradictions
from maple_rook.core.routine.sheet_facts import SheetFacts
from maple_rook.core.routine.stops import KnifeFacts, asked, stop_states

readings = st.lists(st.floats(0.1, 500, allow_nan=False), min_size=3, max_size=12)


def figure_of(key: str) -> st.SearchStrategy[Figure]:
    q = QUANTITIES[key]
    means = st.floats(q.hard_low, q.hard_high, allow_nan=False)
    return st.builds(Figure, means, st.floats(0, 5), st.integers(1, 5), st.floats(0, 5))


@st.composite
def sheets(draw: st.DrawFn) -> SheetFacts:
    """Any figures inside their hard limits, on any knife seen in any way."""
    keys = draw(st.sets(st.sampled_from(sorted(QUANTITIES))))
    figures = {key: draw(figure_of(key)) for key in sorted(keys)}
    seen = {}
    for item in draw(st.sets(st.sampled_from(sorted(ITEMS)))):
        if ITEMS[item].choices:
            seen[item, ""] = Seen(draw(st.sampled_from(list(ITEMS[item].choices))))
    knife = KnifeFacts(
        draw(st.sampled_from(list(KNIFE_TYPES))), draw(st.sampled_from(Grind)), seen=seen
    )
    claims = {"edge_angle": (14.0, 16.0), "asymmetry": (50.0, 50.0)} if draw(st.booleans()) else {}
    return SheetFacts(figures, knife, draw(st.sampled_from([0.0, 165.0, 210.0])), claims)


@given(sheets())
def test_every_check_names_its_quantities_its_why_and_its_mend(sheet: SheetFacts) -> None:
    found = checks(sheet)
    assert len({c.key for c in found}) == len(found)
    for check in found:
        assert set(check.quantities) <= set(QUANTITIES)
        assert all((check.wrong, check.why, check.mend))
        assert "nan" not in check.text
        if check.typed:  # a one-key correction is a reading the Bench would take
            parse_reading(check.quantity, check.typed)


@given(sheets())
def test_contradictions_are_among_the_checks(sheet: SheetFacts) -> None:
    said = {c.text for c in checks(sheet)}
    assert set(contradictions(sheet.figures)) <= said


@given(sheets())
def test_every_question_has_a_stop_and_every_stop_a_state(sheet: SheetFacts) -> None:
    questions = asked(sheet.knife)
    states = stop_states(questions, set(sheet.figures), set(), sheet.knife)
    assert len(states) == 13
    assert {q.key for q in questions} <= {*QUANTITIES, *ITEMS}
    done = stop_states(questions, {q.key for q in questions}, set(), sheet.knife)
    assert set(done.values()) <= {"done", "missing"}
    assert all(
        state == "done" for stop, state in done.items() if any(q.stop == stop for q in questions)
    )


@given(
    st.sampled_from([i for i in ITEMS.values() if i.multiple]), st.randoms(use_true_random=False)
)
def test_the_order_several_choices_are_named_in_does_not_matter(item, chance) -> None:  # type: ignore[no-untyped-def]
    chosen = list(item.choices)[:3]
    aspect = next(iter(item.aspects))
    shuffled = chance.sample(chosen, len(chosen))
    assert checked_value(item.key, aspect, ",".join(shuffled), "") == ",".join(chosen)


@given(readings, st.floats(-100, 100), st.floats(0.1, 10))
def test_an_outlier_is_the_same_in_any_unit_and_from_any_zero(
    values: list[float], zero: float, scale: float
) -> None:
    farthest = sorted(np.abs(np.asarray(values) - np.mean(values)))
    assume(farthest[-1] - farthest[-2] > 0.01)  # not two equally far
    odd = outlier(values)
    assert outlier([scale * v + zero for v in values]) == odd
    if odd is not None:
        others = [v for i, v in enumerate(values) if i != odd]
        assert abs(values[odd] - np.mean(values)) >= max(abs(v - np.mean(values)) for v in others)


def test_more_readings_allow_more_before_one_stands_out() -> None:
    criticals = [grubbs_critical(n) for n in range(3, 40)]
    assert all(a < b for a, b in itertools.pairwise(criticals))
    assert all(c < (n - 1) / math.sqrt(n) for n, c in enumerate(criticals, 3))


@given(readings, st.floats(0.001, 1), st.floats(0, 1))
def test_repeats_never_make_a_figure_better_than_its_instrument(
    values: list[float], resolution: float, mpe: float
) -> None:
    f = figure(values, resolution, mpe, 0.0)
    assert f.standard_uncertainty >= f.type_b > 0
    assert f.standard_uncertainty**2 == pytest.approx(f.type_a**2 + f.type_b**2)


@given(st.floats(20, 68), st.floats(55, 65), st.floats(-3, 3))
def test_a_tester_that_reads_high_on_the_block_reads_as_high_on_the_blade(
    blade: float, certified: float, error: float
) -> None:
    read = Figure(blade + error, 0.9, 3, 0.5, 0.2)
    block = Figure(certified + error, 0.9, 3, 0.2, 0.1)
    assert corrected(read, block, certified, 0.2).mean == pytest.approx(blade)


@given(st.floats(20, 68), st.floats(20, 68))
def test_harder_steel_takes_a_smaller_indent_in_a_thinner_blade(a: float, b: float) -> None:
    soft, hard = sorted((a, b))
    assert indent_diameter_mm(soft) >= indent_diameter_mm(hard)
    assert minimum_thickness_mm(soft) >= minimum_thickness_mm(hard)


@given(st.floats(20, 70), st.floats(0.05, 3))
def test_hardened_not_hardened_and_cannot_be_said_never_overlap(hrc: float, u: float) -> None:
    verdict = hardened({"hardness": Figure(hrc, u, n=3)}).verdict
    surely = (hrc - 2 * u >= 52, hrc + 2 * u < 52)
    soft = Hardened.NOT_HARDENED if hrc < 50 else Hardened.HARDLY
    expected = {(True, False): Hardened.HARDENED, (False, True): soft}
    assert verdict is expected.get(surely, Hardened.CANNOT_BE_SAID)


@given(st.lists(st.tuples(st.floats(20, 70), st.floats(0, 50), st.floats(0, 300)), max_size=5))
def test_a_session_has_a_verdict_whatever_was_indented_where(
    places: list[tuple[float, float, float]],
) -> None:
    indents = [Indent(*place) for place in places]
    raw = figure([i.hrc for i in indents], 0.5, 1.5, 0.5) if indents else None
    figures = {"spine_heel": Figure(2.2, 0.02), "height_heel": Figure(45.0, 0.1)}
    session = hardness_session(raw, None, None, indents, figures)
    assert session.judgement.why
    assert (session.result is None) == (not indents)
    close = sum("apart" in w for w in session.warnings)
    assert close <= len(indents) * (len(indents) - 1) / 2


@given(st.floats(1.0, 8.0), st.floats(20, 120), st.floats(0, 1), st.floats(0, 1))
def test_a_flat_blade_thickens_toward_the_spine(
    spine: float, height: float, low: float, high: float
) -> None:
    figures = {"spine_heel": Figure(spine, 0), "height_heel": Figure(height, 0)}
    a, b = (thickness_at_mm(figures, share * height) for share in sorted((low, high)))
    assert a is not None
    assert b is not None
    assert a <= b + 1e-9 <= spine + 1e-6


@given(st.floats(0.05, 1.0), st.floats(8, 25), st.floats(0.1, 0.9))
def test_bevels_made_from_a_thickness_give_it_back(
    thickness: float, angle: float, share: float
) -> None:
    made = bevels(thickness, angle, share)
    a = Figure(angle, 0.5)
    back = bevel_thickness_mm(
        Figure(float(made.width_right_mm), 0.02), Figure(float(made.width_left_mm), 0.02), a, a
    )
    assert back.mean == pytest.approx(thickness)
    assert back.standard_uncertainty > 0


@given(st.sampled_from(sorted(KNIFE_TYPES)), st.floats(1, 8), st.floats(0.3, 1))
def test_a_blade_that_tapers_is_lighter_than_one_that_does_not(
    kind: str, spine: float, share: float
) -> None:
    low, high = KNIFE_TYPES[kind].typical["edge_length"]
    figures = {
        "edge_length": Figure((low + high) / 2, 0),
        "height_heel": Figure(45.0, 0),
        "spine_heel": Figure(spine, 0),
        "spine_tip": Figure(spine, 0),
    }
    thinner = {**figures, "spine_tip": Figure(share * spine, 0)}
    even, tapered = (
        built(Blade({**f, "spine_mid": Figure((f["spine_tip"].mean + spine) / 2, 0)}, kind))
        for f in (figures, thinner)
    )
    if even is None or tapered is None:
        assert not KNIFE_TYPES[kind].predicted
        return
    assert 0 < tapered.mass_g <= even.mass_g + 1e-9


@given(st.lists(st.floats(10, 1000), min_size=2, max_size=20), st.floats(0.5, 50))
def test_the_next_piece_is_less_sure_than_the_mean_and_a_finer_wish_needs_more(
    values: list[float], half: float
) -> None:
    s = piece_statistics(values)
    assert s.next_half_width >= s.mean_half_width >= 0
    coarse, fine = pieces_needed(s.deviation, 2 * half), pieces_needed(s.deviation, half)
    assert fine is None or (coarse is not None and coarse <= fine)


@given(st.lists(st.floats(0, 1e5), max_size=30))
def test_time_worked_is_never_more_than_time_passed(times: list[float]) -> None:
    passed = max(times) - min(times) if times else 0
    assert 0 <= worked_seconds(times) <= passed + 1e-6
    assert worked_seconds(times) == worked_seconds(list(reversed(times)))


@given(
    st.sampled_from(sorted(QUANTITIES)), st.floats(0.01, 900), st.sampled_from(sorted(KNIFE_TYPES))
)
def test_a_suggestion_is_always_a_reading_that_would_be_taken(
    key: str, value: float, kind: str
) -> None:
    text = f"{value:.3f}"
    if QUANTITIES[key].unit == "%":
        return
    try:
        typed = parse_reading(key, text)
    except InvalidValue as refused:
        if refused.suggestion:
            parse_reading(key, refused.suggestion)
        return
    asked_about = doubt(key, typed, kind)
    if asked_about is not None and asked_about.suggestion:
        parse_reading(key, asked_about.suggestion)

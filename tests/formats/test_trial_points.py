"""Files of trial points: what is read, and line by line what is not."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.trials import Event, TrialKind
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.units import N_PER_GRAM_FORCE
from maple_rook.formats.trial_points import MOST_CHARACTERS, MOST_POINTS, read_points

CARD, LINE = TrialKind.CARD, TrialKind.LINE


@pytest.mark.parametrize(
    "text",
    [
        "1,15.2\n2,12.9",
        "1;15,2\n2;12,9",
        "1\t15.2\n2\t12.9",
        "cycle;cut\n\n# damp day\n1;15,2\n2;12.9 mm",
        "1;15,2;ok\r\n2;12,9;ok\r\n",
    ],
)
def test_the_same_points_in_every_usual_spelling(text: str) -> None:
    found = read_points(text, CARD)
    assert [(p.x, p.value) for p in found.points] == [(1, 15.2), (2, 12.9)]
    assert found.bad == ()


@pytest.mark.parametrize(
    ("row", "why"),
    [
        ("61;3", "1 to 60"),
        ("0;3", "1 to 60"),
        ("1.5;3", "whole number"),
        ("7;-2", "0 to 100 mm"),
        ("7;140", "0 to 100 mm"),
        ("7;3 gf", "a number in mm"),
        ("7", "cycle and cut depth"),
        ("seven;3", "a number"),
        ("7;nan", "a number in mm"),
        ("1;9", "it stands on line 1"),
    ],
)
def test_a_row_that_is_no_point_is_told_by_its_line(row: str, why: str) -> None:
    found = read_points(f"1;15,2\n{row}\n3;11,9", CARD)
    assert [p.x for p in found.points] == [1, 3]
    (bad,) = found.bad
    assert (bad.line, bad.text) == (2, row)
    assert why in bad.why


def test_forces_are_in_gram_force_and_other_units_are_turned() -> None:
    found = read_points("cuts;force\n0;165\n20;2 N", LINE)
    assert found.points[0].value == pytest.approx(165)
    assert found.points[1].value == pytest.approx(2 / N_PER_GRAM_FORCE)


def test_days_of_a_log_count_from_the_first_date() -> None:
    text = "day,event\n2026-05-02,start\n2026-05-09,Rod\n2026-06-01,sharpened\n2026-05-01,rod"
    found = read_points(text, TrialKind.KITCHEN)
    assert [(p.x, p.event) for p in found.points] == [
        (0, Event.START),
        (7, Event.ROD),
        (30, Event.STONE),
    ]
    assert found.bad[0].line == 5
    assert "first day of the file" in found.bad[0].why
    counted = read_points("0;start\n9;rod\n9;stone", TrialKind.KITCHEN)
    assert [p.x for p in counted.points] == [0, 9]


def test_what_is_no_file_of_points_is_refused_whole() -> None:
    many = "\n".join(f"{i};5" for i in range(MOST_POINTS + 2))
    for text, says in (
        ("", "nothing"),
        ("\n# only words\n", "nothing"),
        ("1" * (MOST_CHARACTERS + 1), "at most"),
        (many, "at most"),
    ):
        with pytest.raises(InvalidValue, match=says):
            read_points(text, TrialKind.COUNT)


@given(st.text(max_size=200), st.sampled_from(TrialKind))
def test_any_text_is_read_or_refused_and_every_line_is_accounted_for(
    text: str, kind: TrialKind
) -> None:
    try:
        found = read_points(text, kind)
    except InvalidValue:
        return
    lines = [row for row in text.splitlines() if row.strip() and not row.lstrip().startswith("#")]
    told = len(found.points) + len(found.bad)
    assert told <= len(lines) <= told + len(lines) * (not found.points) + 1
    assert len({p.x for p in found.points}) == len(found.points)

"""Pasted and imported edges: the same curve however it was written down."""

from __future__ import annotations

from contextlib import suppress

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.profile import from_points, on_board
from maple_rook.formats.edge_trace import MOST_CHARACTERS, read_columns, read_svg

EDGE = [(0.0, 0.0), (60.0, 0.0), (120.0, 0.75), (175.0, 6.25), (209.0, 13.5)]


@pytest.mark.parametrize(
    "text",
    [
        "0,0\n60,0\n120,0.75\n175,6.25\n209,13.5",
        "x;y\n0;0\n60;0\n120;0,75\n175;6,25\n209;13,5",
        "0\t0\n60\t0\n120\t0.75\n175\t6.25\n209\t13.5\n",
        "distance gap\n\n0 0\n60 0\n120 0,75\n175  6,25\n209 13,5",
        "0, 0\r\n60, 0\r\n120, 0.75\r\n175, 6.25\r\n209, 13.5",
    ],
)
def test_columns_in_the_ways_people_write_them(text: str) -> None:
    assert read_columns(text) == EDGE


def test_an_svg_path_is_turned_up_and_scaled_by_its_own_units() -> None:
    """SVG counts y downward; width over viewBox says how large a unit is."""
    line = " ".join(f"L{2 * x} {-2 * y}" for x, y in EDGE[1:])
    drawn = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="21cm" viewBox="0 0 420 60">'
        f'<path d="M0 0 {line}"/></svg>'
    )
    assert np.allclose(read_svg(drawn), EDGE)
    assert np.allclose(read_svg("M0 0 " + " ".join(f"L{x} {-y}" for x, y in EDGE[1:])), EDGE)


def test_curves_in_a_path_are_followed() -> None:
    """Geometry: a quarter circle of 100 mm drawn as an arc has its length and tip."""
    found = on_board(from_points(read_svg("M0 100 L100 100 A200 200 0 0 0 200 73.2")))
    assert found.length_mm == pytest.approx(200, abs=1)
    assert found.tip_height_mm == pytest.approx(26.8, abs=1)


@pytest.mark.parametrize(
    ("read", "text", "said"),
    [
        (read_columns, "", "lines of x and y"),
        (read_columns, "heel\ntip", "lines of x and y"),
        (read_columns, "0 0\n1 2 3\n", "line 2"),
        (read_columns, "0 0\nabc\n", "line 2"),
        (read_columns, "1" * (MOST_CHARACTERS + 1), "at most 200000"),
        (read_svg, "", "path data"),
        (read_svg, "M0 0 L", "path data"),
        (read_svg, "<svg><rect/></svg>", "no path"),
        (read_svg, "<svg><path d='M0 0L9 9'", "well-formed"),
        (read_svg, "<!DOCTYPE svg [<!ENTITY a 'b'>]><svg><path d='M0 0L9 9'/></svg>", "plain SVG"),
        (read_svg, "<svg><path transform='scale(2)' d='M0 0L9 9'/></svg>", "transform"),
        (read_svg, "<svg width='9mm' viewBox='0 0 x 1'><path d='M0 0L9 9'/></svg>", "viewBox"),
    ],
)
def test_what_cannot_be_read_is_said(read, text: str, said: str) -> None:  # type: ignore[no-untyped-def]
    with pytest.raises(InvalidValue, match=said):
        read(text)


@given(st.text(max_size=300))
def test_any_text_is_read_or_refused_in_words(text: str) -> None:
    for read in (read_columns, read_svg):
        with suppress(InvalidValue):
            assert all(len(point) == 2 for point in read(text))

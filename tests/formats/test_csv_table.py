"""Tables as CSV: RFC 4180 by the letter, harmless in a spreadsheet, read back as written."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.formats.csv_table import csv_lines, harmless


def test_rfc_4180_by_the_letter() -> None:
    """RFC 4180, section 2: CRLF, quotes about commas, quotes and line ends, quotes doubled."""
    text = "".join(csv_lines(["a", "b"], [['say "no", twice', 1.5], ["two\r\nlines", None]]))
    assert text == 'a,b\r\n"say ""no"", twice",1.5\r\n"two\r\nlines",\r\n'


@pytest.mark.parametrize("text", ["=HYPERLINK(1)", "+1", "-1+2", "@SUM(A1)", "\tx", "\rx"])
def test_what_a_spreadsheet_would_run_is_shown_instead(text: str) -> None:
    """Common practice: a leading apostrophe makes it text."""
    assert harmless(text) == f"'{text}"
    assert harmless(f"x{text}") == f"x{text}"


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (2.0, "2"),
        (-0.0, "0"),
        (-0.04, "-0.04"),
        (1e-5, "0.00001"),
        (0.1 + 0.2, "0.3"),
        (float("nan"), ""),
        (float("inf"), ""),
        (None, ""),
        (123456.75, "123456.75"),
    ],
)
def test_numbers_are_short_and_negative_ones_stay_numbers(value: float | None, text: str) -> None:
    (_, line) = csv_lines(["n"], [[value]])
    assert line.strip('"\r\n') == text


@given(
    st.lists(
        st.lists(st.text(max_size=12) | st.floats(-1e6, 1e6) | st.none(), min_size=3, max_size=3),
        max_size=6,
    )
)
def test_any_rows_come_back(rows: list[list[str | float | None]]) -> None:
    text = "".join(csv_lines(["a", "b", "c"], rows))
    read = list(csv.reader(io.StringIO(text, newline="")))
    assert read[0] == ["a", "b", "c"]
    assert len(read) == len(rows) + 1
    for wrote, found in zip(rows, read[1:], strict=True):
        for cell, back in zip(wrote, found, strict=True):
            if isinstance(cell, str):
                assert back == harmless(cell)
            elif cell is None:
                assert back == ""
            else:
                assert float(back or 0) == pytest.approx(cell, abs=1e-6)

"""Cuts from a file: units, decimal commas, one cut or several, and what cannot be read."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.formats import cut_file
from maple_rook.formats.cut_file import read_cuts


@pytest.mark.parametrize(
    ("heading", "line", "depth_mm", "force_n"),
    [
        ("knife;food;depth mm;force N", "A-1;carrot;3;18.4", 3.0, 18.4),
        ("knife,food,depth (in),load [kg]", "A-1,carrot,0.5,2", 12.7, 19.6133),
        ("Tag\tVegetable\tTravel_mm\tPeak force gf", "A-1\tcarrot\t3\t2000", 3.0, 19.6133),
        ("\ufeffblade;food;depth cm;force lbf", "A-1;carrot;0,3;4", 3.0, 17.792886),
    ],
)
def test_units_stand_in_the_heading(
    heading: str, line: str, depth_mm: float, force_n: float
) -> None:
    """Factors exact by definition: 1 in = 25.4 mm, 1 lbf = 4.4482216152605 N, g = 9.80665 m/s2."""
    [cut] = read_cuts(f"{heading}\n{line}\n").cuts
    assert (cut.knife, cut.food) == ("A-1", "carrot")
    assert cut.depth_mm == [pytest.approx(depth_mm)]
    assert cut.force_n == [pytest.approx(force_n, rel=1e-6)]


def test_lines_of_one_knife_food_lot_and_number_are_one_cut() -> None:
    text = (
        "# from the load cell\nknife;food;lot;cut;height mm;depth mm;force N\n\n"
        "A-1;carrot;one;1;25;3;18\nA-1;carrot;one;2;25;3;17\nA-1;carrot;one;1;25;6;20\n"
        "B-2;carrot;two;1;;3;22\n"
    )
    found = read_cuts(text)
    assert [(c.knife, c.lot, c.depth_mm) for c in found.cuts] == [
        ("A-1", "one", [3, 6]),
        ("A-1", "one", [3]),
        ("B-2", "two", [3]),
    ]
    assert [c.height_mm for c in found.cuts] == [25, 25, None]


def test_without_a_depth_every_line_is_a_peak_of_its_own() -> None:
    found = read_cuts("knife;food;peak N\nA-1;carrot;30\nA-1;carrot;31\nA-1;;9\nA-1;carrot;inf\n")
    assert [(c.depth_mm, c.force_n) for c in found.cuts] == [([], [30.0]), ([], [31.0])]
    assert [(b.line, b.why.split(":")[0]) for b in found.bad] == [(4, "food"), (5, "force")]


def test_there_is_an_end_to_a_file(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cut_file, "MOST_CUTS", 3)
    found = read_cuts("knife;food;force N\n" + "".join(f"K-{i};carrot;9\n" for i in range(5)))
    assert (len(found.cuts), len(found.bad)) == (3, 2)
    with pytest.raises(InvalidValue, match="at most"):
        read_cuts("x" * (cut_file.MOST_CHARACTERS + 1))
    with pytest.raises(InvalidValue, match="one column of force"):
        read_cuts("knife;food;force N;load N\nA-1;carrot;3;3")


@given(st.text(max_size=300), st.sampled_from(["", "knife;food;depth mm;force N\n"]))
def test_any_text_is_read_or_refused_in_words(text: str, heading: str) -> None:
    try:
        found = read_cuts(heading + text)
    except InvalidValue:
        return
    assert found.cuts or found.bad
    assert all(len(c.depth_mm) in (0, len(c.force_n)) for c in found.cuts)

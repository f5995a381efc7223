"""Drawings as SVG: one unit is one millimetre, whatever is drawn and at whatever scale."""

from __future__ import annotations

from xml.etree import ElementTree as ET

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.formats.drawings import DASHES, Dimension, Shape, drawing
from maple_rook.formats.inks import INKS

SQUARE = [(0.0, 0.0), (20.0, 0.0), (20.0, 30.0), (0.0, 30.0)]


def parsed(text: str) -> ET.Element:
    assert text.startswith("<?xml")
    return ET.fromstring(text)


def of_kind(root: ET.Element, kind: str) -> list[ET.Element]:
    return [e for e in root.iter() if e.tag.endswith("}" + kind)]


def box(root: ET.Element) -> tuple[float, float, float, float]:
    left, top, wide, tall = (float(v) for v in root.get("viewBox", "").split())
    return left, top, wide, tall


@given(st.floats(5, 400), st.floats(5, 200), st.sampled_from([1.0, 2.0, 5.0]))
def test_width_over_viewbox_is_the_stated_scale_and_all_is_inside(
    wide: float, tall: float, scale: float
) -> None:
    """SVG 1.1: width in mm over the viewBox's width is the size of a unit."""
    corners = [(0.0, 0.0), (wide, 0.0), (wide, tall)]
    root = parsed(drawing("a triangle", [Shape(corners)], scale=scale))
    left, top, across, down = box(root)
    assert float(root.get("width", "").removesuffix("mm")) / across == pytest.approx(
        scale, rel=1e-3
    )
    assert float(root.get("height", "").removesuffix("mm")) / down == pytest.approx(scale, rel=1e-3)
    for x, y in corners:
        assert left <= x <= left + across
        assert top <= -y <= top + down


def test_the_page_is_turned_so_that_up_is_up() -> None:
    root = parsed(drawing("a square", [Shape(SQUARE)]))
    (path,) = of_kind(root, "path")
    assert path.get("d") == "M0.000 0.000L20.000 0.000L20.000 -30.000L0.000 -30.000Z"
    assert path.get("class") == "blade"


def test_an_open_line_is_not_closed_nor_filled() -> None:
    root = parsed(drawing("an edge", [Shape(SQUARE, closed=False, part="edge")], board=True))
    (path,) = of_kind(root, "path")
    assert not path.get("d", "").endswith("Z")
    assert path.get("fill") == "none"
    level = [
        e
        for e in of_kind(root, "line")
        if e.get("y1") == e.get("y2") == "0.000" or e.get("y1") == e.get("y2") == "-0.000"
    ]
    assert level, "the board is drawn"


def test_a_dimension_stands_off_its_distance_and_is_as_long() -> None:
    below = Dimension((0, 0), (20, 0), "20 mm", apart=6)
    beside = Dimension((20, 0), (20, 30), "30 mm", apart=4)
    root = parsed(drawing("a square", [Shape(SQUARE)], [below, beside]))
    groups = [g for g in of_kind(root, "g") if g.get("class") == "dimension"]
    lengths = []
    for group in groups:
        line = of_kind(group, "line")[0]
        x1, y1, x2, y2 = (float(line.get(k, "0")) for k in ("x1", "y1", "x2", "y2"))
        lengths.append(((x2 - x1) ** 2 + (y2 - y1) ** 2) ** 0.5)
    assert lengths == pytest.approx([20, 30])
    first = of_kind(groups[0], "line")[0]
    assert float(first.get("y1", "0")) == pytest.approx(6.0), "six below, y turned down"
    texts = [t.text for g in groups for t in of_kind(g, "text")]
    assert texts == ["20 mm", "30 mm"]


def test_knives_laid_over_each_other_differ_by_more_than_hue() -> None:
    shapes = [Shape(SQUARE, knife=i) for i in range(6)]
    drawn = of_kind(parsed(drawing("six", shapes)), "path")
    assert [p.get("data-knife") for p in drawn] == list("ABCDEF")
    assert [p.get("stroke") for p in drawn] == list(INKS)
    assert len({p.get("stroke-dasharray") for p in drawn}) == len(set(DASHES)) == 6
    assert {p.get("fill") for p in drawn} == {"none"}


def test_words_are_escaped_and_the_scale_is_said() -> None:
    text = drawing('a <knife> & "another"', [Shape(SQUARE)], scale=5.0)
    root = parsed(text)
    assert of_kind(root, "title")[0].text == 'a <knife> & "another"'
    said = [t.text for t in of_kind(root, "text")]
    assert said == ["5 mm, drawn 5 : 1"]
    plain = parsed(drawing("a knife", [Shape(SQUARE)]))
    assert [t.text for t in of_kind(plain, "text")] == ["50 mm"]

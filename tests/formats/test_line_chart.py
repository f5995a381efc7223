"""Charts of the docs: as files, and that the figures say what the models say."""

from __future__ import annotations

import re
from xml.etree import ElementTree as ET

import pytest

from maple_rook import model_figures
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.formats.line_chart import TALL, WIDE, Axis, Line, line_chart

SVG = "{http://www.w3.org/2000/svg}"


def test_a_line_stands_where_its_numbers_are_and_names_are_kept_apart() -> None:
    axis = Axis("mm", 0, 10, (0, 5, 10))
    lines = [Line("flat", [(0, 5), (10, 5)]), Line("nearly", [(0, 5), (10, 5.1)])]
    root = ET.fromstring(line_chart("Two lines", axis, axis, lines))
    paths = [p.attrib["d"] for p in root.iter(f"{SVG}path")]
    (x1, y1), (x2, y2) = (map(float, p.split()) for p in paths[0].removeprefix("M").split("L"))
    grid = [float(g.attrib["y1"]) for g in root.iter(f"{SVG}line")]
    assert (x2 - x1 > 300, y1, y1) == (True, y2, grid[2])  # the tick at 5
    names = {t.text: float(t.attrib["y"]) for t in root.iter(f"{SVG}text")}
    assert abs(names["flat"] - names["nearly"]) >= 14


@pytest.mark.parametrize("key", sorted(model_figures.figures()))
def test_a_figure_stays_on_its_sheet_and_belongs_to_a_model(key: str) -> None:
    caption, svg = model_figures.figures()[key]
    assert key in MODEL_CARDS
    assert caption.endswith(".")
    root = ET.fromstring(svg)
    for path in root.iter(f"{SVG}path"):
        numbers = [float(n) for n in re.findall(r"-?\d+\.\d", path.attrib["d"])]
        assert all(0 <= x <= WIDE for x in numbers[::2])
        assert all(0 <= y <= TALL for y in numbers[1::2])

"""Scale cards on paper: printed at life size, and read back by the camera that needs them."""

from __future__ import annotations

import re
from xml.etree import ElementTree as ET

import numpy as np
import pypdfium2
import pytest

from maple_rook.core.geometry.scale_card import CARDS, MARKERS
from maple_rook.formats.scale_card import PAGES, card_pdf, card_svg, dark_boxes
from maple_rook.photo.markers import find_markers, pattern

DPI = 300
PX_PER_MM = DPI / 25.4


@pytest.mark.parametrize("key", list(CARDS))
def test_every_marker_is_printed_in_its_place(key: str) -> None:
    """Rendered by PDFium and found as in a photo, to a twentieth of a millimetre."""
    card = CARDS[key]
    page = pypdfium2.PdfDocument(card_pdf(card, pattern))[0]
    width, height = PAGES.get(key, (card.width_mm, card.height_mm))
    assert page.get_size() == pytest.approx((width / 25.4 * 72, height / 25.4 * 72), abs=0.1)
    grey = page.render(scale=DPI / 72, grayscale=True).to_numpy()
    found = find_markers(np.ascontiguousarray(grey.reshape(grey.shape[:2])))
    assert set(found) == {m.number for m in card.markers}
    corners = np.concatenate([(found[m.number] + 0.5) / PX_PER_MM for m in card.markers])
    drawn = np.concatenate([np.array(m.corners) for m in card.markers])
    moved = corners - drawn
    assert moved.std(axis=0).max() < 0.06
    middle = np.array([(width - card.width_mm) / 2, 4.0 if key in PAGES else 0.0])
    assert np.median(moved, axis=0) == pytest.approx(middle, abs=0.1)
    assert "Print at 100 %" in page.get_textpage().get_text_range()


def test_the_ruler_line_is_as_long_as_it_says() -> None:
    for card in CARDS.values():
        root = ET.fromstring(card_svg(card, pattern))
        assert root.get("width") == f"{card.width_mm:g}mm"
        assert root.get("viewBox") == f"0 0 {card.width_mm:g} {card.height_mm:g}"
        lines = [e.get("d", "") for e in root.iter() if e.get("stroke-width") == "0.2"]
        start, _, end = re.match(r"M([\d.]+) ([\d.]+)H([\d.]+)", lines[0]).groups()  # type: ignore[union-attr]
        assert float(end) - float(start) == pytest.approx(card.ruler_mm)
        said = " ".join(e.text or "" for e in root.iter() if e.tag.endswith("text"))
        assert f"must measure {card.ruler_mm:g} mm" in said


def test_the_drawing_and_the_page_are_the_same_boxes() -> None:
    card = CARDS["a4"]
    root = ET.fromstring(card_svg(card, pattern))
    path = next(e.get("d", "") for e in root.iter() if "crispEdges" in e.attrib.values())
    drawn = [tuple(map(float, m)) for m in re.findall(r"M([\d.]+) ([\d.]+)h([\d.]+)", path)]
    boxes = list(dark_boxes(card, pattern))
    assert np.array(drawn) == pytest.approx(np.array(boxes)[:, :3], abs=1e-3)
    dark = sum(w * h for _, _, w, h in boxes)
    cells = sum((~pattern(m.number)).sum() for m in card.markers)
    assert dark == pytest.approx(cells * (16 / 7) ** 2)
    assert all(marker.side_mm > 10 for marker in MARKERS.values())

"""Sections seen end-on: the grind that fits, and what a photo cannot resolve."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.scale_card import CARDS, print_size, scale_card
from maple_rook.core.geometry.section import section
from maple_rook.core.geometry.section_fit import EndView, end_figures, fit_grind
from maple_rook.core.measurement.grinds import Grind

HEIGHT = 46.0


def view(grind: Grind, pixel_mm: float = 0.03, lean: float = 0.02, **more: float) -> EndView:
    """A section as rows of a photo: leaning, off the line, its apex below the first."""
    made = section(
        grind,
        more.get("spine", 2.4),
        HEIGHT,
        more.get("behind", 0.3),
        more.get("angle", 14.0),
        more.get("share", 0.5),
    )
    z = np.arange(0.06, 27.0, pixel_mm)
    upright = 0.4 + lean * (z - z[0])
    chance = np.random.default_rng(2)
    noise = 0.1 * pixel_mm * chance.standard_normal((2, len(z)))
    right = made.right.half_thickness_mm(z) + upright + noise[0]
    left = made.left.half_thickness_mm(z) - upright + noise[1]
    return EndView(z - z[0], right, left, pixel_mm, 0.3 * pixel_mm, 0.002)


@pytest.mark.parametrize(
    "grind",
    [
        Grind.FULL_FLAT,
        Grind.SABRE,
        Grind.CONVEX,
        Grind.HOLLOW,
        Grind.DEEP_CONCAVE,
        Grind.TWO_ANGLE,
        Grind.SINGLE_BEVEL,
    ],
)
def test_each_family_is_known_by_its_faces(grind: Grind) -> None:
    spine = 3.4 if grind is Grind.SINGLE_BEVEL else 2.4
    angle = 11.0 if grind is Grind.SINGLE_BEVEL else 14.0
    share = 1.0 if grind is Grind.SINGLE_BEVEL else 0.5
    found = end_figures(view(grind, spine=spine, angle=angle, share=share), grind, HEIGHT)
    assert grind in found.alike
    assert "as declared" in found.verdict
    assert found.declared.rms_mm < 0.012
    made = section(grind, spine, HEIGHT, 0.3, angle, share)
    for key, above in (("thickness_5mm", 5.0), ("thickness_10mm", 10.0)):
        figure = found.figures[key]
        assert figure.value == pytest.approx(float(made.thickness_mm(above)), abs=figure.expanded)


def test_a_section_declared_flat_that_bulges_is_told() -> None:
    found = end_figures(view(Grind.CONVEX), Grind.FULL_FLAT, HEIGHT)
    assert Grind.FULL_FLAT not in found.alike
    assert "fits better than full flat, which is declared" in found.verdict


@settings(max_examples=12, deadline=None)
@given(st.floats(0.2, 0.6), st.floats(9.0, 20.0), st.floats(0.4, 0.75))
def test_edge_and_ratio_come_back(behind: float, angle: float, share: float) -> None:
    seen = view(Grind.FULL_FLAT, pixel_mm=0.02, behind=behind, angle=angle, share=share)
    fit = fit_grind(seen, Grind.FULL_FLAT, HEIGHT)
    assert fit.thickness_behind_edge_mm == pytest.approx(behind, abs=0.03)
    assert fit.angle_per_side_deg == pytest.approx(angle, abs=2.0)
    assert fit.share_right == pytest.approx(share, abs=0.06)


def test_what_is_too_thin_for_its_pixels_is_said_and_not_guessed() -> None:
    found = end_figures(view(Grind.FULL_FLAT, pixel_mm=0.09), Grind.FULL_FLAT, HEIGHT)
    assert "thickness_behind_edge" not in found.figures
    assert "pixels" in found.unresolved["thickness_behind_edge"]
    assert "thickness_10mm" in found.figures
    low = view(Grind.FULL_FLAT)
    short = EndView(low.z_mm[:200], low.right_mm[:200], low.left_mm[:200], 0.03, 0.01, 0.002)
    said = end_figures(short, Grind.FULL_FLAT, HEIGHT).unresolved
    assert "up to 6.0 mm only" in said["thickness_10mm"]
    single = view(Grind.SINGLE_BEVEL, spine=3.4, angle=11.0, share=1.0)
    shoulder = end_figures(single, Grind.SINGLE_BEVEL, HEIGHT).unresolved
    assert "without a shoulder" in shoulder["thickness_behind_edge"]


def test_a_print_is_as_large_as_its_ruler_line_says() -> None:
    assert print_size(CARDS["a4"], 98.7).factor == pytest.approx(0.987)
    assert print_size(CARDS["heel"], 50.0).relative_u == pytest.approx(0.15 / 50)
    assert print_size(CARDS["a4"], None).relative_u > print_size(CARDS["a4"], 100.0).relative_u
    with pytest.raises(InvalidValue, match="Print the card at 100 %"):
        print_size(CARDS["a4"], 71.0)  # A3 scaled to A4
    with pytest.raises(InvalidValue, match="a4, letter, a3, heel"):
        scale_card("a5")

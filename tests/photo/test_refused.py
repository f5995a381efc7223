"""A photo that cannot be measured says why, and what to change."""

from __future__ import annotations

import io
from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from PIL import Image

from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.core.prediction.built import built
from maple_rook.photo import specimen
from maple_rook.photo.heel_view import trace_heel
from maple_rook.photo.picture import Picture, picture
from maple_rook.photo.refusal import PhotoRefused, Trouble
from maple_rook.photo.side_view import Lying
from maple_rook.photo.stand_in import HeelEnd, Knife, Shot, photograph
from maple_rook.photo.taking import find_card, trace_side
from photo_survey import blade

PLAIN = Shot(width_px=1800, height_px=1350, tilt_deg=4.0)


@cache
def knife(edge_mm: float = 180.0, kind: str = "santoku", height_mm: float = 46.0) -> Knife:
    made = blade(kind, edge_mm, height_mm)
    return specimen.lying(made, outline(made.figures, kind, edge_mm), bolster=False)


@cache
def heel_end() -> HeelEnd:
    made = built(blade("gyuto", 210.0, 46.0))
    assert made is not None
    return specimen.from_the_heel(made)


def taken(shot: Shot, card: str = "a4", subject: Knife | HeelEnd | None = None) -> Picture:
    return picture(photograph(CARDS[card], subject or knife(), shot))


def refusal(seen: Picture, view: View = View.SIDE) -> PhotoRefused:
    try:
        on_card = find_card(seen, view)
        found = trace_heel(on_card) if view is View.HEEL else trace_side(on_card, Lying())
    except PhotoRefused as refused:
        return refused
    raise AssertionError(f"{found} was measured")


def changed(seen: Picture, light: np.ndarray) -> Picture:
    return replace(seen, colours=np.clip(light, 0, 255).astype(np.uint8))


@pytest.mark.parametrize(
    ("fault", "trouble"),
    [
        ({"blur_px": 9.0}, Trouble.BLURRED),
        ({"blur_px": 4.0}, Trouble.BLURRED),
        ({"glare": 1.0}, Trouble.GLARE),
        ({"aside_mm": (90.0, 30.0)}, Trouble.CARD_CUT_OFF),
        ({"aside_mm": (0.0, -95.0)}, Trouble.CARD_CUT_OFF),
        ({"tilt_deg": 48.0}, Trouble.TOO_OBLIQUE),
        ({"fill": 0.35}, Trouble.TOO_FAR),
    ],
)
def test_a_spoilt_photo_is_refused_for_what_is_wrong_with_it(
    fault: dict[str, object], trouble: Trouble
) -> None:
    refused = refusal(taken(replace(PLAIN, **fault)))  # type: ignore[arg-type]
    assert refused.trouble is trouble
    assert refused.change.endswith(".")
    assert len(refused.why) > 20


def test_what_lies_on_the_card_or_does_not() -> None:
    long = knife(258.0, "slicer", 38.0)
    assert refusal(taken(PLAIN, subject=long)).trouble is Trouble.BLADE_CUT_OFF
    off = replace(
        knife(),
        edge=[(0.0, 0.0), (0.1, 0.0)],
        spine=[(0.0, 0.1), (0.1, 0.1)],
        rear=[(0.0, 0.05)],
        handle=[(0.0, 0.0), (0.1, 0.0), (0.1, 0.1)],
    )
    assert refusal(taken(PLAIN, subject=off)).trouble is Trouble.NO_BLADE
    seen = taken(PLAIN)
    light = seen.colours.astype(float)
    light[360:460, 700:1100] = 90.0  # a ruler left lying beside the knife
    assert refusal(changed(seen, light)).trouble is Trouble.NOT_PLAIN


def test_cards_that_are_missing_dark_or_another_one() -> None:
    plain = Picture(np.full((1350, 1800, 3), 200, np.uint8), None)
    light = plain.colours.copy()
    light[500:800, 300:1500] = 90
    assert refusal(replace(plain, colours=light)).trouble is Trouble.NO_CARD
    assert refusal(changed(plain, plain.colours * 0.1)).trouble is Trouble.TOO_DARK
    dim = taken(PLAIN)
    assert refusal(changed(dim, dim.colours * 0.2)).trouble is Trouble.TOO_DARK
    assert refusal(taken(PLAIN), View.HEEL).trouble is Trouble.WRONG_CARD
    assert "A4" in refusal(taken(PLAIN), View.HEEL).seen


def test_from_the_heel() -> None:
    shot = Shot(width_px=2400, height_px=1800, fill=0.85, turn_deg=0.0, tilt_deg=2.0)
    for fault, trouble in (
        ({"tilt_deg": 30.0}, Trouble.TOO_OBLIQUE),
        ({"blur_px": 5.0}, Trouble.BLURRED),
        ({"width_px": 1000, "height_px": 750}, Trouble.TOO_FAR),
    ):
        seen = taken(replace(shot, **fault), "heel", heel_end())  # type: ignore[arg-type]
        assert refusal(seen, View.HEEL).trouble is trouble
    bare = replace(heel_end(), blacked_to_mm=0.5)
    assert refusal(taken(shot, "heel", bare), View.HEEL).trouble is Trouble.NO_BLADE


def test_the_right_card_survives_what_a_phone_does_to_it() -> None:
    """Half its markers covered by a hand, and saved once more at low quality."""
    seen = taken(replace(PLAIN, width_px=2400, height_px=1800))
    light = seen.colours.copy()
    light[:420, :900] = (90, 110, 160)
    held = io.BytesIO()
    Image.fromarray(light).save(held, "JPEG", quality=55)
    on_card = find_card(picture(held.getvalue()), View.SIDE)
    assert 9 <= on_card.markers_seen < len(on_card.card.markers)
    found = trace_side(on_card, Lying(spine_heel_mm=2.4), 100.0)
    edge = found.figures(found.proposed, Lying(spine_heel_mm=2.4))["edge_length"]
    assert edge.value == pytest.approx(180.0, abs=edge.expanded)

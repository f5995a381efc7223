"""A knife may lie on its card any way round; what is known of it makes the figures surer."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest

from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.photo_blade import even_line, laid_out, side_figures
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.photo import specimen
from maple_rook.photo.picture import Picture, picture
from maple_rook.photo.side_view import Lying, SideView
from maple_rook.photo.stand_in import Knife, Shot, photograph
from maple_rook.photo.taking import OnCard, find_card, trace_side
from photo_survey import blade

SHOT = Shot(tilt_deg=7.0, turn_deg=0.0, roll_deg=0.0, shadow=0.1)
KNOWN = Lying(spine_heel_mm=2.4, spine_tip_mm=1.2, spine_relative_u=0.05)


@cache
def knife(kind: str = "santoku", edge_mm: float = 165.0, height_mm: float = 46.0) -> Knife:
    made = blade(kind, edge_mm, height_mm)
    return specimen.lying(made, outline(made.figures, kind, edge_mm), bolster=False)


@cache
def seen(shot: Shot = SHOT, card: str = "a4", turned: str = "") -> OnCard:
    """A photo, turned as a whole: what the markers say turns with it."""
    found = picture(photograph(CARDS[card], knife(), shot))
    turns = {"": 0, "left": 1, "over": 2, "right": 3}[turned]
    return find_card(
        Picture(np.ascontiguousarray(np.rot90(found.colours, turns)), found.focal_px), View.SIDE
    )


def figures(view: SideView, lying: Lying = KNOWN) -> dict[str, tuple[float, float]]:
    found = view.figures(view.proposed, lying)
    return {key: (f.value, f.expanded) for key, f in found.items()}


@pytest.mark.parametrize("turned", ["left", "over", "right"])
def test_a_turned_photo_says_the_same(turned: str) -> None:
    upright = figures(trace_side(seen(), KNOWN, 100.0))
    found = figures(trace_side(seen(turned=turned), KNOWN, 100.0))
    for key in ("edge_length", "height_heel", "height_mid", "tip_height", "blade_length"):
        assert found[key][0] == pytest.approx(upright[key][0], abs=0.4)


@pytest.mark.parametrize("card", ["a4", "letter", "a3"])
def test_any_card_says_the_same(card: str) -> None:
    edge, expanded = figures(trace_side(seen(card=card), KNOWN, 100.0))["edge_length"]
    assert edge == pytest.approx(165.0, abs=expanded)


@pytest.mark.parametrize("turn_deg", [178.0, -25.0, 20.0])
def test_a_knife_laid_the_other_way_or_askew(turn_deg: float) -> None:
    """Handle to the right, edge away from the person; or across the card."""
    shot = replace(SHOT, turn_deg=turn_deg)
    view = trace_side(seen(shot), KNOWN, 100.0)
    found = figures(view)
    assert found["edge_length"][0] == pytest.approx(165.0, abs=found["edge_length"][1])
    assert found["height_heel"][0] == pytest.approx(46.0, abs=found["height_heel"][1])
    heel, tip = (np.array(p) for p in (view.proposed.heel, view.proposed.tip))
    across = np.degrees(np.arctan2(*(tip - heel)[::-1]))
    away = abs((across - turn_deg + 180) % 360 - 180)
    assert away < 12


def test_a_small_knife_wholly_on_the_card_is_told_from_its_handle() -> None:
    short = [(-60.0, 18.0), (-4.0, 19.0), (-2.5, 17.0), (-2.5, 5.0), (-4.0, 3.0), (-60.0, 2.0)]
    small = replace(knife("paring", 80.0, 20.0), handle=short)
    on_card = find_card(picture(photograph(CARDS["a4"], small, SHOT)), View.SIDE)
    view = trace_side(on_card, KNOWN, 100.0)
    edge, expanded = figures(view)["edge_length"]
    assert edge == pytest.approx(80.0, abs=max(expanded, 1.0))


def test_a_thick_spine_seen_from_the_side_is_cleared_of_its_own_parallax() -> None:
    """7 mm of spine at 22 degrees show 1.4 mm of side face, which is not height."""
    thick = replace(knife(), spine_heel_mm=7.0, spine_tip_mm=5.0)
    shot = replace(SHOT, tilt_deg=22.0, towards_deg=-90.0)
    on_card = find_card(picture(photograph(CARDS["a4"], thick, shot)), View.SIDE)
    told = Lying(spine_heel_mm=7.0, spine_tip_mm=5.0, spine_relative_u=0.05)
    height, expanded = figures(trace_side(on_card, told, 100.0), told)["height_heel"]
    assert height == pytest.approx(46.0, abs=expanded)
    thin = figures(trace_side(on_card, KNOWN, 100.0), KNOWN)["height_heel"][0]
    assert abs(thin - 46.0) > 2 * abs(height - 46.0)


def test_a_blade_held_up_is_measured_where_it_is() -> None:
    """8 mm above the card a blade looks larger, by 8 mm over the camera's height above it."""
    shot = replace(SHOT, stand_off_mm=8.0)
    told = replace(KNOWN, stand_off_mm=8.0, stand_off_u_mm=1.6)
    edge, expanded = figures(trace_side(seen(shot), told, 100.0), told)["edge_length"]
    assert edge == pytest.approx(165.0, abs=expanded)
    untold = figures(trace_side(seen(shot), KNOWN, 100.0))["edge_length"][0]
    away = -float(seen(shot).camera.place_mm[2])
    assert untold - edge == pytest.approx(165 * 8 / (away - 8), abs=0.6)


def test_what_is_known_better_makes_the_interval_narrower() -> None:
    on_card = seen()
    unchecked = figures(trace_side(on_card, KNOWN))["edge_length"][1]
    checked = figures(trace_side(on_card, KNOWN, 100.0))["edge_length"][1]
    assert checked < 0.9 * unchecked
    vague = replace(KNOWN, stand_off_u_mm=2.0)
    assert figures(trace_side(on_card, vague, 100.0), vague)["edge_length"][1] > 1.5 * checked
    low = find_card(
        picture(photograph(CARDS["a4"], knife(), replace(SHOT, width_px=1400, height_px=1050))),
        View.SIDE,
    )
    coarse = figures(trace_side(low, KNOWN, 100.0))["height_mid"][1]
    assert coarse > figures(trace_side(on_card, KNOWN, 100.0))["height_mid"][1]
    shares = trace_side(on_card, KNOWN, 100.0)
    parts = shares.figures(shares.proposed, KNOWN)["edge_length"].shares
    assert set(parts) <= {"card", "print", "plane", "thickness", "pixels"}
    assert sum(parts.values()) == pytest.approx(1, abs=0.02)


def test_an_end_of_the_handle_gives_the_whole_knife() -> None:
    view = trace_side(seen(), KNOWN, 100.0)
    (heel,) = view.camera.to_mm([view.proposed.heel], KNOWN.middle_mm)
    behind = heel - 20 * view.frame.along + 25 * view.frame.up
    ((x, y),) = view.camera.to_pixels([behind], KNOWN.middle_mm).tolist()
    found = view.figures(replace(view.proposed, butt=(x, y)), KNOWN)
    whole = found["overall_length"].value
    assert whole == pytest.approx(165.0 + 20, abs=2.5)
    assert found["handle_length"].value == pytest.approx(whole - found["blade_length"].value, abs=1)


def test_small_waves_of_a_trace_are_smoothed_and_its_ends_stand() -> None:
    x = np.linspace(0, 200, 400)
    wavy = np.column_stack([x, 0.08 * np.sin(2 * np.pi * x / 3.0)])
    line = even_line(wavy, np.array([0.0, 0.0]), np.array([200.0, 6.0]))
    assert tuple(line[0]) == (0.0, 0.0)
    assert tuple(line[-1]) == (200.0, 6.0)
    assert np.abs(line[20:-20, 1]).max() < 0.02
    hollow = np.column_stack([x, 0.6 * np.exp(-(((x - 80) / 15) ** 2))])
    spine = np.column_stack([x, np.full_like(x, 40.0)])
    kept = even_line(hollow, hollow[0], hollow[-1])
    gap = side_figures(laid_out(kept, spine), None, None)["edge_gap"]
    assert gap == pytest.approx(0.6, abs=0.03)  # a real hollow is not smoothed away

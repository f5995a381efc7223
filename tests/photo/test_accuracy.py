"""Known knives, photographed by the simulated camera and measured: true within what is stated."""

from __future__ import annotations

import itertools

import pytest

from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from photo_survey import GRINDS, SHOTS_EACH, Found, Row, summary, survey

COVERED = 0.90
HEIGHTS = ("height_heel", "height_mid", "height_front")


@pytest.fixture(scope="module")
def sides() -> dict[str, Row]:
    """Every type of outline, tilted up to 25 degrees, under uneven light, blurred and noisy."""
    photos = survey(SHOTS_EACH * len(KNIFE_TYPES))
    assert len(photos) >= 60
    assert {one.subject for of in photos for one in of} == {k.label for k in KNIFE_TYPES.values()}
    return {row.quantity: row for row in summary(itertools.chain.from_iterable(photos))}


def test_lengths_heights_and_the_flat_are_as_true_as_promised(sides: dict[str, Row]) -> None:
    assert sides["edge_length"].median_error < 0.5
    assert max(sides[key].median_error for key in HEIGHTS) < 0.3
    assert sides["flat_length"].median_error < 3
    assert sides["tip_height"].median_error < 0.5


def test_stated_intervals_cover_the_truth(sides: dict[str, Row]) -> None:
    missed = {key: row.covered for key, row in sides.items() if row.covered < COVERED}
    assert not missed
    assert sides["blade_length"].photos > 55  # the handle joint is found on nearly all


def test_intervals_are_no_wider_than_they_need_be(sides: dict[str, Row]) -> None:
    assert sides["edge_length"].median_expanded < 1.5
    assert max(sides[key].median_expanded for key in HEIGHTS) < 0.5


@pytest.fixture(scope="module")
def heels() -> list[Found]:
    return list(itertools.chain.from_iterable(survey(2 * len(GRINDS), "heel")))


def test_a_section_from_the_heel_is_true_to_hundredths(heels: list[Found]) -> None:
    rows = {row.quantity: row for row in summary(heels)}
    assert set(rows) == {
        "thickness_1mm",
        "thickness_5mm",
        "thickness_10mm",
        "thickness_behind_edge",
    }
    assert max(row.p95_error for row in rows.values()) < 0.04
    assert min(row.covered for row in rows.values()) >= COVERED
    assert {one.subject for one in heels} == {grind.value for grind in GRINDS}

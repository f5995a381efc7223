"""One set of colours: paper, drawings and public pages have those of the screens."""

from __future__ import annotations

import re

import pytest

from maple_rook.formats import inks
from maple_rook.settings import PROJECT_ROOT

TOKENS = (PROJECT_ROOT / "web/src/theme/tokens.css").read_text()
LIGHT, DARK = TOKENS.split("[data-scheme='rook']")


def told(css: str) -> dict[str, str]:
    return {name: value.lower() for name, value in re.findall(r"--([\w-]+): ?(#\w{6})", css)}


def test_paper_has_the_inks_of_the_light_scheme() -> None:
    light = told(LIGHT)
    assert tuple(light[f"knife-{letter}"] for letter in "abcdef") == inks.INKS
    assert {
        "ink": inks.INK,
        "soft-ink": inks.SOFT,
        "hairline": inks.HAIRLINE,
        "panel": inks.PAPER,
        "rust": inks.RUST,
        "predicted": inks.PLUM,
        "measured": inks.PATINA,
    }.items() <= light.items()


@pytest.mark.parametrize(
    ("place", "of", "names"),
    [
        (
            "src/maple_rook/stations/exchange/templates/knife.html",
            (LIGHT, DARK),
            ("ground", "panel", "ink", "hairline", "measured", "predicted", "rust"),
        ),
        (
            "web/src/theme/vuetify.ts",
            (LIGHT, DARK),
            ("ground", "panel", "measured", "derived", "rust", "ink"),
        ),
    ],
)
def test_public_pages_and_components_have_the_colours_of_both_schemes(
    place: str, of: tuple[str, str], names: tuple[str, ...]
) -> None:
    there = (PROJECT_ROOT / place).read_text().lower()
    for scheme in of:
        for name in names:
            assert told(scheme)[name] in there, f"{name} in {place}"

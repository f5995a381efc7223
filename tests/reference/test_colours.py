"""Colours that carry a meaning, told apart by eyes that lack one of the cones."""

from __future__ import annotations

import itertools
import re

import numpy as np
import pytest
from colorspacious import cspace_convert

from maple_rook.settings import PROJECT_ROOT

TOKENS = (PROJECT_ROOT / "web/src/theme/tokens.css").read_text()
LEAST_APART = 10.0
"""In CAM02-UCS, where 1 is about the least difference that is seen side by side."""


def tokens(scheme: str) -> dict[str, np.ndarray]:
    light, dark = TOKENS.split(":root[data-scheme='rook']")
    said = light if scheme == "maple" else dark.split("}")[0]
    return {
        name: np.array([int(code[i : i + 2], 16) for i in (0, 2, 4)]) / 255
        for name, code in re.findall(r"--([\w-]+): #([0-9a-f]{6})", said)
    }


def as_seen(colour: np.ndarray, kind: str | None) -> np.ndarray:
    """CAM02-UCS of a colour for eyes without one of the cones.

    Simulated after Machado, Oliveira and Fernandes 2009, "A physiologically-based model for
    simulation of color vision deficiency", severity 100 %, as colorspacious has it.
    """
    if kind is not None:
        space = {"name": "sRGB1+CVD", "cvd_type": kind, "severity": 100}
        colour = np.clip(cspace_convert(colour, space, "sRGB1"), 0, 1)
    return np.asarray(cspace_convert(colour, "sRGB1", "CAM02-UCS"))


@pytest.mark.parametrize("scheme", ["maple", "rook"])
@pytest.mark.parametrize("kind", [None, "protanomaly", "deuteranomaly", "tritanomaly"])
def test_colours_that_are_told_apart_stay_apart(scheme: str, kind: str | None) -> None:
    """The six knives, and what is measured, derived, predicted or wrong."""
    of = tokens(scheme)
    groups = (
        [f"knife-{letter}" for letter in "abcdef"],
        ["measured", "derived", "predicted", "rust"],
    )
    for group in groups:
        for one, other in itertools.combinations(group, 2):
            apart = np.linalg.norm(as_seen(of[one], kind) - as_seen(of[other], kind))
            assert apart > LEAST_APART, f"{one} and {other}: {apart:.1f}"

"""Invented knives and customers' profiles for the tests of what is advised."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from hypothesis import strategies as st

from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Grip,
    Hand,
    Heft,
    Motion,
    Ratio,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.deciding import FIGURES
from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    FoodMix,
    Kitchen,
    RodSchool,
    Technique,
    Use,
)
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade

profiles = st.builds(
    CustomerProfile,
    kitchen=st.builds(
        Kitchen,
        st.sampled_from(Use),
        st.sampled_from(BoardMaterial),
        st.sampled_from(Technique),
        st.booleans(),
        st.sampled_from(FoodMix),
    ),
    size=st.sampled_from(Size),
    motion=st.sampled_from(Motion),
    hand=st.sampled_from(Hand),
    grip=st.sampled_from(Grip),
    bone=st.sampled_from(Bone),
    rods=st.sampled_from(RodSchool),
    care=st.sampled_from(Care),
    tools=st.sampled_from(Tools),
    skill=st.sampled_from(Skill),
    heft=st.sampled_from(Heft),
    school=st.sampled_from(School),
    ratio=st.sampled_from(Ratio),
)


def knife(
    steel: str = "1.4112", hrc: float = 60.0, price: float | None = 150.0, **changes: object
) -> Candidate:
    figures = {
        "hardness": Figure(hrc, 0.4),
        "edge_angle": Figure(14.0, 0.4),
        "spine_heel": Figure(2.1, 0.02),
        "height_heel": Figure(46.0, 0.1),
        "edge_length": Figure(210.0, 0.5),
        "weight": Figure(180.0, 1.0),
    }
    blade = Blade(figures, steel=STEELS[steel])
    return Candidate(replace(blade, **changes), price, "riveted, acetal")  # type: ignore[arg-type]


def single_bevel(right_share: float) -> Candidate:
    plain = knife("C105U", 61.0)
    figures = {**plain.blade.figures, "asymmetry": Figure(right_share, 1.0)}
    blade = replace(plain.blade, figures=figures, grind=Grind.SINGLE_BEVEL)
    return replace(plain, blade=blade)


def thin() -> Candidate:
    """A knife ground to 11 degrees a side."""
    plain = knife()
    figures = {**plain.blade.figures, "edge_angle": Figure(11.0, 0.3)}
    return replace(plain, blade=replace(plain.blade, figures=figures))


def vague(hrc: float) -> Candidate:
    """A knife whose hardness was read on a poor tester."""
    plain = knife()
    figures = {**plain.blade.figures, "hardness": Figure(hrc, 3.0)}
    return replace(plain, blade=replace(plain.blade, figures=figures))


class Shown:
    """Knives whose ease and months are given, with so much relative scatter in the draws."""

    def __init__(
        self,
        knives: Sequence[Candidate],
        ease: Sequence[float],
        months: Sequence[float],
        spread: float = 0.02,
    ) -> None:
        self.knives = [replace(k, blade=replace(k.blade, seed=i)) for i, k in enumerate(knives)]
        self.central = dict(
            zip(
                FIGURES, (np.array(ease), np.array(months), np.full(len(knives), 40.0)), strict=True
            )
        )
        self.spread = spread

    def some(self, at: Sequence[int]) -> list[Candidate]:
        return [self.knives[i] for i in at]

    def drawn(self, some: Sequence[Candidate], _: CustomerProfile) -> Mapping[str, Array]:
        at = [knife.blade.seed for knife in some]
        noise = np.random.default_rng(2).normal(0, self.spread, (3, len(self.knives), 800))
        return {
            key: (self.central[key][:, None] * np.exp(noise[i]))[at]
            for i, key in enumerate(FIGURES)
        }

"""Knives that may be offered, and what decides about them in columns: one number a knife.

The columns let ten thousand knives be ruled on and scored at once.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from maple_rook.core.choosing.customer import CustomerProfile, Ratio
from maple_rook.core.edge_life.retention import holds_an_edge
from maple_rook.core.edge_life.steels import SHARPENS, Reactivity
from maple_rook.core.geometry.edge import UNEVEN_PERCENT, AsymmetrySchool
from maple_rook.core.measurement.hardness import MINIMUM_HARDENED_HRC
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.finish_work import FinishState, Shelf

NEEDED = {
    "hardness": "hardness",
    "edge_angle": "edge angle",
    "spine_heel": "spine at heel",
    "height_heel": "height at heel",
}
"""What must be measured before a knife is advised to anybody."""
REACTIVITIES = tuple(Reactivity)


@dataclass(frozen=True)
class Candidate:
    """A knife that may be offered: the blade, what it costs, and what the shop's record says of it.

    ``finish`` is what the shop found of it, ``contradicted`` what is printed of it and measures
    otherwise, in words; ``reserved`` is one that waits for somebody.
    """

    blade: Blade
    price: float | None = None
    handle: str = ""
    finish: FinishState = field(default_factory=FinishState)
    used: bool = False
    reserved: bool = False
    contradicted: tuple[str, ...] = ()

    @property
    def uneven(self) -> bool:
        """Whether a double bevel is ground plainly more on one side."""
        found = self.blade.figures.get("asymmetry")
        off = found is not None and abs(found.mean - 50) >= UNEVEN_PERCENT
        return off and not self.blade.single_bevel

    @property
    def washable(self) -> bool:
        """Whether the handle bears hot water: moulded plastic or acetal (common practice)."""
        return any(material in self.handle for material in ("acetal", "moulded"))

    def read_as(self, ratio: Ratio) -> Candidate:
        """The same knife with its ratio read by another school; strokes compute nothing."""
        if ratio is Ratio.RECORDED or self.blade.school is None or not self.uneven:
            return self
        school = AsymmetrySchool.WIDTH if ratio is Ratio.WIDTH else AsymmetrySchool.ANGLE
        return replace(self, blade=replace(self.blade, school=school))


class Traits(NamedTuple):
    """One number a knife, or an array (n,) of them; NaN where there is none, 1 and 0 for yes, no.

    Lengths mm, weight g, hardness HRC, toughness at 60 HRC in MPa sqrt(m), angle half the inclusive
    one at the apex, degrees; ``rocks`` and ``chops`` are shares of the edge,
    :func:`maple_rook.core.geometry.profile.motion_of`.
    ``refused`` by the models and ``lacking`` a measurement are advised to nobody, no more than what
    ``goes_back``, is ``not_for_sale`` or ``reserved``.
    """

    refused: Array
    lacking: Array
    steel: Array
    hardened: Array
    hardness: Array
    toughness_60: Array
    half_angle: Array
    single_bevel: Array
    left_handed: Array
    reactivity: Array
    sharpens: Array
    washable: Array
    price: Array
    weight: Array
    edge_length: Array
    height: Array
    spine: Array
    handle_length: Array
    balance: Array
    rocks: Array
    chops: Array
    for_bone: Array
    used: Array
    needs_work: Array
    goes_back: Array
    not_for_sale: Array
    reserved: Array

    def some(self, at: Sequence[int] | NDArray[np.int64]) -> Traits:
        """The columns of some of the knives."""
        return Traits(*(column[at] for column in self))


Row = tuple[float, ...]
"""One knife's numbers in the order of :class:`Traits`."""


def row(knife: Candidate) -> Row:
    """What decides about one knife."""
    blade = knife.blade
    hardness = blade.hardness
    lacking = [key for key in NEEDED if key not in blade.usable]
    fit = not blade.refused and not lacking and hardness is not None
    hrc = hardness.mean if hardness else math.nan
    soft = hardness is not None and hardness.mean + hardness.expanded < MINIMUM_HARDENED_HRC
    steel = blade.steel
    rocks, chops = blade.motion if fit else (math.nan, math.nan)
    shelf = knife.finish.shelf

    def mean(key: str) -> float:
        found = blade.inputs.get(key) if fit else None
        return found.figure.mean if found else math.nan

    return (
        bool(blade.refused),
        not fit,
        steel is not None,
        hardness is not None and not soft and bool(holds_an_edge(hrc)),
        hrc,
        blade.toughness_60,
        mean(blade.apex_key) / (2 if blade.single_bevel else 1),
        blade.single_bevel,
        blade.left_handed,
        REACTIVITIES.index(steel.reactivity if steel else Reactivity.REACTIVE),
        SHARPENS.get(steel.sharpening, 0.7) if steel else math.nan,
        knife.washable,
        math.nan if knife.price is None else knife.price,
        *(
            mean(key)
            for key in (
                "weight",
                "edge_length",
                "height_heel",
                "spine_heel",
                "handle_length",
                "balance_point",
            )
        ),
        rocks,
        chops,
        blade.for_bone,
        knife.used,
        shelf is Shelf.NEEDS_WORK,
        shelf is Shelf.RETURN or bool(knife.finish.unsafe),
        shelf is Shelf.KEPT,
        knife.reserved,
    )


NEEDS_WORK, USED = (Traits._fields.index(name) for name in ("needs_work", "used"))
"""Places in a row."""


def stacked(rows: Sequence[Row]) -> Traits:
    """The columns of many knives."""
    table = np.array(rows, dtype=float).reshape(len(rows), len(Traits._fields))
    return Traits(*np.ascontiguousarray(table.T))


def traits(knives: Sequence[Candidate]) -> Traits:
    """The columns of these knives."""
    return stacked([row(knife) for knife in knives])


def read_by(profile: CustomerProfile, knives: Sequence[Candidate]) -> list[Candidate]:
    """The knives with their ratios read by the profile's school."""
    return [knife.read_as(profile.ratio) for knife in knives]

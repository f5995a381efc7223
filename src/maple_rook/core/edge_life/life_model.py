"""The edge-life models a prediction is computed with: coefficients, and what trials taught."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import lru_cache

import numpy as np

from maple_rook.core.edge_life.calibration import Posterior, prior
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.steels import GradeClass
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients, spread
from maple_rook.core.measurement.uncertainty import Array


class Basis(StrEnum):
    """What the edge life is computed with."""

    PUBLISHED = "published"
    CALIBRATED = "calibrated"


TRIED = ("card_test", "days_to_rod", "months_to_stone")
"""The predictions a shop's trials calibrate, by model card."""


KitchenKey = tuple[str, str, str]
"""Use, board and technique of a kitchen, by their codes."""


def kitchen_key(kitchen: Kitchen) -> KitchenKey:
    return (kitchen.use.value, kitchen.board.value, kitchen.technique.value)


@dataclass(frozen=True)
class Own:
    """What a knife's own trials say of it: mean and sd of ln(true / published), and what they saw.

    ``sd_after_one_more`` is what one more trial of it would leave. A kitchen log says so of the
    ``kitchens`` it was kept in; there are none of a card test.
    """

    mean: float
    sd: float
    sd_after_one_more: float
    observed: float
    trials: int
    kitchens: frozenset[KitchenKey] = frozenset()

    def counts_in(self, kitchen: Kitchen) -> bool:
        return not self.kitchens or kitchen_key(kitchen) in self.kitchens


@dataclass(frozen=True)
class Offsets:
    """By blade (n, 1): means and standard deviations of the logarithms that are added.

    ``shop`` concerns the shop's own card tests, ``steel`` the class of the grade, and so months to
    the stone too; ``card`` is the scatter between knives. Rod and stone carry theirs together with
    the spread between kitchens.
    """

    shop: tuple[Array, Array]
    steel: tuple[Array, Array]
    card: float
    rod: tuple[Array, Array]
    stone: tuple[Array, Array]


@dataclass(frozen=True, eq=False)
class LifeModel:
    """Coefficients, and the posterior of each calibrated prediction (the prior if published).

    Equal only to itself.
    """

    coefficients: Coefficients
    posteriors: Mapping[str, Posterior]
    basis: Basis = Basis.PUBLISHED
    own: Mapping[int, Mapping[str, Own]] = field(default_factory=dict)
    """Own trials by the knife's seed and the prediction; they go before shop and class."""

    def own_of(self, seed: int, target: str, kitchen: Kitchen) -> Own | None:
        """What a knife's own trials say of a prediction in a kitchen, if there are any."""
        found = self.own.get(seed, {}).get(target)
        return found if found is not None and found.counts_in(kitchen) else None

    @property
    def pieces(self) -> int:
        """How many pieces' trials it rests on."""
        return sum(p.pieces for p in self.posteriors.values())

    def says_as(self, other: LifeModel) -> bool:
        """Whether every prediction comes out the same with the other."""
        return (
            self.coefficients == other.coefficients
            and self.own == other.own
            and all(
                np.array_equal(mine.mean, theirs.mean)
                and np.array_equal(mine.covariance, theirs.covariance)
                and (mine.a, mine.b) == (theirs.a, theirs.b)
                for mine, theirs in ((self.posteriors[k], other.posteriors[k]) for k in TRIED)
            )
        )

    def offsets(self, classes: Sequence[GradeClass]) -> Offsets:
        """The offsets of blades whose steels are of these classes."""
        card, rod, stone = (self.posteriors[key] for key in TRIED)
        each = {c: _of_class(card, rod, stone, c) for c in dict.fromkeys(classes)}
        shop, steel, rods, stones = (
            (column[:, :1], column[:, 1:])
            for column in np.array([each[c] for c in classes]).swapaxes(0, 1)
        )
        return Offsets(shop, steel, card.scatter, rods, stones)


def _of_class(
    card: Posterior, rod: Posterior, stone: Posterior, grade_class: GradeClass
) -> list[tuple[float, float]]:
    of_class = card.class_mean(grade_class)
    shop = (card.offset(grade_class)[0] - of_class, card.shared_sd)
    kitchens = [
        (mean, math.hypot(sd, found.scatter))
        for found in (rod, stone)
        for mean, sd in (found.offset(grade_class),)
    ]
    return [shop, (of_class, card.own_sd(grade_class)), *kitchens]


@lru_cache(maxsize=32)
def uncalibrated(coefficients: Coefficients) -> LifeModel:
    """The models before any trial.

    The published interval of a kitchen figure, a factor of 1.6 either way, is the offset (25 %)
    and the spread between kitchens together.
    """
    c = coefficients
    kitchens = prior(math.sqrt(spread(c.kitchen_factor) ** 2 - c.offset_sd**2), c.offset_sd)
    return LifeModel(
        c,
        {
            "card_test": prior(c.tcc_scatter, c.offset_sd),
            "days_to_rod": kitchens,
            "months_to_stone": kitchens,
        },
    )


PUBLISHED_LIFE = uncalibrated(PUBLISHED)

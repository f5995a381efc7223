"""Another edge, or a thinner blade, in words: what it gives and what it costs."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from maple_rook.core.cutting.foods import STROKES, Food
from maple_rook.core.cutting.force import forces_n
from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.edge_life.stability import Margin
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.explanation import Prediction

SAME_PERCENT = 1.0
"""A change smaller than this is called the same."""
Predictions = Mapping[str, Prediction]


def in_words(
    blades: tuple[Blade, Blade],
    predictions: tuple[Predictions, Predictions],
    margins: tuple[Margin | None, Margin | None],
    foods: Sequence[Food],
) -> list[str]:
    """What changes from the first to the second, a sentence each; only what is predicted of both.

    Parameters
    ----------
    blades : before and after.
    predictions : of both, by key.
    margins : of both, for the work that is meant.
    foods : what is cut.
    """
    return [
        *_bite(blades, foods),
        *_ease(predictions),
        *_stone(predictions),
        *_margin(*margins),
    ]


def bite_changes(blades: tuple[Blade, Blade], foods: Sequence[Food]) -> dict[str, float] | None:
    """How much less force the second needs to bite, per cent of the first's, by food label."""
    bites = []
    for blade in blades:
        made = built(blade)
        if made is None:
            return None
        edge, radius = blade.inputs["edge_length"].figure.mean, blade.edge_radius_um.mean
        found = forces_n(made.cuts, foods, (STROKES["push"],), [radius], edge)[0]
        bites.append(np.reshape(found.bite, len(foods)))
    less = 100 * (1 - bites[1] / bites[0])
    return dict(zip((food.label for food in foods), less.tolist(), strict=True))


def _bite(blades: tuple[Blade, Blade], foods: Sequence[Food]) -> Iterator[str]:
    changes = bite_changes(blades, foods)
    if not changes:
        return
    least, most = min(changes.values(), key=abs), max(changes.values(), key=abs)
    where = max(changes, key=lambda food: abs(changes[food]))
    if abs(most) < SAME_PERCENT:
        yield "Bites as before."
        return
    way = "easier" if most > 0 else "harder"
    if least * most < 0 or round(abs(least)) == round(abs(most)):
        yield f"Bites {abs(most):.0f} % {way} in {where}."
    else:
        yield f"Bites {abs(least):.0f} to {abs(most):.0f} % {way}, most in {where}."


def _percent(predictions: tuple[Predictions, Predictions], key: str) -> float | None:
    before, after = (p[key].central if key in p else None for p in predictions)
    if not before or after is None:
        return None
    return 100 * (after / before - 1)


def _ease(predictions: tuple[Predictions, Predictions]) -> Iterator[str]:
    fresh, worn = (_percent(predictions, key) for key in ("cutting_ease", "worn_ease"))
    if fresh is None or worn is None:
        return
    if max(abs(fresh), abs(worn)) < SAME_PERCENT:
        yield "Cuts through as before, fresh and half way to the stone."
        return
    yield f"Cuts {_eased(fresh)} fresh, {_eased(worn)} half way to the stone."


def _eased(percent: float) -> str:
    if abs(percent) < SAME_PERCENT:
        return "as before"
    return f"{abs(percent):.0f} % {'easier' if percent > 0 else 'harder'}"


def _stone(predictions: tuple[Predictions, Predictions]) -> Iterator[str]:
    before, after = (
        p["months_to_stone"].central if "months_to_stone" in p else None for p in predictions
    )
    if before is None or after is None:
        return
    weeks = (after - before) * DAYS_IN_MONTH / 7
    if abs(weeks) < 1:
        yield "The stone falls due when it did."
        return
    way = "later" if weeks > 0 else "sooner"
    about = round(abs(weeks))
    yield f"The stone falls due {about} week{'s' if about > 1 else ''} {way}."


def _margin(before: Margin | None, after: Margin | None) -> Iterator[str]:
    if before is None or after is None:
        return
    was, now = before.least, after.least
    if abs(now / was - 1) * 100 < SAME_PERCENT:
        return
    hand = f", with {'less' if now < was else 'more'} in hand" * (before.words == after.words)
    work = after.style.label.capitalize()
    yield f"{work}: bears {now:.1f} times its load, before {was:.1f}; {after.words}{hand}."

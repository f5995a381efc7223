"""A prediction in full: interval, where it comes from, what it rests on, what to measure next."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from maple_rook.core.cutting.foods import Food
from maple_rook.core.cutting.force import BOTH_HANDS_LIMIT_N, ONE_HAND_LIMIT_N
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import Kitchen, Technique, tcc_range_notes
from maple_rook.core.edge_life.stability import lasting_share
from maple_rook.core.geometry.edge import steering
from maple_rook.core.geometry.solid import LEAST_HANDLE_SIDE_G
from maple_rook.core.measurement.coefficients import PUBLISHED
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import (
    Array,
    Figure,
)
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.core.prediction.blade import Blade, Input, Origin
from maple_rook.core.prediction.evaluate import OF_ONE_CUT, STEERED_FOOD, Target, strop_days
from maple_rook.core.prediction.inputs import (
    FIGURE_INPUTS,
    INPUTS,
    INTERVAL_TO_U,
    SHARED_INPUTS,
    inferred,
    missing,
    unavailable,
)
from maple_rook.core.prediction.model_card import ModelCard
from maple_rook.core.prediction.model_cards import PREDICTED, card
from maple_rook.core.prediction.next_step import NextStep, NextSteps

GIVES_FIRST = 0.9
"""Share of its wear life at which an edge is said to give before it wears."""


@dataclass(frozen=True, slots=True)
class Contribution:
    """An input of a prediction and the share of the variance that goes with it."""

    key: str
    label: str
    share: float
    value: str


@dataclass(frozen=True, slots=True)
class Prediction:
    """A number that explains itself; ``central`` is None where ``unavailable`` says why."""

    key: str
    label: str
    unit: str
    card: ModelCard
    central: float | None
    low: float | None
    high: float | None
    contributions: tuple[Contribution, ...]
    notes: tuple[str, ...]
    measure_next: NextStep | None
    unavailable: str | None

    @property
    def own_figure(self) -> Figure | None:
        """The value with the uncertainty that is this knife's own.

        What varies alike for every knife compared (food, kitchen) is left out, since it cannot
        change which of two knives is ahead.
        """
        if self.central is None or self.low is None or self.high is None:
            return None
        shared = sum(c.share for c in self.contributions if c.key in SHARED_INPUTS)
        total = (self.high - self.low) / INTERVAL_TO_U
        return Figure(self.central, total * math.sqrt(max(0.0, 1 - shared)))


Label = tuple[str, str]
"""Key and label of an input."""


@dataclass(frozen=True)
class OfCard:
    """What the predictions of one blade by one model card share."""

    refusal: str | None
    lacking: list[str]
    guessed: tuple[str, ...]
    named: frozenset[str]
    closing: tuple[str, ...]


@dataclass(frozen=True)
class Explained:
    """What the predictions of one blade share: input texts, what its cards share, next steps."""

    inputs: list[str]
    cards: dict[str, OfCard]
    steps: NextSteps
    foods: dict[str, str]


def explained_of(
    blade: Blade, life: LifeModel, foods: Sequence[Food], kitchen: Kitchen
) -> Explained:
    """What is said of one blade, calculated once for all its predictions."""
    said_only = _said_only(blade)
    return Explained(
        _input_texts(blade, life),
        {key: _of_card(blade, key, life, kitchen, said_only) for key in PREDICTED},
        NextSteps(blade, life),
        {"": food_words(foods), **{f.key: food_words([f]) for f in foods}},
    )


def food_words(foods: Sequence[Food]) -> str:
    """What the foods rest on: assumed, or cut trials of the shop.

    >>> from maple_rook.core.cutting.foods import FOODS
    >>> food_words([FOODS["carrot"]])
    "From assumed foods; cut trials put the shop's own in their place."
    """
    tried = [f for f in foods if f.knives_tried]
    if not tried:
        return "From assumed foods; cut trials put the shop's own in their place."
    knives = max(f.knives_tried for f in tried)
    of = f"cut trials of this shop ({knives} {'knife' if knives == 1 else 'knives'})"
    if len(tried) == len(foods):
        return f"Foods from {of}."
    named = ", ".join(f.label for f in tried)
    return f"{named[0].upper()}{named[1:]} from {of}, the other foods assumed."


def _of_card(
    blade: Blade,
    key: str,
    life: LifeModel,
    kitchen: Kitchen,
    said_only: list[tuple[Origin, list[Label]]],
) -> OfCard:
    refusal, lacking = unavailable(blade, key, kitchen.rods), missing(blade, key)
    if refusal:
        if key == "days_to_rod" and not lacking and not blade.refused:
            refusal = " ".join((refusal, *_strop_instead(blade, kitchen, life)))
        return OfCard(refusal, lacking, (), frozenset(), ())
    guessed = tuple(inferred(blade, key))
    labels = dict(INPUTS)
    of_type = [k for k in guessed if k != "hardness"]
    closing = (
        *_not_measured(key, said_only),
        *(
            [f"Inferred from type and grind: {', '.join(labels[k] for k in of_type)}."]
            if of_type
            else []
        ),
        *([_hardness_note(blade)] if "hardness" in guessed else []),
        *_own_note(blade, key, life, kitchen),
        *_calibrated_note(blade, key, life, kitchen),
        *(_gives_first(blade, kitchen.technique) if key == "months_to_stone" else ()),
    )
    return OfCard(refusal, lacking, guessed, frozenset((*PREDICTED[key].needs, *guessed)), closing)


def explained_prediction(
    blade: Blade,
    target: Target,
    explained: Explained,
    central: float,
    low: float,
    high: float,
    shares: list[float],
) -> Prediction:
    """One prediction with interval, contributions and notes, or the reason why there is none.

    Parameters
    ----------
    blade : the blade.
    target : what is predicted.
    explained : what all predictions of the blade share.
    central : likely value.
    low : 5 % limit.
    high : 95 % limit.
    shares : share of the variance by input.
    """
    model, of_card = card(target.card), explained.cards[target.card]
    if of_card.refusal:
        return Prediction(
            target.key,
            target.label,
            model.unit,
            model,
            None,
            None,
            None,
            (),
            (),
            NextStep(of_card.lacking[0], False, 1.0) if of_card.lacking else None,
            of_card.refusal,
        )
    used = _contributions(of_card.named, explained.inputs, shares)
    step = explained.steps.best(target.card, ((c.key, c.share) for c in used))
    return Prediction(
        target.key,
        target.label,
        model.unit,
        model,
        central,
        low,
        high,
        used,
        (*_notes(blade, target.card, central), *of_card.closing, *_of_food(target, explained)),
        step,
        None,
    )


def _of_food(target: Target, explained: Explained) -> Iterator[str]:
    """What the food of a force rests on, or all foods of an index."""
    if target.card == "cutting_force":
        yield explained.foods.get(target.key.split(".")[1], explained.foods[""])
    elif target.card in OF_ONE_CUT:
        yield explained.foods.get(STEERED_FOOD, explained.foods[""])
    elif PREDICTED[target.card].of_foods:
        yield explained.foods[""]


def _strop_instead(blade: Blade, kitchen: Kitchen, life: LifeModel) -> Iterator[str]:
    """How often an edge is stropped that no rod may touch."""
    days = strop_days(blade, kitchen, life)
    if days is not None:
        yield f"Strop it, about every {max(1.0, days):.0f} days."


def _gives_first(blade: Blade, technique: Technique) -> Iterator[str]:
    """That an edge gives before it wears, where its margin costs it a tenth or more of its life."""
    margin = blade.margin(technique)
    share = float(lasting_share(margin))
    if share <= GIVES_FIRST:
        yield (
            f"Gives before it wears: the edge bears {margin:.1f} times its usual load, which "
            f"leaves {100 * share:.0f} % of what its wear alone would give."
        )


def _own_note(blade: Blade, card_key: str, life: LifeModel, kitchen: Kitchen) -> Iterator[str]:
    """That a prediction comes from the knife's own trials."""
    own, card_test = (life.own_of(blade.seed, key, kitchen) for key in (card_key, "card_test"))
    unit = card(card_key).unit
    if own is not None:
        what = "card test" if card_key == "card_test" else "kitchen log"
        of = (
            f"{what}, {own.observed:.3g} {unit}"
            if own.trials == 1
            else (f"{own.trials} {what}s, {own.observed:.3g} {unit} in the mean")
        )
        yield f"From this knife's own {of}."
    elif card_key == "months_to_stone" and card_test is not None:
        yield f"Its wear is taken from its own card test, {card_test.observed:.3g} mm."


def _calibrated_note(
    blade: Blade, card_key: str, life: LifeModel, kitchen: Kitchen
) -> Iterator[str]:
    """What the shop's coefficients and trials did to this prediction, if anything.

    Its own trials went before those of others.
    """
    own = life.own_of(blade.seed, card_key, kitchen)
    if PREDICTED[card_key].with_coefficients and life.coefficients != PUBLISHED:
        yield "Computed with this shop's coefficients, not the published ones in the equation."
    found = life.posteriors.get(card_key)
    if found is None or not found.pieces or own is not None:
        return
    percent = 100 * math.expm1(found.offset(blade.grade_class)[0])
    moved = (
        "as published"
        if abs(percent) < 0.5
        else (f"{abs(percent):.0f} % {'more' if percent > 0 else 'less'} than published")
    )
    knives = "one knife" if found.pieces == 1 else f"{found.pieces} knives"
    yield f"Calibrated on {knives} of this shop: {moved}."


def _contributions(
    named: frozenset[str], texts: list[str], shares: list[float]
) -> tuple[Contribution, ...]:
    """Every input that must be named and every one with a share, largest share first."""
    rows = [
        Contribution(key, label, share, text)
        for (key, label), text, share in zip(INPUTS, texts, shares, strict=True)
        if share > 0 or key in named
    ]
    return tuple(sorted(rows, key=lambda row: -row.share))


_INPUT_UNITS = {
    "edge_radius": "µm",
    "carbides": "mm of card",
    "edge_angle": "° per side",
    "steeper": "° per side",
    "angle_difference": "°",
    "bulge": "of the half-thickness",
    "grind_line": "of the height",
    "shinogi": "of the spine",
    "heights": "relative",
    "surface": "of 1",
}


def _input_texts(blade: Blade, life: LifeModel) -> list[str]:
    """Each input as a person reads it, in the order of :data:`INPUTS`."""
    of_life = _life_texts(blade, life)
    return [
        of_life.get(key)
        or _input_text(key, blade.inputs.get(key) if key in FIGURE_INPUTS else None)
        for key, _ in INPUTS
    ]


def _life_texts(blade: Blade, life: LifeModel) -> dict[str, str]:
    """The offsets and the scatter of the card test, as per cent with U."""
    offsets = life.offsets([blade.grade_class])

    def text(of: tuple[Array, Array]) -> str:
        mean, sd = (float(part[0, 0]) for part in of)
        return f"{100 * math.expm1(mean):+.0f} % ± {200 * sd:.0f} %"

    return {
        "shop_offset": text(offsets.shop),
        "class_offset": f"{text(offsets.steel)}, {blade.grade_class.label}",
        "card_scatter": f"± {200 * offsets.card:.0f} %",
    }


def _input_text(key: str, found: Input | None) -> str:
    if found is None:
        return "assumed"
    unit = _INPUT_UNITS.get(key) or QUANTITIES[key].unit
    decimals = decimals_for(2 * found.figure.expanded)
    mean, expanded = (rounded_text(v, decimals) for v in (found.figure.mean, found.figure.expanded))
    text = f"{mean} ± {expanded} {unit}".replace(" °", "°")
    return text if found.origin is Origin.MEASURED else f"{text}, {found.origin.value}"


def _hardness_note(blade: Blade) -> str:
    """Where a hardness comes from that no tester said."""
    of = "claimed" if blade.claimed_hrc is not None else "usual of its grade"
    text = _input_text("hardness", blade.input("hardness"))
    return f"Hardness is not measured: taken as {of}, {text}."


def _notes(blade: Blade, card_key: str, central: float) -> list[str]:
    notes: list[str] = []
    if PREDICTED[card_key].by_regression:
        notes += tcc_range_notes(blade.hrc, blade.wearing_deg)
    if card_key == "cutting_force":
        notes += _by_hand(central)
    if card_key == "apex_offset":
        notes.append(_steering(blade, central))
        if blade.school and "asymmetry" in blade.figures and not blade.single_bevel:
            notes.append(f"Asymmetry read as {blade.school.words}.")
    if card_key == "steering_force":
        notes.append(pushed_to(central))
    assumed_even = blade.inputs["asymmetry"].origin is Origin.ASSUMED and not blade.single_bevel
    if PREDICTED[card_key].turns_on_asymmetry and assumed_even:
        notes.append("Asymmetry not measured: taken as 50/50 within 5.")
    as_heavy = card_key == "handle_side" and central <= LEAST_HANDLE_SIDE_G + 0.5
    if card_key == "blade_mass" and "weight" in blade.figures:
        as_heavy = central >= blade.figures["weight"].mean - LEAST_HANDLE_SIDE_G - 0.5
    if as_heavy:
        notes.append("The blade comes out as heavy as the knife: weight or geometry is wrong.")
    if card_key == "tip_deflection" and central > blade.inputs["edge_length"].figure.mean / 5:
        notes.append("Beyond small deflections: read it as very flexible.")
    return notes


def _by_hand(force_n: float) -> Iterator[str]:
    """What a hand does with a force; limits and ways are common practice."""
    if force_n > BOTH_HANDS_LIMIT_N:
        yield "More than both hands press (155 N): halve the food first, then rock through it."
    elif force_n > ONE_HAND_LIMIT_N:
        yield "More than one hand presses (125 N): both hands on the spine, or halve it and rock."
    elif force_n > ONE_HAND_LIMIT_N / 2:
        yield "More than half of what one hand presses (125 N): tiring."


def _said_only(blade: Blade) -> list[tuple[Origin, list[Label]]]:
    """Inputs, with their labels, that are only estimated or reported."""
    return [
        (origin, [(k, label) for k, label in INPUTS if k in known and known[k].origin is origin])
        for known in (blade.inputs,)
        for origin in (Origin.ESTIMATED, Origin.TOLD)
    ]


def _not_measured(card_key: str, said_only: list[tuple[Origin, list[Label]]]) -> Iterator[str]:
    """Which of the figures needed are only estimated or reported."""
    predicted = PREDICTED[card_key]
    for origin, inputs in said_only:
        rest_on = [label for k, label in inputs if k in predicted.needs or k in predicted.may_infer]
        if rest_on:
            yield f"{origin.value.capitalize()}, not measured: {', '.join(rest_on)}."


def _steering(blade: Blade, offset_mm: float) -> str:
    if blade.single_bevel:
        hand = "left" if blade.left_handed else "right"
        away = "right" if blade.left_handed else "left"
        return f"steers {away}; single bevel for the {hand} hand"
    return steering(offset_mm, blade.inputs["thickness_behind_edge"].figure.mean)


def pushed_to(side_force_n: float) -> str:
    """In words, which way the food pushes the blade; under 0.2 N is called neither way.

    >>> pushed_to(1.4)
    'pushed to the left as held; a right-hander sees it turn under the hand'
    """
    if abs(side_force_n) < 0.2:
        return "pushed neither way"
    if side_force_n > 0:
        return "pushed to the left as held; a right-hander sees it turn under the hand"
    return "pushed to the right as held; a left-hander sees it turn under the hand"

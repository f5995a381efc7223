"""The verdict in plain sentences, each with the evidence it stands on.

Evidence is named by keys a screen can point at: ``score``, ``schools``, ``price``,
``criterion.edge life``, ``prediction.cutting_ease``, ``stop.A``, ``claims.A``.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.comparing import percent_difference
from maple_rook.core.choosing.customer import CRITERIA, Criterion, CustomerProfile
from maple_rook.core.choosing.deciding import price_per_month, stroke_style
from maple_rook.core.choosing.judging import Judgement
from maple_rook.core.choosing.ranking import ranking
from maple_rook.core.measurement.thresholds import NOTICEABLE_EDGE_LIFE, NOTICEABLE_FORCE, Threshold
from maple_rook.core.measurement.uncertainty import Array

APART = 0.975
"""Two are apart in a predicted figure where one is ahead in so many of the draws: |D| > U_D."""
FACTS: dict[str, tuple[str, str, Threshold]] = {
    "cutting_ease": ("cuts most easily", "cutting ease", NOTICEABLE_FORCE),
    "months_to_stone": ("goes longest between stones", "edge life", NOTICEABLE_EDGE_LIFE),
    "days_to_rod": ("goes longest between rods", "days to the rod", NOTICEABLE_EDGE_LIFE),
}
"""Predicted figures told of beside the score: in words, and what difference is noticeable."""


@dataclass(frozen=True)
class Sentence:
    """A plain statement and the keys of its evidence."""

    text: str
    evidence: tuple[str, ...]


def verdict(
    found: Judgement,
    knives: Sequence[Candidate],
    names: Sequence[str],
    facts: Mapping[str, Array],
    claims: Sequence[Sequence[str]],
) -> list[Sentence]:
    """What is to be said of these knives, most telling first.

    Parameters
    ----------
    found : the judgement.
    knives : the knives, n of them.
    names : what they are called in the sentences.
    facts : draws of :data:`FACTS`, (n, draws), NaN where not predicted.
    claims : what was printed of each and is contradicted.
    """
    return [
        *_first(found, names),
        *_stopped(found, names),
        *_deciding(found, names),
        *_schools(found, names),
        *_weighed(found, names),
        *_facts(facts, names),
        *_priced(found, knives, names),
        *(
            Sentence(f"{name}: {said}.", (f"claims.{name}",))
            for name, of in zip(names, claims, strict=True)
            for said in of
        ),
    ]


def customer(profile: CustomerProfile) -> str:
    """Whom the verdict is for."""
    return f"the {profile.label}" if profile.label else "this customer"


def share_text(share: float) -> str:
    """A share of the draws as a person reads it; never 0 or 100 %.

    >>> share_text(0.004), share_text(0.5), share_text(0.999)
    ('under 1 %', '50 %', 'over 99 %')
    """
    percent = round(100 * share)
    return "under 1 %" if percent < 1 else "over 99 %" if percent > 99 else f"{percent} %"


def _and(words: Sequence[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]]) if len(words) > 1 else words[0]


def _first(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    who = customer(found.profile)
    if not found.order:
        yield Sentence(f"None of these suits {who}.", tuple(f"stop.{n}" for n in names))
        return
    if len(found.order) == 1:
        yield Sentence(f"Only {names[found.order[0]]} is left for {who}.", ("score",))
        return
    chances = {i: float(found.ranked.first[found.standing.index(i)]) for i in found.order}
    best, *rest = found.order
    if found.level:
        told = _and([f"{names[i]} comes first in {share_text(chances[i])}" for i in found.level])
        yield Sentence(
            f"For {who}, {_and(sorted(names[i] for i in found.level))} cannot be told apart: "
            f"{told} of the draws.",
            ("score",),
        )
        return
    yield Sentence(
        f"For {who}, {names[best]} comes first in {share_text(chances[best])} of the draws, "
        f"{names[rest[0]]} in {share_text(chances[rest[0]])}.",
        ("score",),
    )


def _stopped(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    for name, reasons in zip(names, found.reasons, strict=True):
        if reasons and found.order:
            yield Sentence(f"{name} is ruled out. {' '.join(reasons)}", (f"stop.{name}",))
        elif reasons:
            yield Sentence(f"{name}: {' '.join(reasons)}", (f"stop.{name}",))


def _deciding(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    criterion = found.deciding
    if criterion is None:
        return
    i, j = found.ranked.order[:2]
    one, other = (names[found.standing[k]] for k in (i, j))
    c = CRITERIA.index(criterion)
    marks = [round(100 * float(found.desirable[k, c])) for k in (i, j)]
    key = {Criterion.EASE: "cutting_ease", Criterion.LIFE: "months_to_stone"}.get(criterion)
    by = f"{marks[0]} against {marks[1]} of 100"
    if key is not None:
        more = percent_difference(*(float(found.figures[key][k]) for k in (i, j)))
        figure = "cutting ease" if criterion is Criterion.EASE else "months to the stone"
        by = f"{one} has {abs(more):.0f} % {'more' if more > 0 else 'fewer'} {figure} than {other}"
    yield Sentence(
        f"Between {one} and {other}, {criterion.label} decides: {by}.",
        (f"criterion.{criterion.value}",),
    )


def _schools(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    if len(found.order) < 2:
        return
    turned: dict[int, list[str]] = {}
    for other in found.schools:
        if other.changed:
            turned.setdefault(other.at, []).append(other.school)
    for at, schools in turned.items():
        yield Sentence(
            f"By another school ({', or '.join(schools)}) {names[at]} comes first instead.",
            ("schools",),
        )
    if not turned:
        yield Sentence(f"{names[found.order[0]]} stays first by every other school.", ("schools",))


def _weighed(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    for w in found.weighings[:1]:
        name = w.criterion.label
        yield Sentence(
            f"{name.capitalize()} would have to count {times_text(w.times)} for "
            f"{names[w.at]} to draw level.",
            (f"criterion.{w.criterion.value}",),
        )


def _facts(facts: Mapping[str, Array], names: Sequence[str]) -> Iterator[Sentence]:
    for key, (superlative, topic, threshold) in FACTS.items():
        draws = facts[key]
        known = [i for i in range(len(names)) if not np.isnan(draws[i]).any()]
        if len(known) < 2:
            continue
        ranked = ranking(draws[known])
        best, *rest = ranked.order
        level = [k for k in rest if ranked.ahead[best, k] < APART]
        named = [names[known[k]] for k in range(len(known))]
        evidence = (f"prediction.{key}",)
        if len(level) == len(rest):
            yield Sentence(f"{_and(sorted(named))} cannot be told apart in {topic}.", evidence)
            continue
        likely = np.median(draws[known], axis=1)
        last = rest[-1]
        ratio = float(likely[best] / likely[last])
        more = (
            f"{ratio:.0f} times {named[last]}"
            if ratio > 4
            else f"{percent_difference(ratio, 1.0):.0f} % more than {named[last]}"
        )
        beside = f"; {_and(sorted(named[k] for k in level))} may match it" if level else ""
        small = ", which is hardly noticed" if ratio < 1 + threshold.amount else ""
        yield Sentence(f"{named[best]} {superlative}: likely {more}{small}{beside}.", evidence)


def times_text(times: float) -> str:
    """How much more or less a criterion would have to count.

    >>> times_text(1.8), times_text(0.45)
    ('1.8 times as much', 'only 45 % of what it does')
    """
    return (
        f"{times:.1f} times as much" if times > 1 else f"only {100 * times:.0f} % of what it does"
    )


def _priced(
    found: Judgement, knives: Sequence[Candidate], names: Sequence[str]
) -> Iterator[Sentence]:
    """Knives that stand, beaten in price and score both by one on the front."""
    beaten: dict[tuple[str, ...], list[str]] = {}
    scored = dict(zip(found.standing, found.score[:, 0].tolist(), strict=True))
    front = [i for i, on in zip(found.standing, found.on_front, strict=True) if on]
    for i in found.standing:
        price = knives[i].price
        if i in front or price is None:
            continue
        mine = scored[i]
        better = tuple(
            sorted(names[j] for j in front if (knives[j].price or 0) <= price and scored[j] >= mine)
        )
        beaten.setdefault(better, []).append(names[i])
    for better, worse in beaten.items():
        verb, suits = ("costs", "suits") if len(better) == 1 else ("cost", "suit")
        yield Sentence(
            f"{_and(better)} {verb} no more than {_and(sorted(worse))} and {suits} no worse.",
            ("price",),
        )


def stands_on(
    profile: CustomerProfile,
    knife: Candidate,
    ease: float,
    months: float,
    release: float,
    bears: float,
) -> dict[Criterion, str]:
    """In words, what each criterion of a knife stands on.

    Parameters
    ----------
    profile : the customer's.
    knife : the knife.
    ease : cutting ease index.
    months : months to the stone.
    release : food release index.
    bears : load borne over that of the stroke, :func:`deciding.margin`.
    """
    blade = knife.blade
    figures = {key: i.figure.mean for key, i in blade.inputs.items()}
    steel = blade.steel
    month = (
        f"{price_per_month(knife.price, months, ease):.0f} a month" if knife.price else "no price"
    )
    weight = f"{figures['weight']:.0f} g" if "weight" in figures else "weight not measured"
    balance = figures.get("balance_point")
    held = "" if balance is None else f", balance {balance:+.0f} mm".replace("-", "−")
    return {
        Criterion.EASE: f"index {ease:.0f}, reference 100",
        Criterion.LIFE: f"likely {months:.1f} months to the stone",
        Criterion.ROBUSTNESS: f"bears {bears:.1f} × {stroke_style(profile).label}",
        Criterion.HANDLING: f"{weight}{held}",
        Criterion.BOARD: f"{figures['edge_length']:.0f} mm long, {figures['height_heel']:.0f} high",
        Criterion.RELEASE: f"index {release:.0f} of 100",
        Criterion.UPKEEP: f"{steel.reactivity.label}, {steel.sharpening} to sharpen"
        if steel
        else "steel not known",
        Criterion.VALUE: month,
    }


MATTERS: dict[str, Criterion] = {
    "cutting_ease": Criterion.EASE,
    "thickness_behind_edge": Criterion.EASE,
    "edge_angle": Criterion.EASE,
    "spine_heel": Criterion.EASE,
    "spine_mid": Criterion.EASE,
    "hardness": Criterion.LIFE,
    "card_test": Criterion.LIFE,
    "months_to_stone": Criterion.LIFE,
    "days_to_rod": Criterion.LIFE,
    "weight": Criterion.HANDLING,
    "balance_point": Criterion.HANDLING,
    "static_moment": Criterion.HANDLING,
    "swing": Criterion.HANDLING,
    "handle_length": Criterion.HANDLING,
    "asymmetry": Criterion.HANDLING,
    "edge_length": Criterion.BOARD,
    "height_heel": Criterion.BOARD,
    "height_mid": Criterion.BOARD,
    "height_front": Criterion.BOARD,
    "blade_length": Criterion.BOARD,
    "tip_deflection": Criterion.HANDLING,
    "release": Criterion.RELEASE,
}
"""The criterion a quantity speaks for most; what is not named matters half as much as the least."""


def matters(profile: CustomerProfile, key: str) -> float:
    """Share of the profile's weights that the criterion of a quantity has.

    >>> matters(CustomerProfile(), "cutting_ease") > matters(CustomerProfile(), "weight") > 0
    True
    """
    weights = profile.weights / profile.weights.sum()
    criterion = MATTERS.get(key)
    if criterion is None:
        return float(weights.min()) / 2
    return float(weights[CRITERIA.index(criterion)])

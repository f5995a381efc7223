"""The verdict in plain sentences, each with the evidence it stands on.

Evidence is named by keys a screen can point at: ``score``, ``schools``, ``price``,
``criterion.edge life``, ``prediction.cutting_ease``, ``stop.A``, ``claims.A``.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from maple_rook.core.choosing import phrases
from maple_rook.core.choosing.candidates import Candidate
from maple_rook.core.choosing.criteria import CRITERIA, Criterion
from maple_rook.core.choosing.customer import CustomerProfile
from maple_rook.core.choosing.deciding import stroke_style
from maple_rook.core.choosing.judging import APART, NOTICED, Judgement
from maple_rook.core.choosing.owning import YearlyCost
from maple_rook.core.choosing.ranking import ranking
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.thresholds import NOTICEABLE_EDGE_LIFE, NOTICEABLE_FORCE, Threshold
from maple_rook.core.measurement.uncertainty import Array

FACTS: dict[str, tuple[str, str, Threshold]] = {
    "cutting_ease": ("cuts most easily", "cutting ease", NOTICEABLE_FORCE),
    "months_to_stone": ("lasts longest between stones", "edge life", NOTICEABLE_EDGE_LIFE),
    "days_to_rod": ("lasts longest between rods", "days to the rod", NOTICEABLE_EDGE_LIFE),
}
"""Predicted figures mentioned beside the score, with what difference is noticeable."""


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
    shown: Mapping[str, Array],
    claims: Sequence[Sequence[str]],
    c: Coefficients = PUBLISHED,
) -> list[Sentence]:
    """What is to be said of these knives, most telling first.

    Parameters
    ----------
    found : the judgement.
    knives : the knives, n of them.
    names : what they are called in the sentences.
    facts : draws of :data:`FACTS`, (n, draws), NaN where not predicted.
    shown : the same figures as they are shown of each knife, (n,).
    claims : what was printed of each and is contradicted.
    c : coefficients, which say what can be noticed.
    """
    return [
        *_first(found, names),
        *_stopped(found, names),
        *_deciding(found, names, shown),
        *_schools(found, names),
        *_weighed(found, names),
        *_facts(facts, shown, names, c),
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


def _first(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    who = customer(found.profile)
    if not found.order:
        yield Sentence(phrases.suits_nobody(who), tuple(f"stop.{n}" for n in names))
        return
    if len(found.order) == 1:
        yield Sentence(phrases.only_one(who, names[found.order[0]], len(names) - 1), ("score",))
        return
    chances = {i: float(found.ranked.first[found.standing.index(i)]) for i in found.order}
    if found.level:
        told = {names[i]: chances[i] for i in found.level}
        yield Sentence(phrases.tie(who, told), ("score",))
        return
    best, second, *_ = found.order
    text = phrases.best(who, names[best], chances[best], names[second], chances[second])
    yield Sentence(text, ("score",))


def _stopped(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    for name, reasons in zip(names, found.reasons, strict=True):
        if reasons:
            yield Sentence(phrases.ruled_out(name, reasons), (f"stop.{name}",))


def _deciding(
    found: Judgement, names: Sequence[str], shown: Mapping[str, Array]
) -> Iterator[Sentence]:
    if len(found.order) < 2 or found.level:
        return
    i, j = found.ranked.order[:2]
    one, other = (names[found.standing[k]] for k in (i, j))
    criterion = found.deciding
    if criterion is None:
        yield Sentence(phrases.nothing_decides(one, other), ("score",))
        return
    evidence = (f"criterion.{criterion.value}",)
    if criterion in NOTICED:
        key, _ = NOTICED[criterion]
        mine, others = (float(shown[key][found.standing[k]]) for k in (i, j))
        by = phrases.by_figures(criterion, one, other, (mine, others))
    else:
        at = CRITERIA.index(criterion)
        mine, others = (float(found.desirable[k, at]) for k in (i, j))
        by = phrases.by_marks(one, other, (mine, others))
    yield Sentence(phrases.decides(one, other, criterion, by), evidence)


def _schools(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    if len(found.order) < 2:
        return
    turned: dict[int, list[str]] = {}
    for other in found.schools:
        if other.changed:
            turned.setdefault(other.at, []).append(other.school)
    for at, schools in turned.items():
        yield Sentence(phrases.other_school(schools, names[at]), ("schools",))
    if not turned:
        yield Sentence(phrases.every_school(names[found.order[0]]), ("schools",))


def _weighed(found: Judgement, names: Sequence[str]) -> Iterator[Sentence]:
    for w in found.weighings[:1]:
        text = phrases.would_draw_level(w.criterion, w.times, names[w.at])
        yield Sentence(text, (f"criterion.{w.criterion.value}",))


def _facts(
    facts: Mapping[str, Array], shown: Mapping[str, Array], names: Sequence[str], c: Coefficients
) -> Iterator[Sentence]:
    for key, (superlative, topic, threshold) in FACTS.items():
        draws, values = facts[key], shown[key]
        known = [i for i in range(len(names)) if not np.isnan(draws[i]).any()]
        if len(known) < 2:
            continue
        ranked = ranking(draws[known])
        first, *rest = ranked.order
        level = [names[known[k]] for k in rest if ranked.ahead[first, k] < APART]
        evidence = (f"prediction.{key}",)
        if len(level) == len(rest):
            text = phrases.figure_tie([names[i] for i in known], topic)
            yield Sentence(text, evidence)
            continue
        best = known[first]
        behind = [known[k] for k in rest if names[known[k]] not in level]
        ratios = [float(values[best] / values[i]) for i in behind]
        told = [phrases.more_than(r, 1.0, names[i]) for r, i in zip(ratios, behind, strict=True)]
        small = max(ratios) < 1 + threshold.by(c).amount
        text = phrases.figure_best(names[best], superlative, told, level, small=small)
        yield Sentence(text, evidence)


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
        yield Sentence(phrases.costs_no_more(better, worse), ("price",))


def year_text(cost: YearlyCost) -> str:
    """
    >>> from maple_rook.core.choosing.owning import Terms, cost_of_year
    >>> year_text(cost_of_year(150.0, 45.0, 3.0, Terms(charge=14.0)))
    '66 a year: 10 for the knife over 15 years, 56 for 4.0 sharpenings'
    """
    total, knife, sharpenings, years = (float(part) for part in cost)
    whole = f"{total:.0f} a year: {knife:.0f} for the knife over {years:.0f} years"
    charged = total - knife
    return f"{whole}, {charged:.0f} for {sharpenings:.1f} sharpenings" if charged else whole


def stands_on(
    profile: CustomerProfile,
    knife: Candidate,
    ease: float,
    months: float,
    release: float,
    bears: float,
    a_year: YearlyCost | None,
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
    a_year : what it costs in a year; None where it has no price.
    """
    blade = knife.blade
    figures = {key: i.figure.mean for key, i in blade.inputs.items()}
    steel = blade.steel
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
        Criterion.VALUE: "no price" if a_year is None else year_text(a_year),
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

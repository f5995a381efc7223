"""The judgement of what lies on the Board: for whom which is best, and the verdict in sentences."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CriterionOut
from maple_rook.answers.edge_life import stability_of
from maple_rook.answers.figures import FigureOut
from maple_rook.answers.terms import terms_of
from maple_rook.comparing.before import Before
from maple_rook.comparing.laid import LETTERS, Laid
from maple_rook.comparing.schemas import (
    JudgedKnife,
    LaidIn,
    SchoolOut,
    SentenceOut,
    VerdictOut,
    WeighingOut,
    WeightOut,
)
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.comparing import ClaimVerdict, noticeable_gap
from maple_rook.core.choosing.criteria import CRITERIA
from maple_rook.core.choosing.customer import CustomerProfile
from maple_rook.core.choosing.deciding import FIGURES, as_kept, margin
from maple_rook.core.choosing.judging import Judgement, judge
from maple_rook.core.choosing.owning import Terms, cost_of_year
from maple_rook.core.choosing.verdict import FACTS, Sentence, matters, stands_on, verdict
from maple_rook.core.cutting.foods import Food
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.thresholds import as_set
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.model_cards import PREDICTED, keys
from maple_rook.core.prediction.predict import drawn, predict_and_draw
from maple_rook.shelf.projection import Shelf

_DRAWN = tuple(dict.fromkeys((*FIGURES, *FACTS)))
_Predicted = tuple[list[Prediction], Array]
"""Every prediction of a knife, and its draws of :data:`_DRAWN`, (m, draws)."""
_before: Before[_Predicted] = Before()


@dataclass(frozen=True)
class Look:
    """One look at what is laid out: a profile, and every prediction with the draws it rests on."""

    profile: CustomerProfile
    foods: Sequence[Food]
    life: LifeModel
    predictions: list[list[Prediction]]
    drawn: Mapping[str, Array]
    terms: Terms


def looked_at(db: Session, knives: Sequence[Laid], shelf: Shelf, asked: LaidIn) -> Look:
    """Everything predicted of what is laid out, once."""
    foods, life = shelf.models(asked.basis)
    profile = asked.core()

    def worked_out(some: Sequence[Laid]) -> list[_Predicted]:
        explained, draws = predict_and_draw(
            [of.blade for of in some], profile.kitchen, foods=foods, life=life, keep=_DRAWN
        )
        return list(zip(explained, np.stack([draws[key] for key in _DRAWN], axis=1), strict=True))

    found = _before.of(knives, (profile.kitchen, foods, life), worked_out)
    draws = np.stack([of_knife for _, of_knife in found], axis=1)
    return Look(
        profile,
        foods,
        life,
        [explained for explained, _ in found],
        dict(zip(_DRAWN, draws, strict=True)),
        terms_of(db, life.coefficients),
    )


def verdict_on(knives: Sequence[Laid], look: Look, *, models: bool) -> VerdictOut:
    """Judge what is laid out for the profile it was looked at for."""
    candidates = [of.candidate for of in knives]
    at = {id(knife.blade): i for i, knife in enumerate(candidates)}

    def drawn_of(some: Sequence[Candidate], other: CustomerProfile) -> Mapping[str, Array]:
        """The draws at hand; only a ratio read otherwise needs new ones."""
        places = [at[id(knife.blade)] for knife in some if id(knife.blade) in at]
        if len(places) < len(some):
            return drawn(
                [knife.blade for knife in some],
                other.kitchen,
                foods=look.foods,
                only=FIGURES,
                life=look.life,
            )
        return {key: look.drawn[key][places] for key in FIGURES}

    found = judge(look.profile, candidates, drawn_of, look.terms)
    shown = _shown(look, candidates)
    said = verdict(
        found,
        candidates,
        LETTERS[: len(knives)],
        look.drawn,
        shown,
        _claims(knives, models),
        look.terms.coefficients,
    )
    apart = gaps([of.blade for of in knives], look.predictions, look.terms.coefficients)
    order = sorted(apart, key=lambda key: -apart[key] * matters(look.profile, key))
    return _out(knives, candidates, look, found, shown, said, order)


def gaps(
    blades: Sequence[Blade], predictions: Sequence[Sequence[Prediction]], c: Coefficients
) -> dict[str, float]:
    """How far apart the knives are in each row at the central figures, in noticeable steps."""
    found = {
        key: noticeable_gap(
            [b.figures[key] for b in blades if key in b.figures], as_set(q.noticeable, c)
        )
        for key, q in QUANTITIES.items()
    }
    for key in keys("compared"):
        central = [p.central for knife in predictions for p in knife if p.key == key]
        known = [Figure(value, 0.0) for value in central if value is not None]
        found[key] = noticeable_gap(known, as_set(PREDICTED[key].noticeable, c))
    return found


def _claims(knives: Sequence[Laid], models: bool) -> list[list[str]]:
    """Contradicted claims of each piece; a model as a whole has none."""
    return [
        [
            f"{c.label} is printed as {c.printed} and measures "
            f"{FigureOut.of(of.blade.figures[c.quantity]).text}; {c.statement}"
            for c in of.knife.claims
            if c.verdict is ClaimVerdict.CONTRADICTED and not models
        ]
        for of in knives
    ]


def _out(
    knives: Sequence[Laid],
    candidates: Sequence[Candidate],
    look: Look,
    found: Judgement,
    shown: Mapping[str, Array],
    said: Sequence[Sentence],
    order: list[str],
) -> VerdictOut:
    def piece(i: int) -> int:
        return knives[i].knife.piece.id

    weights = found.profile.weights / found.profile.weights.sum()
    return VerdictOut(
        sentences=[SentenceOut(text=s.text, evidence=list(s.evidence)) for s in said],
        knives=[_knife(of, candidates[i], look, found, shown, i) for i, of in enumerate(knives)],
        best_first=[piece(i) for i in found.order],
        weights=[
            WeightOut(criterion=c, share=float(w)) for c, w in zip(CRITERIA, weights, strict=True)
        ],
        deciding=found.deciding,
        schools=[
            SchoolOut(school=s.school, piece_id=piece(s.at), changed=s.changed)
            for s in found.schools
        ],
        weighings=[
            WeighingOut(criterion=w.criterion, times=w.times, piece_id=piece(w.at))
            for w in found.weighings
        ],
        order=order,
    )


def _shown(look: Look, candidates: Sequence[Candidate]) -> dict[str, Array]:
    """The figures a decision rests on as they are shown of each knife, (n,); NaN: none.

    Months are as this customer keeps the edge.
    """
    central = [
        {p.key: math.nan if p.central is None else p.central for p in knife}
        for knife in look.predictions
    ]
    figures = {key: np.array([of[key] for of in central]) for key in _DRAWN}
    return as_kept(look.profile, traits(candidates), figures, look.terms)


def _knife(
    of: Laid,
    candidate: Candidate,
    look: Look,
    found: Judgement,
    shown: Mapping[str, Array],
    i: int,
) -> JudgedKnife:
    stability = stability_of(of.blade)
    margins = stability.margins if stability else []
    price = of.knife.piece.price
    if i not in found.standing:
        return JudgedKnife(
            piece_id=of.knife.piece.id,
            reasons=list(found.reasons[i]),
            score=None,
            first=None,
            tied=False,
            on_front=False,
            price=price,
            criteria=[],
            margins=margins,
        )
    k = found.standing.index(i)
    ease, months, release = (float(shown[key][i]) for key in FIGURES)
    bears = float(margin(found.profile, traits([candidate]))[0])
    height = candidate.blade.figures["height_heel"].mean
    a_year = cost_of_year(price, height, months, look.terms) if price else None
    words = stands_on(found.profile, candidate, ease, months, release, bears, a_year)
    return JudgedKnife(
        piece_id=of.knife.piece.id,
        reasons=[],
        score=found.score[k].tolist(),
        first=float(found.ranked.first[k]),
        tied=i in found.level,
        on_front=found.on_front[k],
        price=price,
        criteria=[
            CriterionOut(criterion=c, desirability=d, stands_on=words[c])
            for c, d in zip(CRITERIA, found.desirable[k].tolist(), strict=True)
        ],
        margins=margins,
    )

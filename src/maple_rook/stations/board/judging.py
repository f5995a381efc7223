"""The judgement of what lies on the Board: for whom which is best, and the verdict in sentences."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from sqlalchemy.orm import Session

from maple_rook.answers.customer import CriterionOut
from maple_rook.answers.edge_life import stability_of
from maple_rook.answers.figures import FigureOut
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.choosing.customer import CRITERIA, CustomerProfile
from maple_rook.core.choosing.deciding import FIGURES, margin
from maple_rook.core.choosing.judging import Judgement, judge
from maple_rook.core.choosing.verdict import FACTS, Sentence, matters, stands_on, verdict
from maple_rook.core.cutting.force import Food
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.predict import drawn
from maple_rook.shelf.projection import Shelf
from maple_rook.stations.board.laid import Laid, laid_out
from maple_rook.stations.board.schemas import (
    JudgedKnife,
    LaidIn,
    SchoolOut,
    SentenceOut,
    VerdictOut,
    WeighingOut,
    WeightOut,
)
from maple_rook.stations.board.use_cases import LETTERS, gaps

_DRAWN = tuple(dict.fromkeys((*FIGURES, *FACTS)))


def judged(db: Session, shelf: Shelf, asked: LaidIn, draws: int) -> VerdictOut:
    """Judge these pieces, or their models, for a customer's profile."""
    return judged_of(laid_out(db, shelf, asked), shelf, asked, draws)


def judged_of(knives: Sequence[Laid], shelf: Shelf, asked: LaidIn, draws: int) -> VerdictOut:
    """Judge what is laid out already."""
    foods, life = shelf.models(asked.basis)
    profile = asked.core()
    candidates = [of.candidate for of in knives]
    every = _draws([k.blade for k in candidates], profile, foods, life, draws)
    at = {id(knife.blade): i for i, knife in enumerate(candidates)}

    def drawn_of(some: Sequence[Candidate], other: CustomerProfile) -> Mapping[str, Array]:
        """The draws at hand; only a ratio read otherwise needs new ones."""
        places = [at[id(knife.blade)] for knife in some if id(knife.blade) in at]
        if len(places) < len(some):
            return _draws([k.blade for k in some], other, foods, life, draws)
        return {key: every[key][places] for key in FIGURES}

    found = judge(profile, candidates, drawn_of, life.coefficients)
    said = verdict(found, candidates, LETTERS[: len(knives)], every, _claims(knives, asked.models))
    return _out(knives, candidates, found, said, _order(knives, profile, foods, life))


def _draws(
    blades: Sequence[Blade],
    profile: CustomerProfile,
    foods: Sequence[Food],
    life: LifeModel,
    draws: int,
) -> dict[str, Array]:
    return drawn(blades, profile.kitchen, foods=foods, draws=draws, only=_DRAWN, life=life)


def _claims(knives: Sequence[Laid], models: bool) -> list[list[str]]:
    """What was printed of each piece and is contradicted; of a model no one piece tells."""
    return [
        [
            f"{c.label} is printed as {c.printed} and measures "
            f"{FigureOut.of(of.blade.figures[c.quantity]).text}; {c.statement}"
            for c in of.knife.claims
            if c.verdict is ClaimVerdict.CONTRADICTED and not models
        ]
        for of in knives
    ]


def _order(
    knives: Sequence[Laid], profile: CustomerProfile, foods: Sequence[Food], life: LifeModel
) -> list[str]:
    """Quantities by how far apart the knives are in them, times what that counts in the profile."""
    apart = gaps([of.blade for of in knives], profile.kitchen, foods, life)
    return sorted(apart, key=lambda key: -apart[key] * matters(profile, key))


def _out(
    knives: Sequence[Laid],
    candidates: Sequence[Candidate],
    found: Judgement,
    said: Sequence[Sentence],
    order: list[str],
) -> VerdictOut:
    def piece(i: int) -> int:
        return knives[i].knife.piece.id

    weights = found.profile.weights / found.profile.weights.sum()
    return VerdictOut(
        sentences=[SentenceOut(text=s.text, evidence=list(s.evidence)) for s in said],
        knives=[_knife(of, candidates[i], found, i) for i, of in enumerate(knives)],
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


def _knife(of: Laid, candidate: Candidate, found: Judgement, i: int) -> JudgedKnife:
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
    ease, months, release = (float(found.figures[key][k]) for key in FIGURES)
    bears = float(margin(found.profile, traits([candidate]))[0])
    words = stands_on(found.profile, candidate, ease, months, release, bears)
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

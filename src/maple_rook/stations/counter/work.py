"""A short list for a customer, from every knife on the shelf."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.advice import Advice, Offer, advise
from maple_rook.core.cautions import LAW, PREDICTION
from maple_rook.core.customers import PRESETS
from maple_rook.core.cutting import (
    STROKES,
    Food,
    ease_index,
    job_weights,
)
from maple_rook.core.deciding import (
    FIGURES,
    Candidate,
    Care,
    CustomerJob,
    Hand,
    Heft,
    Motion,
    School,
    Size,
    Skill,
    Tools,
    stops,
    warnings,
)
from maple_rook.core.evaluate import reference_forces_n
from maple_rook.core.life_model import Basis, LifeModel
from maple_rook.core.predict import drawn
from maple_rook.core.retention import BoardMaterial, Job, Kitchen, Technique, Use, months_to_stone
from maple_rook.core.uncertainty import Array
from maple_rook.stations.counter.schemas import (
    AdviceOut,
    ChangeOut,
    CounterOut,
    CriterionOut,
    JobIn,
    OfferOut,
    QuestionOut,
    RuledOut,
)
from maple_rook.stations.shelf import Shelf, ShelfKnife
from maple_rook.store.tables import Shop

RULED_OUT_SHOWN = 40
_QUESTIONS = (
    ("size", "Which part does it play?", Size), ("use", "How much board work?", Use),
    ("cuts", "What is cut most?", Job),
    ("motion", "How does the hand move?", Motion), ("hand", "Which hand?", Hand),
    ("board", "On what board?", BoardMaterial), ("technique", "How gently?", Technique),
    ("care", "And afterwards?", Care), ("tools", "What keeps it sharp?", Tools),
    ("skill", "How practised?", Skill), ("heft", "Light or with heft?", Heft),
    ("school", "If both cannot be had?", School),
)  # fmt: skip


def conversation(db: Session) -> CounterOut:
    return CounterOut(
        questions=[
            QuestionOut(key=key, asked=asked, answers=[answer.value for answer in answers])
            for key, asked, answers in _QUESTIONS
        ],
        presets=[JobIn.of(job) for job in PRESETS.values()],
        currency=db.scalar(select(Shop.currency)) or "",
    )


def advice(db: Session, shelf: Shelf, job: CustomerJob, draws: int) -> AdviceOut:
    """One piece a model is offered: the one nearest to what is wanted."""
    every = shelf.knives(db)
    foods, life = shelf.reckoned_with(Basis.CALIBRATED)
    fit: list[tuple[ShelfKnife, Candidate]] = []
    ruled: list[RuledOut] = []
    for knife in every:
        candidate = Candidate(knife.blade, knife.piece.price, knife.piece.handle)
        reasons = stops(job, candidate)
        if reasons:
            ruled.append(
                RuledOut(piece_id=knife.piece.id, tag=knife.piece.tag, name=knife.piece.name,
                         reasons=reasons)
            )  # fmt: skip
        else:
            fit.append((knife, candidate))
    fit = _one_a_model(fit)
    candidates = [candidate for _, candidate in fit]

    def draw(at: Sequence[int], asked: CustomerJob) -> Mapping[str, Array]:
        blades = [candidates[i].blade for i in at]
        return drawn(blades, asked.kitchen, foods=foods, draws=draws, only=FIGURES, life=life)

    central = _central([knife for knife, _ in fit], job.kitchen, foods, life)
    found = advise(job, candidates, central, draw)
    return AdviceOut(
        offers=[_offer(job, fit[o.at], o, central) for o in found.offers],
        nothing="" if found.offers else _nothing(ruled),
        deciding=found.deciding,
        changes=_named_changes(found, fit),
        considered=len(every),
        ruled_out_total=len(ruled),
        ruled_out=ruled[:RULED_OUT_SHOWN],
        cautions=[PREDICTION, LAW],
    )


def _one_a_model(
    fit: list[tuple[ShelfKnife, Candidate]],
) -> list[tuple[ShelfKnife, Candidate]]:
    """The first new piece of each model: pieces of one model are not each other's rivals."""
    kept: dict[str, tuple[ShelfKnife, Candidate]] = {}
    for pair in sorted(fit, key=lambda pair: (pair[0].piece.condition != "new", pair[0].piece.id)):
        kept.setdefault(pair[0].model, pair)
    return list(kept.values())


def _central(
    knives: Sequence[ShelfKnife], kitchen: Kitchen, foods: Sequence[Food], life: LifeModel
) -> dict[str, Array]:
    """The central figures of the shelf, turned to this kitchen: no knife is predicted again."""
    if not knives:
        return {key: np.zeros(0) for key in FIGURES}
    rows = np.stack([knife.central for knife in knives])
    reference = reference_forces_n(tuple(foods), STROKES["push"])
    ease = ease_index(rows[:, : len(foods)].T, reference[:, None], job_weights(kitchen.job, foods))
    here, usual = (  # the rule's ratio between two kitchens is the same for every edge
        months_to_stone(340.0, k, c=life.coefficients) for k in (kitchen, Kitchen())
    )
    months = rows[:, len(foods)] * (here / usual)
    return {"cutting_ease": ease, "months_to_stone": months, "release": rows[:, len(foods) + 1]}


def _offer(
    job: CustomerJob, pair: tuple[ShelfKnife, Candidate], offer: Offer,
    central: Mapping[str, Array],
) -> OfferOut:  # fmt: skip
    knife, candidate = pair
    months, ease = (float(central[key][offer.at]) for key in ("months_to_stone", "cutting_ease"))
    whisker = knife.months_to_stone
    spread = [whisker.low / whisker.central, whisker.high / whisker.central] if whisker else []
    return OfferOut(
        piece=knife.piece,
        outline=knife.outline,
        score=offer.score,
        first=offer.first,
        tied=offer.tied,
        on_front=offer.on_front,
        price_per_month=candidate.price / (months * ease / 100) if candidate.price else None,
        months=[months * share for share in spread],
        why=list(offer.why),
        gives_up=list(offer.gives_up),
        warnings=warnings(job, candidate),
        criteria=[CriterionOut(criterion=c, desirability=d) for c, d in offer.desirability.items()],
    )


def _named_changes(found: Advice, fit: list[tuple[ShelfKnife, Candidate]]) -> list[ChangeOut]:
    return [
        ChangeOut(answer=c.answer, piece_id=fit[c.at][0].piece.id, name=fit[c.at][0].piece.name)
        for c in found.changes
    ]


def _nothing(ruled: Sequence[RuledOut]) -> str:
    """Why the shelf has nothing, by the reason met most often."""
    if not ruled:
        return "The shelf is empty."
    reasons = [reason for knife in ruled for reason in knife.reasons]
    most = max(dict.fromkeys(reasons), key=reasons.count)
    return f"Nothing on the shelf suits. Most often: {most}"

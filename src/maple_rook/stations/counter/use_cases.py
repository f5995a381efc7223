"""A short list for a customer, from every knife on the shelf, and the card that goes home."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from functools import cache
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CriterionOut
from maple_rook.answers.figures import card_figures
from maple_rook.core.choosing.advice import Advice, Offer, OnShelf, advise
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.customer import Criterion, CustomerProfile
from maple_rook.core.choosing.deciding import FIGURES, as_kept, kitchen_of, margin, price_per_month
from maple_rook.core.choosing.judging import Drawn
from maple_rook.core.choosing.ruling import stops, stops_of, warnings
from maple_rook.core.choosing.take_home import GIVES_UP, SPEAKS, care_lines, to_mind
from maple_rook.core.choosing.verdict import customer, stands_on, times_text
from maple_rook.core.cutting.foods import food_mix_weights, stroke_of
from maple_rook.core.cutting.force import ease_index
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.retention import Kitchen, months_to_stone
from maple_rook.core.edge_life.stability import borne_n_mm, lasting_share, usual_margin
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.evaluate import reference_forces
from maple_rook.core.prediction.predict import drawn, predict_arrays
from maple_rook.core.upkeep.cautions import Place, cautions, general
from maple_rook.http.problems import Conflict
from maple_rook.shelf.knife import JOB_STROKES, ShelfKnife
from maple_rook.shelf.projection import Shelf, ShelfColumns
from maple_rook.stations.counter.schemas import (
    AdviceOut,
    ChangeOut,
    DrawsLevelOut,
    OfferOut,
    PricedOut,
    RuledOut,
    TakeHomeOut,
)
from maple_rook.store.tables import Shop

RULED_OUT_SHOWN = 40
_ON_CARD = (
    ("edge_length", "edge", "mm"),
    ("weight", "weight", "g"),
    ("hardness", "hardness", "HRC"),
    ("edge_angle", "edge angle", "° per side"),
)


class _OnShelf:
    """The shelf's columns, and those of its knives that are looked at one by one."""

    def __init__(self, db: Session, shelf: Shelf) -> None:
        self._db, self._shelf = db, shelf
        self.behind = shelf.catch_up(db)
        self.columns = shelf.columns(db)
        self._known: dict[int, ShelfKnife] = {}

    def __len__(self) -> int:
        return len(self.columns.ids)

    def id_of(self, at: int) -> int:
        return int(self.columns.ids[at])

    def knives(self, at: Sequence[int]) -> list[ShelfKnife]:
        missing = [i for i in dict.fromkeys(at) if i not in self._known]
        if missing:
            found = self._shelf.knives(self._db, [self.id_of(i) for i in missing])
            self._known.update(zip(missing, found, strict=True))
        return [self._known[i] for i in at]

    def __getitem__(self, at: int) -> ShelfKnife:
        return self.knives([at])[0]

    def advise(self, profile: CustomerProfile) -> Advice:
        columns, shelf = self.columns, self._shelf
        on_shelf = OnShelf(
            columns.decides,
            columns.models,
            lambda at: [knife.candidate for knife in self.knives(at)],
            _central(shelf, columns),
            shelf.models(Basis.CALIBRATED)[1].coefficients,
        )
        found = advise(profile, on_shelf, _drawn(shelf))
        self.knives([*(c.at for c in found.changes), *found.ruled_out[:RULED_OUT_SHOWN]])
        return found


def advice(db: Session, shelf: Shelf, profile: CustomerProfile) -> AdviceOut:
    """One piece a model is offered: the first new one that may be."""
    knives = _OnShelf(db, shelf)
    found = knives.advise(profile)
    return AdviceOut(
        offers=[
            _offer(profile, knives[o.at], o, of)
            for o, of in zip(
                found.offers,
                _figures(shelf, profile, [knives[o.at] for o in found.offers]),
                strict=True,
            )
        ],
        nothing=found.nothing,
        deciding=found.deciding,
        changes=[
            ChangeOut(answer=c.answer, piece_id=knives[c.at].piece.id, name=knives[c.at].piece.name)
            for c in found.changes
        ],
        weighings=_weighings(found, knives),
        priced=_priced(found, knives),
        considered=len(knives),
        behind=knives.behind,
        ruled_out_total=len(found.ruled_out),
        ruled_out=[
            _ruled_out(knives[i], stops_of(profile, knives[i].candidate, found.ruled_by[i]))
            for i in found.ruled_out[:RULED_OUT_SHOWN]
        ],
        cautions=general(Place.COUNTER),
    )


def _central(
    shelf: Shelf, columns: ShelfColumns
) -> Callable[[CustomerProfile], Mapping[str, Array]]:
    """The central figures of the shelf, turned to a kitchen: no knife is predicted again."""
    foods, life = shelf.models(Basis.CALIBRATED)
    rows, of = columns.central, columns.decides
    borne = borne_n_mm(of.hardness, of.half_angle, of.toughness_60)
    efforts = {
        s.key: rows[:, n * len(foods) : (n + 1) * len(foods)].T for n, s in enumerate(JOB_STROKES)
    }
    after = len(JOB_STROKES) * len(foods)

    @cache
    def in_kitchen(kitchen: Kitchen) -> Mapping[str, Array]:
        parts = food_mix_weights(kitchen.food_mix, foods, kitchen.shares)
        job = stroke_of(kitchen.food_mix, kitchen.stroke)
        reference = reference_forces(foods, job).effort[:, 0][:, None]
        here, usual = (
            months_to_stone(
                340.0,
                k,
                lasting=lasting_share(usual_margin(borne, k.technique)),
                c=life.coefficients,
            )
            for k in (kitchen, Kitchen())
        )
        return {
            "cutting_ease": ease_index(efforts[job.key], reference, parts),
            "months_to_stone": rows[:, after] * (here / usual),
            "release": rows[:, after + 1],
        }

    return lambda profile: in_kitchen(kitchen_of(profile))


def _drawn(shelf: Shelf) -> Drawn:
    foods, life = shelf.models(Basis.CALIBRATED)

    def draw(knives: Sequence[Candidate], profile: CustomerProfile) -> Mapping[str, Array]:
        blades = [knife.blade for knife in knives]
        kitchen = kitchen_of(profile)
        return drawn(blades, kitchen, foods=foods, only=FIGURES, life=life)

    return draw


def _ruled_out(knife: ShelfKnife, reasons: list[str]) -> RuledOut:
    return RuledOut(
        piece_id=knife.piece.id, tag=knife.piece.tag, name=knife.piece.name, reasons=reasons
    )


class _Figures(NamedTuple):
    """What is predicted of one knife in the customer's kitchen, as every other screen has it.

    Months to the stone with 90 % limits, as this customer keeps the edge.
    """

    ease: float
    months: float
    low: float
    high: float


def _figures(
    shelf: Shelf, profile: CustomerProfile, knives: Sequence[ShelfKnife]
) -> list[_Figures]:
    if not knives:
        return []
    foods, life = shelf.models(Basis.CALIBRATED)
    found = predict_arrays(
        [knife.blade for knife in knives],
        kitchen_of(profile),
        foods=foods,
        strokes=(),
        shares=False,
        only=FIGURES,
        life=life,
    )
    columns = {t.key: j for j, t in enumerate(found.targets)}
    of = traits([knife.candidate for knife in knives])
    ease, at = columns["cutting_ease"], columns["months_to_stone"]
    months = [
        as_kept(profile, of, {"months_to_stone": column[:, at]}, life.coefficients)[
            "months_to_stone"
        ]
        for column in (found.central, found.low, found.high)
    ]
    rows = zip(found.central[:, ease], *months, strict=True)
    return [_Figures(*map(float, row)) for row in rows]


def _words(profile: CustomerProfile, knife: ShelfKnife, of: _Figures) -> dict[Criterion, str]:
    bears = float(margin(profile, traits([knife.candidate]))[0])
    release = float(knife.central[-1])
    return stands_on(profile, knife.candidate, of.ease, of.months, release, bears)


def _offer(profile: CustomerProfile, knife: ShelfKnife, offer: Offer, of: _Figures) -> OfferOut:
    price, words = knife.piece.price, _words(profile, knife, of)
    per_month = price_per_month(price, of.months, of.ease) if price else None
    return OfferOut(
        piece=knife.piece,
        outline=knife.outline,
        score=list(offer.score),
        first=offer.first,
        tied=offer.tied,
        on_front=offer.on_front,
        price_per_month=None if per_month is None else float(per_month),
        months=[of.low, of.high],
        why=list(offer.why),
        gives_up=list(offer.gives_up),
        warnings=warnings(profile, knife.candidate),
        criteria=[
            CriterionOut(criterion=c, desirability=d, stands_on=words[c])
            for c, d in offer.desirability.items()
        ],
    )


def _weighings(found: Advice, knives: _OnShelf) -> list[DrawsLevelOut]:
    if found.judgement is None:
        return []
    return [
        DrawsLevelOut(
            criterion=w.criterion,
            counting=times_text(w.times),
            name=knives[found.finalists[w.at]].piece.name,
        )
        for w in found.judgement.weighings
    ]


def _priced(found: Advice, knives: _OnShelf) -> list[PricedOut]:
    """The finalists that have a price, against their scores."""
    if found.judgement is None:
        return []
    places = {offer.at: n for n, offer in enumerate(found.offers, start=1)}
    return [
        PricedOut(
            piece_id=knife.piece.id,
            name=knife.piece.name,
            place=places.get(at),
            price=knife.piece.price,
            score=score,
            on_front=front,
        )
        for at, score, front in zip(
            found.finalists, found.judgement.score.tolist(), found.judgement.on_front, strict=True
        )
        for knife in (knives[at],)
        if knife.piece.price is not None
    ]


def card(db: Session, shelf: Shelf, profile: CustomerProfile, piece_id: int) -> TakeHomeOut:
    """The page that goes home with one knife; refused where the profile rules the knife out.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    profile : the customer's.
    piece_id : number of the piece.
    """
    knife = shelf.knives(db, [piece_id])[0]
    reasons = stops(profile, knife.candidate)
    if reasons:
        raise Conflict(f"{knife.piece.name} is ruled out for this customer. {' '.join(reasons)}")
    on_shelf = _OnShelf(db, shelf)
    found = on_shelf.advise(profile)
    offer = next((o for o in found.offers if on_shelf.id_of(o.at) == piece_id), None)
    shop = db.scalars(select(Shop)).one()
    [of] = _figures(shelf, profile, [knife])
    words = _words(profile, knife, of) if offer else {}
    return TakeHomeOut(
        shop=shop.name,
        place=shop.place,
        currency=shop.currency,
        customer=customer(profile),
        piece=knife.piece,
        outline=knife.outline,
        figures=card_figures(knife.figures, _ON_CARD),
        why=[f"{SPEAKS[c]}: {words[c]}." for c in offer.why] if offer else [],
        gives_up=[f"{GIVES_UP[c]}: {words[c]}." for c in offer.gives_up] if offer else [],
        warnings=to_mind(profile, knife.candidate),
        care=care_lines(profile, knife.candidate, (of.low, of.high)),
        cautions=cautions(knife.blade, Place.CARD),
    )

"""A short list for a customer, from every knife on the shelf, and the card that goes home."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import cache
from typing import NamedTuple

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.answers.customer import CriterionOut
from maple_rook.answers.figures import card_figures
from maple_rook.answers.terms import terms_of
from maple_rook.core.choosing.advice import Advice, Offer, OnShelf, advise
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.choosing.customer import CustomerProfile
from maple_rook.core.choosing.deciding import FIGURES, as_kept, kitchen_of, margin
from maple_rook.core.choosing.judging import Drawn, judge
from maple_rook.core.choosing.owning import Terms, YearlyCost, cost_of_year
from maple_rook.core.choosing.pairs import which_of_two
from maple_rook.core.choosing.phrases import times_text
from maple_rook.core.choosing.ruling import from_the_record, stops, stops_of, warnings
from maple_rook.core.choosing.suiting import hard_food, not_for, roots_of, what_for
from maple_rook.core.choosing.take_home import GIVES_UP, SPEAKS, care_lines, to_mind
from maple_rook.core.choosing.verdict import customer, stands_on
from maple_rook.core.choosing.wishes import specification
from maple_rook.core.cutting.foods import food_mix_weights, stroke_of
from maple_rook.core.cutting.force import ease_index
from maple_rook.core.edge_life.life_model import Basis
from maple_rook.core.edge_life.retention import Kitchen, months_to_stone
from maple_rook.core.edge_life.stability import borne_n_mm, lasting_share, usual_margin
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.evaluate import reference_forces
from maple_rook.core.prediction.predict import drawn, predict_arrays
from maple_rook.core.upkeep.cautions import Place, cautions, general
from maple_rook.http.problems import Conflict
from maple_rook.shelf.knife import JOB_STROKES, RecordedKnife, ShelfKnife
from maple_rook.shelf.projection import Shelf, ShelfColumns
from maple_rook.stations.counter.schemas import (
    AdviceOut,
    ChangeOut,
    DrawsLevelOut,
    OfferOut,
    PairOut,
    PricedOut,
    RuledOut,
    SecondOut,
    SpecificationOut,
    TakeHomeOut,
    ToldOut,
    YearlyCostOut,
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
        self.terms = terms_of(db, shelf.models(Basis.CALIBRATED)[1].coefficients)
        self._known: dict[int, ShelfKnife] = {}
        self._recorded: dict[int, RecordedKnife] = {}

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
            lambda at: [knife.candidate for knife in self.recorded(at)],
            _central(shelf, columns),
            self.terms,
        )
        found = advise(profile, on_shelf, _drawn(shelf))
        others = [c.at for c in found.changes]
        others += [t.instead for t in found.told if t.instead is not None]
        second = [found.second.at] if found.second else []
        self.recorded([*others, *second, *found.ruled_out[:RULED_OUT_SHOWN]])
        return found

    def recorded(self, at: Sequence[int]) -> list[RecordedKnife]:
        """Knives of which nothing is predicted here; each looked up once."""
        missing = [i for i in dict.fromkeys(at) if i not in self._recorded]
        if missing:
            found = self._shelf.recorded(self._db, [self.id_of(i) for i in missing])
            self._recorded.update(zip(missing, found, strict=True))
        return [self._recorded[i] for i in at]

    def named(self, at: int) -> RecordedKnife:
        return self.recorded([at])[0]


def advice(db: Session, shelf: Shelf, profile: CustomerProfile) -> AdviceOut:
    """One piece a model is offered: the first new one that may be."""
    knives = _OnShelf(db, shelf)
    found = knives.advise(profile)
    shown_out = found.ruled_out[:RULED_OUT_SHOWN]
    return AdviceOut(
        offers=[
            _offer(profile, knives[o.at], o, of, knives.terms)
            for o, of in zip(
                found.offers,
                _figures(shelf, profile, [knives[o.at] for o in found.offers], knives.terms),
                strict=True,
            )
        ],
        nothing=found.nothing,
        told=[
            ToldOut(
                effect=t.effect,
                piece_id=None if t.instead is None else knives.named(t.instead).piece.id,
                name="" if t.instead is None else knives.named(t.instead).piece.name,
            )
            for t in found.told
        ],
        second=_second(found, knives),
        wanted=SpecificationOut.of(specification(profile), db.scalar(select(Shop.currency)) or ""),
        deciding=found.deciding,
        changes=[
            ChangeOut(
                answer=c.answer,
                piece_id=knives.named(c.at).piece.id,
                name=knives.named(c.at).piece.name,
            )
            for c in found.changes
        ],
        weighings=_weighings(found, knives),
        priced=_priced(found, knives),
        considered=len(knives),
        behind=knives.behind,
        ruled_out_total=len(found.ruled_out),
        ruled_out=[
            _ruled_out(knife, stops_of(profile, knife.candidate, found.ruled_by[i]))
            for i, knife in zip(shown_out, knives.recorded(shown_out), strict=True)
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


def _ruled_out(knife: RecordedKnife, reasons: list[str]) -> RuledOut:
    return RuledOut(
        piece_id=knife.piece.id, tag=knife.piece.tag, name=knife.piece.name, reasons=reasons
    )


def _second(found: Advice, knives: _OnShelf) -> SecondOut | None:
    second = found.second
    if second is None:
        return None
    knife = knives.named(second.at)
    return SecondOut(
        piece_id=knife.piece.id,
        name=knife.piece.name,
        part=second.part,
        adds=second.adds,
        warnings=from_the_record(knife.candidate),
    )


class _Figures(NamedTuple):
    """What is predicted of one knife in the customer's kitchen, as every other screen has it.

    Months to the stone with 90 % limits, as this customer keeps the edge; ``hard_food`` is the root
    that asks for more than one hand gives, with its force in N.
    """

    ease: float
    months: float
    low: float
    high: float
    hard_food: str


def _figures(
    shelf: Shelf, profile: CustomerProfile, knives: Sequence[ShelfKnife], terms: Terms
) -> list[_Figures]:
    if not knives:
        return []
    foods, life = shelf.models(Basis.CALIBRATED)
    kitchen = kitchen_of(profile)
    stroke = stroke_of(kitchen.food_mix, kitchen.stroke)
    roots = roots_of(kitchen, foods)
    found = predict_arrays(
        [knife.blade for knife in knives],
        kitchen,
        foods=foods,
        strokes=(stroke,),
        shares=False,
        only={*FIGURES, *(f"force.{food.key}.{stroke.key}" for food in roots)},
        life=life,
    )
    columns = {t.key: j for j, t in enumerate(found.targets)}
    forces = {
        food.label: found.central[:, columns[f"force.{food.key}.{stroke.key}"]] for food in roots
    }
    of = traits([knife.candidate for knife in knives])
    ease, at = columns["cutting_ease"], columns["months_to_stone"]
    months = [
        as_kept(profile, of, {"months_to_stone": column[:, at]}, terms)["months_to_stone"]
        for column in (found.central, found.low, found.high)
    ]
    rows = zip(found.central[:, ease], *months, strict=True)
    return [
        _Figures(
            float(e),
            float(likely),
            float(low),
            float(high),
            hard_food({food: float(n[i]) for food, n in forces.items()}),
        )
        for i, (e, likely, low, high) in enumerate(rows)
    ]


def _words(
    profile: CustomerProfile, knife: ShelfKnife, of: _Figures, terms: Terms
) -> dict[Criterion, str]:
    bears = float(margin(profile, traits([knife.candidate]))[0])
    release = float(knife.central[-1])
    a_year = _a_year(knife, of, terms)
    return stands_on(profile, knife.candidate, of.ease, of.months, release, bears, a_year)


def _a_year(knife: ShelfKnife, of: _Figures, terms: Terms) -> YearlyCost | None:
    price = knife.piece.price
    if not price:
        return None
    return cost_of_year(price, knife.figures["height_heel"].mean, of.months, terms)


def _offer(
    profile: CustomerProfile, knife: ShelfKnife, offer: Offer, of: _Figures, terms: Terms
) -> OfferOut:
    words, a_year = _words(profile, knife, of, terms), _a_year(knife, of, terms)
    return OfferOut(
        piece=knife.piece,
        outline=knife.outline,
        score=list(offer.score),
        first=offer.first,
        tied=offer.tied,
        on_front=offer.on_front,
        a_year=None
        if a_year is None
        else YearlyCostOut(
            total=float(a_year.total),
            knife=float(a_year.knife),
            sharpenings=float(a_year.sharpenings),
            charge=terms.charge,
            years=float(a_year.years),
        ),
        what_for=what_for(knife.candidate),
        not_for=not_for(knife.candidate),
        months=[of.low, of.high],
        why=list(offer.why),
        gives_up=list(offer.gives_up),
        warnings=[*filter(None, (of.hard_food,)), *warnings(profile, knife.candidate)],
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
            name=knives.named(found.finalists[w.at]).piece.name,
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
        for knife in (knives.named(at),)
        if knife.piece.price is not None
    ]


def card(db: Session, shelf: Shelf, profile: CustomerProfile, piece_id: int) -> TakeHomeOut:
    """The page that goes home with one knife; refused where the profile rules the knife out.

    One that is reserved goes home with whom it waits for.

    Parameters
    ----------
    db : the session the caller commits.
    shelf : the shelf as this process knows it.
    profile : the customer's.
    piece_id : number of the piece.
    """
    knife = shelf.knives(db, [piece_id])[0]
    reasons = stops(profile, replace(knife.candidate, reserved=False))
    if reasons:
        raise Conflict(f"{knife.piece.name} is ruled out for this customer. {' '.join(reasons)}")
    on_shelf = _OnShelf(db, shelf)
    found = on_shelf.advise(profile)
    offer = next((o for o in found.offers if on_shelf.id_of(o.at) == piece_id), None)
    shop = db.scalars(select(Shop)).one()
    [of] = _figures(shelf, profile, [knife], on_shelf.terms)
    words = _words(profile, knife, of, on_shelf.terms) if offer else {}
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
        warnings=[*filter(None, (of.hard_food,)), *to_mind(profile, knife.candidate)],
        care=care_lines(profile, knife.candidate, (of.low, of.high)),
        cautions=cautions(knife.blade, Place.CARD),
    )


def pair(db: Session, shelf: Shelf, profile: CustomerProfile, piece_ids: Sequence[int]) -> PairOut:
    """Which of two knives to have, or both; where one is enough, the one that suits better."""
    shelf.catch_up(db)
    knives = shelf.recorded(db, list(dict.fromkeys(piece_ids)))
    if len(knives) < 2:
        raise InvalidValue("pieces", "one knife twice", "two knives")
    candidates = [knife.candidate for knife in knives]
    names = [knife.model for knife in knives]
    if names[0] == names[1]:
        names = [knife.piece.tag for knife in knives]
    terms = terms_of(db, shelf.models(Basis.CALIBRATED)[1].coefficients)
    found = judge(profile, candidates, _drawn(shelf), terms)
    better = found.order[0] if found.order else 0
    said = which_of_two(profile, traits(candidates), names, better)
    return PairOut(
        take=[knives[i].piece.id for i in said.take],
        alone=list(said.alone),
        both=said.both,
        words=said.words,
    )

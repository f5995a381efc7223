"""The closed lists of the trade, for screens and scripts: quantities, types, foods, models."""

from __future__ import annotations

from typing import Literal

from fastapi import APIRouter
from pydantic import BaseModel
from sqlalchemy import select

from maple_rook import __version__
from maple_rook.answers.figures import ModelCardOut
from maple_rook.answers.keys import Aspect, KnifeTypeKey, QuantityKey
from maple_rook.core.cutting.foods import STROKES
from maple_rook.core.edge_life.retention import BoardMaterial, EdgeState, FoodMix, Technique, Use
from maple_rook.core.labelled import Labelled
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.instruments import InstrumentKind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES, KnifeType
from maple_rook.core.measurement.observations import ITEMS
from maple_rook.core.measurement.places import PLACED
from maple_rook.core.measurement.plain_methods import PLAIN_METHODS, PlainMethod
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import STOPS, Quantity
from maple_rook.core.measurement.units import BASE_UNIT, OTHER_SYSTEM, UNITS, Dimension, units_of
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.core.upkeep.cautions import at_stop
from maple_rook.http.access import CurrentPerson, Db
from maple_rook.http.schemas import Choice
from maple_rook.shelf.query import SORTS
from maple_rook.store.foods import shop_foods
from maple_rook.store.tables import Shop

router = APIRouter(tags=["catalogue"])


class AspectChoice(BaseModel):
    key: Aspect
    label: str


class QuantityOut(BaseModel):
    """``claim_tolerance`` is the half-width taken where a maker prints none, in the base unit.

    What makers make no claims about has none. An estimate without a range is ``estimate_share`` of
    the figure wide either way, or ``estimate_least``; what is ``placed`` is read with its place.
    """

    key: QuantityKey
    label: str
    unit: str
    entry_unit: str
    units: list[str]
    other_unit: str
    dimension: Dimension
    hard_low: float
    hard_high: float
    accepted: str
    stop: str
    method: str
    jaws: str
    instrument: str
    station: str
    required: bool
    claim_tolerance: float | None
    estimate_least: float
    estimate_share: float
    placed: bool

    @classmethod
    def of(cls, q: Quantity) -> QuantityOut:
        return cls(
            key=q.key,
            label=q.label,
            unit=q.unit,
            entry_unit=q.entry_unit,
            units=units_of(q.dimension),
            other_unit=OTHER_SYSTEM.get(q.unit, q.unit),
            dimension=q.dimension,
            hard_low=q.hard_low,
            hard_high=q.hard_high,
            accepted=q.accepted,
            stop=q.stop,
            method=q.method,
            jaws=q.jaws,
            instrument=q.instrument,
            station=q.station,
            required=q.required,
            claim_tolerance=q.claim_tolerance,
            estimate_least=q.estimate_least,
            estimate_share=q.estimate_share,
            placed=q.key in PLACED,
        )


class GivenOut(BaseModel):
    """Something that is read for a method."""

    key: str
    label: str
    unit: str
    low: float
    high: float


class PlainMethodOut(BaseModel):
    """How a quantity is read without its instrument: what to do, what to read, the caution.

    It is offered where the quantity ``asked`` is asked for.
    """

    key: str
    quantity: str
    asked: str
    label: str
    needs: list[GivenOut]
    steps: list[str]
    caution: str

    @classmethod
    def of(cls, method: PlainMethod) -> PlainMethodOut:
        needs = [
            GivenOut(key=n.key, label=n.label, unit=n.unit, low=n.low, high=n.high)
            for n in method.needs
        ]
        return cls(
            key=method.key,
            quantity=method.quantity,
            asked=method.asked,
            label=method.label,
            needs=needs,
            steps=list(method.steps),
            caution=method.caution,
        )


class UnitOut(BaseModel):
    """A unit a person may type; the value in the dimension's base unit is ``factor`` times it."""

    symbol: str
    dimension: Dimension
    factor: float
    spellings: list[str]
    base: bool
    other: str | None

    @classmethod
    def all(cls) -> list[UnitOut]:
        return [
            cls(
                symbol=u.symbol,
                dimension=u.dimension,
                factor=u.factor,
                spellings=list(u.spellings),
                base=BASE_UNIT[u.dimension] == u.symbol,
                other=OTHER_SYSTEM.get(u.symbol),
            )
            for u in UNITS.values()
        ]


class ItemOut(BaseModel):
    """Something to look at; choices in the order they are numbered at the bench."""

    key: str
    label: str
    stop: str
    method: str
    choices: list[Choice]
    aspects: list[AspectChoice]
    required: bool
    multiple: bool
    photo: bool
    free: bool


class KnifeTypeOut(BaseModel):
    key: KnifeTypeKey
    label: str
    profile: str
    typical: dict[str, tuple[float, float]]

    @classmethod
    def of(cls, t: KnifeType) -> KnifeTypeOut:
        return cls(key=t.key, label=t.label, profile=t.profile, typical=t.typical)


class GrindOut(BaseModel):
    key: Grind
    label: str
    single_bevel: bool
    behind_edge_asked: bool


class CatalogueOut(BaseModel):
    """``labels`` says what people read for the codes of every closed list."""

    version: str
    shop: str
    place: str
    currency: str
    units_first: Literal["metric", "imperial"]
    demo: bool
    person: str
    stops: list[Choice]
    cautions: dict[str, str]
    units: list[UnitOut]
    quantities: list[QuantityOut]
    plain_methods: list[PlainMethodOut]
    items: list[ItemOut]
    instrument_kinds: list[Choice]
    knife_types: list[KnifeTypeOut]
    grinds: list[GrindOut]
    foods: list[Choice]
    sorts: list[Choice]
    strokes: list[Choice]
    uses: list[Choice]
    boards: list[Choice]
    techniques: list[Choice]
    food_mixes: list[Choice]
    edges: list[Choice]
    labels: dict[str, dict[str, str]]
    cards: dict[str, ModelCardOut]


def _members(of: type[Labelled]) -> list[Choice]:
    return [Choice(key=member.value, label=member.label) for member in of]


def _choices(words: dict[str, str]) -> list[Choice]:
    return [Choice(key=key, label=label) for key, label in words.items()]


@router.get("/catalogue")
def catalogue(db: Db, person: CurrentPerson) -> CatalogueOut:
    """What can be measured, chosen and predicted, and whose shop this is."""
    shop = db.scalars(select(Shop)).one()
    return CatalogueOut(
        version=__version__,
        shop=shop.name,
        place=shop.place,
        currency=shop.currency,
        units_first=shop.units,
        demo=shop.demo,
        person=person.name,
        stops=_choices(STOPS),
        cautions={stop: at_stop(stop) for stop in STOPS},
        units=UnitOut.all(),
        quantities=[QuantityOut.of(q) for q in QUANTITIES.values()],
        plain_methods=[PlainMethodOut.of(method) for method in PLAIN_METHODS.values()],
        items=[
            ItemOut(
                key=i.key,
                label=i.label,
                stop=i.stop,
                method=i.method,
                choices=_choices(i.choices),
                aspects=[
                    AspectChoice.model_validate({"key": key, "label": label})
                    for key, label in i.aspects.items()
                ],
                required=i.required,
                multiple=i.multiple,
                photo=i.photo,
                free=i.free,
            )
            for i in ITEMS.values()
        ],
        instrument_kinds=_members(InstrumentKind),
        knife_types=[KnifeTypeOut.of(t) for t in KNIFE_TYPES.values()],
        grinds=[
            GrindOut(
                key=key,
                label=family.label,
                single_bevel=family.single_bevel,
                behind_edge_asked=family.behind_edge_asked,
            )
            for key, family in GRINDS.items()
        ],
        sorts=_choices(SORTS),
        foods=[Choice(key=f.key, label=f.label) for f in shop_foods(db)],
        strokes=[Choice(key=s.key, label=s.label) for s in STROKES.values()],
        uses=_members(Use),
        boards=_members(BoardMaterial),
        techniques=_members(Technique),
        food_mixes=_members(FoodMix),
        edges=_members(EdgeState),
        labels={
            members.__name__: {member.value: member.label for member in members}
            for members in Labelled.__subclasses__()
        },
        cards={k: ModelCardOut.of(c) for k, c in MODEL_CARDS.items()},
    )

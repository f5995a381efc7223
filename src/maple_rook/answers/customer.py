"""A customer's profile as sent to Board and Counter."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.core.choosing.circumstances import (
    Buyer,
    HandSize,
    Hours,
    Owned,
    Storage,
    Trouble,
    Wrist,
)
from maple_rook.core.choosing.criteria import Criterion
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Grip,
    Hand,
    Heft,
    Motion,
    Ratio,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.choosing.deciding import kitchen_of
from maple_rook.core.edge_life.retention import (
    BoardMaterial,
    FoodMix,
    Kitchen,
    RodSchool,
    Technique,
    Use,
)
from maple_rook.core.measurement.knife_types import knife_type
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import Strict, storable
from maple_rook.store.foods import MOST_FOODS

MOST_OWNED = 12
Label = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=60), AfterValidator(storable)
]
FoodKeyText = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
Parts = Annotated[float, Field(ge=0, le=100)]


def _known_type(key: str) -> str:
    return knife_type(key).key


class OwnedIn(Strict):
    """A knife the customer has; ``piece_id`` where it is one of the shop's."""

    knife_type: Annotated[str, AfterValidator(_known_type)]
    length_mm: Annotated[float, Field(ge=20, le=600)]
    piece_id: Annotated[int, Field(ge=1, le=MAX_ID)] | None = None


class CustomerProfileIn(Strict):
    """What a customer does with a knife and to it; no more is kept of a person than a label.

    ``shares`` are parts of each food by its key; where there are any they go before ``cuts``.
    """

    label: Label = ""
    size: Size = Size.MAIN
    use: Use = Use.HOME
    food_mix: FoodMix = FoodMix.ALL_ROUND
    shares: dict[FoodKeyText, Parts] = Field(default_factory=dict, max_length=MOST_FOODS)
    motion: Motion = Motion.ANY
    hand: Hand = Hand.RIGHT
    grip: Grip = Grip.PINCH
    bone: Bone = Bone.NONE
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    care: Care = Care.WIPED
    tools: Tools = Tools.STONES
    skill: Skill = Skill.STEADY
    heft: Heft = Heft.EITHER
    school: School = School.GEOMETRY
    rods: RodSchool = RodSchool.NONE
    ratio: Ratio = Ratio.RECORDED
    budget: Annotated[float, Field(gt=0, le=1_000_000)] | None = None
    hand_size: HandSize = HandSize.NOT_ASKED
    wrist: Wrist = Wrist.NOT_ASKED
    hours: Hours = Hours.NOT_ASKED
    buyer: Buyer = Buyer.NOT_ASKED
    storage: Storage = Storage.NOT_ASKED
    troubles: list[Trouble] = Field(default_factory=list, max_length=len(Trouble))
    owned: list[OwnedIn] = Field(default_factory=list, max_length=MOST_OWNED)

    def core(self) -> CustomerProfile:
        """The core's profile, in its kitchen."""
        shares = tuple(sorted((key, part) for key, part in self.shares.items() if part > 0))
        profile = CustomerProfile(
            self.label,
            Kitchen(self.use, self.board, self.technique, food_mix=self.food_mix, shares=shares),
            self.size,
            self.motion,
            self.hand,
            self.grip,
            self.bone,
            self.care,
            self.tools,
            self.skill,
            self.heft,
            self.school,
            self.rods,
            self.ratio,
            self.budget,
            self.hand_size,
            self.wrist,
            self.hours,
            self.buyer,
            self.storage,
            tuple(t for t in Trouble if t in self.troubles),
            tuple(Owned(o.knife_type, o.length_mm) for o in self.owned),
        )
        return profile.in_kitchen(kitchen_of(profile))

    @classmethod
    def of(cls, profile: CustomerProfile) -> Self:
        k = profile.kitchen
        return cls(
            label=profile.label,
            size=profile.size,
            use=k.use,
            food_mix=k.food_mix,
            shares=dict(k.shares),
            motion=profile.motion,
            hand=profile.hand,
            grip=profile.grip,
            bone=profile.bone,
            board=k.board,
            technique=k.technique,
            care=profile.care,
            tools=profile.tools,
            skill=profile.skill,
            heft=profile.heft,
            school=profile.school,
            rods=profile.rods,
            ratio=profile.ratio,
            budget=profile.budget,
            hand_size=profile.hand_size,
            wrist=profile.wrist,
            hours=profile.hours,
            buyer=profile.buyer,
            storage=profile.storage,
            troubles=list(profile.troubles),
            owned=[OwnedIn(knife_type=o.knife_type, length_mm=o.length_mm) for o in profile.owned],
        )


class CriterionOut(BaseModel):
    """Desirability from 0 to 1, and in words what it stands on."""

    criterion: Criterion
    desirability: float
    stands_on: str

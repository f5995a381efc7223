"""A customer's profile as Board and Counter are told it."""

from __future__ import annotations

from typing import Annotated, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    Criterion,
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
from maple_rook.http.schemas import Strict, storable
from maple_rook.store.foods import MOST_FOODS

Label = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=60), AfterValidator(storable)
]
FoodKeyText = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{0,39}$")]
Parts = Annotated[float, Field(ge=0, le=100)]


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
        )


class CriterionOut(BaseModel):
    """Desirability from 0 to 1, and in words what it stands on."""

    criterion: Criterion
    desirability: float
    stands_on: str

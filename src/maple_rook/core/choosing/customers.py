"""Presets of customers' profiles, in our own words; a start to be changed, common practice."""

from __future__ import annotations

from maple_rook.core.choosing.circumstances import Buyer, HandSize, Hours, Storage, Wrist
from maple_rook.core.choosing.customer import (
    Bone,
    Care,
    CustomerProfile,
    Grip,
    Hand,
    Heft,
    Motion,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.edge_life.retention import BoardMaterial, FoodMix, Kitchen, Technique, Use

PRESETS: dict[str, CustomerProfile] = {
    profile.label: profile
    for profile in (
        CustomerProfile(
            "home cook who hates upkeep",
            Kitchen(Use.HOME, BoardMaterial.BAMBOO, Technique.NORMAL, honed=False),
            grip=Grip.HANDLE,
            care=Care.DISHWASHER,
            tools=Tools.NOTHING,
            school=School.STEEL,
        ),
        CustomerProfile(
            "prep line",
            Kitchen(Use.PROFESSIONAL, food_mix=FoodMix.VEGETABLES),
            motion=Motion.PUSH,
            tools=Tools.STONES,
            skill=Skill.TRAINED,
            heft=Heft.LIGHT,
        ),
        CustomerProfile(
            "fish counter",
            Kitchen(
                Use.PROFESSIONAL, BoardMaterial.SOFT, Technique.CAREFUL, food_mix=FoodMix.SLICING
            ),
            Size.LONG,
            Motion.SLICE,
            tools=Tools.STONES,
            skill=Skill.TRAINED,
        ),
        CustomerProfile(
            "left-handed student",
            Kitchen(Use.KEEN),
            hand=Hand.LEFT,
            tools=Tools.ROD,
            skill=Skill.LEARNER,
            budget=160,
        ),
        CustomerProfile(
            "butcher's boning bench",
            Kitchen(Use.PROFESSIONAL),
            Size.SMALL,
            Motion.SLICE,
            grip=Grip.HANDLE,
            bone=Bone.AROUND,
            tools=Tools.ROD,
            skill=Skill.TRAINED,
            heft=Heft.HEFT,
        ),
        CustomerProfile(
            "galley",
            Kitchen(Use.PROFESSIONAL, technique=Technique.ROUGH),
            motion=Motion.ROCK,
            hand=Hand.BOTH,
            care=Care.WET,
            tools=Tools.ROD,
            school=School.STEEL,
        ),
        CustomerProfile(
            "small hand, weak wrist",
            Kitchen(Use.HOME),
            tools=Tools.SERVICE,
            hand_size=HandSize.SMALL,
            wrist=Wrist.WEAK,
        ),
        CustomerProfile(
            "ramen shop",
            Kitchen(Use.PROFESSIONAL, food_mix=FoodMix.VEGETABLES),
            motion=Motion.PUSH,
            care=Care.WET,
            tools=Tools.STONES,
            skill=Skill.TRAINED,
            hours=Hours.LONG,
        ),
        CustomerProfile(
            "camper",
            Kitchen(Use.HOME, technique=Technique.ROUGH),
            care=Care.WET,
            tools=Tools.NOTHING,
            school=School.STEEL,
            storage=Storage.ROLL,
        ),
        CustomerProfile(
            "apprentice",
            Kitchen(Use.PROFESSIONAL),
            tools=Tools.ROD,
            skill=Skill.LEARNER,
            budget=40,
        ),
        CustomerProfile(
            "grandmother's gift",
            Kitchen(Use.HOME, technique=Technique.CAREFUL),
            tools=Tools.SERVICE,
            hand_size=HandSize.SMALL,
            buyer=Buyer.GIFT,
            storage=Storage.DRAWER,
        ),
        CustomerProfile(
            "hospital kitchen",
            Kitchen(Use.PROFESSIONAL, technique=Technique.ROUGH),
            hand=Hand.BOTH,
            care=Care.DISHWASHER,
            tools=Tools.SERVICE,
            school=School.STEEL,
        ),
    )
}

"""Generic knife types, what is typical of each, and the shape each is drawn with.

Ranges are common practice in the trade, wide, without a published source. They are used to ask a
question, never to refuse a reading.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from maple_rook.core.errors import InvalidValue


@dataclass(frozen=True)
class OutlineShape:
    """How a type is drawn where it is not measured.

    Shares are of the edge length from the heel; heights are of the height at the heel.
    """

    flat_share: float
    belly_power: float
    tip_height: float
    spine_straight_share: float
    spine_power: float
    square_front: bool = False
    bolster: bool = False


@dataclass(frozen=True)
class KnifeType:
    """A generic type with its typical ranges (low, high) by quantity.

    ``work`` is what it is for, ``rocks`` the share of the edge that usually rocks
    (:func:`maple_rook.core.geometry.profile.motion_of`). A ``heavy`` pattern lasts longer between
    stones; ``for_bone`` are those that go through bones.
    """

    key: str
    label: str
    profile: str
    work: str
    rocks: float
    shape: OutlineShape
    typical: dict[str, tuple[float, float]] = field(default_factory=dict)
    heavy: bool = False
    for_bone: bool = False
    predicted: bool = True

    def usual(self, quantity: str) -> float:
        """Middle of the typical range of a quantity.

        >>> KNIFE_TYPES["gyuto"].usual("height_heel")
        48.0
        """
        return sum(self.typical[quantity]) / 2


def _type(
    key: str,
    label: str,
    profile: str,
    work: str,
    rocks: float,
    shape: OutlineShape,
    edge: tuple[float, float],
    height: tuple[float, float],
    weight: tuple[float, float],
    spine: tuple[float, float],
    angle: tuple[float, float],
    *,
    heavy: bool = False,
    for_bone: bool = False,
    predicted: bool = True,
) -> KnifeType:
    typical = {
        "edge_length": edge,
        "blade_length": (edge[0], edge[1] + 12),
        "overall_length": (edge[0] + 95, edge[1] + 175),
        "handle_length": (80, 160),
        "weight": weight,
        "spine_heel": spine,
        "spine_mid": (0.5 * spine[0], spine[1]),
        "spine_tip": (0.3, max(1.6, 0.8 * spine[1])),
        "height_heel": height,
        "height_mid": (0.7 * height[0], 1.15 * height[1]),
        "height_front": (0.25 * height[0], 1.2 * height[1]),
        "edge_angle": angle,
        "thickness_behind_edge": (0.1, 0.9 if not heavy else 1.6),
        "hardness": (52, 68),
        "balance_point": (-60, 90),
    }
    return KnifeType(key, label, profile, work, rocks, shape, typical, heavy, for_bone, predicted)


_POINTED = OutlineShape(0.45, 2.2, 0.30, 0.25, 1.9)

KNIFE_TYPES: dict[str, KnifeType] = {
    item.key: item
    for item in (
        _type(
            "western_chef",
            "Western chef's",
            "curved edge, rocks; all-round, heavier roots and meat",
            "all-round board work, roots and meat",
            0.6,
            OutlineShape(0.25, 2.0, 0.42, 0.15, 1.7, bolster=True),
            (150, 360),
            (42, 56),
            (170, 320),
            (2.2, 4.0),
            (15, 20),
        ),
        _type(
            "gyuto",
            "gyuto",
            "flatter rear, gentle belly; all-round",
            "all-round board work",
            0.4,
            _POINTED,
            (180, 300),
            (42, 54),
            (120, 260),
            (1.7, 3.5),
            (9, 16),
        ),
        _type(
            "santoku",
            "santoku",
            "near-straight edge, low tip, spine drops; push and chop",
            "vegetables and boneless meat, cut straight down",
            0.2,
            OutlineShape(0.55, 2.2, 0.17, 0.55, 2.8),
            (75, 230),
            (42, 54),
            (100, 210),
            (1.5, 3.8),
            (9, 15),
        ),
        _type(
            "petty",
            "petty",
            "small board work, line duty, short slicing",
            "small work on the board",
            0.4,
            OutlineShape(0.45, 2.0, 0.34, 0.2, 1.6),
            (110, 210),
            (24, 36),
            (50, 150),
            (1.4, 3.2),
            (9, 15),
        ),
        _type(
            "paring",
            "paring",
            "in the hand",
            "peeling and trimming in the hand",
            0.3,
            OutlineShape(0.4, 1.8, 0.4, 0.2, 1.6),
            (65, 100),
            (16, 26),
            (30, 90),
            (1.2, 2.5),
            (10, 18),
        ),
        _type(
            "slicer",
            "slicer (sujihiki)",
            "long gentle curve; draw cuts",
            "long slices of boneless meat and fish",
            0.4,
            OutlineShape(0.4, 2.2, 0.34, 0.35, 2.2),
            (230, 330),
            (33, 43),
            (130, 240),
            (1.8, 2.8),
            (9, 15),
        ),
        _type(
            "single_bevel_slicer",
            "single-bevel slicer (yanagiba)",
            "raw fish; long single draws",
            "raw fish, in one long draw",
            0.35,
            OutlineShape(0.35, 2.3, 0.42, 0.5, 2.4),
            (230, 360),
            (28, 40),
            (140, 320),
            (3.0, 4.8),
            (9, 14),
        ),
        _type(
            "nakiri",
            "nakiri",
            "flat; vegetables, straight down",
            "vegetables, straight down",
            0.1,
            OutlineShape(0.8, 2.4, 0.1, 1.0, 1.0, square_front=True),
            (150, 185),
            (45, 62),
            (130, 230),
            (1.6, 3.2),
            (10, 15),
        ),
        _type(
            "vegetable_cleaver",
            "vegetable cleaver",
            "slight belly, blade-forward",
            "vegetables in quantity",
            0.2,
            OutlineShape(0.5, 2.2, 0.08, 1.0, 1.0, square_front=True),
            (180, 230),
            (75, 105),
            (250, 460),
            (1.8, 3.5),
            (12, 18),
        ),
        _type(
            "bone_chopper",
            "bone chopper",
            "small bones, force",
            "small bones",
            0.15,
            OutlineShape(0.45, 2.0, 0.07, 1.0, 1.0, square_front=True),
            (190, 240),
            (90, 140),
            (450, 950),
            (4, 9),
            (20, 28),
            heavy=True,
            for_bone=True,
        ),
        _type(
            "honesuke",
            "poultry boning (honesuke)",
            "joints and round bones, stiff",
            "joints and round bones of poultry",
            0.1,
            OutlineShape(0.7, 1.8, 0.18, 0.1, 1.15),
            (135, 165),
            (34, 46),
            (120, 210),
            (2.6, 4.2),
            (12, 18),
        ),
        _type(
            "deba",
            "heavy fish knife (deba)",
            "fish heads and frames",
            "fish heads and frames",
            0.3,
            OutlineShape(0.4, 2.0, 0.36, 0.25, 1.8),
            (120, 230),
            (40, 62),
            (180, 500),
            (4.5, 9),
            (10, 16),
            heavy=True,
        ),
        _type(
            "serrated",
            "serrated slicer",
            "bread and crusts; recorded, not predicted",
            "bread and crusts",
            0.15,
            OutlineShape(0.6, 2.2, 0.25, 0.6, 2.4),
            (200, 300),
            (28, 42),
            (100, 260),
            (1.5, 3.0),
            (9, 25),
            predicted=False,
        ),
    )
}


def knife_type(key: str) -> KnifeType:
    """The type of this key, or :class:`InvalidValue` naming the known keys."""
    try:
        return KNIFE_TYPES[key]
    except KeyError:
        raise InvalidValue("knife type", key, ", ".join(KNIFE_TYPES)) from None

"""How one knife is kept: wash, hone, sharpen, handle, storage, and what never to do with it.

Care is common practice, without a published source.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from maple_rook.core.edge_life.retention import (
    HARD_HRC,
    BoardMaterial,
    Kitchen,
    RodSchool,
    Technique,
)
from maple_rook.core.edge_life.steels import Reactivity
from maple_rook.core.geometry.edge import UNEVEN_PERCENT
from maple_rook.core.measurement.observations import Seen
from maple_rook.core.measurement.wording import range_text
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.setup import strokes
from maple_rook.core.upkeep.sharpening_tools import Leave, rod_for

WASH = "Wash by hand, wipe and dry; not in the dishwasher, not loose in a drawer."
IN_A_DISHWASHER = (
    "In a dishwasher: nothing touching the blade, and out before the drying; never loose in a "
    "drawer."
)
DARKENS = "The blade darkens with use; that is no rust. Red rust: rub off, dry, oil."
OIL_HANDLE = "Oil the wooden handle now and then with a food-safe oil."
SOFTER_BOARD = "A softer board, wood or rubber, would keep the edge longer."
SPINE_PUSHES = "Push the food aside with the spine, never with the edge."
_NO_OIL = ("resin", "acetal", "moulded")


@dataclass(frozen=True)
class CareCard:
    """Care in its parts, each a list of plain lines."""

    every_day: tuple[str, ...]
    edge: tuple[str, ...]
    handle: tuple[str, ...]
    never: tuple[str, ...]


def reacts(blade: Blade) -> bool:
    """Whether the steel at the edge rusts and colours food; unknown steel is taken to."""
    return blade.steel is None or blade.steel.reactivity is not Reactivity.STAINLESS


def wooden(handle: str) -> bool:
    """Whether a handle needs oil: anything but resin, acetal or moulded counts as wood."""
    return bool(handle) and not any(material in handle for material in _NO_OIL)


def care_card(
    blade: Blade,
    handle: str,
    seen: Mapping[str, Seen],
    kitchen: Kitchen,
    school: RodSchool,
    months: tuple[float, float] | None,
) -> CareCard:
    """The card of a knife in a kitchen; ``months`` to the stone, 90 % limits.

    ``seen`` is what the Bench saw of cladding, lacquer and tang, by item.

    Parameters
    ----------
    blade : the blade.
    handle : what the handle is, in words.
    seen : what was seen of the knife.
    kitchen : whose kitchen it is for.
    school : of rods.
    months : to the stone, 90 % limits.
    """
    return CareCard(
        tuple(_every_day(blade, seen, kitchen)),
        tuple(_edge(blade, kitchen, school, months)),
        tuple(_handle(handle, seen)),
        tuple(never(blade, kitchen)),
    )


def _every_day(blade: Blade, seen: Mapping[str, Seen], kitchen: Kitchen) -> list[str]:
    lines = [WASH]
    if reacts(blade):
        lines.append("Wipe it dry while you work, before and after acid food. " + DARKENS)
    cladding = seen.get("cladding_reactivity")
    if cladding is not None and cladding.value == "reactive":
        lines.append("The faces are iron and rust first: a drop of food-safe oil before it rests.")
    lacquer = seen.get("lacquer")
    if lacquer is not None and lacquer.value in ("blade", "over_edge"):
        lines.append("A lacquer guards the blade in the shop: take it off before first use.")
    if kitchen.board in (BoardMaterial.GLASS, BoardMaterial.BAMBOO):
        lines.append(SOFTER_BOARD)
    lines.append("Keep it in a sheath, a block or on a magnetic bar, edge and tip guarded.")
    return lines


def _edge(
    blade: Blade, kitchen: Kitchen, school: RodSchool, months: tuple[float, float] | None
) -> list[str]:
    lines = []
    rod = rod_for(blade, school)
    if rod is not None:
        lightly = ", lightly" if rod.leave is Leave.LIGHTLY else ""
        lines.append(f"Hone it with a {rod.tool.label}{lightly}: {_at_angle(blade)}.")
    elif not blade.refused:
        lines.append("No rod on this edge. A strop wakes it; a stone makes it new.")
    if blade.refused:
        lines.append("A serrated edge goes back to be sharpened.")
        return lines
    if blade.single_bevel:
        lines.append(
            "On the stone: the wide face flat on its bevel, then the back flat, only to "
            "take the burr off."
        )
    else:
        lines.append(f"On the stone: {_at_angle(blade)}.{_ratio(blade)}")
    if months is not None:
        lines.append(
            f"Expect a stone about every {range_text(*months)} months in "
            f"this kitchen ({kitchen.use.label})."
        )
    lines.append(
        "Sharpened often and still dull: it has grown thick behind the edge and wants "
        "thinning, not new steel."
    )
    return lines


def _at_angle(blade: Blade) -> str:
    found = blade.inputs.get("edge_angle")
    if found is None:
        return "at the angle it has"
    angle = found.figure.mean
    return f"{angle:.0f}° per side, {2 * angle:.0f}° inclusive"


def _ratio(blade: Blade) -> str:
    share = blade.inputs["asymmetry"].figure.mean
    if abs(share - 50) < UNEVEN_PERCENT:
        return " Alike on both faces."
    right, left = strokes(share / 100)
    return (
        f" Ground {share:.0f}:{100 - share:.0f}: {right} strokes on the right face to {left} "
        "on the left; keep that ratio."
    )


def _handle(handle: str, seen: Mapping[str, Seen]) -> list[str]:
    lines = []
    if wooden(handle):
        lines.append(OIL_HANDLE)
    tang = seen.get("tang")
    if wooden(handle) and tang is not None and tang.value == "hidden":
        lines.append("Water must not stand where blade and handle meet: have an open joint sealed.")
    lines.append("A handle that is loose, or open at a joint, goes back to the shop.")
    return lines


def never(blade: Blade, kitchen: Kitchen) -> list[str]:
    """What is never done with this knife."""
    hardness = blade.hardness
    lines = ["Never in the dishwasher, in the sink out of sight, or loose in a drawer."]
    if blade.heavy:
        lines.append("Small bones only; never frozen food, never twisted while it is stuck.")
    else:
        lines.append("Never on bone, frozen food, shells or hard cheese rind; never to pry.")
    if (hardness is not None and hardness.mean > HARD_HRC) or kitchen.technique is Technique.ROUGH:
        lines.append(f"Never twisted or scraped over the board. {SPINE_PUSHES}")
    if blade.single_bevel:
        lines.append("Never a rod on it, never an angle on its back, never a pull-through slot.")
    elif not blade.refused:
        lines.append("Never in a pull-through slot.")
    lines.append("Never on glass, stone or steel.")
    return lines

"""Which tool may touch an edge, and how: by grind, hardness and ratio, with both schools.

All of it is common practice, without a published source.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import NamedTuple

from maple_rook.core.edge_life.retention import HARD_HRC, RodSchool
from maple_rook.core.geometry.edge import UNEVEN_PERCENT
from maple_rook.core.labelled import Labelled
from maple_rook.core.prediction.blade import Blade

STEEL_ROD_HRC = 58.0
"""Up to here a grooved steel rod will do; above it fine ceramic."""


class Tool(Labelled):
    WHETSTONE = "whetstone"
    STEEL_ROD = "steel_rod", "grooved steel rod"
    CERAMIC_ROD = "ceramic_rod", "fine ceramic rod"
    STROP = "strop"
    CLAMP = "clamp", "clamp with a guided stone"
    PULL_THROUGH = "pull_through", "pull-through slot"
    BELT = "belt", "belt or wheel"


class Leave(Labelled):
    """Whether a tool may touch an edge."""

    YES = "yes"
    LIGHTLY = "lightly"
    NEVER = "never"


@dataclass(frozen=True)
class Rule:
    """A tool for one edge: whether, why, and how it is held."""

    tool: Tool
    leave: Leave
    why: str


RODS = (Tool.STEEL_ROD, Tool.CERAMIC_ROD)
HELD = {
    Tool.WHETSTONE: "Stone flat and wet. Edge leading or trailing, the whole length to the tip; "
    "where the edge curves up lift the elbow, so that the angle stays.",
    Tool.STEEL_ROD: "Rod upright, point on a cloth, edge down and away from the body. Light as the "
    "knife's own weight, heel to tip, one face and then the other.",
    Tool.CERAMIC_ROD: "Rod upright, point on a cloth, edge down and away from the body. No more "
    "than the knife's own weight; wash the rod when it turns grey.",
    Tool.STROP: "Spine leading, edge trailing, a degree or so flatter than the stone; lift off "
    "before turning.",
    Tool.CLAMP: "Clamp at the middle of the blade, level; check the angle at heel and tip, where "
    "the guide reaches further.",
    Tool.PULL_THROUGH: "",
    Tool.BELT: "Fine belt, slow, edge trailing, the blade in water between passes: bare fingers "
    "on it must never feel it warm. For qualified people.",
}
"""How each is held."""


class _Edge(NamedTuple):
    """What the rules look at; hardness is NaN if it was not measured."""

    single: bool
    refused: bool
    uneven: bool
    hrc: float
    school: RodSchool


class _Case(NamedTuple):
    """A rule for some tools; the first that applies to an edge holds."""

    tools: tuple[Tool, ...]
    applies: Callable[[_Edge], bool]
    leave: Leave
    why: str


_EVERY = tuple(Tool)
_CASES = (
    _Case(
        _EVERY,
        lambda e: e.refused,
        Leave.NEVER,
        "A serrated edge is sharpened tooth by tooth: leave it to its maker.",
    ),
    _Case(
        RODS,
        lambda e: e.single,
        Leave.NEVER,
        "No rod on a single bevel, ever: it rounds the edge and bevels the back.",
    ),
    _Case(
        RODS,
        lambda e: math.isnan(e.hrc),
        Leave.NEVER,
        "Hardness not measured: without it no rod is advised.",
    ),
    _Case(
        (Tool.STEEL_ROD,),
        lambda e: e.hrc > STEEL_ROD_HRC,
        Leave.NEVER,
        "{hrc:.0f} HRC: a grooved rod chips an edge over 58.",
    ),
    _Case(
        (Tool.STEEL_ROD,),
        lambda _: True,
        Leave.YES,
        "{hrc:.0f} HRC rolls before it chips: a rod lays it straight again.",
    ),
    _Case(
        (Tool.CERAMIC_ROD,),
        lambda e: e.hrc >= HARD_HRC and e.school is RodSchool.NONE,
        Leave.NEVER,
        "{hrc:.0f} HRC, and by your school no rod from 62: strop or stone.",
    ),
    _Case(
        (Tool.CERAMIC_ROD,),
        lambda e: e.hrc >= HARD_HRC,
        Leave.LIGHTLY,
        "{hrc:.0f} HRC: very lightly, by the school that allows it.",
    ),
    _Case(
        (Tool.CERAMIC_ROD,),
        lambda e: e.hrc > STEEL_ROD_HRC,
        Leave.LIGHTLY,
        "{hrc:.0f} HRC: lightly; it realigns and takes little.",
    ),
    _Case(
        (Tool.CERAMIC_ROD,),
        lambda _: True,
        Leave.YES,
        "{hrc:.0f} HRC: gentler than the grooved rod.",
    ),
    _Case(
        (Tool.WHETSTONE,),
        lambda e: e.single,
        Leave.YES,
        "The face flat on its bevel, the back only to take the burr off; a truly flat stone.",
    ),
    _Case(
        (Tool.WHETSTONE,),
        lambda _: True,
        Leave.YES,
        "Makes a new edge; the only tool that does for every knife.",
    ),
    _Case(
        (Tool.STROP,),
        lambda _: True,
        Leave.YES,
        "Takes the last burr and wakes an edge that still bites.",
    ),
    _Case(
        (Tool.CLAMP,),
        lambda e: e.single,
        Leave.NEVER,
        "It cannot lie flat on a wide face, and it would bevel the back.",
    ),
    _Case(
        (Tool.CLAMP,),
        lambda _: True,
        Leave.YES,
        "Holds the angle for you; set each face to its own.",
    ),
    _Case(
        (Tool.PULL_THROUGH,),
        lambda e: e.single,
        Leave.NEVER,
        "It grinds both faces alike: the end of a single bevel.",
    ),
    _Case(
        (Tool.PULL_THROUGH,),
        lambda e: e.uneven,
        Leave.NEVER,
        "It grinds both faces alike: the ratio is gone after a few pulls.",
    ),
    _Case(
        (Tool.PULL_THROUGH,),
        lambda _: True,
        Leave.NEVER,
        "It tears more than it cuts, at an angle that is not this knife's.",
    ),
    _Case(
        (Tool.BELT,),
        lambda e: e.single or e.hrc > HARD_HRC,
        Leave.NEVER,
        "Too much heat and too much steel at once for an edge like this.",
    ),
    _Case(
        (Tool.BELT,),
        lambda _: True,
        Leave.LIGHTLY,
        "For damage and thick edges, by those who know it; heat ruins the temper.",
    ),
)


def rules(blade: Blade, school: RodSchool) -> list[Rule]:
    """Every tool for this edge, in the order of :class:`Tool`."""
    hardness = blade.hardness
    uneven = abs(blade.inputs["asymmetry"].figure.mean - 50) >= UNEVEN_PERCENT
    edge = _Edge(
        blade.single_bevel,
        bool(blade.refused),
        uneven and not blade.single_bevel,
        hardness.mean if hardness else math.nan,
        school,
    )
    return [_ruled(tool, edge) for tool in Tool]


def _ruled(tool: Tool, edge: _Edge) -> Rule:
    case = next(c for c in _CASES if tool in c.tools and c.applies(edge))
    return Rule(tool, case.leave, case.why.format(hrc=edge.hrc))


def rod_for(blade: Blade, school: RodSchool) -> Rule | None:
    """The rod this edge is honed with, or None where none may touch it."""
    found = [r for r in rules(blade, school) if r.tool in RODS and r.leave is not Leave.NEVER]
    return found[0] if found else None

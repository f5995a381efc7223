"""The models, evaluated for any number of blades and draws at once."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

import numpy as np

from maple_rook.core.cutting.food_release import release_points
from maple_rook.core.cutting.foods import (
    CUT_SHARES,
    FOOD_SCATTER,
    Food,
    Stroke,
    food_mix_weights,
    stroke_of,
)
from maple_rook.core.cutting.force import (
    EDGE_RADII_UM,
    HALF_WORN_UM,
    Forces,
    ease_index,
    forces_n,
    side_force_n,
    work_j,
)
from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.edge_life.life_model import PUBLISHED_LIFE, LifeModel
from maple_rook.core.edge_life.retention import (
    EdgeState,
    FoodMix,
    Kitchen,
    card_cut_mm,
    curve_doubt,
    days_to_rod,
    holds_an_edge,
    initial_cut_mm,
    months_to_stone,
    wearing_deg,
    widening,
)
from maple_rook.core.edge_life.stability import borne_n_mm, lasting_share, usual_margin
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.outline import Lines, heights_mm
from maple_rook.core.geometry.section import Section, flat_section, section
from maple_rook.core.geometry.solid import (
    STATION_SHARES,
    TIP_STATION_MM,
    Solid,
    in_the_hand,
    thickness_along_mm,
)
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.hardness import yield_strength_mpa
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.inputs import INDEX, LOWEST, height_shares
from maple_rook.core.prediction.model_cards import PREDICTED, card, keys

STEERED_FOOD = "carrot"
"""The food that steering and work are given for: firm, and held still."""
_MIDDLE = CUT_SHARES.index(0.5)
_FRESH_UM = EDGE_RADII_UM[EdgeState.FRESH].mean

OTHERS = tuple(key for key in PREDICTED if key != "cutting_force")
"""The predictions beside the forces, of which there is one for every food and stroke."""
OF_THE_SOLID = frozenset(keys("of_the_solid"))
OF_ONE_CUT = frozenset({"steering_force", "cut_work"})
"""Followed through one food beside the forces of all of them."""
EASES = {mix: f"cutting_ease.{mix.value}" for mix in FoodMix if mix is not Kitchen().food_mix}
"""Cutting ease for every food mix but the usual kitchen's: it goes with the efforts."""


@dataclass(frozen=True)
class Target:
    """One predicted quantity: its key, its label and its model card's key."""

    key: str
    label: str
    card: str


def targets(
    foods: Sequence[Food], strokes: Sequence[Stroke], *, efforts: bool = False
) -> list[Target]:
    """The predicted quantities for these foods and strokes, in the order of the arrays."""
    forces = [
        Target(f"{what}.{f.key}.{s.key}", f"{f.label}, {s.label}", "cutting_force")
        for what in ("force", *(["effort"] if efforts else []))
        for f in foods
        for s in strokes
    ]
    eases = [
        Target(key, f"{card('cutting_ease').name}, {mix.label}", "cutting_ease")
        for mix, key in (EASES.items() if efforts else ())
    ]
    return [*forces, *(Target(key, card(key).name, key) for key in OTHERS), *eases]


@dataclass(frozen=True)
class Group:
    """Blades whose sections are built of the same parts, by their places in the call."""

    grind: Grind
    steeper: bool
    left_handed: bool
    shaped: str
    school: AsymmetrySchool
    bent: bool
    at: Array

    def section(self, x: dict[str, Array], spine: Array, height: Array) -> Section:
        """The section of the group's inputs at a spine thickness and height."""
        extra = spine.ndim - x["edge_angle"].ndim

        def wide(key: str) -> Array:
            return x[key][..., None] if extra else x[key]

        return section(
            self.grind,
            spine,
            height,
            wide("thickness_behind_edge"),
            wide("edge_angle"),
            wide("asymmetry") / 100,
            angle_difference_deg=wide("angle_difference"),
            bulge=wide("bulge") if self.bent else None,
            grind_line=wide("grind_line"),
            steeper_deg=wide("steeper") if self.steeper else None,
            hollow_depth_mm=wide("hollow_depth"),
            shinogi=wide("shinogi"),
            shaped=self.shaped,
            school=self.school,
        )


def groups(blades: Sequence[Blade]) -> Iterator[Group]:
    """The blades by what their sections are built of."""
    found: dict[tuple[Grind, bool, bool, str, AsymmetrySchool, bool], list[int]] = {}
    for i, blade in enumerate(blades):
        family = blade.family
        grind = blade.grind if family.added_bevel else family.like or blade.grind
        school = blade.school or AsymmetrySchool.WIDTH
        key = (grind, blade.has_steeper, blade.left_handed, blade.shaped, school, blade.bent)
        found.setdefault(key, []).append(i)
    for key, at in found.items():
        yield Group(*key, np.array(at))


def evaluate(
    values: Array,
    blades: Sequence[Blade],
    kitchen: Kitchen,
    foods: list[Food],
    strokes: list[Stroke],
    only: frozenset[str] = frozenset(OTHERS),
    life: LifeModel = PUBLISHED_LIFE,
    *,
    efforts: bool = False,
) -> Array:
    """Every target for every draw: (n, inputs, draws) to (n, targets, draws).

    Of :data:`OTHERS` those named by ``only``; the rest may be NaN.

    Parameters
    ----------
    values : inputs, (n, inputs, draws).
    blades : the blades, n of them.
    kitchen : whose kitchen it is for.
    foods : the foods forces are wanted for.
    strokes : the strokes forces are wanted for; a job has its own.
    only : keys of the targets wanted beside the forces.
    life : what the edge life is computed with.
    efforts : whether efforts follow the forces, and :data:`EASES` come last.
    """
    n, _, draws = values.shape
    forced = len(foods) * len(strokes) * (2 if efforts else 1)
    named = (*OTHERS, *(EASES.values() if efforts else ()))
    out = np.empty((n, forced + len(named), draws))
    at_cuts = height_shares(blades, np.array(CUT_SHARES))
    shares = height_shares(blades) if only & OF_THE_SOLID else np.ones((n, 1))
    for group in groups(blades):
        whole = len(group.at) == n
        mine = blades if whole else [blades[i] for i in group.at]
        picked = values if whole else values[group.at]
        x = {
            key: np.maximum(picked[:, i], LOWEST[key]) if key in LOWEST else picked[:, i]
            for key, i in INDEX.items()
        }
        x["asymmetry"] = _on_one_hand(x["asymmetry"], group)
        heights = at_cuts[group.at], shares[group.at]
        forces, others = _of_group(
            group, x, mine, heights, kitchen, foods, strokes, only, life, efforts=efforts
        )
        rows = slice(None) if whole else group.at
        out[rows, :forced] = np.moveaxis(forces, 2, 0).reshape(len(mine), forced, draws)
        for j, key in enumerate(named):
            out[rows, forced + j] = others.get(key, np.nan)
    return out


def _on_one_hand(asymmetry: Array, group: Group) -> Array:
    """A draw never moves a single-bevel face to the other side."""
    share = np.minimum(asymmetry, 100.0)
    if not GRINDS[group.grind].single_bevel:
        return share
    return np.minimum(share, 49.9) if group.left_handed else np.maximum(share, 50.0)


def _of_group(
    group: Group,
    x: dict[str, Array],
    blades: Sequence[Blade],
    height_shares: tuple[Array, Array],
    kitchen: Kitchen,
    foods: list[Food],
    strokes: list[Stroke],
    only: frozenset[str],
    life: LifeModel,
    *,
    efforts: bool,
) -> tuple[Array, dict[str, Array]]:
    """Forces (foods, strokes, n, draws), then efforts where wanted; other targets by key."""
    heel = group.section(x, x["spine_heel"], x["height_heel"])
    mixes = tuple(EASES) if efforts else ()
    fresh, cutting = _cutting(group, x, height_shares[0], kitchen, foods, strokes, mixes, only)
    count = len(strokes)
    resists = {food.spread: _resists(food, x) for food in foods}
    forces = fresh.through[:, :count] * np.stack([resists[f.spread] for f in foods])[:, None]
    if efforts:
        forces = np.concatenate([forces, fresh.effort[:, :count]])
    mid = x["edge_length"] / 2
    front = mid - TIP_STATION_MM
    found = {
        **cutting,
        "yield_strength": yield_strength_mpa(x["hardness"], clip=True),
        "distal_taper": (x["spine_heel"] - x["spine_tip"]) / (mid + front) * 100,
        "taper_rear": (x["spine_heel"] - x["spine_mid"]) / mid * 100,
        "taper_front": (x["spine_mid"] - x["spine_tip"]) / front * 100,
        "primary_angle": heel.primary_angle_deg,
        "apex_offset": heel.bevels.apex_offset_mm,
        "release": _release(heel, x),
        **_edge_life(group, x, blades, kitchen, life),
    }
    if only & OF_THE_SOLID:
        found |= _as_a_solid(group, x, blades, height_shares[1])
    return forces, found


def _cutting(
    group: Group,
    x: dict[str, Array],
    height_share: Array,
    kitchen: Kitchen,
    foods: list[Food],
    strokes: list[Stroke],
    mixes: tuple[FoodMix, ...],
    only: frozenset[str],
) -> tuple[Forces, dict[str, Array]]:
    """Forces through the foods without the foods' own spread, N, and what a job feels of them.

    Of ``mixes`` the ease is wanted beside that of the kitchen.

    The food's own spread is common to all knives: it widens newtons and cancels in the indices.
    """
    made = sections_at(group, x, np.array(CUT_SHARES), height_share)
    job = stroke_of(kitchen.food_mix, kitchen.stroke)
    asked = list(dict.fromkeys((*strokes, job, *(stroke_of(mix) for mix in mixes))))
    edge = x["edge_length"]
    radii = [x["edge_radius"]]
    if "worn_ease" in only:
        radii.append(_worn_um(x["edge_radius"]))
    fresh, *worn = forces_n(made, foods, asked, radii, edge)
    weights = food_mix_weights(kitchen.food_mix, foods, kitchen.shares)
    reference = reference_forces(tuple(foods), job)
    at = asked.index(job)

    def index(efforts: Array, of_reference: Array, weights: Array = weights) -> Array:
        return ease_index(efforts, of_reference[:, 0][:, None, None], weights)

    def ease(mix: FoodMix) -> Array:
        stroke = stroke_of(mix)
        needed = reference_forces(tuple(foods), stroke).effort
        return index(fresh.effort[:, asked.index(stroke)], needed, food_mix_weights(mix, foods))

    found = {
        "cutting_ease": index(fresh.effort[:, at], reference.effort),
        "bite": index(fresh.bite[:, at], reference.bite),
        **{EASES[mix]: ease(mix) for mix in mixes},
    }
    for of in worn:
        found["worn_ease"] = index(of.effort[:, at], reference.effort)
    if not only & OF_ONE_CUT:
        return fresh, found
    steered = next((f for f in foods if f.key == STEERED_FOOD), foods[0])
    middle, food = made.at(_MIDDLE), _resists(steered, x)
    found["steering_force"] = side_force_n(middle, steered) * food
    found["cut_work"] = work_j(middle, steered, x["edge_radius"]) * food
    return fresh, found


def _resists(food: Food, x: dict[str, Array]) -> Array:
    """How much more than likely a food resists in each draw: as widely as it is known."""
    resists: Array = np.exp(x["food"] * (food.spread / FOOD_SCATTER))
    return resists


def _worn_um(radius_um: Array) -> Array:
    """Edge radius half way to the stone, as widely known as now; an edge past that stays."""
    return np.where(radius_um < HALF_WORN_UM, radius_um * (HALF_WORN_UM / _FRESH_UM), radius_um)


def _release(heel: Section, x: dict[str, Array]) -> Array:
    parts = release_points(x["bulge"], heel.primary_angle_deg, x["surface"], x["height_heel"])
    return np.clip(sum(parts) + x["release_scatter"], 0, 100)


def apex_inclusive_deg(group: Group, x: dict[str, Array]) -> Array:
    """Inclusive angle at the apex itself, degrees.

    Twice the angle per side, or twice the micro-bevel's where there is one; a plain single bevel
    has its face angle, or its micro-bevel's, against a flat back.
    """
    per_side = x["steeper"] if group.steeper else x["edge_angle"]
    return GRINDS[group.grind].faces_at_apex * per_side


def wearing_inclusive_deg(group: Group, x: dict[str, Array]) -> Array:
    """Inclusive angle that wears, degrees: a micro-bevel counts by its share of it."""
    grind = GRINDS[group.grind]
    if not group.steeper or grind.added_bevel:
        return apex_inclusive_deg(group, x)
    return grind.faces_at_apex * wearing_deg(x["edge_angle"], x["steeper"])


def strop_days(blade: Blade, kitchen: Kitchen, life: LifeModel) -> float | None:
    """Days until an edge that no rod may touch wants the strop: those a rod would have.

    None where no interval is promised.
    """
    hrc = blade.hrc
    if not holds_an_edge(hrc):
        return None
    days = days_to_rod(
        hrc,
        blade.apex_deg / 2,
        kitchen,
        heavy=blade.heavy,
        even_machine_edge=blade.even_machine_edge,
        c=life.coefficients,
    )
    return float(days)


class _Own(NamedTuple):
    """Own trials of blades: means and deviations of ln ratios (n, 1); NaN where there are none."""

    mean: Array
    sd: Array

    def less(self, shared: tuple[Array, Array]) -> _Own:
        """Without an offset that is part of what the trials found."""
        return _Own(self.mean - shared[0], np.hypot(self.sd, shared[1]))

    def instead_of(self, otherwise: Array, published: Array, x: dict[str, Array]) -> Array:
        """Predictions from the knife's own trials, where it has any.

        What was wrong with its inputs is in what was observed, so only the published figure at
        their means counts.
        """
        if np.isnan(self.mean).all():
            return otherwise
        found = published[:, :1] * np.exp(self.mean + self.sd * x["card_scatter"])
        return np.where(np.isnan(self.mean), otherwise, found)


def _own(blades: Sequence[Blade], target: str, kitchen: Kitchen, life: LifeModel) -> _Own:
    found = [life.own_of(b.seed, target, kitchen) for b in blades]
    columns = np.array([[np.nan, np.nan] if o is None else [o.mean, o.sd] for o in found])
    return _Own(columns[:, :1], columns[:, 1:])


def _edge_life(
    group: Group, x: dict[str, Array], blades: Sequence[Blade], kitchen: Kitchen, life: LifeModel
) -> dict[str, Array]:
    c, at_apex = life.coefficients, apex_inclusive_deg(group, x)
    inclusive = wearing_inclusive_deg(group, x)
    heavy = np.array([[b.heavy] for b in blades])
    even = np.array([[b.even_machine_edge] for b in blades])
    offsets = life.offsets([b.grade_class for b in blades])

    def offset(of: tuple[Array, Array], drawn: str) -> Array:
        return of[0] + of[1] * x[drawn]

    central = (x["hardness"][:, :1], inclusive[:, :1])
    scatter = np.hypot(
        offsets.card * widening(*central, c), curve_doubt(*central, x["carbides"][:, :1], c)
    )
    published = card_cut_mm(x["hardness"], inclusive, x["carbides"], c)
    wear = published * np.exp(scatter * x["card_scatter"] + offset(offsets.steel, "class_offset"))
    card_test = wear * np.exp(offset(offsets.shop, "shop_offset"))
    tried = _own(blades, "card_test", kitchen, life)
    card_test = tried.instead_of(card_test, published, x)
    # the tester's share of what the knife's own test found is not the edge's
    wear = tried.less(offsets.shop).instead_of(wear, published, x)
    first = initial_cut_mm(at_apex, card_test, c)
    rod = days_to_rod(x["hardness"], at_apex / 2, kitchen, heavy=heavy, even_machine_edge=even, c=c)
    rod = _own(blades, "days_to_rod", kitchen, life).instead_of(
        rod * np.exp(offset(offsets.rod, "kitchen_scatter")), rod, x
    )
    toughness = np.array([[b.toughness_60] for b in blades])
    borne = borne_n_mm(x["hardness"], at_apex / 2, toughness)
    lasting = lasting_share(usual_margin(borne, kitchen.technique))

    def months(tcc: Array, borne_share: Array) -> Array:
        return months_to_stone(
            tcc, kitchen, heavy=heavy, even_machine_edge=even, lasting=borne_share, c=c
        )

    logged = _own(blades, "months_to_stone", kitchen, life)
    as_published = months(published[:, :1] * np.exp(offsets.steel[0]), lasting[:, :1])
    stone = months(wear, lasting) * np.exp(offset(offsets.stone, "kitchen_scatter"))
    stone = logged.instead_of(stone, as_published, x)
    if not GRINDS[group.grind].single_bevel:  # the rod comes first where there is one
        stone = np.maximum(stone, rod / DAYS_IN_MONTH)
    return {
        "card_test": card_test,
        "initial_cut": first * np.exp(c.initial_scatter * x["initial_scatter"]),
        "days_to_rod": rod,
        "months_to_stone": stone,
    }


def _as_a_solid(
    group: Group, x: dict[str, Array], blades: Sequence[Blade], height_share: Array
) -> dict[str, Array]:
    solid = solid_of(group, x, blades, height_share)
    hand = in_the_hand(solid, x["weight"], x["balance_point"], x["handle_length"])
    return {
        "blade_mass": hand.blade_g,
        "handle_side": hand.handle_side_g,
        "static_moment": hand.static_moment_n_mm,
        "swing": hand.swing_kg_cm2,
        "tip_deflection": solid.tip_deflection_mm,
        "side_area": solid.side_area_cm2,
    }


def solid_of(
    group: Group, x: dict[str, Array], blades: Sequence[Blade], height_share: Array
) -> Solid:
    """The group's sections swept along the blade; stations are the last axis."""
    made = sections_at(group, x, STATION_SHARES, height_share)
    density = np.array([[b.density_g_cm3] for b in blades])
    return Solid(made, x["edge_length"], density)


def sections_at(group: Group, x: dict[str, Array], shares: Array, height_share: Array) -> Section:
    """The group's sections at shares of the edge length, on the last axis.

    Spine and height are those found there; ``height_share`` is the height there over the heel's,
    (n, stations).
    """
    spine = thickness_along_mm(
        shares,
        *(x[key][..., None] for key in ("edge_length", "spine_heel", "spine_mid", "spine_tip")),
    )
    lowest = 1.05 * x["thickness_behind_edge"][..., None]
    tangent = np.tan(np.radians(x["edge_angle"]))[..., None]
    tall = x["height_heel"] * np.exp(x["heights"])
    height = np.maximum(height_share[:, None, :] * tall[..., None], 1.2 * lowest / tangent + 1)
    return group.section(x, np.maximum(spine, lowest), height)


REFERENCE_EDGE_MM = 210.0


def reference_sections(thickness_behind_edge_mm: float = 0.30) -> Section:
    """The reference blade where a cut is taken: spine 2.2, 1.9 and 0.8 mm along 210 mm of edge.

    Flat, 0.30 mm behind the edge unless it is drawn with another thickness there, 15 degrees per
    side, in the outline of a gyuto 45 mm high.
    """
    shares = np.array(CUT_SHARES)
    spine = thickness_along_mm(shares, REFERENCE_EDGE_MM, 2.2, 1.9, 0.8)
    lines = Lines(KNIFE_TYPES["gyuto"].shape, REFERENCE_EDGE_MM, 45.0, {})
    return flat_section(spine, heights_mm(lines, shares), thickness_behind_edge_mm, 15.0)


@lru_cache(maxsize=64)
def reference_forces(foods: tuple[Food, ...], stroke: Stroke) -> Forces:
    """Forces of the reference blade, fresh from the stone, for each food by one stroke."""
    return forces_n(reference_sections(), foods, [stroke], [_FRESH_UM], REFERENCE_EDGE_MM)[0]

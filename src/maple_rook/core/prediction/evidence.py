"""From trials to calibration: what was observed over what the models say, a row for each piece."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from maple_rook.core.edge_life.calibration import (
    CLASSES,
    LeftOut,
    Posterior,
    leave_one_out,
    update,
)
from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.edge_life.life_model import (
    TRIED,
    Basis,
    KitchenKey,
    LifeModel,
    Own,
    kitchen_key,
    uncalibrated,
)
from maple_rook.core.edge_life.retention import (
    Kitchen,
    RodSchool,
    carbide_term,
    card_cut_mm,
    curve_doubt,
    days_to_rod,
    months_to_stone,
    widening,
)
from maple_rook.core.edge_life.stability import lasting_share
from maple_rook.core.edge_life.steels import GradeClass
from maple_rook.core.edge_life.trials import Found, Protocol, Trial, breaks, results
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.core.measurement.hardness import vickers
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.inputs import unavailable

REPEAT_SHARE = 0.5
"""Two trials of one knife differ by this share of what knives differ by (assumption)."""
TRIAL_ANGLE_U_DEG = 0.5
"""Standard uncertainty of the angle an edge was set to for a trial (assumption)."""


@dataclass(frozen=True)
class Tried:
    """A trial with the knife as it is known now; ``set_aside`` is a person's reason, or empty."""

    trial_id: int
    piece_id: int
    blade: Blade
    trial: Trial
    set_aside: str = ""

    @cached_property
    def left_out(self) -> list[str]:
        """Why this trial teaches the models nothing; empty where it counts."""
        why = [self.set_aside] if self.set_aside else []
        return why + breaks(self.trial)

    @cached_property
    def found(self) -> list[Found]:
        """What the trial found."""
        return results(self.trial)

    @cached_property
    def as_tried(self) -> Blade:
        """The knife with the edge it was tried with."""
        return as_tried(self.blade, self.trial.protocol)


@dataclass(frozen=True)
class Expected:
    """What the models say a trial finds, without any offset, and its input uncertainty in ln."""

    value: float
    input_u: float
    widening: float


@dataclass(frozen=True)
class Evidence:
    """A piece's observed over predicted, the mean of its trials of one kind."""

    piece_id: int
    trial_ids: tuple[int, ...]
    target: str
    grade_class: GradeClass
    observed: float
    predicted: float
    widening: float
    read_variance: float
    input_variance: float
    kitchens: frozenset[KitchenKey] = frozenset()

    @property
    def other_variance(self) -> float:
        return self.read_variance + self.input_variance

    @property
    def ln_ratio(self) -> float:
        return math.log(self.observed / self.predicted)

    def weight(self, scatter: float) -> float:
        """Scatter^2 over this row's variance: wider out of range, reading and inputs added."""
        return scatter**2 / ((scatter * self.widening) ** 2 + self.other_variance)


def as_tried(blade: Blade, protocol: Protocol) -> Blade:
    """The blade with the edge angle it was set to for the trial."""
    angle = protocol.angle_per_side_deg
    if angle is None:
        return blade
    kept = {
        k: f
        for k, f in blade.figures.items()
        if k not in ("micro_bevel", "angle_left", "angle_right")
    }
    return replace(blade, figures={**kept, "edge_angle": Figure(angle, TRIAL_ANGLE_U_DEG)})


def expected(
    blade: Blade, target: str, kitchen: Kitchen | None, c: Coefficients, class_mean: float = 0.0
) -> Expected | None:
    """The uncalibrated figure for a blade, or None where there is none.

    ``class_mean`` is the offset of the grade's class in card tests, which months follow.

    Parameters
    ----------
    blade : the blade.
    target : key of the prediction.
    kitchen : whose kitchen it is for.
    c : coefficients of the edge-life models.
    class_mean : offset of the grade's class.
    """
    # a kitchen that used the rod and wrote it down follows the school that allows it
    if unavailable(blade, target, RodSchool.LIGHT) is not None or "hardness" not in blade.known:
        return None
    hardness, sides = blade.inputs["hardness"].figure, blade.family.faces_at_apex
    angle = blade.inputs[blade.apex_key].figure
    hrc, at_apex, inclusive = hardness.mean, blade.apex_deg, blade.wearing_deg
    where = kitchen or Kitchen()
    rod = days_to_rod(
        hrc,
        at_apex / 2,
        where,
        heavy=blade.heavy,
        even_machine_edge=blade.even_machine_edge,
        c=c,
    )
    if target == "days_to_rod":
        theta = np.radians(at_apex / 2)
        lean = np.radians(angle.standard_uncertainty) / (np.sin(theta) * np.cos(theta))
        harder = np.log(vickers(hrc + 0.5, clip=True) / vickers(hrc - 0.5, clip=True))
        hard = c.rod_strength_exponent * harder * hardness.standard_uncertainty
        return Expected(float(rod), float(np.hypot(lean, hard)), 1.0)
    carbides = carbide_term(blade.steel.carbides, c) if blade.steel else math.nan
    relative = blade.steel.carbide_relative_u if blade.steel else 0.0
    tcc = float(card_cut_mm(hrc, inclusive, carbides, c))
    u = _relative_u(
        lambda h, a, term: card_cut_mm(h, a, term, c),
        np.array([hrc, inclusive, carbides]),
        (
            hardness.standard_uncertainty,
            sides * angle.standard_uncertainty,
            carbides * relative,
        ),
    )
    if target == "card_test":
        doubt = float(curve_doubt(hrc, inclusive, carbides, c))
        return Expected(tcc, math.hypot(u, doubt), float(widening(hrc, inclusive, c)))
    months = months_to_stone(
        tcc * math.exp(class_mean),
        where,
        heavy=blade.heavy,
        even_machine_edge=blade.even_machine_edge,
        lasting=lasting_share(blade.margin(where.technique)),
        c=c,
    )
    own = u * c.stone_wear_exponent
    least = 0.0 if blade.single_bevel else float(rod) / DAYS_IN_MONTH
    return Expected(max(float(months), least), own, 1.0)


def _relative_u(model: Callable[..., Array], at: Array, u: Sequence[float]) -> float:
    """Relative standard uncertainty of a model at some inputs, by first differences."""
    steps = np.diag(np.array(u) / 2)
    moved = [np.log(model(*(at + step)) / model(*(at - step))) for step in steps]
    return float(np.sqrt(np.sum(np.square(moved))))


def evidence(
    tried: Iterable[Tried],
    target: str,
    c: Coefficients,
    class_means: Mapping[GradeClass, float] | None = None,
) -> list[Evidence]:
    """One row a piece that was tried for a target by trials that count."""
    by_piece: dict[int, list[tuple[Tried, Found, Expected]]] = defaultdict(list)
    for one in tried:
        if one.left_out:
            continue
        for found in one.found:
            if found.key == target:
                blade = one.as_tried
                mean = (class_means or {}).get(blade.grade_class, 0.0)
                at = expected(blade, target, one.trial.protocol.kitchen, c, mean)
                if at is not None:
                    by_piece[one.piece_id].append((one, found, at))
    return [_of_piece(piece, target, rows) for piece, rows in by_piece.items()]


def _of_piece(
    piece_id: int, target: str, rows: Sequence[tuple[Tried, Found, Expected]]
) -> Evidence:
    """Several trials of a piece count as one, their mean: they share the knife's own departure."""
    first = rows[0][0]
    ln_observed = float(np.mean([math.log(found.value) for _, found, _ in rows]))
    ln_predicted = float(np.mean([math.log(at.value) for _, _, at in rows]))
    read = sum(found.relative_u**2 for _, found, _ in rows) / len(rows) ** 2
    inputs = max(at.input_u for _, _, at in rows) ** 2
    return Evidence(
        piece_id,
        tuple(one.trial_id for one, _, _ in rows),
        target,
        first.blade.grade_class,
        math.exp(ln_observed),
        math.exp(ln_predicted),
        max(at.widening for _, _, at in rows),
        read,
        inputs,
        frozenset(
            kitchen_key(one.trial.protocol.kitchen)
            for one, _, _ in rows
            if one.trial.protocol.kitchen is not None
        ),
    )


def own_offset(row: Evidence, posterior: Posterior) -> Own:
    """What a piece's own trials say of it, shop and class being what is known without them.

    Normal prior of its ln ratio: offset of shop and class, scatter between knives and the inputs'
    uncertainty; normal observation: reading, and what two trials of one knife differ by. The
    conjugate posterior (known variances).
    """
    mean, sd = posterior.offset(row.grade_class)
    before = sd**2 + (posterior.scatter * row.widening) ** 2 + row.input_variance
    n = len(row.trial_ids)
    seen = row.read_variance + (REPEAT_SHARE * posterior.scatter) ** 2 / n
    variance = 1 / (1 / before + 1 / seen)
    return Own(
        variance * (mean / before + row.ln_ratio / seen),
        math.sqrt(variance),
        (1 / before + (n + 1) / (n * seen)) ** -0.5,
        row.observed,
        n,
        row.kitchens,
    )


@dataclass(frozen=True)
class Calibration:
    """The calibrated models, and for each target the rows they rest on and how well they do."""

    before: LifeModel
    after: LifeModel
    rows: Mapping[str, list[Evidence]]
    left_out: Mapping[str, LeftOut]
    not_counted: tuple[int, ...] = ()
    """Ids of the trials that teach nothing."""

    def life(self, basis: Basis) -> LifeModel:
        """The models of a basis."""
        return self.after if basis is Basis.CALIBRATED else self.before


def calibrate(tried: Sequence[Tried], c: Coefficients) -> Calibration:
    """Card tests first; months to the stone then follow what they say of the grade's class."""
    before = uncalibrated(c)
    posteriors, rows, left_out = {}, {}, {}
    class_means: dict[GradeClass, float] = {}
    for target in TRIED:
        found = evidence(tried, target, c, class_means)
        prior = before.posteriors[target]
        at = [CLASSES.index(row.grade_class) for row in found]
        ratios = [row.ln_ratio for row in found]
        weights = [row.weight(prior.scatter) for row in found]
        posteriors[target] = update(prior, at, ratios, weights)
        left_out[target] = leave_one_out(prior, at, ratios, weights)
        rows[target] = found
        if target == "card_test":
            class_means = {k: posteriors[target].class_mean(k) for k in CLASSES}
    not_counted = tuple(one.trial_id for one in tried if one.left_out)
    own: dict[int, dict[str, Own]] = defaultdict(dict)
    for target, of_target in rows.items():
        for row in of_target:
            own[row.piece_id][target] = own_offset(row, posteriors[target])
    after = LifeModel(c, posteriors, Basis.CALIBRATED, dict(own))
    return Calibration(before, after, rows, left_out, not_counted)

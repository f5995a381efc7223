"""Predictions kept with all that made them, and made again from it alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from maple_rook.core.cutting.foods import Food, completed
from maple_rook.core.edge_life.calibration import Posterior
from maple_rook.core.edge_life.life_model import Basis, LifeModel, Own
from maple_rook.core.edge_life.retention import Kitchen
from maple_rook.core.edge_life.steels import Steel
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.profile import EdgeCurve
from maple_rook.core.measurement.coefficients import PUBLISHED, coefficients
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.model_cards import MODEL_CARDS
from maple_rook.core.prediction.predict import predict
from maple_rook.store.trial_tables import StoredPrediction
from maple_rook.store.trials import kitchen_from


@dataclass(frozen=True)
class MadeWith:
    """Everything predictions follow from."""

    blade: Blade
    kitchen: Kitchen
    foods: tuple[Food, ...]
    life: LifeModel
    draws: int

    def predictions(self) -> list[Prediction]:
        return predict(
            [self.blade], self.kitchen, foods=self.foods, draws=self.draws, life=self.life
        )[0]


def stored(made: MadeWith) -> dict[str, Any]:
    """As JSON; :func:`made_with` reads it back to the last digit."""
    return {
        "blade": _stored_blade(made.blade),
        "kitchen": asdict(made.kitchen),
        "foods": [asdict(food) for food in made.foods],
        "life": _stored_life(made.life, made.blade.seed),
        "draws": made.draws,
    }


def made_with(kept: dict[str, Any]) -> MadeWith:
    return MadeWith(
        _blade(kept["blade"]),
        kitchen_from(kept["kitchen"]),
        tuple(completed(food) for food in kept["foods"]),
        _life(kept["life"], kept["blade"]["seed"]),
        kept["draws"],
    )


def results_of(predictions: Sequence[Prediction]) -> dict[str, list[float]]:
    return {
        p.key: [p.central, p.low, p.high]
        for p in predictions
        if p.central is not None and p.low is not None and p.high is not None
    }


def card_versions(predictions: Sequence[Prediction]) -> dict[str, str]:
    return {p.card.key: p.card.version for p in predictions}


@dataclass(frozen=True)
class Again:
    """A stored prediction made again: what differs, and which models have changed since."""

    results: dict[str, list[float]]
    differing: list[str]
    models_changed: list[str]


def again(row: StoredPrediction) -> Again:
    """Predict once more from what was kept, and compare."""
    found = results_of(made_with(row.made_with).predictions())
    differing = [
        key
        for key, numbers in row.results.items()
        if key not in found or not np.allclose(numbers, found[key], rtol=1e-9, atol=1e-12)
    ]
    changed = [
        key
        for key, version in row.cards.items()
        if key not in MODEL_CARDS or MODEL_CARDS[key].version != version
    ]
    return Again(found, differing, changed)


def _stored_blade(blade: Blade) -> dict[str, Any]:
    return {
        "figures": {key: asdict(figure) for key, figure in blade.figures.items()},
        "knife_type": blade.knife_type,
        "grind": blade.grind.value,
        "steel": None if blade.steel is None else asdict(blade.steel),
        "edge_radius_um": asdict(blade.edge_radius_um),
        "even_machine_edge": blade.even_machine_edge,
        "seed": blade.seed,
        "nominal_mm": blade.nominal_mm,
        "traced": None
        if blade.traced is None
        else [
            blade.traced.x_mm.tolist(),
            blade.traced.y_mm.tolist(),
            *([] if blade.traced.spine is None else [blade.traced.spine.tolist()]),
        ],
        "shaped": blade.shaped,
        "surface": None if blade.surface is None else list(blade.surface),
        "known_bulge": None if blade.known_bulge is None else asdict(blade.known_bulge),
        "school": None if blade.school is None else blade.school.value,
        "claimed_hrc": blade.claimed_hrc,
    }


def _figure(kept: dict[str, Any]) -> Figure:
    """A figure as it was stored; before kinds were told every one was measured."""
    return Figure(**{**kept, "kind": FigureKind(kept.get("kind", FigureKind.MEASURED))})


def _blade(kept: dict[str, Any]) -> Blade:
    traced, surface, bulge, school = (
        kept[name] for name in ("traced", "surface", "known_bulge", "school")
    )
    claimed = kept.get("claimed_hrc")  # earlier ones know none
    return Blade(
        {key: _figure(figure) for key, figure in kept["figures"].items()},
        knife_type=kept["knife_type"],
        grind=Grind(kept["grind"]),
        steel=_steel(kept["steel"]),
        edge_radius_um=_figure(kept["edge_radius_um"]),
        even_machine_edge=kept["even_machine_edge"],
        seed=kept["seed"],
        nominal_mm=kept["nominal_mm"],
        traced=None if traced is None else EdgeCurve(*(np.array(part) for part in traced)),
        shaped=kept["shaped"],
        surface=None if surface is None else tuple(surface),
        known_bulge=None if bulge is None else _figure(bulge),
        school=None if school is None else AsymmetrySchool(school),
        claimed_hrc=None if claimed is None else (claimed[0], claimed[1]),
    )


def _steel(kept: dict[str, Any] | None) -> Steel | None:
    if kept is None:
        return None
    ranges = {element: (low, high) for element, (low, high) in kept["ranges"].items()}
    return Steel(
        **{
            **kept,
            "ranges": ranges,
            "usual_hrc": tuple(kept["usual_hrc"]),
            "aliases": tuple(kept["aliases"]),
        }
    )


def _stored_life(life: LifeModel, seed: int) -> dict[str, Any]:
    """The life model, and of all knives' own trials those of this one."""
    own = {
        target: {**asdict(found), "kitchens": sorted(found.kitchens)}
        for target, found in life.own.get(seed, {}).items()
    }
    return {
        "own": own,
        "coefficients": asdict(life.coefficients),
        "basis": life.basis.value,
        "posteriors": {
            key: {
                "mean": p.mean.tolist(),
                "covariance": p.covariance.tolist(),
                "a": p.a,
                "b": p.b,
                "pieces": p.pieces,
            }
            for key, p in life.posteriors.items()
        },
    }


def _life(kept: dict[str, Any], seed: int) -> LifeModel:
    posteriors = {
        key: Posterior(np.array(p["mean"]), np.array(p["covariance"]), p["a"], p["b"], p["pieces"])
        for key, p in kept["posteriors"].items()
    }
    c = coefficients(kept["coefficients"])
    own = {
        target: Own(**{**found, "kitchens": frozenset(map(tuple, found["kitchens"]))})
        for target, found in kept.get("own", {}).items()
    }
    return LifeModel(
        PUBLISHED if c == PUBLISHED else c,
        posteriors,
        Basis(kept["basis"]),
        {seed: own} if own else {},
    )

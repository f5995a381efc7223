"""The blade as JSON, and its predictions."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from maple_rook.answers.figures import ModelCardOut, PredictionOut
from maple_rook.core.edge_life.retention import (
    CARBIDE_COEFFICIENTS,
    BoardMaterial,
    EdgeState,
    FoodMix,
    Kitchen,
    Technique,
    Use,
)
from maple_rook.core.edge_life.steels import Steel, steel
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.section import check_section
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES, knife_type
from maple_rook.core.measurement.plausibility import parse_reading
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Figure, type_b
from maple_rook.core.prediction.blade import FRESH_EDGE_RADIUS_UM, Blade
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.http.schemas import ShortText, Strict, TypedText


class MeasuredIn(Strict):
    """A measured value in the quantity's unit with its standard uncertainty ``u``."""

    value: float
    u: Annotated[float, Field(ge=0)] | None = None


Measured = MeasuredIn | float | TypedText | None
_MEASURED = Field(None, description="A number in the unit named, typed text, or value with u.")


class KitchenIn(Strict):
    use: Use = Use.HOME
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    honed: bool = True
    food_mix: FoodMix = FoodMix.ALL_ROUND
    edge: EdgeState = EdgeState.FRESH

    def core(self) -> Kitchen:
        return Kitchen(self.use, self.board, self.technique, self.honed, self.food_mix, self.edge)


class BladeIn(Strict):
    """A blade: what was measured and what it is made of."""

    knife_type: Annotated[
        str, Field(max_length=40, json_schema_extra={"enum": list(KNIFE_TYPES)})
    ] = "gyuto"
    grind: Grind = Grind.FULL_FLAT
    steel: ShortText | None = None
    carbides: dict[str, Annotated[float, Field(ge=0, le=60)]] | None = None
    even_machine_edge: bool = False
    shaped: Literal["both", "right", "left"] = "both"
    asymmetry_school: AsymmetrySchool = AsymmetrySchool.WIDTH
    surface: list[ShortText] | None = None
    spine_heel: Measured = _MEASURED
    spine_mid: Measured = _MEASURED
    spine_tip: Measured = _MEASURED
    edge_length: Measured = _MEASURED
    height_heel: Measured = _MEASURED
    height_mid: Measured = _MEASURED
    height_front: Measured = _MEASURED
    thickness_behind_edge: Measured = _MEASURED
    thickness_5mm: Measured = _MEASURED
    thickness_10mm: Measured = _MEASURED
    edge_angle: Measured = _MEASURED
    angle_right: Measured = _MEASURED
    angle_left: Measured = _MEASURED
    bevel_width_right: Measured = _MEASURED
    bevel_width_left: Measured = _MEASURED
    asymmetry: Measured = _MEASURED
    micro_bevel: Measured = _MEASURED
    grind_line: Measured = _MEASURED
    hollow_depth: Measured = _MEASURED
    hardness: Measured = _MEASURED
    weight: Measured = _MEASURED
    handle_length: Measured = _MEASURED
    balance_point: Measured = _MEASURED
    flat_length: Measured = _MEASURED
    tip_height: Measured = _MEASURED
    edge_radius_um: Annotated[float, Field(ge=0.05, le=100)] | None = None

    @model_validator(mode="after")
    def something_measured(self) -> Self:
        if all(getattr(self, key) is None for key in MEASURED_KEYS):
            raise ValueError(f"at least one of {', '.join(MEASURED_KEYS)}")
        return self

    def core(self) -> Blade:
        """The core's blade; hard limits and contradictions raise :class:`InvalidValue`."""
        figures = {
            key: _figure(key, given)
            for key in MEASURED_KEYS
            if (given := getattr(self, key)) is not None
        }
        check_section({key: f.mean for key, f in figures.items()}, self.grind)
        radius = FRESH_EDGE_RADIUS_UM
        if self.edge_radius_um is not None:
            radius = Figure(self.edge_radius_um, 0.2 * self.edge_radius_um)
        return Blade(
            figures,
            knife_type=knife_type(self.knife_type).key,
            grind=self.grind,
            steel=self._steel(),
            edge_radius_um=radius,
            even_machine_edge=self.even_machine_edge,
            shaped=self.shaped,
            school=self.asymmetry_school,
            surface=None if self.surface is None else tuple(self.surface),
        )

    def _steel(self) -> Steel | None:
        if self.carbides is None:
            return steel(self.steel) if self.steel else None
        for name in self.carbides:
            if name not in CARBIDE_COEFFICIENTS:
                raise InvalidValue("carbides", name, ", ".join(CARBIDE_COEFFICIENTS))
        name = self.steel or "given carbides"
        return Steel(name, name, "", {}, dict(self.carbides), (20, 70), "", "")


MEASURED_KEYS = tuple(key for key in BladeIn.model_fields if key in QUANTITIES)


def _figure(key: str, given: MeasuredIn | float | str) -> Figure:
    q = QUANTITIES[key]
    text = given if isinstance(given, str) else f"{getattr(given, 'value', given):.12g}"
    mean = parse_reading(key, text).base_value
    u = given.u if isinstance(given, MeasuredIn) else None
    return Figure(mean, type_b(q.resolution, q.mpe) if u is None else u)


class PredictIn(Strict):
    blade: BladeIn
    kitchen: KitchenIn = KitchenIn()
    draws: Annotated[int, Field(ge=100, le=20_000)] = 1000


class PredictOut(BaseModel):
    predictions: list[PredictionOut]
    cards: dict[str, ModelCardOut]

    @classmethod
    def of(cls, predictions: list[Prediction]) -> Self:
        return cls(
            predictions=[PredictionOut.of(p) for p in predictions],
            cards={p.card.key: ModelCardOut.of(p.card) for p in predictions},
        )

"""Shapes shared by the stations' answers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Self

import numpy as np
from pydantic import BaseModel

from maple_rook.core.edge_life.life_model import TRIED
from maple_rook.core.geometry.outline import Outline, outline
from maple_rook.core.geometry.section import polygon
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.quantities import other_unit
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import from_base
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.explanation import Contribution, Prediction
from maple_rook.core.prediction.model_card import GRADE_LABELS, Better, ModelCard, SheetPart
from maple_rook.core.prediction.next_step import NextStep
from maple_rook.core.routine.stock import Stock
from maple_rook.store import records
from maple_rook.store.steels import grade
from maple_rook.store.tables import Piece


class InOtherUnit(BaseModel):
    """A figure in the unit of the other system."""

    mean: float
    expanded: float
    unit: str


class FigureOut(BaseModel):
    """A figure with U (k = 2), and the standard uncertainty from repeats and instrument apart.

    ``other`` is the same in the other system, where the quantity is known and has one.
    """

    mean: float
    expanded: float
    n: int
    spread: float
    repeats: float
    instrument: float
    kind: FigureKind = FigureKind.MEASURED
    other: InOtherUnit | None = None

    @classmethod
    def of(cls, figure: Figure, q: Quantity | None = None, grind: Grind | None = None) -> Self:
        unit = other_unit(q, grind) if q and grind else None
        return cls(
            mean=figure.mean,
            expanded=figure.expanded,
            n=figure.n,
            spread=figure.spread,
            repeats=figure.type_a,
            instrument=figure.type_b,
            kind=figure.kind,
            other=None
            if unit is None
            else InOtherUnit(
                mean=from_base(figure.mean, unit),
                expanded=from_base(figure.expanded, unit),
                unit=unit,
            ),
        )

    @property
    def text(self) -> str:
        """Mean and U with the digits U supports; about, if it was not measured."""
        decimals = decimals_for(2 * self.expanded)
        about = "" if self.kind is FigureKind.MEASURED else "about "
        mean, u = (rounded_text(v, decimals) for v in (self.mean, self.expanded))
        return f"{about}{mean} ± {u}"


def card_figures(figures: Mapping[str, Figure], shown: Iterable[tuple[str, str, str]]) -> list[str]:
    """Measured figures as a printed card says them; ``shown`` names key, label and unit."""
    return [
        f"{label} {FigureOut.of(figures[key]).text} {unit}".replace(" °", "°")
        for key, label, unit in shown
        if key in figures
    ]


Points = list[list[float]]
"""Corners or stations (x, y) in mm."""


class OutlineOut(BaseModel):
    blade: Points
    handle: Points
    taper: Points
    edge_length_mm: float
    height_heel_mm: float
    overall_length_mm: float
    assumed: list[str]

    @classmethod
    def of(cls, drawn: Outline) -> OutlineOut:
        """Rounded to a hundredth of a millimetre, finer than any screen."""
        return cls.model_construct(
            blade=np.round(drawn.blade, 2).tolist(),
            handle=np.round(drawn.handle, 2).tolist(),
            taper=np.round(drawn.taper, 2).tolist(),
            edge_length_mm=drawn.edge_length_mm,
            height_heel_mm=drawn.height_heel_mm,
            overall_length_mm=drawn.overall_length_mm,
            assumed=list(drawn.assumed),
        )


class PredictedOut(BaseModel):
    """Where and how a prediction is shown; ``calibrated`` says that trials can shift it."""

    part: SheetPart
    scale: tuple[float, float]
    better: Better
    short: str
    on_shelf: bool
    on_board: str
    calibrated: bool


class ModelCardOut(BaseModel):
    key: str
    name: str
    grade: str
    grade_label: str
    unit: str
    equation: str
    source: str
    valid: str
    assumptions: list[str]
    version: str
    predicted: PredictedOut | None

    @classmethod
    def of(cls, model: ModelCard) -> Self:
        p = model.predicted
        return cls(
            key=model.key,
            name=model.name,
            grade=model.grade.value,
            grade_label=GRADE_LABELS[model.grade],
            unit=model.unit,
            equation=model.equation,
            source=model.source,
            valid=model.valid,
            assumptions=list(model.assumptions),
            version=model.version,
            predicted=None
            if p is None
            else PredictedOut(
                part=p.part,
                scale=p.scale,
                better=p.better,
                short=p.short,
                on_shelf=p.on_shelf,
                on_board=p.on_board,
                calibrated=model.key in TRIED,
            ),
        )


class PredictionOut(BaseModel):
    """A prediction with its 90 % interval; ``central`` is null where ``unavailable`` says why."""

    key: str
    label: str
    unit: str
    grade: str
    card: str
    central: float | None
    low: float | None
    high: float | None
    contributions: tuple[Contribution, ...]
    notes: list[str]
    measure_next: NextStep | None
    unavailable: str | None

    @classmethod
    def of(cls, p: Prediction) -> PredictionOut:
        """Of a prediction of our own, so nothing is checked again."""
        return cls.model_construct(
            key=p.key,
            label=p.label,
            unit=p.unit,
            grade=p.card.grade.value,
            card=p.card.key,
            central=p.central,
            low=p.low,
            high=p.high,
            contributions=p.contributions,
            notes=list(p.notes),
            measure_next=p.measure_next,
            unavailable=p.unavailable,
        )


class PieceOut(BaseModel):
    """A knife in the hand and the model it is a piece of."""

    id: int
    name: str
    tag: str
    condition: str
    stock: Stock
    maker: str
    line: str
    knife_type: str
    nominal_mm: float
    grind: str
    construction: str
    finish: str
    handle: str
    steel: str | None
    reactivity: str | None
    price: float | None
    note: str

    @classmethod
    def of(cls, piece: Piece) -> Self:
        model = piece.model
        steel = grade(model.steel)
        return cls(
            id=piece.id,
            name=records.piece_name(piece),
            tag=piece.tag,
            condition=piece.condition,
            stock=Stock(piece.stock),
            maker=model.maker.name,
            line=model.line,
            knife_type=model.knife_type,
            nominal_mm=model.nominal_mm,
            grind=model.grind,
            construction=model.construction,
            finish=model.finish,
            handle=model.handle,
            steel=steel.designation if steel else None,
            reactivity=steel.reactivity.value if steel else None,
            price=float(model.price) if model.price is not None else None,
            note=piece.note,
        )


def blade_outline(blade: Blade) -> Outline:
    """The knife as it is drawn: measured where it is measured, traced where it was traced."""
    return outline(blade.figures, blade.knife_type, blade.nominal_mm, blade.traced)


def section_polygon(blade: Blade) -> Points | None:
    """The section at the heel in mm, or None where it is not measured or not covered."""
    made = built(blade)
    return None if made is None else [list(corner) for corner in polygon(made.heel)]

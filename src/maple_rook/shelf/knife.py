"""What every station shows of a knife on the shelf."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Self

from pydantic import BaseModel
from sqlalchemy.orm import Session

from maple_rook.answers.claims import ClaimOut, judged_claims
from maple_rook.answers.figures import OutlineOut, PieceOut, Points, blade_outline, section_polygon
from maple_rook.answers.finish import finish_states, hardened_verdict
from maple_rook.answers.shape import ProfileOut, profile_of
from maple_rook.core.choosing.candidates import Candidate, Row, row
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.cutting.foods import STROKES, Food, stroke_of
from maple_rook.core.edge_life.life_model import LifeModel
from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.hardness_session import Hardened
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.evaluate import EASES
from maple_rook.core.prediction.model_cards import keys
from maple_rook.core.prediction.predict import PredictionArrays, predict_arrays
from maple_rook.core.routine.checks import contradictions
from maple_rook.core.routine.flags import Flag
from maple_rook.core.routine.stock import Stock
from maple_rook.core.routine.stops import required_quantities
from maple_rook.core.upkeep.finish_work import FinishState
from maple_rook.core.upkeep.finish_work import Shelf as Finished
from maple_rook.store import records
from maple_rook.store.tables import Piece

JOB_STROKES = tuple(dict.fromkeys((*map(stroke_of, FoodMix), STROKES["rock"])))
"""The motions of all jobs; efforts by each are kept of every knife."""
_ON_SHELF = keys("on_shelf")
_FINISH_FLAGS = {Finished.NEEDS_WORK: Flag.NEEDS_WORK, Finished.RETURN: Flag.RETURN}
_STOCK_FLAGS = {
    Stock.RESERVED: Flag.RESERVED,
    Stock.SOLD: Flag.SOLD,
    Stock.RETURNED: Flag.RETURNED,
}
DECIDES = ("months_to_stone", "release")
"""Figures kept of each knife for deciding between them, beside the efforts."""


class Whisker(BaseModel):
    """A predicted figure on the shelf: likely value and 90 % interval."""

    central: float
    low: float
    high: float


class FlagOut(BaseModel):
    """A flag in words; of a claim that is contradicted they name the quantity."""

    code: Flag
    label: str
    grave: bool

    @classmethod
    def of(cls, flag: Flag, about: str = "") -> Self:
        label = f"{flag.label}: {about}" if about else flag.label
        return cls(code=flag, label=label, grave=flag.grave)


@dataclass(eq=False, kw_only=True)
class RecordedKnife:
    """One piece as the record has it, nothing predicted: what stops are decided by."""

    piece: PieceOut
    blade: Blade
    claims: list[ClaimOut]
    model_id: int
    finish: FinishState

    @property
    def figures(self) -> Mapping[str, Figure]:
        return self.blade.figures

    @property
    def candidate(self) -> Candidate:
        """As it may be offered."""
        return Candidate(
            self.blade,
            self.piece.price,
            self.piece.handle,
            finish=self.finish,
            used=self.piece.condition != "new",
            reserved=self.piece.stock is Stock.RESERVED,
            contradicted=tuple(
                f"{c.label.capitalize()} is printed as {c.printed} and measures otherwise"
                for c in self.claims
                if c.verdict is ClaimVerdict.CONTRADICTED
            ),
        )

    @property
    def model(self) -> str:
        """The model this is a piece of."""
        return self.piece.name.rpartition(" · ")[0]


@dataclass(eq=False, kw_only=True)
class ShelfKnife(RecordedKnife):
    """What the shelf knows of one piece until a reading of it is taken or voided."""

    predicted: dict[str, Whisker]
    """Predictions that the shelf keeps; those it cannot give are left out."""
    eases: dict[FoodMix, Whisker]
    """Cutting ease by what is cut, where that is not the usual mix of ``predicted``."""
    flags: list[FlagOut]
    central: Array
    """Central efforts by :data:`JOB_STROKES` and food, N, then :data:`DECIDES`; NaN: none."""

    @cached_property
    def outline(self) -> OutlineOut:
        """Drawn when it is first shown."""
        return OutlineOut.of(blade_outline(self.blade))

    @cached_property
    def profile(self) -> ProfileOut:
        """Laid on the board when it is first compared."""
        return profile_of(self.blade)

    @cached_property
    def section(self) -> Points | None:
        return section_polygon(self.blade)

    @cached_property
    def decides(self) -> Row:
        """What decides about it at the Counter, calculated when first asked for."""
        return row(self.candidate)


def recorded(db: Session, ids: Sequence[int]) -> list[RecordedKnife]:
    """These pieces from the record as it stands, in their order."""
    pieces = records.pieces(db, ids, claims=True)
    blades = records.blades(db, pieces, records.figures(db, ids))
    finish = finish_states(db, {p.id: blade for p, blade in zip(pieces, blades, strict=True)})
    return [
        RecordedKnife(
            piece=PieceOut.of(piece),
            blade=blade,
            claims=judged_claims(piece, blade.figures),
            model_id=piece.model_id,
            finish=finish[piece.id],
        )
        for piece, blade in zip(pieces, blades, strict=True)
    ]


def computed(
    db: Session, ids: Sequence[int], foods: tuple[Food, ...], life: LifeModel
) -> Iterator[ShelfKnife]:
    """These pieces from the record as it stands, in their order."""
    chunk = records.pieces(db, ids, claims=True)
    unusual = records.unusual_pieces(db, ids)
    figures = records.figures(db, [p.id for p in chunk])
    blades = records.blades(db, chunk, figures)
    finish = finish_states(db, {p.id: blade for p, blade in zip(chunk, blades, strict=True)})
    predicted = predict_arrays(
        blades,
        foods=foods,
        strokes=JOB_STROKES,
        shares=False,
        only={*_ON_SHELF, *DECIDES},
        life=life,
        efforts=True,
    )
    columns = {t.key: j for j, t in enumerate(predicted.targets)}
    efforts = [columns[f"effort.{food.key}.{s.key}"] for s in JOB_STROKES for food in foods]
    decides = [*efforts, *(columns[key] for key in DECIDES)]
    for i, piece in enumerate(chunk):
        claims = judged_claims(piece, blades[i].figures)
        shown = PieceOut.of(piece)
        flags = _flags(piece, blades[i], claims, piece.id in unusual)
        if (state := finish[piece.id].shelf) in _FINISH_FLAGS:
            flags.append(FlagOut.of(_FINISH_FLAGS[state]))
        yield ShelfKnife(
            piece=shown,
            blade=blades[i],
            predicted={
                key: whisker
                for key in _ON_SHELF
                if (whisker := _whisker(predicted, i, columns[key])) is not None
            },
            eases={
                mix: whisker
                for mix, key in EASES.items()
                if (whisker := _whisker(predicted, i, columns[key])) is not None
            },
            flags=flags,
            claims=claims,
            central=predicted.central[i, decides],
            model_id=piece.model_id,
            finish=finish[piece.id],
        )


def _whisker(arrays: PredictionArrays, i: int, j: int) -> Whisker | None:
    central = float(arrays.central[i, j])
    if math.isnan(central):
        return None
    return Whisker(central=central, low=float(arrays.low[i, j]), high=float(arrays.high[i, j]))


def _measured_share(piece: Piece, figures: records.Figures) -> float:
    required = required_quantities(piece.model.knife_type, Grind(piece.model.grind))
    return sum(key in figures for key in required) / len(required)


_TOO_SOFT = {
    Hardened.NOT_HARDENED: Flag.NOT_HARDENED,
    Hardened.HARDLY: Flag.HARDLY_HARDENED,
}


def _flags(piece: Piece, blade: Blade, claims: list[ClaimOut], unusual: bool) -> list[FlagOut]:
    figures = dict(blade.figures)
    flags = []
    if not figures:
        flags.append(FlagOut.of(Flag.NOT_MEASURED))
    elif _measured_share(piece, figures) < 1:
        flags.append(FlagOut.of(Flag.HALF_MEASURED))
    verdict = hardened_verdict(blade)
    if verdict in _TOO_SOFT:
        flags.append(FlagOut.of(_TOO_SOFT[verdict]))
    flags += [
        FlagOut.of(Flag.CLAIM_CONTRADICTED, c.label)
        for c in claims
        if c.verdict is ClaimVerdict.CONTRADICTED
    ]
    if contradictions(figures, Grind(piece.model.grind)):
        flags.append(FlagOut.of(Flag.FIGURES_CONTRADICT))
    if unusual:
        flags.append(FlagOut.of(Flag.UNUSUAL))
    if piece.stock != Stock.ON_SHELF:
        flags.append(FlagOut.of(_STOCK_FLAGS[Stock(piece.stock)]))
    if piece.condition != "new":
        flags.append(FlagOut.of(Flag.USED))
    return flags

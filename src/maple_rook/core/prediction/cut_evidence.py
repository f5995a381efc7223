"""Cut trials of the record as evidence on foods: each cut with the model's terms for its knife."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

from maple_rook.core.cutting.cut_record import CutRecord, curve_record, peak_record
from maple_rook.core.cutting.food_calibration import (
    Cut,
    FoodCalibration,
    LeftOut,
    calibrated,
    leave_one_out,
    terms_of,
)
from maple_rook.core.cutting.foods import STROKES, Food
from maple_rook.core.cutting.force import EDGE_RADII_UM
from maple_rook.core.edge_life.retention import EdgeState
from maple_rook.core.errors import InvalidValue
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.inputs import unavailable

AS_STATED = ("height_mm", "width_mm")
"""What may be stated of a food as it lay on the board."""


@dataclass(frozen=True)
class RecordedCut:
    """A cut as the record has it.

    Parameters
    ----------
    number : of the cut in the record.
    session : in which it was made.
    piece_id, blade : the knife.
    food, stroke : keys of what was cut, and how.
    edge : the state of the edge.
    lot : which lot of the food, in the shop's words.
    height_mm, width_mm : of the food as it lay there, where stated.
    depth_mm, force_n : the channels; no depth where only the peak was read.
    simulated : read by a simulated instrument in a shop that is no demo.
    set_aside : why it is not to count; empty where it is.
    """

    number: int
    session: int
    piece_id: int
    blade: Blade
    food: str
    stroke: str
    edge: EdgeState
    lot: str
    height_mm: float | None
    width_mm: float | None
    depth_mm: tuple[float, ...]
    force_n: tuple[float, ...]
    simulated: bool = False
    set_aside: str = ""

    def as_it_lay(self, foods: Mapping[str, Food]) -> Food:
        """The food as tall and as wide as it lay on the board.

        Raises
        ------
        InvalidValue
            A food the shop does not have.
        """
        if self.food not in foods:
            raise InvalidValue("food", self.food, ", ".join(foods))
        stated = {k: v for k in AS_STATED if (v := getattr(self, k)) is not None}
        return replace(foods[self.food], **stated)


@dataclass(frozen=True)
class CutEvidence:
    """Every cut of the record: what was read, what counts, and why the others do not."""

    foods: tuple[Food, ...]
    records: Mapping[int, CutRecord]
    cuts: Mapping[int, Cut]
    left_out: Mapping[int, str]

    @cached_property
    def found(self) -> FoodCalibration:
        """The shop's foods as the cuts that count have them."""
        return calibrated(self.foods, list(self.cuts.values()))

    @cached_property
    def left_out_in_turn(self) -> LeftOut | None:
        """How well each knife is predicted from the others' cuts, in the order of ``cuts``."""
        return leave_one_out(self.foods, list(self.cuts.values()), self.found.scatter)


def cut_evidence(foods: Sequence[Food], recorded: Sequence[RecordedCut]) -> CutEvidence:
    """What counts of the recorded cuts, with the model's terms for each knife.

    A cut is left out that was set aside, that a simulated instrument read, that is none, that ends
    half way, or whose knife was not measured enough to predict its force.
    """
    by_key = {f.key: f for f in foods}
    records: dict[int, CutRecord] = {}
    counted: dict[int, Cut] = {}
    left_out: dict[int, str] = {}
    for one in recorded:
        try:
            food = one.as_it_lay(by_key)
            record = records[one.number] = record_of(food, one.depth_mm, one.force_n)
        except InvalidValue as wrong:
            left_out[one.number] = str(wrong)
            continue
        why = (
            (f"set aside: {one.set_aside}" if one.set_aside else "")
            or ("read by a simulated instrument" if one.simulated else "")
            or record.left_out
            or unavailable(one.blade, "cutting_force")
        )
        if why:
            left_out[one.number] = why
        else:
            counted[one.number] = _with_terms(one, food, record)
    return CutEvidence(tuple(foods), records, counted, left_out)


def record_of(food: Food, depth_mm: Sequence[float], force_n: Sequence[float]) -> CutRecord:
    """The record of the channels; without depths the one force is the peak.

    Raises
    ------
    InvalidValue
        What is no cut.
    """
    if depth_mm:
        return curve_record(food, depth_mm, force_n)
    if len(force_n) != 1:
        raise InvalidValue("peak force", f"{len(force_n)} values", "one value where depth is none")
    return peak_record(food, force_n[0])


def _with_terms(one: RecordedCut, food: Food, record: CutRecord) -> Cut:
    made = built(one.blade)
    assert made is not None
    fresh = one.blade.edge_radius_um if one.edge is EdgeState.FRESH else EDGE_RADII_UM[one.edge]
    terms = terms_of(
        made.cuts,
        food,
        STROKES[one.stroke],
        fresh.mean,
        one.blade.inputs["edge_length"].figure.mean,
        record.depth_mm,
    )
    return Cut(one.piece_id, one.food, f"{one.session}/{one.lot}", record, terms)

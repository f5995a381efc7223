"""Set-up, re-profile and the workshop as they travel."""

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints, model_validator

from maple_rook.answers.figures import OutlineOut, PieceOut, Points
from maple_rook.answers.what_if import WhatIfRow
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.upkeep.grinding import Stone
from maple_rook.core.upkeep.reprofile import Wanted
from maple_rook.core.upkeep.setup import Spacer
from maple_rook.core.upkeep.sharpening_tools import Leave, Tool
from maple_rook.core.upkeep.wear import Limits
from maple_rook.core.upkeep.workshop import Workshop
from maple_rook.http.schemas import Strict, storable

Named = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=40),
    AfterValidator(storable),
]
AnglePerSide = Annotated[float, Field(ge=5, le=35, description="degrees per side")]
Percent = Annotated[float, Field(ge=5, le=95, description="share of the right-hand face, per cent")]


class RuleOut(BaseModel):
    """What a tool may do to this edge, and by the other school of rods where it differs."""

    tool: Tool
    leave: Leave
    why: str
    by_the_other_school: Leave | None


class StackOut(BaseModel):
    """Spacers under the spine, how high they stand, and the angle they give."""

    words: str
    height_mm: float
    angle_deg: float


class LiftOut(BaseModel):
    """Spine height over the stone at a place along the edge; ``expanded`` is U, k = 2."""

    place: str
    at_mm: float
    height_mm: float
    spine_mm: float
    lift_mm: float
    expanded: float
    stack: StackOut | None


class FaceOut(BaseModel):
    """One face: its angle and lifts, or what is done with it where it lies flat."""

    face: str
    angle_deg: float
    lifts: list[LiftOut]
    flat: str


class SetupOut(BaseModel):
    """A knife set to a tool; angles are degrees, ``least_angle_deg`` where the spine touches."""

    piece: PieceOut
    outline: OutlineOut
    tool: Tool
    rules: list[RuleOut]
    held: str
    angle_per_side_deg: float
    found_angle_deg: float
    least_angle_deg: float
    ratio: str
    school: str
    strokes: list[int]
    strokes_words: str
    faces: list[FaceOut]
    guide_height_mm: float
    guide_reach_mm: float
    section: Points
    notes: list[str]
    cautions: list[str]


class WantedIn(Strict):
    """The edge asked for. ``share_right`` null keeps the ratio; ``micro_mm`` a bevel so wide."""

    angle_per_side_deg: AnglePerSide
    share_right: Percent | None = None
    school: AsymmetrySchool = AsymmetrySchool.WIDTH
    micro_mm: Annotated[float, Field(ge=0.1, le=5)] | None = None

    def core(self) -> Wanted:
        share = None if self.share_right is None else self.share_right / 100
        return Wanted(self.angle_per_side_deg, share, self.school, self.micro_mm)


class ReprofileOrderIn(Strict):
    """A re-profile to be done; turning an uneven edge even asks for the owner's word."""

    client_id: uuid.UUID
    wanted: WantedIn
    owner_accepts: bool = False


class EdgeOut(BaseModel):
    """An edge: angles, bevel widths, ratio and thickness behind it; mm and degrees."""

    angle_right_deg: float
    angle_left_deg: float
    bevel_right_mm: float
    bevel_left_mm: float
    behind_edge_mm: float
    share_right: float
    polygon: Points


class StepOut(BaseModel):
    grit: int
    volume_mm3: float
    minutes: float


class BearsOut(BaseModel):
    """Load borne over the load of a stroke, before and after, and what to expect after."""

    style: str
    before: float
    after: float
    words: str


class ReprofileOut(BaseModel):
    """What another edge takes and gives. Areas are at the heel, volumes over the edge."""

    found: EdgeOut
    made: EdgeOut
    removed_right: Points
    removed_left: Points
    area_right_mm2: float
    area_left_mm2: float
    volume_right_mm3: float
    volume_left_mm3: float
    height_lost_mm: float
    micro_mm: float | None
    worth_sharpenings: float
    steps: list[StepOut]
    minutes: list[float]
    cost: float
    turns_even: bool
    warnings: list[str]
    words: list[str]
    rows: list[WhatIfRow]
    bears: list[BearsOut]
    cautions: list[str]


class SpacerIO(Strict):
    name: Named
    thickness_mm: Annotated[float, Field(gt=0, le=50)]


class StoneIO(Strict):
    """A stone: grit, steel it takes a minute, depth of its scratches."""

    grit: Annotated[int, Field(ge=24, le=60_000)]
    rate_mm3_min: Annotated[float, Field(gt=0, le=1000)]
    scratch_um: Annotated[float, Field(gt=0, le=200)]


class LimitsIO(Strict):
    """When thinning, filing and the end are due: mm thicker, mm proud, share of the height."""

    thicker_mm: Annotated[float, Field(gt=0, le=2)]
    proud_mm: Annotated[float, Field(gt=0, le=5)]
    worn_share: Annotated[float, Field(gt=0, le=0.8)]


class WorkshopIn(Strict):
    """What the shop sharpens with."""

    spacers: Annotated[list[SpacerIO], Field(max_length=10)]
    stones: Annotated[list[StoneIO], Field(min_length=1, max_length=10)]
    hourly_rate: Annotated[float, Field(ge=0, le=100_000)]
    limits: LimitsIO
    sharpening_charge: Annotated[float, Field(ge=0, le=100_000)] = 0.0

    @model_validator(mode="after")
    def no_grit_twice(self) -> Self:
        grits = [s.grit for s in self.stones]
        if len(set(grits)) < len(grits):
            raise ValueError("a grit is named twice; keep one stone of each")
        return self

    def core(self) -> Workshop:
        return Workshop(
            tuple(Spacer(s.name, s.thickness_mm) for s in self.spacers),
            tuple(Stone(s.grit, s.rate_mm3_min, s.scratch_um) for s in self.stones),
            self.hourly_rate,
            Limits(**self.limits.model_dump()),
            self.sharpening_charge,
        )


class WorkshopOut(BaseModel):
    """The workshop as it stands; ``version`` null where nothing was set yet."""

    version: int | None
    person: str
    recorded_at: dt.datetime | None
    spacers: list[SpacerIO]
    stones: list[StoneIO]
    hourly_rate: float
    limits: LimitsIO
    sharpening_charge: float
    currency: str
    etag: str

from __future__ import annotations

import datetime as dt
import uuid
from typing import Annotated, Literal, Self

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field

from maple_rook.answers.figures import FigureOut, Points
from maple_rook.answers.keys import QuantityKey
from maple_rook.answers.shape import ProfileOut
from maple_rook.core.geometry.photo_blade import PhotoFigure
from maple_rook.core.geometry.scale_card import CARDS, View
from maple_rook.http.schemas import Strict
from maple_rook.photo.refusal import PhotoRefused
from maple_rook.photo.side_view import BENDS
from maple_rook.store.photo_tables import MeasuringPhoto, PhotoMeasurement

Coordinate = Annotated[float, Field(ge=-20_000, le=20_000)]
PixelIn = Annotated[list[Coordinate], Field(min_length=2, max_length=2)]
Bends = Annotated[list[PixelIn | None], Field(min_length=BENDS, max_length=BENDS)]
CardKey = Literal["a4", "letter", "a3", "heel"]
ShotKind = Literal["straight", "tilted", "blurred", "glare", "cut off", "too oblique"]
assert set(CARDS) == set(CardKey.__args__)  # type: ignore[attr-defined]


class MovedIn(Strict):
    """Points in pixels of the photo that a person moved; all others are as they are found."""

    heel: PixelIn | None = None
    tip: PixelIn | None = None
    joint: PixelIn | None = None
    butt: PixelIn | None = None
    edge: Bends | None = None
    spine: Bends | None = None


class KnownIn(Strict):
    """Two points a known distance apart, where there is no card."""

    first: PixelIn
    second: PixelIn
    apart_mm: Annotated[float, Field(ge=10, le=1000)]
    apart_u_mm: Annotated[float, Field(gt=0, le=10)] = 0.3


class MeasureIn(Strict):
    """How a photo is to be measured: all that goes in beside the photo itself.

    ``stand_off_mm`` is how far the flat of the blade lies above the card; ``ruler_mm`` what the
    card's ruler line measures as printed; ``at_mm`` places from the heel whose height is wanted.
    """

    ruler_mm: Annotated[float, Field(ge=10, le=500)] | None = None
    known: KnownIn | None = None
    stand_off_mm: Annotated[float, Field(ge=0, le=30)] = 0.0
    points: MovedIn | None = None
    at_mm: Annotated[list[Annotated[float, Field(ge=0, le=700)]], Field(max_length=20)] = Field(
        default_factory=list
    )


class AcceptIn(Strict):
    """What of a measured photo is taken over into its sheet, once for each ``client_id``."""

    client_id: uuid.UUID
    how: MeasureIn
    quantities: Annotated[list[QuantityKey], Field(max_length=20)] = Field(default_factory=list)
    keep_edge: bool = False
    taken_at: AwareDatetime | None = None


class AcceptedOut(BaseModel):
    """What came of it: readings by quantity, and whether the edge was kept."""

    id: int
    client_id: uuid.UUID
    sheet_id: int
    readings: dict[str, str]
    edge_kept: bool


class ScaleCardOut(BaseModel):
    key: str
    label: str
    view: View
    width_mm: float
    height_mm: float
    ruler_mm: float
    use: str


class PhotoOut(BaseModel):
    """A photo kept with a sheet; ``accepted`` lists what was taken over from it."""

    id: int
    client_id: uuid.UUID
    sheet_id: int
    view: View
    media_type: str
    width_px: int
    height_px: int
    person: str
    recorded_at: dt.datetime
    accepted: list[AcceptedOut]

    @classmethod
    def of(cls, row: MeasuringPhoto, accepted: list[PhotoMeasurement]) -> Self:
        return cls(
            id=row.id,
            client_id=row.client_id,
            sheet_id=row.sheet_id,
            view=View(row.view),
            media_type=row.media_type,
            width_px=row.width_px,
            height_px=row.height_px,
            person=row.person.name,
            recorded_at=row.recorded_at,
            accepted=[accepted_out(m, row.sheet_id) for m in accepted],
        )


def accepted_out(row: PhotoMeasurement, sheet_id: int) -> AcceptedOut:
    """What was accepted, as it was kept."""
    readings = {key: str(of["typed"]) for key, of in row.results["readings"].items()}
    return AcceptedOut(
        id=row.id,
        client_id=row.client_id,
        sheet_id=sheet_id,
        readings=readings,
        edge_kept=bool(row.results["edge_kept"]),
    )


class RefusedOut(BaseModel):
    """Why a photo cannot be measured, and what to change."""

    trouble: str
    why: str
    change: str
    seen: str

    @classmethod
    def of(cls, refused: PhotoRefused) -> Self:
        return cls(
            trouble=refused.trouble.value, why=refused.why, change=refused.change, seen=refused.seen
        )


class FoundCardOut(BaseModel):
    """The card that was found, and how well."""

    label: str
    ruler_mm: float
    markers: int
    markers_seen: int
    tilt_deg: float
    px_per_mm: float
    residual_px: float


class PointsOut(BaseModel):
    """Where the points are now, in pixels; ``edge`` and ``spine`` bend the traced lines."""

    model_config = ConfigDict(from_attributes=True)

    heel: list[float]
    tip: list[float]
    joint: list[float] | None
    butt: list[float] | None
    edge: Points
    spine: Points


class ShareOut(BaseModel):
    source: str
    share: float


class PhotoValueOut(BaseModel):
    """A quantity from the photo with U (k = 2), beside what the sheet has of it.

    ``verdict`` is empty where the sheet has none; ``refused`` says why it cannot be a reading,
    ``unusual`` what is odd about it.
    """

    quantity: QuantityKey
    label: str
    unit: str
    typed: str
    value: float
    expanded: float
    shares: list[ShareOut]
    on_sheet: FigureOut | None
    on_sheet_from: str
    difference: float | None
    difference_expanded: float | None
    verdict: Literal["", "agree", "differ"]
    proposed: bool
    refused: str
    unusual: str


class HeightOut(BaseModel):
    at_mm: float
    height_mm: float


class EndOut(BaseModel):
    """The section seen from the heel: as measured and as fitted (x, z), and what is unresolved."""

    measured: Points
    fitted: Points
    verdict: str
    best: str
    rms_um: float
    reach_mm: float
    pixel_um: float
    angle_per_side_deg: float
    share_right: float
    unresolved: dict[str, str]


class MeasuredOut(BaseModel):
    """What a photo gives, or why it gives nothing; nothing of it is stored."""

    refused: RefusedOut | None
    card: FoundCardOut | None
    points: PointsOut | None
    outline: Points
    edge: Points
    spine: Points
    values: list[PhotoValueOut]
    heights: list[HeightOut]
    profile: ProfileOut | None
    end: EndOut | None
    notes: list[str]

    @classmethod
    def nothing(cls, refused: PhotoRefused) -> Self:
        return cls(
            refused=RefusedOut.of(refused),
            card=None,
            points=None,
            outline=[],
            edge=[],
            spine=[],
            values=[],
            heights=[],
            profile=None,
            end=None,
            notes=[],
        )


class AgainOut(BaseModel):
    """A kept measurement made again from photo and parameters: the same, or what differs."""

    same: bool
    method: int
    differs: dict[str, list[float]]


class StandInIn(Strict):
    """A photo by the simulated camera of the demo shop."""

    client_id: uuid.UUID
    sheet_id: Annotated[int, Field(ge=1, le=2**31 - 1)]
    view: View = View.SIDE
    shot: ShotKind = "straight"


def figure_parts(figure: PhotoFigure) -> list[ShareOut]:
    ordered = sorted(figure.shares.items(), key=lambda part: -part[1])
    return [ShareOut(source=source, share=round(share, 3)) for source, share in ordered]

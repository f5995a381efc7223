from __future__ import annotations

import datetime as dt
from typing import Annotated, Literal, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints, model_validator

from maple_rook.answers.keys import KnifeTypeKey, QuantityKey
from maple_rook.comparing.schemas import LaidIn
from maple_rook.core.writing.disclosure import Disclosure, Obtained
from maple_rook.core.writing.fields import Since
from maple_rook.core.writing.parts import PageKind, WriteUpPart
from maple_rook.http.access import MAX_ID
from maple_rook.http.schemas import Choice, Strict, one_line, storable

Id = Annotated[int, Field(ge=1, le=MAX_ID)]
OwnText = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=6000), AfterValidator(storable)
]
Line = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=160), AfterValidator(one_line)
]
Title = Annotated[Line, StringConstraints(min_length=1)]


class PartIn(Strict):
    """A part of a review in its place; ``text`` are the author's words, null the draft's."""

    part: WriteUpPart
    shown: bool = True
    text: OwnText | None = None


class ReviewPointIn(Strict):
    """A point for or against; one that was proposed keeps its key."""

    key: Annotated[str, StringConstraints(max_length=60)] = ""
    good: bool
    text: Annotated[OwnText, StringConstraints(min_length=1, max_length=400)]


Words300 = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=300), AfterValidator(storable)
]


class PhotographIn(Strict):
    """What a photograph shows (``alt``, for who cannot see it), says and is cropped to."""

    alt: Words300 = ""
    caption: Words300 = ""
    credit: Annotated[Words300, StringConstraints(max_length=120)] = ""
    crop: Annotated[list[float], Field(min_length=4, max_length=4)] | None = None


class PhotographOut(BaseModel):
    """A photograph; its size is that of what its crop leaves."""

    id: int
    alt: str
    caption: str
    credit: str
    crop: list[float] | None
    width_px: int
    height_px: int
    version: str
    etag: str


class OrderIn(Strict):
    """Photographs in the order they are to be in."""

    ids: Annotated[list[Id], Field(max_length=60)]


class ScoreIn(Strict):
    """A score on one of the shop's scales, and why."""

    scale_id: Id
    value: Annotated[float, Field(ge=0, le=100)]
    why: Annotated[OwnText, StringConstraints(max_length=400)] = ""


class DisclosureIn(Strict):
    """Where the knife came from and who gains; null or empty where it is not answered yet."""

    obtained: Obtained | None = None
    by: Line = ""
    paid: bool | None = None
    paid_by: Line = ""
    seen_first: bool | None = None
    seen_by: Line = ""
    links_earn: bool | None = None

    def core(self) -> Disclosure:
        return Disclosure(**self.model_dump())


class PageContent(Strict):
    """What every page has: a byline, a standfirst, and what may be done with it."""

    by: Line = ""
    intro: OwnText = ""
    show_people: bool = False
    embed: bool = False


ReviewDrawing = Literal["outline", "section"]
REVIEW_DRAWINGS: tuple[ReviewDrawing, ...] = ("outline", "section")


class ReviewContent(PageContent):
    """A review of one knife; parts in their order, points as chosen (null: as proposed)."""

    kind: Literal["review"] = "review"
    piece_id: Id
    parts: list[PartIn] = Field(
        default_factory=lambda: [PartIn(part=p) for p in WriteUpPart], max_length=len(WriteUpPart)
    )
    points: Annotated[list[ReviewPointIn], Field(max_length=24)] | None = None
    scores: list[ScoreIn] = Field(default_factory=list, max_length=12)
    disclosure: DisclosureIn = DisclosureIn()
    photographs: bool = True
    drawings: list[ReviewDrawing] = Field(
        default_factory=lambda: list(REVIEW_DRAWINGS), max_length=2
    )

    @model_validator(mode="after")
    def _each_part_once(self) -> Self:
        there = [p.part for p in self.parts]
        if len(set(there)) != len(there):
            raise ValueError("names a part twice")
        self.parts += [PartIn(part=p, shown=False) for p in WriteUpPart if p not in there]
        if len({s.scale_id for s in self.scores}) != len(self.scores):
            raise ValueError("scores on one scale twice")
        return self


ComparisonPart = Literal[
    "outlines", "sections", "differences", "force", "edge_life", "verdict", "pages", "glossary"
]
_EVERY_COMPARISON_PART: tuple[ComparisonPart, ...] = (
    "verdict",
    "outlines",
    "sections",
    "differences",
    "force",
    "edge_life",
    "pages",
    "glossary",
)


class ComparisonContent(PageContent):
    """A comparison of two to six knives or models, as they lay on the Board."""

    kind: Literal["comparison"] = "comparison"
    laid: LaidIn
    parts: list[ComparisonPart] = Field(
        default_factory=lambda: list(_EVERY_COMPARISON_PART), max_length=8
    )
    food: Annotated[str, StringConstraints(max_length=40)] = "carrot"


class RangeContent(PageContent):
    """All knives of a maker, type or search, in a table."""

    kind: Literal["range"] = "range"
    search: Line = ""
    knife_types: list[KnifeTypeKey] = Field(default_factory=list, max_length=20)
    columns: list[QuantityKey] = Field(
        default_factory=lambda: ["edge_length", "weight", "hardness"], max_length=8
    )
    predictions: bool = True
    price: bool = True
    glossary: bool = True


Content = Annotated[ReviewContent | ComparisonContent | RangeContent, Field(discriminator="kind")]


class NewPageIn(Strict):
    """A page to begin; without a title it gets one from what it is of."""

    title: Line = ""
    content: Content


class PageIn(Strict):
    """A draft as its author leaves it."""

    title: Title
    content: Content


class StandingOut(BaseModel):
    """What was last said of a page: published or withdrawn, when and by whom."""

    on: bool
    at: dt.datetime
    by: str
    reason: str


class PageRow(BaseModel):
    """A page in the list."""

    id: int
    kind: PageKind
    title: str
    address: str
    changed_at: dt.datetime
    person: str
    standing: StandingOut | None


class PartDraft(BaseModel):
    """A part with the draft's paragraphs; figures stand in braces, as in own words."""

    part: WriteUpPart
    label: str
    draft: str


class FigureChoice(BaseModel):
    """A figure that a text can name in braces, and what it says now."""

    key: str
    label: str
    text: str
    grade: str


class ReviewPointOut(BaseModel):
    """A proposed point with what it rests on."""

    key: str
    good: bool
    text: str
    evidence: list[str]


class SinceOut(BaseModel):
    """A figure that reads otherwise now than on the published page."""

    key: str
    label: str
    then: str
    now: str
    moved: bool

    @classmethod
    def of(cls, since: Since) -> Self:
        return cls(
            key=since.key, label=since.label, then=since.then, now=since.now, moved=since.moved
        )


class ScaleOut(BaseModel):
    """A scale of the shop's; ``criteria`` say what the numbers mean."""

    id: int
    name: str
    highest: int
    criteria: str
    retired: bool
    etag: str


class ScaleIn(Strict):
    """A scale to score on."""

    name: Annotated[Line, StringConstraints(min_length=1, max_length=80)]
    highest: Annotated[int, Field(ge=2, le=100)] = 10
    criteria: Annotated[OwnText, StringConstraints(min_length=1, max_length=1000)]
    retired: bool = False


class PageOut(BaseModel):
    """A page to work on: what was written, what the record proposes, what is still missing."""

    id: int
    kind: PageKind
    title: str
    address: str
    short: str
    content: Content
    standing: StandingOut | None
    changed: bool
    missing: list[str]
    since: list[SinceOut]
    parts: list[PartDraft]
    figures: list[FigureChoice]
    points: list[ReviewPointOut]
    scales: list[ScaleOut]
    columns: list[Choice]
    etag: str


class WithdrawIn(Strict):
    """Why a page is unpublished; stored, but not shown to readers."""

    reason: Annotated[Line, StringConstraints(max_length=200)] = ""


class FeedOut(BaseModel):
    """The shop's product feed; its addresses are shown once, when its key is made."""

    is_open: bool
    csv: str = ""
    json_address: str = ""

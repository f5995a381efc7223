from __future__ import annotations

from typing import Annotated, Self

from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from maple_rook.core.deciding import (
    Care,
    Criterion,
    CustomerJob,
    Hand,
    Heft,
    Motion,
    School,
    Size,
    Skill,
    Tools,
)
from maple_rook.core.retention import BoardMaterial, Job, Kitchen, Technique, Use
from maple_rook.stations.schemas import OutlineOut, PieceOut, Strict, storable

Label = Annotated[
    str, StringConstraints(strip_whitespace=True, max_length=60), AfterValidator(storable)
]


class JobIn(Strict):
    """What a customer does with a knife and to it; no more is kept of a person than a label."""

    label: Label = ""
    use: Use = Use.HOME
    board: BoardMaterial = BoardMaterial.WOOD
    technique: Technique = Technique.NORMAL
    cuts: Job = Job.ALL_ROUND
    size: Size = Size.MAIN
    motion: Motion = Motion.ANY
    hand: Hand = Hand.RIGHT
    care: Care = Care.WIPED
    tools: Tools = Tools.SERVICE
    skill: Skill = Skill.STEADY
    heft: Heft = Heft.EITHER
    school: School = School.GEOMETRY
    bone: bool = False
    budget: Annotated[float, Field(gt=0, le=1_000_000)] | None = None

    def core(self) -> CustomerJob:
        """The core's job; an edge is honed where there is a rod or stones to do it with."""
        honed = self.tools in (Tools.ROD, Tools.STONES)
        kitchen = Kitchen(self.use, self.board, self.technique, honed, self.cuts)
        return CustomerJob(
            self.label, kitchen, self.size, self.motion, self.hand, self.care, self.tools,
            self.skill, self.heft, self.school, self.bone, self.budget,
        )  # fmt: skip

    @classmethod
    def of(cls, job: CustomerJob) -> Self:
        k = job.kitchen
        return cls(
            label=job.label, use=k.use, board=k.board, technique=k.technique, cuts=k.job,
            size=job.size, motion=job.motion, hand=job.hand, care=job.care, tools=job.tools,
            skill=job.skill, heft=job.heft, school=job.school, bone=job.bone, budget=job.budget,
        )  # fmt: skip


class QuestionOut(BaseModel):
    """A question of the conversation: the field of the job it answers, and the answers."""

    key: str
    asked: str
    answers: list[str]


class CounterOut(BaseModel):
    """What the conversation asks, and where it may start from."""

    questions: list[QuestionOut]
    presets: list[JobIn]
    currency: str


class CriterionOut(BaseModel):
    criterion: Criterion
    desirability: float


class OfferOut(BaseModel):
    """One knife of the short list."""

    piece: PieceOut
    outline: OutlineOut
    score: float
    first: float
    tied: bool
    on_front: bool
    price_per_month: float | None
    months: list[float]
    why: list[Criterion]
    gives_up: list[Criterion]
    warnings: list[str]
    criteria: list[CriterionOut]


class RuledOut(BaseModel):
    """A knife that must not be offered, and why."""

    piece_id: int
    tag: str
    name: str
    reasons: list[str]


class ChangeOut(BaseModel):
    """Another answer, and the knife that would then come first."""

    answer: str
    piece_id: int
    name: str


class AdviceOut(BaseModel):
    offers: list[OfferOut]
    nothing: str
    deciding: Criterion | None
    changes: list[ChangeOut]
    considered: int
    ruled_out_total: int
    ruled_out: list[RuledOut]
    cautions: list[str]

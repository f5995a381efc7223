from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from maple_rook.core.edge_life.retention import CARBIDE_COEFFICIENTS
from maple_rook.core.edge_life.steels import (
    ELEMENTS,
    ESTIMATE_RELATIVE_U,
    Steel,
    estimated_carbides,
)
from maple_rook.core.errors import InvalidValue
from maple_rook.http.schemas import ShortText, Strict

Percent = Annotated[float, Field(ge=0, le=60)]
Hrc = Annotated[float, Field(ge=20, le=70)]


class CompositionIn(Strict):
    """Mass per cent by element."""

    composition: dict[str, Percent]

    @model_validator(mode="after")
    def of_a_steel(self) -> Self:
        if unknown := set(self.composition) - set(ELEMENTS):
            raise ValueError(f"{sorted(unknown)[0]} is none of {', '.join(ELEMENTS)}")
        if not 0 < self.composition.get("C", 0.0) <= 4:
            raise ValueError("C of a knife steel is over 0 and at most 4 %")
        if sum(self.composition.values()) > 60:
            raise ValueError("more than 60 % alloying elements: no steel")
        return self


class GradeIn(CompositionIn):
    """A grade of the shop's own; carbides are estimated where none are given."""

    designation: Annotated[ShortText, Field(max_length=40)]
    aliases: Annotated[list[ShortText], Field(max_length=10)] = Field(default_factory=list)
    carbides: dict[str, Percent] | None = None
    usual_hrc: tuple[Hrc, Hrc]
    toughness: Literal["low", "medium", "high"] = "medium"
    sharpening: Literal["very easy", "easy", "medium", "hard"] = "medium"

    def core(self) -> Steel:
        low, high = self.usual_hrc
        if low > high:
            raise InvalidValue("usual hardness", f"{low:g} to {high:g} HRC", "the lower first")
        for name in self.carbides or {}:
            if name not in CARBIDE_COEFFICIENTS:
                raise InvalidValue("carbides", name, ", ".join(CARBIDE_COEFFICIENTS))
        guessed = self.carbides is None
        carbides = estimated_carbides(self.composition) if guessed else dict(self.carbides or {})
        return Steel(
            self.designation,
            self.designation,
            "the shop's own",
            dict(self.composition),
            carbides,
            (low, high),
            self.toughness,
            self.sharpening,
            {element: (share, share) for element, share in self.composition.items()},
            tuple(self.aliases),
            ESTIMATE_RELATIVE_U if guessed else 0.25,
            own=True,
        )


class CarbideOut(BaseModel):
    """Volume per cent of one carbide, its expanded uncertainty, and what it adds to the card."""

    name: str
    volume: float
    expanded: float
    card_mm: float


class CarbidesOut(BaseModel):
    carbides: list[CarbideOut]
    basis: str

    @classmethod
    def of(cls, carbides: dict[str, float], relative_u: float, basis: str) -> Self:
        return cls(
            carbides=[
                CarbideOut(
                    name=name,
                    volume=volume,
                    expanded=2 * relative_u * volume,
                    card_mm=CARBIDE_COEFFICIENTS[name] * volume,
                )
                for name, volume in carbides.items()
            ],
            basis=basis,
        )


class GradeOut(BaseModel):
    designation: str
    name: str
    standard: str
    source: str
    composition: dict[str, float]
    ranges: dict[str, list[float]]
    carbides: CarbidesOut
    pren: float
    reactivity: str
    usual_hrc: list[float]
    toughness: str
    sharpening: str
    aliases: list[str]
    own: bool
    pieces: int

    @classmethod
    def of(cls, steel: Steel, pieces: int) -> Self:
        estimated = steel.carbide_relative_u > 0.3
        basis = (
            "estimated from the composition by mass balance"
            if estimated
            else "given by the shop"
            if steel.own
            else "estimate of typical microstructures, from memory"
        )
        source = "entered by the shop" if steel.own else f"{steel.standard}, from memory"
        return cls(
            designation=steel.designation,
            name=steel.name,
            standard=steel.standard,
            source=source,
            composition=steel.composition,
            ranges={element: list(limits) for element, limits in steel.ranges.items()},
            carbides=CarbidesOut.of(steel.carbides, steel.carbide_relative_u, basis),
            pren=round(steel.pren, 1),
            reactivity=steel.reactivity.value,
            usual_hrc=list(steel.usual_hrc),
            toughness=steel.toughness,
            sharpening=steel.sharpening,
            aliases=list(steel.aliases),
            own=steel.own,
            pieces=pieces,
        )


class BandOut(BaseModel):
    low: float
    high: float
    words: str


class SteelsOut(BaseModel):
    """The grades that answer the search, and what hardness means; ``conversion`` rows HRC, HV."""

    grades: list[GradeOut]
    total: int
    elements: list[str]
    bands: list[BandOut]
    conversion: list[list[float]]
    conversion_source: str


class ConvertedOut(BaseModel):
    hrc: float
    hv: float
    strength_mpa: float
    tensile_mpa: float | None
    bands: list[str]
    minimum_thickness_mm: float

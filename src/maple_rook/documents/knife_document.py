"""One knife as a document for others: figures with U in both unit systems, estimates, claims."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal, Self

from pydantic import BaseModel, ConfigDict, Field

from maple_rook.answers.claims import ClaimOut
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.quantities import QUANTITIES, of_one_face, other_unit
from maple_rook.core.measurement.quantity import Quantity
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.unit_codes import UNIT_CODES, UNIT_TEXT
from maple_rook.core.measurement.units import from_base
from maple_rook.core.measurement.wording import decimals_for, interval_text
from maple_rook.core.prediction.model_card import GRADE_LABELS
from maple_rook.core.prediction.model_cards import card
from maple_rook.core.routine.stops import required_quantities
from maple_rook.shelf.knife import ShelfKnife, Whisker

GROUPS: dict[str, str] = {
    "drawing": "the outline at true scale",
    "section": "the section at the heel",
    "price": "the price",
    "making": "construction, steel, finish, handle",
    "claims": "what the box claims, and what was found",
    "estimates": "cutting ease and months to the stone",
}
"""What can be shown of a knife beside its measured figures."""


class FigureDoc(BaseModel):
    """A figure: mean and expanded uncertainty U (k = 2), and the same in other units.

    ``kind`` says whether it was measured; an estimate's U is its half-width.
    """

    key: str
    label: str
    kind: FigureKind = FigureKind.MEASURED
    value: float
    u: float
    n: int
    unit: str
    unit_text: str
    unit_code: str | None
    other_value: float | None
    other_u: float | None
    other_unit: str | None
    other_unit_code: str | None

    @classmethod
    def of(cls, q: Quantity, figure: Figure, grind: Grind) -> Self:
        other = other_unit(q, grind)
        per_other = from_base(1.0, other) if other else None
        mean, u = _digits(figure.mean, figure.expanded)
        theirs = (
            _digits(figure.mean * per_other, figure.expanded * per_other)
            if (per_other)
            else (None, None)
        )
        return cls(
            key=q.key,
            label=q.label,
            kind=figure.kind,
            value=mean,
            u=u,
            n=figure.n,
            unit=q.unit,
            unit_text="degrees" if of_one_face(q, grind) else UNIT_TEXT.get(q.unit, q.unit),
            unit_code=UNIT_CODES.get(q.unit),
            other_value=theirs[0],
            other_u=theirs[1],
            other_unit=other,
            other_unit_code=UNIT_CODES.get(other) if other else None,
        )


def _digits(mean: float, u: float) -> tuple[float, float]:
    """Mean and U with one digit more than U supports, so that sums still come out."""
    decimals = decimals_for(2 * u) + 1 if u > 0 else 4
    return round(mean, decimals), round(u, decimals)


class EstimateDoc(BaseModel):
    """A prediction, never a measurement: central value and 90 % limits, with its grade."""

    key: str
    label: str
    central: float
    low: float
    high: float
    unit: str
    unit_code: str | None
    grade: str
    grade_text: str
    text: str

    @classmethod
    def of(cls, key: str, whisker: Whisker) -> Self:
        model = card(key)
        return cls(
            key=key,
            label=model.name,
            central=round(whisker.central, 2),
            low=round(whisker.low, 2),
            high=round(whisker.high, 2),
            unit=model.unit,
            unit_code=UNIT_CODES.get(model.unit),
            grade=model.grade.value,
            grade_text=GRADE_LABELS[model.grade],
            text=interval_text(whisker.central, whisker.low, whisker.high, model.unit),
        )


class ClaimDoc(BaseModel):
    """What is printed, and what was found; ``verdict`` is in words, ``verdict_code`` its code."""

    key: str
    label: str
    printed: str
    verdict: Annotated[str, Field(deprecated="in words; use verdict_code")]
    verdict_code: ClaimVerdict
    found: str


def _found(claim: ClaimOut) -> str:
    undecided = claim.verdict is ClaimVerdict.UNDECIDED
    return f"undecided, {claim.statement}" if undecided else claim.statement


class KnifeDocument(BaseModel):
    """A knife described for others; what is not shown or not measured is absent.

    Lengths mm, mass g, force N, angles in degrees per side, each with its unit beside it.
    """

    model_config = ConfigDict(
        json_schema_extra={
            "examples": [
                {
                    "format": "maple-rook-knife",
                    "version": 1,
                    "tag": "KH-01",
                    "name": "Kesterby Harbour gyuto 210",
                    "maker": "Kesterby",
                    "line": "Harbour",
                    "knife_type": "gyuto",
                    "type": "gyuto",
                    "nominal_mm": 210.0,
                    "condition": "new",
                    "grind": "full flat",
                    "construction": "one steel, stainless",
                    "steel": "1.4112",
                    "finish": "brushed",
                    "handle": "riveted, resin laminate",
                    "price": 148.0,
                    "currency": "crowns",
                    "figures": [
                        {
                            "key": "weight",
                            "label": "weight",
                            "kind": "measured",
                            "value": 186.9,
                            "u": 0.7,
                            "n": 1,
                            "unit": "g",
                            "unit_text": "g",
                            "unit_code": "GRM",
                            "other_value": 6.593,
                            "other_u": 0.023,
                            "other_unit": "oz",
                            "other_unit_code": "ONZ",
                        }
                    ],
                    "estimates": [],
                    "claims": [],
                    "not_measured": ["balance point"],
                }
            ]
        }
    )

    format: Literal["maple-rook-knife"] = "maple-rook-knife"
    version: Literal[1] = 1
    tag: str
    name: str
    maker: str
    line: str
    knife_type: str
    type: str
    nominal_mm: float
    condition: str
    grind: str
    construction: str | None
    steel: str | None
    finish: str | None
    handle: str | None
    price: float | None
    currency: str | None
    figures: list[FigureDoc]
    estimates: list[EstimateDoc]
    claims: list[ClaimDoc]
    not_measured: list[str]


def everything() -> set[str]:
    """Every group and every quantity there is to show."""
    return {*GROUPS, *QUANTITIES}


def knife_document(
    knife: ShelfKnife, currency: str, shown: Iterable[str] | None = None
) -> KnifeDocument:
    """The document of a knife, with what is ``shown`` of it; all of it if nothing was chosen."""
    chosen = everything() if shown is None else set(shown)
    piece = knife.piece
    making, price = "making" in chosen, "price" in chosen and piece.price is not None
    required = required_quantities(piece.knife_type, Grind(piece.grind))
    asked = [q for q in QUANTITIES.values() if q.key in chosen]
    return KnifeDocument(
        tag=piece.tag,
        name=knife.model,
        maker=piece.maker,
        line=piece.line,
        knife_type=piece.knife_type,
        type=KNIFE_TYPES[piece.knife_type].label,
        nominal_mm=piece.nominal_mm,
        condition=piece.condition,
        grind=GRINDS[Grind(piece.grind)].label,
        construction=piece.construction if making else None,
        steel=piece.steel if making else None,
        finish=piece.finish if making else None,
        handle=piece.handle if making else None,
        price=piece.price if price else None,
        currency=currency if price else None,
        figures=[
            FigureDoc.of(q, knife.figures[q.key], knife.blade.grind)
            for q in asked
            if q.key in knife.figures
        ],
        estimates=[
            EstimateDoc.of(key, whisker)
            for key, whisker in knife.predicted.items()
            if "estimates" in chosen
        ],
        claims=[
            ClaimDoc(
                key=c.quantity,
                label=c.label,
                printed=c.printed,
                verdict=c.verdict.label,
                verdict_code=c.verdict,
                found=_found(c),
            )
            for c in knife.claims
            if "claims" in chosen
        ],
        not_measured=[q.label for q in asked if q.key in required and q.key not in knife.figures],
    )

"""A knife of the shelf as the rows that are kept of it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from maple_rook.answers.figures import FigureOut, OutlineOut, PieceOut
from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.edge_life.retention import FoodMix
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.prediction.evaluate import EASES
from maple_rook.shelf.knife import FlagOut, ShelfKnife, Whisker
from maple_rook.store.shelf_tables import SORTED_BY

SHOWN_FIGURES = (
    "hardness",
    "edge_length",
    "weight",
    "height_heel",
    "spine_heel",
    "edge_angle",
    "thickness_behind_edge",
)
GRAVEST_FIRST = (
    ClaimVerdict.CONTRADICTED,
    ClaimVerdict.UNDECIDED,
    ClaimVerdict.CONFIRMED,
    ClaimVerdict.NOT_MEASURED,
)
_OF_FIGURES = tuple(key for key in SORTED_BY if key != "price")


class RackRow(BaseModel):
    piece: PieceOut
    outline: OutlineOut
    figures: dict[str, FigureOut]
    predicted: dict[str, Whisker]
    eases: dict[FoodMix, Whisker]
    flags: list[FlagOut]

    @classmethod
    def of(cls, knife: ShelfKnife) -> RackRow:
        return cls(
            piece=knife.piece,
            outline=knife.outline,
            figures={k: FigureOut.of(f) for k, f in knife.figures.items() if k in SHOWN_FIGURES},
            predicted=knife.predicted,
            eases=knife.eases,
            flags=knife.flags,
        )


def shelf_row(knife: ShelfKnife, model_version: str) -> dict[str, Any]:
    """The columns of ``ShelfRow``, the version left out."""
    piece, means = knife.piece, {key: f.mean for key, f in knife.figures.items()}
    steel = knife.blade.steel
    return {
        "piece_id": piece.id,
        "model_id": knife.model_id,
        "model_version": model_version,
        "tag": piece.tag,
        "name": piece.name.lower(),
        "type_label": KNIFE_TYPES[piece.knife_type].label,
        "knife_type": piece.knife_type,
        "condition": piece.condition,
        "stock": piece.stock.value,
        "grade_class": knife.blade.grade_class.value if steel is not None else None,
        "words": _words(knife),
        **{key: means.get(key) for key in _OF_FIGURES},
        "price": piece.price,
        "drawn_mm": _drawn_mm(knife.outline),
        "figures": means,
        "predicted": {
            key: [w.central, w.low, w.high]
            for key, w in (
                *knife.predicted.items(),
                *((EASES[mix], w) for mix, w in knife.eases.items()),
            )
        },
        "row": RackRow.of(knife).model_dump_json(),
        "decides": [float(number) for number in knife.decides],
        "central": knife.central.tolist(),
    }


def _drawn_mm(outline: OutlineOut) -> float:
    xs = [point[0] for point in (*outline.blade, *outline.handle)]
    return max(xs) - min(xs)


def _words(knife: ShelfKnife) -> str:
    piece = knife.piece
    grind = piece.grind.replace("_", " ")
    return " ".join(
        (piece.name, piece.steel or "", piece.construction, grind, *(f.label for f in knife.flags))
    ).lower()


def claim_rows(knife: ShelfKnife) -> list[dict[str, Any]]:
    """The columns of ``ShelfClaim``, one row a claim."""
    return [
        {
            "piece_id": knife.piece.id,
            "number": number,
            "model_id": knife.model_id,
            "model": knife.model,
            "quantity": claim.quantity,
            "label": claim.label,
            "gravity": GRAVEST_FIRST.index(claim.verdict),
            "tag": knife.piece.tag,
            "claim": claim.model_dump(mode="json"),
            "measured": FigureOut.of(knife.figures[claim.quantity]).model_dump()
            if claim.quantity in knife.figures
            else None,
        }
        for number, claim in enumerate(knife.claims)
    ]

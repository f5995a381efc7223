"""Knives as SVG files in mm: one with its dimensions, or up to six laid over each other."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated, Literal

import numpy as np
from fastapi import Query, Response
from sqlalchemy.orm import Session

from maple_rook.answers.figures import blade_outline
from maple_rook.core.geometry.outline import Outline
from maple_rook.core.geometry.section import polygon
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.formats.drawings import Dimension, Shape, drawing
from maple_rook.formats.page.pictures import NARROWEST_PX, PNG_TYPE, WIDEST_PX, as_png
from maple_rook.http.problems import Conflict
from maple_rook.store import records

SECTION_SCALE = 5.0
ON_SCREEN = 1.7
"""How much larger than on paper words are where a drawing is shown at about a third of its size."""
Width = Annotated[int, Query(ge=NARROWEST_PX, le=WIDEST_PX, description="pixels")]
Scheme = Literal["maple", "rook"]


class View(StrEnum):
    ELEVATION = "elevation"
    SECTION = "section"
    PLAN = "plan"
    PROFILE = "profile"


@dataclass(frozen=True)
class Drawn:
    """What a drawing is made from: the blade, its outline and its name."""

    blade: Blade
    outline: Outline
    name: str


def drawn(db: Session, piece_ids: list[int], view: View, lettering: float = 1.0) -> str:
    """The SVG of one knife, or of several laid over each other.

    ``lettering`` is how many times larger than on paper its words are.
    """
    pieces = records.pieces(db, piece_ids)
    blades = records.blades(db, pieces, records.figures(db, piece_ids))
    return svg(
        [
            Drawn(blade, blade_outline(blade), records.piece_name(piece))
            for blade, piece in zip(blades, pieces, strict=True)
        ],
        view,
        lettering,
    )


def svg(knives: Sequence[Drawn], view: View, lettering: float = 1.0) -> str:
    """One SVG document; several knives get their hue and line pattern, one gets dimensions."""
    overlaid = len(knives) > 1
    shapes: list[Shape] = []
    dimensions: list[Dimension] = []
    for i, knife in enumerate(knives):
        found, measured = _VIEWS[view](knife)
        letter = i if overlaid else None
        shapes += [Shape(s.points, s.closed, s.part, letter) for s in found]
        dimensions += measured
    if not shapes:
        raise Conflict(f"There is no {view.value} to draw: nothing of it is measured.")
    title = f"{view.value}: {', '.join(k.name for k in knives)}"
    scale = SECTION_SCALE if view is View.SECTION else 1.0
    return drawing(
        title,
        shapes,
        () if overlaid else dimensions,
        scale=scale,
        board=view is not View.PLAN,
        lettering=lettering,
    )


def answer(text: str, name: str) -> Response:
    """The file as a download."""
    headers = {"Content-Disposition": f'attachment; filename="{name}.svg"'}
    return Response(text, media_type="image/svg+xml", headers=headers)


def answer_png(text: str, name: str, width_px: int, scheme: str) -> Response:
    """The file as a picture so many pixels wide, in the light scheme or the dark one."""
    headers = {"Content-Disposition": f'attachment; filename="{name}.png"'}
    return Response(as_png(text, width_px, scheme), media_type=PNG_TYPE, headers=headers)


def _mm(value: float) -> str:
    return f"{value:.4g} mm"


def _elevation(knife: Drawn) -> tuple[list[Shape], list[Dimension]]:
    o = knife.outline
    figures = knife.blade.figures
    edge, butt = o.edge_length_mm, o.edge_length_mm - o.overall_length_mm
    low = min(0.0, *(y for _, y in o.handle))
    lines = {
        "edge_length": Dimension((0, low), (edge, low), _mm(edge), 8),
        "overall_length": Dimension((butt, low), (edge, low), _mm(o.overall_length_mm), 16),
        "height_heel": Dimension((edge, 0), (edge, o.height_heel_mm), _mm(o.height_heel_mm), 6),
    }
    measured = [line for key, line in lines.items() if key in figures]
    return [Shape(o.handle, part="handle"), Shape(o.blade)], measured


def _section(knife: Drawn) -> tuple[list[Shape], list[Dimension]]:
    made = built(knife.blade)
    if made is None:
        return [], []
    corners = polygon(made.heel)
    spine, height = made.x["spine_heel"].item(), made.x["height_heel"].item()
    right = max(x for x, _ in corners)
    return [Shape(corners)], [
        Dimension((right - spine, height), (right, height), _mm(spine), -2),
        Dimension((right, 0), (right, height), _mm(height), 2),
    ]


def _plan(knife: Drawn) -> tuple[list[Shape], list[Dimension]]:
    made = built(knife.blade)
    if made is None:
        return [], []
    shares = np.linspace(0, 1, 41)
    length = made.x["edge_length"].item()
    half = made.spine_mm(shares) / 2
    up = [(float(s * length), float(t)) for s, t in zip(shares, half, strict=True)]
    ring = [*up, *((x, -y) for x, y in reversed(up))]
    heel = 2 * float(half[0])
    low = -float(half.max())
    return [Shape(ring)], [
        Dimension((0, low), (length, low), _mm(length), 6),
        Dimension((0, low), (0, heel / 2), _mm(heel), -4),
    ]


def _profile(knife: Drawn) -> tuple[list[Shape], list[Dimension]]:
    curve = knife.blade.edge_on_board()
    x, y = curve.sampled(1.0)
    line = [(float(a), float(b)) for a, b in zip(x, y, strict=True)]
    return [Shape(line, closed=False, part="edge")], [
        Dimension((0, 0), (curve.length_mm, 0), _mm(curve.length_mm), 6),
        Dimension((curve.length_mm, 0), line[-1], _mm(line[-1][1]), 6),
    ]


_VIEWS: dict[View, Callable[[Drawn], tuple[list[Shape], list[Dimension]]]] = {
    View.ELEVATION: _elevation,
    View.SECTION: _section,
    View.PLAN: _plan,
    View.PROFILE: _profile,
}

"""Drawings inside a page: plain shapes in mm that take the page's colours."""

from __future__ import annotations

from collections.abc import Sequence

from maple_rook.documents.figure_text import outline_shapes
from maple_rook.formats.drawings import Shape
from maple_rook.formats.paper import extent
from maple_rook.shelf.knife import ShelfKnife

_BAR_MM, _SECTION_BAR_MM = 50.0, 5.0


def outline_svg(knife: ShelfKnife) -> str:
    """The outline with a bar of 50 mm below."""
    shapes = outline_shapes(knife)
    (left, low), (right, top) = extent(shapes)
    low -= 7
    bar = (
        f'<path d="M{left:.1f} {-low - 2:.1f}h{_BAR_MM:g}" stroke="var(--soft)" '
        'stroke-width="0.6" fill="none"/>'
    )
    return _svg(shapes, (left, low, right, top), bar, f"Outline of {knife.piece.name}")


def section_svg(knife: ShelfKnife) -> str:
    """The section at the heel lying down, edge to the right, with a bar of 5 mm."""
    if knife.section is None:
        return ""
    shape = Shape([(-y, x) for x, y in knife.section], part="section")
    (left, low), (right, top) = extent([shape])
    low -= 1.5
    bar = (
        f'<path d="M{left:.1f} {-low - 0.4:.1f}h{_SECTION_BAR_MM:g}" stroke="var(--soft)" '
        'stroke-width="0.12" fill="none"/>'
    )
    return _svg([shape], (left, low, right, top), bar, "Section at the heel", margin=0.3)


def _svg(
    shapes: Sequence[Shape],
    box: tuple[float, float, float, float],
    more: str,
    says: str,
    margin: float = 1.0,
) -> str:
    left, low, right, top = box
    drawn = "".join(_path(shape) for shape in shapes)
    wide, tall = right - left + 2 * margin, top - low + 2 * margin
    view = f"{left - margin:.2f} {-top - margin:.2f} {wide:.2f} {tall:.2f}"
    title = says.replace("&", "&amp;").replace("<", "&lt;").replace('"', "&quot;")
    return f'<svg viewBox="{view}" role="img" aria-label="{title}">{drawn}{more}</svg>'


def _path(shape: Shape) -> str:
    line = "L".join(f"{x:.2f} {-y:.2f}" for x, y in shape.points)
    fill = "var(--handle)" if shape.part == "handle" else "var(--blade)"
    return (
        f'<path d="M{line}Z" fill="{fill}" stroke="var(--ink)" stroke-width="1.2" '
        'vector-effect="non-scaling-stroke"/>'
    )

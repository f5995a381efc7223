"""The figures of docs/models, drawn from the models themselves."""

from __future__ import annotations

import numpy as np

from maple_rook.core.cutting.foods import CUT_SHARES, FOODS, STROKES, Food
from maple_rook.core.cutting.force import cut, forces_n, parts_n, reference_section
from maple_rook.core.geometry.section import Section, flat_section
from maple_rook.core.measurement.uncertainty import Array
from maple_rook.core.prediction.evaluate import REFERENCE_EDGE_MM, reference_sections
from maple_rook.formats.line_chart import Axis, Line, Point, line_chart

FRESH_UM = 0.75
ANGLES = np.arange(8.0, 31.0)
CARROT = FOODS["carrot"]


def figures() -> dict[str, tuple[str, str]]:
    """By model card: what its figure says, and the figure as SVG."""
    return {
        "cutting_force": (
            "The reference blade pushed through a carrot: what each part asks for on the way.",
            _parts(),
        ),
        "bite": (
            "Bite index of the reference blade with other edge angles, food by food: 100 is 15° "
            "per side.",
            _angle_sweep(),
        ),
        "cutting_ease": (
            "A taper along the edge: force through a carrot at the three places a cut is taken, "
            "for the reference blade and for one as thick all along.",
            _along_the_edge(),
        ),
        "worn_ease": (
            "Reference and index: effort of the reference blade over that of a blade with another "
            "thickness behind the edge, fresh and half way to the stone. The reference is 100 by "
            "definition.",
            _index(),
        ),
    }


def _points(x: Array, y: Array) -> list[Point]:
    return list(zip(x.tolist(), y.tolist(), strict=True))


def _parts() -> str:
    found = cut(reference_section(), CARROT, FRESH_UM, 0.0)
    below = np.zeros(found.depth_mm.size)
    lines = []
    for name, part in found.parts._asdict().items():
        top = below + part
        lines.append(Line(name, _points(found.depth_mm, top), _points(found.depth_mm, below)))
        below = top
    x = Axis("depth, mm", 0, CARROT.height_mm, (0, 7, 14, 21, 28))
    return line_chart("One cut by its parts", x, Axis("force, N", 0, 35, (0, 10, 20, 30)), lines)


def _angle_sweep() -> str:
    section = flat_section(2.2, 45.0, 0.30, ANGLES)

    def line(food: Food) -> Line:
        force = parts_n(section, food, FRESH_UM, 0.0, np.asarray(3.0)).total
        return Line(food.label, _points(ANGLES, 100 * np.interp(15, ANGLES, force) / force))

    x = Axis("edge angle, ° per side", 8, 30, (8, 12, 15, 20, 25, 30))
    y = Axis("bite index, 15° = 100", 50, 140, (60, 80, 100, 120, 140))
    return line_chart("The edge angle in the bite", x, y, [line(f) for f in FOODS.values()])


def _along_the_edge() -> str:
    shares = np.array(CUT_SHARES)
    even = flat_section(np.full(3, 2.2), np.full(3, 45.0), 0.30, 15.0)

    def line(name: str, force: Array) -> Line:
        return Line(name, _points(100 * shares, np.broadcast_to(force, (3,))))

    lines = [
        line(name, parts_n(section, CARROT, FRESH_UM, 0.0).total)
        for name, section in (
            ("as thick all along", even),
            ("reference, with its taper", reference_sections()),
        )
    ]
    x = Axis("place along the edge from the heel, %", 10, 90, (20, 50, 80))
    return line_chart("Along the edge", x, Axis("force, N", 24, 32, (24, 26, 28, 30, 32)), lines)


def _index() -> str:
    behind = np.linspace(0.10, 0.60, 26)
    reference = _effort(reference_sections(), FRESH_UM)
    lines = []
    for name, radius in (("fresh", FRESH_UM), ("half way to the stone", 3.0)):
        index = [100 * reference / _effort(reference_sections(t), radius) for t in behind.tolist()]
        lines.append(Line(name, _points(behind, np.array(index))))
    x = Axis("thickness behind the edge, mm", 0.1, 0.6, (0.1, 0.2, 0.3, 0.4, 0.5, 0.6))
    y = Axis("ease in carrot, reference = 100", 60, 130, (60, 80, 100, 120))
    return line_chart("Reference and index", x, y, lines)


def _effort(sections: Section, radius_um: float) -> float:
    found = forces_n(sections, [CARROT], [STROKES["push"]], [radius_um], REFERENCE_EDGE_MM)
    return float(found[0].effort[0, 0])

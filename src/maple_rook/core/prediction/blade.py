"""A blade as the predictions see it: what was measured, what follows from it, what is inferred.

Every input of the models is a figure with an origin. *Measured* comes from readings, *derived* from
other readings by geometry, *inferred* from what is typical of the knife's type, with a wide
uncertainty; *assumed* is a value of the model itself, such as the radius of a fresh edge. Typical
ranges and ratios are common practice.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import NamedTuple

import numpy as np

from maple_rook.core.cutting.food_release import surface_part
from maple_rook.core.cutting.force import EDGE_RADII_UM
from maple_rook.core.edge_life.retention import EdgeState, Technique, carbide_term, wearing_deg
from maple_rook.core.edge_life.stability import TOUGHNESS_60, borne_n_mm, usual_margin
from maple_rook.core.edge_life.steels import GradeClass, Reactivity, Steel
from maple_rook.core.geometry.edge import AsymmetrySchool, third_figure
from maple_rook.core.geometry.outline import Lines, spine_stations
from maple_rook.core.geometry.profile import EdgeCurve, motion_of
from maple_rook.core.geometry.section import ADDED_BEVEL_DEG
from maple_rook.core.geometry.solid import TIP_STATION_MM
from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients
from maple_rook.core.measurement.grinds import GRINDS, Grind, GrindFamily
from maple_rook.core.measurement.knife_types import KNIFE_TYPES, KnifeType
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.uncertainty import Figure

FRESH_EDGE_RADIUS_UM = EDGE_RADII_UM[EdgeState.FRESH]
"""Used for a double bevel that was not compared by eye (assumption)."""
STAINLESS_G_CM3, CARBON_G_CM3 = 7.75, 7.85
"""Density of the steel, from memory; 7.75 is also what the package ``bd-materials`` 0.2.5 from the
registry has for ferritic chromium stainless (AISI 430)."""
ADDED_BEHIND_EDGE_MM = Figure(0.25, 0.10)
"""Thickness at the shoulder of a bevel added to a single-bevel face (assumption)."""
CLAIM_OFF_HRC, TREATMENT_OFF_HRC = 2.0, 1.0
"""Standard uncertainty of a claimed hardness, and of a heat treatment usual for the grade."""
_RIDGES = np.linspace(0.5, 1.3, 161)
"""Thicknesses at the shinogi line over the spine's that are tried."""
_SPINE_RATIOS = {"spine_mid": Figure(0.82, 0.09), "spine_tip": Figure(0.36, 0.12)}
_SQUARE_SPINE_RATIOS = {"spine_mid": Figure(0.90, 0.06), "spine_tip": Figure(0.66, 0.12)}
"""Spine at the middle and near the tip over the spine at the heel."""
SPINE_BETWEEN_MM = 0.05
"""Standard uncertainty of a spine thickness between places that were measured (assumption)."""
HEIGHTS_MEASURED, HEIGHTS_INFERRED = 0.015, 0.05
"""Relative scatter of the heights between heel and tip, with the middle measured and without."""


class Origin(StrEnum):
    MEASURED = "measured"
    ESTIMATED = "estimated"
    TOLD = "told"
    DERIVED = "derived"
    INFERRED = "inferred"
    ASSUMED = "assumed"


class Input(NamedTuple):
    figure: Figure
    origin: Origin


@dataclass(frozen=True)
class Blade:
    """Figures by quantity key (mm, g, degrees per side, HRC, per cent) and the construction.

    ``shaped`` is the face that carries a convex or hollow curve; ``surface`` what was seen of the
    faces (finish and dimples, by choice key), None where nobody looked. ``known_bulge`` is the
    curve of the faces, where it comes from elsewhere than the readings. ``school`` says how the
    asymmetry is read; None where it only counts strokes and computes nothing. ``coefficients``
    weigh the carbides. ``claimed_hrc`` is the hardness that is printed of its model, low and high.
    """

    figures: Mapping[str, Figure]
    knife_type: str = "gyuto"
    grind: Grind = Grind.FULL_FLAT
    steel: Steel | None = None
    edge_radius_um: Figure = FRESH_EDGE_RADIUS_UM
    even_machine_edge: bool = False
    seed: int = 0
    nominal_mm: float = 0.0
    traced: EdgeCurve | None = None
    shaped: str = "both"
    surface: tuple[str, ...] | None = None
    known_bulge: Figure | None = None
    school: AsymmetrySchool | None = AsymmetrySchool.WIDTH
    coefficients: Coefficients = PUBLISHED
    claimed_hrc: tuple[float, float] | None = None

    @property
    def grade_class(self) -> GradeClass:
        """The class of grades whose trials concern this blade."""
        return GradeClass.UNKNOWN if self.steel is None else self.steel.grade_class

    @property
    def kind(self) -> KnifeType | None:
        return KNIFE_TYPES.get(self.knife_type)

    @property
    def heavy(self) -> bool:
        return bool(self.kind and self.kind.heavy)

    @property
    def for_bone(self) -> bool:
        """Whether it is of a type that goes through bones."""
        return bool(self.kind and self.kind.for_bone)

    @property
    def family(self) -> GrindFamily:
        return GRINDS[self.grind]

    @property
    def single_bevel(self) -> bool:
        return self.family.single_bevel

    @property
    def left_handed(self) -> bool:
        """Whether a single-bevel face is on the left as held."""
        found = self.figures.get("asymmetry")
        return self.single_bevel and found is not None and found.mean < 50

    @property
    def refused(self) -> str:
        """Why edge and section are not predicted for this blade, or an empty string."""
        if self.kind is not None and not self.kind.predicted:
            return f"A {self.kind.label} is recorded but not predicted."
        return ""

    @property
    def density_g_cm3(self) -> float:
        stainless = self.steel is None or self.steel.reactivity is Reactivity.STAINLESS
        return STAINLESS_G_CM3 if stainless else CARBON_G_CM3

    @property
    def has_steeper(self) -> bool:
        """Whether the edge carries a micro-bevel, or an added bevel on a single-bevel face."""
        return "micro_bevel" in self.figures or self.family.added_bevel

    @property
    def apex_key(self) -> str:
        """The input that is the angle at the apex: the steeper bevel's where there is one."""
        return "steeper" if self.has_steeper else "edge_angle"

    @property
    def apex_deg(self) -> float:
        """Central inclusive angle at the apex, degrees."""
        return self.family.faces_at_apex * self.inputs[self.apex_key].figure.mean

    @property
    def wearing_deg(self) -> float:
        """Central inclusive angle that wears, degrees: a micro-bevel counts by its share."""
        at_apex = self.inputs[self.apex_key].figure.mean
        edge = at_apex if self.family.added_bevel else self.inputs["edge_angle"].figure.mean
        return self.family.faces_at_apex * float(wearing_deg(edge, at_apex))

    @property
    def toughness_60(self) -> float:
        """Toughness of the steel at 60 HRC, MPa sqrt(m); NaN where the steel is not known."""
        return TOUGHNESS_60.get(self.steel.toughness, math.nan) if self.steel else math.nan

    @property
    def hardness(self) -> Figure | None:
        """Hardness of the edge, HRC: measured, or as it is inferred."""
        return self.input_figure("hardness")

    @property
    def hrc(self) -> float:
        """Central hardness, HRC; NaN if unknown."""
        found = self.hardness
        return math.nan if found is None else found.mean

    def margin(self, technique: Technique) -> float:
        """Side load the edge bears over that of the usual stroke of a technique."""
        borne = borne_n_mm(self.hrc, self.apex_deg / 2, self.toughness_60)
        return float(usual_margin(borne, technique))

    def lines(self) -> Lines:
        """Edge and spine line, drawn at the central figures."""
        kind = self.kind or KNIFE_TYPES["gyuto"]
        edge, height = (self.input(key) for key in ("edge_length", "height_heel"))
        tall = height.figure.mean if height else sum(kind.typical["height_heel"]) / 2
        long = edge.figure.mean if edge else sum(kind.typical["edge_length"]) / 2
        return Lines(kind.shape, long, tall, self.figures, self.traced)

    def edge_on_board(self) -> EdgeCurve:
        """The edge as traced, or the line its type is drawn with."""
        if self.traced is not None:
            return self.traced
        lines = self.lines()
        share = np.linspace(0, 1, 121)
        return EdgeCurve(share * lines.edge_mm, lines.edge(share))

    @cached_property
    def motion(self) -> tuple[float, float]:
        """Share of the edge it rocks over, and with which it chops: as traced, or as is usual."""
        rocks, chops = motion_of(self.edge_on_board())
        if self.traced is None:
            rocks = (self.kind or KNIFE_TYPES["gyuto"]).rocks
        return rocks, chops

    def input_figure(self, key: str) -> Figure | None:
        found = self.input(key)
        return None if found is None else found.figure

    def input(self, key: str) -> Input | None:
        """An input with where it comes from, or None where nothing can be said."""
        return self.inputs.get(key)

    @cached_property
    def inputs(self) -> dict[str, Input]:
        """Every input of the models, by key."""
        found = {key: Input(figure, Origin(figure.kind)) for key, figure in self.figures.items()}
        if self.school is None:
            found.pop("asymmetry", None)
        self._derive(found)
        self._assume(found)
        if self.kind is not None and self.kind.predicted:
            self._infer(found, self.kind)
            self._shape(found)
        return found

    @cached_property
    def known(self) -> frozenset[str]:
        """Keys of the inputs that are more than inferred."""
        return frozenset(k for k, i in self.inputs.items() if i.origin is not Origin.INFERRED)

    @cached_property
    def usable(self) -> frozenset[str]:
        """Keys of the inputs that a model which needs them works with.

        What is more than inferred, and the hardness: the grade or the claim tell it closely enough.
        """
        return self.known | (self.inputs.keys() & {"hardness"})

    def _derive(self, found: dict[str, Input]) -> None:
        """What other readings fix by geometry."""

        def derive(key: str, figure: Figure | None) -> None:
            if key not in found and figure is not None:
                found[key] = Input(figure, Origin.DERIVED)

        f = self.figures
        right, left = f.get("angle_right"), f.get("angle_left")
        if right and left:
            derive("edge_angle", _mean_of(right, left))
        difference = _difference_of(right, left) if right and left else Figure(0.0, 0.0)
        found["angle_difference"] = Input(
            difference, Origin.DERIVED if right and left else Origin.ASSUMED
        )
        for key, at in self._spine_places().items():
            derive(key, at)
        if self.single_bevel:
            return
        wide, narrow = f.get("bevel_width_right"), f.get("bevel_width_left")
        if wide and narrow:
            derive("asymmetry", _share_of(wide, narrow))
            third = third_figure({key: i.figure for key, i in found.items()})
            if third is not None:
                derive(*third)

    def _spine_places(self) -> dict[str, Figure]:
        """Spine at the middle and near the tip, straight between places measured elsewhere."""
        if not any(key.startswith("spine_at") for key in self.figures):
            return {}
        length = self.figures.get("edge_length")
        edge = length.mean if length else self.nominal_mm
        places = spine_stations(self.figures, edge)
        if len(places) < 2:
            return {}
        x, thick = np.array(places).T
        wanted = {"spine_mid": edge / 2, "spine_tip": edge - TIP_STATION_MM}
        return {
            key: Figure(float(np.interp(at, x, thick)), SPINE_BETWEEN_MM)
            for key, at in wanted.items()
            if x[0] <= at <= x[-1]
        }

    def _assume(self, found: dict[str, Input]) -> None:
        found["edge_radius"] = Input(self.edge_radius_um, Origin.ASSUMED)
        if self.steel is not None:
            term = carbide_term(self.steel.carbides, self.coefficients)
            found["carbides"] = Input(
                Figure(term, self.steel.carbide_relative_u * term), Origin.ASSUMED
            )
        found.setdefault("asymmetry", Input(self.family.asymmetry, Origin.ASSUMED))
        seen = self.surface is not None
        surface = Figure(surface_part(self.surface or ()), 0.05) if seen else Figure(0.3, 0.2)
        found["surface"] = Input(surface, Origin.MEASURED if seen else Origin.INFERRED)

    def _infer(self, found: dict[str, Input], kind: KnifeType) -> None:
        """Typical values of the type, wide, for what was not measured."""

        def infer(key: str, figure: Figure) -> None:
            found.setdefault(key, Input(figure, Origin.INFERRED))

        infer(
            "edge_length",
            Figure(self.nominal_mm, 3.0) if self.nominal_mm else _typical(kind, "edge_length"),
        )
        if "spine_heel" in found:
            heel = found["spine_heel"].figure
            ratios = _SQUARE_SPINE_RATIOS if kind.shape.square_front else _SPINE_RATIOS
            for key, ratio in ratios.items():
                infer(key, Figure(heel.mean * ratio.mean, heel.mean * ratio.standard_uncertainty))
        added = self.family.added_bevel
        infer(
            "thickness_behind_edge",
            ADDED_BEHIND_EDGE_MM if added else _typical(kind, "thickness_behind_edge"),
        )
        infer("edge_angle", _typical(kind, "edge_angle"))
        if (hardness := self._usual_hardness()) is not None:
            infer("hardness", hardness)
        infer("handle_length", _typical(kind, "handle_length"))
        measured = "height_mid" in self.figures
        scatter = HEIGHTS_MEASURED if measured else HEIGHTS_INFERRED
        found["heights"] = Input(
            Figure(0.0, scatter), Origin.MEASURED if measured else Origin.INFERRED
        )

    def _usual_hardness(self) -> Figure | None:
        r"""Hardness where no tester said it: as claimed, else as is usual of the grade.

        The middle of the claimed band with u = sqrt((w/2)^2 + 2.0^2) HRC, w its half-width; of the
        grade's usual range the middle, u a quarter of the range and 1.0 HRC in quadrature: claims
        are off by a point or two, heat treatments of one grade by as much (practice).
        """
        if self.claimed_hrc is not None:
            low, high = self.claimed_hrc
            return Figure((low + high) / 2, math.hypot((high - low) / 4, CLAIM_OFF_HRC))
        if self.steel is not None:
            low, high = self.steel.usual_hrc
            return Figure((low + high) / 2, math.hypot((high - low) / 4, TREATMENT_OFF_HRC))
        return None

    def _shape(self, found: dict[str, Input]) -> None:
        """The faces between edge and spine: measured where it can be, else the family's."""
        shape = self.family.shape
        none = Figure(0.0, 0.0)
        usual_line = shape.grind_line or Figure(1.0, 0.0)
        line = self._grind_line()
        if line is None and shape.grind_line and shape.bulge is None:
            line = self._line_from_thickness(found)
            bulge = self.known_bulge
        else:
            bulge = self.known_bulge or self._bulge(found, line)
        shinogi = self._shinogi() or self._shinogi_from_thickness(found)
        for key, figure, usual in (
            ("grind_line", line if shape.grind_line else None, usual_line),
            ("bulge", bulge, shape.bulge or none),
            (
                "shinogi",
                shinogi if self.single_bevel else None,
                Figure(1.0, 0.06) if self.single_bevel else Figure(1.0, 0.0),
            ),
        ):
            if figure is not None:
                found[key] = Input(figure, Origin.DERIVED)
            else:
                guess = usual.standard_uncertainty > 0
                found[key] = Input(usual, Origin.INFERRED if guess else Origin.ASSUMED)
        if "micro_bevel" in self.figures:
            found["steeper"] = found["micro_bevel"]
        else:
            angle, more = found["edge_angle"].figure, ADDED_BEVEL_DEG
            spread = float(np.hypot(angle.standard_uncertainty, more.standard_uncertainty))
            added = self.family.added_bevel
            figure = Figure(angle.mean + more.mean, spread) if added else none
            found["steeper"] = Input(figure, Origin.INFERRED if added else Origin.ASSUMED)
        usual_hollow = Figure(0.15, 0.08) if self.single_bevel else none
        origin = Origin.INFERRED if self.single_bevel else Origin.ASSUMED
        found.setdefault("hollow_depth", Input(usual_hollow, origin))

    def _grind_line(self) -> Figure | None:
        """Measured height of the grind line over the blade's height there."""
        line = self.figures.get("grind_line")
        height = self.figures.get("height_mid") or self.figures.get("height_heel")
        if line is None or height is None:
            return None
        share = line.mean / height.mean
        return Figure(min(share, 1.0), share * _relative(line, height))

    def _shinogi(self) -> Figure | None:
        """Thickness at the shinogi line over the spine's: w sin th / t, the face's width w."""
        width, angle = (self.figures.get(k) for k in ("bevel_width_right", "edge_angle"))
        spine = self.figures.get("spine_mid") or self.figures.get("spine_heel")
        if self.left_handed:
            width = self.figures.get("bevel_width_left") or width
        if width is None or angle is None or spine is None:
            return None
        theta = np.radians(angle.mean)
        ratio = float(width.mean * np.sin(theta) / spine.mean)
        lean = np.radians(angle.standard_uncertainty) / np.tan(theta)
        return Figure(ratio, ratio * float(np.hypot(_relative(width, spine), lean)))

    @property
    def bent(self) -> bool:
        """Whether the faces curve: by their family, or as their thicknesses were measured."""
        found = self.inputs.get("bulge")
        measured = found is not None and found.origin is Origin.DERIVED
        return measured or self.family.shape.bulge is not None

    def _thicknesses(self, low: float, high: float) -> list[tuple[float, Figure]]:
        """The thicknesses measured up the face between two heights above the edge, mm."""
        return [
            (up, self.figures[key])
            for key, up in THICKNESS_AT_MM.items()
            if key in self.figures and low < up < high
        ]

    def _face(self, found: Mapping[str, Input]) -> tuple[float, float, float, float] | None:
        """Height and thickness of the shoulder, height of the blade, thickness of the spine, mm."""
        if not all(k in found for k in ("spine_heel", "height_heel", "thickness_behind_edge")):
            return None
        spine, height, behind = (
            found[k].figure.mean for k in ("spine_heel", "height_heel", "thickness_behind_edge")
        )
        angle = found["edge_angle"].figure.mean if "edge_angle" in found else 15.0
        return behind / 2 / math.tan(math.radians(angle)), behind, height, spine

    def _line_from_thickness(self, found: Mapping[str, Input]) -> Figure | None:
        r"""Height of the grind line over the blade's, from the thicknesses up the face.

        Where the face runs straight to the full spine: least squares of t - T = k (u - z_s) at the
        measured heights; the line is where it reaches the spine's thickness.
        """
        face = self._face(found)
        if face is None:
            return None
        shoulder, behind, height, spine = face
        parts = self._thicknesses(shoulder, 0.9 * height)
        if not parts:
            return None
        lever, off, u = np.array(
            [(up - shoulder, t.mean - behind, t.standard_uncertainty) for up, t in parts]
        ).T
        weight = float((lever**2).sum())
        slope = max(float((lever * off).sum()) / weight, 1e-3)
        spread = float(np.sqrt((lever**2 * u**2).sum())) / weight
        line = (shoulder + (spine - behind) / slope) / height
        return Figure(float(np.clip(line, 0.15, 1.0)), min(line, 1.0) * spread / slope)

    def _bulge(self, found: Mapping[str, Input], line: Figure | None) -> Figure | None:
        r"""Sagitta of the faces over their mean half-thickness, from the thicknesses up the face.

        Least squares of t/2 - chord = s 4 w (c - w) / c^2 at the measured heights, w and c above
        the shoulder. ``line`` is the height of the grind line over the blade's, where there is one.
        """
        face = self._face(found)
        if face is None or self.single_bevel:
            return None
        shoulder, behind, height, spine = face
        share = line or self.family.shape.grind_line
        top = height * (share.mean if share else 1.0)
        knee = spine if self.family.shape.flats else behind + (spine - behind) * top / height
        chord = top - shoulder
        parts = [
            (
                4 * (up - shoulder) * (top - up) / chord**2,
                (t.mean - behind - (knee - behind) * (up - shoulder) / chord) / 2,
                t.standard_uncertainty / 2,
            )
            for up, t in self._thicknesses(shoulder, shoulder + 0.9 * chord)
        ]
        if not parts:
            return None
        lever, off, u = np.array(parts).T
        weight = float((lever**2).sum())
        half = (behind + knee) / 4 * (1.0 if self.shaped == "both" else 0.5)
        sagitta = float((lever * off).sum()) / weight
        spread = float(np.sqrt((lever**2 * u**2).sum())) / weight
        return Figure(sagitta / half, spread / half)

    def _shinogi_from_thickness(self, found: Mapping[str, Input]) -> Figure | None:
        """Thickness at the shinogi line over the spine's, from the thicknesses above the line.

        Least squares of the thickness between line and spine, over :data:`_RIDGES`; None where
        nothing is measured above the line.
        """
        keys = ("spine_heel", "height_heel", "edge_angle")
        if not all(k in found for k in keys):
            return None
        spine, height, angle = (found[k].figure.mean for k in keys)
        parts = self._thicknesses(0.0, 0.9 * height)
        ridge = _RIDGES * spine / math.tan(math.radians(angle))
        if not parts or ridge.min() >= max(up for up, _ in parts):
            return None
        up = np.array([up for up, _ in parts])[:, None]
        read = np.array([t.mean for _, t in parts])[:, None]
        u = np.array([max(t.standard_uncertainty, 1e-3) for _, t in parts])[:, None]
        on_face = up * math.tan(math.radians(angle))
        above = spine * (_RIDGES + (1 - _RIDGES) * (up - ridge) / (height - ridge))
        made = np.where(up <= ridge, on_face, above)
        best = int((((made - read) / u) ** 2).sum(axis=0).argmin())
        steps = np.gradient(made, _RIDGES, axis=1)[:, best : best + 1]
        weight = float(((steps / u) ** 2).sum())
        if weight < 1.0:
            return None
        return Figure(float(_RIDGES[best]), min(0.1, weight**-0.5))


def _mean_of(a: Figure, b: Figure) -> Figure:
    return Figure(
        (a.mean + b.mean) / 2, float(np.hypot(a.standard_uncertainty, b.standard_uncertainty)) / 2
    )


def _difference_of(a: Figure, b: Figure) -> Figure:
    return Figure(a.mean - b.mean, float(np.hypot(a.standard_uncertainty, b.standard_uncertainty)))


def _share_of(right: Figure, left: Figure) -> Figure:
    """n of n:m in per cent from both bevel widths."""
    share = right.mean / (right.mean + left.mean)
    return Figure(100 * share, 100 * share * (1 - share) * _relative(right, left))


def _relative(a: Figure, b: Figure) -> float:
    """Relative standard uncertainty of a ratio or product."""
    return float(np.hypot(a.standard_uncertainty / a.mean, b.standard_uncertainty / b.mean))


def _typical(kind: KnifeType, key: str) -> Figure:
    """The middle of the type's typical range, which is taken as two standard uncertainties wide."""
    low, high = kind.typical[key]
    return Figure((low + high) / 2, (high - low) / 4)

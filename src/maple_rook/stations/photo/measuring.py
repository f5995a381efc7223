"""What a photo says of a knife, beside what its sheet says; nothing is stored here."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import Any

import numpy as np
from sqlalchemy import func, select
from sqlalchemy.orm import Session, undefer

from maple_rook.answers.figures import FigureOut
from maple_rook.answers.shape import profile_out
from maple_rook.core.choosing.comparing import difference_uncertainty
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.photo_blade import BladeLines, PhotoFigure
from maple_rook.core.geometry.scale_card import View
from maple_rook.core.geometry.section import polygon
from maple_rook.core.geometry.section_fit import EndFigures, EndView, end_figures
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.plausibility import doubt, parse_reading
from maple_rook.core.measurement.quantities import quantity
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.photo.heel_view import HeelView
from maple_rook.photo.refusal import PhotoRefused
from maple_rook.photo.side_view import Lying, Pixel, Points, SideView
from maple_rook.stations.photo.desk import PhotoDesk, Traced
from maple_rook.stations.photo.schemas import (
    EndOut,
    HeightOut,
    MeasuredOut,
    MeasureIn,
    PhotoValueOut,
    PointsOut,
    figure_parts,
)
from maple_rook.store import records
from maple_rook.store.photo_tables import MeasuringPhoto
from maple_rook.store.records import PHOTO, Figures
from maple_rook.store.tables import Reading, ReadingVoid, Sheet

METHOD = 1
"""Version of the way photos are measured; kept with every measurement."""
_KNOWN_SPINE_U, _USUAL_SPINE_U = 0.05, 0.3
FINE_U_MM = 0.2
NO_BLADE = (
    "These points do not form a blade: move heel and tip onto its edge, or take another photo."
)
_SHOWN_POINTS = 400
_AT_SHARES = np.linspace(0.0, 1.0, 81)


@dataclass(frozen=True)
class Subject:
    """The knife in the photo as its record knows it, and the sheet it is measured for."""

    sheet: Sheet
    figures: Figures
    on_sheet: Figures
    knife_type: str
    grind: Grind
    usual: Lying
    height_mm: float

    def told(self) -> dict[str, Any]:
        """What of the knife goes into a measurement, as JSON; :meth:`as_told` takes it back."""
        return {"grind": self.grind.value, "lying": asdict(self.usual), "height_mm": self.height_mm}

    def as_told(self, then: dict[str, Any]) -> Subject:
        """The same knife as it was known at another time."""
        return replace(
            self,
            grind=Grind(then["grind"]),
            usual=Lying(**then["lying"]),
            height_mm=then["height_mm"],
        )


def subject(db: Session, sheet_id: int) -> Subject:
    """What is known of the knife; figures that came from photos are not what photos are held to."""
    sheet = records.get(db, Sheet, "sheet", sheet_id)
    piece = records.pieces(db, [sheet.piece_id])[0]
    by_photo = set(
        db.scalars(
            select(Reading.quantity)
            .outerjoin(ReadingVoid, ReadingVoid.reading_id == Reading.id)
            .where(Reading.sheet_id == sheet_id, ReadingVoid.reading_id.is_(None))
            .group_by(Reading.quantity)
            .having(func.bool_and(Reading.method == PHOTO))
        )
    )
    own = {k: f for k, f in records.sheet_figures(db, sheet_id).items() if k not in by_photo}
    figures = records.figures(db, [piece.id])[piece.id]
    kind = piece.model.knife_type
    height = figures.get("height_heel")
    return Subject(
        sheet,
        figures,
        own,
        kind,
        Grind(piece.model.grind),
        _lying(figures, kind),
        height.mean if height else _middle(kind, "height_heel"),
    )


def _middle(knife_type: str, key: str) -> float:
    low, high = KNIFE_TYPES[knife_type].typical[key]
    return (low + high) / 2


def _lying(figures: Figures, knife_type: str) -> Lying:
    """The knife flat on its side, as thick as it is measured or as its type usually is."""
    heel, tip = figures.get("spine_heel"), figures.get("spine_tip")
    at_heel = heel.mean if heel else _middle(knife_type, "spine_heel")
    return Lying(
        spine_heel_mm=at_heel,
        spine_tip_mm=min(tip.mean if tip else 0.55 * at_heel, at_heel),
        spine_relative_u=_KNOWN_SPINE_U if heel else _USUAL_SPINE_U,
    )


def measure(db: Session, desk: PhotoDesk, photo: MeasuringPhoto, how: MeasureIn) -> MeasuredOut:
    """Measure a photo as asked; what makes it unusable is part of the answer."""
    knife = subject(db, photo.sheet_id)
    try:
        found = trace(db, desk, photo, how, knife)
        if isinstance(found.view, HeelView):
            return _from_the_heel(found, found.view, knife)
        return _from_the_side(found, found.view, how, knife)
    except PhotoRefused as refused:
        return MeasuredOut.nothing(refused)


def trace(
    db: Session, desk: PhotoDesk, photo: MeasuringPhoto, how: MeasureIn, knife: Subject
) -> Traced:
    """The outline of a kept photo.

    Parameters
    ----------
    db : the session the caller commits.
    desk : where photos are measured.
    photo : the photo.
    how : what the person said of the photo.
    knife : the knife on the photo.
    """
    query = select(MeasuringPhoto.content).where(MeasuringPhoto.id == photo.id)
    lying = lying_as(knife, how)
    return desk.traced(photo.id, View(photo.view), how, lying, lambda: db.scalar(query) or b"")


def lying_as(knife: Subject, how: MeasureIn) -> Lying:
    """How the knife lies; what is told of its height above the card is known to a fifth."""
    off = how.stand_off_mm
    doubt_mm = max(knife.usual.stand_off_u_mm, 0.2 * off)
    return replace(knife.usual, stand_off_mm=off, stand_off_u_mm=doubt_mm)


def points_of(view: SideView, how: MeasureIn) -> Points:
    """The points as found, but for those a person moved."""
    given, found = how.points, view.proposed
    if given is None:
        return found
    return Points(
        _pixel(given.heel) or found.heel,
        _pixel(given.tip) or found.tip,
        _pixel(given.joint) or found.joint,
        _pixel(given.butt),
        tuple(_pixel(p) for p in given.edge or ()),
        tuple(_pixel(p) for p in given.spine or ()),
    )


def _pixel(point: Sequence[float] | None) -> Pixel | None:
    return None if point is None else (float(point[0]), float(point[1]))


def side_figures_of(
    view: SideView, how: MeasureIn, knife: Subject
) -> tuple[BladeLines, dict[str, PhotoFigure]]:
    """Both lines laid on the board and every figure; points that make no blade are refused."""
    points, lying = points_of(view, how), lying_as(knife, how)
    try:
        return view.blade(points, lying), view.figures(points, lying)
    except (ValueError, IndexError) as error:
        raise InvalidValue(
            "points",
            "these points",
            "heel and tip on the outline of the blade",
            hint="Start again from the proposed points.",
        ) from error


def _from_the_side(found: Traced, view: SideView, how: MeasureIn, knife: Subject) -> MeasuredOut:
    """Figures and lines; points that make no blade are shown where they are, to be moved."""
    points = points_of(view, how)
    edge_px, spine_px = view.bent(points)
    handles = view.handles_px(points)
    shown = MeasuredOut(
        refused=None,
        card=found.card,
        points=PointsOut(
            heel=list(points.heel),
            tip=list(points.tip),
            joint=list(points.joint) if points.joint else None,
            butt=list(points.butt) if points.butt else None,
            edge=_listed(handles[0]),
            spine=_listed(handles[1]),
        ),
        outline=_thinned(view.outline_px),
        edge=_thinned(edge_px),
        spine=_thinned(spine_px),
        values=[],
        heights=[],
        profile=None,
        end=None,
        notes=[],
    )
    try:
        lines, figures = side_figures_of(view, how, knife)
    except InvalidValue as wrong:
        return shown.model_copy(update={"notes": [f"{NO_BLADE} ({wrong})"]})
    places = sorted({*(lines.edge.length_mm * _AT_SHARES).round(1), *how.at_mm})
    return shown.model_copy(
        update={
            "values": [
                _value(key, figure, knife)
                for key, figure in figures.items()
                if key != "edge_gap" or figure.value > figure.expanded
            ],
            "heights": [
                HeightOut(at_mm=float(x), height_mm=round(lines.height_mm(float(x)), 2))
                for x in places
                if x <= lines.edge.length_mm
            ],
            "profile": profile_out(lines.edge, None, inferred=False),
            "notes": _side_notes(found, figures, knife),
        }
    )


def _side_notes(found: Traced, figures: dict[str, PhotoFigure], knife: Subject) -> list[str]:
    notes = []
    gap = figures["edge_gap"]
    if gap.value <= gap.expanded:
        notes.append(f"No gap under the edge that a photo could show (over {gap.expanded:.1f} mm).")
    if found.card is None:
        notes.append(
            "Without a card nobody knows how straight the camera was held: the intervals "
            "are wide, and the heights of a tilted photo come out short."
        )
    if "spine_heel" not in knife.figures:
        notes.append(
            "The spine is not measured yet; its usual thickness is taken for what the "
            "camera sees of its side."
        )
    return notes


def _from_the_heel(found: Traced, view: HeelView, knife: Subject) -> MeasuredOut:
    seen = end_of(view, knife)
    own = seen.declared
    shown = view.view
    return MeasuredOut(
        refused=None,
        card=found.card,
        points=None,
        edge=[],
        spine=[],
        heights=[],
        profile=None,
        outline=_thinned(view.outline_px),
        values=[_value(key, figure, knife) for key, figure in seen.figures.items()],
        end=EndOut(
            measured=_end_polygon(shown, own.apex_mm),
            fitted=[[x, z] for x, z in polygon(own.section) if z <= shown.z_mm[-1] + 1],
            verdict=seen.verdict,
            best=GRINDS[seen.best.grind].label,
            rms_um=round(1000 * own.rms_mm, 1),
            reach_mm=round(float(shown.z_mm[-1]) + own.apex_mm, 1),
            pixel_um=round(1000 * shown.pixel_mm, 1),
            angle_per_side_deg=round(own.angle_per_side_deg, 1),
            share_right=round(own.share_right, 2),
            unresolved={quantity(k).label: why for k, why in seen.unresolved.items()},
        ),
        notes=[
            "Seen at the heel; readings of the edge are asked for at mid-blade, which may be "
            "thinner or thicker."
        ],
    )


def end_of(view: HeelView, knife: Subject) -> EndFigures:
    return end_figures(view.view, knife.grind, knife.height_mm)


def _end_polygon(view: EndView, apex_mm: float) -> list[list[float]]:
    """Both faces about the middle of the thickness, apex down."""
    rows = np.linspace(0, len(view.z_mm) - 1, 120).astype(int)
    middle = (view.right_mm - view.left_mm) / 2
    lean = np.polynomial.Polynomial.fit(view.z_mm, middle, 1)(view.z_mm)
    right, left = view.right_mm - lean, -view.left_mm - lean
    z = view.z_mm + apex_mm
    up = [[round(float(right[i]), 4), round(float(z[i]), 3)] for i in rows]
    down = [[round(float(left[i]), 4), round(float(z[i]), 3)] for i in rows[::-1]]
    return [[0.0, 0.0], *up, *down]


def typed_value(key: str, figure: PhotoFigure) -> str:
    """A value as it would be typed, to about a tenth of its uncertainty."""
    decimals = 1 if figure.expanded >= FINE_U_MM else 2
    return f"{figure.value + 0.0:.{decimals}f} {quantity(key).unit}"


def _value(key: str, figure: PhotoFigure, knife: Subject) -> PhotoValueOut:
    q = quantity(key)
    typed = typed_value(key, figure)
    refused, unusual = "", ""
    try:
        odd = doubt(key, parse_reading(key, typed), knife.knife_type)
        unusual = odd.message if odd else ""
    except InvalidValue as wrong:
        refused = str(wrong)
    other = knife.on_sheet.get(key)
    here = Figure(figure.value, figure.standard_uncertainty)
    apart = None if other is None else here.mean - other.mean
    apart_u = None if other is None else difference_uncertainty(here, other)
    differ = apart is not None and apart_u is not None and abs(apart) > apart_u
    return PhotoValueOut(
        quantity=key,
        label=q.label,
        unit=q.unit,
        typed=typed,
        value=figure.value,
        expanded=figure.expanded,
        shares=figure_parts(figure),
        on_sheet=FigureOut.of(other) if other else None,
        on_sheet_from=q.instrument.label if other else "",
        difference=apart,
        difference_expanded=apart_u,
        verdict="" if other is None else "differ" if differ else "agree",
        proposed=other is None and not refused and not unusual,
        refused=refused,
        unusual=unusual,
    )


def _listed(points: Sequence[Pixel]) -> list[list[float]]:
    return [[round(x, 2), round(y, 2)] for x, y in points]


def _thinned(line: Array) -> list[list[float]]:
    step = max(len(line) // _SHOWN_POINTS, 1)
    kept = np.vstack([line[::step], line[-1:]]) if len(line) else line
    return [[round(float(x), 1), round(float(y), 1)] for x, y in kept]


def photo_of(db: Session, photo_id: int, *, content: bool = False) -> MeasuringPhoto:
    options = [undefer(MeasuringPhoto.content)] if content else []
    row = db.get(MeasuringPhoto, photo_id, options=options)
    if row is None:
        raise records.NotFound("photo", photo_id)
    return row

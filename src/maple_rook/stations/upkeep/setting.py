"""Setting one knife to a tool."""

from __future__ import annotations

import math
from collections.abc import Iterator

from sqlalchemy.orm import Session

from maple_rook.answers.figures import OutlineOut, PieceOut, blade_outline
from maple_rook.core.edge_life.retention import RodSchool
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.section import polygon
from maple_rook.core.measurement.wording import rounded_text
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import Built, built
from maple_rook.core.upkeep.cautions import FINISH, HANDLING
from maple_rook.core.upkeep.finish_work import STONING
from maple_rook.core.upkeep.reprofile_plan import found_edge
from maple_rook.core.upkeep.setup import (
    angle_of_lift_deg,
    face_lift_mm,
    least_angle_deg,
    lift_u_mm,
    stacked,
    stroke_share,
    strokes,
)
from maple_rook.core.upkeep.sharpening_tools import HELD, Tool, rules
from maple_rook.core.upkeep.workshop import Workshop
from maple_rook.http.problems import Conflict
from maple_rook.stations.upkeep.schemas import FaceOut, LiftOut, RuleOut, SetupOut, StackOut
from maple_rook.store import records
from maple_rook.store.upkeep import workshop

PLACES = (("at the heel", 0.0), ("in the middle", 0.5), ("toward the tip", 0.85))
GUIDE_REACH_MM = 150.0
"""From the edge to the pivot of a guided stone, where nothing else is known."""
_FACES = ("right", "left")
_MIND = {Tool.WHETSTONE: (STONING,), Tool.CLAMP: (STONING,), Tool.BELT: (FINISH,)}


def setup(
    db: Session, piece_id: int, tool: Tool, school: RodSchool, angle: float | None, reach: float
) -> SetupOut:
    """The set-up for a tool, at the angle found or another.

    Parameters
    ----------
    db : the session the caller commits.
    piece_id : number of the piece.
    tool : what it is sharpened with.
    school : of rods.
    angle : wanted per side, degrees.
    reach : of the stone, mm.
    """
    piece = records.pieces(db, [piece_id])[0]
    blade = records.blade_of(db, piece_id)
    shape = built(blade)
    if shape is None or "edge_angle" not in blade.known:
        why = blade.refused or "Spine, height and edge angle have to be measured for a set-up."
        raise Conflict(why)
    found_angle, share = found_edge(blade)
    wanted = found_angle if angle is None else angle
    taken = strokes(stroke_share(shape.heel) if not blade.single_bevel else _face_share(blade))
    shop = workshop(db)
    other = next(s for s in RodSchool if s is not school)
    elsewhere = {r.tool: r.leave for r in rules(blade, other)}
    return SetupOut(
        piece=PieceOut.of(piece),
        outline=OutlineOut.of(blade_outline(blade)),
        tool=tool,
        rules=[
            RuleOut(
                tool=r.tool,
                leave=r.leave,
                why=r.why,
                by_the_other_school=elsewhere[r.tool] if elsewhere[r.tool] != r.leave else None,
            )
            for r in rules(blade, school)
        ],
        held=HELD[tool],
        angle_per_side_deg=wanted,
        found_angle_deg=found_angle,
        least_angle_deg=_least(shape),
        ratio=f"{100 * share:.0f}:{100 - 100 * share:.0f}",
        school=blade.school.words if blade.school else "strokes per side: a note",
        strokes=list(taken),
        strokes_words=_stroke_words(blade, taken),
        faces=[_face(shape, face, wanted, shop) for face in _FACES],
        guide_height_mm=reach * math.tan(math.radians(wanted)),
        guide_reach_mm=reach,
        section=[list(corner) for corner in polygon(shape.heel)],
        notes=list(_notes(shape, wanted, found_angle)),
        cautions=[HANDLING, *_MIND.get(tool, ())],
    )


def _face_share(blade: Blade) -> float:
    return 0.0 if blade.left_handed else 1.0


def _angles(blade: Blade, shape: Built, wanted: float, found: float) -> dict[str, float]:
    """Right and left angle: the found difference between the faces is kept."""
    edge = shape.heel.bevels
    if blade.single_bevel:
        return {"right": wanted, "left": wanted}
    if blade.school is AsymmetrySchool.ANGLE or "angle_right" in blade.figures:
        scale = wanted / found
        return {
            "right": float(edge.angle_right_deg) * scale,
            "left": float(edge.angle_left_deg) * scale,
        }
    return {"right": wanted, "left": wanted}


def _face(shape: Built, face: str, wanted: float, shop: Workshop) -> FaceOut:
    blade = shape.blade
    found = found_edge(blade)[0]
    angle = _angles(blade, shape, wanted, found)[face]
    flat = _flat(blade, face, wanted, found)
    lifts = [] if flat else [_lift(shape, face, angle, *place, shop) for place in PLACES]
    return FaceOut(
        face=face,
        angle_deg=0.0 if flat and face != _front(blade) else angle,
        lifts=lifts,
        flat=flat,
    )


def _front(blade: Blade) -> str:
    return "left" if blade.left_handed else "right"


def _flat(blade: Blade, face: str, wanted: float, found: float) -> str:
    """What is done with a face that lies flat on the stone; empty where the spine is lifted."""
    if not blade.single_bevel:
        return ""
    if face != _front(blade):
        return (
            "Quite flat on a truly flat stone, spine and edge touching: the burr off, a few "
            "strokes. Never an angle here."
        )
    if not blade.family.added_bevel and wanted <= found and not blade.has_steeper:
        return (
            "No lift: lie it on its wide bevel, fingers over the edge, and never rolled onto "
            "the convexed face above."
        )
    return ""


def _lift(
    shape: Built, face: str, angle: float, place: str, share: float, shop: Workshop
) -> LiftOut:
    section = shape.section_at(share)
    height = float(section.height_mm)
    lift = face_lift_mm(section, angle, face)
    half = float((section.right if face == "right" else section.left).spine_mm)
    stack = stacked(lift, shop.spacers)
    return LiftOut(
        place=place,
        at_mm=share * shape.x["edge_length"].item(),
        height_mm=height,
        spine_mm=float(section.thickness_mm(height)),
        lift_mm=lift,
        expanded=2 * lift_u_mm(shape.blade, height, angle, share),
        stack=None
        if stack is None
        else StackOut(
            words=stack.words,
            height_mm=stack.height_mm,
            angle_deg=float(angle_of_lift_deg(height, 2 * half, stack.height_mm)),
        ),
    )


def _least(shape: Built) -> float:
    faces = [_front(shape.blade)] if shape.blade.single_bevel else list(_FACES)
    height = float(shape.heel.height_mm)
    return max(least_angle_deg(height, float(getattr(shape.heel, face).spine_mm)) for face in faces)


def _stroke_words(blade: Blade, taken: tuple[int, int]) -> str:
    right, left = taken
    if blade.single_bevel:
        return f"All on the {_front(blade)} face; the back only to take the burr off."
    if right == left:
        return "One for one: both faces alike."
    return f"{right} on the right face, {left} on the left, and so on: that keeps the ratio."


def _notes(shape: Built, wanted: float, found: float) -> Iterator[str]:
    blade = shape.blade
    least = _least(shape)
    if wanted <= least:
        yield (
            f"Not to be held: below {least:.1f}° the spine lies on the stone before the edge does."
        )
    if abs(wanted - found) >= 0.5:
        yield (
            f"The edge was found at {found:.1f}° per side: another angle takes more steel. See "
            "Re-profile."
        )
    drop = [float(shape.section_at(share).height_mm) for _, share in PLACES]
    if not blade.single_bevel and drop[0] - drop[-1] > 0.1 * drop[0]:
        yield (
            f"The blade is {rounded_text(drop[0] - drop[-1], 0)} mm lower toward the tip: the "
            "spine comes down with it, the angle stays."
        )
    if blade.school is None:
        yield "The ratio recorded counts strokes; both bevels are taken alike."
    if blade.family.faces_at_apex == 1 and blade.has_steeper:
        yield (
            "The wide face first, flat on its bevel; then so high for the micro-bevel, a few "
            "light strokes."
        )

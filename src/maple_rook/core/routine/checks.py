"""What cannot all be true of one knife, and what looks like a slip of the bench.

Each check says what looks wrong, why, and the likely mend. The person decides; a decision stands
until the figures it was made on change. The rules are common practice in the trade; differences
are judged against their expanded uncertainty (JCGM 100:2008).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable

from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import UNEVEN_PERCENT, bevel_thickness_mm
from maple_rook.core.geometry.section import check_section
from maple_rook.core.geometry.solid import HANDLE_SIDE_G
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import COVERAGE_FACTOR, Figure
from maple_rook.core.routine.sheet_facts import Check, Figures, SheetFacts
from maple_rook.core.routine.stops import KnifeFacts

HEEL_GAP_MM = (0.0, 25.0)
MASS_RELATIVE_U = 0.10
"""Of a blade's mass from few measurements: outline and faces between them are the type's."""
REPEATS_APART = 8.0
"""Spread of repeats, in standard uncertainties of the instrument, that is questioned."""
SOFT_AS_CLADDING_HRC = 45.0


def _u(*figures: Figure) -> float:
    """Expanded uncertainty of a sum or difference of figures."""
    return COVERAGE_FACTOR * math.hypot(*(f.standard_uncertainty for f in figures))


def length_budget(s: SheetFacts) -> Check | None:
    """Overall less handle less edge is the gap at heel and bolster, 0 to 25 mm."""
    keys = ("overall_length", "handle_length", "edge_length")
    if not all(k in s.figures for k in keys):
        return None
    overall, handle, edge = (s.figures[k] for k in keys)
    gap, allowed = overall.mean - handle.mean - edge.mean, _u(overall, handle, edge)
    if HEEL_GAP_MM[0] - allowed <= gap <= HEEL_GAP_MM[1] + allowed:
        return None
    return Check(
        "length_budget",
        keys,
        f"overall {overall.mean:.4g} - handle {handle.mean:.4g} - edge {edge.mean:.4g} leaves "
        f"{gap:.1f} mm at heel and bolster; expected 0 to 25 mm",
        "edge, handle and the gap between them make up the whole knife",
        "one of the three was misread",
    )


def edge_against_blade(s: SheetFacts) -> Check | None:
    """The edge ends at the heel, the blade at the bolster: the edge is never the longer."""
    edge, blade = s.figures.get("edge_length"), s.figures.get("blade_length")
    if edge is None or blade is None or edge.mean <= blade.mean + _u(edge, blade):
        return None
    return Check(
        "edge_against_blade",
        ("edge_length", "blade_length"),
        f"edge {edge.mean:.4g} mm is longer than the blade, {blade.mean:.4g} mm",
        "the blade runs on past the heel of the edge to bolster or handle",
        "the two may have been swapped",
    )


def nominal_for_measured(s: SheetFacts) -> Check | None:
    """The catalogue's size copied as a reading, or a size that is far from it."""
    edge = s.figures.get("edge_length")
    if edge is None or not s.nominal_mm:
        return None
    gap = edge.mean - s.nominal_mm
    if abs(gap) < 1e-9:
        return Check(
            "nominal_for_measured",
            ("edge_length",),
            f"edge length is the nominal size to the digit, {s.nominal_mm:g} mm",
            "blades miss their nominal size by a few millimetres; a size may have been copied",
            "read it again from tip to heel, or keep it",
        )
    if abs(gap) <= max(12.0, 0.06 * s.nominal_mm):
        return None
    return Check(
        "nominal_for_measured",
        ("edge_length",),
        f"edge length {edge.mean:.4g} mm is {abs(gap):.0f} mm from the nominal {s.nominal_mm:g} mm",
        "nominal sizes vary by a few millimetres either way",
        "read it again, or the piece is of another model",
    )


def spine_order(s: SheetFacts) -> Check | None:
    """The spine does not grow toward the tip."""
    found = [(k, s.figures[k]) for k in ("spine_heel", "spine_mid", "spine_tip") if k in s.figures]
    for (rear, r), (front, f) in itertools.pairwise(found):
        if f.mean > r.mean + max(0.1, _u(r, f)):
            return Check(
                "spine_order",
                (rear, front),
                f"the spine grows toward the tip, {r.mean:.3g} to {f.mean:.3g} mm",
                "blades are forged or ground thinner toward the tip",
                "two spine readings may be swapped",
            )
    return None


def section_possible(s: SheetFacts) -> Check | None:
    """Spine, height, thickness behind the edge, angles, hollow and grind line make a section."""
    keys = (
        "spine_heel",
        "height_heel",
        "thickness_behind_edge",
        "edge_angle",
        "micro_bevel",
        "hollow_depth",
        "grind_line",
    )
    known = {key: s.figures[key].mean for key in keys if key in s.figures}
    try:
        check_section(known, s.knife.grind)
    except InvalidValue as found:
        both = found.hint.partition(";")[0]
        return Check(
            "section_possible",
            tuple(known),
            f"{both}: {found.value}, accepted {found.accepted}",
            "no blade has both; one of them was misread",
            "repeat both",
        )
    return None


def faces_against_grind(s: SheetFacts) -> Check | None:
    """Straight faces fix the thickness 5 and 10 mm up; a curve shows there."""
    made = s.as_ground
    keys = ("thickness_behind_edge", "edge_angle")
    straight = s.knife.family.shape.bulge is None and not s.knife.single_bevel
    if made is None or not straight or not all(key in s.figures for key in keys):
        return None
    for up, key in ((10.0, "thickness_10mm"), (5.0, "thickness_5mm")):
        found = s.figures.get(key)
        if found is None:
            continue
        expected = float(made.heel.thickness_mm(up).item())
        slack = 0.15 * expected + _u(found, s.figures["thickness_behind_edge"])
        if abs(found.mean - expected) <= slack:
            continue
        curve = "bulge outward" if found.mean > expected else "are hollow"
        return Check(
            "faces_against_grind",
            (key, "thickness_behind_edge", "spine_heel"),
            f"{QUANTITIES[key].label} {found.mean:.2f} mm where a "
            f"{s.knife.family.label} grind has {expected:.2f} mm",
            "straight faces from the shoulder up fix the thickness at every height",
            f"repeat it; if it is confirmed, the faces {curve}, and the grind is of another "
            "family; the section is drawn as it was measured",
        )
    return None


def thicknesses_of_one_face(s: SheetFacts) -> Check | None:
    """The section follows the thicknesses measured up the face as far as one curve can."""
    if s.made is None or not all(k in s.figures for k in ("spine_heel", "height_heel")):
        return None
    for key, up in THICKNESS_AT_MM.items():
        found = s.figures.get(key)
        if found is None or up < s.made.heel.bevels.shoulder_height_right_mm.item():
            continue
        made = float(s.made.heel.thickness_mm(up).item())
        if abs(found.mean - made) <= 0.15 * made + _u(found, s.figures["spine_heel"]):
            continue
        return Check(
            "thicknesses_of_one_face",
            (key, *(other for other in THICKNESS_AT_MM if other != key and other in s.figures)),
            f"{QUANTITIES[key].label} {found.mean:.2f} mm where one face through all that is "
            f"measured has {made:.2f} mm",
            "the faces run from the edge to the spine in one sweep",
            "measure the thicknesses again at one place along the blade",
        )
    return None


def third_from_two(s: SheetFacts) -> Check | None:
    """Thickness behind the edge against bevel widths and angles: any two give the third."""
    keys = ("thickness_behind_edge", "bevel_width_right", "bevel_width_left")
    if not all(k in s.figures for k in keys):
        return None
    thickness, right, left = (s.figures[k] for k in keys)
    angle_r = s.figures.get("angle_right") or s.figures.get("edge_angle")
    angle_l = s.figures.get("angle_left") or s.figures.get("edge_angle")
    if angle_r is None or angle_l is None:
        return None
    made = bevel_thickness_mm(right, left, angle_r, angle_l)
    if abs(made.mean - thickness.mean) <= _u(thickness, made):
        return None
    ratio = thickness.mean / (right.mean + left.mean)
    needed = f"{math.degrees(math.asin(ratio)):.1f}° per side" if ratio < 1 else "no angle at all"
    return Check(
        "third_from_two",
        (*keys, "edge_angle"),
        f"bevels {right.mean:.2g} and {left.mean:.2g} mm wide at {angle_r.mean:.3g}° make "
        f"{made.mean:.2f} mm behind the edge, not {thickness.mean:.2f} mm",
        "the bevels and their angle fix the thickness at the shoulder",
        f"repeat the thickness or the angle; these widths and thickness want {needed}",
    )


def thickness_order(s: SheetFacts) -> Check | None:
    """Thickness grows from the shoulder up to the spine."""
    order = (
        "thickness_behind_edge",
        "thickness_1mm",
        "thickness_5mm",
        "thickness_10mm",
        "spine_heel",
    )
    found = [(k, s.figures[k]) for k in order if k in s.figures]
    for (low, a), (high, b) in itertools.pairwise(found):
        elsewhere = low == "thickness_behind_edge" and high in ("thickness_1mm", "spine_heel")
        if not elsewhere and a.mean > b.mean + _u(a, b):
            return Check(
                "thickness_order",
                (low, high),
                f"{QUANTITIES[low].label} {a.mean:.2f} mm is more than "
                f"{QUANTITIES[high].label} {b.mean:.2f} mm",
                "a blade thickens from the edge to the spine",
                "two readings may be swapped, or the place was another",
            )
    return None


def weight_against_geometry(s: SheetFacts) -> Check | None:
    """Whole weight less the blade's mass is the handle side, 25 to 160 g."""
    weight = s.figures.get("weight")
    made = s.made
    if made is None or weight is None or "edge_length" not in s.figures:
        return None
    mass = made.mass_g
    handle, slack = weight.mean - mass, COVERAGE_FACTOR * MASS_RELATIVE_U * mass
    if HANDLE_SIDE_G[0] - slack <= handle <= HANDLE_SIDE_G[1] + slack:
        return None
    return Check(
        "weight_against_geometry",
        ("weight", "spine_heel", "height_heel", "edge_length"),
        f"weight {weight.mean:.4g} g leaves {handle:.0f} g for the handle beside a blade of about "
        f"{mass:.0f} g; expected {HANDLE_SIDE_G[0]:g} to {HANDLE_SIDE_G[1]:g} g",
        "length, height and spine give the blade's volume, and steel its mass",
        "weight or geometry is wrong: weigh again, then look at spine and height",
    )


def angle_against_claim(s: SheetFacts) -> Check | None:
    """The measured angle against the maker's, and twice or half of it."""
    angle, claim = s.figures.get("edge_angle"), s.claims.get("edge_angle")
    if angle is None or claim is None:
        return None
    low, high = claim
    slack = angle.expanded + 1.0
    if low - slack <= angle.mean <= high + slack:
        return None
    said = f"{(low + high) / 2:.3g}° per side"
    if low - slack <= angle.mean / 2 <= high + slack:
        return Check(
            "angle_against_claim",
            ("edge_angle",),
            f"edge angle {angle.mean:.3g}° per side is twice the maker's {said}",
            "per side and inclusive are easily mixed",
            f"was {angle.mean:.3g}° inclusive meant",
            "edge_angle",
            f"{angle.mean:.3g} incl",
        )
    return Check(
        "angle_against_claim",
        ("edge_angle",),
        f"edge angle {angle.mean:.3g}° per side against the maker's {said}",
        "outside the claim and its uncertainty",
        "measure at three places; if it is confirmed, the claim is contradicted",
    )


def height_against_type(s: SheetFacts) -> Check | None:
    """Height at the heel against what is typical of the type."""
    height = s.figures.get("height_heel")
    kind = KNIFE_TYPES[s.knife.knife_type]
    low, high = kind.typical["height_heel"]
    if height is None or low <= height.mean <= high:
        return None
    return Check(
        "height_against_type",
        ("height_heel",),
        f"height {height.mean:.4g} mm at the heel; a {kind.label} has {low:g} to {high:g} mm",
        "height is the surest sign of the type",
        "read it square to the edge, or the type was chosen wrong",
    )


def handedness(s: SheetFacts) -> Check | None:
    """Signs of the hand the blade is made for that do not agree."""
    share = s.figures.get("asymmetry")
    right, left = s.figures.get("bevel_width_right"), s.figures.get("bevel_width_left")
    shape = s.knife.choice("handle_shape")
    if share is not None and right is not None and left is not None:
        measured = 100 * right.mean / (right.mean + left.mean)
        if abs(measured - share.mean) > UNEVEN_PERCENT + share.expanded:
            return Check(
                "handedness",
                ("asymmetry", "bevel_width_right", "bevel_width_left"),
                f"asymmetry noted {share.mean:.0f}:{100 - share.mean:.0f}, bevel widths make it "
                f"{measured:.0f}:{100 - measured:.0f}",
                "the wider bevel shows the hand; right-hand face as held comes first",
                "turn the knife tip away, edge down, and compare the faces again",
                "asymmetry",
                f"{measured:.0f}/{100 - round(measured)}",
            )
    claim = s.claims.get("asymmetry")
    for for_hand, contrary in (("d_right", -1), ("d_left", 1)):
        if (
            shape == for_hand
            and share is not None
            and (share.mean - 50) * contrary > UNEVEN_PERCENT
        ):
            hand = "right" if for_hand == "d_right" else "left"
            return Check(
                "handedness",
                ("asymmetry",),
                f"handle for the {hand} hand, edge ground {share.mean:.0f}:{100 - share.mean:.0f}",
                "handle and grind are made for the same hand",
                "the faces may have been swapped: right-hand face as held comes first",
                "asymmetry",
                f"{100 - share.mean:.0f}/{share.mean:.0f}",
            )
    if claim is not None and share is not None and _declared_otherwise(claim, share):
        said = (claim[0] + claim[1]) / 2
        return Check(
            "handedness",
            ("asymmetry",),
            f"declared {said:.0f}:{100 - said:.0f}, found {share.mean:.0f}:{100 - share.mean:.0f}",
            "an uneven bevel steers and makes the blade handed",
            "measure both bevel widths; if it is confirmed, tell the counter",
        )
    return None


def _declared_otherwise(claim: tuple[float, float], share: Figure) -> bool:
    slack = UNEVEN_PERCENT + share.expanded
    return share.mean < claim[0] - slack or share.mean > claim[1] + slack


def cladding_for_core(s: SheetFacts) -> Check | None:
    """A soft reading on a clad blade is likely the cladding's."""
    hardness = s.figures.get("hardness")
    if hardness is None or not s.knife.clad or s.knife.family.convex:
        return None
    if hardness.mean + hardness.expanded >= SOFT_AS_CLADDING_HRC:
        return None
    return Check(
        "cladding_for_core",
        ("hardness", "core_exposure"),
        f"hardness {hardness.mean:.3g} HRC on a clad blade",
        "the flat of a clad blade is its soft cladding; only the exposed core tells the edge's",
        "void it, read it as hardness of the cladding, and test the core",
    )


def repeats_disagree(s: SheetFacts) -> Check | None:
    """Repeats further apart than the instrument explains: one of them was of something else."""
    for key, found in s.figures.items():
        q = QUANTITIES.get(key)
        if q is None or found.n < 2 or found.spread <= REPEATS_APART * found.type_b:
            continue
        return Check(
            "repeats_disagree",
            (key,),
            f"the {found.n} readings of {q.label} are {found.spread:.3g} "
            f"{'°' if q.unit == 'dps' else q.unit} apart",
            "one instrument at one place repeats more closely than that",
            "void the one that was misread, or read again at one place",
        )
    return None


RULES: tuple[Callable[[SheetFacts], Check | None], ...] = (
    section_possible,
    repeats_disagree,
    length_budget,
    edge_against_blade,
    nominal_for_measured,
    spine_order,
    third_from_two,
    thickness_order,
    faces_against_grind,
    thicknesses_of_one_face,
    weight_against_geometry,
    angle_against_claim,
    height_against_type,
    handedness,
    cladding_for_core,
)
IMPOSSIBLE = (section_possible, length_budget, edge_against_blade, spine_order, thickness_order)


def checks(sheet: SheetFacts) -> list[Check]:
    """Everything that looks wrong on a sheet, in the order of work."""
    return [found for rule in RULES if (found := rule(sheet)) is not None]


def contradictions(figures: Figures, grind: Grind = Grind.FULL_FLAT) -> list[str]:
    """Figures that cannot all be true of any knife of this grind, in words."""
    sheet = SheetFacts(figures, KnifeFacts("gyuto", grind))
    return [found.text for rule in IMPOSSIBLE if (found := rule(sheet)) is not None]

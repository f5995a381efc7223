"""Grind families, each with everything that distinguishes it.

A family is a member of :class:`Grind` and its line in :data:`GRINDS`; nothing else names one but
the demo. Families and their usual shapes are common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from maple_rook.core.measurement.uncertainty import Figure


class Grind(StrEnum):
    NOT_SEEN = "not_seen"
    """Not yet observed; taken as a plain wedge that may bulge or hollow either way."""
    FULL_FLAT = "full_flat"
    SABRE = "sabre"
    HIGH_FLAT = "high_flat"
    HOLLOW = "hollow"
    DEEP_CONCAVE = "deep_concave"
    CONVEX = "convex"
    SINGLE_BEVEL = "single_bevel"
    SINGLE_BEVEL_ADDED = "single_bevel_added"
    ASYMMETRIC_DOUBLE = "asymmetric_double"
    TWO_ANGLE = "two_angle"


EVEN_ASYMMETRY = Figure(50.0, 5.0)


@dataclass(frozen=True)
class GrindShape:
    """How a family departs from the plain wedge, where it is not measured.

    ``bulge`` is the sagitta of the lower face over the mean half-thickness of its chord, + outward;
    ``upper_bulge`` the same of the upper face, as a multiple of it. ``grind_line`` is its height
    over the blade's; None where the lower face runs to the spine. ``flats`` says that the faces
    are parallel above it. Common practice, wide.
    """

    bulge: Figure | None = None
    grind_line: Figure | None = None
    upper_bulge: float = 0.0
    flats: bool = False


@dataclass(frozen=True)
class GrindFamily:
    """Label, usual shape and traits of a family.

    ``single_bevel`` blades have one ground face and a flat back with a hollow; ``added_bevel``
    says that this face ends in an edge bevel of its own. ``asymmetry`` is the usual one, % on the
    right-hand face. ``like`` is the family it cannot be told from by its faces alone, such as on
    an end-on photo. ``spellings`` are what tables of others call it.
    """

    label: str
    shape: GrindShape = GrindShape()
    single_bevel: bool = False
    added_bevel: bool = False
    asymmetry: Figure = EVEN_ASYMMETRY
    like: Grind | None = None
    spellings: tuple[str, ...] = ()

    @property
    def behind_edge_asked(self) -> bool:
        """Whether there is a shoulder above the edge whose thickness can be taken."""
        return self.added_bevel or not self.single_bevel

    @property
    def convex(self) -> bool:
        """Whether the faces bulge from the edge all the way up."""
        bulge = self.shape.bulge
        return bulge is not None and bulge.mean > 0 and self.shape.grind_line is None

    @property
    def faces_at_apex(self) -> int:
        """Faces whose angles make the inclusive angle: one where it lies against a flat back."""
        return 2 if self.behind_edge_asked else 1


GRINDS: dict[Grind, GrindFamily] = {
    Grind.NOT_SEEN: GrindFamily(
        "not yet seen",
        GrindShape(Figure(0.0, 0.30)),
        like=Grind.FULL_FLAT,
        spellings=("unknown", "not known", "not seen"),
    ),
    Grind.FULL_FLAT: GrindFamily(
        "full flat", spellings=("flat", "full flat grind", "v grind", "double bevel")
    ),
    Grind.SABRE: GrindFamily(
        "sabre", GrindShape(grind_line=Figure(0.50, 0.12), flats=True), spellings=("saber",)
    ),
    Grind.HIGH_FLAT: GrindFamily(
        "high flat", GrindShape(grind_line=Figure(0.85, 0.06), flats=True)
    ),
    Grind.HOLLOW: GrindFamily(
        "hollow",
        GrindShape(Figure(-0.35, 0.12), Figure(0.88, 0.06), flats=True),
        spellings=("hollow ground",),
    ),
    Grind.DEEP_CONCAVE: GrindFamily("deep concave", GrindShape(Figure(-0.50, 0.10))),
    Grind.CONVEX: GrindFamily(
        "convex", GrindShape(Figure(0.35, 0.15)), spellings=("convex grind",)
    ),
    Grind.SINGLE_BEVEL: GrindFamily(
        "single bevel",
        single_bevel=True,
        asymmetry=Figure(100.0, 0.0),
        spellings=("chisel", "chisel grind"),
    ),
    Grind.SINGLE_BEVEL_ADDED: GrindFamily(
        "single bevel, added bevel",
        single_bevel=True,
        added_bevel=True,
        asymmetry=Figure(85.0, 5.0),
        like=Grind.SINGLE_BEVEL,
    ),
    Grind.ASYMMETRIC_DOUBLE: GrindFamily(
        "asymmetric double bevel", like=Grind.FULL_FLAT, spellings=("asymmetric",)
    ),
    Grind.TWO_ANGLE: GrindFamily(
        "two-angle", GrindShape(Figure(0.20, 0.10), Figure(0.50, 0.10), upper_bulge=-1.0)
    ),
}

"""The kinds of instruments a shop measures with: the registry that everything else reads."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class InstrumentKind(StrEnum):
    """Codes that are stored with an instrument and sent by it."""

    CALIPER = "caliper"
    SCALE = "scale"
    RULE = "rule"
    LOUPE = "loupe"
    FEELER_GAUGE = "feeler gauge"
    HARDNESS_TESTER = "hardness tester"
    ANGLE_GAUGE = "angle gauge"
    EDGE_TESTER = "edge tester"
    CARD_TESTER = "card tester"
    CAMERA = "camera"
    EYE = "eye"
    REFERENCE_BLOCK = "reference block"


@dataclass(frozen=True)
class KindFacts:
    """What a kind is called, what else it can be used for, and in which unit it reads.

    ``usual_name`` names the instrument a new shop begins with; a shop begins without those that
    have none. ``stands_for`` are other kinds it can take the place of. A camera reads nothing at
    the bench: what it sees is measured from its photos.
    """

    label: str
    unit: str
    usual_name: str = ""
    stands_for: tuple[InstrumentKind, ...] = ()
    reads: bool = True
    is_reference: bool = False


_K = InstrumentKind
INSTRUMENT_KINDS: dict[str, KindFacts] = {
    _K.CALIPER: KindFacts(
        "caliper", "mm", "digital caliper", stands_for=(_K.RULE, _K.LOUPE, _K.FEELER_GAUGE)
    ),
    _K.SCALE: KindFacts("scale", "g", "bench scale"),
    _K.RULE: KindFacts("rule", "mm", "steel rule"),
    _K.LOUPE: KindFacts("loupe", "mm", "graduated loupe"),
    _K.FEELER_GAUGE: KindFacts("feeler gauge", "mm", "feeler gauge"),
    _K.HARDNESS_TESTER: KindFacts("hardness tester", "HRC", "bench hardness tester"),
    _K.ANGLE_GAUGE: KindFacts("angle gauge", "dps", "angle gauge"),
    _K.EDGE_TESTER: KindFacts("edge tester", "N", "edge tester"),
    _K.CARD_TESTER: KindFacts("card tester", "mm", "card tester"),
    _K.CAMERA: KindFacts("camera", "mm", reads=False),
    _K.EYE: KindFacts("by eye", "%", "by eye"),
    _K.REFERENCE_BLOCK: KindFacts("reference block", "HRC", reads=False, is_reference=True),
}


def measured_by(kind: str) -> tuple[str, ...]:
    """The kinds whose readings an instrument of this kind can take, its own first; () if unknown.

    >>> [str(kind) for kind in measured_by("caliper")]
    ['caliper', 'rule', 'loupe', 'feeler gauge']
    >>> measured_by("reference block")
    ()
    """
    facts = INSTRUMENT_KINDS.get(kind)
    return (kind, *facts.stands_for) if facts and facts.reads else ()

"""The kinds of instruments a shop measures with: the registry that everything else reads."""

from __future__ import annotations

from dataclasses import dataclass

from maple_rook.core.labelled import Labelled


class InstrumentKind(Labelled):
    """Codes that are stored with an instrument and sent by it."""

    CALIPER = "caliper"
    SCALE = "scale"
    RULE = "rule"
    LOUPE = "loupe"
    FEELER_GAUGE = "feeler_gauge"
    HARDNESS_TESTER = "hardness_tester"
    ANGLE_GAUGE = "angle_gauge"
    EDGE_TESTER = "edge_tester"
    CARD_TESTER = "card_tester"
    CAMERA = "camera"
    EYE = "eye", "by eye"
    REFERENCE_BLOCK = "reference_block"


@dataclass(frozen=True)
class KindFacts:
    """What a kind can be used for beside its own, and in which unit it reads.

    ``usual_name`` names the instrument a new shop begins with; a shop begins without those that
    have none. ``stands_for`` are other kinds it can take the place of. A camera reads nothing at
    the bench: what it sees is measured from its photos.
    """

    unit: str
    usual_name: str = ""
    stands_for: tuple[InstrumentKind, ...] = ()
    reads: bool = True
    is_reference: bool = False


_K = InstrumentKind
INSTRUMENT_KINDS: dict[str, KindFacts] = {
    _K.CALIPER: KindFacts("mm", "digital caliper", stands_for=(_K.RULE, _K.LOUPE, _K.FEELER_GAUGE)),
    _K.SCALE: KindFacts("g", "bench scale"),
    _K.RULE: KindFacts("mm", "steel rule"),
    _K.LOUPE: KindFacts("mm", "graduated loupe"),
    _K.FEELER_GAUGE: KindFacts("mm", "feeler gauge"),
    _K.HARDNESS_TESTER: KindFacts("HRC", "bench hardness tester"),
    _K.ANGLE_GAUGE: KindFacts("dps", "angle gauge"),
    _K.EDGE_TESTER: KindFacts("N", "edge tester"),
    _K.CARD_TESTER: KindFacts("mm", "card tester"),
    _K.CAMERA: KindFacts("mm", reads=False),
    _K.EYE: KindFacts("%", "by eye"),
    _K.REFERENCE_BLOCK: KindFacts("HRC", reads=False, is_reference=True),
}


def measured_by(kind: str) -> tuple[str, ...]:
    """The kinds whose readings an instrument of this kind can take, its own first; () if unknown.

    >>> [str(kind) for kind in measured_by("caliper")]
    ['caliper', 'rule', 'loupe', 'feeler_gauge']
    >>> measured_by("reference_block")
    ()
    """
    facts = INSTRUMENT_KINDS.get(kind)
    return (kind, *facts.stands_for) if facts and facts.reads else ()

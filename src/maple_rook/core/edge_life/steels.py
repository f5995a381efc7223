"""Knife steels by standard designation.

Compositions are mid-range values of the named standard, in mass per cent, from memory. Carbide
volumes are estimates by mass balance, from memory of typical microstructures, with a wide
interval; none is a measured value of a particular heat.

References
----------
.. [1] EN 10088-3, Stainless steels - Technical delivery conditions.
.. [2] ISO 4957, Tool steels.
.. [3] ISO 683-17, Ball and roller bearing steels.
.. [4] JIS G 4401, G 4403, G 4404, Carbon, high-speed and alloy tool steels.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, field

from maple_rook.core.edge_life.retention import CARBIDE_COEFFICIENTS
from maple_rook.core.edge_life.steel_grades import GRADES
from maple_rook.core.errors import InvalidValue
from maple_rook.core.labelled import Labelled

CARBIDE_RELATIVE_U = 0.25
"""Relative standard uncertainty of an estimated carbide volume (assumption)."""
SHARPENS = {"very easy": 1.0, "easy": 0.95, "medium": 0.8, "hard": 0.55, "very hard": 0.4}
"""How readily a steel takes an edge on the stones, 0 to 1 (practice rule)."""


class Reactivity(Labelled):
    STAINLESS = "stainless"
    SEMI_STAINLESS = "semi_stainless", "semi-stainless"
    REACTIVE = "reactive"


class GradeClass(Labelled):
    """Grades that wear alike, as a shop's trials are gathered: by carbides and chromium."""

    LOW_ALLOY = "low_alloy", "carbon and low-alloy"
    SOFT_STAINLESS = "soft_stainless", "stainless, few carbides"
    CHROMIUM_STAINLESS = "chromium_stainless", "stainless, chromium carbides"
    CHROMIUM_TOOL = "chromium_tool", "high-chromium tool steel"
    HARD_CARBIDE = "hard_carbide", "high-speed and vanadium"
    UNKNOWN = "unknown", "grade not known"


@dataclass(frozen=True)
class Steel:
    designation: str
    name: str
    standard: str
    composition: dict[str, float]
    carbides: dict[str, float]
    usual_hrc: tuple[float, float]
    toughness: str
    sharpening: str
    ranges: Mapping[str, tuple[float, float]] = field(default_factory=dict)
    aliases: tuple[str, ...] = ()
    carbide_relative_u: float = CARBIDE_RELATIVE_U
    own: bool = False

    @property
    def pren(self) -> float:
        """Pitting resistance equivalent, Cr + 3.3 Mo + 16 N, mass %.

        >>> round(STEELS["1.4116"].pren, 1)
        16.6
        """
        part = self.composition.get
        return part("Cr", 0.0) + 3.3 * part("Mo", 0.0) + 16 * part("N", 0.0)

    @property
    def reactivity(self) -> Reactivity:
        """By the chromium its carbides leave free, Cr - 0.45 CrC (practice rule).

        Stainless from 10.5 % free, semi-stainless from 4.5 %, reactive below.
        """
        bound = 0.45 * self.carbides.get("CrC", 0.0)
        free = self.composition.get("Cr", 0.0) - bound
        if free >= 10.5:
            return Reactivity.STAINLESS
        return Reactivity.SEMI_STAINLESS if free >= 4.5 else Reactivity.REACTIVE

    @property
    def grade_class(self) -> GradeClass:
        """The class its trials are gathered in (practice rule).

        4 volume % of MC and M6C together make it hard-carbide; else 6 volume % of chromium
        carbide part the stainless and the tool steels in two.

        >>> STEELS["1.4116"].grade_class.label, STEELS["HS6-5-2"].grade_class.label
        ('stainless, few carbides', 'high-speed and vanadium')
        """
        part = self.carbides.get
        if part("MC", 0.0) + part("M6C", 0.0) >= 4:
            return GradeClass.HARD_CARBIDE
        rich = part("CrC", 0.0) + part("CrVC", 0.0) >= 6
        if self.reactivity is Reactivity.STAINLESS:
            return GradeClass.CHROMIUM_STAINLESS if rich else GradeClass.SOFT_STAINLESS
        return GradeClass.CHROMIUM_TOOL if rich else GradeClass.LOW_ALLOY


STEELS: dict[str, Steel] = {
    designation: Steel(
        designation,
        name,
        standard,
        {element: (low + high) / 2 for element, (low, high) in ranges.items()},
        carbides,
        usual_hrc,
        toughness,
        sharpening,
        ranges,
    )
    for designation, name, standard, ranges, carbides, usual_hrc, toughness, sharpening in GRADES
}
ELEMENTS = ("C", "Si", "Mn", "Cr", "Mo", "V", "W", "Co", "N", "Nb", "Ni")
ESTIMATE_RELATIVE_U = 0.35
"""Relative standard uncertainty of carbides estimated from a composition alone (assumption)."""


def estimated_carbides(composition: Mapping[str, float]) -> dict[str, float]:
    """Carbide volumes a composition leaves undissolved, volume per cent: a rough mass balance.

    V beyond 0.4 % binds as MC (1.5 volume % a per cent), W + 2 Mo beyond 6 % as M6C (0.46, where
    chromium is under 6 %); the carbon neither they nor the matrix hold binds chromium as CrC: 16
    volume % a per cent of carbon beyond 0.22 % from 12.5 % chromium up, 13 beyond 0.45 % from 4.5 %
    up. Coefficients from memory of typical microstructures; mass per cent.

    >>> estimated_carbides({"C": 0.5, "Cr": 14.5, "Mo": 0.65, "V": 0.15})
    {'CrC': 4.5}
    """
    part = composition.get
    carbon, chromium = part("C", 0.0), part("Cr", 0.0)
    mc = 1.5 * max(part("V", 0.0) + part("Nb", 0.0) - 0.4, 0.0)
    heavy = part("W", 0.0) + 2 * part("Mo", 0.0)
    m6c = 0.46 * heavy if heavy > 6 and chromium < 6 else 0.0
    held, volume_a_per_cent = (0.22, 16) if chromium >= 12.5 else (0.45, 13)
    left = carbon - 0.13 * mc - 0.025 * m6c - held
    crc = volume_a_per_cent * max(left, 0.0) if chromium >= 4.5 and not m6c else 0.0
    found = {"CrC": crc, "MC": mc, "M6C": m6c}
    return {name: round(volume, 1) for name, volume in found.items() if volume >= 0.05}


_CONDITION = re.compile(r"^([A-Za-z]+(?:\d[A-Za-z]*)?)\s*(<=|>=|<|>|=)\s*([\d.,]+)$")


def matches(grade: Steel, query: str) -> bool:
    """Whether a grade answers every word of a search.

    Words are looked for in designation, name, aliases and standard, or are a class: ``stainless``,
    ``toughness:high``, ``sharpening:very-easy``. Conditions such
    as ``Cr>13``, ``C<=0.6``, ``HRC>=60``, ``PREN>20`` or ``CrC>8`` compare composition (the middle
    of its range), usual hardness, pitting resistance and carbides.

    >>> [s for s in STEELS if matches(STEELS[s], "stainless C>0.9 Mo>1")]
    ['1.4528']
    """
    names = " ".join((grade.designation, grade.name, grade.standard, *grade.aliases)).lower()
    ease = grade.sharpening.replace(" ", "-")
    classes = {grade.reactivity.label, f"toughness:{grade.toughness}", f"sharpening:{ease}"}
    return all(
        _holds(grade, *found.groups())
        if (found := _CONDITION.match(word))
        else word.lower() in names or word.lower() in classes
        for word in query.split()
    )


def _holds(grade: Steel, name: str, comparison: str, number: str) -> bool:
    value = _property(grade, name)
    try:
        bound = float(number.replace(",", "."))
    except ValueError:
        raise InvalidValue("search", f"{name}{comparison}{number}", "a number") from None
    if value is None:
        known = ", ".join((*ELEMENTS, "HRC", "PREN", *CARBIDE_COEFFICIENTS))
        raise InvalidValue("search", name, known)
    return {
        "<": value < bound,
        ">": value > bound,
        "=": math.isclose(value, bound),
        "<=": value <= bound,
        ">=": value >= bound,
    }[comparison]


def _property(grade: Steel, name: str) -> float | None:
    key = name.lower()
    if key == "hrc":
        return sum(grade.usual_hrc) / 2
    if key == "pren":
        return grade.pren
    for known, values in ((ELEMENTS, grade.composition), (CARBIDE_COEFFICIENTS, grade.carbides)):
        for symbol in known:
            if symbol.lower() == key:
                return values.get(symbol, 0.0)
    return None


def steel(designation: str) -> Steel:
    """The grade of this designation, or :class:`InvalidValue` naming the known ones."""
    try:
        return STEELS[designation]
    except KeyError:
        raise InvalidValue("steel", designation, ", ".join(STEELS)) from None

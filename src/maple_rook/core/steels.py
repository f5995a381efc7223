"""Knife steels by standard designation.

Compositions are mid-range values of the named standard, in mass per cent, from memory. Carbide
volumes are estimates by mass balance, from memory of typical microstructures, with a wide
interval; none is a measured value of a particular heat.

References
----------
.. [1] EN 10088-3, Stainless steels - Technical delivery conditions.
.. [2] ISO 4957, Tool steels.
.. [3] ISO 683-17, Ball and roller bearing steels.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from maple_rook.core.errors import InvalidValue
from maple_rook.core.retention import carbide_term

CARBIDE_RELATIVE_U = 0.25
"""Relative standard uncertainty of an estimated carbide volume (assumption)."""


class Reactivity(StrEnum):
    STAINLESS = "stainless"
    SEMI_STAINLESS = "semi-stainless"
    REACTIVE = "reactive"


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
        """Stainless from 12 % chromium, reactive below 5 % (practice rule)."""
        chromium = self.composition.get("Cr", 0.0)
        if chromium >= 12:
            return Reactivity.STAINLESS
        return Reactivity.SEMI_STAINLESS if chromium >= 5 else Reactivity.REACTIVE

    @property
    def carbide_term_mm(self) -> float:
        """Contribution of the carbides to the card-test predictor, mm."""
        return carbide_term(self.carbides)


_EN, _ISO_TOOL, _ISO_BEARING = "EN 10088-3", "ISO 4957", "ISO 683-17"

STEELS: dict[str, Steel] = {
    s.designation: s
    for s in (
        Steel("1.4021", "X20Cr13", _EN, {"C": 0.20, "Cr": 13.0}, {"CrC": 0.5},
              (46, 52), "high", "easy"),
        Steel("1.4031", "X39Cr13", _EN, {"C": 0.39, "Cr": 13.5}, {"CrC": 2.0},
              (51, 55), "high", "easy"),
        Steel("1.4034", "X46Cr13", _EN, {"C": 0.46, "Cr": 13.5}, {"CrC": 3.5},
              (53, 57), "high", "easy"),
        Steel("1.4116", "X50CrMoV15", _EN, {"C": 0.50, "Cr": 14.5, "Mo": 0.65, "V": 0.15},
              {"CrC": 5.0}, (54, 58), "high", "easy"),
        Steel("1.4112", "X90CrMoV18", _EN, {"C": 0.90, "Cr": 18.0, "Mo": 1.1, "V": 0.1},
              {"CrC": 12.0}, (57, 60), "medium", "medium"),
        Steel("1.4125", "X105CrMo17", _EN, {"C": 1.05, "Cr": 17.0, "Mo": 0.6},
              {"CrC": 13.0}, (58, 61), "low", "medium"),
        Steel("C105U", "C105U", _ISO_TOOL, {"C": 1.05, "Mn": 0.25, "Si": 0.2}, {},
              (60, 65), "medium", "very easy"),
        Steel("90MnCrV8", "90MnCrV8", _ISO_TOOL, {"C": 0.90, "Mn": 2.0, "Cr": 0.35, "V": 0.12},
              {"MC": 0.2}, (58, 62), "medium", "easy"),
        Steel("142WV13", "142WV13", _ISO_TOOL, {"C": 1.42, "W": 3.2, "V": 0.3},
              {"MC": 1.0, "M6C": 2.0}, (62, 66), "low", "medium"),
        Steel("100Cr6", "100Cr6", _ISO_BEARING, {"C": 1.0, "Cr": 1.5, "Mn": 0.35}, {},
              (59, 63), "medium", "easy"),
        Steel("X153CrMoV12", "X153CrMoV12", _ISO_TOOL,
              {"C": 1.53, "Cr": 12.0, "Mo": 0.85, "V": 0.85}, {"CrC": 13.0, "MC": 0.5},
              (59, 62), "low", "hard"),
        Steel("HS6-5-2", "HS6-5-2", _ISO_TOOL,
              {"C": 0.88, "W": 6.3, "Mo": 5.0, "Cr": 4.1, "V": 1.9}, {"M6C": 7.5, "MC": 2.0},
              (63, 66), "medium", "hard"),
        Steel("HS6-5-3", "HS6-5-3", _ISO_TOOL,
              {"C": 1.20, "W": 6.3, "Mo": 5.0, "Cr": 4.1, "V": 3.0}, {"M6C": 7.5, "MC": 5.0},
              (64, 67), "low", "hard"),
    )
}  # fmt: skip


def steel(designation: str) -> Steel:
    """The grade of this designation, or :class:`InvalidValue` naming the known ones."""
    try:
        return STEELS[designation]
    except KeyError:
        raise InvalidValue("steel", designation, ", ".join(STEELS)) from None

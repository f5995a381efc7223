"""Why a photo cannot be measured, and what to change."""

from __future__ import annotations

from maple_rook.core.errors import MapleRookError
from maple_rook.core.labelled import Labelled


class Trouble(Labelled):
    """What is wrong with a photo."""

    NO_CARD = "no_card"
    CARD_CUT_OFF = "card_cut_off"
    WRONG_CARD = "wrong_card"
    TOO_OBLIQUE = "too_oblique"
    BLURRED = "blurred"
    GLARE = "glare"
    TOO_DARK = "too_dark"
    TOO_FAR = "too_far", "too far away"
    NO_BLADE = "no_blade"
    BLADE_CUT_OFF = "blade_cut_off"
    NOT_PLAIN = "not_plain", "background not plain"


_WORDS: dict[Trouble, tuple[str, str]] = {
    Trouble.NO_CARD: (
        "No scale card is in the photo, or none that can be read.",
        "Lay the printed card under the blade with all its markers in the picture, or go by two "
        "points a known distance apart.",
    ),
    Trouble.CARD_CUT_OFF: (
        "The card is cut off by the edge of the picture, or covered.",
        "Step back until the whole card is in the picture, and keep hands and handle off its "
        "markers.",
    ),
    Trouble.WRONG_CARD: (
        "This card is for another view.",
        "For a photo from the side use the A4, Letter or A3 card; from the heel the heel card.",
    ),
    Trouble.TOO_OBLIQUE: (
        "The photo was taken too much from the side.",
        "Hold the camera straight above the card, or level with it for the heel.",
    ),
    Trouble.BLURRED: (
        "The photo is blurred.",
        "Hold still or rest the camera, give it more light, and tap the blade so that it focuses.",
    ),
    Trouble.GLARE: (
        "Glare hides part of the blade or the card.",
        "Turn the flash off, and move the lamp or the card until the bright spot is gone.",
    ),
    Trouble.TOO_DARK: (
        "The photo is too dark to tell blade from paper.",
        "Give it more light, from both sides.",
    ),
    Trouble.TOO_FAR: (
        "The card is too small in the picture.",
        "Come closer until the card fills the picture, or set a higher resolution.",
    ),
    Trouble.NO_BLADE: (
        "No blade can be told from the paper.",
        "Lay one blade on the clear field of the card, nothing else, in even light.",
    ),
    Trouble.BLADE_CUT_OFF: (
        "The blade reaches over the clear field of the card.",
        "Move the blade so that heel and tip lie inside the field, or print a larger card.",
    ),
    Trouble.NOT_PLAIN: (
        "There is more than one thing on the card.",
        "Leave only the knife on the card.",
    ),
}


class PhotoRefused(MapleRookError):
    """A photo that cannot be measured; ``why`` and ``change`` are said to the person.

    ``seen`` is what was found, in figures, where there is one.
    """

    def __init__(self, trouble: Trouble, seen: str = "") -> None:
        self.trouble, self.seen = trouble, seen
        self.why, self.change = _WORDS[trouble]
        super().__init__(f"{self.why} {self.change}")

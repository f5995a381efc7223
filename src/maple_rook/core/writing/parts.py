"""The parts of a write-up, in the order in which they are read."""

from __future__ import annotations

from maple_rook.core.labelled import Labelled


class WriteUpPart(Labelled):
    """A part of a write-up; its label is the heading that readers see."""

    GLANCE = "glance", "At a glance"
    ARRIVAL = "arrival", "How it came"
    HAND = "hand", "In the hand"
    BLADE = "blade", "Blade and edge"
    BOARD = "board", "On the board"
    SHARPNESS = "sharpness", "Out of the box"
    FINISH = "finish", "Fit and finish"
    EDGE_LIFE = "edge_life", "Edge life"
    VALUE = "value", "Value"
    SUITS = "suits", "Who it suits"
    FIRST_USE = "first_use", "Before first use"
    METHOD = "method", "How it was measured"


class PageKind(Labelled):
    """What a published page is."""

    REVIEW = "review"
    COMPARISON = "comparison"
    RANGE = "range"

"""Closed lists: a code that is stored and sent, and a label for people."""

from __future__ import annotations

from enum import StrEnum


class Labelled(StrEnum):
    """A list whose members are a code, and a label where the code does not read as one.

    Labels are taken for their codes wherever a value comes in, so that links, scripts and files
    which spell them out are understood.

    >>> class Board(Labelled):
    ...     SOFT = "soft", "soft wood or rubber"
    ...     BAMBOO = "bamboo"
    >>> Board.SOFT.value, Board.SOFT.label, Board.BAMBOO.label
    ('soft', 'soft wood or rubber', 'bamboo')
    >>> Board("soft wood or rubber") is Board.SOFT
    True
    """

    _label: str

    def __new__(cls, code: str, label: str = "") -> Labelled:
        member = str.__new__(cls, code)
        member._value_ = code
        member._label = label or code.replace("_", " ")
        return member

    @property
    def label(self) -> str:
        """What people read."""
        return self._label

    @classmethod
    def _missing_(cls, value: object) -> Labelled | None:
        return next((member for member in cls if member.label == value), None)

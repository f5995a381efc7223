"""Live figures in a text: ``{weight}`` stands for the weight as the record has it.

A text is stored with its fields. Until it is published they are filled in from the record each
time it is shown; a published page holds what they were filled in with.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from maple_rook.core.errors import InvalidValue

_FIELD = re.compile(r"\{([a-z][a-z0-9_.]{0,60})\}")
NOT_MEASURED = "not measured"


@dataclass(frozen=True)
class LiveFigure:
    """A figure of the record in words: ``text`` with unit and interval, and how it is known.

    ``grade`` is M for measured, G for derived, R and P for predicted; empty for what is entered.
    ``central`` and ``expanded`` are in ``unit``: what a change is told by.
    """

    key: str
    label: str
    text: str
    grade: str = ""
    unit: str = ""
    central: float | None = None
    expanded: float = 0.0


@dataclass(frozen=True)
class Words:
    """A stretch of text, or a figure in it; ``grade`` says how the figure is known."""

    text: str
    figure: str = ""
    grade: str = ""


def fields_in(text: str) -> list[str]:
    """The figures a text names, in order, each once.

    >>> fields_in("It weighs {weight}; at {weight} and {hardness} it feels solid.")
    ['weight', 'hardness']
    """
    return list(dict.fromkeys(_FIELD.findall(text)))


def check_fields(text: str, known: Mapping[str, str]) -> None:
    """Refuse a text that names a figure nobody knows; ``known`` are labels by key.

    Raises
    ------
    InvalidValue
        With the field as it was written, and how fields are written.
    """
    unknown = [key for key in fields_in(text) if key not in known]
    if unknown:
        accepted = "a figure of the knife in braces, such as {weight} or {hardness}"
        raise InvalidValue("text", f"{{{unknown[0]}}}", accepted)


def filled(text: str, figures: Mapping[str, LiveFigure]) -> list[Words]:
    """The text with its figures filled in; one that is not there is *not measured*.

    >>> weight = LiveFigure("weight", "weight", "187 ± 1 g", "M", "g", 187.0, 1.0)
    >>> [w.text for w in filled("It weighs {weight}, {hardness} hard.", {"weight": weight})]
    ['It weighs ', '187 ± 1 g', ', ', 'not measured', ' hard.']
    """
    found: list[Words] = []
    at = 0
    for match in _FIELD.finditer(text):
        if match.start() > at:
            found.append(Words(text[at : match.start()]))
        figure = figures.get(match[1])
        if figure is None:
            found.append(Words(NOT_MEASURED, match[1]))
        else:
            found.append(Words(figure.text, figure.key, figure.grade))
        at = match.end()
    if at < len(text):
        found.append(Words(text[at:]))
    return found


@dataclass(frozen=True)
class Since:
    """A figure that is another one now than when the page was published."""

    key: str
    label: str
    then: str
    now: str
    moved: bool


def since_then(then: Sequence[LiveFigure], now: Mapping[str, LiveFigure]) -> list[Since]:
    """Figures that read otherwise today; ``moved`` where they differ by more than both U allow.

    The difference is held against sqrt(U_then^2 + U_now^2), as that of two measurements.

    >>> one = LiveFigure("weight", "weight", "187 ± 1 g", "M", "g", 187.0, 1.0)
    >>> other = LiveFigure("weight", "weight", "190 ± 1 g", "M", "g", 190.0, 1.0)
    >>> [(s.label, s.moved) for s in since_then([one], {"weight": other})]
    [('weight', True)]
    """
    found = []
    for old in then:
        new = now.get(old.key)
        text = new.text if new else NOT_MEASURED
        if text == old.text:
            continue
        moved = True
        if new is not None and new.central is not None and old.central is not None:
            both = (old.expanded**2 + new.expanded**2) ** 0.5
            moved = abs(new.central - old.central) > both
        found.append(Since(old.key, old.label, old.text, text, moved))
    return found

"""What printed cards and labels say, by language: the one place where another is added."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class CardWords:
    """The fixed texts of a card; ``language`` is what people call it."""

    language: str
    card: str
    labels: str
    measured: str
    continued: str
    made_of: str
    estimated: str
    section: str
    claimed: str
    not_measured: str
    its_page: str
    how_measured: str
    tag: str


CARD_WORDS: dict[str, CardWords] = {
    "en": CardWords(
        language="English",
        card="spec card",
        labels="shelf labels",
        measured="Measured, ± U (k = 2)",
        continued="Measured, continued",
        made_of="Made of",
        estimated="Estimated, 90 % limits",
        section="Section at the heel",
        claimed="The box says",
        not_measured="Not measured",
        its_page="its page",
        how_measured="how it was measured",
        tag="tag",
    ),
}

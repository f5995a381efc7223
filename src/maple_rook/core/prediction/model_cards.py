"""What each computed number is: equation, source, grade, range and assumptions.

The API, the panel that explains a number and docs/models are all made from these cards. Those with
``predicted`` are the predictions of a blade; screens, columns and filters read what it says.
"""

from __future__ import annotations

from maple_rook.core.prediction.blade_cards import BLADE_CARDS
from maple_rook.core.prediction.cutting_cards import CUTTING_CARDS
from maple_rook.core.prediction.edge_life_cards import EDGE_LIFE_CARDS
from maple_rook.core.prediction.judgement_cards import JUDGEMENT_CARDS
from maple_rook.core.prediction.model_card import ModelCard, Predicted
from maple_rook.core.prediction.upkeep_cards import UPKEEP_CARDS

MODEL_CARDS: dict[str, ModelCard] = {
    card.key: card
    for card in (
        *CUTTING_CARDS,
        *EDGE_LIFE_CARDS,
        *BLADE_CARDS,
        *JUDGEMENT_CARDS,
        *UPKEEP_CARDS,
    )
}
PREDICTED: dict[str, Predicted] = {
    key: card.predicted for key, card in MODEL_CARDS.items() if card.predicted is not None
}
"""The predictions of a blade, the force of a cut by food and stroke first."""


def card(key: str) -> ModelCard:
    return MODEL_CARDS[key]


def keys(trait: str) -> tuple[str, ...]:
    """The predictions of which a trait of :class:`Predicted` is true.

    >>> keys("of_the_kitchen")
    ('days_to_rod', 'months_to_stone')
    """
    return tuple(key for key, predicted in PREDICTED.items() if getattr(predicted, trait))

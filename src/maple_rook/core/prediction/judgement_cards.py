"""Model cards of what is said of a model and to a customer."""

from __future__ import annotations

from maple_rook.core.prediction.model_card import Grade, ModelCard

JUDGEMENT_CARDS = (
    ModelCard(
        "suits",
        "How well a knife suits a customer",
        Grade.PRACTICE,
        "of 100",
        "100 exp(sum of w_i ln d_i / sum of w_i), d_i from 0 to 1, at least 0.02",
        "Desirability functions and their weighted geometric mean: Derringer and Suich 1980, "
        "J. Quality Technology 12, 214 (from memory). Weights that are not known are drawn: "
        "Lahdelma, Hokkanen and Salminen 1998, European J. of Operational Research 106, 137 "
        "(from memory). Limits, weights and stops: common practice.",
        "Knives that no stop rules out. Serrated knives and those without hardness, edge "
        "angle, spine and height are not judged.",
        (
            "Stops come first and are never outweighed: the wrong hand, bone with a hard or "
            "thin edge, a dishwasher with steel that rusts, a rod for a single bevel, over "
            "the price set, not hardened.",
            "Ease: 0 at 50, 1 at 125. Edge life: log of months in an ordinary kitchen, 0 at "
            "0.4, 1 at 7. Robustness: log of load borne over the stroke's, 0 at 0.5, 1 at 6. "
            "Release: 0 at 0, 1 at 60. Value: log of price a month, 1 at 8, 0 at 200.",
            "Handling: weight as liked, balance as held, length for a learner. Board fit: "
            "length, knuckle room and the motion. Upkeep: what the steel asks for, against "
            "the care and tools it gets.",
            "Each weight varies by 40 % (standard deviation of its logarithm), alike for "
            "every knife: nobody knows better what counts for them.",
            "Two are a tie where neither is ahead in 80 % of the draws.",
        ),
    ),
    ModelCard(
        "next_piece",
        "The next piece of a model",
        Grade.PRACTICE,
        "",
        "mean of the pieces; U = t s sqrt(1 + 1/n), "
        "s^2 = (3 s_0^2 + (n - 1) s_n^2) / (n + 2), t of n + 2 degrees at 95 %",
        "Prediction interval: ISO 16269-8. The usual spread s_0 counts as three pieces: "
        "scaled inverse chi-squared prior, Gelman et al., Bayesian Data Analysis (from "
        "memory).",
        "New pieces of one model; used ones only where there is no new one.",
        (
            "The usual spread s_0 from piece to piece, such as 0.6 HRC, 0.8 degrees and 3 % "
            "of the weight, is an assumption.",
            "What a piece was measured to is added in quadrature.",
        ),
    ),
)

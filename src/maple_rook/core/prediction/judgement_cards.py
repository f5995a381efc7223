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
            "thin edge, a dishwasher with steel that rusts, a rod for a single bevel, rocking "
            "steel of 62 HRC or more, a length or height that does not fit the part, over the "
            "price set; and for everybody what is to go back to its maker, is not safe, not for "
            "sale, reserved or not hardened.",
            "Ease: 0 at 50, 1 at 125. Edge life: log of months in an ordinary kitchen, 0 at "
            "0.4, 1 at 7. Robustness: log of load borne over the stroke's, 0 at 0.5, 1 at 6. "
            "Release: 0 at 0, 1 at 60. Value: log of a year's cost at equal cutting ease in an "
            "ordinary kitchen, 1 at 15, 0 at 300.",
            "A year's cost: the price over the years the blade lasts (a fifth of its height, or "
            "as the workshop has it, 0.05 mm a sharpening; at most 15 years), and its sharpenings "
            "at the shop's charge.",
            "Handling: weight as liked, balance as held, length for a learner, size for the hand. "
            "Board fit: length, knuckle room, and the motion by the edge as traced, or as is usual "
            "of the type. Upkeep: what the steel asks for, against the care and tools it gets.",
            "Each weight varies by 40 % (standard deviation of its logarithm), alike for "
            "every knife: nobody knows better what counts for them.",
            "Two are a tie where neither is ahead in 80 % of the draws. A criterion decides only "
            "where the difference is real (97.5 % of the draws) and can be noticed.",
        ),
        version="3",
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

"""Model cards of edge retention and of what the edge bears."""

from __future__ import annotations

from maple_rook.core.measurement.thresholds import NOTICEABLE_EDGE_LIFE
from maple_rook.core.prediction.input_sets import WEAR
from maple_rook.core.prediction.model_card import Better, Grade, ModelCard, Predicted, SheetPart

EDGE_LIFE_CARDS = (
    ModelCard(
        "card_test",
        "Edge retention on the card test (TCC)",
        Grade.REGRESSION,
        "mm",
        "L = -157 + 15.8 HRC - 17.8 A + 11.2 CrC + 14.6 CrVC + 26.2 MC + 9.5 M6C + 20.9 MN "
        "+ 19.4 CrN; TCC = 60 ln(1 + exp(L / 60)) up to A = 30; over it TCC_30 (30 / A)^p with "
        "p = 534 logistic(L_30 / 60) / TCC_30",
        "Thomas 2020, regression on 48 steels (from memory); test after ISO 8442-5 (from "
        "memory). A is the inclusive angle in degrees, carbides in volume %.",
        "56 to 70 HRC, 20 to 50 degrees inclusive; outside, the interval widens the further it is, "
        "up to twice.",
        (
            "The angle is the mean over the first 0.4 mm of the face: a micro-bevel of 0.05 mm "
            "counts by its share (assumption); a single bevel counts its face angle against the "
            "flat back.",
            "Over 30 degrees the published straight line runs into nothing; the curve keeps its "
            "value and slope there (construction). Line and curve are taken to lie as far apart "
            "as a 90 % interval, at most a factor of two.",
            "Scatter between knives 12 %; what a shop finds stands within 25 % of the "
            "published level (1 sd, shop and class of grades together), until its trials "
            "narrow it.",
            "A knife with a card test of its own is predicted from that before shop and class; two "
            "tests of one knife are taken to differ by half of what knives do (assumption).",
            "Carbide volumes are estimates with 25 % relative uncertainty.",
            "How well paper is cut today is no part of it.",
        ),
        "4",
        predicted=Predicted(
            needs=WEAR,
            scale=(0, 1000),
            part=SheetPart.MEANING,
            may_infer=("steeper",),
            better=Better.HIGHER,
            noticeable=NOTICEABLE_EDGE_LIFE,
            compared=True,
            on_board="Edge retention on the card test (TCC)",
            in_what_if=True,
            after_reprofile=True,
            by_regression=True,
            with_coefficients=True,
        ),
    ),
    ModelCard(
        "initial_cut",
        "Initial cutting on the card test (ICP)",
        Grade.PRACTICE,
        "mm",
        "45 (30 / A), at most 0.9 TCC; A the inclusive angle at the apex, degrees",
        "Practice rule, size from memory; test after ISO 8442-5 (from memory).",
        "A trend only: 20 to 50 degrees inclusive, a fresh even edge.",
        (
            "Early on the angle decides; hardness and carbides show in the sixty cycles.",
            "Scatter between knives 25 %; it is not calibrated by trials.",
        ),
        predicted=Predicted(
            needs=WEAR,
            scale=(0, 120),
            part=SheetPart.MEANING,
            may_infer=("steeper",),
            on_board="Initial cutting on the card test (ICP)",
            by_regression=True,
            with_coefficients=True,
        ),
    ),
    ModelCard(
        "days_to_rod",
        "Days to the rod",
        Grade.PRACTICE,
        "days",
        "6.6 (HV / HV59)^6 (tan th / tan 15) e / (u b t w)",
        "Practice rule, calibrated on common practice; HRC to HV by ASTM E140 (from memory).",
        "52 HRC and up. A day is 30 minutes of board work.",
        (
            "The 90 % interval is a factor of 1.6 either way, before measuring uncertainty; "
            "kitchen logs narrow it, and a log of this knife in this kitchen goes first.",
            "None where no rod may touch the edge: single bevels, and from 62 HRC by the school "
            "that allows none. It says how often to strop instead.",
        ),
        "4",
        predicted=Predicted(
            needs=("hardness", "edge_angle"),
            scale=(0, 40),
            part=SheetPart.MEANING,
            better=Better.HIGHER,
            noticeable=NOTICEABLE_EDGE_LIFE,
            compared=True,
            on_board="Days to the rod",
            in_what_if=True,
            after_reprofile=True,
            of_the_kitchen=True,
            with_coefficients=True,
        ),
    ),
    ModelCard(
        "months_to_stone",
        "Months to the stone",
        Grade.PRACTICE,
        "months",
        "3.45 (TCC / 340)^0.6 e g (1 if honed else 0.55) / (u b t w); g = min(1, M / 1.5), rounded "
        "at the corner, at least 0.2",
        "Practice rule, calibrated on common practice; TCC from the card-test regression.",
        "52 HRC and up. Below it no months are promised.",
        (
            "M is the margin of the edge under the kitchen's usual stroke, rolling or chipping: an "
            "edge thinner than its steel bears does not last longer, it gives before it wears.",
            "The stone never falls due before the rod, where there is one.",
            "The 90 % interval is a factor of 1.6 either way, before measuring uncertainty and "
            "the grade's own departure; kitchen logs narrow it.",
            "What the card tests say of a class of grades moves it, what they say of the "
            "shop's tester does not. A card test of this knife, or its log in this kitchen, goes "
            "before the class.",
        ),
        "4",
        predicted=Predicted(
            needs=WEAR,
            scale=(0, 10),
            part=SheetPart.MEANING,
            may_infer=("steeper",),
            better=Better.HIGHER,
            noticeable=NOTICEABLE_EDGE_LIFE,
            compared=True,
            short="stone",
            on_shelf=True,
            on_board="Months to the stone",
            in_what_if=True,
            after_reprofile=True,
            of_the_kitchen=True,
            by_regression=True,
            with_coefficients=True,
        ),
    ),
    ModelCard(
        "yield_strength",
        "Yield strength of the edge",
        Grade.REGRESSION,
        "MPa",
        "sigma_y = 9.81 HV / 3",
        "Tabor 1951; HRC to HV by ASTM E140 table 1 (from memory).",
        "20 to 68 HRC.",
        ("The edge is as hard as the spot that was tested.",),
        predicted=Predicted(
            needs=("hardness",), scale=(1000, 3200), part=SheetPart.SHAPE, of_any_blade=True
        ),
    ),
    ModelCard(
        "edge_life",
        "Sharpness over the days",
        Grade.PRACTICE,
        "% of fresh",
        "100 (1 - wear) (1 - roll); wear = 0.5 sqrt(t / t_stone), reset by the stone; "
        "roll = P - (P - R0) 2^(-t / t_rod), P = 0.5, of which a rod leaves R0 = 15 %",
        "Practice rule, calibrated on common practice; t_rod and t_stone are the days to the "
        "rod and the months to the stone.",
        "52 HRC and up; single bevels without the rod.",
        (
            "The course is the likely one; its times carry the intervals of rod and stone.",
            "Without a rod, roll settles at half and wear goes on.",
        ),
    ),
    ModelCard(
        "stability",
        "Load borne over the load of a stroke",
        Grade.PRACTICE,
        "times",
        "roll: 0.02 mm / z_y with z_y = 1.5 q / (sigma_y tan^2 th); chip: that times "
        "K / (1.12 sqrt(pi a) sigma_y), K = K60 exp(-0.07 (HRC - 60)), K60 = 22, 16 or 12 "
        "MPa sqrt(m) for high, medium or low toughness, a = 10 um",
        "Bending of a wedge; yield strength after Tabor 1951; a surface flaw in tension. Loads "
        "and the flaw are practice rules, toughness is from memory.",
        "Hardness and edge angle measured; th is half the inclusive angle at the apex.",
        (
            "Side loads: careful push 0.25, normal work 0.7, rock with a twist 1.8, bone 4.5 N a "
            "mm of edge.",
            "A margin varies by 25 % between strokes of one style.",
        ),
    ),
)

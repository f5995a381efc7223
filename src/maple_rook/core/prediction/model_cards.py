"""What each computed number is: equation, source, grade, range and assumptions.

The API, the panel that explains a number and docs/models are all made from these cards.
"""

from __future__ import annotations

from maple_rook.core.prediction.model_card import Grade, ModelCard
from maple_rook.core.prediction.upkeep_cards import UPKEEP_CARDS

MODEL_CARDS: dict[str, ModelCard] = {
    card.key: card
    for card in (
        ModelCard(
            "cutting_force",
            "Cutting force",
            Grade.DERIVED,
            "N",
            "F = R w (1 + r/r_f) / (1 + xi^2) "
            "+ w sum over faces of integral k x(z) [sin a + mu / sqrt(1 + xi^2) cos a] dz, "
            "over the depth of the food",
            "Fracture with slicing: Atkins, Xu and Jeronimidis 2004, J. Materials Science 39, "
            "2761. Blunting after McCarthy, Hussey and Gilchrist 2007 (background). Wedging: "
            "side pressure in proportion to thickness (Winkler).",
            "Every grind family, at the heel. Serrated blades are not covered. Above 125 N it is "
            "not a kitchen cut.",
            (
                "Food values are order of magnitude, from memory: compare knives with them, do "
                "not read them as a force gauge.",
                "Food varies by 8 % (standard deviation), the same for every knife compared.",
                "Edge radius (from memory): fresh from the stone 0.75 um, some weeks old 3 um, "
                "kitchen-dull 7.5 um.",
                "Faces whose curve nobody measured take the usual one of their family, with a "
                "wide interval. Nothing presses on a hollow back.",
            ),
        ),
        ModelCard(
            "steering_force",
            "Steering force in carrot",
            Grade.DERIVED,
            "N",
            "w k [C_R - C_L - mu (S_R - S_L)]; S and C are the integrals of x sin a and x cos a "
            "of the right and the left face, over the depth of the food; straight push",
            "The sideways part of the side pressure on both faces (Winkler).",
            "As for the cutting force.",
            ("Plus: the food pushes the blade to the left as held.",),
        ),
        ModelCard(
            "cutting_ease",
            "Cutting ease index",
            Grade.DERIVED,
            "",
            "100 x geometric mean over the foods of force(reference blade) / force(this blade), "
            "weighted by the job's shares, straight push",
            "Ratio of two cutting forces; see the cutting force card.",
            "As for the cutting force.",
            (
                "Reference blade: flat, 2.2 mm spine, 45 mm high, 0.30 mm behind the edge, "
                "15 degrees per side, edge radius 1 um. 100 cuts like it, more is easier.",
                "The shares of the foods in a job are an assumption.",
            ),
        ),
        ModelCard(
            "card_test",
            "Edge retention on the card test (TCC)",
            Grade.REGRESSION,
            "mm",
            "L = -157 + 15.8 HRC - 17.8 A + 11.2 CrC + 14.6 CrVC + 26.2 MC + 9.5 M6C + 20.9 MN "
            "+ 19.4 CrN; TCC = 60 ln(1 + exp(L / 60))",
            "Thomas 2020, regression on 48 steels (from memory); test after ISO 8442-5 (from "
            "memory). A is the inclusive angle in degrees, carbides in volume %.",
            "56 to 70 HRC, 20 to 50 degrees inclusive; outside, the interval is doubled.",
            (
                "The angle is that of the apex: the micro-bevel's where there is one; a single "
                "bevel counts its face angle against the flat back.",
                "Scatter between knives 12 %; what a shop finds stands within 25 % of the "
                "published level (1 sd, shop and class of grades together), until its trials "
                "narrow it.",
                "Carbide volumes are estimates with 25 % relative uncertainty.",
                "How well paper is cut today is no part of it.",
            ),
            "2",
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
        ),
        ModelCard(
            "days_to_rod",
            "Days to the rod",
            Grade.PRACTICE,
            "days",
            "8.0 (HV / HV59)^8 (tan th / tan 15) e / (u b t w)",
            "Practice rule, calibrated on common practice; HRC to HV by ASTM E140 (from memory).",
            "50 HRC and up. A day is 30 minutes of board work.",
            (
                "The 90 % interval is a factor of 1.6 either way, before measuring uncertainty; "
                "kitchen logs narrow it.",
            ),
            "2",
        ),
        ModelCard(
            "months_to_stone",
            "Months to the stone",
            Grade.PRACTICE,
            "months",
            "3.45 (TCC / 340)^0.6 e (1 if honed else 0.55) / (u b t w)",
            "Practice rule, calibrated on common practice; TCC from the card-test regression.",
            "50 HRC and up. Below it no months are promised.",
            (
                "The 90 % interval is a factor of 1.6 either way, before measuring uncertainty and "
                "the grade's own departure; kitchen logs narrow it.",
                "What the card tests say of a class of grades moves it, what they say of the "
                "shop's tester does not.",
            ),
            "2",
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
        ),
        ModelCard(
            "distal_taper",
            "Distal taper",
            Grade.DERIVED,
            "mm/100 mm",
            "(spine at heel - spine near tip) / (edge length - 10 mm) x 100",
            "Geometry.",
            "Spine near the tip taken 10 mm behind it.",
            (),
        ),
        ModelCard(
            "taper_rear",
            "Distal taper, rear half",
            Grade.DERIVED,
            "mm/100 mm",
            "(spine at heel - spine at middle) / (edge length / 2) x 100",
            "Geometry.",
            "Spine at the middle taken halfway between heel and tip.",
            (),
        ),
        ModelCard(
            "taper_front",
            "Distal taper, front half",
            Grade.DERIVED,
            "mm/100 mm",
            "(spine at middle - spine near tip) / (edge length / 2 - 10 mm) x 100",
            "Geometry.",
            "Spine near the tip taken 10 mm behind it.",
            (),
        ),
        ModelCard(
            "primary_angle",
            "Angle between the faces",
            Grade.DERIVED,
            "°",
            "atan((x_line - b) / (z_line - z_shoulder)), right plus left, along the chords from "
            "the shoulder to the grind line or the spine",
            "Geometry of the section at the heel.",
            "Every grind family.",
            (),
        ),
        ModelCard(
            "apex_offset",
            "Apex offset",
            Grade.DERIVED,
            "mm",
            "(b_L - b_R) / 2",
            "Geometry; asymmetry read as the ratio of bevel widths.",
            "Every grind; a single bevel's apex lies half its thickness off the middle.",
            ("Minus: the apex lies left of the middle, ground for the right hand.",),
        ),
        ModelCard(
            "blade_mass",
            "Mass of the blade",
            Grade.DERIVED,
            "g",
            "density x integral of the section's area along the edge",
            "Geometry; density from memory: stainless 7.75, carbon 7.85 g/cm3.",
            "From the heel forward; the tang counts to the handle side.",
            (
                "Spine thickness runs monotone through the measured places (Fritsch and Butland "
                "1984); heights between them follow the type.",
            ),
        ),
        ModelCard(
            "handle_side",
            "Handle side",
            Grade.DERIVED,
            "g",
            "weight - mass of the blade",
            "Geometry.",
            "25 to 160 g is plausible; outside it weight or geometry is wrong.",
            ("Handle, tang and bolster together.",),
        ),
        ModelCard(
            "static_moment",
            "Static moment at the pinch",
            Grade.DERIVED,
            "N mm",
            "m g (x_balance - 15 mm)",
            "Statics.",
            "Pinch grip 15 mm ahead of the heel. Plus: blade-forward; minus: handle-heavy.",
            ("Where the balance point is not measured, the handle balances at its middle.",),
        ),
        ModelCard(
            "swing",
            "Inertia about the pinch",
            Grade.DERIVED,
            "kg cm²",
            "sum of m r^2 about the pinch point: the blade by its sections, the handle side as a "
            "rod of the handle's length",
            "Mechanics (parallel-axis theorem).",
            "Pinch grip 15 mm ahead of the heel.",
            ("The middle of the handle side follows from the measured balance point.",),
        ),
        ModelCard(
            "tip_deflection",
            "Flex: tip under 10 N sideways",
            Grade.DERIVED,
            "mm",
            "integral of F (L - x)^2 / (E I(x)) dx, F = 10 N, E = 205 GPa, I about the weak axis",
            "Euler-Bernoulli cantilever clamped at the heel.",
            "Small deflections; above a fifth of the length it only says: very flexible.",
            (),
        ),
        ModelCard(
            "side_area",
            "Area of one side",
            Grade.DERIVED,
            "cm²",
            "integral of the height along the edge",
            "Geometry.",
            "From the heel forward.",
            (),
        ),
        ModelCard(
            "release",
            "Food release index",
            Grade.PRACTICE,
            "",
            "points for the shape of the faces (30), the steepness of the upper face (15), finish "
            "and dimples (35) and low height (20)",
            "Common practice, no published source.",
            "0 sticks like a tall mirror, 100 lets everything go. Compare with it; it is no "
            "measurement.",
            ("Spread between cooks and foods: 8 points, the same for every knife compared.",),
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
            "50 HRC and up; single bevels without the rod.",
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
            "roll: 0.02 mm / z_y with z_y = 1.5 q / (sigma_y tan^2 th); chip: that times 3.0, 1.8 "
            "or 1.1 for high, medium or low toughness",
            "Bending of a wedge; yield strength after Tabor 1951. Loads and factors are practice "
            "rules.",
            "Hardness and edge angle measured; th is half the inclusive angle at the apex.",
            (
                "Side loads: careful push 0.25, normal work 0.7, rock with a twist 1.8, bone 6 N a "
                "mm of edge.",
                "A margin varies by 25 % between strokes of one style.",
            ),
        ),
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
        *UPKEEP_CARDS,
    )
}
NOT_A_PREDICTION = ("edge_life", "stability", "suits", "next_piece", *(c.key for c in UPKEEP_CARDS))
"""Cards of what is shown as a course, a table or a judgement rather than as one prediction."""


def card(key: str) -> ModelCard:
    return MODEL_CARDS[key]

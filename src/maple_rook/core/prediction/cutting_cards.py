"""Model cards of cutting and food release."""

from __future__ import annotations

from maple_rook.core.measurement.thresholds import NOTICEABLE_FORCE
from maple_rook.core.prediction.input_sets import FACES, FRAME
from maple_rook.core.prediction.model_card import Better, Grade, ModelCard, Predicted, SheetPart

CUTTING_CARDS = (
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
        predicted=Predicted(
            needs=FRAME,
            scale=(0, 60),
            part=SheetPart.CUTS,
            may_infer=FACES,
            better=Better.LOWER,
            turns_on_asymmetry=True,
        ),
    ),
    ModelCard(
        "cutting_ease",
        "Cutting ease index",
        Grade.DERIVED,
        "",
        "100 x geometric mean over the foods of force(reference blade) / force(this blade), "
        "weighted by the shares of the food mix, straight push",
        "Ratio of two cutting forces; see the cutting force card.",
        "As for the cutting force.",
        (
            "Reference blade: flat, 2.2 mm spine, 45 mm high, 0.30 mm behind the edge, "
            "15 degrees per side, edge radius 1 um. 100 cuts like it, more is easier.",
            "The shares of the foods in a mix are an assumption.",
        ),
        predicted=Predicted(
            needs=FRAME,
            scale=(50, 150),
            part=SheetPart.MEANING,
            may_infer=FACES,
            better=Better.HIGHER,
            noticeable=NOTICEABLE_FORCE,
            compared=True,
            short="ease",
            on_shelf=True,
            on_board="Cutting ease, 100 = reference blade",
            in_what_if=True,
            after_reprofile=True,
            turns_on_asymmetry=True,
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
        predicted=Predicted(
            needs=FRAME,
            scale=(-20, 20),
            part=SheetPart.SHAPE,
            may_infer=FACES,
            better=Better.LOWER,
            in_what_if=True,
            after_reprofile=True,
            turns_on_asymmetry=True,
        ),
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
        predicted=Predicted(
            needs=FRAME,
            scale=(0, 100),
            part=SheetPart.MEANING,
            may_infer=("surface", *FACES),
            better=Better.HIGHER,
            noticeable=NOTICEABLE_FORCE,
            compared=True,
            on_board="Food release, 100 lets everything go",
            in_what_if=True,
        ),
    ),
)

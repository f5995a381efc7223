"""Model cards of cutting and food release."""

from __future__ import annotations

from maple_rook.core.measurement.thresholds import NOTICEABLE_FORCE
from maple_rook.core.prediction.input_sets import FACES, FRAME
from maple_rook.core.prediction.model_card import Better, Grade, ModelCard, Predicted, SheetPart

_SOURCE = (
    "Fracture with slicing: Atkins, Xu and Jeronimidis 2004, J. Materials Science 39, 2761. That "
    "the edge radius counts most and the wedge angle next: McCarthy, Hussey and Gilchrist 2007, "
    "Engineering Fracture Mechanics 74, and 2010 (from memory, direction only). The rest is a "
    "construction of mechanics; its sizes are assumptions."
)
_VALID = (
    "Every grind family, at three places of the edge: 0.2, 0.5 and 0.8 of its length, with spine "
    "and height found there and the thickness behind the edge as measured. Serrated blades are not "
    "covered."
)
_REFERENCE = (
    "Reference blade: flat, spine 2.2, 1.9 and 0.8 mm along 210 mm of edge, 45 mm high, 0.30 mm "
    "behind the edge, 15 degrees per side, edge radius 0.75 um. 100 cuts like it, more is easier."
)
_JOB = (
    "A food mix is pushed through the middle; fish and thin slices are cut by one long draw, as "
    "long as the edge allows, the slice falling away.",
    "A customer whose hand rocks, pushes or draws has the motion of that hand instead.",
    "Small work in the hand goes no deeper than the bite, with the front of the edge; a longer or "
    "taller blade is in the way by sqrt(L / 90 mm x h / 25 mm) (assumption).",
    "The shares of the foods in a mix are an assumption. A food's own spread is the same for all "
    "knives and cancels.",
)
_EFFORT = (
    "effort = sqrt(bite x force through) x passes; every stroke begins with the apex pressed 3 mm "
    "deep, a pressed food taller than the blade is cut in H/h passes"
)

CUTTING_CARDS = (
    ModelCard(
        "cutting_force",
        "Cutting force",
        Grade.PRACTICE,
        "N",
        "F = R w [1 + (r + l tan th_a)/r_f] / (1 + xi^2) + w sum over faces of integral "
        "(p_e + p_b) [sin a + mu' cos a] dz + 2 w tau min(d, h) / sqrt(1 + xi^2); "
        "p_e = min(s_c, E tan a / sqrt(1 + xi^2)) exp(-z/lam), p_b = k t s/(1 + s), "
        "mu' = mu / sqrt(1 + xi^2), l = 5 um",
        _SOURCE,
        f"{_VALID} Over 125 N one hand does not press it, over 155 N both do not.",
        (
            "Assumed food values are orders of magnitude, fitted to what hands report: compare "
            "knives with them, do not read them as a force gauge. Cut trials fit toughness, "
            "stiffness and adhesion of the shop's own foods: least squares in ln with priors of "
            "0.4, 0.5 and 0.5 on them, 0.15 on the lot, 0.10 on the knife (assumptions).",
            "An assumed food varies by a factor of 1.5 either way (0.4 in ln), a tried one by what "
            "its trials leave open and by its lots; the same for every knife.",
            "Edge radius (from memory): fresh from the stone 0.75 um, some weeks old 3 um, "
            "kitchen-dull 7.5 um.",
            "Weights of the three places: push 0.3, 0.5, 0.2; rock 0.2, 0.4, 0.4; long draw a "
            "third each (assumption).",
            "Faces whose curve was not measured take the usual one of their family, with a wide "
            "interval.",
        ),
        version="3",
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
        "100 x geometric mean over the foods of effort(reference blade) / effort(this blade), "
        f"weighted by the shares of the food mix; {_EFFORT}",
        "Ratio of two efforts; see the cutting force card.",
        "As for the cutting force.",
        (_REFERENCE, *_JOB),
        version="3",
        predicted=Predicted(
            needs=FRAME,
            scale=(30, 160),
            part=SheetPart.MEANING,
            of_foods=True,
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
        "worn_ease",
        "Cutting ease half way to the stone",
        Grade.DERIVED,
        "",
        "as the cutting ease index, with an edge radius of 3 um; the reference stays fresh",
        "Ratio of two efforts; see the cutting force card.",
        "As for the cutting force.",
        (_REFERENCE, "An edge that is duller already stays as it is."),
        predicted=Predicted(
            needs=FRAME,
            scale=(30, 160),
            part=SheetPart.MEANING,
            of_foods=True,
            may_infer=FACES,
            better=Better.HIGHER,
            noticeable=NOTICEABLE_FORCE,
            in_what_if=True,
            after_reprofile=True,
            turns_on_asymmetry=True,
        ),
    ),
    ModelCard(
        "bite",
        "Bite index",
        Grade.DERIVED,
        "",
        "100 x geometric mean over the foods of bite(reference blade) / bite(this blade), weighted "
        "by the shares of the food mix; the bite is the force pressed straight at 3 mm deep",
        "Ratio of two cutting forces; see the cutting force card.",
        "As for the cutting force.",
        (
            _REFERENCE,
            "What every stroke begins with: edge radius, edge angle, and the first "
            "millimetre behind the edge.",
        ),
        predicted=Predicted(
            needs=FRAME,
            scale=(50, 150),
            part=SheetPart.MEANING,
            of_foods=True,
            may_infer=FACES,
            better=Better.HIGHER,
            noticeable=NOTICEABLE_FORCE,
            compared=True,
            on_board="Bite, 100 = reference blade",
            in_what_if=True,
            after_reprofile=True,
            turns_on_asymmetry=True,
        ),
    ),
    ModelCard(
        "cut_work",
        "Work of a cut through carrot",
        Grade.PRACTICE,
        "J",
        "integral of the cutting force over the depth of the food, straight push, mid-blade",
        "See the cutting force card.",
        "As for the cutting force.",
        ("Food varies by a factor of 1.5 either way, the same for every knife.",),
        predicted=Predicted(
            needs=FRAME,
            scale=(0, 1.5),
            part=SheetPart.CUTS,
            may_infer=FACES,
            better=Better.LOWER,
            turns_on_asymmetry=True,
        ),
    ),
    ModelCard(
        "steering_force",
        "Steering force in carrot",
        Grade.PRACTICE,
        "N",
        "S = w sum (right - left) of integral p_e (cos a - mu sin a) dz; held straight, mid-blade",
        "The sideways part of the pressure beside the edge; the bulk balances on both faces.",
        "As for the cutting force.",
        ("Plus: the food pushes the blade to the left as held.",),
        version="3",
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

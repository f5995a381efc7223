"""Model cards of set-up, re-profile, time on the stones and wear."""

from __future__ import annotations

from maple_rook.core.prediction.model_card import Grade, ModelCard

UPKEEP_CARDS = (
    ModelCard(
        "lift",
        "Spine height over the stone",
        Grade.DERIVED,
        "mm",
        "lift = h sin th - (t/2) cos th; back from a stack of spacers: "
        "th = asin(lift / sqrt(h^2 + t^2/4)) + atan(t / 2h)",
        "Geometry.",
        "From the under face of the spine square down to the stone. Negative where the spine would "
        "touch first. None for a single bevel: it lies on its face.",
        (
            "An uneven edge has its apex off the middle, so each face counts its own half of the "
            "spine.",
            "The same distance stands between spine and rod, and a rod leans by the same angle "
            "where the blade is held upright.",
            "Strokes stand as the bevels' widths times the sines of their angles: what raising the "
            "edge takes of each.",
        ),
    ),
    ModelCard(
        "reprofile",
        "Steel removed by a re-profile",
        Grade.DERIVED,
        "mm³",
        "integral along the edge of the area between old bevel, new bevel and primary face, face "
        "by face; the apex rises only as far as the old bevels make it",
        "Geometry: the section clipped by the two new bevel planes (Sutherland and Hodgman 1974, "
        "Communications of the ACM 17, 32, from memory).",
        "5 to 35 degrees per side, 5:95 to 95:5. The back of a single bevel is not touched.",
        (
            "Sections at five places along the edge, trapezoid between them; where the tip is too "
            "low for the edge, as much is taken as just before it.",
            "Thickness behind the edge is taken to be the same along the whole edge.",
        ),
    ),
    ModelCard(
        "stone_time",
        "Time on the stones",
        Grade.PRACTICE,
        "min",
        "4 min + sum of V_i / (rate_i x pace); every stone but the first takes a layer as deep as "
        "the scratches of the one before, V_i = bevel area x d_(i-1)",
        "Assumption until the shop sets its own rates: none are published for hand work.",
        "By hand on flat stones. Within a factor of 1.6 either way.",
        (
            "Rates in mm3 a minute on steel of medium ease; pace by the grade's ease of "
            "sharpening, 1.25 very easy to 0.5 very hard.",
            "A sharpening takes T dh L; a thinning wedges of half the growth, 10 mm up the faces.",
        ),
    ),
    ModelCard(
        "wear",
        "Sharpenings until something is due",
        Grade.PRACTICE,
        "",
        "n = room / dh; bolster proud by n dh; thicker behind the edge as the bevel's plane climbs "
        "the faces with the apex, on straight ones by 2 dh tan a / (1 - tan a / tan th), a half "
        "the primary angle",
        "Geometry of the faces. dh = 0.05 mm within 0.025 is an assumption, then learned from the "
        "log: conjugate normal update, Gelman et al., Bayesian Data Analysis (from memory).",
        "Thinning is due 0.10 mm thicker than new, filing 0.30 mm proud, the end at a fifth of the "
        "height, unless the shop says otherwise.",
        (
            "Knives differ by 0.015 mm a sharpening, sharpenings of one knife by 0.02 mm.",
            "A single bevel needs no thinning: its whole face is what is sharpened.",
            "Dates: rod and stone as predicted for the kitchen; due within the 90 % limits, "
            "overdue after them.",
        ),
    ),
)

"""Where every input of the models comes from, and that nothing is taken silently."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.cutting.foods import FOOD_SCATTER, FOODS, STROKES
from maple_rook.core.cutting.force import EDGE_RADII_UM
from maple_rook.core.edge_life.retention import EdgeState, Kitchen
from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.outline import heights_mm, outline
from maple_rook.core.geometry.profile import from_stations
from maple_rook.core.geometry.section import section
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.places import THICKNESS_AT_MM
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import CARBON_G_CM3, STAINLESS_G_CM3, Blade, Origin
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.evaluate import OTHERS, groups, targets
from maple_rook.core.prediction.explanation import pushed_to
from maple_rook.core.prediction.inputs import (
    INPUTS,
    inferred,
    input_arrays,
    unavailable,
)
from maple_rook.core.prediction.model_cards import PREDICTED
from maple_rook.core.prediction.predict import predict, sharpened
from maple_rook.core.routine.stops import KnifeFacts, asked

FRAME = {"spine_heel": Figure(2.2, 0.02), "height_heel": Figure(45.0, 0.1)}


def origin(blade: Blade, key: str) -> Origin:
    return blade.inputs[key].origin


def test_every_model_has_its_needs_its_card_and_its_target() -> None:
    cards = {t.card for t in targets(list(FOODS.values()), list(STROKES.values()))}
    assert cards == set(PREDICTED)
    assert set(OTHERS) == cards - {"cutting_force"}
    known = {key for key, _ in INPUTS}
    for predicted in PREDICTED.values():
        assert set(predicted.needs) | set(predicted.may_infer) <= known


def test_a_reading_always_wins_over_what_could_be_derived_or_inferred() -> None:
    widths = {"bevel_width_right": Figure(0.8, 0.03), "bevel_width_left": Figure(0.3, 0.03)}
    read = {
        **FRAME,
        **widths,
        "asymmetry": Figure(50.0, 3.0),
        "edge_angle": Figure(15.0, 0.5),
        "thickness_behind_edge": Figure(0.25, 0.02),
    }
    blade = Blade(read)
    for key, figure in read.items():
        assert blade.inputs[key].figure == figure
        assert origin(blade, key) is Origin.MEASURED


@given(
    st.sampled_from(sorted(k for k, t in KNIFE_TYPES.items() if t.predicted)),
    st.sampled_from(Grind),
)
def test_what_is_inferred_is_typical_of_the_type_and_wide(kind: str, grind: Grind) -> None:
    typical = KNIFE_TYPES[kind].typical
    blade = Blade(FRAME, knife_type=kind, grind=grind)
    for key in ("thickness_behind_edge", "edge_angle", "handle_length", "edge_length"):
        if key == "thickness_behind_edge" and grind is Grind.SINGLE_BEVEL_ADDED:
            continue
        figure = blade.inputs[key].figure
        low, high = typical[key]
        assert origin(blade, key) is Origin.INFERRED
        assert low <= figure.mean <= high
        assert figure.expanded == pytest.approx((high - low) / 2)
    assert blade.inputs["spine_mid"].figure.mean < 2.2
    assert blade.inputs["spine_tip"].figure.mean < blade.inputs["spine_mid"].figure.mean


@pytest.mark.parametrize("grind", Grind)
def test_the_bench_asks_for_what_would_replace_a_guess_of_the_grind(grind: Grind) -> None:
    """Every input that is inferred from the grind can be measured at one of the stops."""
    questions = {q.key for q in asked(KnifeFacts("gyuto", grind))}
    reading = {
        "bulge": "thickness_10mm",
        "grind_line": "grind_line",
        "hollow_depth": "hollow_depth",
        "steeper": "micro_bevel",
        "shinogi": "bevel_width_right",
    }
    guessed = [
        key for key in inferred(Blade(FRAME, grind=grind), "cutting_force") if key in reading
    ]
    for key in guessed:
        assert reading[key] in questions, key
    assert ("grind_line" in questions) is (GRINDS[grind].shape.grind_line is not None)
    assert ("shaped_faces" in questions) is (GRINDS[grind].shape.bulge is not None)
    assert ("thickness_behind_edge" in questions) is GRINDS[grind].behind_edge_asked


def test_a_measured_grind_line_and_shinogi_take_the_place_of_the_familys() -> None:
    """Geometry: line over height; w sin th over the spine there."""
    sabre = Blade({**FRAME, "grind_line": Figure(22.5, 0.5)}, grind=Grind.SABRE)
    assert sabre.inputs["grind_line"].figure.mean == pytest.approx(0.5)
    assert origin(sabre, "grind_line") is Origin.DERIVED
    single = Blade(
        {
            **FRAME,
            "bevel_width_right": Figure(10.0, 0.2),
            "edge_angle": Figure(11.0, 0.3),
            "spine_mid": Figure(2.0, 0.02),
        },
        grind=Grind.SINGLE_BEVEL,
    )
    expected = 10.0 * np.sin(np.radians(11.0)) / 2.0
    assert single.inputs["shinogi"].figure.mean == pytest.approx(expected)
    left = replace(single, figures={**single.figures, "asymmetry": Figure(0.0, 0.0)})
    assert left.left_handed
    assert not single.left_handed


def measured_from(grind: Grind, **shape: float) -> Blade:
    """A blade of which the thicknesses of a section of this shape were measured."""
    made = section(grind, 2.2, 45.0, 0.3, 15.0, **shape)  # type: ignore[arg-type]
    thicknesses = {
        key: Figure(float(made.thickness_mm(up)), 0.01) for key, up in THICKNESS_AT_MM.items()
    }
    frame = {**FRAME, "spine_heel": Figure(2.2, 0.01), "height_heel": Figure(45.0, 0.1)}
    edge = {"thickness_behind_edge": Figure(0.3, 0.01), "edge_angle": Figure(15.0, 0.3)}
    return Blade({**frame, **edge, **thicknesses}, grind=grind)


@pytest.mark.parametrize("bulge", [-0.3, 0.0, 0.4])
@pytest.mark.parametrize(
    "grind",
    [Grind.FULL_FLAT, Grind.CONVEX, Grind.DEEP_CONCAVE, Grind.ASYMMETRIC_DOUBLE, Grind.HOLLOW],
)
def test_the_curve_is_solved_back_from_the_thicknesses_it_made(grind: Grind, bulge: float) -> None:
    """Geometry: the section built from what was measured has the thicknesses that were measured."""
    blade = measured_from(grind, bulge=bulge)
    found = blade.inputs["bulge"]
    assert found.origin is Origin.DERIVED
    assert found.figure.mean == pytest.approx(bulge, abs=0.02)
    assert 0 < found.figure.standard_uncertainty < 0.1
    made = built(blade)
    assert made
    for key, up in THICKNESS_AT_MM.items():
        assert float(made.heel.thickness_mm(up)) == pytest.approx(blade.figures[key].mean, rel=0.02)


@pytest.mark.parametrize("line", [0.4, 0.6, 0.9])
@pytest.mark.parametrize("grind", [Grind.SABRE, Grind.HIGH_FLAT])
def test_the_grind_line_is_solved_back_where_nobody_measured_it(grind: Grind, line: float) -> None:
    blade = measured_from(grind, grind_line=line)
    assert blade.inputs["grind_line"].figure.mean == pytest.approx(line, rel=0.01)
    assert blade.inputs["bulge"].figure.mean == 0
    named = Blade({**blade.figures, "grind_line": Figure(0.5 * 45, 0.5)}, grind=grind)
    assert named.inputs["grind_line"].figure.mean == pytest.approx(0.5)
    assert named.inputs["bulge"].origin is Origin.DERIVED  # what is left is the face's curve


def test_the_shinogi_is_solved_back_from_the_thickness_above_it() -> None:
    made = section(Grind.SINGLE_BEVEL, 3.0, 34.0, 0.0, 14.0, 1.0, shinogi=0.7)
    figures = {
        "spine_heel": Figure(3.0, 0.01),
        "height_heel": Figure(34.0, 0.1),
        "edge_angle": Figure(14.0, 0.3),
        "thickness_10mm": Figure(float(made.thickness_mm(10.0)), 0.01),
    }
    found = Blade(figures, grind=Grind.SINGLE_BEVEL).inputs["shinogi"]
    assert found.origin is Origin.DERIVED
    assert found.figure.mean == pytest.approx(0.7, abs=0.02)
    below = {**figures, "edge_angle": Figure(8.0, 0.3)}  # 10 mm up is still on the wide face
    assert Blade(below, grind=Grind.SINGLE_BEVEL).inputs["shinogi"].origin is Origin.INFERRED


def test_the_steel_sets_the_density_and_the_apex_its_angle() -> None:
    """Densities from memory: stainless 7.75, carbon 7.85 g/cm3."""
    assert Blade(FRAME, steel=STEELS["1.4116"]).density_g_cm3 == STAINLESS_G_CM3 == 7.75
    assert Blade(FRAME, steel=STEELS["C105U"]).density_g_cm3 == CARBON_G_CM3 == 7.85
    angle = {**FRAME, "edge_angle": Figure(12.0, 0.5)}
    assert Blade(angle).apex_deg == 24.0
    assert Blade({**angle, "micro_bevel": Figure(15.0, 0.5)}).apex_deg == 30.0
    assert Blade(angle, grind=Grind.SINGLE_BEVEL).apex_deg == 12.0
    assert Blade(angle, grind=Grind.SINGLE_BEVEL_ADDED).apex_deg == pytest.approx(28.0)
    assert Blade({**angle, "micro_bevel": Figure(20.0, 0.5)}).wearing_deg == pytest.approx(26.0)
    assert Blade(angle, grind=Grind.SINGLE_BEVEL_ADDED).wearing_deg == pytest.approx(28.0)


def test_an_older_edge_has_a_larger_radius_unless_the_knife_names_its_own() -> None:
    dull = Kitchen(edge=EdgeState.DULL)
    own = Blade(FRAME, edge_radius_um=Figure(2.0, 0.4))
    plain, kept = sharpened([Blade(FRAME), own], dull)
    assert plain.edge_radius_um == EDGE_RADII_UM[EdgeState.DULL]
    assert kept.edge_radius_um == Figure(2.0, 0.4)


def test_blades_are_grouped_by_what_their_sections_are_built_of() -> None:
    blades = [
        Blade(FRAME),
        Blade(FRAME, grind=Grind.ASYMMETRIC_DOUBLE),
        Blade({**FRAME, "micro_bevel": Figure(20.0, 1.0)}),
        Blade(FRAME, grind=Grind.CONVEX),
        Blade(FRAME, grind=Grind.CONVEX, shaped="right"),
        Blade(FRAME, school=AsymmetrySchool.ANGLE),
    ]
    found = [group.at.tolist() for group in groups(blades)]
    assert found == [[0, 1], [2], [3], [4], [5]]


def test_the_arrays_hold_what_the_blades_say_and_nothing_for_the_unknown() -> None:
    means, spreads = input_arrays([Blade(FRAME), Blade({}, knife_type="serrated")])
    keys = [key for key, _ in INPUTS]
    assert means[0, keys.index("spine_heel")] == 2.2
    assert spreads[0, keys.index("spine_heel")] == 0.02
    assert np.isnan(means[0, keys.index("hardness")])
    assert np.isnan(means[1, keys.index("spine_heel")])
    assert spreads[:, keys.index("food")].tolist() == [FOOD_SCATTER, FOOD_SCATTER]


def test_a_traced_edge_takes_the_place_of_the_types_line() -> None:
    figures = {**FRAME, "edge_length": Figure(210.0, 0.5), "height_mid": Figure(40.0, 0.1)}
    traced = from_stations(210, [(60, 0.0), (105, 2.0), (150, 8.0)], 26.0)
    blade = Blade(figures, traced=traced)
    drawn = outline(blade.figures, "gyuto", 210, blade.traced)
    assert max(drawn.blade) == pytest.approx((210.0, 26.0))
    lines = blade.lines()
    half = np.array([0.5])
    assert float(lines.edge(half)[0]) == pytest.approx(2.0)
    assert float(heights_mm(lines, half)[0]) == pytest.approx(40.0), "the measured height stays"
    plain = replace(blade, traced=None).lines()
    moved = {**figures, "tip_height": Figure(20.0, 0.5), "flat_length": Figure(150.0, 1.0)}
    told = replace(blade, traced=None, figures=moved).lines()
    assert float(told.edge(np.array(1.0))) == pytest.approx(20.0)
    assert float(told.edge(np.array(0.7))) == 0.0
    assert float(plain.edge(np.array(0.7))) > 0.0


def test_which_way_a_side_force_pushes_is_said_as_held() -> None:
    """Mechanics: pressure on the right face pushes left."""
    assert pushed_to(3.0).startswith("pushed to the left")
    assert pushed_to(-3.0).startswith("pushed to the right")
    assert pushed_to(0.1) == "pushed neither way"


@pytest.mark.parametrize("kind", sorted(KNIFE_TYPES))
def test_what_is_refused_is_refused_with_a_reason_for_every_type(kind: str) -> None:
    blade = Blade({}, knife_type=kind)
    for key in PREDICTED:
        assert unavailable(blade, key)
    known = Blade(
        {**FRAME, "hardness": Figure(60.0, 0.5), "edge_angle": Figure(12.0, 0.5)},
        knife_type=kind,
        grind=Grind.SINGLE_BEVEL,
        steel=STEELS["C105U"],
    )
    rod = unavailable(known, "days_to_rod")
    assert rod == "Never use a rod on a single-bevel blade."
    assert GRINDS[known.grind].single_bevel
    assert (unavailable(known, "cutting_force") is None) is KNIFE_TYPES[kind].predicted


def test_every_reading_a_prediction_may_ask_for_is_a_reading() -> None:
    for grind in Grind:
        blade = Blade({**FRAME, "weight": Figure(186.0, 1.0)}, grind=grind, steel=STEELS["C105U"])
        for p in predict([blade], draws=300)[0]:
            step = p.measure_next
            if step and p.central is not None:
                labels = {q.label for q in QUANTITIES.values()} | {"finish of the faces"}
                tried = ("a card test of", "a kitchen log of") if step.trial else tuple(labels)
                assert step.label.startswith(tried)
                assert 0.01 <= step.gain <= 1

"""Predictions: invariants, what makes them unavailable, and how they explain themselves."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from maple_rook.core.cutting.foods import FOODS, STROKES
from maple_rook.core.cutting.force import parts_n
from maple_rook.core.edge_life.retention import Kitchen, RodSchool, Use
from maple_rook.core.edge_life.steels import STEELS, steel
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.edge import AsymmetrySchool
from maple_rook.core.geometry.outline import outline
from maple_rook.core.geometry.section import Section, check_section, flat_section, polygon
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.knife_types import KNIFE_TYPES, knife_type
from maple_rook.core.measurement.uncertainty import Array, Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.prediction.explanation import Prediction
from maple_rook.core.prediction.model_card import Grade
from maple_rook.core.prediction.model_cards import MODEL_CARDS, PREDICTED
from maple_rook.core.prediction.next_step import NextStep
from maple_rook.core.prediction.predict import predict, predict_arrays
from maple_rook.core.routine.checks import contradictions
from maple_rook.core.upkeep.cautions import Place, cautions

FOOD_LIST, PUSH = list(FOODS.values()), [STROKES["push"]]


def blade(**changes: object) -> Blade:
    """An ordinary measured gyuto, with figures or construction changed."""
    figures = {
        "weight": Figure(186.0, 0.6),
        "balance_point": Figure(6.0, 0.6),
        "handle_length": Figure(126.0, 0.3),
        "spine_heel": Figure(2.2, 0.02),
        "spine_mid": Figure(1.8, 0.02),
        "spine_tip": Figure(0.7, 0.02),
        "edge_length": Figure(210.0, 0.3),
        "height_heel": Figure(45.0, 0.07),
        "height_mid": Figure(40.0, 0.07),
        "thickness_behind_edge": Figure(0.30, 0.02),
        "edge_angle": Figure(15.0, 0.6),
        "asymmetry": Figure(50.0, 3.0),
        "hardness": Figure(60.0, 0.9),
    }
    rest = {}
    for key, value in changes.items():
        if value is None:
            figures.pop(key)
        elif isinstance(value, float):
            figures[key] = replace(figures[key], mean=value)
        else:
            rest[key] = value
    return Blade(figures, steel=STEELS["1.4112"], seed=4, **rest)  # type: ignore[arg-type]


def predicted(one: Blade, kitchen: Kitchen | None = None) -> dict[str, Prediction]:
    return {p.key: p for p in predict([one], kitchen, draws=400)[0]}


def central(one: Blade, key: str, kitchen: Kitchen | None = None) -> float:
    value = predicted(one, kitchen)[key].central
    assert value is not None
    return value


def width(p: Prediction) -> float:
    assert p.high is not None
    assert p.low is not None
    return p.high - p.low


def pushed(made: Section, xi: float = 0.0) -> np.ndarray:
    """Force through the middle of every food, N."""
    return np.array([float(parts_n(made, food, 1.0, xi).total) for food in FOOD_LIST])


sections = st.tuples(
    st.floats(1.2, 5.0), st.floats(20, 100), st.floats(0.08, 0.9), st.floats(8, 25)
)


@given(section=sections, share=st.floats(0, 1))
def test_mirroring_the_edge_changes_no_downward_force(
    section: tuple[float, float, float, float], share: float
) -> None:
    right, left = (pushed(flat_section(*section, s)) for s in (share, 1 - share))
    assert np.allclose(right, left)


@given(section=sections, thicker=st.floats(1.0, 1.5))
def test_a_thicker_spine_never_needs_less_force(
    section: tuple[float, float, float, float], thicker: float
) -> None:
    spine, *rest = section
    thin, thick = (pushed(flat_section(spine * by, *rest)) for by in (1.0, thicker))
    assert np.all(thick >= thin - 1e-9)


@given(section=sections, xi=st.floats(0, 3))
def test_slicing_never_needs_more_downward_force_than_pressing(
    section: tuple[float, float, float, float], xi: float
) -> None:
    """Common practice: slice, do not press."""
    pressed, sliced = (pushed(flat_section(*section), by) for by in (0.0, xi))
    assert np.all(sliced <= pressed + 1e-9)


@given(section=sections, share=st.floats(0, 1))
def test_thickness_is_the_spine_at_the_top_and_never_negative(
    section: tuple[float, float, float, float], share: float
) -> None:
    made = flat_section(*section, share)
    z = np.linspace(0, section[1], 60)
    assert np.all(made.thickness_mm(z) >= 0)
    assert float(made.thickness_mm(section[1])) == pytest.approx(section[0])
    assert float(made.thickness_mm(0.0)) == pytest.approx(0)


@settings(max_examples=25)
@given(
    hrc=st.floats(56, 66), harder=st.floats(0, 2), angle=st.floats(10, 20), keener=st.floats(0, 3)
)
def test_harder_or_keener_never_shortens_the_card_test(
    hrc: float, harder: float, angle: float, keener: float
) -> None:
    plain = central(blade(hardness=hrc, edge_angle=angle), "card_test")
    better = central(blade(hardness=hrc + harder, edge_angle=angle - keener), "card_test")
    assert better >= plain - 1e-9


def test_more_hard_carbide_never_shortens_the_card_test() -> None:
    plain = blade()
    richer = replace(plain, steel=STEELS["HS6-5-3"])
    assert central(richer, "card_test") > central(plain, "card_test")


def test_a_rougher_kitchen_never_lengthens_an_interval() -> None:
    line = Kitchen(use=Use.PROFESSIONAL)
    for key in ("days_to_rod", "months_to_stone"):
        assert central(blade(), key, line) < central(blade(), key)


def test_every_interval_holds_its_central_value() -> None:
    for p in predicted(blade()).values():
        assert p.central is not None, p.key
        assert p.low is not None
        assert p.high is not None
        assert p.low <= p.central <= p.high, p.key


def test_better_measuring_narrows_the_prediction() -> None:
    rough = blade()
    fine = replace(rough, figures={**rough.figures, "hardness": Figure(60.0, 0.1)})
    wide, narrow = predicted(rough)["yield_strength"], predicted(fine)["yield_strength"]
    assert wide.low is not None
    assert wide.high is not None
    assert narrow.low is not None
    assert narrow.high is not None
    assert narrow.high - narrow.low < 0.2 * (wide.high - wide.low)


def test_the_same_blade_is_predicted_the_same_twice() -> None:
    assert predict([blade()], draws=200) == predict([blade()], draws=200)


def test_shares_never_add_up_to_much_more_than_all() -> None:
    for p in predict([blade()], draws=3000)[0]:
        assert sum(c.share for c in p.contributions) < 1.1, p.key
        assert [c.share for c in p.contributions] == sorted(
            (c.share for c in p.contributions), reverse=True
        )


def test_every_input_of_a_model_is_listed_also_those_with_no_share() -> None:
    found = predicted(blade())["months_to_stone"]
    listed = {c.key for c in found.contributions}
    assert {"hardness", "edge_angle", "carbides", "kitchen_scatter"} <= listed
    assert next(c.value for c in found.contributions if c.key == "edge_angle").startswith("15")


def test_what_no_type_can_tell_is_named_as_not_measured() -> None:
    found = predicted(blade(spine_heel=None, spine_tip=None, edge_angle=None))
    force = found["force.onion.push"]
    assert force.central is None
    assert force.unavailable == "Not measured: spine at heel."
    assert force.measure_next == NextStep("spine at heel", False, 1.0)
    assert found["distal_taper"].unavailable == "Not measured: spine at heel, spine near tip."
    assert found["card_test"].unavailable == "Not measured: edge angle."
    assert found["yield_strength"].central is not None


@pytest.mark.parametrize(
    ("absent", "target", "label"),
    [
        ("thickness_behind_edge", "cutting_ease", "thickness behind the edge"),
        ("spine_mid", "tip_deflection", "spine at middle"),
        ("handle_length", "swing", "handle length"),
    ],
)
def test_what_the_type_can_tell_is_inferred_said_and_wide(
    absent: str, target: str, label: str
) -> None:
    sure, unsure = predicted(blade())[target], predicted(blade(**{absent: None}))[target]
    assert width(unsure) > 1.5 * width(sure)
    assert not any(label in note for note in sure.notes)
    assert any(note.startswith("Inferred from type") and label in note for note in unsure.notes)
    entry = next(c for c in unsure.contributions if c.label == label)
    assert entry.value.endswith("inferred")
    assert unsure.measure_next
    assert unsure.measure_next.label == label


def test_an_unhardened_blade_is_promised_nothing() -> None:
    """Common practice: below 52 HRC it will not hold an edge, whatever it slices today."""
    found = predicted(blade(hardness=44.0))
    for key in ("days_to_rod", "months_to_stone"):
        assert found[key].central is None
        assert "will not hold an edge" in (found[key].unavailable or "")
    assert any("outside the published range" in n for n in found["card_test"].notes)


def test_a_single_bevel_is_never_given_a_rod() -> None:
    """Common practice."""
    found = predicted(blade(grind=Grind.SINGLE_BEVEL, knife_type="deba"))
    why = found["days_to_rod"].unavailable or ""
    assert why.startswith("Never use a rod on a single-bevel blade. Strop it, about every ")
    assert found["force.onion.push"].central is not None
    assert found["yield_strength"].central is not None


def test_serrated_knives_are_recorded_but_not_predicted() -> None:
    found = predicted(blade(knife_type="serrated"))
    assert "not predicted" in (found["cutting_ease"].unavailable or "")
    assert "not predicted" in (found["months_to_stone"].unavailable or "")


@pytest.mark.parametrize("grind", [Grind.HOLLOW, Grind.CONVEX])
def test_a_curve_nobody_measured_is_the_familys_and_measuring_it_narrows(grind: Grind) -> None:
    guessed = blade(grind=grind)
    made = built(guessed)
    assert made is not None
    up = {
        key: Figure(float(made.heel.thickness_mm(z).item()), 0.01)
        for key, z in (("thickness_5mm", 5.0), ("thickness_10mm", 10.0))
    }
    known = replace(guessed, figures={**guessed.figures, **up})
    wide, narrow = (predicted(b)["cutting_ease"] for b in (guessed, known))
    assert any("curve of the faces" in note for note in wide.notes)
    assert wide.measure_next
    assert wide.measure_next.label == "thickness 10 mm up"
    assert not any("curve of the faces" in note for note in narrow.notes)
    assert 1 - width(narrow) / width(wide) == pytest.approx(wide.measure_next.gain, abs=0.15)
    assert narrow.central == pytest.approx(wide.central, rel=0.02)


@pytest.mark.parametrize(
    ("spine", "said"),
    [(3.0, "tiring"), (4.6, "both hands on the spine"), (7.5, "halve the food first")],
)
def test_a_heavy_cut_says_how_it_is_done(spine: float, said: str) -> None:
    """Common practice: about 125 N with one hand, 155 N with both."""
    heavy = {"spine_mid": spine, "spine_tip": spine, "spine_heel": spine, "edge_angle": 20.0}
    thick = predicted(blade(thickness_behind_edge=0.5, **heavy))
    assert any(said in note for note in thick["force.squash.push"].notes)
    assert not any(said in note for note in thick["force.tomato.push"].notes)


def test_an_asymmetric_edge_steers_and_belongs_to_a_hand() -> None:
    """Common practice: the wider bevel on the right as held is ground for the right hand."""
    right = predicted(blade(asymmetry=70.0))["apex_offset"]
    assert right.central == pytest.approx(-0.06)
    widths = "Asymmetry read as bevel widths."
    assert right.notes == ("steers left; ground for the right hand", widths)
    left = predicted(blade(asymmetry=30.0))["apex_offset"]
    assert left.notes == ("steers right; ground for the left hand", widths)
    assert predicted(blade())["apex_offset"].notes == ("even, does not steer", widths)


def test_both_schools_of_asymmetry_are_heard_and_strokes_compute_nothing() -> None:
    """Common practice: n:m is bevel widths, or a division of the angle, or strokes per side."""
    uneven = blade(asymmetry=70.0)
    angle = predicted(replace(uneven, school=AsymmetrySchool.ANGLE))["apex_offset"]
    # Geometry: 21 and 9 degrees at one height share the shoulder as their tangents.
    tangents = np.tan(np.radians([21.0, 9.0]))
    assert angle.central == pytest.approx(0.15 * (1 - 2 * tangents[0] / tangents.sum()))
    assert "Asymmetry read as a division of the angle." in angle.notes
    strokes = predicted(replace(uneven, school=None))["apex_offset"]
    assert strokes.central == pytest.approx(0.0)
    assert "Asymmetry not measured: taken as 50/50 within 5." in strokes.notes


def test_asymmetry_nobody_compared_is_a_stated_assumption() -> None:
    found = predicted(blade(asymmetry=None))["cutting_ease"]
    assert "Asymmetry not measured: taken as 50/50 within 5." in found.notes


def test_the_shared_kitchen_does_not_hide_which_of_two_knives_lasts_longer() -> None:
    months = predicted(blade())["months_to_stone"]
    own = months.own_figure
    assert own is not None
    assert months.high is not None
    assert months.low is not None
    assert 2 * 1.645 * own.standard_uncertainty < 0.7 * (months.high - months.low)


def test_many_knives_at_once_are_each_predicted_as_alone() -> None:
    knives = [blade(spine_heel=1.6 + 0.2 * i) for i in range(5)]
    together = predict_arrays(knives, draws=200)
    for i, knife in enumerate(knives):
        alone = predict_arrays([knife], draws=200)
        assert np.allclose(together.central[i], alone.central[0], equal_nan=True)
        assert np.allclose(together.low[i], alone.low[0], equal_nan=True)


def test_every_prediction_has_a_card_that_says_where_it_comes_from() -> None:
    used = {p.card.key for p in predicted(blade()).values()}
    assert used == set(PREDICTED)
    for card in MODEL_CARDS.values():
        assert card.equation
        assert card.source
        assert card.valid
        assert card.grade in Grade


def test_impossible_measurements_name_the_two_figures_that_contradict() -> None:
    usual = {
        "spine_heel": 2.2,
        "height_heel": 45.0,
        "thickness_behind_edge": 0.3,
        "edge_angle": 15.0,
    }
    single = {"spine_heel": 4.0, "height_heel": 33.0, "edge_angle": 11.0}
    for slip, grind, both in (
        ({"thickness_behind_edge": 2.4}, Grind.CONVEX, "Thickness behind the edge and spine"),
        (
            {"thickness_behind_edge": 2.0, "edge_angle": 2.0, "height_heel": 20.0},
            Grind.FULL_FLAT,
            "Edge angle and thickness behind the edge",
        ),
        ({"micro_bevel": 12.0}, Grind.FULL_FLAT, "Micro-bevel angle and edge angle"),
        ({"grind_line": 50.0}, Grind.SABRE, "Grind line and height"),
        ({**single, "edge_angle": 5.0}, Grind.SINGLE_BEVEL, "Face angle and spine at heel"),
        ({**single, "hollow_depth": 1.9}, Grind.SINGLE_BEVEL, "Hollow of the back and face angle"),
    ):
        start = single if grind is Grind.SINGLE_BEVEL else usual
        check_section(start, grind)
        with pytest.raises(InvalidValue, match=f"{both} contradict each other"):
            check_section({**start, **slip}, grind)


def test_lengths_that_cannot_add_up_are_found() -> None:
    """Common practice: overall - handle - edge is the gap at heel and bolster, 0 to 25 mm."""
    lengths = {"overall_length": Figure(342, 0.3), "handle_length": Figure(126, 0.3)}
    assert contradictions({**lengths, "edge_length": Figure(209, 0.3)}) == []
    (found,) = contradictions({**lengths, "edge_length": Figure(229, 0.3)})
    assert "leaves -13.0 mm" in found


def test_a_spine_that_grows_toward_the_tip_is_questioned() -> None:
    spines = {"spine_heel": Figure(1.8, 0.02), "spine_mid": Figure(2.2, 0.02)}
    assert "swapped" in contradictions(spines)[0]


@pytest.mark.parametrize("kind", KNIFE_TYPES.values(), ids=lambda k: k.key)
def test_every_type_is_drawn_to_its_measured_length_and_height(kind) -> None:  # type: ignore[no-untyped-def]
    low, high = kind.typical["edge_length"]
    figures = {"edge_length": Figure((low + high) / 2, 0.3), "height_heel": Figure(44.0, 0.1)}
    drawn = outline(figures, kind.key, 210)
    xs, ys = zip(*drawn.blade, strict=True)
    assert max(xs) == pytest.approx((low + high) / 2, abs=0.01)
    assert max(ys) == pytest.approx(44.0, abs=0.01)
    assert min(ys) == pytest.approx(0, abs=0.01)
    assert drawn.assumed == ("handle length", "overall length")


def test_a_measured_middle_height_bends_the_spine_through_it() -> None:
    figures = {"edge_length": Figure(210, 0.3), "height_heel": Figure(46, 0.1)}
    measured = {**figures, "height_mid": Figure(38.0, 0.1)}
    top = max(y for x, y in outline(measured, "gyuto", 210).blade if abs(x - 105) < 3)
    assert top == pytest.approx(38.5, abs=1.0)


def test_an_even_edge_at_zero_share_has_no_doubled_corner() -> None:
    assert len(polygon(flat_section(2.2, 45, 0.3, 15, 0.0))) == 4


def test_cautions_follow_the_blade() -> None:
    """Common practice: cautions by hardness and steel, deferring to local law."""
    hard = cautions(replace(blade(hardness=64.0), steel=STEELS["C105U"]), Place.SHEET)
    assert any("no rocking with a twist" in c for c in hard)
    assert any("rusts" in c for c in hard)
    assert any("local law" in c for c in hard)
    chopper = cautions(replace(blade(hardness=54.0), knife_type="bone_chopper"), Place.CARD)
    assert not any("No bone" in c for c in chopper)


def test_unknown_names_list_the_known_ones() -> None:
    with pytest.raises(InvalidValue, match="gyuto"):
        knife_type("katana")
    with pytest.raises(InvalidValue, match=r"1\.4116"):
        steel("wonder steel")


def test_what_was_measured_is_drawn_and_what_is_assumed_gives_way() -> None:
    """Common practice: a drawing never contradicts the rule that was laid on the knife."""
    measured = {"edge_length": Figure(210, 0.3), "overall_length": Figure(322, 0.5)}
    drawn = outline({**measured, "height_mid": Figure(56.0, 0.1)}, "gyuto", 210)
    assert drawn.overall_length_mm == 322
    assert min(x for x, _ in drawn.handle) == pytest.approx(210 - 322)
    assert drawn.height_heel_mm == 56.0, "never lower at the heel than measured further along"


def test_a_blade_heavier_than_its_knife_is_bounded_by_the_weight_and_told() -> None:
    figures = {
        **{"weight": 95.0, "edge_length": 210.0, "spine_heel": 4.5, "height_heel": 48.0},
        **{"thickness_behind_edge": 0.3, "edge_angle": 15.0},
    }
    blade = Blade({k: Figure(v, 0.01) for k, v in figures.items()})
    found = {p.key: p for p in predict([blade], draws=200)[0]}
    assert found["blade_mass"].central == pytest.approx(85.0)
    assert found["handle_side"].central == pytest.approx(10.0)
    assert any("weight or geometry is wrong" in note for note in found["handle_side"].notes)


def test_a_spine_measured_elsewhere_stands_for_the_middle_and_the_tip() -> None:
    spines = {"spine_heel": 2.4, "spine_at@60 mm from heel": 2.1, "spine_at@5 mm from tip": 0.5}
    known = {key: Figure(v, 0.02) for key, v in spines.items()}
    blade = Blade({**known, "edge_length": Figure(210.0, 0.3)})
    middle, tip = blade.inputs["spine_mid"].figure, blade.inputs["spine_tip"].figure
    assert middle.mean == pytest.approx(2.1 - 1.6 * 45 / 145)
    assert tip.mean == pytest.approx(0.5 + 1.6 * 5 / 145)


@pytest.mark.parametrize(
    ("hrc", "angle"),
    [
        (np.full(221, 58.0), np.linspace(8, 30, 221)),
        (np.full(221, 64.0), np.linspace(8, 30, 221)),
        (np.linspace(52, 67.9, 160), np.full(160, 12.0)),
        (np.linspace(52, 67.9, 160), np.full(160, 18.0)),
    ],
    ids=["angle at 58 HRC", "angle at 64 HRC", "hardness at 12", "hardness at 18"],
)
def test_edge_life_and_its_intervals_bend_nowhere_by_more_than_a_fiftieth(
    hrc: Array, angle: Array
) -> None:
    """A tenth of a degree or of HRC more never makes a step, nor at the ends of a published range.

    Followed over neighbours: what each gains on the one before changes by less than 2 %.
    """
    blades = [
        Blade(
            {"hardness": Figure(float(h), 0.4), "edge_angle": Figure(float(a), 0.5)},
            steel=STEELS["1.4112"],
            seed=1,
        )
        for h, a in zip(hrc, angle, strict=True)
    ]
    keys = ("card_test", "days_to_rod", "months_to_stone")
    found = predict_arrays(
        blades, Kitchen(rods=RodSchool.LIGHT), strokes=(), shares=False, only=keys
    )
    columns = [[t.key for t in found.targets].index(key) for key in keys]
    for limits in (found.central, found.low, found.high):
        gains = np.diff(np.log(limits[:, columns]), axis=0)
        assert np.abs(np.diff(gains, axis=0)).max() < 0.02

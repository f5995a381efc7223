"""What looks wrong on a sheet, fed with the slips of a real bench. All common practice."""

from __future__ import annotations

import pytest

from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.geometry.edge import third_figure
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.observations import Seen
from maple_rook.core.measurement.uncertainty import Figure, figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.prediction.built import built
from maple_rook.core.routine.checks import checks, contradictions
from maple_rook.core.routine.sheet_facts import SheetFacts
from maple_rook.core.routine.stops import KnifeFacts

GYUTO = {
    "weight": 186.0,
    "edge_length": 209.0,
    "blade_length": 214.0,
    "overall_length": 342.0,
    "handle_length": 126.0,
    "spine_heel": 2.12,
    "spine_mid": 1.84,
    "spine_tip": 0.72,
    "height_heel": 46.2,
    "thickness_behind_edge": 0.27,
    "thickness_5mm": 0.50,
    "edge_angle": 15.0,
    "bevel_width_right": 0.62,
    "bevel_width_left": 0.42,
    "asymmetry": 60.0,
    "hardness": 60.2,
}
U = {
    "weight": 0.6,
    "edge_angle": 0.6,
    "asymmetry": 3.0,
    "hardness": 0.4,
    "bevel_width_right": 0.03,
    "bevel_width_left": 0.03,
}


def found(
    changes: dict[str, float],
    *,
    seen: dict[str, str] | None = None,
    claims: dict[str, tuple[float, float]] | None = None,
) -> dict[str, str]:
    """Checks on the gyuto with some readings changed, by key, as their text."""
    figures = {k: Figure(v, U.get(k, 0.02)) for k, v in {**GYUTO, **changes}.items()}
    facts = KnifeFacts("gyuto", seen={(k, ""): Seen(v) for k, v in (seen or {}).items()})
    sheet = SheetFacts(figures, facts, 210.0, claims or {})
    return {c.key: f"{c.text} {c.typed}" for c in checks(sheet)}


def test_a_well_measured_knife_raises_nothing() -> None:
    claims = {"edge_angle": (14.0, 16.0), "asymmetry": (60.0, 60.0)}
    assert found({}, claims=claims) == {}


@pytest.mark.parametrize(
    ("changes", "key", "says"),
    [
        ({"handle_length": 162.0}, "length_budget", "one of the three was misread"),
        ({"blade_length": 205.0}, "edge_against_blade", "swapped"),
        ({"edge_length": 210.0}, "nominal_for_measured", "nominal size to the digit"),
        (
            {"edge_length": 235.0, "blade_length": 240.0, "overall_length": 368.0},
            "nominal_for_measured",
            "25 mm from the nominal",
        ),
        ({"spine_mid": 2.6}, "spine_order", "two spine readings may be swapped"),
        ({"thickness_behind_edge": 0.47}, "third_from_two", "repeat the thickness or the angle"),
        ({"thickness_5mm": 2.5}, "thickness_order", "thickness 5 mm up 2.50 mm is more than"),
        ({"weight": 66.0}, "weight_against_geometry", "weigh again"),
        ({"weight": 386.0}, "weight_against_geometry", "weigh again"),
        ({"height_heel": 31.0}, "height_against_type", "a gyuto has 42 to 54 mm"),
        ({"asymmetry": 40.0}, "handedness", "bevel widths make it 60:40"),
        ({"spine_heel": 0.2}, "section_possible", "at most the spine, 0.2 mm"),
    ],
)
def test_each_slip_is_named_with_its_likely_mend(
    changes: dict[str, float], key: str, says: str
) -> None:
    assert says in found(changes)[key]


def test_an_inclusive_angle_taken_for_per_side_can_be_put_right_with_one_key() -> None:
    claim = {"edge_angle": (15.0, 15.0)}
    assert found({"edge_angle": 30.0}, claims=claim)["angle_against_claim"].endswith("30 incl")
    said = found({"edge_angle": 22.0}, claims=claim)["angle_against_claim"]
    assert "the claim is contradicted" in said


def test_handle_and_grind_are_for_the_same_hand() -> None:
    share = {"asymmetry": 30.0, "bevel_width_right": 0.31, "bevel_width_left": 0.73}
    assert found(share, seen={"handle_shape": "d_right"})["handedness"].endswith("70/30")
    assert "handedness" not in found(share, seen={"handle_shape": "d_left"})


def test_an_even_edge_declared_but_ground_uneven_is_told() -> None:
    share = {"asymmetry": 70.0, "bevel_width_right": 0.73, "bevel_width_left": 0.31}
    said = found(share, claims={"asymmetry": (50.0, 50.0)})
    assert "declared 50:50, found 70:30" in said["handedness"]


def test_a_soft_reading_on_a_clad_blade_is_likely_the_cladding() -> None:
    soft = {"hardness": 28.0}
    assert "cladding_for_core" in found(soft, seen={"construction": "clad_three"})
    assert "cladding_for_core" not in found(soft, seen={"construction": "one_steel"})


def test_the_missing_one_of_three_follows_from_the_other_two() -> None:
    figures = {k: Figure(GYUTO[k], 0.0) for k in ("bevel_width_right", "bevel_width_left")}
    assert third_figure(figures) is None
    key, angle = third_figure({**figures, "thickness_behind_edge": Figure(0.27, 0)}) or ("", None)
    assert angle is not None
    assert (key, angle.mean) == ("edge_angle", pytest.approx(15.05, abs=0.1))
    key, thick = third_figure({**figures, "edge_angle": Figure(15.0, 0)}) or ("", None)
    assert thick is not None
    assert (key, thick.mean) == ("thickness_behind_edge", pytest.approx(0.269, abs=0.001))


def test_the_blades_mass_grows_with_each_of_its_dimensions_and_its_steel() -> None:
    def mass(**changes: float) -> float:
        figures = {k: Figure(v, 0) for k, v in {**GYUTO, **changes}.items()}
        del figures["thickness_5mm"]  # it would keep the face where it is
        made = built(Blade(figures, "gyuto", steel=steel))
        assert made is not None
        return made.mass_g

    steel = STEELS["1.4112"]
    for key, larger in (("edge_length", 240.0), ("height_heel", 50.0), ("spine_heel", 3.0)):
        assert mass(**{key: larger}) > mass()
    stainless, steel = mass(), STEELS["C105U"]
    assert mass() / stainless == pytest.approx(7.85 / 7.75)


def test_a_reading_of_another_place_among_the_repeats_is_not_averaged_away_unseen() -> None:
    near, far = (figure([145.0, other], 0.5, 0.5, 0.3) for other in (146.0, 175.0))
    facts = KnifeFacts("gyuto")
    assert checks(SheetFacts({"handle_length": near}, facts)) == []
    (said,) = checks(SheetFacts({"handle_length": far}, facts))
    assert said.wrong == "the 2 readings of handle length are 30 mm apart"


@pytest.mark.parametrize(
    ("grind", "changes", "key", "says"),
    [
        (Grind.FULL_FLAT, {"thickness_10mm": 1.2}, "faces_against_grind", "bulge outward"),
        (
            Grind.FULL_FLAT,
            {"thickness_10mm": 0.40, "thickness_5mm": 0.36},
            "faces_against_grind",
            "are hollow",
        ),
        (
            Grind.SABRE,
            {"thickness_10mm": 0.62, "grind_line": 22.0},
            "faces_against_grind",
            "a sabre grind has",
        ),
        (
            Grind.CONVEX,
            {"thickness_5mm": 0.9, "thickness_10mm": 0.92},
            "thicknesses_of_one_face",
            "one face through all that is measured",
        ),
        (Grind.SABRE, {"grind_line": 60.0}, "section_possible", "Grind line and height"),
        (
            Grind.FULL_FLAT,
            {"micro_bevel": 14.0},
            "section_possible",
            "Micro-bevel angle and edge angle",
        ),
        (Grind.SINGLE_BEVEL, {"edge_angle": 2.5}, "section_possible", "Face angle and spine"),
    ],
)
def test_figures_that_no_section_of_the_grind_has(
    grind: Grind, changes: dict[str, float], key: str, says: str
) -> None:
    """Geometry: straight faces fix every thickness; a shinogi line lies below the spine."""
    figures = {k: Figure(v, 0.02) for k, v in {**GYUTO, **changes}.items()}
    told = {c.key: c.text for c in checks(SheetFacts(figures, KnifeFacts("gyuto", grind), 210.0))}
    assert says in told[key]


def test_a_curved_family_may_have_any_thickness_up_the_face() -> None:
    for thick in (0.40, 1.2):
        figures = {k: Figure(v, 0.02) for k, v in {**GYUTO, "thickness_10mm": thick}.items()}
        facts = KnifeFacts("gyuto", Grind.CONVEX)
        told = {c.key for c in checks(SheetFacts(figures, facts, 210.0))}
        assert "faces_against_grind" not in told


def test_only_what_can_never_be_is_a_contradiction() -> None:
    figures = {k: Figure(v, 0.02) for k, v in GYUTO.items()}
    assert contradictions(figures) == []
    assert contradictions({**figures, "height_heel": Figure(31.0, 0.1)}) == []
    assert contradictions({**figures, "spine_mid": Figure(2.6, 0.02)}) != []

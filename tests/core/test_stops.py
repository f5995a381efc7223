"""The order of work adapts to the knife, and closed lists stay closed."""

from __future__ import annotations

import pytest

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.instruments import INSTRUMENT_KINDS
from maple_rook.core.measurement.knife_types import KNIFE_TYPES
from maple_rook.core.measurement.observations import ITEMS, NOT_APPLICABLE, Seen, checked_value
from maple_rook.core.measurement.quantities import QUANTITIES
from maple_rook.core.measurement.quantity import STOPS
from maple_rook.core.measurement.time_on_task import worked_seconds
from maple_rook.core.routine.stops import Asked, KnifeFacts, asked, required_quantities, stop_states


def keys(knife_type: str = "gyuto", grind: Grind = Grind.FULL_FLAT, **seen: str) -> set[str]:
    facts = KnifeFacts(knife_type, grind, seen={(k, ""): Seen(v) for k, v in seen.items()})
    return {a.key for a in asked(facts)}


def test_there_are_thirteen_stops_and_each_asks_something() -> None:
    assert len(STOPS) == 13
    stops = [a.stop for a in asked(KnifeFacts("gyuto"))]
    assert list(dict.fromkeys(stops)) == list(STOPS)
    assert {q.stop for q in QUANTITIES.values()} | {i.stop for i in ITEMS.values()} == set(STOPS)
    assert {q.instrument for q in QUANTITIES.values()} <= set(INSTRUMENT_KINDS)


def test_a_single_bevel_is_asked_for_its_face_and_back() -> None:
    single = asked(KnifeFacts("single_bevel_slicer", Grind.SINGLE_BEVEL))
    labels = {a.key: a.label for a in single}
    assert labels["edge_angle"] == "face angle"
    assert "hollow_depth" in labels
    assert "bevel_width_left" not in labels
    assert "hollow_depth" not in keys()


def test_a_clad_blade_is_asked_for_core_exposure_as_soon_as_it_is_seen_to_be_clad() -> None:
    of_clad = {"core_exposure", "hardness_cladding", "cladding_reactivity"}
    assert of_clad <= keys(construction="clad_three")
    assert not of_clad & keys(construction="one_steel")
    described = KnifeFacts("gyuto", construction="reactive core in iron cladding, three layers")
    assert of_clad <= {a.key for a in asked(described)}


def test_a_bolster_stands_proud_only_where_one_was_seen() -> None:
    """Common practice: stamped blades may have one welded or moulded on."""
    assert "bolster" in keys(making="stamped")
    assert "bolster_proud" not in keys(making="stamped")
    assert "bolster_proud" in keys(making="stamped", bolster="half")
    assert "bolster_proud" not in keys(bolster="none")
    assert "rivets" not in keys(handle_shape="octagonal")


def test_a_serrated_edge_has_no_single_angle_and_a_broad_blade_three_heights() -> None:
    assert "edge_angle" not in keys("serrated")
    assert {"height_mid", "height_front"} <= set(required_quantities("nakiri", Grind.FULL_FLAT))
    assert "height_front" not in required_quantities("gyuto", Grind.FULL_FLAT)


@pytest.mark.parametrize("kind", KNIFE_TYPES)
@pytest.mark.parametrize("grind", Grind)
def test_no_question_is_asked_twice(kind: str, grind: Grind) -> None:
    found = [a.key for a in asked(KnifeFacts(kind, grind))]
    assert len(found) == len(set(found))


def test_not_applicable_wants_a_reason_and_is_then_no_longer_missing() -> None:
    with pytest.raises(InvalidValue, match="with a reason"):
        checked_value("balance_point", "", NOT_APPLICABLE, " ")
    facts = KnifeFacts(
        "gyuto",
        seen={
            ("balance_point", ""): Seen(
                checked_value("balance_point", "", NOT_APPLICABLE, "no guard"), "no guard"
            )
        },
    )
    assert "balance_point" not in {a.key for a in asked(facts) if a.required}


@pytest.mark.parametrize(
    ("item", "aspect", "value", "note", "says"),
    [
        ("tang", "", "sideways", "", "full, hidden, bent_over, partial"),
        ("tang", "left", "full", "", "side or stroke"),
        ("tang", "", "full,hidden", "", "one choice"),
        ("rivets", "left", "", "", "fine, minor, mend, reject"),
        ("to_mend", "", "", "", "a note in words"),
        ("weight", "", "heavy", "", "a reading"),
        ("sharpness", "", "good", "", "claims_copied"),
        ("check.length_budget", "", "gone", "", "stands"),
        ("tang", "", "full", "x" * 401, "at most 400 characters"),
    ],
)
def test_observations_keep_to_their_lists(
    item: str, aspect: str, value: str, note: str, says: str
) -> None:
    with pytest.raises(InvalidValue, match=says):
        checked_value(item, aspect, value, note)


def test_several_choices_are_kept_in_the_lists_order() -> None:
    assert checked_value("surface", "", "layered,brushed,layered", "") == "brushed,layered"
    assert checked_value("cut_onion", "push", "tearing,wedging", "") == "wedging,tearing"


def test_stops_are_done_begun_doubtful_missing_or_not_applicable() -> None:
    questions = [
        Asked("weight", "weigh", "", observed=False, required=True),
        Asked("spine_heel", "spine", "", observed=False, required=True),
        Asked("spine_mid", "spine", "", observed=False, required=True),
        Asked("tang", "balance", "", observed=True, required=False),
        Asked("rivets", "finish", "", observed=True, required=False),
        Asked("hardness", "hardness", "", observed=False, required=True),
    ]
    facts = KnifeFacts("gyuto", seen={("rivets", ""): Seen(NOT_APPLICABLE, "none")})
    answered = {"weight", "spine_heel", "tang", "hardness", "rivets"}
    states = stop_states(questions, answered, {"hardness"}, facts)
    assert {k: states[k] for k in ("weigh", "spine", "balance", "finish", "hardness", "edge")} == {
        "weigh": "done",
        "spine": "begun",
        "balance": "done",
        "finish": "not applicable",
        "hardness": "doubtful",
        "edge": "missing",
    }


def test_breaks_do_not_count_as_work() -> None:
    assert worked_seconds([]) == 0
    assert worked_seconds([100, 0, 160]) == 160
    assert worked_seconds([0, 60, 3660, 3720]) == 120

"""Each check of the Bench fed a realistic slip over the API: what is wrong, and its likely mend."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient

from stations.test_bench import new_piece, reading, refused, state_of, take

WELL = [("edge_length", "209.4"), ("overall_length", "342"), ("handle_length", "126")]


@pytest.fixture
def sheet(api: TestClient) -> int:
    return int(new_piece(api)["id"])


@pytest.mark.parametrize(
    ("slip", "wrong", "mend"),
    [
        ([("edge_length", "229"), *WELL[1:]], "at heel and bolster", "one of the three"),
        ([("edge_length", "210")], "nominal size to the digit", "read it again"),
        ([("spine_heel", "1.84"), ("spine_mid", "2.12")], "grows toward the tip", "swapped"),
        (
            [
                ("bevel_width_right", "0.62"),
                ("bevel_width_left", "0.62"),
                ("edge_angle", "15"),
                ("thickness_behind_edge", "0.55"),
            ],
            "make 0.32 mm behind the edge",
            "repeat the thickness or the angle",
        ),
        (
            [
                *WELL,
                ("spine_heel", "2.12"),
                ("spine_tip", "0.72"),
                ("height_heel", "46.2"),
                ("weight", "61"),
            ],
            "for the handle",
            "weigh again",
        ),
        ([("edge_angle", "20")], "against the maker's 15", "measure at three places"),
        ([("height_heel", "32")], "a gyuto has 42 to 54 mm", "type was chosen wrong"),
        (
            [("bevel_width_right", "0.35"), ("bevel_width_left", "0.80"), ("asymmetry", "70/30")],
            "bevel widths make it 30:70",
            "compare the faces again",
        ),
    ],
    ids=["lengths", "nominal", "spine", "third from two", "weight", "claim", "height", "hand"],
)
def test_a_slip_is_said_with_its_why_and_mend(
    api: TestClient, sheet: int, slip: list[tuple[str, str]], wrong: str, mend: str
) -> None:
    for quantity, typed in slip:
        take(api, sheet, reading(quantity, typed, confirmed=True))
    found = [c for c in state_of(api, sheet)["checks"] if wrong in c["wrong"]]
    assert len(found) == 1
    assert mend in found[0]["mend"]
    assert found[0]["why"]
    assert not found[0]["stands"]


@pytest.mark.parametrize(
    ("quantity", "typed", "kind", "suggested", "base"),
    [
        ("weight", "6.9", "unusual-value", "6.9 oz", 195.6),
        ("spine_heel", "0.083", "invalid-value", "0.083 in", 2.108),
        ("edge_angle", "30", "unusual-value", "30 incl", 15.0),
    ],
)
def test_a_unit_slip_comes_with_the_likely_reading(
    api: TestClient, sheet: int, quantity: str, typed: str, kind: str, suggested: str, base: float
) -> None:
    problem = refused(api, sheet, reading(quantity, typed))
    assert (problem["type"], problem["suggestion"]) == (kind, suggested)
    (kept,) = take(api, sheet, reading(quantity, suggested, confirmed=True))["readings"]
    assert (kept["typed"], kept["si_value"]) == (suggested, pytest.approx(base, abs=0.1))

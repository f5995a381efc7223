"""A knife said aloud: in measuring order, with the digits that are known, and nothing made up."""

from __future__ import annotations

import pytest
from fastapi.testclient import TestClient
from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.core.edge_life.steels import STEELS
from maple_rook.core.measurement.grinds import Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.routine.script import said, script
from maple_rook.demo.stock import STOCK
from maple_rook.store.tables import Piece

TAGS = [model.pieces[0].tag for model in STOCK]


@pytest.fixture
def ids(db: Session) -> dict[str, int]:
    return {piece.tag: piece.id for piece in db.scalars(select(Piece))}


def script_of(api: TestClient, piece: int, **kitchen: str) -> list[str]:
    answer = api.get(f"/api/pieces/{piece}/script.txt", params=kitchen)
    assert answer.status_code == 200
    assert answer.headers["content-type"].startswith("text/plain")
    return answer.text.splitlines()


def test_it_goes_round_the_knife_as_the_bench_does(api: TestClient, ids: dict[str, int]) -> None:
    lines = script_of(api, ids["KH-01"])
    order = [
        "Kesterby Harbour gyuto 210",
        "One steel, stainless; steel 1.4112",
        "It weighs",
        "The edge is",
        "The spine, in millimetres",
        "At the heel it is",
        "Behind the edge",
        "degrees per side",
        "Hardness:",
        "It balances",
        "Estimated, not measured",
    ]
    places = [next(i for i, line in enumerate(lines) if words in line) for words in order]
    assert places == sorted(places)
    text = "\n".join(lines)
    assert "ounces" in text
    assert "inclusive" in text
    assert "Not measured" not in text
    assert "never a promise that a cut is safe" in text


def test_a_claim_that_does_not_hold_is_said_with_what_was_read(
    api: TestClient, ids: dict[str, int]
) -> None:
    (line,) = (s for s in script_of(api, ids["TT-16"]) if s.startswith("The box says hardness"))
    assert "58 HRC" in line
    assert not any(s.startswith("The box says") for s in script_of(api, ids["BF-16"]))


def test_the_kitchen_is_named_beside_the_months(api: TestClient, ids: dict[str, int]) -> None:
    home = next(s for s in script_of(api, ids["KH-01"]) if s.startswith("Estimated"))
    busy = next(
        s for s in script_of(api, ids["KH-01"], use="professional") if s.startswith("Estimated")
    )
    assert "between stones, home use, " in home
    assert "between stones, professional use, " in busy
    assert home != busy


def test_what_nobody_measured_is_said_once_and_not_guessed(
    api: TestClient, ids: dict[str, int]
) -> None:
    lines = script_of(api, ids["QP-23"])
    (missed,) = (line for line in lines if line.startswith("Not measured:"))
    assert "edge angle" in missed
    assert "hardness" not in missed
    assert "Estimated, not measured: hardness." in lines
    assert any(line.startswith("Hardness: about 62") for line in lines)
    assert not any("between stones" in line for line in lines)


@pytest.mark.parametrize("tag", TAGS)
def test_every_knife_can_be_presented(api: TestClient, ids: dict[str, int], tag: str) -> None:
    lines = script_of(api, ids[tag])
    assert tag in lines[0]
    assert all(line == "" or line.endswith(".") for line in lines)
    assert not any(word in line for line in lines for word in ("nan", "None", "--", "{"))


def test_hands_ratios_and_minus_signs_are_words() -> None:
    figures = {
        "edge_angle": Figure(11.0, 0.2),
        "asymmetry": Figure(0.0, 1.0),
        "balance_point": Figure(-12.0, 0.5),
    }
    left = Blade(figures, grind=Grind.SINGLE_BEVEL, steel=STEELS["C105U"])
    text = " ".join(script(left, "reactive core"))
    assert "One face only is ground, at 11.0 degrees, for the left hand." in text
    assert "12.0 millimetres behind the heel" in text
    assert "thickness behind the edge" not in text
    uneven = Blade({**figures, "asymmetry": Figure(70.0, 1.0)})
    assert any(
        "ground 70 to 30, for the right hand" in line for line in script(uneven, "one steel")
    )
    assert "steel not known" in script(uneven, "one steel")[0]
    assert said(Figure(187.3, 0.8)) == "187"

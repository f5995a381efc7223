"""Drafts say what the record holds and no more; points rest on real differences."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.choosing.comparing import ClaimVerdict
from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.upkeep.finish_work import Shelf
from maple_rook.core.writing.disclosure import Disclosure, Obtained
from maple_rook.core.writing.draft import Facts, SeenFact, draft
from maple_rook.core.writing.fields import (
    LiveFigure,
    check_fields,
    fields_in,
    filled,
    since_then,
)
from maple_rook.core.writing.parts import WriteUpPart
from maple_rook.core.writing.points import (
    Beside,
    Record,
    ToldClaim,
    against_others,
    from_the_record,
)

WEIGHT = LiveFigure("weight", "weight", "187 ± 1 g", "M", "g", 187.0, 1.0)
EASE = LiveFigure("cutting_ease", "cutting ease", "99 to 108, likely 103", "P", "", 103.0, 5.0)


def facts(**more: object) -> Facts:
    known = {"name": "Harbour gyuto 210", "kind": "gyuto", "condition": "new", "grind": "full flat"}
    return Facts(**{**known, **more})  # type: ignore[arg-type]


def said(of: Facts, part: WriteUpPart) -> str:
    return " ".join("".join(w.text for w in filled(p, of.figures)) for p in draft(of)[part])


def test_a_knife_of_which_nothing_is_known_gets_no_figure() -> None:
    parts = draft(facts())
    assert parts[WriteUpPart.GLANCE] == ["Harbour gyuto 210 is a new gyuto with a full flat grind."]
    assert parts[WriteUpPart.METHOD][0] == "Nothing was measured yet."
    empty = {WriteUpPart.HAND, WriteUpPart.BOARD, WriteUpPart.EDGE_LIFE, WriteUpPart.VALUE}
    assert all(parts[part] == [] for part in empty)
    assert not any("not measured" in text for texts in parts.values() for text in texts)


def test_figures_stand_in_the_draft_as_the_record_says_them() -> None:
    of = facts(figures={f.key: f for f in (WEIGHT, EASE)})
    assert "It weighs 187 ± 1 g." in said(of, WriteUpPart.GLANCE)
    assert "likely 103, an ordinary knife being 100" in said(of, WriteUpPart.BOARD)
    assert "Hardness" not in said(of, WriteUpPart.BLADE)


def test_what_was_seen_and_has_to_be_mended_is_told() -> None:
    of = facts(
        seen=[
            SeenFact("rivets", "rivets", "finish", "mend", "mend before sale", "one burr"),
            SeenFact("tip", "tip", "finish", "fine", "fine"),
            SeenFact("packaging", "packaging", "finish", "minor", "minor", "no edge guard"),
        ],
        shelf=Shelf.NEEDS_WORK,
        work=["Rivets: one burr"],
    )
    assert said(of, WriteUpPart.FINISH) == (
        "Without a fault: tip. Rivets: to mend before sale (one burr)."
    )
    assert "a small fault (no edge guard)" in said(of, WriteUpPart.ARRIVAL)
    assert said(of, WriteUpPart.FIRST_USE).startswith("Before it is used: rivets: one burr.")


def test_a_field_nobody_knows_is_refused_by_name() -> None:
    check_fields("It weighs {weight}.", {"weight": "weight"})
    with pytest.raises(InvalidValue, match=r"\{wieght\}"):
        check_fields("It weighs {wieght}.", {"weight": "weight"})


@given(st.text(max_size=80))
def test_filling_in_loses_nothing_of_a_text(text: str) -> None:
    words = filled(text, {})
    joined = "".join(f"{{{w.figure}}}" if w.figure else w.text for w in words)
    assert joined == text
    assert [w.figure for w in words if w.figure and w.text == "not measured"] == [
        w.figure for w in words if w.figure
    ]
    assert set(fields_in(text)) == {w.figure for w in words if w.figure}


def test_only_a_change_beyond_both_uncertainties_is_told_as_one() -> None:
    """U of a difference is the root of the sum of squares (JCGM 100:2008, 5.1.2)."""

    def other(value: float) -> dict[str, LiveFigure]:
        text = f"{value:g} ± 1 g"
        return {"weight": LiveFigure("weight", "weight", text, "M", "g", value, 1.0)}

    assert since_then([WEIGHT], {"weight": WEIGHT}) == []
    assert [s.moved for s in since_then([WEIGHT], other(188.4))] == [False]
    assert [s.moved for s in since_then([WEIGHT], other(188.5))] == [True]
    assert [s.now for s in since_then([WEIGHT], {})] == ["not measured"]


def gyuto(tag: str, ease: float, price: float, u: float = 3.0) -> Beside:
    return Beside(tag, {"cutting_ease": Figure(ease, u / 2), "price": Figure(price, 0.0)})


def test_points_need_enough_others_and_real_differences() -> None:
    mine = gyuto("A", 120, 150)
    others = [gyuto(f"B{n}", 95 + n, 150 + n) for n in range(4)]
    points = against_others(mine, others, "gyuto")
    assert [(p.key, p.good) for p in points] == [("cutting_ease", True)]
    assert "than 4 of 4 other gyutos on the shelf" in points[0].text
    assert points[0].evidence == ("cutting_ease", "B0", "B1", "B2", "B3")
    assert against_others(mine, others[:2], "gyuto") == []
    vague = [gyuto(o.tag, o.figures["cutting_ease"].mean, 150, u=30) for o in others]
    assert against_others(mine, vague, "gyuto") == []


@given(st.lists(st.floats(60, 160), min_size=3, max_size=12), st.floats(60, 160))
def test_no_point_is_made_both_ways(others: list[float], mine: float) -> None:
    beside = [gyuto(f"B{n}", ease, 100) for n, ease in enumerate(others)]
    points = against_others(gyuto("A", mine, 100), beside, "gyuto")
    assert len({p.key for p in points}) == len(points)
    for point in points:
        better = sum(ease < mine for ease in others)
        assert point.good is (better > len(others) / 2)


def claim(key: str, verdict: ClaimVerdict) -> ToldClaim:
    return ToldClaim(key, key, "60 HRC", verdict, "57.2 ± 1.1 HRC", "1.8 HRC below 59, U 1.1")


def test_a_claim_that_does_not_hold_speaks_against_and_hides_those_that_do() -> None:
    wrong = claim("hardness", ClaimVerdict.CONTRADICTED)
    held = claim("weight", ClaimVerdict.CONFIRMED)
    points = from_the_record(Record(claims=[wrong, held]))
    assert [(p.key, p.good) for p in points] == [("claim.hardness", False)]
    assert "measures 57.2 ± 1.1 HRC" in points[0].text
    assert [p.good for p in from_the_record(Record(claims=[held]))] == [True]
    assert from_the_record(Record(claims=[claim("weight", ClaimVerdict.UNDECIDED)])) == []


@pytest.mark.parametrize("obtained", list(Obtained))
def test_a_disclosure_is_whole_or_says_what_it_lacks(obtained: Obtained) -> None:
    whole = Disclosure(obtained, "the maker", True, "a sponsor", True, "the maker", True)
    assert whole.missing == []
    assert len(whole.sentences) == 4
    assert "A sponsor paid for this review." in whole.sentences
    assert len(Disclosure().missing) == 4
    lacking = Disclosure(obtained, "", True, "", True, "", False).missing
    assert "who paid for the review" in lacking
    assert ("who lent or gave the knife" in lacking) is (
        obtained in (Obtained.LENT, Obtained.GIVEN)
    )

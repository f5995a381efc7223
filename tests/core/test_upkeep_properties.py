"""What holds of every grind, set-up and plan, whatever the figures."""

from __future__ import annotations

import datetime as dt

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from maple_rook.core.edge_life.retention import RodSchool
from maple_rook.core.errors import InvalidValue
from maple_rook.core.geometry.section import section
from maple_rook.core.measurement.grinds import GRINDS, Grind
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.prediction.blade import Blade
from maple_rook.core.upkeep.finish_work import METHODS, Fault, Shelf, faults, repairs, shelf_state
from maple_rook.core.upkeep.grinding import STONES, steps
from maple_rook.core.upkeep.plan import DueState, EdgeCare, Interval, last_stone, plan, state
from maple_rook.core.upkeep.reprofile import Faces, Wanted, faces_of, reground
from maple_rook.core.upkeep.reprofile_plan import reprofile_plan
from maple_rook.core.upkeep.setup import angle_of_lift_deg, lift_mm, strokes
from maple_rook.core.upkeep.sharpening_tools import RODS, Leave, Tool, rod_for, rules
from maple_rook.core.upkeep.wear import Count, LifeCounts, Limits, life_counts

DOUBLE = [g for g in Grind if not GRINDS[g].single_bevel]
DAY = dt.date(2026, 3, 2)
RODDABLE = Interval(5.0, 3.0, 8.0)
MONTHS = Interval.of_months(3.0, 2.0, 4.5)


def blade(hrc: float, grind: Grind = Grind.FULL_FLAT, share: float = 50.0, **more: float) -> Blade:
    found = {
        "hardness": hrc,
        "edge_length": 210.0,
        "spine_heel": 2.2,
        "height_heel": 46.0,
        "thickness_behind_edge": 0.28,
        "edge_angle": 15.0,
        "asymmetry": share,
    }
    found |= more
    return Blade({k: Figure(v, 0.02) for k, v in found.items()}, grind=grind)


@st.composite
def edges(draw: st.DrawFn) -> Faces:
    spine = draw(st.floats(1.4, 5))
    behind = draw(st.floats(0.08, min(0.7, 0.5 * spine)))
    return faces_of(
        section(
            draw(st.sampled_from(DOUBLE)),
            spine,
            draw(st.floats(26, 90)),
            behind,
            draw(st.floats(10, 24)),
            draw(st.floats(0.2, 0.8)),
        )
    )


@given(edges(), st.floats(8, 28), st.none() | st.floats(0.2, 0.8))
def test_nothing_is_ever_put_back(faces: Faces, angle: float, share: float | None) -> None:
    """Removed area is never negative, the blade never taller or thinner than nothing."""
    try:
        found = reground(faces, Wanted(angle, share))
    except InvalidValue:
        assume(False)
    assert min(found.areas_mm2) >= 0
    assert found.height_lost_mm >= -1e-9
    assert found.faces.behind_edge_mm > 0
    if share is not None:
        right, left = found.faces.bevel_widths_mm
        assert right / (right + left) == pytest.approx(share, abs=1e-4)


@given(edges(), st.floats(8, 12), st.floats(0.1, 0.9))
def test_two_grinds_take_as_much_as_one(faces: Faces, last: float, part: float) -> None:
    """Lowering the angle by steps removes in all what going there at once does."""
    first = max(last, last + part * 4)
    try:
        at_once = reground(faces, Wanted(last))
        before = reground(faces, Wanted(first))
        after = reground(before.faces, Wanted(last))
    except InvalidValue:
        assume(False)
    assume(before.height_lost_mm == 0 and at_once.height_lost_mm == 0)
    together = [a + b for a, b in zip(before.areas_mm2, after.areas_mm2, strict=True)]
    assert together == pytest.approx(at_once.areas_mm2, abs=1e-7)


@given(st.floats(15, 120), st.floats(0.8, 9), st.floats(5, 34), st.floats(0.1, 10))
def test_a_lower_angle_never_needs_more_lift(
    height: float, spine: float, angle: float, less: float
) -> None:
    lower = max(angle - less, 1.0)
    assert lift_mm(height, spine, lower) <= lift_mm(height, spine, angle)
    back = angle_of_lift_deg(height, spine, lift_mm(height, spine, angle))
    assert float(back) == pytest.approx(angle)


@given(st.floats(0, 200), st.floats(50, 900), st.floats(0.4, 1.3))
def test_volumes_of_the_stones_add_up_and_none_is_negative(
    volume: float, bevels: float, pace: float
) -> None:
    taken = steps(volume, bevels, STONES, pace)
    assert sum(s.volume_mm3 for s in taken) == pytest.approx(volume)
    assert min(s.volume_mm3 for s in taken) >= 0
    assert [s.stone.grit for s in taken] == sorted(s.stone.grit for s in taken)


@given(st.floats(0, 1))
def test_strokes_are_few_and_near_the_share_of_either_hand(share: float) -> None:
    right, left = strokes(share)
    assert 1 <= right + left <= 12
    assert abs(right / (right + left) - share) <= 1 / 12
    if share != 0.5:
        assert strokes(1 - share) == (left, right)


@given(
    st.floats(48, 68),
    st.sampled_from([g for g in Grind if GRINDS[g].single_bevel]),
    st.sampled_from(RodSchool),
    st.booleans(),
    st.floats(1, 40),
)
def test_no_plan_ever_has_a_rod_for_a_single_bevel(
    hrc: float, grind: Grind, school: RodSchool, strop: bool, days: float
) -> None:
    knife = blade(hrc, grind, 100.0, edge_angle=12.0, spine_heel=3.6, height_heel=34.0)
    rod = rod_for(knife, school)
    assert rod is None
    assert {r.leave for r in rules(knife, school) if r.tool in RODS} == {Leave.NEVER}
    dates = plan(DAY, MONTHS, Interval(days, days / 2, days * 2), rod, None, strop_instead=strop)
    assert EdgeCare.ROD not in {d.care for d in dates}


def test_rods_by_hardness_and_school() -> None:
    """Common practice: steel to 58, fine ceramic above, two schools from 62."""

    def leaves(hrc: float, school: RodSchool) -> tuple[Leave, Leave]:
        found = {r.tool: r.leave for r in rules(blade(hrc), school)}
        return found[Tool.STEEL_ROD], found[Tool.CERAMIC_ROD]

    for school in RodSchool:
        assert leaves(56, school) == (Leave.YES, Leave.YES)
        assert leaves(60, school) == (Leave.NEVER, Leave.LIGHTLY)
    assert leaves(64, RodSchool.NONE) == (Leave.NEVER, Leave.NEVER)
    assert leaves(64, RodSchool.LIGHT) == (Leave.NEVER, Leave.LIGHTLY)
    unknown = Blade({"edge_angle": Figure(15, 0.1)})
    assert rod_for(unknown, RodSchool.LIGHT) is None


def test_no_slot_for_any_edge_and_the_reason_is_its_own() -> None:
    """Common practice: a pull-through ruins uneven edges and single bevels."""
    single = blade(62, Grind.SINGLE_BEVEL, 100.0)
    for knife, words in (
        (blade(56), "not this knife's"),
        (blade(60, share=70.0), "ratio is gone"),
        (single, "end of a single bevel"),
    ):
        slot = next(r for r in rules(knife, RodSchool.NONE) if r.tool is Tool.PULL_THROUGH)
        assert slot.leave is Leave.NEVER
        assert words in slot.why
    serrated = Blade({"edge_angle": Figure(15, 0.1)}, knife_type="serrated")
    assert {r.leave for r in rules(serrated, RodSchool.LIGHT)} == {Leave.NEVER}


def test_a_plan_counts_stones_and_says_when_to_thin_and_file() -> None:
    counts = LifeCounts(Count(2.2, 1.5, 3), Count(3.0, 2, 4), Count(50, 30, 80))
    knife = blade(57)
    dates = plan(DAY, MONTHS, RODDABLE, rod_for(knife, RodSchool.NONE), counts)
    stones = [d for d in dates if d.care is EdgeCare.STONE]
    assert len(stones) == 4  # a year of three months each
    assert [d.on for d in dates if d.care is EdgeCare.THIN] == [stones[1].on]
    assert [d.on for d in dates if d.care is EdgeCare.FILE_BOLSTER] == [stones[2].on]
    assert all(d.earliest <= d.on <= d.latest for d in dates)
    rod = next(d for d in dates if d.care is EdgeCare.ROD)
    assert (rod.every_days, rod.words) == (5, "grooved steel rod")
    first = stones[0]
    assert state(first, first.earliest - dt.timedelta(days=1)) is DueState.RESTS
    assert state(first, first.latest) is DueState.DUE
    assert state(first, first.latest + dt.timedelta(days=1)) is DueState.OVERDUE


def test_a_hard_edge_is_stropped_by_the_school_without_rods() -> None:
    hard = blade(64)
    dates = plan(DAY, MONTHS, RODDABLE, rod_for(hard, RodSchool.NONE), None, strop_instead=True)
    assert {d.care for d in dates} == {EdgeCare.STROP, EdgeCare.STONE}
    lightly = plan(DAY, MONTHS, RODDABLE, rod_for(hard, RodSchool.LIGHT), None, strop_instead=True)
    assert next(d.words for d in lightly if d.care is EdgeCare.ROD) == "fine ceramic rod, lightly"
    assert plan(DAY, None, None, None, None) == []


def test_the_newest_stone_begins_the_count() -> None:
    log = [
        (DAY + dt.timedelta(days=9), EdgeCare.STONE),
        (DAY + dt.timedelta(days=30), EdgeCare.ROD),
        (DAY - dt.timedelta(days=9), EdgeCare.THIN),
    ]
    assert last_stone(log, DAY) == DAY + dt.timedelta(days=9)
    assert last_stone([], DAY) == DAY


def test_counts_of_a_worn_blade() -> None:
    faces = faces_of(section(Grind.FULL_FLAT, 2.2, 46, 0.28, 15))
    rate = Figure(0.05, 0.01)

    def counted(**more: float | bool) -> LifeCounts:
        usual: dict[str, float | bool] = {
            "thickened_mm": 0.0,
            "height_now_mm": 46.0,
            "height_new_mm": 46.0,
            "lowered_since_filed_mm": 0.0,
            "full_bolster": True,
            "single_bevel": False,
        }
        return life_counts(faces, rate, Limits(), **(usual | more))  # type: ignore[arg-type]

    new, thick = counted(), counted(thickened_mm=0.08)
    assert new.thinning is not None
    assert thick.thinning is not None
    assert thick.thinning.central < new.thinning.central / 4
    assert new.bolster is not None
    assert new.bolster.central == pytest.approx(6)
    assert new.end.central == pytest.approx(0.2 * 46 / 0.05)
    assert counted(height_now_mm=36.0).end.central == 0
    assert counted(single_bevel=True).thinning is None
    assert counted(full_bolster=False).bolster is None


def test_turning_an_uneven_edge_even_is_warned_of_and_its_blade_told() -> None:
    """Common practice: keep the ratio unless the owner asks and accepts the cost."""
    uneven = blade(60.5, share=70.0, thickness_1mm=0.33, bevel_width_right=0.9)
    even = reprofile_plan(uneven, Wanted(15.0, 0.5), STONES, 0.05)
    assert even.turns_even
    assert "cannot be put back" in even.warnings[0]
    assert even.after.figures["asymmetry"].mean == pytest.approx(50, abs=0.01)
    assert even.after.figures["height_heel"].mean == pytest.approx(46 - even.made.height_lost_mm)
    assert not {"thickness_1mm", "bevel_width_right"} & set(even.after.figures)
    assert even.worth == pytest.approx(sum(even.volumes_mm3) / (0.28 * 0.05 * 210))
    kept = reprofile_plan(uneven, Wanted(12.0), STONES, 0.05)
    assert not kept.turns_even
    assert sum(kept.volumes_mm3) == pytest.approx(sum(kept.made.areas_mm2) * 210, rel=0.15)
    steeper = reprofile_plan(uneven, Wanted(20.0), STONES, 0.05)
    assert "micro-bevel" in steeper.warnings[-1]
    with pytest.raises(InvalidValue, match="measured"):
        reprofile_plan(Blade({"hardness": Figure(60, 0.2)}), Wanted(15.0), STONES, 0.05)


def test_a_steeper_single_bevel_gets_an_edge_bevel_only() -> None:
    single = blade(62, Grind.SINGLE_BEVEL, 100.0, edge_angle=11.0, spine_heel=3.9, height_heel=33.0)
    found = reprofile_plan(single, Wanted(13.0), STONES, 0.05)
    assert found.after.figures["micro_bevel"].mean == 13.0
    assert found.after.figures["edge_angle"].mean == 11.0
    assert found.made.height_lost_mm < 0.2
    assert "face only" in found.warnings[0]


def test_every_finish_fault_has_a_method_and_a_turn() -> None:
    """Common practice: what goes back first, sealing after all sanding, packing last."""
    by_what_they_say = {"edge_line": "hollow", "lacquer": "over_edge"}
    seen = [(item, "", by_what_they_say.get(item, "mend"), "") for item in METHODS]
    found = faults([*seen, ("to_mend", "", "", "oil the handle"), ("tip", "", "fine", "")])
    order = [repair.fault.item for repair in repairs(found)]
    assert len(order) == len(METHODS) + 1
    assert order[0] == "straightness"
    assert order[-1] == "packaging"
    assert order.index("spine_corners") < order.index("tang_joint")
    assert (
        next(j for j in repairs(found) if j.fault.item == "to_mend").fault.note == "oil the handle"
    )
    corners = next(j for j in repairs(found) if j.fault.item == "spine_corners").method
    assert corners.grits == (600, 1200)


@pytest.mark.parametrize(
    ("verdict", "severities", "shelf"),
    [
        ("sell", [], Shelf.READY),
        ("sell", ["minor"], Shelf.READY),
        ("sell", ["mend"], Shelf.NEEDS_WORK),
        ("after_work", ["minor"], Shelf.NEEDS_WORK),
        ("after_work", [], Shelf.READY),
        ("return", [], Shelf.RETURN),
        ("sell", ["reject"], Shelf.RETURN),
        (None, [], Shelf.OPEN),
        (None, ["mend"], Shelf.NEEDS_WORK),
        ("keep", [], Shelf.KEPT),
    ],
)
def test_what_the_shelf_says(verdict: str | None, severities: list[str], shelf: Shelf) -> None:
    assert shelf_state(verdict, [Fault("rivets", "", s) for s in severities]) is shelf

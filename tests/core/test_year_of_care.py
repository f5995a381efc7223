"""A year of rods and stones laid out in days, whatever the intervals."""

from __future__ import annotations

import datetime as dt
import itertools

from hypothesis import given
from hypothesis import strategies as st

from maple_rook.core.edge_life.course import DAYS_IN_MONTH
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.upkeep.plan import DueState, EdgeCare, Interval, last_stone, plan, state
from maple_rook.core.upkeep.sharpening_tools import Leave, Rule, Tool
from maple_rook.core.upkeep.wear import Count, LifeCounts, sharpenings

CERAMIC = Rule(Tool.CERAMIC_ROD, Leave.LIGHTLY, "")
days = st.dates(dt.date(2000, 1, 1), dt.date(2090, 1, 1))


@st.composite
def intervals(draw: st.DrawFn, most: float = 400) -> Interval:
    likely, wide = draw(st.floats(0.3, most)), draw(st.floats(1, 2.5))
    return Interval(likely, likely / wide, likely * wide)


def count(n: float) -> Count:
    return Count(n, n / 2, n * 2)


@given(days, intervals(), intervals(60), st.floats(0, 40), st.none() | st.floats(0, 40))
def test_dates_are_in_order_within_their_limits_and_a_year(
    since: dt.date, stone: Interval, rod: Interval, thin: float, file: float | None
) -> None:
    counts = LifeCounts(count(thin), None if file is None else count(file), count(90))
    dates = plan(since, stone, rod, CERAMIC, counts)
    assert [d.on for d in dates] == sorted(d.on for d in dates)
    for d in dates:
        assert since < d.earliest <= d.on <= d.latest
    stones = [d for d in dates if d.care is EdgeCare.STONE]
    assert stones
    assert stones[-1].on <= since + dt.timedelta(days=max(365, round(stone.likely)) + 1)
    gaps = [(b.on - a.on).days for a, b in itertools.pairwise(stones)]
    assert not gaps or max(gaps) - min(gaps) <= 1
    for care, due in ((EdgeCare.THIN, thin), (EdgeCare.FILE_BOLSTER, file)):
        of_care = [d for d in dates if d.care is care]
        assert len(of_care) <= 1
        if due is not None and max(1, round(due)) <= len(stones):
            assert of_care[0].on == stones[max(1, round(due)) - 1].on
    (rods,) = [d for d in dates if d.care is EdgeCare.ROD]
    assert rods.every_days == max(1, round(rod.likely))


@given(days, intervals(), st.integers(-900, 900))
def test_a_date_is_always_in_one_state_and_only_ever_gets_later(
    since: dt.date, stone: Interval, shift: int
) -> None:
    first = plan(since, stone, None, None, None)[0]
    order = list(DueState)
    today = first.on + dt.timedelta(days=shift)
    now, later = (order.index(state(first, day)) for day in (today, today + dt.timedelta(days=30)))
    assert now <= later
    assert state(first, first.on) is DueState.DUE


@given(days, st.lists(st.tuples(st.integers(-300, 300), st.sampled_from(EdgeCare)), max_size=12))
def test_the_count_begins_at_a_stone_or_where_the_plan_does(
    begun: dt.date, events: list[tuple[int, EdgeCare]]
) -> None:
    log = [(begun + dt.timedelta(days=n), care) for n, care in events]
    since = last_stone(log, begun)
    assert since >= begun
    raising = (EdgeCare.STONE, EdgeCare.THIN, EdgeCare.REPAIR)
    assert since == begun or (since in [day for day, care in log if care in raising])
    assert last_stone([*log, (since + dt.timedelta(days=1), EdgeCare.ROD)], begun) == since


@given(st.floats(0.01, 12), st.floats(0.01, 0.2), st.floats(0, 0.8))
def test_a_faster_rate_never_lasts_longer(room: float, rate: float, relative: float) -> None:
    slow = sharpenings(room, Figure(rate, relative * rate))
    fast = sharpenings(room, Figure(1.5 * rate, relative * 1.5 * rate))
    assert fast.central <= slow.central
    assert slow.low <= slow.central <= slow.high


def test_months_are_as_many_days_as_everywhere() -> None:
    found = Interval.of_months(3.0, 2.0, 4.0)
    assert (found.likely, found.low, found.high) == (
        3 * DAYS_IN_MONTH,
        2 * DAYS_IN_MONTH,
        4 * DAYS_IN_MONTH,
    )


def test_a_worn_out_edge_is_stoned_every_day_at_most() -> None:
    dates = plan(dt.date(2026, 3, 2), Interval(0.4, 0.2, 0.8), None, None, None)
    assert [d.on for d in dates] == [
        dt.date(2026, 3, 2) + dt.timedelta(days=n + 1) for n in range(365)
    ]

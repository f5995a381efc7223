"""The calendar file, read back with vobject, a calendar package that did not write it."""

from __future__ import annotations

import datetime as dt

import vobject
from hypothesis import given
from hypothesis import strategies as st

from maple_rook.formats.calendar_file import CalendarEntry, calendar_file

NOW = dt.datetime(2026, 3, 2, 9, 0, tzinfo=dt.UTC)
DAY = dt.date(2026, 3, 7)


def test_dates_come_back_as_all_day_events_that_block_no_time() -> None:
    """RFC 5545: DTEND of an all-day event is the day after; TRANSP, RRULE, VALARM."""
    entries = [
        CalendarEntry("a@x", DAY, "Stone: KH-15, quay", "A new edge; look first", remind=True),
        CalendarEntry("b@x", DAY, "Rod", "Lightly", every_days=5, until=dt.date(2026, 6, 1)),
    ]
    calendar = vobject.readOne(calendar_file("Upkeep", entries, NOW).decode())
    stone, rod = calendar.vevent_list
    assert (stone.uid.value, stone.summary.value) == ("a@x", "Stone: KH-15, quay")
    assert (stone.dtstart.value, stone.dtend.value) == (DAY, DAY + dt.timedelta(days=1))
    assert stone.transp.value == "TRANSPARENT"
    assert stone.valarm.trigger.value == dt.timedelta(hours=-15)
    days = [d.date() for d in rod.getrruleset(addRDate=True)]
    assert days[:3] == [DAY, DAY + dt.timedelta(days=5), DAY + dt.timedelta(days=10)]
    assert days[-1] == dt.date(2026, 5, 31)
    assert not hasattr(rod, "valarm")


@given(
    st.text(
        st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp"]),
        min_size=1,
        max_size=90,
    )
)
def test_any_words_survive_folding_and_escaping(words: str) -> None:
    entry = CalendarEntry("u@x", DAY, words, f"{words}, {words}; {words}")
    content = calendar_file(words, [entry], NOW)
    assert max(len(line) for line in content.split(b"\r\n")) <= 75
    event = vobject.readOne(content.decode()).vevent
    assert event.description.value == f"{words}, {words}; {words}"
    assert event.summary.value == words

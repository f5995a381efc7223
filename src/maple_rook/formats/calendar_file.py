"""Dates of upkeep as an iCalendar file (RFC 5545), for any calendar."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass

from icalendar import Alarm, Calendar, Event

PRODUCT = "-//Maple Rook//upkeep//EN"
CALENDAR_TYPE = "text/calendar; charset=utf-8"


@dataclass(frozen=True)
class CalendarEntry:
    """A day of the calendar; ``uid`` names it for good, so that a newer file moves it.

    ``every_days`` and ``until`` make it come again.
    """

    uid: str
    on: dt.date
    summary: str
    description: str
    every_days: int | None = None
    until: dt.date | None = None
    remind: bool = False


def calendar_file(name: str, entries: Sequence[CalendarEntry], written: dt.datetime) -> bytes:
    """All-day events that block no time; those with ``remind`` ring the morning before."""
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("calscale", "GREGORIAN")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        calendar.add_component(_event(entry, written))
    return bytes(calendar.to_ical())


def _event(entry: CalendarEntry, written: dt.datetime) -> Event:
    event = Event()
    event.add("uid", entry.uid)
    event.add("dtstamp", written)
    event.add("dtstart", entry.on)
    event.add("dtend", entry.on + dt.timedelta(days=1))
    event.add("summary", entry.summary)
    event.add("description", entry.description)
    event.add("transp", "TRANSPARENT")
    if entry.every_days is not None:
        again: dict[str, object] = {"freq": "daily", "interval": entry.every_days}
        if entry.until is not None:
            again["until"] = entry.until
        event.add("rrule", again)
    if entry.remind:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", entry.summary)
        alarm.add("trigger", dt.timedelta(hours=-15))
        event.add_component(alarm)
    return event

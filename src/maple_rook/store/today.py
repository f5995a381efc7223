"""Which day it is in the shop."""

from __future__ import annotations

import datetime as dt
from zoneinfo import ZoneInfo

from sqlalchemy import select
from sqlalchemy.orm import Session

from maple_rook.store.tables import Shop


def today(db: Session, now: dt.datetime | None = None) -> dt.date:
    """The day in the shop's time zone, at a moment or now."""
    zone = db.scalar(select(Shop.time_zone)) or "UTC"
    return (now or dt.datetime.now(dt.UTC)).astimezone(ZoneInfo(zone)).date()

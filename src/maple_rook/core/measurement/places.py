"""Where along the blade a reading was taken: by a name of the bench, or at a distance."""

from __future__ import annotations

import re

from maple_rook.core.errors import InvalidValue
from maple_rook.core.measurement.parsing import MAX_TYPED_CHARACTERS, parse_typed
from maple_rook.core.measurement.units import Dimension

STATIONS: dict[str, tuple[float, float]] = {
    "heel": (0.0, 0.0),
    "middle": (0.5, 0.0),
    "front": (0.8, 0.0),
    "10 mm from tip": (1.0, -10.0),
}
"""Where a named station lies from the heel: a share of the edge length, and mm added."""
PLACED = ("spine_at",)
"""Quantities that are read anywhere along the blade, each place for itself."""
AT = "@"
"""Stands between the quantity and the place in the key of such a figure."""

_SPLIT = re.compile(r"(?P<figure>.+?)\s*(?:@|\bat\b)\s*(?P<place>.+)")
_PLACE = re.compile(
    r"(?P<distance>.+?)\s*(?:(?:behind|from|off|ahead of)\s+(?:the\s+)?(?P<end>tip|heel))?"
)
_STATION = re.compile(r"(?P<mm>[0-9.]+) mm from (?P<end>tip|heel)")
THICKNESS_AT_MM = {"thickness_1mm": 1.0, "thickness_5mm": 5.0, "thickness_10mm": 10.0}
"""Quantities of the thickness of the blade up the face, and their heights above the edge, mm."""


def placed(text: str) -> tuple[str, str]:
    """A typed figure without its place, which is returned as a station.

    The place is from the heel where no end is named. Raises :class:`InvalidValue` without a place.

    >>> placed("2.3 at 3 in from the tip")
    ('2.3', '76.2 mm from tip')
    >>> placed("2.1 @ 120")
    ('2.1', '120 mm from heel')
    """
    accepted = "a figure and its place, such as 2.3 at 75 mm from the tip"
    if len(text) > MAX_TYPED_CHARACTERS:
        raise InvalidValue("place", text, f"at most {MAX_TYPED_CHARACTERS} characters")
    split = _SPLIT.fullmatch(" ".join(text.lower().split()))
    said = split and _PLACE.fullmatch(split["place"])
    if split is None or said is None:
        raise InvalidValue("place", text, accepted)
    distance = parse_typed(said["distance"], Dimension.LENGTH, field="place").base_value
    if not 0 <= distance <= 1000:
        raise InvalidValue("place", said["distance"], "0 to 1000 mm")
    return split["figure"], f"{round(distance, 3):g} mm from {said['end'] or 'heel'}"


def share_and_offset(station: str) -> tuple[float, float] | None:
    """A station as a share of the edge length and mm added, or None where it says no place.

    >>> share_and_offset("76.2 mm from tip"), share_and_offset("handle")
    ((1.0, -76.2), None)
    """
    if station in STATIONS:
        return STATIONS[station]
    said = _STATION.fullmatch(station)
    if said is None:
        return None
    mm = float(said["mm"])
    return (1.0, -mm) if said["end"] == "tip" else (0.0, mm)


def station_mm(station: str, edge_length_mm: float | None) -> float | None:
    """Distance of a station from the heel along the edge, to 0.001 mm; None if not known.

    >>> station_mm("10 mm from tip", 210.0), station_mm("middle", None)
    (200.0, None)
    """
    place = share_and_offset(station)
    if place is None or (edge_length_mm is None and place[0]):
        return None
    share, added_mm = place
    return round(added_mm + share * (edge_length_mm or 0.0), 3)


def figure_key(quantity_key: str, station: str) -> str:
    """Key of a figure: the quantity's, with the place where each place stands for itself."""
    return f"{quantity_key}{AT}{station}" if quantity_key in PLACED else quantity_key


def quantity_and_place(key: str) -> tuple[str, str]:
    """The quantity and the station of a figure's key.

    >>> quantity_and_place("spine_at@76.2 mm from tip")
    ('spine_at', '76.2 mm from tip')
    """
    quantity_key, _, station = key.partition(AT)
    return quantity_key, station

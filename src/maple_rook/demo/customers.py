"""The demo shop's three customers, by their labels. All invented."""

from __future__ import annotations

from typing import Any

CUSTOMERS: dict[str, dict[str, Any]] = {
    "ferry galley": {
        "use": "professional",
        "motion": "rock",
        "hand": "both",
        "technique": "rough",
        "care": "wet",
        "tools": "rod",
        "school": "steel",
        "shares": {"onion": 4, "carrot": 3, "squash": 2, "fish": 1},
        "budget": 150.0,
    },
    "cookery school, left hand": {
        "use": "keen",
        "hand": "left",
        "tools": "rod",
        "skill": "learning",
        "budget": 160.0,
    },
    "home cook, no upkeep": {
        "board": "bamboo",
        "grip": "handle",
        "care": "dishwasher",
        "tools": "nothing",
        "school": "steel",
    },
}
"""Answers by question; what is not answered is as usual."""

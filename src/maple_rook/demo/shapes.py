"""The shape of some demo knives beyond the usual figures. Every figure is invented."""

from __future__ import annotations

FURTHER: dict[str, dict[str, float]] = {
    "KH-01": {
        "thickness_1mm": 0.31,
        "thickness_5mm": 0.46,
        "thickness_10mm": 0.66,
        "bevel_width_right": 0.54,
        "bevel_width_left": 0.53,
    },
    "HS-24": {"bevel_width_right": 0.53, "bevel_width_left": 0.35},
    "DG-20": {"grind_line": 24.0, "thickness_5mm": 0.96, "thickness_10mm": 1.58},
    "BT-27": {"bevel_width_right": 17.0, "hollow_depth": 0.22, "micro_bevel": 13.0},
    "BT-16": {"micro_bevel": 17.0, "hollow_depth": 0.3, "thickness_behind_edge": 0.32},
    "TT-16": {"grind_line": 37.0, "thickness_5mm": 0.36, "thickness_10mm": 0.44},
    "OK-21": {"thickness_5mm": 0.72, "thickness_10mm": 1.06},
    "OM-21": {"thickness_5mm": 1.35, "thickness_10mm": 1.85},
    "PM-27": {"thickness_5mm": 0.29, "thickness_10mm": 0.44},
    "QP-18": {"grind_line": 20.0, "thickness_5mm": 0.58, "thickness_10mm": 0.88},
}
"""Further figures by piece tag, mm and degrees per side."""

EDGES: dict[str, tuple[tuple[float, float], ...]] = {
    "KH-01": (
        (20, 0.0),
        (60, 0.0),
        (95, 0.05),
        (120, 0.6),
        (150, 2.9),
        (175, 6.2),
        (195, 10.0),
        (209, 13.6),
    ),
    "DG-20": (
        (0, 0.25),
        (15, 0.03),
        (35, 0.0),
        (60, 0.2),
        (90, 1.4),
        (120, 4.0),
        (150, 8.4),
        (175, 13.6),
        (192, 18.4),
        (203, 22.4),
    ),
    "BF-16": ((0, 0.2), (20, 0.0), (110, 0.0), (135, 0.15), (150, 1.2), (160, 3.4), (164, 5.2)),
    "PM-27": (
        (0, 0.0),
        (25, 0.1),
        (45, 0.26),
        (60, 0.34),
        (80, 0.22),
        (100, 0.04),
        (115, 0.0),
        (140, 0.3),
        (180, 2.1),
        (220, 6.0),
        (250, 10.2),
        (271, 14.2),
    ),
}
"""Gap under a straight edge by distance from the heel, mm; the last is the tip and its height."""

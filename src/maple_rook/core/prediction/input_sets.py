"""Inputs that several models need, or may infer, together."""

from __future__ import annotations

FRAME = ("spine_heel", "height_heel")
"""The section's outer size, which no type can tell."""
WEAR = ("hardness", "edge_angle", "carbides")
FACES = (
    "thickness_behind_edge",
    "edge_angle",
    "steeper",
    "bulge",
    "grind_line",
    "shinogi",
    "hollow_depth",
)
SWEPT = (*FACES, "edge_length", "spine_mid", "spine_tip", "heights")

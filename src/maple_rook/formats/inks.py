"""The colours of what is printed, drawn or sent elsewhere: those of the screens' light scheme."""

from __future__ import annotations

INK, SOFT, HAIRLINE, PAPER = "#2b211a", "#66564a", "#d9cbb5", "#fbf7ef"
BLADE, HANDLE = "#efe8db", "#d8c6aa"
"""Fillings, lighter than on the screens."""
RUST, PLUM, PATINA = "#87261a", "#572b6b", "#1b6662"
INKS = ("#083d87", "#8b3926", "#126d54", "#b63881", "#955e05", "#464652")
"""Hue of knives A to F."""

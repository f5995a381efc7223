"""The colours of what is printed, drawn or sent elsewhere: those of the screens' light scheme."""

from __future__ import annotations

INK, SOFT, HAIRLINE, PAPER = "#2b211a", "#66564a", "#d9cbb5", "#fbf7ef"
BLADE, HANDLE = "#efe8db", "#d8c6aa"
"""Fillings, lighter than on the screens."""
RUST, PLUM, PATINA = "#87261a", "#572b6b", "#1b6662"
INKS = ("#083d87", "#8b3926", "#126d54", "#b63881", "#955e05", "#464652")
"""Hue of knives A to F."""

GROUND_DARK, PANEL_DARK, INK_DARK, SOFT_DARK, HAIRLINE_DARK = (
    "#14191f",
    "#1c232b",
    "#e9e2d4",
    "#a89f90",
    "#33404c",
)
RUST_DARK, PLUM_DARK, PATINA_DARK = "#d57661", "#ae8cc7", "#6fc3bc"
INKS_DARK = ("#98a9fa", "#d87551", "#9eeeb4", "#b280aa", "#e7bc50", "#a8aca0")
DARK = {
    INK: INK_DARK,
    SOFT: SOFT_DARK,
    HAIRLINE: HAIRLINE_DARK,
    PAPER: PANEL_DARK,
    BLADE: "#2a333d",
    HANDLE: "#4a3f33",
    RUST: RUST_DARK,
    PLUM: PLUM_DARK,
    PATINA: PATINA_DARK,
    **dict(zip(INKS, INKS_DARK, strict=True)),
}
"""The same in the dark scheme, by the colour of the light one."""

"""A knife in words to be said aloud, in the order in which it was measured.

Numbers carry the digits their uncertainty supports; what is not measured is said at the end, once.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from maple_rook.core.geometry.edge import UNEVEN_PERCENT
from maple_rook.core.measurement.figure_kind import FigureKind
from maple_rook.core.measurement.grinds import GRINDS
from maple_rook.core.measurement.uncertainty import Figure
from maple_rook.core.measurement.units import from_base
from maple_rook.core.measurement.wording import decimals_for, rounded_text
from maple_rook.core.prediction.blade import Blade

MM, G = "millimetres", "grams"
_TOLD = {
    "weight": "weight",
    "edge_length": "edge length",
    "spine_heel": "spine",
    "height_heel": "height",
    "thickness_behind_edge": "thickness behind the edge",
    "edge_angle": "edge angle",
    "hardness": "hardness",
    "balance_point": "balance",
}
"""What is missed where it is not measured."""


def said(figure: Figure) -> str:
    """A figure with the digits its U supports; a minus is a word, as is that it is estimated.

    >>> said(Figure(209.04, 0.29)), said(Figure(-12.0, 0.5))
    ('209.0', 'minus 12.0')
    """
    text = rounded_text(figure.mean, decimals_for(2 * figure.expanded))
    signed = f"minus {text[1:]}" if text.startswith("-") else text
    return signed if figure.kind is FigureKind.MEASURED else f"about {signed}"


def script(blade: Blade, construction: str) -> list[str]:
    """One line for each stop, from the weight to the balance, then what was not measured."""
    figures = blade.figures
    lines = [_made(blade, construction), *_size(figures), *_edge(blade), *_steel(figures)]
    for kind in (FigureKind.ESTIMATED, FigureKind.TOLD):
        so = [words for key, words in _TOLD.items() if _kind(figures, key) is kind]
        if so:
            lines.append(f"{kind.label.capitalize()}, not measured: {', '.join(so)}.")
    missed = [
        words for key, words in _TOLD.items() if key not in figures and not _none_of(blade, key)
    ]
    if missed:
        lines.append(f"Not measured: {', '.join(missed)}.")
    return lines


def _kind(figures: Mapping[str, Figure], key: str) -> FigureKind | None:
    return figures[key].kind if key in figures else None


def _none_of(blade: Blade, key: str) -> bool:
    """What a knife of this kind does not have: no thickness behind a single bevel's edge."""
    return key == "thickness_behind_edge" and blade.single_bevel


def _made(blade: Blade, construction: str) -> str:
    steel = (
        f"; steel {blade.steel.designation}, {blade.steel.reactivity.label}"
        if (blade.steel)
        else "; steel not known"
    )
    return (
        f"{construction[0].upper()}{construction[1:]}{steel}. Grind: {GRINDS[blade.grind].label}."
    )


def _size(figures: Mapping[str, Figure]) -> list[str]:
    lines = []
    if weight := figures.get("weight"):
        lines.append(f"It weighs {said(weight)} {G}, {from_base(weight.mean, 'oz'):.1f} ounces.")
    if edge := figures.get("edge_length"):
        inches = f"{from_base(edge.mean, 'in'):.1f} inches"
        whole = figures.get("overall_length")
        rest = f", the whole knife {said(whole)}" if whole else ""
        lines.append(f"The edge is {said(edge)} {MM} long, {inches}{rest}.")
    spine = [
        (where, figures[key])
        for key, where in (
            ("spine_heel", "at the heel"),
            ("spine_mid", "halfway"),
            ("spine_tip", "near the tip"),
        )
        if key in figures
    ]
    if spine:
        told = ", ".join(f"{said(f)} {where}" for where, f in spine)
        lines.append(f"The spine, in {MM}: {told}.")
    if height := figures.get("height_heel"):
        lines.append(f"At the heel it is {said(height)} {MM} high.")
    return lines


def _edge(blade: Blade) -> list[str]:
    figures, lines = blade.figures, []
    if behind := figures.get("thickness_behind_edge"):
        lines.append(f"Behind the edge it is {said(behind)} {MM} thick.")
    if angle := figures.get("edge_angle"):
        if blade.single_bevel:
            hand = "left" if blade.left_handed else "right"
            lines.append(f"One face only is ground, at {said(angle)} degrees, for the {hand} hand.")
        else:
            both = rounded_text(2 * angle.mean, decimals_for(4 * angle.expanded))
            half = f"{float(both) / 2:g}"  # the two have to agree when they are said together
            lines.append(f"The edge is {half} degrees per side, {both} inclusive.")
    share = figures.get("asymmetry")
    if share is not None and not blade.single_bevel and abs(share.mean - 50) >= UNEVEN_PERCENT:
        hand = "right" if share.mean > 50 else "left"
        lines.append(
            f"It is ground {share.mean:.0f} to {100 - share.mean:.0f}, for the {hand} hand."
        )
    return lines


def _steel(figures: Mapping[str, Figure]) -> list[str]:
    lines = []
    if hardness := figures.get("hardness"):
        within = rounded_text(hardness.expanded, decimals_for(2 * hardness.expanded))
        lines.append(f"Hardness: {said(hardness)} Rockwell C, within {within}.")
    if balance := figures.get("balance_point"):
        way = "ahead of" if balance.mean >= 0 else "behind"
        away = replace(balance, mean=abs(balance.mean))
        lines.append(f"It balances {said(away)} {MM} {way} the heel.")
    return lines

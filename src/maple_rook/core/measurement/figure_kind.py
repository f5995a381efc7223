"""Where a figure comes from: an instrument, a person's judgement, or somebody's word."""

from __future__ import annotations

from maple_rook.core.labelled import Labelled


class FigureKind(Labelled):
    """Only what is measured judges a claim; the others draw and predict with their width."""

    MEASURED = "measured"
    ESTIMATED = "estimated"
    TOLD = "told"


KINDS_BY_WEIGHT = (FigureKind.MEASURED, FigureKind.ESTIMATED, FigureKind.TOLD)
"""Which counts where a sheet has several, the first before the others."""

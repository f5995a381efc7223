"""Where a piece of the shop is: still to be sold, waiting for somebody, or gone."""

from __future__ import annotations

from maple_rook.core.labelled import Labelled


class Stock(Labelled):
    ON_SHELF = "on_shelf", "on the shelf"
    RESERVED = "reserved"
    SOLD = "sold"
    RETURNED = "returned", "returned to maker"
    RETIRED = "retired", "retired"


IN_STOCK = (Stock.ON_SHELF, Stock.RESERVED)
"""What is in the shop; the rest keeps its record, its plans and its part in the statistics."""

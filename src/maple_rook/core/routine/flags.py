"""What a buyer should see of a piece at a glance."""

from __future__ import annotations

from maple_rook.core.labelled import Labelled


class Flag(Labelled):
    """Why a piece is not simply a new knife of which everything is known and in order."""

    NOT_MEASURED = "not_measured"
    HALF_MEASURED = "half_measured"
    NOT_HARDENED = "not_hardened"
    HARDLY_HARDENED = "hardly_hardened"
    CLAIM_CONTRADICTED = "claim_contradicted"
    FIGURES_CONTRADICT = "figures_contradict"
    UNUSUAL = "unusual", "unusual, confirmed"
    USED = "used"
    NEEDS_WORK = "needs_work"
    RETURN = "return", "to return to maker"
    RESERVED = "reserved"
    SOLD = "sold"
    RETURNED = "returned", "returned to maker"

    @property
    def grave(self) -> bool:
        """Whether it speaks against the knife, or against what is printed of it."""
        return self in _GRAVE


_GRAVE = {
    Flag.NOT_HARDENED,
    Flag.HARDLY_HARDENED,
    Flag.CLAIM_CONTRADICTED,
    Flag.FIGURES_CONTRADICT,
    Flag.RETURN,
}

"""What difference between two knives is noticeable at the board (practice rules)."""

from __future__ import annotations

from dataclasses import dataclass, replace

from maple_rook.core.measurement.coefficients import PUBLISHED, Coefficients


@dataclass(frozen=True)
class Threshold:
    """A difference in the quantity's unit, or relative to the smaller figure.

    ``coefficient`` names what the shop sets it by; empty where it stands as it is.
    """

    amount: float
    relative: bool = False
    coefficient: str = ""

    def by(self, c: Coefficients) -> Threshold:
        """The threshold as the shop has set it.

        >>> NOTICEABLE_LENGTH.by(Coefficients(notice_length_mm=8.0)).amount
        8.0
        """
        return replace(self, amount=getattr(c, self.coefficient)) if self.coefficient else self


def as_set(threshold: Threshold | None, c: Coefficients) -> Threshold | None:
    """:meth:`Threshold.by`, where there is one."""
    return None if threshold is None else threshold.by(c)


def _set_by(coefficient: str, *, relative: bool = False) -> Threshold:
    return Threshold(getattr(PUBLISHED, coefficient), relative, coefficient)


NOTICEABLE_WEIGHT = _set_by("notice_weight_share", relative=True)
NOTICEABLE_HEIGHT = _set_by("notice_height_mm")
NOTICEABLE_LENGTH = _set_by("notice_length_mm")
NOTICEABLE_HARDNESS = _set_by("notice_hardness_hrc")
NOTICEABLE_ANGLE = _set_by("notice_angle_deg")
NOTICEABLE_BEHIND_EDGE = _set_by("notice_behind_edge_mm")
NOTICEABLE_FORCE = _set_by("notice_force_share", relative=True)
NOTICEABLE_EDGE_LIFE = _set_by("notice_edge_life_share", relative=True)

"""What the shop reckons a year's cost with, as its record has it."""

from __future__ import annotations

from sqlalchemy.orm import Session

from maple_rook.core.choosing.owning import Terms
from maple_rook.core.measurement.coefficients import Coefficients
from maple_rook.store.upkeep import workshop


def terms_of(db: Session, coefficients: Coefficients) -> Terms:
    """Coefficients, the charge for a sharpening, and when a blade is worn out."""
    shop = workshop(db)
    return Terms(coefficients, shop.sharpening_charge, worn_share=shop.limits.worn_share)

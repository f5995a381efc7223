"""Customers' wishes, and which of them a knife answers."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy.orm import Session

from maple_rook.answers.customer import CustomerProfileIn
from maple_rook.core.choosing.candidates import Candidate, traits
from maple_rook.core.choosing.wishes import meets, specification
from maple_rook.store import choices


def known_profile(kept: Mapping[str, Any], label: str) -> CustomerProfileIn:
    """A kept profile, without answers that are no longer asked for."""
    fields = CustomerProfileIn.model_fields
    told = {key: value for key, value in kept.items() if key in fields}
    return CustomerProfileIn.model_validate(told | {"label": label})


def wishes_answered(db: Session, knife: Candidate) -> list[str]:
    """Labels of the customers whose wish this knife answers, the newest first."""
    rows = choices.wishes(db)
    of = traits([knife]) if rows else None
    answered = []
    for row in rows:
        profile = known_profile(row.profile, row.label).core()
        if of is not None and meets(profile, specification(profile), of).any():
            answered.append(row.label)
    return answered

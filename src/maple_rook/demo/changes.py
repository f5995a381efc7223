"""What people of the demo changed since it was set up, so that there are changes to look at."""

from __future__ import annotations

import datetime as dt
from decimal import Decimal

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from maple_rook.store.tables import Instrument, KnifeModel, Person

_PRICES = {("Harbour", 210): Decimal(139), ("Slate", 240): Decimal(232)}
"""What two models cost before, by line and nominal size."""


def change_a_little(session: Session) -> None:
    """Prices raised by the office, instruments named by the bench, each written down."""
    models = session.scalars(select(KnifeModel)).all()
    raised = [(m, m.price) for m in models if (m.line, m.nominal_mm) in _PRICES]
    for model, _ in raised:
        model.price = _PRICES[model.line, model.nominal_mm]  # type: ignore[index]
    session.flush()
    _as(session, "Otta in the office")
    for model, price in raised:
        model.price = price
    session.flush()
    _as(session, "Wil at the bench")
    kinds = {"caliper": ("MR-0417", dt.date(2027, 9, 1)), "scale": ("MR-0106", dt.date(2027, 3, 1))}
    for kind, (serial, due) in kinds.items():
        row = session.scalars(
            select(Instrument)
            .where(Instrument.kind == kind, ~Instrument.stand_in)
            .order_by(Instrument.id)
            .limit(1)
        ).one()
        row.serial, row.calibration_due = serial, due
    session.flush()


def _as(session: Session, name: str) -> None:
    person = session.scalars(select(Person.id).where(Person.name == name)).one()
    says = text(
        "SELECT set_config('maple_rook.person', :person, true), "
        "set_config('maple_rook.audit', 'on', true)"
    )
    session.execute(says, {"person": str(person)})
